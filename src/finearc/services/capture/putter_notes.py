"""What is noted of a putter, in the units a person writes: as it is kept, and as a manifest and a screen have it."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from finearc.core.putting.setup import FROM_GRIP_M, LIE_RAD, Pivot, PutterGeometry, PutterSetup


class PutterNotes(BaseModel):
    """``length_m`` from grip end to sole; ``lie_deg`` of the shaft over the ground; ``head_offset_m``: how far toward
    the toe the sweet spot lies from the shaft; ``sensor_m``: how far below the grip end a sensor sits; ``pivot``: about
    what the free pendulum turns, ``pivot_height_m`` over the ground where it is set and no marker shows it."""

    model_config = ConfigDict(extra="ignore")

    length_m: float | None = Field(default=None, ge=0.6, le=1.4)
    lie_deg: float = Field(default=round(float(np.rad2deg(LIE_RAD)), 6), ge=60, le=85)
    head_offset_m: float = Field(default=0.0, ge=-0.05, le=0.1)
    sensor_m: float = Field(default=FROM_GRIP_M, ge=0.02, le=1.2)
    pivot: Pivot = Pivot.FITTED
    pivot_height_m: float | None = Field(default=None, ge=0.5, le=2.2)

    def setup(self) -> PutterSetup:
        """As the core takes it."""
        lie = float(np.deg2rad(self.lie_deg))
        measured = (
            None
            if self.length_m is None
            else PutterGeometry(self.length_m, lie, self.head_offset_m, min(self.sensor_m, self.length_m))
        )
        return PutterSetup(measured, self.pivot, self.pivot_height_m)

    @classmethod
    def of(cls, setup: PutterSetup) -> PutterNotes:
        """The inverse."""
        told = {"pivot": setup.pivot, "pivot_height_m": setup.pivot_height_m}
        g = setup.geometry
        if g is None:
            return cls(**told)
        lie = round(float(np.rad2deg(g.lie_rad)), 6)
        return cls(length_m=g.length_m, lie_deg=lie, head_offset_m=g.head_offset_m, sensor_m=g.sensor_m, **told)

    def kept(self) -> dict[str, Any] | None:
        """As a record keeps it; None where it says nothing."""
        return None if self.setup() == PutterSetup() else self.model_dump(mode="json")
