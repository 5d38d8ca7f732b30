"""Stored results back into judged values, and traces as one compact block."""

from __future__ import annotations

import hashlib
import json
import struct
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.rule_set import RuleSet
from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.kinematics.figure import Figure
from finearc.core.metrics.definition import PER_SI, Measured, Metric, Moment, Source
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array

MAGIC = b"FAT1"
SOURCES = {s.value: s for s in Source}


def pack_traces(columns: Mapping[str, Array]) -> bytes:
    """``FAT1``, length of a JSON header (uint32), the header ``{"n": …, "columns": […]}`` padded to four
    bytes, then each column as little-endian float32."""
    n = len(next(iter(columns.values())))
    header = json.dumps({"n": n, "columns": list(columns)}).encode()
    header += b" " * (-len(header) % 4)
    body = b"".join(np.ascontiguousarray(c, dtype="<f4").tobytes() for c in columns.values())
    return MAGIC + struct.pack("<I", len(header)) + header + body


def unpack_traces(block: bytes) -> dict[str, Array]:
    """The inverse of ``pack_traces``."""
    (size,) = struct.unpack_from("<I", block, 4)
    header = json.loads(block[8 : 8 + size])
    n = header["n"]
    values = np.frombuffer(block, dtype="<f4", offset=8 + size).reshape(-1, n)
    return {name: values[k].astype(float) for k, name in enumerate(header["columns"])}


VALUES = b"FAV1"


@dataclass(frozen=True, eq=False)
class Layout:
    """What a block of values holds beside its numbers; the same for most swings of a capture, so it is read once."""

    keys: tuple[tuple[str, str], ...]
    missing: Mapping[str, str]
    not_judged_reason: Mapping[int, str]
    sources: tuple[str, ...]


def pack_values(measured: Sequence[Measured], missing: Mapping[str, str]) -> bytes:
    """``FAV1``, length of a JSON header (uint32), 16 bytes by which the header is known again, the header, then value,
    uncertainty and calibration part (SI) as little-endian float64, a row each."""
    header = {
        "keys": [[m.metric.id, m.moment.key] for m in measured],
        "missing": dict(missing),
        "not_judged_reason": {k: m.not_judged_reason for k, m in enumerate(measured) if m.not_judged_reason},
        "sources": [m.source.value for m in measured],
    }
    text = json.dumps(header, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 8)
    rows = np.array([[m.value, m.uncertainty, m.calibration_part] for m in measured], dtype="<f8").reshape(-1, 3).T
    known_by = hashlib.blake2b(text, digest_size=16).digest()
    return VALUES + struct.pack("<I", len(text)) + known_by + text + np.ascontiguousarray(rows).tobytes()


_LAYOUTS: dict[bytes, Layout] = {}


def _layout(block: bytes, size: int) -> Layout:
    """The header of a block, read once for all blocks that share it."""
    known_by = block[8:24]
    if known_by not in _LAYOUTS:
        if len(_LAYOUTS) > 256:
            _LAYOUTS.clear()
        _LAYOUTS[known_by] = _read_layout(block[24 : 24 + size])
    return _LAYOUTS[known_by]


def _read_layout(header: bytes) -> Layout:
    raw = json.loads(header)
    not_judged_reason = {int(k): v for k, v in raw["not_judged_reason"].items()}
    return Layout(tuple((a, b) for a, b in raw["keys"]), raw["missing"], not_judged_reason, tuple(raw["sources"]))


Key = tuple[str, str]


@lru_cache(maxsize=1024)
def _wanted(
    layout: Layout, keys: frozenset[Key] | None
) -> tuple[NDArray[np.intp], tuple[tuple[Key, Metric, Moment, Source, str], ...]]:
    """Where the wanted values stand, and what each of them is."""
    at = [k for k, key in enumerate(layout.keys) if (keys is None or key in keys) and key[0] in BY_ID]
    known = tuple(
        (key, BY_ID[key[0]], Moment(key[1]), SOURCES[layout.sources[k]], layout.not_judged_reason.get(k, ""))
        for k, key in ((k, layout.keys[k]) for k in at)
    )
    return np.array(at, dtype=np.intp), known


def unpack_values(block: bytes, keys: frozenset[Key] | None = None) -> tuple[dict[Key, Measured], Mapping[str, str]]:
    """The values of a block by metric and moment, of the given ones only if so asked, and why others are missing."""
    (size,) = struct.unpack_from("<I", block, 4)
    layout = _layout(block, size)
    at, known = _wanted(layout, keys)
    rows = np.frombuffer(block, dtype="<f8", offset=24 + size).reshape(3, -1)[:, at].T.tolist()
    measured = {
        key: Measured(metric, moment, value, sd, part, source, (), not_judged_reason)
        for (key, metric, moment, source, not_judged_reason), (value, sd, part) in zip(known, rows, strict=True)
    }
    return measured, layout.missing


def figure_columns(figure: Figure) -> dict[str, Array]:
    """Points of a figure as columns ``<point>_x``, ``_y``, ``_z``, m, beside ``time_s``."""
    columns = {"time_s": figure.time_s}
    for name, points in figure.points.items():
        for k, axis in enumerate("xyz"):
            columns[f"{name}_{axis}"] = points[:, k]
    return columns


def figure_result(figure: Figure) -> dict[str, Any]:
    """What is known about a figure beside its points."""
    return {
        "measured": sorted(figure.measured),
        "faint": [str(p) for p in figure.faint],
        "placed": figure.placed,
        "note": figure.note,
    }


def measured_of(entry: Mapping[str, Any], pose_sd: float = 0.0) -> Measured:
    """A stored value as measured (SI)."""
    metric = BY_ID[entry["metric"]]
    scale = PER_SI[metric.unit]
    others = tuple(
        Measured(
            metric, Moment(entry["event"]), o["value"] / scale, o["uncertainty"] / scale, source=Source(o["source"])
        )
        for o in entry.get("others", [])
    )
    return Measured(
        metric,
        Moment(entry["event"]),
        entry["value"] / scale,
        entry["uncertainty"] / scale,
        pose_sd,
        Source(entry.get("source") or Source.WRIST.value),
        others,
        entry.get("not_judged_reason") or "",
        entry.get("note") or "",
    )


def judged_of(entry: Mapping[str, Any], ranges: RangeLibrary) -> Judged:
    """A stored value with the verdict it was given."""
    measured = measured_of(entry)
    scale = PER_SI[measured.metric.unit]
    limits = entry.get("range") or {}

    def si(value: float | None) -> float | None:
        return None if value is None else value / scale

    return Judged(
        measured,
        ranges.by_id.get(entry.get("range_id") or ""),
        si(limits.get("low")),
        si(limits.get("high")),
        Verdict(entry["verdict"]),
        entry.get("reason") or "",
    )


def evidence_of(result: Mapping[str, Any], rule_set: RuleSet) -> Evidence:
    """The stored values of a swing that a range or a finding speaks of, with the verdicts they were given."""
    wanted = rule_set.needed
    judged = [judged_of(e, rule_set.ranges) for e in result.get("metrics", []) if (e["metric"], e["event"]) in wanted]
    return Evidence.of(judged, {e["metric"]: e["reason"] for e in result.get("missing", [])})


def events_of(result: Mapping[str, Any]) -> dict[Checkpoint, Event]:
    """Stored events."""
    keys = ("time_s", "uncertainty_s", "method", "confidence")
    return {Checkpoint(k): Event(**{n: e[n] for n in keys}) for k, e in result.get("events", {}).items()}


def value_of(result: Mapping[str, Any], metric: str, event: str) -> float | None:
    """A stored value in the metric's own unit, or None."""
    for entry in result.get("metrics", []):
        if entry["metric"] == metric and entry["event"] == event:
            return float(entry["value"])
    return None


def uncertainty_of(result: Mapping[str, Any], metric: str, event: str) -> float:
    """A stored standard uncertainty in the metric's own unit, or 0."""
    for entry in result.get("metrics", []):
        if entry["metric"] == metric and entry["event"] == event:
            return float(entry["uncertainty"])
    return 0.0
