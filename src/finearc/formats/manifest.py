"""``capture.json`` of a capture bundle (version 1)."""

from __future__ import annotations

from datetime import datetime
from difflib import get_close_matches
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from finearc.catalogue.library import clubs
from finearc.core.signals.streams import Segment

Window = tuple[float, float]


class Open(BaseModel):
    """Unknown keys are kept out of the way: later versions may add some."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)


class Player(Open):
    handedness: Literal["right", "left"]
    height_m: float | None = Field(default=None, gt=0.5, lt=2.8)
    population: Literal["adult", "junior", "senior"] = "adult"


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
    labels: dict[str, str] = {}


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


StreamEntry = Annotated[ImuEntry | MarkersEntry | PressureEntry, Field(discriminator="kind")]


class FunctionalEntry(Open):
    """Calibration by movement, for a forearm that cannot lie palm down (an extension of version 1)."""

    straight: Window
    raised: Window
    flexion: Window
    deviation: Window


class PosePair(Open):
    flat: Window
    raised: Window


class CalibrationEntry(Open):
    flat: Window | None = None
    raised: Window | None = None
    square_upright: Window | None = None
    bow: Window | None = None
    uprights: list[Window] = Field(default=[], max_length=50)
    repeats: list[PosePair] = Field(default=[], max_length=20)
    functional: FunctionalEntry | None = None


class Manifest(Open):
    """The manifest of a capture bundle."""

    format: Literal["finearc-capture"]
    version: Literal[1]
    captured_at: datetime | None = None
    player: Player
    club: str = "7-iron"
    shot: Literal["full", "pitch", "chip", "bunker", "putt"] = "full"
    target_distance_m: float | None = Field(default=None, ge=0, le=500)
    streams: list[StreamEntry] = Field(min_length=1, max_length=40)
    calibration: CalibrationEntry | None = None
    swings: list[Window] | None = Field(default=None, max_length=2000)

    @field_validator("club")
    @classmethod
    def _known_club(cls, value: str) -> str:
        if value not in clubs():
            near = get_close_matches(value, clubs(), 1)
            raise ValueError(f'no club "{value}"' + (f', did you mean "{near[0]}"?' if near else ""))
        return value

    @model_validator(mode="before")
    @classmethod
    def _object(cls, data: Any) -> Any:
        if not isinstance(data, dict):
            raise ValueError("an object is expected")
        return data

    @model_validator(mode="after")
    def _each_once(self) -> Manifest:
        segments = [s.segment for s in self.streams if isinstance(s, ImuEntry)]
        twice = {s for s in segments if segments.count(s) > 1}
        if sum(isinstance(s, MarkersEntry) for s in self.streams) > 1:
            raise ValueError("two markers streams; one is read")
        if sum(isinstance(s, PressureEntry) for s in self.streams) > 1:
            raise ValueError("two pressure streams; one is read")
        if twice:
            raise ValueError(f"two imu streams of {', '.join(sorted(s.value for s in twice))}")
        return self
