"""What a take is of, how far it has been kept, and who keeps it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Protocol
from uuid import UUID

from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.live.reader import Learned
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial import TRUNK, WRIST_PAIR
from finearc.core.sources.kind import Window
from finearc.core.training.success import Fading, Width
from finearc.core.training.trainer import Repetition
from finearc.devices.link.declared import Place
from finearc.devices.link.device import DeviceState
from finearc.services.capture.raw import Streams
from finearc.wording import mark

STAND_IN, DEVICES = "stand-in", "devices"
"""What the model of a simulated device is called. A recording's source is one of both: of the bay's simulated player,
or of whatever sends there."""
NOBODY = mark("No devices send into {}. Switch them on; simulated ones are started with finearc devices.")
MISSING = mark("{} does not send into {}. Switch it on, or fit without it.")
GONE = mark("{} has gone. What it sent is kept; it goes on when it is back, or fit without it.")
MOVEMENTS = ("flexion", "deviation")
Windows = dict[str, list[Window]]


@dataclass(frozen=True)
class Kept:
    """What is written down of a take as it stands: the bay's clock at its beginning, and by stream (device, boot,
    number) the next sequence that is not kept."""

    origin_us: int
    following: Mapping[str, int]

    def told(self) -> dict[str, Any]:
        """As JSON."""
        return {"origin_us": self.origin_us, "following": dict(self.following)}


class Keeper(Protocol):
    """Measures and keeps what a take hands over, and tells the screens; each call may take its time. What it found is
    given back to the live values, None where it found nothing."""

    def state(self, message: dict[str, Any]) -> None: ...

    def poses(self, batch: Streams, windows: Windows, kept: Kept) -> Learned | None: ...

    def address(self, batch: Streams, kept: Kept) -> Learned | None: ...

    def swing(self, batch: Streams, key: str, kept: Kept) -> Learned | None: ...

    def rest(self, batch: Streams, key: str, kept: Kept) -> None: ...

    def repeated(self, block_id: UUID, made: Repetition, trainer: tuple[Width, Fading]) -> None: ...

    def ended(self) -> None: ...


@dataclass(frozen=True)
class Plan:
    """What a take is of. ``needed``: what must be sent, empty for whatever is there; ``poses``: those of the
    calibration, None for those that the sensors need; ``most``: swings that a stand-in has; ``cue``: what the bay's
    stand-ins are told to play; ``sent``: batches that are kept already; ``kept``: from where it goes on; ``wanted``:
    the swings that were asked of a stand-in so far; ``shot``: what is looked for."""

    hand: Hand
    needed: frozenset[Place] = frozenset()
    poses: tuple[str, ...] | None = None
    most: int | None = None
    cue: Mapping[str, Any] | None = None
    sent: frozenset[str] = frozenset()
    kept: Kept | None = None
    wanted: int = 0
    shot: Shot = Shot.FULL

    def is_played_by(self, device: DeviceState) -> bool:
        """Whether a stand-in plays what this take is of; each says in its hello which cue it follows."""
        return self.cue is None or self.kept is not None or device.hello.device.firmware == self.cue["id"]

    def is_ready(self, device: DeviceState) -> bool:
        """Whether it is connected, on a known clock, and sends what this take is of."""
        right = not is_stand_in(device) or self.is_played_by(device)
        sends = all(s.order.next is not None for s in device.streams.values())
        return device.outlet is not None and right and device.has_clock and sends


def is_stand_in(device: DeviceState) -> bool:
    """Whether it is a simulated one, which can be told what to play."""
    return device.hello.device.model == STAND_IN


def poses_for(segments: Sequence[Segment], *, functional: bool = False, pairs: int = 1) -> tuple[str, ...]:
    """The poses that these sensors are calibrated by, in the order in which they are held."""
    worn = set(segments)
    body = ("square_upright", "bow") if worn & set(TRUNK) else ()
    arm: tuple[str, ...] = ()
    if worn >= set(WRIST_PAIR):
        arm = ("straight", "raised", *MOVEMENTS) if functional else ("flat", "raised") * pairs
    lifted = ("lifted",) if Segment.LEAD_UPPER_ARM in worn and arm else ()
    return body + arm + lifted


def about(pose: str, segments: Sequence[Segment]) -> list[Segment]:
    """The sensors that a pose is about."""
    of_pose = {
        "square_upright": TRUNK,
        "bow": TRUNK,
        "lifted": (Segment.LEAD_UPPER_ARM, Segment.LEAD_FOREARM),
    }.get(pose, WRIST_PAIR)
    return [s for s in of_pose if s in segments]
