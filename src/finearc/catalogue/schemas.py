"""Shapes of the data files. Unknown keys are refused, with the nearest known name suggested."""

from __future__ import annotations

from difflib import get_close_matches
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator


class Strict(BaseModel):
    """Refuses unknown keys and suggests the nearest one."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _suggest(cls, data: Any) -> Any:
        if isinstance(data, dict):
            known = [f.alias or name for name, f in cls.model_fields.items()]
            for key in data:
                if key not in known:
                    near = get_close_matches(str(key), known, 1)
                    hint = f', did you mean "{near[0]}"?' if near else f"; known: {', '.join(known)}"
                    raise ValueError(f'unknown key "{key}"{hint}')
        return data


class RangeEntry(Strict):
    """One range in the metric's own unit."""

    id: str
    metric: str
    event: str
    club_class: str | None = None
    shot: Literal["full"] = "full"
    school: dict[str, str] | None = None
    population: str = "adult"
    low: float | None = None
    high: float | None = None
    soft_low: float = 0.0
    soft_high: float = 0.0
    relative_to: str | None = None
    low_offset: float | None = None
    high_offset: float | None = None
    low_share: float | None = None
    scale: float | None = None
    provenance: Literal["CP", "PUB", "MEM", "HOUSE", "CP/HOUSE", "PUB/MEM", "CP/MEM", "ACADEMY"]
    source: str = ""
    note: str = ""

    @model_validator(mode="after")
    def _sound(self) -> RangeEntry:
        low, high = self.low, self.high
        bound = (low, high, self.low_offset, self.high_offset, self.low_share)
        if all(v is None for v in bound):
            raise ValueError(f"range {self.id} has no limit at all")
        if low is not None and high is not None and low > high:
            raise ValueError(f"range {self.id}: low {low} is above high {high}")
        one_sided = (low is None and self.low_offset is None) or (high is None and self.high_offset is None)
        if one_sided and self.scale is None:
            raise ValueError(f"range {self.id} is one-sided and needs a scale")
        leans = (self.low_offset, self.high_offset, self.low_share)
        if any(v is not None for v in leans) and self.relative_to is None:
            raise ValueError(f"range {self.id} has an offset but no relative_to")
        return self


class RangeFile(Strict):
    """A benchmark library."""

    version: str
    range: list[RangeEntry]


class BeyondEntry(Strict):
    kind: Literal["above", "below", "outside"]
    ranges: list[str] = Field(min_length=1)
    strict: bool = False


class ValueEntry(Strict):
    kind: Literal["value_above", "value_below"]
    metric: str
    event: str
    limit: float
    half_width: float = 10.0


class CombineEntry(Strict):
    kind: Literal["all_of", "any_of"]
    of: list[ConditionEntry] = Field(min_length=1)


class NotEntry(Strict):
    kind: Literal["not"]
    of: ConditionEntry


ConditionEntry = Annotated[BeyondEntry | ValueEntry | CombineEntry | NotEntry, Field(discriminator="kind")]
CombineEntry.model_rebuild()
NotEntry.model_rebuild()


class ExampleEntry(Strict):
    values: dict[str, float]
    schools: dict[str, str] = {}
    fires: bool


class FindingEntry(Strict):
    id: str
    label: str
    plain_label: str
    phase: Literal["setup", "takeaway", "top", "transition", "downswing", "impact"]
    level: Literal["body", "hands", "shaft", "face"]
    weight: float
    when: ConditionEntry
    says: str
    player_says: str
    tends: str
    ball: list[str] = []
    may_cause: list[str] = []
    drills: list[str] = []
    caution: str = ""
    note: str = ""
    example: list[ExampleEntry] = Field(min_length=2)


class FindingFile(Strict):
    finding: list[FindingEntry]


class AskEntry(Strict):
    area: str
    movement: str


class DrillEntry(Strict):
    id: str
    label: str
    how: str
    feel: str
    caution: str = ""
    asks: list[AskEntry] = []


class DrillFile(Strict):
    drill: list[DrillEntry]


class SchoolOption(Strict):
    id: str
    label: str
    explained: str


class School(Strict):
    label: str
    options: list[SchoolOption] = Field(min_length=1)


class Club(Strict):
    label: str
    classes: list[str]
    lie_deg: float = Field(gt=45, lt=85)


class ClubFile(Strict):
    clubs: dict[str, Club]
