"""A putt: what the wrists add to it, the putter, and the putter against a free pendulum."""

from __future__ import annotations

from dataclasses import dataclass, replace

from finearc.core.metrics.definition import Chart, Drawing, Family, Metric, Source, Unit, any_of
from finearc.core.metrics.families.wrist import HAND_ROLL, LEAD_WRIST_DEVIATION, LEAD_WRIST_EXTENSION

STROKE = "takeaway..impact"
"""The moment of a figure of the whole stroke."""
_LEAD = "a forearm and a hand sensor on the lead arm"
_TRAIL = "a forearm and a hand sensor on the trail arm"
_PUTTER = "putter markers"
_FACE = "putter markers, the one in front of the face among them"
_BOTH = any_of(Source.MARKERS, Source.PUTTER)


def _wrist(key: str, label: str, plain: str, unit: Unit, words: tuple[str, str, str, str], **more: object) -> Metric:
    about = {"needs": _LEAD, "givers": any_of(Source.WRIST), "decimals": 1} | more
    shown = LEAD_WRIST_DEVIATION if "deviation" in key else HAND_ROLL if "roll" in key else LEAD_WRIST_EXTENSION
    return Metric(
        id=f"putt_{key}",
        label=label,
        plain_label=plain,
        unit=unit,
        family=Family.PUTTING,
        positive=words[0],
        negative=words[1],
        plain_positive=words[2],
        plain_negative=words[3],
        shown=lambda: shown,
        trained=False,
        **about,  # type: ignore[arg-type]
    )


def _putter(
    key: str,
    label: str,
    plain: str,
    unit: Unit,
    words: tuple[str, str],
    explained: str,
    definition: str,
    **more: object,
) -> Metric:
    about = {"needs": _PUTTER, "givers": any_of(Source.MARKERS), "decimals": 1, "shown": lambda: PUTTER_FACE} | more
    return Metric(
        id=key,
        label=label,
        plain_label=plain,
        unit=unit,
        family=Family.PUTTING,
        positive=words[0],
        negative=words[1],
        plain_positive=words[0],
        plain_negative=words[1],
        explained=explained,
        definition=definition,
        trained=False,
        **about,  # type: ignore[arg-type]
    )


_EXT = ("extended", "flexed", "cupped", "bowed")
_DEV = ("radial", "ulnar", "hinged", "unhinged")
_ROLL = ("closing", "opening", "rolled closed", "rolled open")
_WIDE = ("in all",) * 4
_NONE = ("", "", "", "")
_AFTER = ("after takeaway", "before takeaway", "after the start", "before the start")

EXTENSION_RANGE = _wrist(
    "extension_range",
    "Extension range",
    "Cup, how far it went",
    Unit.DEG,
    _WIDE,
    explained="How far the wrist went between most extended and most flexed, from takeaway to impact.",
    definition="Maximum minus minimum of the extension relative to address, takeaway to impact, below 12 Hz.",
)
DEVIATION_RANGE = _wrist(
    "deviation_range",
    "Radial deviation range",
    "Hinge, how far it went",
    Unit.DEG,
    _WIDE,
    explained="How far the wrist went between most radial and most ulnar, from takeaway to impact.",
    definition="Maximum minus minimum of the radial deviation relative to address, takeaway to impact, below 12 Hz.",
)
ROLL_RANGE = _wrist(
    "roll_range",
    "Hand rotation range",
    "Hand rotation, how far it went",
    Unit.DEG,
    _WIDE,
    explained="How far the hand turned about its own long axis, from takeaway to impact.",
    definition="Maximum minus minimum of the hand roll relative to address, takeaway to impact, below 12 Hz.",
)
EXTENSION_AT = _wrist(
    "extension_at",
    "Extension from address",
    "Cup from the start",
    Unit.DEG,
    _EXT,
    explained="How much more extended or flexed the wrist is than it was at address.",
    definition="Extension minus its value at address, below 12 Hz; + extended.",
)
DEVIATION_AT = _wrist(
    "deviation_at",
    "Radial deviation from address",
    "Hinge from the start",
    Unit.DEG,
    _DEV,
    explained="How much more radial or ulnar the wrist is than it was at address.",
    definition="Radial deviation minus its value at address, below 12 Hz; + radial.",
)
ROLL_AT = _wrist(
    "roll_at",
    "Hand rotation from address",
    "Hand rotation from the start",
    Unit.DEG,
    _ROLL,
    explained="How far the hand has turned about its own long axis since address.",
    definition="Hand roll since address, below 12 Hz; + closing.",
)
EXTENSION_RATE = _wrist(
    "extension_rate",
    "Extension rate at the ball",
    "Cup, how fast at the ball",
    Unit.DEG_PER_S,
    _NONE,
    decimals=0,
    explained="How fast the wrist extends or flexes as the ball is struck.",
    definition="Mean size of the rate of the extension within 0.02 s of impact; the angle below 12 Hz, zero phase.",
)
DEVIATION_RATE = _wrist(
    "deviation_rate",
    "Radial deviation rate at the ball",
    "Hinge, how fast at the ball",
    Unit.DEG_PER_S,
    _NONE,
    decimals=0,
    explained="How fast the wrist goes radial or ulnar as the ball is struck.",
    definition="Mean size of the rate of the radial deviation within 0.02 s of impact; the angle below 12 Hz, zero phase.",
)
ROLL_RATE = _wrist(
    "roll_rate",
    "Hand rotation rate at the ball",
    "Hand rotation, how fast at the ball",
    Unit.DEG_PER_S,
    _NONE,
    decimals=0,
    explained="How fast the hand turns about its own long axis as the ball is struck.",
    definition="Mean size of the rate of the hand roll within 0.02 s of impact; the angle below 12 Hz, zero phase.",
)
_ONSET = (
    "First instant from takeaway at which its size exceeds the larger of 0.5° and five times its noise at address, and "
    "stays so for 50 ms; minus takeaway."
)
EXTENSION_ONSET = _wrist(
    "extension_onset",
    "Extension begins",
    "Cup begins",
    Unit.SECONDS,
    _AFTER,
    decimals=2,
    explained="When the wrist begins to extend or flex.",
    definition=_ONSET,
)
DEVIATION_ONSET = _wrist(
    "deviation_onset",
    "Radial deviation begins",
    "Hinge begins",
    Unit.SECONDS,
    _AFTER,
    decimals=2,
    explained="When the wrist begins to go radial or ulnar.",
    definition=_ONSET,
)
ROLL_ONSET = _wrist(
    "roll_onset",
    "Hand rotation begins",
    "Hand rotation begins",
    Unit.SECONDS,
    _AFTER,
    decimals=2,
    explained="When the hand begins to turn about its own long axis.",
    definition=_ONSET,
)
TRANSITION_SHARE = replace(
    _wrist(
        "transition_share",
        "Share in the transition",
        "Wrist motion in the transition",
        Unit.PERCENT,
        _NONE,
        decimals=0,
        explained="How much of all the wrist's motion falls within a tenth of a second of the transition.",
        definition=(
            "Of the path of extension and radial deviation from takeaway to impact the share within 0.1 s of the "
            "transition; each rate from the angle below 5 Hz, less its mean over the stillness before."
        ),
    ),
    id="transition_share",
)


@dataclass(frozen=True)
class WristMeasures:
    """The measures of one wrist; of the angles by name."""

    ranges: dict[str, Metric]
    at: dict[str, Metric]
    rates: dict[str, Metric]
    onsets: dict[str, Metric]
    share: Metric
    source: Source

    @property
    def all(self) -> tuple[Metric, ...]:
        return (*self.ranges.values(), *self.at.values(), *self.rates.values(), *self.onsets.values(), self.share)


def _by_angle(extension: Metric, deviation: Metric, roll: Metric) -> dict[str, Metric]:
    return {"extension": extension, "deviation": deviation, "roll": roll}


LEAD = WristMeasures(
    _by_angle(EXTENSION_RANGE, DEVIATION_RANGE, ROLL_RANGE),
    _by_angle(EXTENSION_AT, DEVIATION_AT, ROLL_AT),
    _by_angle(EXTENSION_RATE, DEVIATION_RATE, ROLL_RATE),
    _by_angle(EXTENSION_ONSET, DEVIATION_ONSET, ROLL_ONSET),
    TRANSITION_SHARE,
    Source.WRIST,
)


def _of_trail(metric: Metric) -> Metric:
    return replace(
        metric,
        id=f"trail_{metric.id}",
        label=f"Trail wrist: {metric.label[0].lower()}{metric.label[1:]}",
        plain_label=f"Trail wrist: {metric.plain_label[0].lower()}{metric.plain_label[1:]}",
        needs=_TRAIL,
        givers=any_of(Source.TRAIL_WRIST),
    )


def _all_of_trail(metrics: dict[str, Metric]) -> dict[str, Metric]:
    return {name: _of_trail(metric) for name, metric in metrics.items()}


TRAIL = WristMeasures(
    _all_of_trail(LEAD.ranges),
    _all_of_trail(LEAD.at),
    _all_of_trail(LEAD.rates),
    _all_of_trail(LEAD.onsets),
    _of_trail(TRANSITION_SHARE),
    Source.TRAIL_WRIST,
)

TRAIL_EXTENSION_RANGE = TRAIL.ranges["extension"]
TRAIL_DEVIATION_RANGE = TRAIL.ranges["deviation"]
TRAIL_ROLL_RANGE = TRAIL.ranges["roll"]
TRAIL_EXTENSION_AT = TRAIL.at["extension"]
TRAIL_DEVIATION_AT = TRAIL.at["deviation"]
TRAIL_ROLL_AT = TRAIL.at["roll"]
TRAIL_EXTENSION_RATE = TRAIL.rates["extension"]
TRAIL_DEVIATION_RATE = TRAIL.rates["deviation"]
TRAIL_ROLL_RATE = TRAIL.rates["roll"]
TRAIL_EXTENSION_ONSET = TRAIL.onsets["extension"]
TRAIL_DEVIATION_ONSET = TRAIL.onsets["deviation"]
TRAIL_ROLL_ONSET = TRAIL.onsets["roll"]
TRAIL_TRANSITION_SHARE = TRAIL.share

_ALONG, _OUT, _UP = ("ahead", "behind"), ("outside", "inside"), ("above", "below")
_OFF = "from where the free pendulum would have it."


def _off(point: str, name: str, plain: str, axis: str, words: tuple[str, str], way: str) -> Metric:
    return _putter(
        f"{point}_{axis}",
        f"{name}, {way}",
        f"{plain}, {way}",
        Unit.CM,
        words,
        f"How far {words[0]} or {words[1]} the {name.lower()} is {_OFF}",
        f"Measured minus free pendulum, {way}; + {words[0]}.",
    )


SWEET_SPOT_ALONG = _off("sweet_spot", "Sweet spot", "Putter head", "along", _ALONG, "along the line")
SWEET_SPOT_OUT = _off("sweet_spot", "Sweet spot", "Putter head", "out", _OUT, "in or out")
SWEET_SPOT_UP = _off("sweet_spot", "Sweet spot", "Putter head", "up", _UP, "up or down")
GRIP_END_ALONG = _off("grip_end", "Grip end", "Handle", "along", _ALONG, "along the line")
GRIP_END_OUT = _off("grip_end", "Grip end", "Handle", "out", _OUT, "in or out")
GRIP_END_UP = _off("grip_end", "Grip end", "Handle", "up", _UP, "up or down")
SWEET_SPOT_DEVIATION = _putter(
    "sweet_spot_deviation",
    "Sweet spot off the pendulum",
    "Putter head off the pendulum",
    Unit.CM,
    ("in all", "in all"),
    "How far the sweet spot is from the free pendulum's on the whole.",
    "Root mean square of the three distances from the free pendulum, takeaway to impact.",
)
GRIP_END_DEVIATION = _putter(
    "grip_end_deviation",
    "Grip end off the pendulum",
    "Handle off the pendulum",
    Unit.CM,
    ("in all", "in all"),
    "How far the grip end is from the free pendulum's on the whole.",
    "Root mean square of the three distances from the free pendulum, takeaway to impact.",
)
PUTTER_FACE = _putter(
    "putter_face",
    "Face aim",
    "Face aim",
    Unit.DEG,
    ("open", "closed"),
    "Where the putter's face looks against the target line.",
    "Heading of the face normal (the point before the face minus mid heel and toe) against the target line; + open.",
    needs=_FACE,
    givers=_BOTH,
    at_address=True,
    shown=Chart("Face", Drawing.TURN, zero=("square", "square")),
)
PUTTER_PATH = _putter(
    "putter_path",
    "Putter path",
    "Putter path",
    Unit.DEG,
    ("in to out", "out to in"),
    "Which way the head moves as it strikes the ball.",
    "Heading of the head's velocity at impact against the target line; + in to out.",
)
PUTTER_LOFT_CHANGE = _putter(
    "putter_loft_change",
    "Loft from address",
    "Loft from the start",
    Unit.DEG,
    ("more loft", "less loft"),
    "How much loft the shaft adds or takes away by leaning otherwise than at address.",
    "Lean of the shaft along the target line at impact minus at address; + the head farther ahead of the hands.",
    givers=_BOTH,
    needs="putter markers or a putter sensor",
)
PUTTER_ATTACK = _putter(
    "putter_attack",
    "Attack angle",
    "Up or down at the ball",
    Unit.DEG,
    ("up", "down"),
    "Whether the head goes up or down as it strikes the ball.",
    "Vertical angle of the head's velocity at impact; + up.",
)
HANDLE_LIFT = _putter(
    "handle_lift",
    "Handle lift",
    "Handle lift",
    Unit.CM,
    ("lifted", "lowered"),
    "How far the grip end has risen by the transition.",
    "Height of the grip end at the transition minus at address.",
    changes=("lifted", "lowered"),
)
PIVOT_HEIGHT = _putter(
    "pendulum_pivot_height",
    "Pivot height",
    "Pivot height",
    Unit.CM,
    ("above the ground", "below the ground"),
    "How high the point lies that the putter swings about.",
    "Height of the fitted pivot of the free pendulum in the bay.",
    decimals=0,
)
PUTT_DISTANCE = _putter(
    "putt_distance",
    "Distance",
    "Distance",
    Unit.M,
    ("", ""),
    "How far the putt is, as the instructor noted it.",
    "Noted with the putt.",
    needs="the distance, noted",
    givers=any_of(Source.NOTED),
)
FACE_GRIP_BIAS = _putter(
    "face_grip_bias",
    "Face against grip",
    "Face against grip",
    Unit.DEG,
    ("open", "closed"),
    "How far the face looks open or closed against the hands that hold it.",
    "Noted by the instructor: heading of the face against the lead hand's at address; + open.",
    needs="the instructor's note",
    givers=any_of(Source.NOTED),
)

GROWTH_RATIO = _putter(
    "putt_growth_ratio",
    "Motion against its trend",
    "Motion against its trend",
    Unit.RATIO,
    ("times the trend", "times the trend"),
    "How many times the wrist moves what the other distances would lead one to expect at this one.",
    "Mean range over what a straight line through the other distances says, at the distance that stands off most.",
    needs="three distances of three putts each",
    givers=any_of((Source.WRIST, Source.NOTED)),
    shown=lambda: LEAD_WRIST_EXTENSION,
)

ALL: tuple[Metric, ...] = (
    *LEAD.all,
    *TRAIL.all,
    SWEET_SPOT_ALONG,
    SWEET_SPOT_OUT,
    SWEET_SPOT_UP,
    GRIP_END_ALONG,
    GRIP_END_OUT,
    GRIP_END_UP,
    SWEET_SPOT_DEVIATION,
    GRIP_END_DEVIATION,
    PUTTER_FACE,
    PUTTER_PATH,
    PUTTER_LOFT_CHANGE,
    PUTTER_ATTACK,
    HANDLE_LIFT,
    PIVOT_HEIGHT,
    PUTT_DISTANCE,
    FACE_GRIP_BIAS,
    GROWTH_RATIO,
)
