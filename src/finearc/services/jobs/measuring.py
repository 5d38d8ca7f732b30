"""Measuring every recording again with this engine: beside what is kept, until somebody accepts it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

import orjson
from pydantic import BaseModel

from finearc.core.errors import FineArcError
from finearc.core.metrics.definition import Measured
from finearc.services.capture import calibrating, recordings
from finearc.services.capture.addresses import barred
from finearc.services.capture.raw import data_of
from finearc.services.errors import Refused
from finearc.services.jobs.ports import Tools
from finearc.services.jobs.progress import Progress
from finearc.services.jobs.records import CANCELLED, DONE, FAILED, Job
from finearc.services.judging import analysis as an
from finearc.services.judging.judge import judge_record
from finearc.services.judging.terms import Terms, terms_of
from finearc.services.lesson.summary import refresh
from finearc.services.people.consent import refuse_withdrawn
from finearc.services.ports import Offer, RawCodec, UnitOfWork
from finearc.services.record.codec import pack_record, unpack_record
from finearc.services.record.document import SwingRecord
from finearc.services.record.judgements import pack_judgement, sides, told
from finearc.services.record.making import Made, Surroundings, record_of
from finearc.services.records import Lesson, Player, Recording, Swing
from finearc.wording import tr

MOST_SHOWN = 12
"""Largest changes kept for the screen."""
TO_DECIDE, ACCEPTED, DISMISSED = "to_decide", "accepted", "dismissed"


class ValueChange(BaseModel):
    """A value that reads otherwise; ``before`` and ``after`` SI; ``in_spreads``: the change over the value's own
    uncertainty."""

    swing_id: UUID
    number: int
    player: str
    metric: str
    moment: str
    before: float
    after: float
    in_spreads: float


class Unreadable(BaseModel):
    """A recording that this engine cannot read; its swings stay as they are."""

    recording_id: UUID
    swings: int
    why: str


class MeasuringReport(BaseModel):
    """What measuring again changes. ``values`` were compared, ``changed`` read otherwise to the digit shown, ``gone``
    and ``new`` are on one side only; ``verdicts``: values that fall on another side of their band; ``findings``: swings
    in which other rules speak. ``engines``: by which engines the kept values were measured."""

    engine: str = an.ENGINE
    engines: list[str] = []
    recordings: int = 0
    swings: int = 0
    values: int = 0
    changed: int = 0
    gone: int = 0
    new: int = 0
    verdicts: int = 0
    findings: int = 0
    largest: list[ValueChange] = []
    unreadable: list[Unreadable] = []
    decision: str = TO_DECIDE
    read: list[UUID] = []


def report_of(job: Job) -> MeasuringReport:
    """What a job has found so far."""
    return MeasuringReport.model_validate(job.answer or {})


def pending(uow: UnitOfWork) -> Job | None:
    """The measuring that runs, or waits for a decision."""
    for job in uow.find(Job, kind="measure_again", order="-created_at"):
        if not job.ended or (job.state == DONE and report_of(job).decision == TO_DECIDE):
            return job
    return None


def stopped(uow: UnitOfWork) -> Job | None:
    """The newest measuring, where it was stopped or failed and can go on."""
    made = uow.find(Job, kind="measure_again", order="-created_at")[:1]
    return next((j for j in made if j.state in (FAILED, CANCELLED)), None)


def make_way(uow: UnitOfWork) -> None:
    """Before a new measuring: what an earlier one that was stopped had offered goes. Raises ``Refused`` while one runs
    or waits for a decision."""
    if pending(uow) is not None:
        raise Refused(tr("everything is being measured again already"), tr("Accept it, or leave it, first"))
    for job in uow.find(Job, kind="measure_again", state=[FAILED, CANCELLED]):
        uow.offers.drop(job.id, uow.offers.swings(job.id))
        job.answer = None


def accepting(uow: UnitOfWork, job: Job) -> Job | None:
    """The work that lets a measuring take its place, while it runs or where it failed."""
    made = uow.find(Job, kind="accept_measuring", order="-created_at")
    return next((a for a in made if a.subject.get("of") == str(job.id) and a.state != DONE), None)


def refuse_to_accept(uow: UnitOfWork, job: Job) -> None:
    """Raises ``Refused`` unless a measuring waits to be decided."""
    if job.kind != "measure_again" or job.state != DONE or report_of(job).decision != TO_DECIDE:
        raise Refused(tr("there is nothing to accept"), tr("Measure everything again first"))
    running = accepting(uow, job)
    if running is not None and not running.ended:
        raise Refused(tr("it is being accepted already"), tr("Wait until it has ended"))


@dataclass(frozen=True)
class Again:
    """A recording measured again: its swings in order with what was made of each."""

    recording: Recording
    lesson: Lesson
    player: Player
    swings: Sequence[Swing]
    made: Sequence[Made]
    calibration: Mapping[str, Any]


def measure_again(tools: Tools, job: Job, progress: Progress) -> Mapping[str, Any]:
    """Measure every recording again and keep the outcome beside what is there. Each recording is kept as soon as it is
    read: work that was stopped goes on where it was."""
    with tools.open(job.academy_id) as uow:
        ids = [r.id for r in uow.find(Recording, order="created_at")]
        report = report_of(uow.get(Job, job.id))
    for k, recording_id in enumerate(ids):
        progress.tell(k, len(ids), tr("Recording {value} of {ids}", value=k + 1, ids=len(ids)))
        if recording_id not in report.read:
            report = _one_again(tools, job, recording_id, report)
    progress.tell(len(ids), len(ids), "")
    return report.model_dump(mode="json")


def look_again(uow: UnitOfWork, codec: RawCodec, recordings: Sequence[Recording]) -> MeasuringReport:
    """Measure some recordings again and only say what reads otherwise: nothing is kept."""
    report = MeasuringReport()
    for recording in recordings:
        swings = uow.find(Swing, recording_id=recording.id, order="number")
        try:
            if swings:
                _compare(uow, _read(uow, codec, recording, swings), report)
        except FineArcError as error:
            report.unreadable.append(Unreadable(recording_id=recording.id, swings=len(swings), why=str(error)))
    return report


def _one_again(tools: Tools, job: Job, recording_id: UUID, report: MeasuringReport) -> MeasuringReport:
    with tools.open(job.academy_id) as uow:
        found = uow.find(Recording, id=recording_id)  # erased since the work began
        swings = uow.find(Swing, recording_id=recording_id, order="number")
        try:
            again = _read(uow, tools.codec, found[0], swings) if found and swings else None
        except FineArcError as error:
            again = None
            report.unreadable.append(Unreadable(recording_id=recording_id, swings=len(swings), why=str(error)))
        if again is not None:
            _compare(uow, again, report)
            _offer(uow, job, again)
        report.read.append(recording_id)
        uow.hold(Job, job.id).answer = report.model_dump(mode="json")
    return report


def _read(uow: UnitOfWork, codec: RawCodec, recording: Recording, swings: Sequence[Swing]) -> Again:
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    refuse_withdrawn(uow, player)
    reading, _ = an.read_and_prepare(
        data_of(uow, codec, recording, swings),
        {k: recordings.instants_of(s) for k, s in enumerate(swings)},
        splits_m={k: s.split_m for k, s in enumerate(swings) if s.split_m is not None},
    )
    around = Surroundings.of(reading, player.height_m)
    made = [record_of(read, around) for read in reading.swings]
    calibration = {"warnings": list(reading.warnings), "calibration": calibrating.calibration_as_kept(reading)}
    return Again(recording, lesson, player, swings, made, calibration)


def _offer(uow: UnitOfWork, job: Job, again: Again) -> None:
    for k, (swing, made) in enumerate(zip(again.swings, again.made, strict=True)):
        parts = {Offer.RECORD: pack_record(made.record), **made.blocks}
        if k == 0:
            parts[Offer.CALIBRATION] = orjson.dumps(again.calibration)
        uow.offers.put(job.id, swing.id, swing.measuring, parts)


def _compare(uow: UnitOfWork, again: Again, report: MeasuringReport) -> None:
    ids = [s.id for s in again.swings]
    records, judgements = uow.swings.records(ids), uow.swings.judgements(ids)
    terms = terms_of(uow, again.lesson, again.player)
    report.recordings += 1
    for swing, made in zip(again.swings, again.made, strict=True):
        report.swings += 1
        if swing.id not in records:
            report.new += len(made.record.values)
            continue
        before = unpack_record(records[swing.id])
        if before.engine not in report.engines:
            report.engines.append(before.engine)
        _values(before, made.record, swing, again.player, report)
        _verdicts(judgements[swing.id], made.record, swing, barred(swing, again.swings), terms, report)
    report.largest = sorted(report.largest, key=lambda c: -c.in_spreads)[:MOST_SHOWN]


def _values(before: SwingRecord, after: SwingRecord, swing: Swing, player: Player, report: MeasuringReport) -> None:
    report.gone += len(before.values.keys() - after.values.keys())
    report.new += len(after.values.keys() - before.values.keys())
    for key in before.values.keys() & after.values.keys():
        report.values += 1
        old, new = before.values[key], after.values[key]
        if _shown(old) != _shown(new):
            report.changed += 1
            spread = max(old.uncertainty, new.uncertainty, 1e-12)
            report.largest.append(
                ValueChange(
                    swing_id=swing.id,
                    number=swing.number,
                    player=player.name,
                    metric=key[0],
                    moment=key[1],
                    before=old.value,
                    after=new.value,
                    in_spreads=abs(new.value - old.value) / spread,
                )
            )


def _shown(m: Measured) -> float:
    return round(m.metric.at_edge(m.value), m.metric.decimals)


def _verdicts(
    before: bytes, after: SwingRecord, swing: Swing, moved: bool, terms: Terms, report: MeasuringReport
) -> None:
    kept, judged = told(before), told(pack_judgement(judge_record(after, terms, swing.club, swing.shot, moved=moved)))
    was, now_is = sides(kept), sides(judged)
    report.verdicts += sum(was.get(k) != now_is.get(k) for k in was.keys() | now_is.keys())
    report.findings += kept.head["fired"].keys() != judged.head["fired"].keys()


def accept_measuring(tools: Tools, job: Job, progress: Progress) -> Mapping[str, Any]:
    """Let what was measured again take the place of what was kept, a recording at a time; a closed lesson is judged by
    the rules of its day. A recording that changed since is read once more."""
    of = UUID(job.subject["of"])
    with tools.open(job.academy_id) as uow:
        ids = list(dict.fromkeys(s.recording_id for s in uow.find(Swing, id=list(uow.offers.swings(of)))))
    for k, recording_id in enumerate(ids):
        progress.tell(k, len(ids), tr("Recording {value} of {ids}", value=k + 1, ids=len(ids)))
        with tools.open(job.academy_id) as uow:
            _accept(uow, tools, of, recording_id)
    with tools.open(job.academy_id) as uow:
        decide(uow, uow.hold(Job, of), ACCEPTED)
    return {"recordings": len(ids)}


def _accept(uow: UnitOfWork, tools: Tools, of: UUID, recording_id: UUID) -> None:
    found = uow.find(Recording, id=recording_id)
    if not found:
        return
    recording, lesson = found[0], uow.hold(Lesson, found[0].lesson_id)
    swings = uow.find(Swing, recording_id=recording_id, order="number")
    offers = uow.offers.of(of, [s.id for s in swings])
    if any(s.id not in offers or offers[s.id].measuring != s.measuring for s in swings):
        recordings.reread(uow, tools.codec, recording)
    else:
        _take(uow, recording, lesson, swings, offers)
    uow.offers.drop(of, [s.id for s in swings])


def _take(
    uow: UnitOfWork, recording: Recording, lesson: Lesson, swings: Sequence[Swing], offers: Mapping[UUID, Offer]
) -> None:
    player = uow.get(Player, lesson.player_id)
    calibration = orjson.loads(offers[swings[0].id].parts[Offer.CALIBRATION])
    recording.warnings = calibration["warnings"]
    recording.calibration = calibration["calibration"] or recording.calibration
    terms = terms_of(uow, lesson, player)
    for swing in swings:
        parts = dict(offers[swing.id].parts)
        record = unpack_record(parts.pop(Offer.RECORD))
        parts.pop(Offer.CALIBRATION, None)
        recordings.keep_reading(uow, swing, Made(record, parts), terms, swings, again=True)
    uow.flush()
    refresh(uow, lesson, player, {s.club for s in swings}, terms)


def decide(uow: UnitOfWork, job: Job, decision: str) -> None:
    """Note what was decided; what was offered and not taken is gone."""
    if job.state != DONE:
        raise Refused(tr("it is still being measured"), tr("Wait until it has ended"))
    uow.offers.drop(job.id, uow.offers.swings(job.id))
    job.answer = {**(job.answer or {}), "decision": decision}
