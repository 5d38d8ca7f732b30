"""A take: one recording of a lesson as its bay's devices send it. Walks the player through the poses, waits for the
address, cuts the swings out, and hands each stretch over to be measured and kept.

Everything here runs in the bays' thread; what is handed over is worked on in a thread of its own."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID, uuid4

import numpy as np
import structlog

from finearc.core.live.gridding import Grid
from finearc.core.live.holding import HoldingState, PoseAsked, held, ups
from finearc.core.live.reader import Learned
from finearc.core.live.sequence import Gap
from finearc.core.live.take import LiveTake
from finearc.core.markers.stream import MarkerStream
from finearc.core.pressure.stream import MatStream
from finearc.core.signals.streams import ImuStream, Segment
from finearc.core.sources.kind import Setting
from finearc.core.training.success import Fading, Width
from finearc.core.training.trainer import Repetition
from finearc.core.typing import Array
from finearc.devices.coach import Coach
from finearc.devices.feed import Feed
from finearc.devices.laggards import Laggards
from finearc.devices.link.bay import IDLE_SYNC_S, Arrived, Bay
from finearc.devices.link.declared import Declared, ImuDeclared
from finearc.devices.link.device import DeviceState
from finearc.devices.plan import (
    GONE,
    MISSING,
    MOVEMENTS,
    NOBODY,
    STAND_IN,
    Keeper,
    Kept,
    Plan,
    Windows,
    about,
    is_stand_in,
    poses_for,
)
from finearc.devices.screens import Screens
from finearc.devices.stretch import Stretch, slices
from finearc.services.capture.raw import ADDRESS, POSES, Streams, key_of_swing
from finearc.wording import tr

log = structlog.get_logger()
SLICE_S = 0.05
"""What arrives at once is looked at in slices no longer than this."""
SETTLED_S = 1.0
"""Stillness that is an address (house value)."""
WITHOUT_SENSORS_S = 2.0
"""Where no sensor tells whether the player stands still, so much is taken for the address (house value)."""
TELL_EVERY_S = 0.1
QUIET_S = 1.0
"""Devices that are switched on together connect within so long of one another (house value)."""
IDLE_S = 60.0
"""Without a swing for so long, what has come is kept all the same (house value)."""
NOBODY_S = 6.0


@dataclass
class Take:
    """One recording in a bay. ``soon`` and ``later`` have a call made in the bays' thread, now or after so many
    seconds; ``origin_us``: the bay's clock at its time 0. ``_over``: a swing has ended and waits to be handed over."""

    bay: Bay
    keeper: Keeper
    plan: Plan
    soon: Callable[..., None]
    later: Callable[[float, Callable[[], None]], object]
    feed: Feed = field(default_factory=Feed)
    screens: Screens = field(init=False)
    origin_us: int = field(init=False)
    phase: str = "waiting"
    wanted: int = 0
    swings: int = 0
    live: LiveTake | None = None
    ended: bool = False
    _worker: ThreadPoolExecutor = field(default_factory=lambda: ThreadPoolExecutor(1, "take"))
    _streams: set[tuple[str, int]] = field(default_factory=set)
    _stretch: Stretch = field(init=False)
    _from_segment: int | None = None
    _busy: bool = False
    _poses: list[str] = field(default_factory=list)
    _windows: Windows = field(default_factory=dict)
    _holding: HoldingState = field(default_factory=HoldingState)
    _ups: dict[Segment, Array] = field(default_factory=dict)
    _told_s: float = -np.inf
    _now_s: float = 0.0
    _begun_us: int = 0
    _waited_us: int = 0
    _boots: dict[str, int] = field(default_factory=dict)
    _here: dict[str, int] = field(default_factory=dict)
    _changed_us: int = 0
    _recovered: bool = False
    _over: bool = False
    _gone: dict[str, str] = field(default_factory=dict)
    _due: tuple[float, Callable[[], None]] | None = None
    _laggards: Laggards = field(init=False)
    _since_s: float = 0.0

    def __post_init__(self) -> None:
        kept = self.plan.kept
        self._begun_us = self._waited_us = self.bay.clock.now_us()
        self.origin_us = kept.origin_us if kept is not None else self._begun_us
        self._stretch = Stretch(self.origin_us, dict(kept.following) if kept is not None else {})
        self.wanted = self.plan.wanted
        self.screens = Screens(self.bay, self.feed, self._keep, self.later)
        self._laggards = Laggards(self.bay.clock_pace)
        self.swings = sum(key.startswith(key_of_swing(0)[:-1]) for key in self.plan.sent)

    def begin(self) -> None:
        """Listen; stand-ins are told what to play."""
        if self.plan.kept is not None:
            self._go_on_from(self.bay.recovered())
        self.bay.listeners.append(self)
        self.bay.journal.every_s = 0.0
        self.devices_changed()
        self._wait_on()

    def _go_on_from(self, recovered: Sequence[tuple[int, Arrived]]) -> None:
        """What the journal has and was not handed over: it must stay there until it is, however often all ends."""
        pending = [(segment, part) for segment, part in recovered if not self._stretch.has(part)]
        self._recovered = bool(pending)
        self._keep_for_later([part for _, part in pending], min((segment for segment, _ in pending), default=None))

    def _keep_for_later(self, parts: Sequence[Arrived], segment: int | None = None) -> None:
        """For the next stretch that is handed over; ``segment``: of the journal from which on it stands there."""
        if self._from_segment is None:
            self._from_segment = self.bay.journal.segment if segment is None else segment
        if self.bay.needed_from is None:
            self.bay.needed_from = self._from_segment
        self._stretch.pending += parts

    def _keep_while_waiting(self, parts: Sequence[Arrived]) -> None:
        """What devices send that came back before the others was acknowledged, and belongs to what goes on; now and
        then it is kept, so that it does not grow while one stays away."""
        self._keep_for_later(parts)
        now_us = self.bay.clock.now_us()
        if now_us - self._waited_us > IDLE_S * 1e6 and not self._busy:
            self._waited_us = now_us
            self._hand_over_swing(idle=True)

    def _wait_on(self) -> None:
        """Look again now and then: where nobody sends, nothing else does."""
        if self.phase == "waiting" and not self.ended:
            self._look_who_is_there()
            self.later(1.0, self._wait_on)

    def end(self, then: Callable[[], None] | None = None) -> None:
        """Listen no more; what was handed over is still worked on. For good where there is something to do ``then``:
        the rest is kept before it. Else the journal keeps it for the next start."""
        if self.ended:
            return
        self.ended = True
        if then is not None and self._stretch.pending and self.phase == "armed":
            batch, kept = self._stretch.taken()
            self._worker.submit(self.keeper.rest, batch, f"idle-{uuid4().hex[:12]}", kept)
        if then is not None:
            self._worker.submit(then)
        if self in self.bay.listeners:
            self.bay.listeners.remove(self)
        self.bay.needed_from = None
        self.bay.journal.every_s = IDLE_SYNC_S
        self.bay.tell_state("idle")
        self.screens.end()
        self.feed.stand(lesson=None, trainer=None)
        self.feed.lesson_id = None
        self._worker.shutdown(wait=False)

    def want(self, swings: int) -> bool:
        """Ask the bay's stand-in for so many more swings; whether there is one."""
        if self.ended or not any(is_stand_in(d) and d.outlet is not None for d in self.bay.devices.values()):
            return False
        self.wanted += swings
        if self.phase == "armed":
            self._ask_for_swings()
        return True

    def _ask_for_swings(self) -> None:
        """As a total since the story began, so that it does no harm to say it twice."""
        if self.wanted:
            self._cue(swings=self.wanted)

    def _cue(self, **cue: Any) -> None:
        self.bay.tell({"type": "cue", "id": uuid4().hex} | cue, to=STAND_IN)

    # what the bay tells

    def devices_changed(self) -> None:
        here = {d.id: d.hello.device.boot for d in self.bay.devices.values() if d.outlet is not None}
        if here != self._here:
            self._here, self._changed_us = here, self.bay.clock.now_us()
        if self.phase == "waiting":
            if self._needs_cue():
                assert self.plan.cue is not None
                self._cue(**self.plan.cue)
            self._look_who_is_there()
        elif self.phase == "posing" and self._boots != self._boots_now():  # switched on anew: from the first pose on
            self.phase, self._stretch.pending = "waiting", []
            self._windows, self._ups = {}, {}
        else:
            self._say_who_has_gone()

    def _boots_now(self) -> dict[str, int]:
        """The boot of each device that this take began with."""
        return {k: self.bay.devices[k].hello.device.boot for k in self._boots if k in self.bay.devices}

    def _say_who_has_gone(self) -> None:
        """Once when a device goes, and once when all are back."""
        mine = [d for d in self.bay.devices.values() if any((d.id, n) in self._streams for n in d.streams)]
        gone = {d.id: d.name for d in mine if d.outlet is None}
        for name in (gone[k] for k in gone.keys() - self._gone.keys()):
            self.keeper.state({"type": "trouble", "reason": tr(GONE).format(name), "code": "gone"})
        if self._gone and not gone and self.phase == "armed":
            self._tell_ready()
        self._gone = gone

    def _needs_cue(self) -> bool:
        """Whether a stand-in is there that plays something else."""
        return any(is_stand_in(d) and not self.plan.is_played_by(d) for d in self.bay.devices.values() if d.outlet)

    def happened(self, device: DeviceState, name: str, server_s: float) -> None:
        """The strike is found in what the sensors felt."""

    def lost(self, device: DeviceState, declared: Declared, gap: Gap) -> None:
        """Shows as a gap in time."""

    def arrived(self, parts: Sequence[Arrived]) -> None:
        if self.phase == "waiting":
            if self.plan.kept is not None:
                self._keep_while_waiting([p for p in parts if not self._stretch.has(p)])
            self._look_who_is_there()
            return
        for part in parts:
            if (part.device.id, part.declared.stream) in self._streams and not self._stretch.has(part):
                self._take_in(part)

    def _look_who_is_there(self) -> None:
        """Begin as soon as all that is needed is connected, on a known clock, and sends."""
        ready = [d for d in self.bay.devices.values() if self.plan.is_ready(d)]
        places = {s.place for d in ready for s in d.hello.streams}
        if ready and self.plan.needed <= places and (self.plan.needed or self._all_have_come(len(ready))):
            self._put_on(ready)
            return
        waited_s = (self.bay.clock.now_us() - self._begun_us) / 1e6
        if waited_s > NOBODY_S and waited_s - self._told_s > NOBODY_S:
            self._told_s = waited_s
            missing = sorted(str(p) for p in self.plan.needed - places)
            words = tr(MISSING).format(missing[0].capitalize(), self.bay.name) if ready and missing else ""
            self.keeper.state({"type": "trouble", "reason": words or tr(NOBODY).format(self.bay.name)})

    def _all_have_come(self, ready: int) -> bool:
        """Where nobody said what is worn: whether all that is connected is ready, and nothing has come for a while."""
        here = sum(d.outlet is not None for d in self.bay.devices.values())
        quiet_s = (self.bay.clock.now_us() - self._changed_us) / 1e6
        return ready == here and quiet_s > QUIET_S * self.bay.clock_pace

    def _put_on(self, devices: Sequence[DeviceState]) -> None:
        """The sensors are known: measure them as they come."""
        declared = [s for d in devices for s in d.hello.streams]
        self._streams = {(d.id, s.stream) for d in devices for s in d.hello.streams}
        self._boots = {d.id: d.hello.device.boot for d in devices}
        segments = [s.segment for s in declared if isinstance(s, ImuDeclared)]
        rates = [s.rate_hz for s in declared if isinstance(s, ImuDeclared)] or [s.rate_hz for s in declared]
        self._now_s = (self.bay.clock.now_us() - self.origin_us) / 1e6
        grid = Grid(self._now_s, 1.0 / max(rates))
        self.live = LiveTake(Setting(hand=self.plan.hand, shot=self.plan.shot), grid, segments)
        self._stretch.leave_out(self._streams)
        self.screens.begin(self.live, frozenset(self._boots))
        poses = self.plan.poses if self.plan.poses is not None else poses_for(segments)
        self._poses = [] if POSES in self.plan.sent else list(poses)
        self._since_s = self._now_s
        if self._poses:
            self._ask_pose()
        else:
            self._settle()

    # poses

    def _ask_pose(self) -> None:
        self.phase, self._holding = "posing", HoldingState(self._now_s, before=self._ups)
        self.bay.tell_state("calibrating", pose=self._poses[0])

    def _asked(self) -> PoseAsked:
        assert self.live is not None
        name = self._poses[0]
        return PoseAsked(name, about(name, self.live.segments), name in MOVEMENTS, not self._windows)

    def _watch_pose(self, after: int) -> None:
        assert self.live is not None
        asked = self._asked()
        window = held(asked, self._holding, self.live.sensors, after)
        if window is None:
            left = self._holding.left_s(asked, self._now_s)
            holding = self._holding.since_s is not None and (self._holding.moved or asked.first)
            self._tell({"type": "pose", "pose": asked.name, "hold": holding, "left_s": round(left, 1)})
            return
        self._windows.setdefault(asked.name, []).append(window)
        self._ups = ups(self.live.sensors, self.live.segments)
        self._poses.pop(0)
        if self._poses:
            self._ask_pose()
        else:
            self._hand_over_poses()

    def _hand_over_poses(self) -> None:
        windows = dict(self._windows)
        self.phase = "calibrating"

        def done(calibrated: Any) -> None:
            if calibrated is not None:
                self._learn(calibrated)
                self._settle()
            else:
                self.end(self.keeper.ended)

        self._work(lambda batch, kept: self.keeper.poses(batch, windows, kept), done)

    # address

    def _settle(self) -> None:
        if ADDRESS in self.plan.sent:
            self._arm()
            return
        self.phase, self._since_s = "settling", self._now_s
        self._holding = HoldingState(self._now_s, before=self._ups)
        self.bay.tell_state("armed")

    def _watch_address(self, after: int) -> None:
        assert self.live is not None
        self._tell({"type": "settling"})
        main = self.live.main
        if main is None:
            settled = self._now_s - self._since_s > WITHOUT_SENSORS_S
        else:
            asked = PoseAsked(ADDRESS, [main[0]], first=self.plan.kept is not None)
            window = held(asked, self._holding, self.live.sensors, after)
            settled = window is not None and window[1] - window[0] > SETTLED_S - 0.2
        if settled:
            self.phase = tr("reading address")
            self._work(self.keeper.address, self._read_address)

    def _read_address(self, found: Any) -> None:
        self._learn(found)
        self._arm()

    def _learn(self, found: Learned | None) -> None:
        """Show from now on what the batch's calibrations and headings allow."""
        if found is not None and self.live is not None:
            self.live.learn(found.anchors, found.upright)

    def _arm(self) -> None:
        self.phase, self._since_s = "armed", self._now_s
        self.bay.tell_state("armed")
        self._tell_ready()
        self._ask_for_swings()

    def _tell_ready(self) -> None:
        left = {} if self.plan.most is None else {"left": max(0, self.plan.most - self.swings)}
        self.keeper.state({"type": "ready", **left})

    # swings

    def _watch_swing(self) -> None:
        assert self.live is not None
        over = self._over = self.live.swing_is_over() or self._is_calm_again() or self._over
        if self.live.swing.peak_s is not None:
            self._tell({"type": "swinging"})
        if over and not self._busy:
            self._hand_over_swing()
        elif self.live.main is None and self._now_s - self._since_s > WITHOUT_SENSORS_S and not self._busy:
            self._hand_over_swing()  # cameras or a mat alone: looked through now and then
        elif self._now_s - self._since_s > IDLE_S and not self._busy and self.live.swing.peak_s is None:
            self._hand_over_swing(idle=True)

    def _is_calm_again(self) -> bool:
        """Whether, after a restart, whatever was going on then is over: it is looked through once."""
        assert self.live is not None
        still_s = self.live.swing.still_s
        if not self._recovered or still_s is None or self._now_s - still_s < SETTLED_S:
            return False
        self._recovered = False
        return True

    def _hand_over_swing(self, *, idle: bool = False) -> None:
        self._since_s, self._over = self._now_s, False
        key = f"idle-{uuid4().hex[:12]}"
        if not idle:
            key = key_of_swing(self.swings)
            self.swings += 1
            self.bay.tell_state("swing", number=self.swings)

        def done(found: Any) -> None:
            self._learn(found)
            if not idle:
                self.bay.tell_state("armed")
                self._tell_ready()

        self._work(lambda batch, kept: self.keeper.swing(batch, key, kept), done)

    # samples

    def _take_in(self, part: Arrived) -> None:
        self._keep_for_later([part])
        if part.late or self.live is None:
            return
        time_s = part.time_s - self.origin_us / 1e6
        self._laggards.heard((part.device.id, part.declared.stream), float(time_s[-1]), self.bay.clock.now_us())
        self._look_through(part, time_s)
        self._hand_over_if_due()

    def _look_through(self, part: Arrived, time_s: Array) -> None:
        """In slices."""
        for stream, now_s in slices(part, time_s, SLICE_S):
            self._look_at(stream, now_s)

    def _look_at(self, stream: Any, now_s: float) -> None:
        assert self.live is not None
        self._now_s = max(self._now_s, now_s)
        if isinstance(stream, ImuStream):
            self.live.hear(stream)
        elif isinstance(stream, MarkerStream):
            self.live.see(stream)
        elif isinstance(stream, MatStream):
            self.live.tread(stream)
        self._step()

    def _step(self) -> None:
        assert self.live is not None
        if self.phase == "posing":
            sensors = about(self._poses[0], self.live.segments)
            self._watch_pose(self.live.sensors.front(sensors))
        elif self.phase == "settling":
            main = self.live.main
            self._watch_address(self.live.sensors.front([main[0]]) if main else 0)
        elif self.phase == "armed":
            self._watch_swing()
        self.screens.show(self.phase)

    def _tell(self, message: dict[str, Any]) -> None:
        """Tell the screens, a few times a second."""
        if self._now_s - self._told_s >= TELL_EVERY_S * self.bay.clock_pace:
            self._told_s = self._now_s
            self.keeper.state(message)

    def train(self, coach: Coach | None) -> None:
        """Train this from now on, or nothing."""
        self.screens.train(coach)

    def _keep(self, block_id: UUID, made: Repetition, how_far: tuple[Width, Fading]) -> None:
        self._worker.submit(self.keeper.repeated, block_id, made, how_far)

    # handing over

    def _work(self, work: Callable[[Streams, Kept], Any], done: Callable[[Any], None]) -> None:
        """Have all that has come since the last time worked on, as soon as every stream has reached the present;
        ``done`` hears the answer, in the bay's thread."""
        self._busy = True
        self._due = (self._now_s, lambda: self._hand_over(work, done))
        self._hand_over_if_due()

    def _hand_over_if_due(self) -> None:
        if self._due is None:
            return
        wanted_s, hand_over = self._due
        if self._laggards.none_awaited(self._streams, wanted_s, self._now_s, self.bay.clock.now_us()):
            self._due = None
            hand_over()

    def _hand_over(self, work: Callable[[Streams, Kept], Any], done: Callable[[Any], None]) -> None:
        batch, kept = self._stretch.taken()
        following_segment, self._from_segment = self.bay.journal.segment, None

        def run() -> None:
            answer: Any = None
            try:
                answer = work(batch, kept)
            except Exception as error:
                log.error("a take met an error", kind=type(error).__name__)
            self.soon(finished, answer)

        def finished(answer: Any) -> None:
            self._busy = False
            self.bay.needed_from = None if self.ended else following_segment
            if not self.ended:
                done(answer)

        self._worker.submit(run)
