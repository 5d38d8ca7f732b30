"""The ground beside the other sources: which of mat and plates is read, and on which clock."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from finearc.core.frames.handedness import Hand
from finearc.core.kinematics.reading import Everything
from finearc.core.markers.stream import BayAxes, bay_from_lab
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.pressure.clean import MatMotion, read_mat
from finearc.core.pressure.plates import PlateStream, read_plates
from finearc.core.pressure.stream import MatStream, UnusableMat
from finearc.core.pressure.sync import NOT_SET, Offset, find_offset, on_clock
from finearc.core.pressure.view import GroundMotion
from finearc.core.signals.streams import Segment


def ground_of(
    mat: MatStream | None, plates: PlateStream | None, axes: BayAxes | None, hand: Hand, *, alone: bool
) -> tuple[GroundMotion | None, str]:
    """The mat, else the force plates; and why a mat that is there says nothing, which is an error only when there is
    nothing else. Raises ``StreamError`` for frames that cannot be read."""
    if mat is not None:
        try:
            return read_mat(mat), ""
        except UnusableMat as unusable:
            if alone:
                raise
            return None, str(unusable)
    if plates is not None and axes is not None:
        return read_plates(plates, bay_from_lab(axes, hand, plates.source)), ""
    return None, ""


def on_one_clock(
    sources: Everything, impacts_of: Callable[[Everything], Sequence[float]]
) -> tuple[Everything, Offset | None]:
    """The mat brought onto the clock of the other sources, when it has one of its own or was shifted by hand.
    ``impacts_of``: impacts as the given sources see them, s."""
    ground = sources.ground
    if not isinstance(ground, MatMotion):
        return sources, None
    by_hand = ground.stream.shift_s is not None
    if not by_hand and not ground.stream.own_clock:
        return sources, None
    if not by_hand and sources.inertial is None and sources.markers is None:
        return sources, None
    impacts = [] if by_hand else impacts_of(replace(sources, ground=None))
    offset = find_offset(ground, _sensors(sources), impacts)
    if offset is None:
        return replace(sources, ground=None, no_ground=NOT_SET), None
    return replace(sources, ground=on_clock(ground, offset)), offset


def _sensors(sources: Everything) -> list[SensorMotion]:
    """Sensors that feel a tap of the heel, nearest the ground first."""
    inertial = sources.inertial
    if inertial is None:
        return []
    trunk = [inertial.trunk[k] for k in (Segment.PELVIS, Segment.THORAX) if k in inertial.trunk]
    return [*trunk, *(s for s in (inertial.forearm, inertial.hand) if s is not None)]


def ground_notes(sources: Everything, offset: Offset | None) -> tuple[str, ...]:
    """What a person should know about the mat."""
    if sources.no_ground:
        return (f"The mat is not used: {sources.no_ground}",)
    notes = sources.ground.flags.sentences() if isinstance(sources.ground, MatMotion) else []
    return (*([offset.note] if offset is not None else []), *notes)
