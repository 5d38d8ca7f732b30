"""Stored results back into judged values, and traces as one compact block."""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping
from typing import Any

import numpy as np

from finearc.catalogue.library import RangeLibrary
from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.findings import Evidence
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.kinematics.figure import Figure
from finearc.core.metrics.definition import PER_SI, Measured, Moment, Source
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array

MAGIC = b"FAT1"


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
        entry.get("barred") or "",
        entry.get("note") or "",
    )


def judged_of(entry: Mapping[str, Any], ranges: RangeLibrary) -> Judged:
    """A stored value with the verdict it was given."""
    measured = measured_of(entry)
    scale = PER_SI[measured.metric.unit]
    limits = entry.get("range") or {}
    known = next((r for r in ranges.ranges if r.id == entry.get("range_id")), None)

    def si(value: float | None) -> float | None:
        return None if value is None else value / scale

    return Judged(
        measured,
        known,
        si(limits.get("low")),
        si(limits.get("high")),
        Verdict(entry["verdict"]),
        entry.get("reason") or "",
    )


def evidence_of(result: Mapping[str, Any], ranges: RangeLibrary) -> Evidence:
    """All stored values of a swing, for findings over several swings."""
    judged = [judged_of(e, ranges) for e in result.get("metrics", [])]
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
