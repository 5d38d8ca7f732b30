"""Synthetic skilled swings to compare with, by club and shot and by the ways of swinging that are taught."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from finearc.catalogue.library import clubs, schools
from finearc.core.comparing.seen import SwingSeen
from finearc.core.events.swings import Shot
from finearc.core.metrics import registry as m
from finearc.golfer.poses import PoseErrors
from finearc.golfer.scenarios import Scenario, play_story
from finearc.golfer.shots import KINDS, PELVES, PRESSURES, WRISTS, Kind, skilled_style
from finearc.services.judging.analysis import read
from finearc.services.modelled import capture_of
from finearc.wording import tr

SEED = 17
SOURCES = ("wrist", "club", "markers", "pressure")
WAYS: Mapping[str, Sequence[str]] = {"lead_wrist": (*WRISTS,), "pelvis": (*PELVES,), "pressure": (*PRESSURES,)}
"""Schools and the options that the model can show."""
OF_THE_CLUB = frozenset(
    metric.id for metric in (m.SHAFT_HEADING, m.FACE_ELEVATION, m.CLUB_PATH, m.ATTACK_ANGLE, m.HANDS_OUT, m.HANDS_LIFT)
)
"""The model swings a mid-iron: these do not hold for another club."""
MID_IRON = "mid-iron"


@dataclass(frozen=True)
class ModelSwing:
    """``kind`` of ``golfer.shots.KINDS``; ``ways`` of swinging as in ``WAYS``, in its order."""

    kind: str
    ways: tuple[str, ...]

    @classmethod
    def of(cls, key: str) -> ModelSwing | None:
        """From ``KIND.WRIST.PELVIS.PRESSURE``; None where the model has no such swing."""
        kind, *ways = key.split(".")
        known = kind in KINDS and len(ways) == len(WAYS)
        held = known and all(w in options for w, options in zip(ways, WAYS.values(), strict=True))
        return cls(kind, tuple(ways)) if held else None

    @property
    def key(self) -> str:
        return ".".join((self.kind, *self.ways))

    @property
    def _made(self) -> Kind:
        return KINDS[self.kind]

    @property
    def label(self) -> str:
        return self._made.label

    @property
    def name(self) -> str:
        return f"{self.label} (synthetic)"

    @property
    def shot(self) -> str:
        return self._made.shot.value

    @property
    def schools(self) -> dict[str, str]:
        """What it shows, in words, by school."""
        labels = {k: {o.id: o.label for o in school.options} for k, school in schools().items()}
        return {k: labels[k][way] for k, way in zip(WAYS, self.ways, strict=True)}

    @property
    def made_from(self) -> str:
        """What it was made from, in words."""
        ways = ", ".join(f"{schools()[k].label.lower()}: {words.lower()}" for k, words in self.schools.items())
        base = tr("Synthetic: one skilled swing of the golfer model, no player's")
        if self.kind == MID_IRON:
            return f"{base}; {ways}."
        partial = tr(" There are no ranges for it.") if self._made.shot is not Shot.FULL else ""
        return tr(
            "{base}, made from a mid-iron's full swing with house values for {value}; {ways}.{partial}",
            base=base,
            value=self.label.lower(),
            ways=ways,
            partial=partial,
        )


def kind_of_club(club: str, shot: str = Shot.FULL.value) -> str:
    """The kind that is nearest to a club and shot."""
    partial = [k for k, kind in KINDS.items() if kind.shot.value == shot and kind.shot is not Shot.FULL]
    if partial:
        return partial[0]
    known = clubs().get(club)
    classes = known.classes if known is not None else []
    if "wood" in classes:
        return "driver" if "driver" in classes else "fairway-wood"
    return "wedge" if "wedge" in classes else MID_IRON


def model_swings(club: str, shot: str, held: Mapping[str, str]) -> list[ModelSwing]:
    """One of each kind, in the ways of the schools that are held; the nearest to a club and shot first."""
    ways = tuple(held[k] if held.get(k) in options else options[0] for k, options in WAYS.items())
    first = kind_of_club(club, shot)
    return [ModelSwing(kind, ways) for kind in sorted(KINDS, key=lambda kind: kind != first)]


@lru_cache(maxsize=96)
def model_swing(model: ModelSwing) -> SwingSeen:
    """The swing as it is measured, without scatter, its values taken as exact. About half a second when first asked."""
    story = Scenario((skilled_style(model.kind, *model.ways),), "reference", PoseErrors(), scatter=0.0)
    capture = replace(capture_of(play_story(story, SEED, sources=SOURCES)), shot=Shot(model.shot))
    seen = SwingSeen.of(read(capture).swings[0])
    left_out = frozenset() if model.kind == MID_IRON else OF_THE_CLUB
    return replace(
        seen,
        traces={k: v for k, v in seen.traces.items() if k not in left_out},
        measured=[
            v._replace(uncertainty=0.0, calibration_part=0.0) for v in seen.measured if v.metric.id not in left_out
        ],
    )
