"""What a device says of its streams, and how their samples become the core's streams. A new kind of device is one class
here."""

from __future__ import annotations

from abc import abstractmethod
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.pressure.stream import MatGrid, MatStream
from finearc.core.signals.streams import ImuStream, Segment
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.kind import Kind
from finearc.core.sources.markers import MARKERS
from finearc.core.typing import Array
from finearc.devices.link.frames import Layout, Values
from finearc.wording import tr

MOST_CELLS, MOST_MARKERS, MOST_RATE_HZ = 20_000, 200, 2_000.0
"""Far beyond any device known (house values)."""
METRES = {"m": 1.0, "mm": 0.001}
PlaneAxis = Literal["+x", "-x", "+y", "-y"]
Axis = Literal["+x", "-x", "+y", "-y", "+z", "-z"]
CellPair = tuple[Annotated[float, Field(gt=0)], Annotated[float, Field(gt=0)]]


class Place(NamedTuple):
    """What of a bay only one device may send: a segment, the mat, the markers."""

    kind: str
    segment: str = ""

    def __str__(self) -> str:
        return self.segment.replace("_", " ") or {"pressure": tr("the mat"), "markers": tr("the markers")}[self.kind]


class Declared(BaseModel):
    """One stream of a device. Unknown fields are a later version's, and are left alone."""

    model_config = ConfigDict(extra="ignore", frozen=True)
    stream: int = Field(ge=0, le=15)
    rate_hz: float = Field(gt=0, le=MOST_RATE_HZ)

    @property
    @abstractmethod
    def layout(self) -> Layout:
        """One sample on the wire."""

    @property
    @abstractmethod
    def place(self) -> Place:
        """What it measures in a bay."""

    @property
    @abstractmethod
    def source(self) -> Kind:
        """The kind of source that its samples are read as."""

    @abstractmethod
    def to_core(self, time_s: Array, values: Values) -> Any:
        """Samples (n,), s on the recording's clock, and (n, width) as sent, as the core reads them."""

    def problem(self, values: Values) -> str:
        """Why samples are no measurement, or empty."""
        return ""


class ImuDeclared(Declared):
    """Specific force, m/s², and angular velocity, rad/s, in the sensor's axes; with ``mag`` in ``fields`` µT too.
    ``club``: of a log, whose clip it is."""

    kind: Literal["imu"]
    segment: Segment
    acc_range_m_s2: float | None = Field(None, gt=0)
    gyr_range_rad_s: float | None = Field(None, gt=0)
    fields: tuple[Literal["acc", "gyr", "mag"], ...] = ("acc", "gyr")
    club: str = Field("", max_length=60)

    @property
    def layout(self) -> Layout:
        return Layout(9 if "mag" in self.fields else 6, "<f4")

    @property
    def place(self) -> Place:
        return Place("imu", self.segment.value)

    @property
    def source(self) -> Kind:
        return INERTIAL

    def to_core(self, time_s: Array, values: Values) -> ImuStream:
        return ImuStream(
            self.segment, time_s, values[:, :3].astype(float), values[:, 3:6].astype(float), self.segment.value
        )

    def problem(self, values: Values) -> str:
        if not np.isfinite(values[:, :6]).all():
            return tr("an acceleration or a rate is no finite number: leave lost samples out instead")
        return ""

    def clips(self, values: Values) -> bool:
        """Whether it reads at the end of a range that it named."""
        ranges = ((self.acc_range_m_s2, values[:, :3]), (self.gyr_range_rad_s, values[:, 3:6]))
        return any(limit is not None and bool((np.abs(part) >= 0.999 * limit).any()) for limit, part in ranges)


class PressureDeclared(Declared):
    """A mat: rows by columns of ``u16`` times ``scale_kpa``, row by row; axes and places as in a bundle. ``own_clock``:
    its clock is to be set by what both feel, not by exchanges."""

    kind: Literal["pressure"]
    rows: int = Field(ge=1)
    columns: int = Field(ge=1)
    cell_mm: CellPair
    origin_mm: tuple[float, float] = (0.0, 0.0)
    row_axis: PlaneAxis = "+x"
    column_axis: PlaneAxis = "+y"
    scale_kpa: float = Field(gt=0)
    saturation_kpa: float | None = Field(None, gt=0)
    own_clock: bool = False

    @model_validator(mode="after")
    def _sensible(self) -> PressureDeclared:
        if self.rows * self.columns > MOST_CELLS:
            raise ValueError(f"{self.rows} by {self.columns} cells, at most {MOST_CELLS} are taken")
        if self.row_axis[1] == self.column_axis[1]:
            raise ValueError("rows and columns grow along one axis")
        return self

    @property
    def layout(self) -> Layout:
        return Layout(self.rows * self.columns, "<u2")

    @property
    def place(self) -> Place:
        return Place("pressure")

    @property
    def source(self) -> Kind:
        return MAT

    def to_core(self, time_s: Array, values: Values) -> MatStream:
        (row, column), (x, y) = self.cell_mm, self.origin_mm
        grid = MatGrid(
            self.rows,
            self.columns,
            (row / 1000.0, column / 1000.0),
            (x / 1000.0, y / 1000.0),
            self.row_axis,
            self.column_axis,
        )
        kpa = values.astype(np.float32) * np.float32(self.scale_kpa)
        return MatStream(time_s, kpa, grid, "mat", own_clock=self.own_clock, limit_kpa=self.saturation_kpa)


class MarkersDeclared(Declared):
    """Points of a camera rig, three ``f32`` a label in ``unit``, not a number while hidden."""

    kind: Literal["markers"]
    labels: tuple[str, ...] = Field(min_length=1, max_length=MOST_MARKERS)
    unit: Literal["m", "mm"] = "m"
    bay_axes: dict[Literal["ball", "target", "up"], Axis] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _once(self) -> MarkersDeclared:
        if len(set(self.labels)) != len(self.labels):
            raise ValueError("a label stands twice")
        return self

    @property
    def layout(self) -> Layout:
        return Layout(3 * len(self.labels), "<f4")

    @property
    def place(self) -> Place:
        return Place("markers")

    @property
    def source(self) -> Kind:
        return MARKERS

    def to_core(self, time_s: Array, values: Values) -> MarkerStream:
        points_m = values.reshape(len(values), -1, 3).astype(float) * METRES[self.unit]
        return MarkerStream(time_s, self.labels, points_m, "markers", BayAxes(**self.bay_axes))

    def problem(self, values: Values) -> str:
        return tr("a place is infinite: a hidden marker is not a number") if np.isinf(values).any() else ""


AnyDeclared = Annotated[ImuDeclared | PressureDeclared | MarkersDeclared, Field(discriminator="kind")]
