"""Bays, their devices and their tokens."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In


class BayTokenIn(In):
    """``name``: what will send with it."""

    bay: str = Field(min_length=1, max_length=60, examples=["Bay 1"])
    name: str = Field(min_length=1, max_length=60, examples=["wrist pair"])


class BayTokenOut(BaseModel):
    id: UUID
    name: str
    made_at: datetime
    used_at: datetime | None


class BayTokenMade(BayTokenOut):
    """The token itself, told this once."""

    bay: str
    token: str


class StreamOut(BaseModel):
    """``measures``: the segment, the mat or the markers; ``rate_hz``: as it sends now, 0 while it does not;
    ``lost``: samples that never came."""

    measures: str
    kind: Literal["imu", "pressure", "markers"]
    declared_hz: float
    rate_hz: float
    lost: int


class DeviceOut(BaseModel):
    """``clock_ms``: the standard uncertainty of its clock, None before it is known; ``seen_s``: how long ago it was
    last heard."""

    id: str
    name: str
    model: str
    connected: bool
    seen_s: float
    battery: float | None
    charging: bool | None
    signal_dbm: float | None
    errors: list[str]
    clock_ms: float | None
    streams: list[StreamOut]


class BayOut(BaseModel):
    """``trouble``: why nothing is taken in, or empty."""

    name: str
    state: str
    trouble: str
    tokens: list[BayTokenOut]
    devices: list[DeviceOut]


class BaysOut(BaseModel):
    """All bays, as they are now."""

    bays: list[BayOut]


class BayScreenIn(In):
    bay: str = Field(min_length=1, max_length=60)


class BayScreenMade(BaseModel):
    """``code``: what the second screen opens with, shown this once."""

    bay: str
    code: str
