"""What is said of a lesson and its swings, as documents: kept as JSON where they are kept, and sent as they are."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from finearc.services.lesson.ids import FindingId, MetricId, MomentId
from finearc.wording.manner import PLAIN

Verdict = Literal["in_range", "edge_low", "edge_high", "low", "high", "not_judged"]


def absent() -> Any:
    """A field that is left out where it is None: most values of a swing have none of these."""
    return Field(default=None, exclude_if=lambda value: value is None)


class OtherValueOut(BaseModel):
    """The same value as a less certain source saw it."""

    source: str
    value: float
    uncertainty: float
    words: str
    plain_words: str


class BandOut(BaseModel):
    """The limits a value was judged by, in the metric's own unit and in words; ``by``: where they come from."""

    range_id: str
    low: float | None
    high: float | None
    words: str
    plain_words: str
    by: str


class MetricValue(BaseModel):
    """A value in its metric's own unit (which the catalogue names). ``plain_words`` only where they differ from
    ``words``; ``reason``: why it is not judged, left out where simply no range is set for it."""

    metric: MetricId
    moment: MomentId
    value: float
    uncertainty: float
    verdict: Verdict
    words: str
    source: str
    plain_words: str | None = absent()
    band: BandOut | None = absent()
    reason: str | None = absent()
    note: str | None = absent()
    not_judged_reason: str | None = absent()
    others: list[OtherValueOut] | None = absent()


class LimitsOut(BaseModel):
    """The limits a value was judged by, in the metric's own unit; ``by``: where they come from."""

    range_id: str
    low: float | None
    high: float | None
    by: str


class JudgedOut(BaseModel):
    """What is said of a value beside its number, which stands in the table of values."""

    metric: MetricId
    moment: MomentId
    verdict: Verdict
    words: str
    plain_words: str | None = absent()
    band: LimitsOut | None = absent()
    reason: str | None = absent()
    not_judged_reason: str | None = absent()


class SeenOut(BaseModel):
    """Values at the checkpoints in their order, a putt's transition last, and their standard uncertainties; None where
    there is none, empty where there is none at any."""

    at: list[float | None]
    sd: list[float | None]


class ValuesOut(SeenOut):
    """All values of one metric in a swing, in its own unit: at the checkpoints, at other moments (value and
    uncertainty), and at the checkpoints as less certain sources saw them."""

    source: str
    other: dict[str, list[float]] = {}
    seen: dict[str, SeenOut] = {}


class EvidenceOut(BaseModel):
    metric: MetricId
    moment: MomentId
    sentence: str
    plain_sentence: str


class TargetOut(BaseModel):
    """What the retest looks at: a value, its band and how it stood, in words."""

    metric: MetricId
    moment: MomentId
    sentence: str
    plain_sentence: str


class FindingOut(BaseModel):
    finding: FindingId
    label: str
    plain_label: str
    phase: str
    status: Literal["hint", "finding"]
    role: Literal["root", "explained"]
    explained_by: str | None
    severity: float
    confidence: float
    shown: int
    assessed: int
    says: str
    plain_says: str
    player_says: str
    tends: str
    note: str
    fits: list[str]
    caution: str
    own: bool
    target: TargetOut | None
    metric: MetricId
    moment: MomentId
    evidence: list[EvidenceOut]
    drills: list[str]


class NotAssessedOut(BaseModel):
    finding: FindingId
    label: str
    reason: str


class Headline(BaseModel):
    """The one sentence of a swing, in standard and plain words."""

    text: str
    plain_text: str
    tends: str
    player_text: str
    finding: FindingId | None
    metric: MetricId
    moment: MomentId


class PowerOut(BaseModel):
    """One source of power: what was measured of it, or why it was not."""

    kind: Literal["lateral", "rotational", "vertical"]
    label: str
    says: list[str]
    missing: str | None


class SetupOut(BaseModel):
    """One question, one answer, one instruction."""

    question: str
    answer: str
    plain_answer: str
    instruction: str
    good: bool
    metric: MetricId
    values: list[MetricValue]


class WithheldOut(BaseModel):
    drill: str
    label: str
    reason: str


class ProposalOut(BaseModel):
    """A proposed priority. ``why`` in two sentences; ``rule`` decided against ``over``; ``explains`` what may go with
    it; ``contradiction`` where the ball flies the other way; ``matched``: change both or neither."""

    finding: FindingId
    label: str
    plain_label: str
    why: str
    plain_why: str
    rule: str
    over: str | None
    explains: list[str]
    drills: list[str]
    withheld: list[WithheldOut]
    contradiction: str
    matched: list[str]
    caution: str


class NodeOut(BaseModel):
    """A finding in the drawing of causes, ``layer`` counted from its root."""

    finding: FindingId
    label: str
    plain_label: str
    layer: int
    root: str
    explained_by: str | None
    status: Literal["hint", "finding"]
    strength: Literal["slight", "clear", "strong"]
    shown: int
    assessed: int


class MatchedOut(BaseModel):
    """Two things that offset each other: change both or neither."""

    id: str
    label: str
    says: str
    player_says: str
    shown: int


class FlightOut(BaseModel):
    """The usual ball flight by lead and trail side; ``told`` when it is only the player's word."""

    words: list[str]
    seen: int
    start: Literal["lead", "straight", "trail", ""]
    curve: Literal["lead", "straight", "trail", ""]
    start_count: int
    curve_count: int
    told: bool


class SpreadOut(BaseModel):
    metric: MetricId
    moment: MomentId
    n: int
    median: float
    spread: float
    words: str


class SummaryOut(BaseModel):
    """``manner``: in which it is said (``Manner.written``)."""

    manner: str = PLAIN.written()
    club: str
    counting: int
    findings: list[FindingOut]
    not_assessed: list[NotAssessedOut]
    proposals: list[ProposalOut]
    good: list[str]
    plain_good: list[str]
    spreads: list[SpreadOut]
    graph: list[NodeOut]
    matched: list[MatchedOut]
    flight: FlightOut
    held: list[str]
    withheld: list[WithheldOut]


class CalibrationOut(BaseModel):
    """How well the sensors of a recording are calibrated; or, ``refused``, why they are not."""

    refused: str | None = None
    quality: float | None = None
    sentence: str = ""
    notes: list[str] = []
    method: str = ""
    pose_angle_deg: float | None = None
    stillness_deg_s: float | None = None
    bias_deg_s: float | None = None
    disagreement_deg: float | None = None
    gravity_error: float | None = None
    repeats: int | None = None
    ends_s: float | None = None
    value_sd_deg: float | None = None
