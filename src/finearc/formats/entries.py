"""Entries of ``capture.json``: what they have in common, and those of the streams."""

from __future__ import annotations

from typing import Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from finearc.catalogue.reason import LONGEST_TEXT, refuse_unreasonable
from finearc.core.signals.streams import Segment
from finearc.formats.bounds import MOST_LABELS


class Open(BaseModel):
    """Unknown keys are kept out of the way: later versions may add some."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False, str_max_length=LONGEST_TEXT)

    @model_validator(mode="after")
    def within_reason(self) -> Self:
        """Raises ``ValueError`` with the field."""
        for name in type(self).model_fields:
            refuse_unreasonable(name, getattr(self, name))
        return self


class Units(Open):
    acc: Literal["m/s²", "m/s2", "g"] = "m/s²"
    gyr: Literal["rad/s", "deg/s"] = "rad/s"


class Stream(Open):
    file: str = Field(min_length=1, max_length=300)
    offset_s: float = 0.0
    rate_scale: float = Field(default=1.0, gt=0.5, lt=2.0)


class ImuEntry(Stream):
    kind: Literal["imu"]
    segment: Segment
    units: Units = Units()


class BayAxes(Open):
    ball: str = "+x"
    target: str = "+y"
    up: str = "+z"


class MarkersEntry(Stream):
    kind: Literal["markers"]
    bay_axes: BayAxes = BayAxes()
    labels: dict[str, str] = Field(default={}, max_length=MOST_LABELS)


class PressureEntry(Stream):
    kind: Literal["pressure"]
    rows: int = Field(gt=0, le=400)
    columns: int = Field(gt=0, le=400)
    cell_mm: tuple[float, float]
    origin_mm: tuple[float, float] = (0.0, 0.0)
    row_axis: str = "+x"
    column_axis: str = "+y"
    unit: Literal["kPa", "Pa", "mmHg", "N/cm²", "N/cm2"] = "kPa"
    own_clock: bool = False
    saturation_kpa: float | None = Field(default=None, gt=0)
