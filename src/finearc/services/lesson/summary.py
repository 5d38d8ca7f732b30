"""The summary of a lesson's swings: findings, spread, good things, change."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from statistics import median
from typing import Protocol, TypeVar
from uuid import UUID

import numpy as np

from finearc.catalogue.rule_set import RuleSet
from finearc.core.comparing.change import LEAST, MOST_MORE, Change, ChangeVerdict, compare
from finearc.core.judging.drills import Drill, Pain, withheld_because
from finearc.core.judging.findings import Finding, MatchedSet, NotAssessed, matched_over_swings, over_outcomes
from finearc.core.judging.flight import Flight, Shot, usual_flight
from finearc.core.judging.graph import Node, nodes
from finearc.core.judging.priorities import Circumstances, Proposal, propose
from finearc.core.judging.ranges import WORK_INSIDE, Verdict
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import amount, at_moment, place_words
from finearc.services.capture.addresses import SENSOR, grip_change_of
from finearc.services.comparing.by_distance import NONE_SHARED, at_shared_distances, distances_said
from finearc.services.judging.terms import Terms, limits_on, terms_of
from finearc.services.known import PUTTER
from finearc.services.lesson import documents as m
from finearc.services.lesson.growth import GROWS, with_growth
from finearc.services.lesson.summary_words import summary_out
from finearc.services.people.clock import manner_of
from finearc.services.ports import LessonEdit, UnitOfWork, ValueRow
from finearc.services.record.document import SwingJudgement
from finearc.services.record.judgements import judgement_in_brief
from finearc.services.record.shown import GOOD
from finearc.services.records import COUNTING, Block, Lesson, Player, Swing
from finearc.wording import is_told, manner, spoken, tr, trn

SHOWN = frozenset(GOOD) | GROWS


@dataclass(frozen=True)
class Good:
    """Something to keep, in standard and in plain words."""

    standard: str
    plain: str


@dataclass(frozen=True)
class Spread:
    """A value over swings (SI)."""

    metric: Metric
    moment: str
    n: int
    median: float
    spread: float


@dataclass(frozen=True)
class LessonSummary:
    """Findings over the counting swings of one club, and what follows from them. ``graph``: the findings in layers of
    causes; ``matched``: sets of which to change both or neither, with how many swings show each; ``held``: values that
    are not judged because a limit of the player's lies there, in words; ``withheld``: all drills that do not suit the
    player today, with why."""

    club: str
    counting: int
    findings: tuple[Finding, ...]
    not_assessed: tuple[NotAssessed, ...]
    proposals: tuple[Proposal, ...]
    good: tuple[Good, ...]
    matched: tuple[tuple[MatchedSet, int], ...]
    graph: tuple[Node, ...]
    flight: Flight
    held: tuple[str, ...]
    withheld: tuple[tuple[Drill, str], ...]
    spreads: tuple[Spread, ...]


class Noted(Protocol):
    """What was noted of a swing, as far as a summary asks."""

    @property
    def id(self) -> UUID: ...
    @property
    def kind(self) -> str: ...
    @property
    def club(self) -> str: ...
    @property
    def sensor_moved(self) -> bool: ...
    @property
    def ball_start(self) -> str: ...
    @property
    def ball_curve(self) -> str: ...
    @property
    def strike(self) -> str: ...


Kept = TypeVar("Kept", bound=Noted)


def counts(swing: Noted) -> bool:
    """Findings rest on normal and test swings whose sensors had not moved."""
    return swing.kind in COUNTING and not swing.sensor_moved


def counting_swings(swings: Sequence[Kept], club: str) -> list[Kept]:
    """The swings of one club that count."""
    return [s for s in swings if s.club == club and counts(s)]


def flight_of(swings: Sequence[Noted], player: Player) -> Flight:
    """The usual ball flight of these swings; without one noted, the player's usual miss."""
    return usual_flight([Shot(s.ball_start, s.ball_curve, s.strike) for s in swings], player.usual_miss)


def summarise(
    rule_set: RuleSet,
    club: str,
    counting: Sequence[Noted],
    judged: Sequence[SwingJudgement],
    circumstances: Circumstances,
) -> LessonSummary:
    """All that the counting swings of a club say, from how each was judged."""
    findings, open_questions = over_outcomes(rule_set.rules, [j.outcomes for j in judged])
    matched = matched_over_swings(rule_set.matched, [j.matched for j in judged])
    held = replace(circumstances, matched=tuple(m for m, _ in matched))
    return LessonSummary(
        club,
        len(counting),
        tuple(findings),
        tuple(open_questions),
        tuple(propose(findings, rule_set.drills, held)),
        tuple(_good(judged)),
        tuple(matched),
        tuple(nodes(findings)),
        circumstances.flight,
        tuple(_held(judged)),
        tuple((d, why) for d in rule_set.drills.values() if (why := withheld_because(d, held.limits, held.pain))),
        tuple(_spreads(judged)),
    )


def refresh(
    uow: UnitOfWork, lesson: Lesson, player: Player, clubs: Collection[str], terms: Terms | None = None
) -> dict[str, m.SummaryOut]:
    """Make the summaries of some clubs of a lesson anew, from how its swings were judged, and keep them. ``terms``: by
    what they were judged, where that is known."""
    with kept_manner(uow):
        made = _said_now(uow, lesson, player, clubs, terms)
    uow.swings.summarise({(lesson.id, club): document.model_dump_json() for club, document in made.items()})
    return made


def _said_now(
    uow: UnitOfWork, lesson: Lesson, player: Player, clubs: Collection[str], terms: Terms | None = None
) -> dict[str, m.SummaryOut]:
    swings = [s for s in uow.reads.briefs(lesson.id, clubs) if counts(s)]
    terms = terms or terms_of(uow, lesson, player)
    judged = {s.id: judgement_in_brief(s.judgement, terms.rule_set.ranges, SHOWN) for s in swings}
    return {club: _made(lesson, player, terms, club, swings, judged) for club in clubs}


def in_manner(uow: UnitOfWork, lesson: Lesson, kept: Mapping[str, str]) -> dict[str, m.SummaryOut]:
    """Kept summaries by club, as whoever reads them has it said: one that is kept in another manner is said anew."""
    read = {club: m.SummaryOut.model_validate_json(document) for club, document in kept.items()}
    other = [club for club, said in read.items() if said.manner != manner().written()]
    if not other:
        return read
    return read | _said_now(uow, lesson, uow.get(Player, lesson.player_id), other)


@contextmanager
def kept_manner(uow: UnitOfWork) -> Iterator[None]:
    """What is kept is said as the academy has it, whoever makes it; in a request that is how its reader has it."""
    with spoken(manner() if is_told() else manner_of(uow.academy())):
        yield


def summarise_edit(
    uow: UnitOfWork, edit: LessonEdit, rule_set: RuleSet, club: str, judged: Mapping[UUID, SwingJudgement]
) -> dict[str, m.SummaryOut]:
    """The summary of a club whose swings were marked otherwise, made anew and kept."""
    terms = Terms(rule_set, {}, edit.player.population, limits_on(edit.limits))
    with kept_manner(uow):
        made = _made(edit.lesson, edit.player, terms, club, [s for s, _ in edit.swings], judged)
    uow.swings.summarise({(edit.lesson.id, club): made.model_dump_json()})
    return {club: made}


def empty_summary(lesson: Lesson, player: Player, terms: Terms, club: str) -> m.SummaryOut:
    """The summary of a club that no swing was made with yet."""
    return _made(lesson, player, terms, club, (), {})


def refresh_many(
    uow: UnitOfWork,
    player: Player,
    lessons: Sequence[Lesson],
    swings: Sequence[Swing],
    judged: Mapping[UUID, SwingJudgement],
    terms: Mapping[UUID, Terms],
) -> None:
    """The summaries of several lessons whose swings were just judged, kept in one statement."""
    made = {}
    for lesson in lessons:
        own = [s for s in swings if s.lesson_id == lesson.id]
        for club in {lesson.club, *(s.club for s in own)}:
            with kept_manner(uow):
                made[lesson.id, club] = _made(lesson, player, terms[lesson.id], club, own, judged).model_dump_json()
    uow.swings.summarise(made)


def _made(
    lesson: Lesson,
    player: Player,
    terms: Terms,
    club: str,
    swings: Sequence[Noted],
    judged: Mapping[UUID, SwingJudgement],
) -> m.SummaryOut:
    counting = [s for s in counting_swings(swings, club) if s.id in judged]
    held = Circumstances(flight_of(counting, player), terms.limits, Pain.noted(lesson.pain, lesson.pain_note))
    judgements = [judged[s.id] for s in counting]
    if club == PUTTER:
        judgements = with_growth(terms.rule_set, judgements)
    said = summarise(terms.rule_set, club, counting, judgements, held)
    worded = summary_out(said, terms.rule_set.ranges, left_handed=player.handedness == "left")
    return worded.model_copy(update={"manner": manner().written()})


def _held(swings: Sequence[SwingJudgement]) -> list[str]:
    """What is left unjudged because a limit lies there."""
    told = [
        f"{j.measured.metric.plain_label}{place_words(j.measured.moment.key)}: {j.reason}"
        for s in swings
        for j in s.judged.values()
        if j.reason.endswith(tr(WORK_INSIDE))
    ]
    return list(dict.fromkeys(told))


def _good(swings: Sequence[SwingJudgement]) -> list[Good]:
    """What is in range in most swings and must not be touched."""
    out = []
    for name, event in GOOD:
        judged = [j for s in swings if (j := s.judged.get((name, event))) is not None]
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


def _spreads(judged: Sequence[SwingJudgement]) -> list[Spread]:
    """Median and spread (SI) of what may be good, where it is measured."""
    out = []
    for key in GOOD:
        found = [j.judged[key].measured for j in judged if key in j.judged]
        if found:
            values = [v.value for v in found]
            out.append(Spread(found[0].metric, key[1], len(values), median(values), float(np.std(values))))
    return out


@dataclass(frozen=True)
class BlockChange:
    """Before against after, with what it rests on."""

    change: Change
    sentence: str
    before: tuple[int, ...]
    after: tuple[int, ...]


def compare_swings(
    before: Sequence[Swing],
    after: Sequence[Swing],
    metric: str,
    moment: str,
    rows: Sequence[ValueRow],
    among: Sequence[Swing],
    *,
    feet: bool = False,
) -> BlockChange:
    """Two groups of swings ``among`` those of a lesson compared on one value, whose stored ``rows`` are given; putts at
    the distances that both have. Across calibrations the poses' uncertainty enters; a grip that changed between them is
    said. Figures in the metric's own unit."""
    at = {r.swing_id: r for r in rows if (r.metric, r.moment) == (metric, moment)}
    per = PER_SI[BY_ID[metric].unit]
    a, b = ([(s, at[s.id]) for s in group if not s.sensor_moved and s.id in at] for group in (before, after))
    whose = [[s for s, _ in group] for group in (a, b)]
    values = [[per * r.value for _, r in group] for group in (a, b)]
    same = at_shared_distances(values[0], values[1], whose[0], whose[1])
    said = distances_said(same, whose[0], whose[1], feet=feet)
    if said != NONE_SHARED:
        a, b = [a[k] for k in same.first], [b[k] for k in same.second]
    across = {s.recording_id for s, _ in a} != {s.recording_id for s, _ in b}
    parts = [max((r.calibration_part for _, r in group), default=0.0) for group in (a, b)]
    pose = float(np.hypot(parts[0], parts[1])) if across else 0.0
    floor = max((max(0.0, r.uncertainty**2 - r.calibration_part**2) ** 0.5 for _, r in [*a, *b]), default=0.0)
    change = compare(same.before, same.after, BY_ID[metric].smallest_relevant, per * pose, per * floor)
    return BlockChange(
        change,
        change_sentence(change, BY_ID[metric]) + said + regripped([s for s, _ in a], [s for s, _ in b], among),
        tuple(s.number for s, _ in a),
        tuple(s.number for s, _ in b),
    )


def change_sentence(change: Change, metric: Metric) -> str:
    """``Changed``, ``Not changed`` or ``Too early to tell``, and about how many more swings."""
    if change.verdict is ChangeVerdict.TOO_FEW:
        if change.before.n < LEAST:
            return tr(
                "Too early to tell: there are no {least} swings to compare with. Pin some swings as before.",
                least=LEAST,
            )
        need = LEAST - change.after.n
        return trn(
            "Too early to tell: {count} more test swing needed at least.",
            "Too early to tell: {count} more test swings needed at least.",
            need,
        )
    across = tr(" It was compared across two calibrations.") if change.across_calibrations else ""
    if change.verdict is ChangeVerdict.CHANGED:
        return tr("Changed.{across}", across=across)
    if change.verdict is ChangeVerdict.UNCHANGED:
        return tr(
            "Not changed: any difference is smaller than {amount}.{across}",
            amount=amount(metric, _least(metric)),
            across=across,
        )
    more = change.more_swings or 0
    if more > MOST_MORE:
        return tr(
            "Not yet distinguishable from scatter: it takes more than {most_more} more swings.{across}",
            most_more=MOST_MORE,
            across=across,
        )
    return trn(
        "Too early to tell; about {count} more swing.{across}",
        "Too early to tell; about {count} more swings.{across}",
        more,
        across=across,
    )


def _least(metric: Metric) -> float:
    return metric.smallest_relevant / PER_SI[metric.unit]


def regripped(before: Sequence[Swing], after: Sequence[Swing], among: Sequence[Swing]) -> str:
    """What is to be said of a grip that changed between two groups of swings; empty when it did not."""
    changes = [
        change
        for g in among
        if g.grip_answer != SENSOR
        and (change := grip_change_of(g)) is not None
        and any(s.number < g.number for s in before)
        and any(s.number >= g.number for s in after)
    ]
    return (
        tr(" The grip changed between them: {in_words} at address.", in_words=changes[-1].in_words()) if changes else ""
    )


def before_group(lesson: Lesson, swings: Sequence[Swing], drill: Block) -> list[Swing]:
    """The pinned swings, else the counting swings of the block's club before the drill began."""
    if lesson.pinned:
        pinned = [s for s in swings if str(s.id) in lesson.pinned]
        if pinned:
            return pinned
    earlier = [s for s in counting_swings(swings, drill.club) if s.captured_at <= drill.started_at]
    return [s for s in earlier if s.kind == "normal"]
