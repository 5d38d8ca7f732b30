"""The summary of a lesson's swings: findings, spread, good things, change."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import median, pstdev

from finearc.catalogue.rule_set import RuleSet
from finearc.core.comparing.change import Change, compare
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.drills import Drill, Pain, withheld_because
from finearc.core.judging.findings import Finding, MatchedSet, NotAssessed
from finearc.core.judging.flight import Flight, Shot, usual_flight
from finearc.core.judging.graph import Node, nodes
from finearc.core.judging.priorities import Circumstances, Proposal, propose
from finearc.core.judging.ranges import WORK_INSIDE, Judged, Verdict
from finearc.core.judging.words import at_moment, limits_in_words, moment_words, place_words
from finearc.core.metrics.definition import Unit as MetricUnit
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.terms import limits_of
from finearc.services.lesson.changes import COUNTING
from finearc.services.ports import UnitOfWork
from finearc.services.record.stored import evidence_of, uncertainty_of, value_of
from finearc.services.records import Block, Lesson, Player, Swing

GOOD = (
    ("lead_wrist_extension", "address"),
    ("lead_wrist_extension", "top"),
    ("lead_wrist_extension", "impact"),
    ("hinge_held", "swing"),
    ("thorax_turn", "top"),
    ("pelvis_turn", "impact"),
    ("pelvis_sway", "top"),
    ("posture_from_ground", "address..impact"),
    ("tempo", "swing"),
    ("lead_share", "address"),
    ("peak_trail_share", "swing"),
    ("stance_position", "impact"),
)
"""What is said to be good, and whose scatter is shown, where it is measured."""


@dataclass(frozen=True)
class Good:
    """Something to keep, in standard and in plain words."""

    standard: str
    plain: str


@dataclass(frozen=True)
class LessonSummary:
    """Findings over the counting swings of one club, and what follows from them. ``graph``: the findings in layers of
    causes; ``matched``: sets of which to change both or neither, with how many swings show each; ``held``: values that
    are not judged because a limit of the player's lies there, in words; ``withheld``: all drills that do not suit the
    player today, with why."""

    club: str
    counting: tuple[Swing, ...]
    findings: tuple[Finding, ...]
    not_assessed: tuple[NotAssessed, ...]
    proposals: tuple[Proposal, ...]
    good: tuple[Good, ...]
    matched: tuple[tuple[MatchedSet, int], ...]
    graph: tuple[Node, ...]
    flight: Flight
    held: tuple[str, ...]
    withheld: tuple[tuple[Drill, str], ...]


def counting_swings(swings: Sequence[Swing], club: str) -> list[Swing]:
    """Normal and test swings of one club whose sensors had not moved: findings rest on these only."""
    return [s for s in swings if s.kind in COUNTING and s.club == club and not s.sensor_moved and s.result]


def flight_of(swings: Sequence[Swing], player: Player) -> Flight:
    """The usual ball flight of these swings; without one noted, the player's usual miss."""
    return usual_flight([Shot(s.ball_start, s.ball_curve, s.strike) for s in swings], player.usual_miss)


def summarise(uow: UnitOfWork, lesson: Lesson, swings: Sequence[Swing], club: str) -> LessonSummary:
    """All that the counting swings of a club say, by the verdicts they were given."""
    player = uow.get(Player, lesson.player_id)
    counting = counting_swings(swings, club)
    rule_set = rule_set_of(uow, lesson)
    evidence = [evidence_of(s.result, rule_set) for s in counting]
    return summarise_evidence(rule_set, club, counting, evidence, circumstances_of(uow, lesson, player, counting))


def circumstances_of(uow: UnitOfWork, lesson: Lesson, player: Player, counting: Sequence[Swing]) -> Circumstances:
    """What beside the findings decides the priorities."""
    flight = flight_of(counting, player)
    return Circumstances(flight, limits_of(uow, player), Pain.noted(lesson.pain, lesson.pain_note))


def summarise_evidence(
    rule_set: RuleSet, club: str, counting: Sequence[Swing], evidence: Sequence[Evidence], circumstances: Circumstances
) -> LessonSummary:
    """The same from evidence that may have been judged otherwise than stored."""
    findings, open_questions = rule_set.find(evidence)
    matched = rule_set.match(evidence)
    held = replace(circumstances, matched=tuple(m for m, _ in matched))
    return LessonSummary(
        club,
        tuple(counting),
        tuple(findings),
        tuple(open_questions),
        tuple(propose(findings, rule_set.drills, held)),
        tuple(_good(evidence)),
        tuple(matched),
        tuple(nodes(findings)),
        circumstances.flight,
        tuple(_held(evidence)),
        tuple((d, why) for d in rule_set.drills.values() if (why := withheld_because(d, held.limits, held.pain))),
    )


def _held(swings: Sequence[Evidence]) -> list[str]:
    """What is left unjudged because a limit lies there."""
    told = [
        f"{j.measured.metric.plain_label}{place_words(j.measured.moment.key)}: {j.reason}"
        for s in swings
        for j in s.by_key.values()
        if j.reason.endswith(WORK_INSIDE)
    ]
    return list(dict.fromkeys(told))


def _good(swings: Sequence[Evidence]) -> list[Good]:
    """What is in range in most swings and must not be touched."""
    out = []
    for name, event in GOOD:
        judged = [j for s in swings if (j := s.by_key.get((name, event))) is not None]
        inside = [j.measured.value for j in judged if j.verdict is Verdict.IN_RANGE]
        if len(judged) >= 2 and len(inside) >= 0.8 * len(judged):
            m, middle = judged[0].measured.metric, median(inside)
            place = place_words(event)
            out.append(
                Good(
                    f"{m.label}{place}: {at_moment(m, event, middle)}",
                    f"{m.plain_label}{place}: {at_moment(m, event, middle, plain=True)}",
                )
            )
    return out


def target_of(found: Finding) -> Judged | None:
    """The value that a retest looks at; None when no band was in force."""
    return next((e for e in found.evidence if e.range is not None), None)


def target_sentence(found: Finding, *, plain: bool) -> str:
    """What the next test looks at: a value, its band, how often, and how it stood; empty when no band was in force."""
    lead = target_of(found)
    if lead is None:
        return ""
    metric, moment = lead.measured.metric, lead.measured.moment
    name = metric.plain_label if plain else metric.label
    band = limits_in_words(metric, lead.low, lead.high, plain=plain, change=moment.is_change)
    now = at_moment(metric, moment.key, lead.measured.value, plain=plain)
    place = place_words(moment.key)
    if metric.unit is MetricUnit.SECONDS:  # a time against a checkpoint names it where others say "it"
        place = ""
        band, now = (re.sub(r"\b(before|after) it\b", rf"\1 {moment_words(moment.key)}", t) for t in (band, now))
    return f"{name}{place}: {band}, in 4 of 5 swings. Now {now}."


@dataclass(frozen=True)
class Spread:
    """A value over swings, in the metric's own unit."""

    n: int
    median: float
    spread: float


def spread_of(swings: Sequence[Swing], metric: str, event: str) -> Spread | None:
    """Median and spread of a value over the given swings."""
    values = [v for s in swings if (v := value_of(s.result, metric, event)) is not None]
    return Spread(len(values), median(values), pstdev(values)) if values else None


@dataclass(frozen=True)
class BlockChange:
    """Before against after, with what it rests on."""

    change: Change | None
    sentence: str
    before: tuple[int, ...]
    after: tuple[int, ...]


def compare_swings(before: Sequence[Swing], after: Sequence[Swing], metric: str, event: str) -> BlockChange:
    """Two groups of swings compared on one value. Across calibrations the poses' uncertainty enters."""
    a = [(s, v) for s in before if not s.sensor_moved and (v := value_of(s.result, metric, event)) is not None]
    b = [(s, v) for s in after if not s.sensor_moved and (v := value_of(s.result, metric, event)) is not None]
    across = {s.recording_id for s, _ in a} != {s.recording_id for s, _ in b}
    pose = max((_pose_part(s, metric, event) for s, _ in [*a, *b]), default=0.0) if across else 0.0
    floor = max((_own_part(s, metric, event) for s, _ in [*a, *b]), default=0.0)
    change = compare([v for _, v in a], [v for _, v in b], pose, floor)
    return BlockChange(
        change,
        change_sentence(change, len(a), len(b)),
        tuple(s.number for s, _ in a),
        tuple(s.number for s, _ in b),
    )


def _pose_part(swing: Swing, metric: str, event: str) -> float:
    for entry in swing.result["metrics"]:
        if entry["metric"] == metric and entry["event"] == event:
            return float(entry.get("calibration_part", 0.0))
    return 0.0


def _own_part(swing: Swing, metric: str, event: str) -> float:
    """A value's own measuring error within one calibration."""
    total, pose = uncertainty_of(swing.result, metric, event), _pose_part(swing, metric, event)
    return float(max(0.0, total**2 - pose**2) ** 0.5)


def change_sentence(change: Change | None, before: int, after: int) -> str:
    """``Changed`` or ``too early to tell``, and about how many more swings."""
    if change is None:
        need = max(0, 2 - before), max(0, 2 - after)
        if need[0]:
            return "Too early to tell: there are no two swings to compare with. Pin some swings as before."
        return f"Too early to tell: {need[1]} more test swing{'s' if need[1] != 1 else ''} needed at least."
    if change.changed:
        note = " It was compared across two calibrations." if change.across_calibrations else ""
        return f"Changed.{note}"
    if change.more_swings:
        more = change.more_swings
        return f"Too early to tell; about {more} more swing{'s' if more != 1 else ''}."
    return "Not yet distinguishable from scatter."


def before_group(lesson: Lesson, swings: Sequence[Swing], drill: Block) -> list[Swing]:
    """The pinned swings, else the counting swings of the block's club before the drill began."""
    if lesson.pinned:
        pinned = [s for s in swings if str(s.id) in lesson.pinned]
        if pinned:
            return pinned
    earlier = [s for s in counting_swings(swings, drill.club) if s.captured_at <= drill.started_at]
    return [s for s in earlier if s.kind == "normal"]
