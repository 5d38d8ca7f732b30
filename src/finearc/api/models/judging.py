"""Benchmarks, schools, cohorts, references, an academy's own findings and drills."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.services.lesson.documents import ProposalOut
from finearc.services.lesson.ids import FindingId, MetricId, MomentId

Share = Literal["middle", "most", "nearly_all"]


class VersionOut(BaseModel):
    """A version of the ranges. ``built_in`` ones are not changed."""

    label: str
    name: str
    number: int
    built_in: bool
    in_use: bool
    retired: bool
    based_on: str
    note: str
    made_by: str
    made_at: datetime | None
    ranges: int


class RangeOut(BaseModel):
    """A range as it is read on the screen; numbers in the metric's own unit. ``place``: the checkpoint where its value
    is complete, empty for one of the whole swing; ``change``: from an earlier one to it."""

    id: str
    metric: MetricId
    label: str
    family: str
    moment: str
    moment_id: str
    place: str
    change: bool
    club_class: str
    shot: str
    school: str
    population: str
    low: float | None
    high: float | None
    soft_low: float
    soft_high: float
    scale: float | None
    unit: str
    ways: str
    words: str
    leans: str
    provenance: str
    note: str
    synthetic: bool


class FactOut(BaseModel):
    id: str
    about: str
    says: str
    provenance: str


class RangesOut(BaseModel):
    version: VersionOut
    ranges: list[RangeOut]
    facts: list[FactOut]


class RangeBeside(BaseModel):
    """Of each skilled and of each own player the middle of their swings, in the range's unit."""

    id: str
    skilled: list[float]
    own: list[float]


class RangesBeside(BaseModel):
    """The ranges that speak of a club, beside what was measured with it. ``synthetic``: the skilled are the golfer
    model's."""

    rows: list[RangeBeside]
    synthetic: bool
    own: int


class RangeChange(In):
    """New limits of one range, in the metric's own unit; ``lean`` keeps what it asks beside them of another value;
    ``retire`` takes it out."""

    id: str
    low: float | None = None
    high: float | None = None
    soft_low: float = Field(default=0.0, ge=0)
    soft_high: float = Field(default=0.0, ge=0)
    note: str | None = Field(default=None, max_length=1000)
    lean: bool = True
    retire: bool = False


class SaveVersionIn(In):
    """Save changes of ``base`` as the next version of ``name``."""

    name: str = Field(min_length=1, max_length=60)
    base: str
    changes: list[RangeChange] = Field(default_factory=list, max_length=500)
    note: str = Field(default="", max_length=2000)


class LabelIn(In):
    label: str = Field(max_length=120)


class RetireIn(LabelIn):
    back: bool = False


class EntryChange(BaseModel):
    """A range that differs between two versions."""

    id: str
    label: str
    before: str
    after: str


class CohortIn(In):
    club: str = "7-iron"
    players: list[UUID] = Field(default_factory=list, max_length=500)
    tag: str = Field(default="", max_length=60)
    synthetic: bool = False
    share: Share = "most"
    base: str = ""


class CohortPlayer(BaseModel):
    id: UUID
    name: str
    swings: int


class CohortRow(BaseModel):
    """A range as the chosen swings would make it, beside the one in force; ``values`` (one of each swing, of very many
    some) and the limits in the metric's own unit, those in force absent where they are told from another value."""

    id: str
    label: str
    moment: str
    school: str
    swings: int
    players: int
    centre: str
    spread: str
    made: str
    now: str
    warning: str
    outliers: list[str]
    values: list[float]
    made_low: float | None
    made_high: float | None
    now_low: float | None
    now_high: float | None


class CohortOut(BaseModel):
    swings: int
    players: list[CohortPlayer]
    tags: list[str]
    rows: list[CohortRow]
    warning: str
    synthetic: bool


class CohortSaveIn(CohortIn):
    name: str = Field(min_length=1, max_length=60)
    leave_out: list[str] = Field(default_factory=list, max_length=500)
    note: str = Field(default="", max_length=2000)


class ReferenceOut(BaseModel):
    id: str
    name: str
    form: Literal["swing", "mean", "best"]
    club: str
    swings: int
    players: int
    synthetic: bool
    player_id: UUID | None
    made_by: str
    warning: str


class ReferenceIn(In):
    name: str = Field(default="", max_length=120)
    form: Literal["swing", "mean", "best"]
    swing_ids: list[UUID] = Field(min_length=1, max_length=500)


class CohortReferenceIn(CohortIn):
    name: str = Field(min_length=1, max_length=120)


class WhatIfIn(In):
    """Other schools (axis to option) or another version of the ranges."""

    schools: dict[str, str] = Field(default_factory=dict)
    benchmarks: str = Field(default="", max_length=120)
    club: str = ""


class VerdictChangeOut(BaseModel):
    label: str
    plain_label: str
    moment: str
    swings: int
    of: int
    before: str
    after: str
    because: str


class FindingBrief(BaseModel):
    finding: FindingId
    label: str
    plain_label: str


class WhatIfOut(BaseModel):
    nothing: bool
    counting: int
    verdicts: list[VerdictChangeOut]
    gone: list[FindingBrief]
    new: list[FindingBrief]
    before: list[ProposalOut]
    after: list[ProposalOut]
    versions: list[str]


class SchoolFitOut(BaseModel):
    """One option of a school with how far the player's values lie from its middle, in half-widths."""

    option: str
    label: str
    distance: float
    evidence: list[str]


class ClosestOut(BaseModel):
    axis: str
    label: str
    option: str | None
    sentence: str
    swings: int
    options: list[SchoolFitOut]


class ShownIn(In):
    """A measure at a moment beyond its band."""

    metric: MetricId
    moment: MomentId
    way: Literal["above", "below", "outside"]


class OwnFinding(In):
    """A finding as a screen asks for it."""

    label: str = Field(min_length=1, max_length=120)
    plain_label: str = Field(min_length=1, max_length=120)
    phase: Literal["setup", "takeaway", "top", "transition", "downswing", "impact"]
    level: Literal["body", "hands", "shaft", "face"]
    shown: list[ShownIn] = Field(max_length=6)
    together: Literal["all", "any"] = "all"
    says: str = Field(min_length=1, max_length=1000)
    player_says: str = Field(min_length=1, max_length=1000)
    tends: str = Field(min_length=1, max_length=1000)
    drills: list[str] = Field(default_factory=list, max_length=12)
    caution: str = Field(default="", max_length=1000)


class OwnFindingIn(OwnFinding):
    """``id`` empty for a new one; without ``shown`` the condition of the file stays."""

    id: str = Field(default="", max_length=60)
    revision: int


class OwnFindingOut(OwnFinding):
    """``shown`` is empty where the file's condition says more than a screen can ask for; ``examples`` in words."""

    id: str
    examples: list[str]


class OwnAsk(In):
    """A movement that a drill asks of the body; ``amount`` in degrees, none for as far as it goes."""

    area: str = Field(max_length=40)
    movement: str = Field(max_length=40)
    side: Literal["", "lead", "trail"] = ""
    amount: float | None = Field(default=None, gt=0, le=180)


class OwnBand(In):
    """The trainer band that goes with a drill, in the metric's unit, between two checkpoints; ``relative``: its limits
    are told from the value at address."""

    metric: MetricId
    start: str = Field(max_length=40)
    end: str = Field(max_length=40)
    low: float | None = None
    high: float | None = None
    relative: bool = False


class OwnDrill(In):
    """A drill as a screen asks for it."""

    label: str = Field(min_length=1, max_length=120)
    aim: str = Field(default="", max_length=1000)
    how: str = Field(min_length=1, max_length=2000)
    feel: str = Field(min_length=1, max_length=1000)
    equipment: str = Field(default="", max_length=200)
    dose: str = Field(default="", max_length=400)
    caution: str = Field(default="", max_length=1000)
    loads: list[str] = Field(default_factory=list, max_length=9)
    asks: list[OwnAsk] = Field(default_factory=list, max_length=6)
    band: OwnBand | None = None
    picture: str = Field(default="", max_length=60)


class OwnDrillIn(OwnDrill):
    """``id`` empty for a new one."""

    id: str = Field(default="", max_length=60)
    revision: int


class OwnDrillOut(OwnDrill):
    id: str


class AcademyRulesOut(BaseModel):
    """What the academy has chosen for itself."""

    revision: int
    schools: dict[str, str]
    schools_revision: str
    benchmarks: str
    findings: list[OwnFindingOut]
    drills: list[OwnDrillOut]
    worded_drills: list[str]


class SchoolsIn(In):
    schools: dict[str, str]


class DrillWordsIn(In):
    """Own wording of a drill; all empty goes back to the built-in one."""

    label: str = Field(default="", max_length=120)
    how: str = Field(default="", max_length=2000)
    feel: str = Field(default="", max_length=1000)
    revision: int
