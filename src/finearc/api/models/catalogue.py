"""What the interface draws from: metrics, clubs, schools, findings."""

from __future__ import annotations

from pydantic import BaseModel


class MetricInfo(BaseModel):
    id: str
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
    needs: str


class ClubInfo(BaseModel):
    id: str
    label: str


class SchoolOptionInfo(BaseModel):
    id: str
    label: str
    explained: str


class SchoolInfo(BaseModel):
    axis: str
    label: str
    options: list[SchoolOptionInfo]


class FindingInfo(BaseModel):
    id: str
    label: str
    plain_label: str
    phase: str
    tends: str
    note: str
    drills: list[str]
    metric: str
    event: str


class DrillInfo(BaseModel):
    id: str
    label: str
    how: str
    feel: str
    caution: str


class ScenarioInfo(BaseModel):
    id: str
    about: str


class Catalogue(BaseModel):
    metrics: list[MetricInfo]
    clubs: list[ClubInfo]
    schools: list[SchoolInfo]
    findings: list[FindingInfo]
    drills: list[DrillInfo]
    scenarios: list[ScenarioInfo]
    benchmarks: str
    engine: str
