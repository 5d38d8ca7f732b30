"""``capture.json`` of a capture bundle (version 1)."""

from __future__ import annotations

from datetime import datetime
from difflib import get_close_matches
from functools import lru_cache, reduce
from operator import or_
from typing import Annotated, Any, Literal

from pydantic import Field, create_model, field_validator, model_validator

from finearc.catalogue.library import clubs
from finearc.core.putting.notes import Break, Outcome, Slope
from finearc.formats.entries import ImuEntry, Open, Stream
from finearc.formats.kinds import with_files
from finearc.services.capture.putter_notes import PutterNotes

Window = tuple[float, float]


def known_club(value: str) -> str:
    """A club by its id. Raises ``ValueError`` with the nearest."""
    if value not in clubs():
        near = get_close_matches(value, clubs(), 1)
        raise ValueError(f'no club "{value}"' + (f', did you mean "{near[0]}"?' if near else ""))
    return value


class Player(Open):
    handedness: Literal["right", "left"]
    height_m: float | None = Field(default=None, gt=0.5, lt=2.8)
    population: Literal["adult", "junior", "senior"] = "adult"


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
    lifted: Window | None = None
    uprights: list[Window] = Field(default=[], max_length=50)
    repeats: list[PosePair] = Field(default=[], max_length=20)
    functional: FunctionalEntry | None = None


class PuttEntry(Open):
    """What is noted of the putt in one of the ``swings``, counted from 0."""

    swing: int = Field(ge=0, lt=2000)
    distance_m: float | None = Field(default=None, gt=0, le=60)
    outcome: Outcome | None = None
    rolled_past_m: float | None = Field(default=None, ge=-60, le=60)
    slope: Slope | None = None
    breaks: Break | None = Field(default=None, alias="break")


class Manifest(Open):
    """The manifest of a capture bundle."""

    format: Literal["finearc-capture"]
    version: Literal[1]
    captured_at: datetime | None = None
    player: Player
    club: str = "7-iron"
    shot: Literal["full", "pitch", "chip", "bunker", "putt"] = "full"
    target_distance_m: float | None = Field(default=None, ge=0, le=500)
    streams: list[Any] = Field(min_length=1, max_length=40)
    calibration: CalibrationEntry | None = None
    swings: list[Window] | None = Field(default=None, max_length=2000)
    putts: list[PuttEntry] = Field(default=[], max_length=2000)
    green_speed_ft: float | None = Field(default=None, gt=1, le=25)
    grip: str = Field(default="", max_length=200)
    face_grip_bias_deg: float | None = Field(default=None, ge=-90, le=90)
    putter: PutterNotes | None = None

    @field_validator("club")
    @classmethod
    def _known_club(cls, value: str) -> str:
        return known_club(value)

    @model_validator(mode="before")
    @classmethod
    def _object(cls, data: Any) -> Any:
        if not isinstance(data, dict):
            raise ValueError("an object is expected")
        return data

    def _putts_fit(self) -> None:
        noted = [p.swing for p in self.putts]
        if not noted:
            return
        if self.shot != "putt":
            raise ValueError(f'putts are noted, but the shot is "{self.shot}": say "shot": "putt"')
        again = next((k for k in noted if noted.count(k) > 1), None)
        if again is not None:
            raise ValueError(f"putts: swing {again} is noted twice")
        known = len(self.swings) if self.swings is not None else 2000
        if max(noted) >= known:
            raise ValueError(f"putts: swing {max(noted)} is noted, but there are only {known} swings (counted from 0)")

    @model_validator(mode="after")
    def _each_once(self) -> Manifest:
        self._putts_fit()
        segments = [s.segment for s in self.streams if isinstance(s, ImuEntry)]
        twice = {s for s in segments if segments.count(s) > 1}
        others = [s.kind for s in self.streams if not isinstance(s, ImuEntry)]
        again = next((k for k in others if others.count(k) > 1), None)
        if again is not None:
            raise ValueError(f"two {again} streams; one is read")
        if twice:
            raise ValueError(f"two imu streams of {', '.join(sorted(s.value for s in twice))}")
        return self


@lru_cache(maxsize=8)
def _manifest_of(entries: tuple[type[Stream], ...]) -> type[Manifest]:
    entry: Any = Annotated[reduce(or_, entries), Field(discriminator="kind")]
    streams: Any = (list[entry], Field(min_length=1, max_length=40))
    return create_model("Manifest", __base__=Manifest, __doc__=Manifest.__doc__, streams=streams)


def manifest_type() -> type[Manifest]:
    """The manifest with the entries of every kind of source that is known."""
    return _manifest_of(tuple(files.entry for files in with_files().values()))
