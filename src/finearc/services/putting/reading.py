"""The putts of a lesson as they are read: by distance, step by step, and side by side."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from uuid import UUID

import numpy as np

from finearc.catalogue.library import RangeLibrary
from finearc.core.events.model import Checkpoint
from finearc.core.events.swings import Shot
from finearc.core.judging.putt_distances import read_distances
from finearc.core.judging.putt_row import ReadPutt, Row, StepRead
from finearc.core.judging.putt_steps import read_row, scale_of
from finearc.core.metrics.definition import WHOLE_SWING, Metric
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.families.wrist import LEAD_WRIST_DEVIATION, LEAD_WRIST_EXTENSION
from finearc.core.putting.growth import Growth
from finearc.core.putting.notes import Strike, Values, growth_values, growths, order_of, strike_of
from finearc.core.putting.phases import Span, phases_of
from finearc.core.putting.wrists import ANGLES, order_in_words
from finearc.services.capture.putts import TAP_IN
from finearc.services.judging.academy_rules import lesson_schools, rule_set_of
from finearc.services.lesson.summary import counts
from finearc.services.ports import LessonHead, UnitOfWork
from finearc.services.putting.pieces import Piece, pieces_of
from finearc.services.putting.plan import PuttPlan, next_distance, place_of, plan_of
from finearc.services.record.blocks import PUTT
from finearc.services.record.codec import unpack_record
from finearc.services.record.judgements import judgement_in_brief
from finearc.services.records import Recording, Swing
from finearc.wording import mark, tr

KEPT_PUTTS = 512
JUDGED = frozenset((m.id, pm.STROKE) for m in pm.LEAD.ranges.values())
DISTANCE = (pm.PUTT_DISTANCE.id, WHOLE_SWING.key)
AT_ADDRESS = (pm.PUTTER_FACE, LEAD_WRIST_EXTENSION, LEAD_WRIST_DEVIATION)
SHOWN = tuple(
    [*((m, pm.STROKE) for m in pm.LEAD.ranges.values()), *((m, Checkpoint.ADDRESS.value) for m in AT_ADDRESS)]
)
"""What is drawn of every putt beside its courses; all its values are on its own page."""
INSTANTS = (Checkpoint.TAKEAWAY, Checkpoint.TRANSITION, Checkpoint.IMPACT)
TWO_FITTINGS = mark(
    "These putts are of {} fittings: what is told from address can be compared, absolute angles cannot."
)


@dataclass(frozen=True)
class MeasuredPutt:
    """What a record holds of a putt, whoever asks. ``at_s``: takeaway, transition and impact; ``order`` of its motions
    in standard words."""

    read: ReadPutt
    at_s: Mapping[str, float]
    phases: Sequence[Span]
    order: str
    strike: Strike | None


@dataclass(frozen=True)
class PuttShown:
    """One putt: what was noted of it, whether it counts, what its pictures need. ``kind``: putt, practice, tap_in."""

    swing: Swing
    kind: str
    counts: bool
    measured: MeasuredPutt

    @property
    def values(self) -> Values:
        """Its values (SI) by metric and moment."""
        return self.measured.read.values


@dataclass(frozen=True)
class RowShown:
    """The putts of one distance (m; None where it is not noted): their ids in order, how many count, how many are still
    owed, and the first six steps."""

    distance_m: float | None
    putts: Sequence[UUID]
    counting: int
    owed: int
    steps: Sequence[StepRead]
    pieces: Sequence[Piece]


@dataclass(frozen=True)
class PuttingRead:
    """All of a lesson's putts. ``scales`` (rad): how far the graphs of each angle reach; ``growth`` by metric;
    ``notes``: what is said of the whole, where something is to be said first; ``next_m``: from how far putts that come
    now are made."""

    head: LessonHead
    plan: PuttPlan
    school: str
    recording: Recording | None
    putts: Sequence[PuttShown]
    rows: Sequence[RowShown]
    across: StepRead
    scales: Mapping[str, float]
    growth: Mapping[Metric, Growth]
    notes: Sequence[str]
    next_m: float


@lru_cache(maxsize=KEPT_PUTTS)
def _measured(block: bytes) -> MeasuredPutt:
    """The same bytes are read once."""
    record = unpack_record(block)
    groups = order_of(record.values, record.checkpoints.get(Checkpoint.TAKEAWAY))
    times = {k: e.time_s for k, e in record.checkpoints.items()}
    return MeasuredPutt(
        ReadPutt(record.values, {}, groups),
        {k.value: times[k] for k in INSTANTS if k in times},
        phases_of(times),
        order_in_words(groups),
        strike_of(record.values),
    )


def putting_page(uow: UnitOfWork, lesson_id: UUID) -> PuttingRead:
    """Raises ``NotFound``."""
    head = uow.reads.lesson(lesson_id)
    rule_set = rule_set_of(uow, head.lesson, rules=head.rules)
    rows = [(s, d) for s, d in uow.reads.swings(lesson_id) if s.shot == Shot.PUTT]
    records = uow.swings.records([s.id for s, _ in rows])
    recordings = {r.id: r for r in uow.find(Recording, lesson_id=lesson_id, order="number")}
    plan = plan_of(head.lesson)
    shown = [_shown(s, records[s.id]) for s, _ in rows if s.id in records]
    documents = {s.id: d for s, d in rows}
    read = _counting(shown, records, documents, rule_set.ranges)
    every = list(read.values())
    schools = lesson_schools(uow, head.lesson, head.player, head.rules)
    lines = growths([p.values for p in every])
    fittings = {p.swing.recording_id for p in shown}
    latest = next((recordings[p.swing.recording_id] for p in reversed(shown)), None)
    return PuttingRead(
        head,
        plan,
        schools["putting_wrist"],
        latest or next(reversed(recordings.values()), None),
        shown,
        _rows(plan, shown, read),
        read_distances(lines, every, plan.feet),
        {name: scale_of(every, name) for name in ANGLES},
        lines,
        _notes(recordings, fittings),
        next_distance(head.lesson, [s for s, _ in rows]),
    )


def _shown(swing: Swing, record: bytes) -> PuttShown:
    measured = _measured(record)
    tap_in = swing.kind == "discard" and swing.discard_reason == TAP_IN
    kind = "practice" if swing.kind == "no_ball" else "tap_in" if tap_in else "putt"
    return PuttShown(swing, kind, counts(swing), measured)


def _counting(
    shown: Sequence[PuttShown],
    records: Mapping[UUID, bytes],
    documents: Mapping[UUID, bytes | None],
    ranges: RangeLibrary,
) -> dict[UUID, ReadPutt]:
    """The putts that count, judged, and each with what its distance shows against the others."""
    out = {}
    for putt in shown:
        document = documents[putt.swing.id]
        if not putt.counts or document is None:
            continue
        judged = {k: j for k, j in judgement_in_brief(document, ranges, JUDGED).judged.items() if k in JUDGED}
        out[putt.swing.id] = replace(putt.measured.read, judged=judged)
    more = growth_values([p.values for p in out.values()])
    for (key, one), extra in zip(list(out.items()), more, strict=True):
        if extra:
            out[key] = replace(one, values={**one.values, **{(v.metric.id, v.moment.key): v for v in extra}})
    return out


def _rows(plan: PuttPlan, shown: Sequence[PuttShown], read: Mapping[UUID, ReadPutt]) -> list[RowShown]:
    """One row a distance, planned or putted from; those whose distance is not noted last."""
    distances = list(plan.distances_m)
    made_from = _made_from(shown)
    for at in made_from:
        if at is not None and place_of(distances, at) is None:
            distances.append(at)
    distances.sort()
    by_place: dict[int | None, list[PuttShown]] = {k: [] for k in range(len(distances))}
    for putt, at in zip(shown, made_from, strict=True):
        by_place.setdefault(None if at is None else place_of(distances, at), []).append(putt)
    return [_row(plan, None if place is None else distances[place], putts, read) for place, putts in by_place.items()]


def _made_from(shown: Sequence[PuttShown]) -> list[float | None]:
    """From how far each was made, m; a practice stroke stands with the putt that follows, else with the one before."""
    noted = [p.swing.distance_m for p in shown]
    for order in (range(len(shown) - 2, -1, -1), range(1, len(shown))):
        step = 1 if order.step < 0 else -1
        for k in order:
            if noted[k] is None and shown[k].kind == "practice":
                noted[k] = noted[k + step]
    return noted


def _row(
    plan: PuttPlan, distance_m: float | None, putts: Sequence[PuttShown], read: Mapping[UUID, ReadPutt]
) -> RowShown:
    counting = [read[p.swing.id] for p in putts if p.swing.id in read]
    planned = distance_m is not None and place_of(plan.distances_m, distance_m) is not None
    row = Row(counting, distance_m, plan.feet)
    return RowShown(
        distance_m,
        [p.swing.id for p in putts],
        len(counting),
        max(0, plan.each - len(counting)) if planned else 0,
        read_row(row),
        pieces_of(row, [p.swing for p in putts if p.swing.id in read]),
    )


def _notes(recordings: Mapping[UUID, Recording], fittings: set[UUID]) -> list[str]:
    said = [tr(TWO_FITTINGS).format(len(fittings))] if len(fittings) > 1 else []
    for key in fittings:
        said += [w for w in recordings[key].warnings if w not in said]
    return said


def values_shown(putt: PuttShown) -> dict[str, dict[str, float]]:
    """The values a screen shows of a putt by metric and moment, in their metrics' own units."""
    out: dict[str, dict[str, float]] = {}
    for metric, moment in SHOWN:
        v = putt.values.get((metric.id, moment))
        if v is not None and np.isfinite(v.value):
            out.setdefault(metric.id, {})[moment] = round(float(metric.at_edge(v.value)), 3)
    return out


def courses_of(uow: UnitOfWork, lesson_id: UUID) -> dict[UUID, bytes]:
    """What the pictures of a lesson's putts are drawn from, one block each, as they are kept. Raises ``NotFound``."""
    uow.reads.lesson(lesson_id)
    ids = [s.id for s in uow.find(Swing, lesson_id=lesson_id, order="number") if s.shot == Shot.PUTT]
    blocks = uow.swings.blocks(ids, PUTT)
    return {k: blocks[k] for k in ids if k in blocks}


def forget() -> None:
    """What was read of putts is read again: for measuring how long that takes."""
    _measured.cache_clear()
