"""Pictures of drills: what each shows, in whose place, with what beside it. The interface draws them."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, model_validator

from finearc.catalogue.schemas import Strict
from finearc.catalogue.toml_file import DataFileError, read_file

FILE = Path(__file__).parent / "data" / "pictures.toml"

Pose = Literal["address", "shaft_level_back", "arm_level_back", "top", "arm_level_down", "impact", "finish"]
Eye = Literal["front", "line", "above"]
Thing = Literal[
    "wall", "chair", "stick_outside_lead_foot", "rods", "heel_rod", "rod_on_line", "club_along_back",
    "club_across_shoulders", "ball_between_knees", "ball_between_forearms", "head_cover", "plumb_line", "no_club",
    "club_reversed",
]  # fmt: skip
Joint = Literal[
    "pelvis", "head", "hands", "lead_shoulder", "lead_hip", "lead_knee", "lead_heel", "lead_toe", "trail_hip",
    "trail_knee", "trail_heel", "trail_toe",
]  # fmt: skip
Way = Literal["target", "away", "ball", "back", "up", "down"]


class ArrowEntry(Strict):
    """Where something should go, from a joint."""

    at: Joint
    to: Way


class FigurePicture(Strict):
    """A person at one moment of a skilled swing, seen by one eye, with what the drill needs and what should move."""

    shows: Literal["figure"]
    pose: Pose
    eye: Eye
    things: list[Thing] = Field(default_factory=list)
    arrows: list[ArrowEntry] = Field(default_factory=list)


class HandPicture(Strict):
    """The lead hand at an angle, deg, with the band it should stay in: cup from the side, hinge from above."""

    shows: Literal["hand"]
    drawing: Literal["cup", "hinge"]
    value: float = Field(ge=-60, le=60)
    low: float | None = None
    high: float | None = None
    thing: Literal["", "peg", "handle"] = ""


class FeetPicture(Strict):
    """Both soles with where the pressure should be between them, % on the lead foot."""

    shows: Literal["feet"]
    value: float = Field(ge=0, le=100)
    low: float
    high: float


class BeatPicture(Strict):
    """The swing's arc with beats going back and one at the strike."""

    shows: Literal["beat"]
    beats: int = Field(ge=1, le=5)


class PutterPicture(Strict):
    """A putter at the ball with what the drill needs: its head from above, or the whole of it from in front."""

    shows: Literal["putter"]
    eye: Literal["above", "front"]
    thing: Literal["gate", "rail", "ladder", "button", "peg"]

    @model_validator(mode="after")
    def _seen(self) -> PutterPicture:
        above = self.thing in ("gate", "rail", "ladder")
        if above is not (self.eye == "above"):
            raise ValueError(f"{self.thing} is seen from {'above' if above else 'in front (front)'}")
        return self


PictureOf = Annotated[
    FigurePicture | HandPicture | FeetPicture | BeatPicture | PutterPicture, Field(discriminator="shows")
]


class PictureEntry(Strict):
    id: str = Field(min_length=1, max_length=60, pattern=r"^[a-z][a-z0-9_]*$")
    label: str = Field(min_length=1, max_length=120)
    drawn: PictureOf


class PictureFile(Strict):
    picture: list[PictureEntry]


@lru_cache(maxsize=1)
def pictures() -> dict[str, PictureEntry]:
    """All pictures by id."""
    return {p.id: p for p in read_file(FILE, PictureFile).picture}


def known_picture(picture: str, file: str) -> str:
    """The same, or ``DataFileError`` for one that is not known; none is none."""
    if picture and picture not in pictures():
        raise DataFileError(file, f'there is no picture "{picture}"; known: {", ".join(pictures())}')
    return picture
