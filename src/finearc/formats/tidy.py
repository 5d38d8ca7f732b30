"""Captures and exports as tidy tables: ``finearc.read``."""

from __future__ import annotations

import json
import re
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from finearc.formats.bundle import read_bundle, read_files
from finearc.formats.errors import BundleError
from finearc.services.judging.analysis import Analysis, CaptureData, JudgedSwing, analyse
from finearc.services.record.result import MetricResult, result_of, trace_columns

FORMAT = "finearc-archive"
CUT = "The export may have been cut off: export again"
NEWEST = 4
"""Version of an export that is read."""
RECORDING = re.compile(r"(.*?)(?:recording-(\d+)/)capture\.json")
SWING = (("source", pa.string()), ("player", pa.string()), ("lesson", pa.string()), ("swing", pa.int64()))
"""What every table begins with: where it was read, whose it is, the lesson's time, and the swing's number there."""
SCHEMAS: Mapping[str, Sequence[tuple[str, pa.DataType]]] = {
    "swings": (
        ("club", pa.string()),
        ("shot", pa.string()),
        ("hand", pa.string()),
        ("kind", pa.string()),
        ("ball_start", pa.string()),
        ("ball_curve", pa.string()),
        ("strike", pa.string()),
        ("tags", pa.list_(pa.string())),
        ("start_s", pa.float64()),
        ("end_s", pa.float64()),
    ),
    "events": (
        ("event", pa.string()),
        ("time_s", pa.float64()),
        ("uncertainty_s", pa.float64()),
        ("method", pa.string()),
    ),
    "values": (
        ("metric", pa.string()),
        ("event", pa.string()),
        ("value", pa.float64()),
        ("unit", pa.string()),
        ("uncertainty", pa.float64()),
        ("low", pa.float64()),
        ("high", pa.float64()),
        ("verdict", pa.string()),
        ("seen_by", pa.string()),
    ),
    "findings": (
        ("finding", pa.string()),
        ("severity", pa.float64()),
        ("confidence", pa.float64()),
        ("role", pa.string()),
        ("status", pa.string()),
    ),
}


@dataclass(frozen=True)
class Tables:
    """Tidy Arrow tables, one row a swing, an event, a value, a finding; ``traces``: one row a sample, one column a
    measure, in the measures' units, null where nothing was seen. Each is ``.to_pandas()`` away from pandas."""

    swings: pa.Table
    events: pa.Table
    values: pa.Table
    findings: pa.Table
    traces: pa.Table


Rows = dict[str, list[dict[str, Any]]]


def read(path: str | Path, *, traces: bool = True) -> Tables:
    """A capture bundle or an export of a lesson or a player, each a folder or a zip of it. A bundle is measured and
    judged with the built-in ranges; an export has its values as they were kept, with all that was marked, and is
    measured anew for its traces alone (``traces=False`` leaves them out). Raises ``BundleError`` with the file and what
    to do."""
    where = Path(path)
    files = _Files(where)
    rows: Rows = {name: [] for name in SCHEMAS}
    sampled: list[pa.Table] = []
    if files.has("manifest.json"):
        _export(files, rows, sampled if traces else None)
    else:
        data = read_bundle(where)
        analysis = analyse(data)
        _bundle(where.name, data, analysis, rows)
        if traces:
            sampled += [_traces(s, (where.name, "", "", k)) for k, s in enumerate(analysis.swings, 1)]
    tables = {name: pa.Table.from_pylist(rows[name], pa.schema([*SWING, *SCHEMAS[name]])) for name in SCHEMAS}
    joined = pa.concat_tables(sampled, promote_options="default") if sampled else pa.schema(SWING).empty_table()
    return Tables(**tables, traces=joined)


class _Files:
    """A folder or a zip by the names within."""

    def __init__(self, path: Path) -> None:
        self._path, self.name = path, path.name
        if not path.exists():
            raise BundleError(str(path), "there is nothing", advice="Name a bundle or an export")
        self._zip = None
        if path.is_file():
            try:
                self._zip = zipfile.ZipFile(path)
            except zipfile.BadZipFile:
                raise BundleError(path.name, "this is no zip", advice="Name a bundle or an export, whole") from None

    @cached_property
    def names(self) -> list[str]:
        if self._zip is not None:
            return self._zip.namelist()
        return [p.relative_to(self._path).as_posix() for p in self._path.rglob("*") if p.is_file()]

    def has(self, name: str) -> bool:
        return name in self.names

    def read(self, name: str) -> bytes:
        try:
            return self._zip.read(name) if self._zip is not None else (self._path / name).read_bytes()
        except (KeyError, OSError, zipfile.BadZipFile):
            raise BundleError(name, "it cannot be read", advice=CUT) from None

    def json(self, name: str) -> Any:
        try:
            return json.loads(self.read(name))
        except ValueError:
            raise BundleError(name, "this is no JSON", advice=CUT) from None


def _export(files: _Files, rows: Rows, sampled: list[pa.Table] | None) -> None:
    manifest = files.json("manifest.json")
    if manifest.get("format") != FORMAT:
        raise BundleError("manifest.json", "this is no export of Fine Arc", advice="Name a bundle or an export")
    if manifest.get("version", 0) > NEWEST:
        newer = f"version {manifest['version']}, and this reads up to {NEWEST}"
        raise BundleError("manifest.json", newer, advice="Read it with a newer Fine Arc")
    player = files.json("player.json")["player"]["name"] if files.has("player.json") else ""
    for name in sorted(n for n in files.names if n.endswith("lesson.json")):
        lesson = files.json(name)
        folder = name.removesuffix("lesson.json")
        at = (files.name, player, lesson["lesson"]["starts_at"])
        hands = {r["id"]: r["handedness"] for r in lesson["recordings"]}
        for swing in lesson["swings"]:
            _kept(swing, hands.get(swing["recording_id"], ""), dict(zip(AT, at, strict=True)), rows)
        if sampled is not None:
            sampled += _measured(files, folder, lesson, at)


AT = ("source", "player", "lesson")


def _kept(swing: Mapping[str, Any], hand: str, at: Mapping[str, Any], rows: Rows) -> None:
    """A swing as an export has it."""
    own = {**at, "swing": swing["number"]}
    noted = ("club", "shot", "kind", "ball_start", "ball_curve", "strike", "tags", "start_s", "end_s")
    rows["swings"].append({**own, "hand": hand, **{k: swing[k] for k in noted}})
    result = swing["result"] or {"events": {}, "metrics": [], "findings": []}
    for event, e in result["events"].items():
        rows["events"].append({**own, "event": event, **{k: e[k] for k in ("time_s", "uncertainty_s", "method")}})
    for m in result["metrics"]:
        limits = m["range"] or {}
        told = {k: m[k] for k in ("metric", "event", "value", "unit", "uncertainty", "verdict")}
        rows["values"].append(
            {**own, **told, "low": limits.get("low"), "high": limits.get("high"), "seen_by": m["source"]}
        )
    for f in result["findings"]:
        rows["findings"].append({**own, **{k: f[k] for k in ("finding", "severity", "confidence", "role", "status")}})


def _measured(files: _Files, folder: str, lesson: Mapping[str, Any], at: tuple[str, str, str]) -> Iterator[pa.Table]:
    """Traces of an export's swings, measured anew from their recordings."""
    numbers = {r["id"]: r["number"] for r in lesson["recordings"]}
    for name in sorted(files.names):
        found = RECORDING.fullmatch(name)
        if found is None or found.group(1) != folder:
            continue
        base = name.removesuffix("capture.json")
        data = read_files({n.removeprefix(base): files.read(n) for n in files.names if n.startswith(base)})
        own = [s for s in lesson["swings"] if numbers[s["recording_id"]] == int(found.group(2))]
        own.sort(key=lambda s: s["start_s"])
        analysis = analyse(_windows(data, own))
        for swing, kept in zip(analysis.swings, own, strict=False):
            yield _traces(swing, (*at, kept["number"]))


def _windows(data: CaptureData, own: Sequence[Mapping[str, Any]]) -> CaptureData:
    return replace(data, swings=tuple((s["start_s"], s["end_s"]) for s in own))


def _bundle(source: str, data: CaptureData, analysis: Analysis, rows: Rows) -> None:
    """A capture as it was just measured."""
    for number, swing in enumerate(result_of(analysis).swings, 1):
        own = {"source": source, "player": "", "lesson": "", "swing": number}
        noted = {"club": data.club, "shot": data.shot.value, "hand": data.handedness.value, "kind": "normal"}
        nothing = {"ball_start": "", "ball_curve": "", "strike": "", "tags": []}
        rows["swings"].append({**own, **noted, **nothing, "start_s": swing.start_s, "end_s": swing.end_s})
        for name, e in swing.events.items():
            rows["events"].append({**own, "event": name, **e.model_dump(include={"time_s", "uncertainty_s", "method"})})
        rows["values"] += [{**own, **_value(m)} for m in swing.metrics]
        kept = {"finding", "severity", "confidence", "role", "status"}
        rows["findings"] += [{**own, **f.model_dump(include=kept)} for f in swing.findings]


def _value(m: MetricResult) -> dict[str, Any]:
    told = m.model_dump(include={"metric", "event", "value", "unit", "uncertainty", "verdict"})
    low, high = (None, None) if m.range is None else (m.range.low, m.range.high)
    return {**told, "low": low, "high": high, "seen_by": m.source}


def _traces(swing: JudgedSwing, at: tuple[str, str, str, int]) -> pa.Table:
    columns = trace_columns(swing)
    n = len(columns["time_s"])
    begin = {name: pa.array([value] * n, kind) for (name, kind), value in zip(SWING, at, strict=True)}
    return pa.table({**begin, **{k: pa.array(np.asarray(v), from_pandas=True) for k, v in columns.items()}})
