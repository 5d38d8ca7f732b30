"""Ground: what a pressure mat, or force plates, give."""

from __future__ import annotations

from finearc.core.metrics.definition import Chart, Drawing, Family, Metric, Source, Unit, any_of

MAT_NEEDED = "a pressure mat or force plates"
FEET_NEEDED = "a pressure mat with both feet on it, or a force plate under each"
_SOLES = "a pressure mat with both feet wholly on it: force plates do not see the soles"

LEAD_SHARE = Metric(
    id="lead_share",
    label="Lead share",
    plain_label="Weight on the lead foot",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="on the lead foot",
    negative="on the lead foot",
    plain_positive="on the lead foot",
    plain_negative="on the lead foot",
    explained="How much of the whole force is on the lead foot.",
    definition="Force on the lead foot over the force on both.",
    needs=FEET_NEEDED,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
    at_address=True,
)
STANCE_POSITION: Metric = Metric(
    id="stance_position",
    label="Stance position",
    plain_label="Pressure between the feet",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the way to the lead foot",
    negative="of the way to the lead foot",
    plain_positive="of the way to the lead foot",
    plain_negative="of the way to the lead foot",
    explained="Where the pressure is between the feet: 0 the trail foot, 100 the lead foot.",
    definition=(
        "Centre of pressure on the line between the middles of both feet, 0 trail, 100 lead (Ball & Best 2007, J "
        "Sports Sci 25:757)."
    ),
    needs=FEET_NEEDED,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=Chart("Between the feet", Drawing.FEET),
    trained=True,
    at_address=True,
)
LEAD_HEEL_TOE = Metric(
    id="lead_heel_toe",
    label="Lead heel to toe",
    plain_label="Lead foot, heel to toe",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the way to the toes",
    negative="of the way to the toes",
    plain_positive="of the way to the toes",
    plain_negative="of the way to the toes",
    explained="Where the pressure is along the lead foot: 0 the heel, 100 the toes.",
    definition="Centre of pressure of the lead foot along its long axis, 0 heel, 100 toe.",
    needs=_SOLES,
    givers=any_of(Source.MAT),
    shown=Chart("Heel to toe", Drawing.FEET),
    trained=True,
    at_address=True,
)
TRAIL_HEEL_TOE = Metric(
    id="trail_heel_toe",
    label="Trail heel to toe",
    plain_label="Trail foot, heel to toe",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the way to the toes",
    negative="of the way to the toes",
    plain_positive="of the way to the toes",
    plain_negative="of the way to the toes",
    explained="Where the pressure is along the trail foot: 0 the heel, 100 the toes.",
    definition="Centre of pressure of the trail foot along its long axis, 0 heel, 100 toe.",
    needs=_SOLES,
    givers=any_of(Source.MAT),
    shown=lambda: LEAD_HEEL_TOE,
    trained=False,
    at_address=True,
)
VERTICAL_FORCE = Metric(
    id="vertical_force",
    label="Vertical force",
    plain_label="Push on the ground",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the standing weight",
    negative="of the standing weight",
    plain_positive="of the standing weight",
    plain_negative="of the standing weight",
    explained="The whole force on the ground against the weight at address.",
    definition="Force on both feet over its mean at address.",
    needs=MAT_NEEDED,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=Chart("Push", Drawing.FEET),
    trained=True,
)
LEAD_FORCE = Metric(
    id="lead_force",
    label="Lead foot force",
    plain_label="Push of the lead foot",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the standing weight",
    negative="of the standing weight",
    plain_positive="of the standing weight",
    plain_negative="of the standing weight",
    explained="Force of the lead foot against the whole weight at address.",
    definition="Force on the lead foot over the mean force on both at address.",
    needs=FEET_NEEDED,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: VERTICAL_FORCE,
    trained=False,
)
TRAIL_FORCE = Metric(
    id="trail_force",
    label="Trail foot force",
    plain_label="Push of the trail foot",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the standing weight",
    negative="of the standing weight",
    plain_positive="of the standing weight",
    plain_negative="of the standing weight",
    explained="Force of the trail foot against the whole weight at address.",
    definition="Force on the trail foot over the mean force on both at address.",
    needs=FEET_NEEDED,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: VERTICAL_FORCE,
    trained=False,
)
PRESSURE_SWAY = Metric(
    id="pressure_sway",
    label="Sway on the mat",
    plain_label="Sway of the pressure",
    unit=Unit.CM,
    family=Family.GROUND,
    positive="toward target",
    negative="away from target",
    plain_positive="toward the target",
    plain_negative="away from the target",
    explained="How far the pressure has moved along the target line since address.",
    definition="Displacement of the centre of pressure of both feet along the target line from address.",
    needs=MAT_NEEDED,
    decimals=1,
    givers=any_of(Source.MAT, Source.PLATES),
    shown=lambda: STANCE_POSITION,
    trained=False,
)
TRAIL_FOOT_EDGE = Metric(
    id="trail_foot_edge",
    label="Trail foot, inside to outside",
    plain_label="Trail foot, inside to outside",
    unit=Unit.PERCENT,
    family=Family.GROUND,
    positive="of the way to the outer edge",
    negative="of the way to the outer edge",
    plain_positive="of the way to the outer edge",
    plain_negative="of the way to the outer edge",
    explained=(
        "Where the pressure is across the trail foot: 0 its inner edge, 100 its outer edge. Beyond about 75 the "
        "player sways onto the outside of the foot."
    ),
    definition="Centre of pressure of the trail foot across its width, 0 inner, 100 outer edge.",
    needs=_SOLES,
    givers=any_of(Source.MAT),
    shown=lambda: STANCE_POSITION,
    trained=False,
)

AT_CHECKPOINTS = (
    LEAD_SHARE,
    STANCE_POSITION,
    LEAD_HEEL_TOE,
    TRAIL_HEEL_TOE,
    VERTICAL_FORCE,
    LEAD_FORCE,
    TRAIL_FORCE,
    PRESSURE_SWAY,
    TRAIL_FOOT_EDGE,
)
