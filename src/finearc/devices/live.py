"""Joins a bay's devices to lessons: keeps what they send, tells the screens. Nothing that happens on the way ends a
capture: what passes is waited for, what does not is said, and the next swing comes."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from concurrent.futures import BrokenExecutor
from contextlib import AbstractContextManager
from dataclasses import dataclass
from typing import Any, NamedTuple, TypeVar
from uuid import UUID
from weakref import WeakSet

import structlog

from finearc.core.errors import FineArcError
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.live.reader import Learned
from finearc.core.sources.address_check import MOVED
from finearc.core.training.success import Fading, Width
from finearc.core.training.trainer import Repetition
from finearc.devices.coach import Coach, Message, bands_told
from finearc.devices.feed import Feeds
from finearc.devices.hub import LiveHub
from finearc.devices.link.bays import Bays, TokenOwner
from finearc.devices.link.declared import Place
from finearc.devices.plan import DEVICES, STAND_IN, Kept, Plan, Windows, poses_for
from finearc.devices.takes import Take
from finearc.golfer.played import most_swings, segments_of
from finearc.golfer.scenarios import SCENARIOS
from finearc.services.capture import raw, taking
from finearc.services.jobs.ports import Pool, Tools
from finearc.services.lesson import training
from finearc.services.lesson.lessons import FIRST_BAYS, bay_of
from finearc.services.lesson.pages import lesson_page
from finearc.services.patience import IsPassing, persist
from finearc.services.ports import UnitOfWork
from finearc.services.records import Block, Lesson, Recording
from finearc.wording import mark, tr

log = structlog.get_logger()
OpenUnitOfWork = Callable[[UUID], AbstractContextManager[UnitOfWork]]
Answer = TypeVar("Answer")
Asked = TypeVar("Asked")
PATIENCE_S = 900.0
"""So long what was captured is held in memory while the database is away."""
WAITING = mark("The database does not answer. What is captured is kept here and goes in when it does; capture goes on.")
UNREAD = mark("This swing could not be read. Its raw data are kept; capture goes on.")
HOLD_AGAIN = mark("Something went wrong while calibrating. Hold the poses again.")
MADE_ROOM = mark("Another lesson was fitted in this bay. Fit again to go on; every swing is kept.")


@dataclass(frozen=True)
class Keeping:
    """With what a capture is kept. ``pool``: where what was handed over is worked on; ``passing``: which errors are
    waited for."""

    open: OpenUnitOfWork
    pool: Pool
    hub: LiveHub
    passing: IsPassing


class RecordingListener:
    """Has one recording's batches kept and read, and publishes what happened."""

    def __init__(self, keeping: Keeping, academy_id: UUID, lesson_id: UUID, recording_id: UUID) -> None:
        self._keeping = keeping
        self.academy_id, self.lesson_id, self.recording_id = academy_id, lesson_id, recording_id
        self.stopped = threading.Event()

    def state(self, message: dict[str, Any]) -> None:
        self._keeping.hub.publish(self.lesson_id, {"recording_id": str(self.recording_id), **message})

    def _ask(self, work: Callable[[Tools, UUID, Asked], Answer], asked: Asked) -> Answer:
        """Have something done, for as long as it takes."""

        def once() -> Answer:
            return self._keeping.pool.ask(work, self.academy_id, asked).result()

        def passing(error: BaseException) -> bool:
            return isinstance(error, BrokenExecutor) or self._keeping.passing(error)

        return persist(once, passing, PATIENCE_S, self._waiting, self.stopped.is_set)

    def _waiting(self) -> None:
        self.state({"type": "trouble", "reason": tr(WAITING)})

    def _handed(self, batch: raw.Streams, key: str, kept: Kept, windows: Windows | None = None) -> taking.Handed:
        return taking.Handed(self.recording_id, batch, key, kept.told(), windows or {})

    def poses(self, batch: raw.Streams, windows: Windows, kept: Kept) -> Learned | None:
        try:
            taken = self._ask(taking.take_poses, self._handed(batch, raw.POSES, kept, windows))
        except Exception as error:
            self._say(error, {"type": "refused", "reason": tr(HOLD_AGAIN)})
            return None
        calibration = taken.calibration
        if calibration is None or calibration.refused is not None:
            reason = tr("Nothing was calibrated.") if calibration is None else calibration.refused
            self.state({"type": "refused", "reason": reason})
            return None
        self.state({"type": "calibrated", "quality": calibration.quality, "sentence": calibration.sentence})
        return taken.learned

    def address(self, batch: raw.Streams, kept: Kept) -> Learned | None:
        handed = self._handed(batch, raw.ADDRESS, kept)
        try:
            taken = self._ask(taking.take_address, handed)
        except Exception as error:  # the setup is not answered; swings can be made all the same
            self._unread(error, handed)
            return None
        self.state({"type": "setup"})
        return taken.learned

    def swing(self, batch: raw.Streams, key: str, kept: Kept) -> Learned | None:
        handed = self._handed(batch, key, kept)
        try:
            taken = self._ask(taking.take_swing, handed)
        except Exception as error:
            self._unread(error, handed)
            return None
        if taken.swings:
            self.state(
                {"type": "captured", "swings": list(taken.swings)} | ({"warning": tr(MOVED)} if taken.moved else {})
            )
        return taken.learned

    def _unread(self, error: Exception, handed: taking.Handed) -> None:
        """Nobody foresaw this: the raw data are kept without being read, and the screens are told."""
        try:
            self._ask(taking.take_unread, handed)
        except Exception as second:
            log.error("a batch is lost", recording=str(self.recording_id), kind=type(second).__name__)
            self._say(
                error,
                {
                    "type": "trouble",
                    "reason": tr("A swing is lost: {in_words} Capture goes on.", in_words=_in_words(error)),
                },
            )
            return
        self._say(error, {"type": "trouble", "reason": str(error) if isinstance(error, FineArcError) else tr(UNREAD)})

    def _say(self, error: Exception, message: dict[str, Any]) -> None:
        if not isinstance(error, FineArcError):
            log.error("capture met an error", recording=str(self.recording_id), kind=type(error).__name__)
        self.state(message)

    def rest(self, batch: raw.Streams, key: str, kept: Kept) -> None:
        """What came after the last swing: kept, and not looked through any more."""
        try:
            self._ask(taking.take_rest, self._handed(batch, key, kept))
        except Exception as error:  # the lesson may have been erased meanwhile
            log.warning("the rest of a recording was not kept", kind=type(error).__name__)

    def repeated(self, block_id: UUID, made: Repetition, trainer: tuple[Width, Fading]) -> None:
        """A repetition of a training has ended: it is kept as long as it takes."""
        try:
            self._ask(taking.take_repetition, taking.Repeated(block_id, made, trainer))
        except Exception as error:  # the block may have been erased meanwhile
            log.warning("a repetition was not kept", kind=type(error).__name__)

    def ended(self) -> None:
        """Nothing more is taken in, nor after a crash."""
        if self.stopped.is_set():
            return
        try:
            self._ask(taking.take_end, self.recording_id)
        except Exception as second:  # the next start tries to go on with it, and ends it then
            log.error("an end was not kept", recording=str(self.recording_id), kind=type(second).__name__)


def _in_words(error: Exception) -> str:
    return str(error) if isinstance(error, FineArcError) else tr("it could neither be read nor kept.")


class Devices:
    """The takes that are going on, one a bay."""

    def __init__(self, keeping: Keeping, bays: Bays, feeds: Feeds | None = None) -> None:
        self._keeping, self._bays, self._feeds = keeping, bays, feeds or Feeds()
        self._takes: dict[UUID, Take] = {}
        self._keepers: WeakSet[RecordingListener] = WeakSet()

    def begin(self, academy_id: UUID, recording: Recording, sources: Sequence[str]) -> None:
        """Start a recording in its lesson's bay: with its stand-ins and these sources beside the wrist pair, or, where
        none is named, with whatever sends there. What was going on in the bay ends."""
        with self._keeping.open(academy_id) as uow:
            owner, aims = self._owner(uow, recording), _aims(uow, recording.lesson_id)
        plan = plan_of(recording, sources)
        self._keeping.pool.warm()
        self._bays.call(lambda: self._begin(owner, recording.lesson_id, recording.id, plan, aims))

    def _begin(self, owner: TokenOwner, lesson_id: UUID, recording_id: UUID, plan: Plan, aims: Aims) -> None:
        bay = self._bays.open(owner)
        keeper = RecordingListener(self._keeping, owner.academy_id, lesson_id, recording_id)
        self._keepers.add(keeper)
        for other, take in list(self._takes.items()):
            if take.bay is bay or other == lesson_id:
                self._stop(other, made_room=other != lesson_id)
        feed = self._feeds.of(bay.id)
        feed.lesson_id = lesson_id
        feed.stand(lesson=str(lesson_id), values={}, settled={}, hand=plan.hand.value, bands=aims.bands)
        self._takes[lesson_id] = take = Take(bay, keeper, plan, self._bays.soon, self._bays.later, feed)
        take.screens.coach = aims.coach
        take.begin()

    def _stop(self, lesson_id: UUID, *, made_room: bool = False, for_good: bool = True) -> None:
        take = self._takes.pop(lesson_id, None)
        if take is None:
            return
        keeper = take.keeper
        take.end(keeper.ended if for_good else None)
        if made_room:
            keeper.state({"type": "trouble", "reason": tr(MADE_ROOM)})

    @staticmethod
    def _owner(uow: UnitOfWork, recording: Recording) -> TokenOwner:
        bay = bay_of(uow, uow.get(Lesson, recording.lesson_id).bay or FIRST_BAYS[0])
        uow.flush()
        return TokenOwner(uow.academy_id, bay.id, bay.name, bay.id)

    def resume(self, academy_id: UUID, recording_id: UUID) -> bool:
        """Go on with a recording that was going on when the application ended; whether it does."""
        with self._keeping.open(academy_id) as uow:
            recording = uow.get(Recording, recording_id)
            running = uow.get(Lesson, recording.lesson_id).status != "closed"
            noted, sent = recording.live or {}, raw.keys_of(uow, recording)
            begun_anew = sent and "origin_us" not in noted  # by a release that kept no place to go on from
            if not running or begun_anew or recording.source not in (STAND_IN, DEVICES):
                recording.live = None
                return False
            owner, aims = self._owner(uow, recording), _aims(uow, recording.lesson_id)
        plan = plan_of(recording, noted.get("sources", ()), sent)
        self._bays.call(lambda: self._begin(owner, recording.lesson_id, recording.id, plan, aims))
        return True

    def request_swings(self, lesson_id: UUID, count: int) -> bool:
        """Whether there is a stand-in that will swing."""
        take = self._takes.get(lesson_id)
        return take is not None and bool(self._bays.call(lambda: take.want(count)))

    def train(self, academy_id: UUID, lesson_id: UUID) -> bool:
        """Train what the lesson's running block says, from now on, or nothing; whether anything is going on."""
        take = self._takes.get(lesson_id)
        if take is None:
            return False
        with self._keeping.open(academy_id) as uow:
            aims = _aims(uow, lesson_id)

        def follow() -> None:
            take.feed.stand(bands=aims.bands)
            take.train(aims.coach)

        self._bays.call(follow)
        return True

    def end(self, lesson_id: UUID) -> None:
        """End what is going on in a lesson, for good."""
        if lesson_id in self._takes:
            self._bays.call(lambda: self._stop(lesson_id))

    def end_all(self) -> None:
        """Stop all, for good; what was under way goes on at the next start of the application."""
        for lesson_id in list(self._takes):
            self._stop(lesson_id, for_good=False)
        for keeper in list(self._keepers):
            keeper.stopped.set()  # nobody waits for a database that has been stopped, too
        self._keeping.pool.close()


class Aims(NamedTuple):
    """What a player aims at: the trainer of what is trained, and the ranges in force with the club in hand."""

    coach: Coach | None
    bands: list[Message]


def _aims(uow: UnitOfWork, lesson_id: UUID) -> Aims:
    bands = bands_told(training.bands_in_force(lesson_page(uow, lesson_id)))
    return Aims(_coach(uow, lesson_id), bands)


def _coach(uow: UnitOfWork, lesson_id: UUID) -> Coach | None:
    """The trainer of the block that is running in a lesson."""
    block_id = uow.get(Lesson, lesson_id).block_id
    block = None if block_id is None else uow.get(Block, block_id)
    kept = None if block is None else training.training_of(block)
    return None if block is None or kept is None else Coach.of(block.id, kept, test=block.kind == "test")


def plan_of(recording: Recording, sources: Sequence[str], sent: frozenset[str] = frozenset()) -> Plan:
    """What a recording is to be taken of; ``sent``: batches that are kept of it already."""
    hand, noted = Hand(recording.handedness), recording.live or {}
    kept = Kept(noted["origin_us"], noted["following"]) if "origin_us" in noted else None
    if recording.source != STAND_IN:
        return Plan(hand, sent=sent, kept=kept, shot=Shot(recording.shot))
    worn = ("wrist", *sources)
    segments = segments_of(recording.scenario, worn)
    told = SCENARIOS.get(recording.scenario)
    plan = told.plan if told is not None else {}
    needed = {Place("imu", s.value) for s in segments}
    needed |= {Place(k) for k in ("pressure", "markers") if k in worn}
    poses = poses_for(segments, functional=bool(plan.get("functional")), pairs=int(str(plan.get("pairs", 1))))
    cue = {
        "id": str(recording.id),
        "scenario": recording.scenario,
        "seed": recording.seed,
        "hand": hand.value,
        "sources": list(sources),
    }
    most, wanted = most_swings(recording.scenario), int(noted.get("wanted", 0))
    return Plan(hand, frozenset(needed), poses, most, cue, sent, kept, wanted, Shot(recording.shot))
