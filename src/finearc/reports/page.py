"""What stands on the one page: two priorities, drill, picture, numbers before and after."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.drills import Drill
from finearc.core.judging.words import for_hand
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import in_words, moment_words
from finearc.services.lesson.documents import FindingOut, SummaryOut
from finearc.services.lesson.pages import BlockRead, LessonRead, SwingRead, lesson_page, traces_with_bands
from finearc.services.lesson.summary import counts
from finearc.services.people.clock import clock_of
from finearc.services.ports import UnitOfWork

WIDTH, HEIGHT = 520.0, 170.0
SAFETY = (
    "Stop if anything hurts, and see a licensed health professional. This page measures movement; it is no diagnosis."
)
WRIST = "lead_wrist_extension"
MOST_GOOD = 4
"""The player takes home a few things to keep, not a list."""
CHECKPOINTS = ("address", "shaft_level_back", "top", "impact")


def page_of(uow: UnitOfWork, lesson_id: UUID) -> dict[str, Any]:
    """The content of the page; pain notes and confidence figures stay out."""
    read = lesson_page(uow, lesson_id)
    lesson, player = read.head.lesson, read.head.player
    counting = [r for r in read.swings if r.swing.club == lesson.club and counts(r.swing)]
    said = next(s for s in read.summaries if s.club == lesson.club)
    chosen = _chosen(read, said)
    by_id = {f.finding: f for f in said.findings}
    lead = by_id[chosen[0][0]] if chosen and chosen[0][0] in by_id else None
    left = player.handedness == "left"
    return {
        "player": player.name or "Player",
        "instructor": read.head.instructor,
        "day": f"{lesson.starts_at.astimezone(clock_of(uow)):%d %B %Y}",
        "club": library.clubs()[lesson.club].label,
        "swings": len(counting),
        "priorities": [_priority(read.rule_set, *c, by_id.get(c[0]), left_handed=left) for c in chosen],
        "good": [for_hand(g, left_handed=left) for g in said.plain_good[:MOST_GOOD]],
        "note": lesson.note,
        "next": f"{lesson.next_date:%d %B %Y}" if lesson.next_date else "",
        "trace": trace_picture(uow, counting, lead.evidence[0].metric if lead else WRIST),
        "matched": [m.player_says for m in said.matched],
        "held": list(said.held),
        "pain": lesson.pain == "yes",
        "changes": _changes(read.blocks),
        "safety": SAFETY,
    }


def _chosen(read: LessonRead, said: SummaryOut) -> list[tuple[str, str, str]]:
    """Finding, label and drill: as the instructor made the plan, else as proposed."""
    lesson = read.head.lesson
    if lesson.planned or lesson.status == "closed":
        return [(p.priority.finding, p.priority.label, p.priority.drill) for p in read.priorities]
    return [(p.finding, p.plain_label, p.drills[0] if p.drills else "") for p in said.proposals]


def _priority(
    rule_set: RuleSet, finding: str, label: str, drill: str, found: FindingOut | None, *, left_handed: bool
) -> dict[str, str]:
    rule, chosen = rule_set.rule(finding), rule_set.drills.get(drill)

    def say(text: str) -> str:
        return for_hand(text, left_handed=left_handed)

    cautions = dict.fromkeys(c for c in (rule.caution if rule else "", chosen.caution if chosen else "") if c)
    return {
        "label": say(rule.plain_label if rule else label),
        "says": say(rule.player_says) if rule else "",
        "tends": say(rule.tends) if rule else "",
        "drill": say(chosen.label) if chosen else "",
        "how": say(chosen.how) if chosen else "",
        "feel": say(chosen.feel) if chosen else "",
        "dose": " ".join(t for t in (chosen.dose, f"You need {chosen.equipment}." if _needs(chosen) else "") if t)
        if chosen
        else "",
        "caution": " ".join(cautions),
        "target": say(found.target.plain_sentence) if found and found.target else "",
    }


def _needs(drill: Drill) -> bool:
    return drill.equipment not in ("", "none", "a club", "balls")


def _changes(blocks: Sequence[BlockRead]) -> list[dict[str, str]]:
    out = []
    for read in blocks:
        block, result = read.block, read.change
        if result is None or result.change is None:
            continue
        metric = BY_ID[block.metric]
        per = PER_SI[metric.unit]
        out.append(
            {
                "what": f"{metric.plain_label}, {moment_words(block.moment)}",
                "before": in_words(metric, result.change.before_median / per, plain=True),
                "after": in_words(metric, result.change.after_median / per, plain=True),
                "sentence": result.sentence,
            }
        )
    return out


def trace_picture(uow: UnitOfWork, swings: Sequence[SwingRead], metric: str) -> dict[str, Any] | None:
    """The latest counting swing's trace of a metric, else of the lead wrist, with its band, as SVG points."""
    if not swings:
        return None
    number, columns = traces_with_bands(uow, swings[-1].swing.id)
    key = metric if metric in columns else WRIST
    events = swings[-1].checkpoints
    if key not in columns or "takeaway" not in events or "impact" not in events:
        return None
    shown = BY_ID[key]
    start, end = events["takeaway"] - 0.1, events["impact"] + 0.12
    values = [v for t, v in zip(columns["time_s"], columns[key], strict=True) if start <= t <= end and v == v]
    limits = [v for end in ("low", "high") for v in columns.get(f"{key}_band_{end}", ()) if v == v]
    reach = [0.0, *values, *limits]
    margin = 0.08 * (max(reach) - min(reach)) or 1.0
    low, high = min(reach) - margin, max(reach) + margin

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
        "number": number,
        "width": WIDTH,
        "height": HEIGHT,
        "what": shown.plain_label,
        "ways": f"{shown.plain_positive} ↑ · {shown.plain_negative} ↓" if shown.plain_positive else "",
        "line": _points(line(key)),
        "band": _points(band),
        "flat": y(0.0),
        "marks": [{"x": x(events[name]), "label": moment_words(name)} for name in CHECKPOINTS if name in events],
    }


def _points(points: Sequence[tuple[float, float]]) -> str:
    return " ".join(f"{a},{b}" for a, b in points)
