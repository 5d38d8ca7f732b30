"""Shapes of the data files. Unknown keys are refused, with the nearest known name suggested."""

from __future__ import annotations

from difflib import get_close_matches
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from finearc.catalogue.reason import LONGEST_TEXT, refuse_unreasonable
from finearc.catalogue.wording import harsh_word
from finearc.core.judging.words import BLANKS, blanks_in
from finearc.wording import worded

Shot = Literal["full", "pitch", "chip", "bunker", "putt"]


class Strict(BaseModel):
    """Refuses unknown keys and suggests the nearest one."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_max_length=LONGEST_TEXT)

    @model_validator(mode="after")
    def within_reason(self) -> Self:
        """Raises ``ValueError`` with the field."""
        for name in type(self).model_fields:
            refuse_unreasonable(name, getattr(self, name))
        return self

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
    shot: Shot = "full"
    school: dict[str, str] | None = None
    population: str = "adult"
    low: float | None = None
    high: float | None = None
    soft_low: float = Field(default=0.0, ge=0)
    soft_high: float = Field(default=0.0, ge=0)
    relative_to: str | None = None
    low_offset: float | None = None
    high_offset: float | None = None
    low_share: float | None = None
    scale: float | None = Field(default=None, gt=0)
    least_m: float | None = Field(default=None, ge=0)
    most_m: float | None = Field(default=None, gt=0)
    own_best: bool = False
    provenance: Literal["CP", "PUB", "MEM", "HOUSE", "CP/HOUSE", "PUB/MEM", "CP/MEM", "ACADEMY", "COHORT"]
    swings: int | None = Field(default=None, ge=1)
    players: int | None = Field(default=None, ge=1)
    synthetic: bool = False
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
        if any(v is not None for v in leans) and self.relative_to is None and not self.own_best:
            raise ValueError(f"range {self.id} has an offset but neither relative_to nor own_best")
        if self.own_best and self.low_offset is None and self.high_offset is None:
            raise ValueError(f"range {self.id} is relative to the player's own best and needs an offset")
        if self.least_m is not None and self.most_m is not None and self.least_m >= self.most_m:
            raise ValueError(f"range {self.id}: from {self.least_m} m is not below up to {self.most_m} m")
        if self.school is not None and len(self.school) != 1:
            raise ValueError(f"range {self.id}: one school at most")
        return self


class RangeFile(Strict):
    """A benchmark library."""

    version: str = Field(min_length=1, max_length=80)
    range: list[RangeEntry]

    @model_validator(mode="after")
    def _once(self) -> RangeFile:
        seen: set[str] = set()
        for entry in self.range:
            if entry.id in seen:
                raise ValueError(f"range {entry.id} stands twice")
            seen.add(entry.id)
        return self


class FactEntry(Strict):
    """A fact that is no range of one measured value: a rule of thumb, a sign rule, a band for training."""

    id: str
    about: str
    says: str
    provenance: Literal["CP", "PUB", "MEM", "HOUSE", "CP/HOUSE", "PUB/MEM", "CP/MEM"]
    source: str = ""


class FactFile(Strict):
    fact: list[FactEntry]


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


class UnseenEntry(Strict):
    kind: Literal["unseen"]
    metric: str
    event: str


class CombineEntry(Strict):
    kind: Literal["all_of", "any_of"]
    of: list[ConditionEntry] = Field(min_length=1)


class NotEntry(Strict):
    kind: Literal["not"]
    of: ConditionEntry


ConditionEntry = Annotated[
    BeyondEntry | ValueEntry | UnseenEntry | CombineEntry | NotEntry, Field(discriminator="kind")
]
CombineEntry.model_rebuild()
NotEntry.model_rebuild()


class ExampleEntry(Strict):
    """A swing's values by ``metric@moment``, in the metric's own unit, and whether the finding fires on them."""

    values: dict[str, float]
    schools: dict[str, str] = {}
    club: str = "7-iron"
    shot: Shot = "full"
    fires: bool


class FindingEntry(Strict):
    id: str = Field(min_length=1, max_length=60, pattern=r"^[a-z][a-z0-9_]*$")
    label: str = Field(min_length=1, max_length=120)
    plain_label: str = Field(min_length=1, max_length=120)
    shot: Shot = "full"
    phase: Literal["setup", "takeaway", "top", "transition", "downswing", "impact"]
    level: Literal["body", "hands", "shaft", "face"]
    weight: float = Field(gt=0, le=3)
    when: ConditionEntry
    says: str
    player_says: str
    tends: str
    ball: list[str] = []
    may_cause: list[str] = []
    drills: list[str] = []
    caution: str = ""
    note: str = ""
    setup_answer: bool = True
    firm_with: list[str] = []
    remark: bool = False
    example: list[ExampleEntry] = Field(min_length=2)

    @model_validator(mode="after")
    def _kind(self) -> FindingEntry:
        word = harsh_word(f"{self.plain_label} {self.player_says} {self.tends}")
        if word:
            raise ValueError(f'finding {self.id}: a player would read "{word}"; to the player a fault is a difference')
        if len({e.fires for e in self.example}) < 2:
            raise ValueError(f"finding {self.id}: give an example that fires and one that does not")
        try:
            unknown = blanks_in(self.says) - BLANKS
        except ValueError as error:
            raise ValueError(f"finding {self.id}: its sentence cannot be filled: {error}") from None
        if unknown:
            raise ValueError(f"finding {self.id}: its sentence can be filled with {', '.join(sorted(BLANKS))} only")
        return self


class FindingFile(Strict):
    finding: list[FindingEntry]


class AcademyRulesFile(Strict):
    """An academy's own findings and drills."""

    finding: list[FindingEntry] = []
    drill: list[DrillEntry] = []


class AskEntry(Strict):
    area: str
    movement: str
    amount: float | None = Field(default=None, gt=0)
    side: Literal["", "lead", "trail"] = ""


class BandEntry(Strict):
    """A band of live feedback in the metric's own unit, between two checkpoints; ``relative``: its limits are told from
    the value at address."""

    metric: str
    start: str
    end: str
    low: float | None = None
    high: float | None = None
    relative: bool = False

    @model_validator(mode="after")
    def _sound(self) -> BandEntry:
        if self.low is None and self.high is None:
            raise ValueError("a trainer band needs a low or a high limit")
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError(f"trainer band: low {self.low} is not below high {self.high}")
        return self


class DrillEntry(Strict):
    id: str = Field(min_length=1, max_length=60)
    label: str = Field(min_length=1, max_length=120)
    aim: str = ""
    how: str = Field(min_length=1)
    feel: str = Field(min_length=1)
    equipment: str = ""
    dose: str = ""
    caution: str = ""
    loads: list[Literal["back", "neck", "shoulder", "elbow", "forearm", "wrist", "hip", "knee", "ankle"]] = []
    asks: list[AskEntry] = []
    band: BandEntry | None = None
    picture: str = ""


class DrillFile(Strict):
    drill: list[DrillEntry]


class TouchEntry(Strict):
    """A value that asks for more of a movement when it lies outside its range on this side."""

    area: str
    movement: str
    metric: str
    event: str
    side: Literal["low", "high"]
    body_side: Literal["", "lead", "trail"] = ""


class AreaEntry(Strict):
    """An area of the body, the movements of it that can be limited, and whether there are two of it."""

    area: str
    movements: list[str] = Field(min_length=1)
    sided: bool


class TouchFile(Strict):
    touch: list[TouchEntry]
    area: list[AreaEntry]


class MatchedEntry(Strict):
    id: str
    label: str
    when: ConditionEntry
    says: str
    player_says: str
    involves: list[str] = Field(min_length=1)
    example: list[ExampleEntry] = Field(min_length=2)


class MatchedFile(Strict):
    matched: list[MatchedEntry]


@worded("label", "plain_label", "asks", "left")
class PieceEntry(Strict):
    """A piece of what hangs together in a putt: what changing it ``asks`` of the others, what it tends to do where it
    is ``left`` while another is changed, and the ``drills`` that change it."""

    id: str
    label: str
    plain_label: str
    asks: str
    left: str
    drills: list[str]


class PieceFile(Strict):
    piece: list[PieceEntry]


@worded("label", "explained")
class SchoolOption(Strict):
    id: str
    label: str
    explained: str


@worded("label", "noun")
class School(Strict):
    """One question on which practitioners disagree. ``seen_by``: what must be worn or stood on for it to show, any of
    these; ``noun``: what an option's label is said with; ``shot``: the kind of shot it is about."""

    label: str
    seen_by: list[str] = Field(min_length=1)
    noun: str = ""
    shot: Shot = "full"
    options: list[SchoolOption] = Field(min_length=2)

    @model_validator(mode="after")
    def _once(self) -> School:
        ids = [o.id for o in self.options]
        if len(set(ids)) < len(ids):
            raise ValueError(f'an option of "{self.label}" stands twice')
        return self


@worded("label")
class Club(Strict):
    label: str
    classes: list[str]
    lie_deg: float = Field(gt=45, lt=85)


class ClubFile(Strict):
    clubs: dict[str, Club]
