"""Named scenarios of the golfer model."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from difflib import get_close_matches

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import ImuStream, Segment
from finearc.golfer import bodies as bd, style as st
from finearc.golfer.arm import STEP_S
from finearc.golfer.ground import Ground, ground_of
from finearc.golfer.marker_set import MarkerLog, MarkerQuirks, marker_log
from finearc.golfer.mat import MatLog, MatQuirks, mat_log
from finearc.golfer.poses import PoseErrors, SessionPlan
from finearc.golfer.sensors import SensorQuirks, Slip, record
from finearc.golfer.session import TrueSession, perform
from finearc.golfer.shots import skilled_style
from finearc.golfer.style import SwingStyle
from finearc.golfer.whole import WholeBody, whole_body

TYPICAL_POSES = PoseErrors(wrist_deg=1.2, level_deg=1.5)


@dataclass
class UnknownScenario(FineArcError):
    name: str
    known: tuple[str, ...]
    code = "unknown_scenario"

    def __str__(self) -> str:
        near = get_close_matches(self.name, self.known, 1)
        hint = f', did you mean "{near[0]}"?' if near else ""
        return f'no scenario "{self.name}"{hint} Known: {", ".join(self.known)}'


@dataclass(frozen=True)
class Scenario:
    """A story: the swings, the way the poses are held, and what the sensors do."""

    styles: Sequence[SwingStyle]
    about: str
    poses: PoseErrors = TYPICAL_POSES
    plan: dict[str, object] = field(default_factory=dict)
    quirks: dict[str, object] = field(default_factory=dict)
    scatter: float = 1.0
    marker_set: dict[str, object] = field(default_factory=dict)
    mat: dict[str, object] = field(default_factory=dict)
    heel_tap: bool = False
    shot: Shot = Shot.FULL


def _five(style: SwingStyle) -> tuple[SwingStyle, ...]:
    return (style,) * 5


COLD = replace(st.OVER_EXTENDED, extension=(28, 32, 38, 46, 40, 12, 20, 24), backswing_s=0.95, shaft_top_deg=34.0)

SCENARIOS: dict[str, Scenario] = {
    "hold-then-flex": Scenario(_five(st.HOLD), "A skilled swing: address extension kept to the top, then flexed."),
    "flat": Scenario(_five(st.FLAT), "Flat at the top."),
    "early-flex": Scenario(_five(st.EARLY_FLEX), "Flexed before the top, little change after."),
    "flip": Scenario(_five(st.FLIP), "Extended at impact: 30, 30, +31."),
    "dip": Scenario(_five(st.DIP), "Falls toward flexion in the takeaway, re-extends by the top."),
    "over-extended": Scenario(_five(st.OVER_EXTENDED), "Extends far beyond address at the top."),
    "over-hinged": Scenario(_five(st.OVER_HINGED), "Hinged and extended far at the top."),
    "over-flexed": Scenario(_five(st.OVER_FLEXED), "Flexed at the top in the hold school."),
    "takeaway-extension": Scenario(_five(st.TAKEAWAY_EXTENSION), "Extends early in the takeaway."),
    "palm-grip": Scenario(_five(st.PALM_GRIP), "Hardly any extension at address."),
    "early-release": Scenario(_five(st.EARLY_RELEASE), "Hinge given up before arm level coming down."),
    "rough": Scenario(_five(st.ROUGH), "Speeds up and slows down several times going back."),
    "short": Scenario(_five(st.SHORT), "A short backswing."),
    "long": Scenario(_five(st.LONG), "A backswing past level."),
    "cold-first-swings": Scenario((COLD, COLD, *_five(st.HOLD)), "Two cold swings, then five as usual."),
    "half-speed": Scenario(_five(st.HALF_SPEED), "Swings at half speed.", scatter=0.6),
    "no-ball": Scenario(tuple(replace(s, ball=False) for s in _five(st.HOLD)), "Swings without a strike."),
    "setup-only": Scenario((), "Calibration and a still address, no swing."),
    "slip": Scenario(
        _five(st.HOLD), "The hand sensor slips between the second and the third swing.", quirks={"slip_after": 2}
    ),
    "turned-sensor": Scenario(
        _five(st.HOLD),
        "The hand sensor turns about the hand's long axis between the second and the third swing.",
        quirks={"slip_after": 2, "slip_axis": (1.0, 0.0, 0.0)},
    ),
    "grip-changed": Scenario(
        (st.HOLD, st.HOLD, st.REGRIPPED, st.REGRIPPED, st.REGRIPPED),
        "The grip is changed on purpose by 15° between the second and the third swing.",
        plan={"regrip_at": 2},
    ),
    "swapped": Scenario(_five(st.HOLD), "Forearm and hand sensors exchanged.", quirks={"swapped": True}),
    "other-arm": Scenario(_five(st.HOLD), "Sensors on the trail arm.", quirks={"other_arm": True}),
    "palm-up": Scenario(_five(st.HOLD), "Palm up in the flat pose.", plan={"palm_up": True}),
    "lowered": Scenario(_five(st.HOLD), "Arm lowered instead of raised.", plan={"lowered": True}),
    "clip-reversed": Scenario(_five(st.HOLD), "Club clip upside down.", quirks={"clip_reversed": True}),
    "poses-too-close": Scenario(_five(st.HOLD), "Raised by 18° only.", plan={"raise_deg": 18.0}),
    "two-calibrations": Scenario(_five(st.HOLD), "Both poses held twice.", plan={"pairs": 2}),
    "stiff-forearm": Scenario(
        _five(st.HOLD), "Calibrated by movement: the forearm cannot lie palm down.", plan={"functional": True}
    ),
    "gaps": Scenario(_five(st.HOLD), "Short gaps in the log.", quirks={"gaps": "short"}),
    "long-gap": Scenario(_five(st.HOLD), "A gap of 0.3 s in the second downswing.", quirks={"gaps": "long"}),
    "free-pelvis": Scenario(_five(bd.with_body(bd.SKILLED)), "The pelvis turns freely going back."),
    "restrained-pelvis": Scenario(_five(bd.with_body(bd.RESTRAINED)), "The pelvis is held back going back."),
    "short-early-turn": Scenario(
        _five(bd.with_body(bd.SHORT_EARLY_TURN, path_deg=-6.0)), "Hardly turned at shaft level, then the arms lift."
    ),
    "slide": Scenario(_five(bd.with_body(bd.SLIDE_AWAY)), "The pelvis slides away from the target going back."),
    "pelvis-slide": Scenario(
        _five(bd.with_body(bd.PELVIS_SLIDE)), "The pelvis slides past the lead foot coming down and turns late."
    ),
    "early-extension": Scenario(
        _five(bd.with_body(bd.EARLY_EXTENSION)), "The pelvis moves toward the ball and loses its tilt coming down."
    ),
    "reverse-lean": Scenario(_five(bd.with_body(bd.REVERSE_LEAN)), "The spine leans toward the target at the top."),
    "standing-up": Scenario(_five(bd.with_body(bd.STANDING_UP)), "The posture straightens going back."),
    "dipping": Scenario(_five(bd.with_body(bd.DIPPING)), "The body dips toward the ground going back."),
    "out-of-sequence": Scenario(
        _five(bd.with_body(bd.OUT_OF_SEQUENCE)), "The upper body is fastest before the pelvis."
    ),
    "lead-leg-sag": Scenario(_five(bd.with_body(bd.LEG_SAG)), "The lead knee stays bent through the strike."),
    "open-at-address": Scenario(
        _five(bd.with_body(bd.OPEN_AT_ADDRESS, path_deg=-5.0)), "Pelvis and shoulders already open at address."
    ),
    "level-pelvis": Scenario(_five(bd.with_body(bd.LEVEL_PELVIS)), "The pelvis is hardly tilted at address."),
    "hands-out": Scenario(
        _five(bd.with_body(bd.SKILLED, takeaway_in_deg=12.0)), "The hands are pushed out in the takeaway."
    ),
    "face-open": Scenario(_five(bd.with_body(bd.SKILLED, face_top_deg=18.0)), "The face is open at the top."),
    "path-across": Scenario(_five(bd.with_body(bd.SKILLED, path_deg=-10.0)), "The club head comes across the ball."),
    "open-still": Scenario(
        (), "A still address, pelvis and shoulders open, no swing.", plan={"still": bd.with_body(bd.OPEN_AT_ADDRESS)}
    ),
    "markers-swapped": Scenario(
        _five(bd.with_body(bd.SKILLED)), "Two markers exchanged for a while.", marker_set={"swapped": ("LASI", "RASI")}
    ),
    "markers-flicker": Scenario(
        _five(bd.with_body(bd.SKILLED)), "A marker that jumps for single frames.", marker_set={"flicker": "C7"}
    ),
    "no-pelvis": Scenario(
        _five(bd.with_body(bd.SKILLED)), "A marker set without a back spine marker.", marker_set={"left_out": ("RPSI",)}
    ),
    "good-load": Scenario(_five(bd.with_body(bd.SKILLED)), "Loads the trail foot and comes back before the club."),
    "late-return": Scenario(_five(bd.with_body(bd.LATE_RETURN)), "Loads, but comes back with the club, not before it."),
    "no-load": Scenario(_five(bd.with_body(bd.NO_LOAD)), "Hardly any pressure goes to the trail foot."),
    "reverse-pressure": Scenario(
        _five(bd.with_body(bd.REVERSE_PRESSURE)), "Pressure comes back toward the middle by impact."
    ),
    "far-forward": Scenario(_five(bd.with_body(bd.FAR_FORWARD)), "Nearly all on the lead foot at impact."),
    "on-heels": Scenario(_five(bd.with_body(bd.ON_HEELS)), "Stands on the heels."),
    "on-heels-still": Scenario(
        (), "A still address on the heels, no swing.", plan={"still": bd.with_body(bd.ON_HEELS)}
    ),
    "sway-outside": Scenario(
        _five(bd.with_body(bd.SWAY_OUTSIDE)), "Slides away onto the outer edge of the trail foot."
    ),
    "own-clock": Scenario(
        _five(bd.with_body(bd.SKILLED)),
        "A mat with a clock of its own; a heel tap.",
        mat={"clock_s": 0.37},
        heel_tap=True,
    ),
    "own-clock-no-tap": Scenario(
        _five(bd.with_body(bd.SKILLED)), "A mat with a clock of its own, no heel tap.", mat={"clock_s": -0.52}
    ),
    "mat-jump": Scenario(
        _five(bd.with_body(bd.SKILLED)), "The mat's clock jumps by half a second.", mat={"jump_s": 20.0}
    ),
    "mat-low": Scenario(_five(bd.with_body(bd.SKILLED)), "A mat that saturates early.", mat={"limit_kpa": 60.0}),
    "mat-saturated": Scenario(
        _five(bd.with_body(bd.SKILLED)), "A mat that saturates everywhere.", mat={"limit_kpa": 8.0}
    ),
    "mat-empty": Scenario(_five(bd.with_body(bd.SKILLED)), "Nobody on the mat.", mat={"empty": True}),
    "one-foot": Scenario(
        _five(bd.with_body(bd.SKILLED)), "The trail foot stands beside the mat.", mat={"one_foot": True}
    ),
    "off-the-mat": Scenario(
        _five(bd.with_body(bd.SKILLED)), "The toes stand over the mat's edge.", mat={"origin_m": (-0.22, -0.35)}
    ),
    "pitch": Scenario(_five(skilled_style("pitch")), "A skilled pitch: arms about level.", shot=Shot.PITCH),
    "chip": Scenario(
        _five(skilled_style("chip")), "A skilled chip: shaft about level, hardly any hinge.", shot=Shot.CHIP
    ),
    "bunker": Scenario(_five(skilled_style("bunker")), "A skilled bunker shot, stood open to.", shot=Shot.BUNKER),
    "clipping": Scenario(_five(st.HOLD), "Gyroscopes that saturate.", quirks={"gyro_range_deg_s": 1000.0}),
}


@dataclass(frozen=True)
class Recording:
    """Sensor logs of a scenario and its truth; windows as a bundle names them."""

    streams: list[ImuStream]
    truth: TrueSession
    hand: Hand
    swings: list[tuple[float, float]]
    marker_set: MarkerLog | None = None
    body: WholeBody | None = None
    mat: MatLog | None = None
    ground: Ground | None = None
    shot: Shot = Shot.FULL


SENSORS = {
    "wrist": (Segment.LEAD_FOREARM, Segment.LEAD_HAND),
    "upper-arm": (Segment.LEAD_UPPER_ARM,),
    "club": (Segment.CLUB,),
    "body": (Segment.PELVIS, Segment.THORAX, Segment.HEAD),
    "markers": (),
    "pressure": (),
}


def scenario(name: str) -> Scenario:
    """A scenario by name; raises ``UnknownScenario`` with the nearest."""
    if name not in SCENARIOS:
        raise UnknownScenario(name, tuple(SCENARIOS))
    return SCENARIOS[name]


def play(
    name: str,
    seed: int,
    *,
    sources: Sequence[str] = ("wrist",),
    hand: Hand = Hand.RIGHT,
    exact_poses: bool = False,
    height_m: float = 1.78,
) -> Recording:
    """Play a named scenario. The same name, seed and sources give the same recording."""
    story = scenario(name)
    if exact_poses:
        story = replace(story, poses=PoseErrors())
    return play_story(story, seed, sources=sources, hand=hand, height_m=height_m)


def play_story(
    story: Scenario,
    seed: int,
    *,
    sources: Sequence[str] = ("wrist",),
    hand: Hand = Hand.RIGHT,
    height_m: float = 1.78,
) -> Recording:
    """Play a story given as such."""
    rng, body_rng = np.random.default_rng(seed), np.random.default_rng(seed + 2)
    swings = [s.scattered(rng, story.scatter, body_rng) for s in story.styles]
    twist = float(rng.uniform(-2.5, 2.5))
    plan = SessionPlan(swings, story.poses, twist_rest_deg=twist, height_m=height_m, **story.plan)  # type: ignore[arg-type]
    if "body" in sources or "markers" in sources:
        plan = replace(plan, body=True)
    if "upper-arm" in sources:
        plan = replace(plan, lifted=True)
    truth = perform(plan, rng)
    tap_s = round(truth.swings[0].start_s - 0.5, 3) if story.heel_tap and truth.swings else None
    segments = tuple(segment for source in sources for segment in SENSORS.get(source, ()))
    quirks = replace(_quirks(story, truth), tap_s=tap_s)
    logs = record(truth, segments, quirks, np.random.default_rng(seed + 1))
    if hand is Hand.LEFT:
        logs = [s.mirrored() for s in logs]
    body = whole_body(truth) if {"markers", "pressure"} & set(sources) else None
    marker_set = None
    if body is not None and "markers" in sources:
        marker_set = marker_log(truth, body, MarkerQuirks(**story.marker_set), np.random.default_rng(seed + 3), hand)  # type: ignore[arg-type]
    windows = [(round(s.start_s, 3), round(s.end_s, 3)) for s in truth.swings]
    ground = ground_of(truth, body, height_m) if body is not None and "pressure" in sources else None
    mat = None
    if ground is not None:
        mat_quirks = MatQuirks(**{**story.mat, "tap_s": tap_s})  # type: ignore[arg-type]
        mat = mat_log(ground, STEP_S, mat_quirks, np.random.default_rng(seed + 4))
    return Recording(logs, truth, hand, windows, marker_set, body, mat, ground, story.shot)


def _quirks(story: Scenario, truth: TrueSession) -> SensorQuirks:
    given = dict(story.quirks)
    after = given.pop("slip_after", None)
    if isinstance(after, int):
        axis = given.pop("slip_axis", None)
        given["slip"] = Slip(Segment.LEAD_HAND, truth.swings[after - 1].end_s + 1.0, axis=axis)  # type: ignore[arg-type]
    gaps = given.pop("gaps", None)
    if gaps == "short":
        given["gaps"] = tuple((s.times_s["top"] - 0.3, s.times_s["top"] - 0.27) for s in truth.swings)
    elif gaps == "long":
        second = truth.swings[1].times_s
        given["gaps"] = ((second["top"] + 0.02, second["top"] + 0.32),)
    return replace(SensorQuirks(), **given)  # type: ignore[arg-type]
