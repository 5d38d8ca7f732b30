"""What can be compared, two sides compared, and where along the swing they differ."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from finearc.api import models as m
from finearc.api.context import UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.views.comparing import choice_out, compare_out, curves_out
from finearc.api.views.progress import consistency_out, progress_out, since_out
from finearc.services.comparing.choices import choices
from finearc.services.comparing.consistency import player_consistency
from finearc.services.comparing.progress import player_progress
from finearc.services.comparing.sides import stored_sides
from finearc.services.comparing.since import since_last
from finearc.services.comparing.stored import compared, curve_stretches
from finearc.services.records import Lesson, Player

router = APIRouter(route_class=DoorRoute, tags=["comparing"])


@router.get("/lessons/{lesson_id}/comparable")
def comparable(lesson_id: UUID, uow: UnitOfWorkDep, swing: UUID | None = None) -> list[m.ChoiceOut]:
    """What a lesson, or one swing of it, can be compared with, the likeliest first."""
    return [choice_out(c) for c in choices(uow, lesson_id, swing)]


@router.get("/compare")
def compare(a: str, b: str, uow: UnitOfWorkDep, metric: str = "", moment: str = "") -> m.CompareOut:
    """Two sides: ``swing:ID``, ``lesson:ID``, ``block:ID``, ``before:ID``, ``tag:ID:words`` (of that swing's player and
    club), ``reference:ID``, ``model:KIND.WRIST.PELVIS.PRESSURE`` (a synthetic skilled swing) or ``band:here`` (what the
    other was judged by); ``metric`` and ``moment``: what is shown whole and asked about first."""
    return compare_out(compared(*stored_sides(uow, a, b), metric, moment))


@router.get("/compare/curves")
def curves(a: str, b: str, metric: str, uow: UnitOfWorkDep) -> m.CurvesOut:
    """Where along the swing two groups differ, by statistical parametric mapping: it takes longer than the rest."""
    return curves_out(metric, curve_stretches(*stored_sides(uow, a, b), metric))


@router.get("/players/{player_id}/progress")
def progress(
    player_id: UUID, uow: UnitOfWorkDep, metric: str = "", moment: str = "", club: str = ""
) -> m.ProgressOut | None:
    """A measure over the player's lessons, or the newest measured priority's; null where there is none."""
    found = player_progress(uow, uow.get(Player, player_id), metric, moment, club)
    return None if found is None else progress_out(found)


@router.get("/players/{player_id}/consistency")
def consistency(
    player_id: UUID, uow: UnitOfWorkDep, metric: str = "", moment: str = "", club: str = ""
) -> m.ConsistencyOut | None:
    """How steady the player is in that measure, lesson by lesson."""
    found = player_consistency(uow, uow.get(Player, player_id), metric, moment, club)
    return None if found is None else consistency_out(found)


@router.get("/lessons/{lesson_id}/since")
def since(lesson_id: UUID, uow: UnitOfWorkDep) -> m.SinceOut | None:
    """Whether what comes first really differs from the player's last lesson with this club; null where there is no such
    lesson or nothing comes first."""
    found = since_last(uow, uow.get(Lesson, lesson_id))
    return None if found is None else since_out(found)
