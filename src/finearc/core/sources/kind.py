"""What a source is: one protocol from its stored columns to its values.

A *kind* knows a stream (``pack``, ``unpack``, ``span``), makes a *motion* of it (``prepare``: mend, orient, calibrate),
and the motion gives a *view* of each swing: checkpoints, traces, values, and why the rest is missing. Streams travel
as one mapping of kind to stream; nothing outside a kind's own module names its fields. A new kind is one module and
one line where kinds are listed (``formats.kinds``)."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, ClassVar, NamedTuple

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.core.errors import FineArcError
from finearc.core.events.checkpoints import Found
from finearc.core.events.model import Checkpoint, Event
from finearc.core.events.swings import Shot
from finearc.core.events.turning import Turning
from finearc.core.frames.handedness import Hand
from finearc.core.metrics.definition import Measured, Metric, Source
from finearc.core.metrics.sequence import Courses
from finearc.core.metrics.trace import Trace
from finearc.core.putting.setup import PutterSetup
from finearc.core.sources.address_check import GripChange
from finearc.core.typing import Array, Mask
from finearc.wording import tr

Window = tuple[float, float]
PoseWindows = Sequence[PoseWindow] | FunctionalWindows | None
Columns = Mapping[str, np.ndarray[Any, np.dtype[Any]]]
States = dict["Kind", Any]
"""What carries from swing to swing of one calibration, by kind."""
DEFAULT_LIE_RAD = np.deg2rad(62.0)


class Packed(NamedTuple):
    """A stream as columns: groups by name, each in ``pieces`` small enough for one row of any database, and what is
    ``described`` beside them (anything JSON can hold)."""

    groups: Mapping[str, Sequence[Columns]]
    described: Mapping[str, Any]


@dataclass(frozen=True)
class Setting:
    """What a capture says beside its streams. ``calibration``: the wrist poses' windows, or None to look for two poses;
    ``uprights`` and ``bow``: windows (s) of the body's poses, ``lifted`` of the upper arm's; ``swings``: windows (s),
    or None to find them; ``left``: where a recording goes on, what each kind left of what came before
    (``Motion.left``); ``putter``: what is noted of it, and of its pendulum."""

    hand: Hand = Hand.RIGHT
    shot: Shot = Shot.FULL
    lie_rad: float = DEFAULT_LIE_RAD
    calibration: PoseWindows = None
    swings: Sequence[Window] | None = None
    uprights: Sequence[Window] = ()
    bow: Window | None = None
    lifted: Window | None = None
    left: Mapping[Kind, Any] = field(default_factory=dict)
    putter: PutterSetup = field(default_factory=PutterSetup)


class Kind(ABC):
    """One kind of source, ``called`` so in sentences. Two kinds are the same when their keys are. ``order`` is that of
    reading, and of choosing the clock a swing is drawn on. ``measures``: metrics that nothing else gives, for saying
    why they are missing when this source is there and cannot be used. ``optional``: errors of ``prepare`` that only
    matter when nothing else is there."""

    key: ClassVar[str]
    called: ClassVar[str]
    order: ClassVar[int] = 100
    measures: ClassVar[Sequence[Metric]] = ()
    optional: ClassVar[tuple[type[FineArcError], ...]] = ()

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Kind) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)

    def __repr__(self) -> str:
        return self.key

    def owns(self, group: str) -> bool:
        """Whether a stored group of columns is of this kind."""
        return group == self.key

    @abstractmethod
    def pack(self, stream: Any) -> Packed:
        """A stream, whole or a stretch, as columns."""

    @abstractmethod
    def unpack(self, groups: Mapping[str, Sequence[Columns]], described: Mapping[str, Any]) -> Any:
        """The stream back from its columns, their pieces in order."""

    @abstractmethod
    def span(self, stream: Any) -> Window:
        """First and last instant, s."""

    @abstractmethod
    def cut(self, stream: Any, start_s: float, end_s: float = np.inf) -> Any:
        """The stream from ``start_s`` on and before ``end_s``."""

    def recent(self, stream: Any, start_s: float) -> Any:
        """What must be kept of a stream to read on from ``start_s``."""
        return self.cut(stream, start_s)

    def joined(self, first: Any, then: Any) -> Any:
        """A stream and the stretch that follows it, as one."""
        one, other = self.pack(first), self.pack(then)
        groups = {g: [*one.groups.get(g, ()), *other.groups.get(g, ())] for g in {**one.groups, **other.groups}}
        return self.unpack(groups, {**one.described, **other.described})

    @abstractmethod
    def prepare(self, stream: Any, setting: Setting, before: Motions) -> Motion | None:
        """The motion that values are read from: mended, oriented, calibrated; None when there is nothing to read.
        ``before``: kinds that come earlier. Raises a ``FineArcError``."""


class Motion(ABC):
    """A source's whole recording, ready to be read."""

    @property
    @abstractmethod
    def present(self) -> tuple[Source, ...]:
        """What it is said to be where its values are shown."""

    @property
    @abstractmethod
    def span(self) -> Window:
        """First and last instant, s."""

    def turning(self) -> Turning | None:
        """What swings are looked for in, or None when nothing turns here."""
        return None

    def swings(self) -> list[Window]:
        """Swings found otherwise than by what turns. Raises a ``FineArcError`` that says why there is none."""
        return []

    def rest(self, after_s: float) -> Window | None:
        """The last rest after ``after_s``, where nothing turns."""
        return None

    @property
    def poses_end_s(self) -> float:
        """When the last pose of its calibration ended; minus infinity without one."""
        return -np.inf

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about it, without doubting it."""
        return ()

    @abstractmethod
    def view(self, span: Window, states: States, split_m: float | None) -> View | None:
        """The swing in ``span`` (s); None when it was not recorded then. ``split_m``: the instructor's line between
        the feet."""

    def left(self, start_s: float) -> Any:
        """What reading on from ``start_s`` needs to know of the recording before it (``Setting.left``); None where
        that is nothing."""
        return None

    def lacking(self, view: View | None) -> dict[Metric, str]:
        """Reasons that are more exact than *needs this source*."""
        return {} if view is None else view.lacking()


class View(ABC):
    """One swing as one source saw it. ``time_s`` (n,), ``valid`` (n,); ``found``: its own checkpoints; ``address``:
    samples of its stillness, empty when not found; ``of_putt``: whether it is read as a putt."""

    of_putt: ClassVar[bool] = False

    time_s: Array
    valid: Mask
    found: Found
    address: slice
    warnings: list[str]

    @property
    def covariance(self) -> Array:
        """(7, 7), rad²: of the wrist's calibration."""
        return np.zeros((7, 7))

    @property
    def sensor_moved(self) -> bool:
        """Whether a sensor seems to have moved on the body."""
        return False

    @property
    def grip_changed(self) -> GripChange | None:
        """How the wrist stands otherwise at this address, where that is asked about; None otherwise."""
        return None

    @property
    def strike_felt(self) -> bool | None:
        """Whether a ball was struck, as far as this source can feel it; None where it cannot tell."""
        return None

    def dated(self, events: Mapping[Checkpoint, Event]) -> Mapping[Checkpoint, Event]:
        """The chosen checkpoints as certain in time as they are on this source's clock."""
        return events

    @abstractmethod
    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        """Every metric over time; ``address``: samples of the address that was chosen."""

    def values(self, events: Mapping[Checkpoint, Event], courses: Courses, present: Sequence[Source]) -> list[Measured]:
        """Values that are not read from a trace at a checkpoint. ``courses``: the best course of each metric so far."""
        return []

    def values_across(self, events: Mapping[Checkpoint, Event], courses: Courses) -> list[Measured]:
        """Values that need the courses of other sources too."""
        return []

    def lacking(self) -> dict[Metric, str]:
        """Why metrics have no value in this swing; asked after ``values``."""
        return {}


@dataclass(frozen=True)
class Motions:
    """The motions of a capture, in the order of their kinds. ``unused``: why a source that is there cannot be used."""

    by_kind: Mapping[Kind, Motion] = field(default_factory=dict)
    unused: Mapping[Kind, str] = field(default_factory=dict)

    def __iter__(self) -> Iterator[Motion]:
        return iter(self.by_kind.values())

    def __bool__(self) -> bool:
        return bool(self.by_kind)

    def get(self, kind: Kind) -> Motion | None:
        """The motion of a kind."""
        return self.by_kind.get(kind)

    def including(self, kind: Kind, motion: Motion) -> Motions:
        """With a motion added, or in place of the kind's own."""
        return Motions({**self.by_kind, kind: motion}, self.unused)

    def without(self, kind: Kind, why: str = "") -> Motions:
        """Without a kind's motion; ``why``, where it cannot be used."""
        left = {k: m for k, m in self.by_kind.items() if k != kind}
        return Motions(left, {**self.unused, kind: why} if why else self.unused)

    @property
    def present(self) -> tuple[Source, ...]:
        return tuple(s for motion in self for s in motion.present)

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sources, without doubting them."""
        unused = [
            tr("The {called} is not used: {why}", called=kind.called, why=why) for kind, why in self.unused.items()
        ]
        return (*(note for motion in self for note in motion.notes), *unused)

    @property
    def span(self) -> Window:
        """First and last instant of any, s."""
        spans = [motion.span for motion in self]
        return min((a for a, _ in spans), default=np.inf), max((b for _, b in spans), default=-np.inf)


def prepare_all(streams: Mapping[Kind, Any], setting: Setting) -> Motions:
    """Every stream prepared, in the order of the kinds. Raises a ``FineArcError``; one that a kind calls optional only
    when nothing else is there."""
    motions = Motions()
    first_error: FineArcError | None = None
    for kind in sorted(streams, key=lambda k: k.order):
        try:
            motion = kind.prepare(streams[kind], setting, motions)
        except kind.optional as error:
            first_error = first_error or error
            motions = motions.without(kind, str(error))
            continue
        if motion is not None:
            motions = motions.including(kind, motion)
    if not motions and first_error is not None:
        raise first_error
    return motions
