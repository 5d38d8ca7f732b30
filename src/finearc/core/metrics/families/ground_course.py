"""Pressure over the whole swing: its peaks and when they come, its path, and how far it runs ahead of the body."""

from __future__ import annotations

from finearc.core.metrics.definition import Family, Metric, Source, Unit, any_of
from finearc.core.metrics.families.ground import AT_CHECKPOINTS, STANCE_POSITION

_MAT = "a pressure mat or force plates"
_FEET = "a pressure mat with both feet on it, or a force plate under each"
_CLUB = "a pressure mat and, for the club's checkpoints, a club, hand or marker source"
_BODY = "a pressure mat and body sensors or markers"

PEAK_TRAIL_SHARE = Metric(
    id="peak_trail_share",
    label="Peak trail share",
    plain_label="Most on the trail foot",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="on the trail foot",
    negative="on the trail foot",
    plain_positive="on the trail foot",
    plain_negative="on the trail foot",
    explained="The largest share of the force on the trail foot before impact.",
    definition="Largest trail share between address and impact.",
    needs=_FEET,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
PEAK_LEAD_SHARE = Metric(
    id="peak_lead_share",
    label="Peak lead share",
    plain_label="Most on the lead foot",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="on the lead foot",
    negative="on the lead foot",
    plain_positive="on the lead foot",
    plain_negative="on the lead foot",
    explained="The largest share of the force on the lead foot, from the trail peak to just after impact.",
    definition="Largest lead share between the trail peak and 0.3 s after impact.",
    needs=_FEET,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
TRAIL_PEAK_TIME = Metric(
    id="trail_peak_time",
    label="Trail peak",
    plain_label="Most on the trail foot, when",
    unit=Unit.SECONDS,
    family=Family.GROUND,
    positive="after it",
    negative="before it",
    plain_positive="after it",
    plain_negative="before it",
    explained="When most is on the trail foot, against the checkpoint it is read at.",
    definition="Instant of the largest trail share before impact minus that of the checkpoint.",
    needs=_CLUB,
    decimals=2,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
RETURN_TIME = Metric(
    id="return_time",
    label="Start of the return",
    plain_label="Pressure starts back",
    unit=Unit.SECONDS,
    family=Family.GROUND,
    positive="after it",
    negative="before it",
    plain_positive="after it",
    plain_negative="before it",
    explained="When the pressure starts back to the lead foot, against the checkpoint it is read at.",
    definition=(
        "Last instant before which the trail share stays within 2 % of its peak, minus that of the checkpoint."
    ),
    needs=_CLUB,
    decimals=2,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
EVEN_TIME = Metric(
    id="even_time",
    label="Even on both feet",
    plain_label="Even on both feet, when",
    unit=Unit.SECONDS,
    family=Family.GROUND,
    positive="after it",
    negative="before it",
    plain_positive="after it",
    plain_negative="before it",
    explained="When the pressure passes the middle on its way to the lead foot, against the checkpoint.",
    definition="Instant at which the lead share passes 50 % after the trail peak, minus that of the checkpoint.",
    needs=_CLUB,
    decimals=2,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
LEAD_PEAK_TIME = Metric(
    id="lead_peak_time",
    label="Lead peak",
    plain_label="Most on the lead foot, when",
    unit=Unit.SECONDS,
    family=Family.GROUND,
    positive="after it",
    negative="before it",
    plain_positive="after it",
    plain_negative="before it",
    explained="When most is on the lead foot, against the checkpoint.",
    definition="Instant of the peak lead share minus that of the checkpoint.",
    needs=_CLUB,
    decimals=2,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
TRAIL_PUSH_OFF = Metric(
    id="trail_push_off",
    label="Trail push-off",
    plain_label="Trail foot pushes off",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the weight let go",
    negative="of the weight taken on",
    plain_positive="of the weight let go",
    plain_negative="of the weight taken on",
    explained="How much force the trail foot loses through impact while the lead foot's share rises.",
    definition=(
        "Trail force 0.08 s before impact minus 0.04 s after it, over the standing weight; not more than nothing "
        "unless the lead share rises meanwhile."
    ),
    needs=_FEET,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
PRESSURE_PATH = Metric(
    id="pressure_path",
    label="Path of the pressure",
    plain_label="Way of the pressure",
    unit=Unit.CM,
    family=Family.GROUND,
    positive="long",
    negative="long",
    plain_positive="long",
    plain_negative="long",
    explained="How long the way of the pressure is from address to impact.",
    definition="Sum of the steps of the centre of pressure from address to impact, filtered at 20 Hz.",
    needs=_MAT,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
PRESSURE_PEAK_SPEED = Metric(
    id="pressure_peak_speed",
    label="Peak speed of the pressure",
    plain_label="Fastest move of the pressure",
    unit=Unit.CM_PER_S,
    family=Family.GROUND,
    positive="fast",
    negative="fast",
    plain_positive="fast",
    plain_negative="fast",
    explained="How fast the pressure moves at its fastest before impact.",
    definition="Largest speed of the centre of pressure between address and impact.",
    needs=_MAT,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
PRESSURE_ELLIPSE = Metric(
    id="pressure_ellipse",
    label="Spread of the pressure",
    plain_label="Spread of the pressure",
    unit=Unit.CM2,
    family=Family.GROUND,
    positive="wide",
    negative="wide",
    plain_positive="wide",
    plain_negative="wide",
    explained=(
        "The area that holds 95 % of the places of the pressure; at address it shows how still the player stands."
    ),
    definition=(
        "Area of the 95 % ellipse of the centre of pressure (Prieto et al. 1996, IEEE Trans Biomed Eng 43:956), "
        "over the last second of the address, and from address to impact."
    ),
    needs=_MAT,
    decimals=1,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
    at_address=True,
)
BALANCE_SPEED = Metric(
    id="balance_speed",
    label="Restlessness at address",
    plain_label="Restlessness at address",
    unit=Unit.CM_PER_S,
    family=Family.GROUND,
    positive="restless",
    negative="restless",
    plain_positive="restless",
    plain_negative="restless",
    explained="Mean speed of the pressure while the player stands at address.",
    definition="Mean speed of the centre of pressure over the last second of the address, filtered at 5 Hz (Prieto et al. 1996).",
    needs=_MAT,
    decimals=1,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
    at_address=True,
)
PRESSURE_BEFORE_SWAY = Metric(
    id="pressure_before_sway",
    label="Pressure before the pelvis",
    plain_label="Pressure before the hips",
    unit=Unit.SECONDS,
    family=Family.GROUND,
    positive="earlier than the pelvis",
    negative="later than the pelvis",
    plain_positive="earlier than the hips",
    plain_negative="later than the hips",
    explained="How much sooner the pressure moves than the pelvis sways.",
    definition="Time shift at which the rates of stance position and pelvis sway fit best from takeaway to impact.",
    needs=_BODY,
    decimals=2,
    givers=any_of(
        (Source.BODY, Source.MAT),
        (Source.BODY, Source.PLATES),
        (Source.MARKERS, Source.MAT),
        (Source.MARKERS, Source.PLATES),
    ),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
PRESSURE_BEFORE_TURN = Metric(
    id="pressure_before_turn",
    label="Pressure before the turn",
    plain_label="Pressure before the hips turn",
    unit=Unit.SECONDS,
    family=Family.GROUND,
    positive="earlier than the pelvis turns",
    negative="later than the pelvis turns",
    plain_positive="earlier than the hips turn",
    plain_negative="later than the hips turn",
    explained="How much sooner the pressure moves to and fro than the pelvis turns to and fro.",
    definition=(
        "Time shift at which the rates of stance position and of pelvis turn toward the target fit best from "
        "takeaway to impact."
    ),
    needs=_BODY,
    decimals=2,
    givers=any_of(
        (Source.BODY, Source.MAT),
        (Source.BODY, Source.PLATES),
        (Source.MARKERS, Source.MAT),
        (Source.MARKERS, Source.PLATES),
    ),
    shown=lambda: STANCE_POSITION,
    trained=False,
)

ALL = (
    *AT_CHECKPOINTS,
    PEAK_TRAIL_SHARE,
    PEAK_LEAD_SHARE,
    TRAIL_PEAK_TIME,
    RETURN_TIME,
    EVEN_TIME,
    LEAD_PEAK_TIME,
    TRAIL_PUSH_OFF,
    PRESSURE_PATH,
    PRESSURE_PEAK_SPEED,
    PRESSURE_ELLIPSE,
    BALANCE_SPEED,
    PRESSURE_BEFORE_SWAY,
    PRESSURE_BEFORE_TURN,
)
"""All metrics of the ground, in the order in which they are shown."""
