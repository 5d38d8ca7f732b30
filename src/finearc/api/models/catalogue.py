"""What the interface draws from: metrics, clubs, schools, findings."""

from __future__ import annotations

from pydantic import BaseModel

from finearc.services.lesson.ids import FindingId, MetricId, MomentId


class MetricInfo(BaseModel):
    """``shown_as``: the metric, or the group, in whose chart it is looked at; ``trained``: whether a drill can be about
    it."""

    id: MetricId
    label: str
    plain_label: str
    unit: str
    family: str
    positive: str
    negative: str
    plain_positive: str
    plain_negative: str
    explained: str
    decimals: int
    told_to: float | None
    needs: str
    shown_as: str
    trained: bool


class ClubInfo(BaseModel):
    id: str
    label: str


class SchoolOptionInfo(BaseModel):
    id: str
    label: str
    explained: str


class SchoolInfo(BaseModel):
    """``seen_by``: what must be worn or stood on for it to show; ``noun``: what an option's label is said with."""

    axis: str
    label: str
    seen_by: list[str]
    noun: str
    shot: str
    options: list[SchoolOptionInfo]


class FindingInfo(BaseModel):
    id: FindingId
    label: str
    plain_label: str
    phase: str
    tends: str
    note: str
    drills: list[str]
    metric: MetricId
    moment: MomentId
    own: bool


class DrillInfo(BaseModel):
    id: str
    label: str
    aim: str
    how: str
    feel: str
    equipment: str
    dose: str
    caution: str
    band: str
    plain_band: str
    picture: str
    own: bool


class ScenarioInfo(BaseModel):
    id: str
    label: str
    about: str
    putts: bool


class LimitArea(BaseModel):
    """An area of the body with the movements of it that can be limited."""

    area: str
    movements: list[str]
    sided: bool


class Catalogue(BaseModel):
    metrics: list[MetricInfo]
    clubs: list[ClubInfo]
    schools: list[SchoolInfo]
    findings: list[FindingInfo]
    drills: list[DrillInfo]
    scenarios: list[ScenarioInfo]
    limit_areas: list[LimitArea]
    benchmarks: str
    engine: str
