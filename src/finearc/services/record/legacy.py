"""Version 1 of what was kept of a swing (releases 0.1 to 0.4): a JSON result and blocks in the swing's own row. Read
here alone, once, when a database is brought up to date."""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from finearc.catalogue import library
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.rule_set import RuleSet
from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.patterns import classify
from finearc.core.judging.ranges import Judged, Key, Verdict, in_force
from finearc.core.metrics.definition import PER_SI, Measured, Moment, Source
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array
from finearc.services.judging.judge import bands_of, outside_of, reason_for
from finearc.services.record import blocks
from finearc.services.record.document import (
    ClockShift,
    FigureInfo,
    FootPrint,
    GroundInfo,
    Instant,
    PressureAtImpact,
    SwingJudgement,
    SwingRecord,
)
from finearc.services.record.shown import ALWAYS

Json = Mapping[str, Any]


def _event(e: Json) -> Event:
    others = tuple(Event(o["time_s"], o["uncertainty_s"], o["method"], 0.5) for o in e.get("others", []))
    return Event(e["time_s"], e["uncertainty_s"], e["method"], e["confidence"], others)


def _events(of: Json) -> dict[Checkpoint, Event]:
    return {Checkpoint(k): _event(e) for k, e in of.items()}


def _exact(block: bytes) -> dict[Key, tuple[float, float, float]]:
    """Value, uncertainty and calibration part (SI) by metric and moment, from the block that release 0.4 kept."""
    if not block:
        return {}
    (size,) = struct.unpack_from("<I", block, 4)
    keys = json.loads(block[24 : 24 + size])["keys"]
    rows = np.frombuffer(block, dtype="<f8", offset=24 + size).reshape(3, -1).T
    return {(a, b): (float(v), float(sd), float(part)) for (a, b), (v, sd, part) in zip(keys, rows, strict=True)}


def _measured(entry: Json, exact: Mapping[Key, tuple[float, float, float]]) -> Measured:
    metric, moment = BY_ID[entry["metric"]], Moment(entry["event"])
    per = PER_SI[metric.unit]
    stored = (entry["value"] / per, entry["uncertainty"] / per, entry.get("calibration_part", 0.0) / per)
    value, sd, part = exact.get((metric.id, moment.key), stored)
    others = tuple(
        Measured(metric, moment, o["value"] / per, o["uncertainty"] / per, source=Source(o["source"]))
        for o in entry.get("others", [])
    )
    source = Source(entry.get("source") or Source.WRIST.value)
    return Measured(metric, moment, value, sd, part, source, others, entry.get("barred") or "", entry.get("note") or "")


def _judged(entry: Json, measured: Measured, ranges: RangeLibrary) -> Judged:
    per = PER_SI[measured.metric.unit]
    limits = entry.get("range") or {}
    low, high = (None if limits.get(k) is None else limits[k] / per for k in ("low", "high"))
    found = ranges.by_id.get(entry.get("range_id") or "")
    return Judged(measured, found, low, high, Verdict(entry["verdict"]), entry.get("reason") or "")


def judged_entries(entries: Sequence[Json], ranges: RangeLibrary) -> list[Judged]:
    """Values of version 1 with the verdicts they were given; of metrics that still exist."""
    return [_judged(e, _measured(e, {}), ranges) for e in entries if e["metric"] in BY_ID]


def _ground(known: Json | None) -> GroundInfo | None:
    if not known:
        return None
    feet = tuple(
        FootPrint(f["side"], (f["heel"][0], f["heel"][1]), (f["toe"][0], f["toe"][1]), f["width"], f["partly_off"])
        for f in known["feet"]
    )
    real, offset = known.get("real"), known.get("offset")
    return GroundInfo(
        known["source"],
        feet,
        known["split_m"],
        known["split_by_hand"],
        {k: Instant(**v) for k, v in known["moments"].items()},
        known["said"].get("sentence", ""),
        known["said"].get("missing", ""),
        None if real is None else PressureAtImpact(**real),
        None if offset is None else ClockShift(**offset),
        known["alone"],
    )


def record_of(
    result: Json, detected: Json, measured: bytes, traced: Sequence[str], sensor_moved: bool, doubt: str
) -> SwingRecord:
    """A record from a stored result."""
    exact = _exact(measured)
    values = [_measured(e, exact) for e in result["metrics"] if e["metric"] in BY_ID]
    figure = result.get("figure")
    return SwingRecord(
        result.get("engine", ""),
        result["start_s"],
        result["end_s"],
        _events(result["events"]),
        _events(detected),
        {Checkpoint(k): why for k, why in result.get("absent_events", {}).items()},
        {(m.metric.id, m.moment.key): m for m in values},
        {e["metric"]: e["reason"] for e in result.get("missing", [])},
        tuple(result.get("warnings", [])),
        sensor_moved,
        tuple(traced),
        doubt,
        None
        if not figure
        else FigureInfo(tuple(figure["measured"]), tuple(figure["faint"]), figure["placed"], figure["note"]),
        _ground(result.get("ground")),
    )


def judgement_of(
    result: Json,
    record: SwingRecord,
    rule_set: RuleSet,
    revision: int,
    schools: Mapping[str, str],
    club: tuple[str, str, str],
    columns: Mapping[str, Array],
) -> SwingJudgement:
    """The judgement as it stood: the verdicts that were stored, and what the rules say of them. ``club``: club, shot
    and population; ``columns``: the swing's traces."""
    wanted = rule_set.needed | ALWAYS
    reason = reason_for(record.sensor_moved, record.doubt)
    by_key = {(e["metric"], e["event"]): e for e in result["metrics"]}
    judged = {k: _judged(by_key[k], m, rule_set.ranges) for k, m in record.values.items() if k in wanted}
    outcomes, matched = rule_set.decide(Evidence.by(judged, record.missing))
    page = in_force(rule_set.ranges.ranges, library.situation(*club, schools))
    bands = (
        {}
        if reason
        else bands_of(record.values, {k: e.time_s for k, e in record.checkpoints.items()}, record.traced, page)
    )
    pattern = None if reason else classify(record.values)
    return SwingJudgement(
        result.get("benchmarks") or rule_set.ranges.version,
        revision,
        dict(schools),
        judged,
        reason,
        outcomes,
        matched,
        pattern.pattern.value if pattern else None,
        bool(pattern and pattern.dip),
        bands,
        dict(outside_of(bands, columns)),
        {k.value: e.time_s for k, e in record.checkpoints.items()},
    )


def traces_of(block: bytes) -> tuple[bytes, dict[str, Array]]:
    """The block of traces without the bands that version 1 kept in it, and its columns."""
    columns = {k: v for k, v in blocks.unpack_traces(block).items() if "_band_" not in k}
    return blocks.pack_traces(columns), columns
