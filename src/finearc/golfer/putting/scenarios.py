"""Named putting sessions of the golfer model."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import ImuStream, Segment
from finearc.golfer.marker_set import MarkerLog
from finearc.golfer.poses import PoseErrors
from finearc.golfer.putting.logs import PutterMarkers, putter_markers, sensor_logs
from finearc.golfer.putting.session import PuttingPlan, TruePutting, perform_putting
from finearc.golfer.putting.style import DISTANCES_M, PuttStyle, Step, quiet, there_and_back, transition
from finearc.golfer.sensors import SensorQuirks

TYPICAL_POSES = PoseErrors(wrist_deg=1.2, level_deg=1.5)
SENSORS = {
    "wrist": (Segment.LEAD_FOREARM, Segment.LEAD_HAND),
    "trail": (Segment.TRAIL_FOREARM, Segment.TRAIL_HAND),
    "putter": (Segment.PUTTER,),
    "markers": (),
}
Way = Callable[[float], PuttStyle]
"""How a putt of a distance (m) is made."""


@dataclass(frozen=True)
class PuttingStory:
    """The putts, and what the instructor would note beside them; ``noted``: whether the distances are."""

    putts: Sequence[PuttStyle]
    about: str
    poses: PoseErrors = TYPICAL_POSES
    quirks: dict[str, object] = field(default_factory=dict)
    marker_set: dict[str, object] = field(default_factory=dict)
    scatter: float = 1.0
    face_grip_bias_deg: float | None = None
    posed_again_at: int | None = None
    noted: bool = True


@dataclass(frozen=True)
class PuttingRecording:
    """Sensor logs of a putting session and its truth; ``swings``: windows (s) of the putts."""

    streams: list[ImuStream]
    truth: TruePutting
    hand: Hand
    swings: list[tuple[float, float]]
    story: PuttingStory
    marker_set: MarkerLog | None = None
    shot: Shot = Shot.PUTT


def session_of(
    make: Way, each: int = 5, distances: Sequence[float] = DISTANCES_M, **changed: float
) -> tuple[PuttStyle, ...]:
    """So many putts of each distance, by a way of putting."""
    return tuple(replace(make(d), **changed) for d in distances for _ in range(each))  # type: ignore[arg-type]


def _lifted(distance_m: float) -> PuttStyle:
    """Extended and radial going back, the handle lifted with it."""
    return replace(
        quiet(distance_m),
        extension=there_and_back("takeaway", 0.12, 0.5, 4.0, 0.72),
        deviation=there_and_back("takeaway", 0.15, 0.5, 3.5, 0.74),
        both_up=(Step("takeaway", 0.1, 0.55, 2.5), Step("transition", 0.0, 0.32, -2.3)),
    )


def _drifting(distance_m: float) -> PuttStyle:
    """The handle goes back with the stroke and stays behind through the ball."""
    return replace(quiet(distance_m), handle_along=(Step("takeaway", 0.1, 0.6, -4.0),))


def _wristy(distance_m: float) -> PuttStyle:
    """The lead wrist breaks down through the ball, at every distance."""
    far = max(0.0, distance_m - 3.0) / 6.0
    return replace(
        quiet(distance_m),
        extension=(Step("impact", -0.16, 0.24, 9.0 + 4.0 * far),),
        deviation=(Step("impact", -0.12, 0.22, 2.5 + far),),
    )


def _jumping(distance_m: float) -> PuttStyle:
    """Grows evenly to the middle distance, then far more."""
    return (
        transition(distance_m)
        if distance_m < 8.0
        else replace(
            transition(distance_m),
            extension=(Step("transition", -0.18, 0.26, 16.0), Step("transition", 0.04, 0.2, -16.0)),
        )
    )


def _off_centre(out_cm: float) -> Way:
    def made(distance_m: float) -> PuttStyle:
        return replace(quiet(distance_m), head_out=(Step("transition", -0.05, 0.33, out_cm),))

    return made


def _still(distance_m: float) -> PuttStyle:
    """No wrist motion at any distance."""
    return PuttStyle(distance_m=distance_m)


PUTTING: dict[str, PuttingStory] = {
    "putt-quiet": PuttingStory(session_of(quiet), "A skilled stroke of the quiet school, three distances."),
    "putt-quiet-arc": PuttingStory(
        session_of(quiet, path_deg=1.0, pivot_m=1.30, back_s=0.74),
        "Another of the quiet school: slower, from higher up, a little in to out.",
    ),
    "putt-transition": PuttingStory(
        session_of(transition), "A skilled stroke that loads the putter in the transition."
    ),
    "putt-transition-low": PuttingStory(
        session_of(transition, pivot_m=1.12, back_s=0.62, through_s=0.30),
        "Another that loads: quicker, from lower down.",
    ),
    "putt-wristy": PuttingStory(session_of(_wristy), "The lead wrist moves through the ball, from three metres too."),
    "putt-lifted-handle": PuttingStory(session_of(_lifted), "Extends and hinges going back and lifts the handle."),
    "putt-handle-drift": PuttingStory(session_of(_drifting), "The handle stays behind through the ball."),
    "putt-grip-bias": PuttingStory(
        session_of(quiet, face_deg=0.5), "The face sits turned in the hands.", face_grip_bias_deg=6.0
    ),
    "putt-ulnar": PuttingStory(session_of(quiet, deviation_deg=-41.0), "The wrist is set far down at address."),
    "putt-still-hands": PuttingStory(session_of(_still), "No wrist motion at any distance.", scatter=0.5),
    "putt-jump": PuttingStory(session_of(_jumping), "Motion that jumps at the longest distance."),
    "putt-toe": PuttingStory(session_of(_off_centre(-1.4)), "The ball is struck toward the toe."),
    "putt-heel": PuttingStory(session_of(_off_centre(1.4)), "The ball is struck toward the heel."),
    "putt-one-distance": PuttingStory(session_of(quiet, 6, (3.0,)), "Six putts of three metres."),
    "putt-two-only": PuttingStory(session_of(quiet, 1, (3.0, 6.0)), "Two putts."),
    "putt-practice": PuttingStory(
        tuple(replace(s, ball=k % 2 == 1) for k, s in enumerate(session_of(quiet, 8, (3.0,)))),
        "A practice stroke before every putt.",
    ),
    "putt-recalibrated": PuttingStory(
        session_of(transition, 3), "The poses are held again before the fifth putt.", posed_again_at=4
    ),
    "putt-markers-flipped": PuttingStory(
        session_of(quiet, 3), "Heel and toe carry each other's name.", marker_set={"flipped": True}
    ),
    "putt-clip-reversed": PuttingStory(
        session_of(quiet, 3), "The putter's sensor points to the grip.", quirks={"clip_reversed": True}
    ),
}


def play_putting(
    story: PuttingStory,
    seed: int,
    *,
    sources: Sequence[str] = ("wrist",),
    hand: Hand = Hand.RIGHT,
) -> PuttingRecording:
    """Play a story. The same seed and sources give the same recording."""
    rng = np.random.default_rng(seed)
    putts = [p.scattered(rng, story.scatter) for p in story.putts]
    twist = float(rng.uniform(-2.5, 2.5))
    plan = PuttingPlan(putts, story.poses, twist_rest_deg=twist, posed_again_at=story.posed_again_at)
    truth = perform_putting(plan, rng)
    segments = [segment for source in sources for segment in SENSORS.get(source, ())]
    quirks = replace(SensorQuirks(), **story.quirks)  # type: ignore[arg-type]
    logs = sensor_logs(truth, segments, quirks, np.random.default_rng(seed + 1))
    if hand is Hand.LEFT:
        logs = [s.mirrored() for s in logs]
    marker_set = None
    if "markers" in sources:
        how = PutterMarkers(**story.marker_set)  # type: ignore[arg-type]
        marker_set = putter_markers(truth, how, np.random.default_rng(seed + 3), hand)
    windows = [(round(s.start_s, 3), round(s.end_s, 3)) for s in truth.swings]
    return PuttingRecording(logs, truth, hand, windows, story, marker_set)
