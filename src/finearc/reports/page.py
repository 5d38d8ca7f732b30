"""What stands on the one page: two priorities, drill, picture, numbers before and after."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from finearc.catalogue import library
from finearc.core.judging.words import in_words
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.services import reading_room as room
from finearc.services.ports import Unit
from finearc.services.records import Block, Instructor, Lesson, Player, Priority, Swing
from finearc.services.stored import unpack_traces

WIDTH, HEIGHT = 520.0, 170.0
SAFETY = (
    "Stop if anything hurts, and see a licensed health professional. This page measures movement; it is no diagnosis."
)
CHECKPOINTS = (("address", "address"), ("shaft_level_back", "shaft"), ("top", "top"), ("impact", "impact"))


def page_of(unit: Unit, lesson: Lesson) -> dict[str, Any]:
    """The content of the page; pain notes and confidence figures stay out."""
    player = unit.get(Player, lesson.player_id)
    swings = unit.find(Swing, lesson_id=lesson.id, order="number")
    priorities = unit.find(Priority, lesson_id=lesson.id, order="rank")
    blocks = unit.find(Block, lesson_id=lesson.id, order="started_at")
    counting = room.counting_swings(swings, lesson.club)
    together = room.together(unit, lesson, swings, lesson.club)
    return {
        "player": player.name or "Player",
        "instructor": unit.get(Instructor, lesson.instructor_id).name,
        "day": f"{lesson.starts_at:%d %B %Y}",
        "club": library.clubs()[lesson.club].label,
        "swings": len(counting),
        "priorities": [_priority(p) for p in priorities],
        "good": [g.plain for g in together.good],
        "note": lesson.note,
        "next": f"{lesson.next_date:%d %B %Y}" if lesson.next_date else "",
        "trace": trace_picture(counting, player.handedness),
        "changes": _changes(lesson, blocks, swings),
        "safety": SAFETY,
    }


def _priority(p: Priority) -> dict[str, str]:
    rule = next((f for f in library.findings() if f.id == p.finding), None)
    drill = library.drills().get(p.drill)
    return {
        "label": rule.plain_label if rule else p.label,
        "says": rule.player_says if rule else "",
        "tends": rule.tends if rule else "",
        "drill": drill.label if drill else "",
        "how": drill.how if drill else "",
        "feel": drill.feel if drill else "",
        "caution": drill.caution if drill else "",
    }


def _changes(lesson: Lesson, blocks: Sequence[Block], swings: Sequence[Swing]) -> list[dict[str, str]]:
    out = []
    for block in blocks:
        if block.kind != "test":
            continue
        drills = [b for b in blocks if b.kind == "drill" and b.started_at <= block.started_at]
        before = room.before_group(lesson, swings, drills[-1] if drills else block)
        tests = [s for s in swings if s.block_id == block.id and s.kind == "test"]
        result = room.compare_swings(before, tests, block.metric, block.event)
        if result.change is None:
            continue
        metric = BY_ID[block.metric]
        per = PER_SI[metric.unit]
        out.append(
            {
                "what": f"{metric.plain_label}, {block.event.replace('_', ' ').replace('..', ' to ')}",
                "before": in_words(metric, result.change.before_median / per, plain=True),
                "after": in_words(metric, result.change.after_median / per, plain=True),
                "sentence": result.sentence,
            }
        )
    return out


def trace_picture(swings: Sequence[Swing], handedness: str) -> dict[str, Any] | None:
    """The latest counting swing's extension with its band, as SVG points (left-handers read the same way)."""
    if not swings:
        return None
    swing = swings[-1]
    columns = unpack_traces(swing.traces)
    key = "lead_wrist_extension"
    events = swing.result.get("events", {})
    if key not in columns or "takeaway" not in events or "impact" not in events:
        return None
    start, end = events["takeaway"]["time_s"] - 0.1, events["impact"]["time_s"] + 0.12
    values = [v for t, v in zip(columns["time_s"], columns[key], strict=True) if start <= t <= end and v == v]
    low, high = min([-20.0, *values]), max([35.0, *values])

    def x(t: float) -> float:
        return float(round(WIDTH * (t - start) / (end - start), 1))

    def y(v: float) -> float:
        return float(round(HEIGHT * (high - v) / (high - low), 1))

    def line(name: str) -> list[tuple[float, float]]:
        return [
            (x(t), y(v)) for t, v in zip(columns["time_s"], columns[name], strict=True) if start <= t <= end and v == v
        ]

    band: list[tuple[float, float]] = []
    if f"{key}_band_low" in columns:
        band = line(f"{key}_band_high") + line(f"{key}_band_low")[::-1]
    return {
        "number": swing.number,
        "width": WIDTH,
        "height": HEIGHT,
        "hand": handedness,
        "line": _points(line(key)),
        "band": _points(band),
        "flat": y(0.0),
        "marks": [{"x": x(events[name]["time_s"]), "label": label} for name, label in CHECKPOINTS if name in events],
    }


def _points(points: Sequence[tuple[float, float]]) -> str:
    return " ".join(f"{a},{b}" for a, b in points)
