"""What the screens of a lesson ask for: a bounded number of queries each, and nothing is judged again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple
from uuid import UUID

from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.bands import Knots, band_between
from finearc.core.judging.drills import TrainerBand, band_in_force
from finearc.core.judging.ranges import NO_RANGE, Judged
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array
from finearc.services.judging.academy_rules import lesson_schools, rule_set_of
from finearc.services.judging.judge import findings_of, judged_value
from finearc.services.judging.rejudge import complete_outside
from finearc.services.judging.terms import Terms, limits_on
from finearc.services.lesson import documents as m
from finearc.services.lesson.changes import Marked
from finearc.services.lesson.headline import headline_of
from finearc.services.lesson.power import power_out
from finearc.services.lesson.summary import (
    BlockChange,
    before_group,
    compare_swings,
    counts,
    empty_summary,
    in_manner,
    refresh,
)
from finearc.services.lesson.wording import finding_out, judged_value_out, metric_value, not_assessed_out, value_table
from finearc.services.ports import LessonHead, UnitOfWork, ValueRow
from finearc.services.putting.plan import plan_of
from finearc.services.record.blocks import TRACES, unpack_traces
from finearc.services.record.codec import unpack_record
from finearc.services.record.document import SwingJudgement, SwingRecord
from finearc.services.record.judgements import unpack_judgement
from finearc.services.records import Block, Lesson, Player, Priority, Recording, Swing

KEPT_RECORDS = 96
"""Records that are kept as they are shown: some 15 MB."""


@dataclass(frozen=True)
class PriorityRead:
    """A kept priority with its drill in words."""

    priority: Priority
    drill_label: str


@dataclass(frozen=True)
class SwingRead:
    """A swing with how it was judged."""

    swing: Swing
    judgement: SwingJudgement | None
    checkpoints: Mapping[str, float]


@dataclass(frozen=True)
class BlockRead:
    """A block with the number of its swings and what a test found."""

    block: Block
    swings: int
    change: BlockChange | None


@dataclass(frozen=True)
class LessonRead:
    """A lesson with all that its screens show."""

    head: LessonHead
    rule_set: RuleSet
    schools: Mapping[str, str]
    last_priorities: Sequence[PriorityRead]
    priorities: Sequence[PriorityRead]
    recordings: Sequence[Recording]
    swings: Sequence[SwingRead]
    summaries: Sequence[m.SummaryOut]
    blocks: Sequence[BlockRead]


@dataclass(frozen=True)
class SwingPage:
    """One swing with everything that is said of it."""

    swing: Swing
    lesson: Lesson
    player: Player
    recording: Recording
    record: SwingRecord
    judgement: SwingJudgement
    judged: Sequence[m.JudgedOut]
    values: Mapping[str, m.ValuesOut]
    sources: Sequence[str]
    findings: Sequence[m.FindingOut]
    not_assessed: Sequence[m.NotAssessedOut]
    headline: m.Headline
    power: Sequence[m.PowerOut]


def lesson_page(uow: UnitOfWork, lesson_id: UUID) -> LessonRead:
    """Raises ``NotFound``."""
    head = uow.reads.lesson(lesson_id)
    lesson = head.lesson
    rule_set = rule_set_of(uow, lesson, rules=head.rules)
    rows = uow.reads.swings(lesson_id)
    swings = [s for s, _ in rows]
    judged = _judged(uow, rows, rule_set)
    blocks = uow.find(Block, lesson_id=lesson_id, order="started_at")
    of = [lesson_id] if head.last_closed is None else [lesson_id, head.last_closed]
    priorities = uow.find(Priority, lesson_id=of, order="rank")
    kept = {club: document for (_, club), document in uow.swings.summaries([lesson_id]).items()}
    clubs = list(dict.fromkeys([lesson.club, *(s.club for s in reversed(swings))]))
    new = {s.club for s in swings if counts(s) and s.club not in kept}
    made = refresh(uow, lesson, head.player, new) if new else {}  # of a lesson that an earlier release kept
    made |= in_manner(uow, lesson, kept)
    return LessonRead(
        head,
        rule_set,
        lesson_schools(uow, lesson, head.player, head.rules),
        [priority_read(p, rule_set) for p in priorities if p.lesson_id != lesson_id],
        [priority_read(p, rule_set) for p in priorities if p.lesson_id == lesson_id],
        uow.find(Recording, lesson_id=lesson_id, order="number"),
        [_swing_read(s, judged.get(s.id)) for s in swings],
        [made.get(club) or _no_summary(club, head, rule_set) for club in clubs],
        block_reads(uow, lesson, blocks, swings),
    )


@dataclass(frozen=True)
class JoinedRead:
    """What came to a lesson: its newer swings, and what they changed."""

    recordings: Sequence[Recording]
    swings: Sequence[SwingRead]
    summaries: Sequence[m.SummaryOut]
    blocks: Sequence[BlockRead]


def joined(uow: UnitOfWork, lesson_id: UUID, after: int) -> JoinedRead:
    """The swings with a number above ``after``, and what may have changed with them. Raises ``NotFound``."""
    lesson = uow.get(Lesson, lesson_id)
    swings = uow.find(Swing, lesson_id=lesson_id, order="number")
    new = [s for s in swings if s.number > after]
    documents = uow.swings.judgements([s.id for s in new])
    judged = _judged(uow, [(s, documents.get(s.id)) for s in new], rule_set_of(uow, lesson)) if new else {}
    kept = uow.swings.summaries([lesson_id]) if new else {}
    said = {club: d for (_, club), d in kept.items() if any(s.club == club for s in new)}
    return JoinedRead(
        uow.find(Recording, lesson_id=lesson_id, order="number"),
        [_swing_read(s, judged.get(s.id)) for s in new],
        list(in_manner(uow, lesson, said).values()),
        block_reads(uow, lesson, uow.find(Block, lesson_id=lesson_id, order="started_at"), swings),
    )


def _judged(
    uow: UnitOfWork, rows: Sequence[tuple[Swing, bytes | None]], rule_set: RuleSet
) -> dict[UUID, SwingJudgement]:
    documents = {s.id: block for s, block in rows if block is not None}
    judged = {k: unpack_judgement(block, rule_set.ranges) for k, block in documents.items()}
    return complete_outside(uow, {s.id: s for s, _ in rows}, judged, documents)


def _swing_read(swing: Swing, judgement: SwingJudgement | None) -> SwingRead:
    return SwingRead(swing, judgement, {} if judgement is None else judgement.instants)


def _no_summary(club: str, head: LessonHead, rule_set: RuleSet) -> m.SummaryOut:
    terms = Terms(rule_set, {}, head.player.population, limits_on(head.limits))
    return empty_summary(head.lesson, head.player, terms, club)


def priority_read(p: Priority, rule_set: RuleSet) -> PriorityRead:
    """A priority with the wording its lesson's rule set has for the drill."""
    drill = rule_set.drills.get(p.drill)
    return PriorityRead(p, drill.label if drill else "")


def block_reads(uow: UnitOfWork, lesson: Lesson, blocks: Sequence[Block], swings: Sequence[Swing]) -> list[BlockRead]:
    """Blocks with before against after, the values of all tests in one query."""
    keys = {(b.metric, b.moment) for b in blocks if b.kind == "test"}
    rows = uow.swings.values([s.id for s in swings], keys) if keys else []
    return [_block_read(lesson, b, blocks, swings, rows) for b in blocks]


def _block_read(
    lesson: Lesson, block: Block, blocks: Sequence[Block], swings: Sequence[Swing], rows: Sequence[ValueRow]
) -> BlockRead:
    own = [s for s in swings if s.block_id == block.id]
    if block.kind != "test":
        return BlockRead(block, len(own), None)
    drills = [b for b in blocks if b.kind == "drill" and b.started_at <= block.started_at]
    before = before_group(lesson, swings, drills[-1] if drills else block)
    tests = [s for s in own if s.kind == "test"]
    feet = plan_of(lesson).feet
    compared = compare_swings(before, tests, block.metric, block.moment, rows, swings, feet=feet)
    return BlockRead(block, len(own), compared)


class _Read(NamedTuple):
    """A record as it is shown, whoever asks: nothing of it depends on how it is judged."""

    record: SwingRecord
    values: Mapping[str, m.ValuesOut]
    sources: Sequence[str]


@lru_cache(maxsize=KEPT_RECORDS)
def _read(block: bytes) -> _Read:
    """A record read and laid out as a table, both of which take more than the rest of a page. Several screens look at
    one swing, and next and previous come back; nobody changes what is given."""
    record = unpack_record(block)
    values = record.values.values()
    return _Read(record, value_table(values), sorted({v.source.value for v in values}))


def swing_page(uow: UnitOfWork, swing_id: UUID) -> SwingPage:
    """Raises ``NotFound``."""
    head = uow.reads.swing(swing_id)
    rule_set = rule_set_of(uow, head.lesson, rules=head.rules)
    read = _read(head.record)
    record = read.record
    judgement = unpack_judgement(head.judgement, rule_set.ranges)
    documents = {swing_id: head.judgement}
    judgement = complete_outside(uow, {swing_id: head.swing}, {swing_id: judgement}, documents)[swing_id]
    findings, open_questions = findings_of(judgement, rule_set)
    ball = m.SummaryOut.model_validate_json(head.summary).flight.words if head.summary is not None else []
    left = head.player.handedness == "left"
    told = [finding_out(f, rule_set.ranges, ball, left_handed=left) for f in findings]
    return SwingPage(
        head.swing,
        head.lesson,
        head.player,
        head.recording,
        record,
        judgement,
        [judged_value_out(_whole(j, record)) for j in judgement.judged.values() if _speaks(j)],
        read.values,
        read.sources,
        told,
        [not_assessed_out(n) for n in open_questions],
        headline_of(head.swing, told, judgement.judged.values()),
        power_out(record),
    )


def _speaks(j: Judged) -> bool:
    """Whether there is more to say of a value than its number: a range, or why there is none for this player."""
    return j.range is not None or j.reason not in ("", NO_RANGE)


def _whole(j: Judged, record: SwingRecord) -> Judged:
    """With what less certain sources saw."""
    m = j.measured
    return j._replace(measured=record.values.get((m.metric.id, m.moment.key), m))


def numbers(uow: UnitOfWork, swing_id: UUID) -> list[m.MetricValue]:
    """Every value of a swing in words, as all sources saw it. Raises ``NotFound``."""
    head = uow.reads.swing(swing_id)
    rule_set = rule_set_of(uow, head.lesson, rules=head.rules)
    record, judgement = _read(head.record).record, unpack_judgement(head.judgement, rule_set.ranges)
    return [metric_value(judged_value(record, judgement, key)) for key in record.values]


@dataclass(frozen=True)
class ChangedRead:
    """A swing after a change: its place in the strip, ``page`` where its values or verdicts changed, the summaries that
    may have. ``others``: the swings after it that are judged, or not, by what was answered about it. ``stale``: what is
    said of the lesson's other swings changed too."""

    read: SwingRead
    headline: m.Headline
    findings: Sequence[m.FindingOut]
    page: SwingPage | None
    summaries: Sequence[m.SummaryOut]
    undo: str | None
    redo: str | None
    stale: bool
    others: Sequence[SwingRead] = ()


def changed_swing(uow: UnitOfWork, swing: Swing) -> ChangedRead:
    """A swing whose values or verdicts changed, with all that is said of it."""
    head = uow.reads.lesson(swing.lesson_id)
    kept = {club: document for (_, club), document in uow.swings.summaries([swing.lesson_id]).items()}
    summaries = list(in_manner(uow, head.lesson, kept).values())
    page = swing_page(uow, swing.id)
    read = _swing_read(swing, page.judgement)
    others = _after(uow, swing, head) if swing.grip_change is not None else ()
    return ChangedRead(read, page.headline, page.findings, page, summaries, head.undo, head.redo, True, others)


def _after(uow: UnitOfWork, swing: Swing, head: LessonHead) -> list[SwingRead]:
    """The swings of a recording after this one."""
    found = [s for s in uow.find(Swing, recording_id=swing.recording_id, order="number") if s.number > swing.number]
    documents = uow.swings.judgements([s.id for s in found])
    rule_set = rule_set_of(uow, head.lesson, rules=head.rules)
    judged = _judged(uow, [(s, documents.get(s.id)) for s in found], rule_set)
    return [_swing_read(s, judged.get(s.id)) for s in found]


def marked_swing(marked: Marked) -> ChangedRead:
    """A swing that was marked otherwise: what is said of it with the ball flight as it is now."""
    swing, judgement, rule_set = marked.swing, marked.judgement, marked.rule_set
    findings, _ = findings_of(judgement, rule_set)
    left = marked.player.handedness == "left"
    told = [finding_out(f, rule_set.ranges, marked.flight, left_handed=left) for f in findings]
    headline = headline_of(swing, told, judgement.judged.values())
    read, summaries = _swing_read(swing, judgement), list(marked.summaries.values())
    return ChangedRead(read, headline, told, None, summaries, marked.undo, marked.redo, stale=bool(summaries))


def traces_with_bands(uow: UnitOfWork, swing_id: UUID) -> tuple[int, dict[str, Array]]:
    """A swing's number, and its traces with their bands as columns in the metrics' own units, each (n,)."""
    head = uow.reads.swing(swing_id)
    rule_set = rule_set_of(uow, head.lesson, rules=head.rules)
    bands = unpack_judgement(head.judgement, rule_set.ranges).bands
    columns = unpack_traces(uow.swings.blocks([swing_id], TRACES)[swing_id])
    return head.swing.number, columns | band_columns(bands, columns["time_s"])


def band_columns(bands: Mapping[str, Knots], time_s: Array) -> dict[str, Array]:
    """Bands along ``time_s`` (n,) as columns ``<metric>_band_low``, ``_high``, each (n,), in the metric's own unit."""
    out = {}
    for key, knots in bands.items():
        per = PER_SI[BY_ID[key].unit]
        low, high = band_between(knots, time_s)
        out[f"{key}_band_low"], out[f"{key}_band_high"] = per * low, per * high
    return out


def trainer_bands(read: LessonRead, also: Sequence[str] = ()) -> dict[str, TrainerBand]:
    """The trainer bands of the drills that are chosen or offered, and those named, by the ranges and schools in
    force."""
    rule_set, lesson = read.rule_set, read.head.lesson
    found = {f.finding for s in read.summaries if s.club == lesson.club for f in s.findings}
    offered = {d for r in rule_set.rules if r.id in found for d in r.drills}
    chosen = {p.priority.drill for p in read.priorities}
    bands = {
        d: drill.band for d in sorted(offered | chosen | set(also)) if (drill := rule_set.drills.get(d)) and drill.band
    }
    if not bands:
        return {}
    page = Terms(rule_set, read.schools, read.head.player.population).page(lesson.club)
    return {d: band_in_force(b, page) for d, b in bands.items()}
