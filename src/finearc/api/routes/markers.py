"""Marker files: look at them, map their labels, import them."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Form, UploadFile
from fastapi.exceptions import RequestValidationError
from pydantic import ValidationError

from finearc.api import marker_models as mm, models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.importing import JOB, LARGEST_UPLOAD, Answer, Prefer, imported, read_bounded, uploaded
from finearc.catalogue.markers import meaning
from finearc.core.frames.handedness import Hand
from finearc.core.markers.axes import suggest_axes
from finearc.core.markers.labels import CLUB, HEAD, PELVIS, THORAX, Marker, file_label
from finearc.core.markers.stream import MarkerStream
from finearc.formats.dropped import MARKER_FILE
from finearc.formats.marker_file import read_points, suggested_names
from finearc.services.capture import presets
from finearc.services.known import refuse_unknown_club
from finearc.services.ports import UnitOfWork
from finearc.services.records import Lesson, MarkerPreset, Player
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["markers"])


def _group(marker: Marker) -> str:
    for name, members in (("Pelvis", PELVIS), (tr("Upper body"), THORAX), ("Head", HEAD), ("Club", CLUB)):
        if marker in members:
            return name
    arm = any(k in marker.name for k in ("ACROMION", "ELBOW", "WRIST", "HAND"))
    return tr("Arms and hands") if arm else tr("Legs and feet")


def _player(uow: UnitOfWork, lesson_id: UUID) -> tuple[Lesson, Player]:
    lesson = uow.get(Lesson, lesson_id)
    return lesson, uow.get(Player, lesson.player_id)


def _chosen(mapping: str) -> mm.MarkerImport:
    """What was chosen for a file, which travels beside it as a text. Raises ``RequestValidationError``."""
    try:
        return mm.MarkerImport.model_validate_json(mapping)
    except ValidationError as error:
        told = [{**e, "loc": ("body", "mapping", *e["loc"])} for e in error.errors()]
        raise RequestValidationError(told) from None


@router.post("/lessons/{lesson_id}/markers/inspect", max_body_size=LARGEST_UPLOAD)
def inspect(lesson_id: UUID, file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep) -> mm.MarkerInspection:
    """What a C3D or TRC file holds and how its labels seem to map to ours. Nothing is kept."""
    _, player = _player(uow, lesson_id)
    hand = Hand(player.handedness)
    name, content = uploaded(file, "markers.c3d")
    table = read_bounded(s, uow, read_points, name, content)
    preset = presets.preset_for(uow, table.labels, player.handedness)
    names = dict(preset.names) if preset else suggested_names(table.labels, hand)
    axes, axes_from = mm.AxesIO(), "default"
    if preset is not None:
        axes, axes_from = mm.AxesIO(**preset.axes), "remembered"
    else:
        seen = suggest_axes(MarkerStream(table.time_s, table.labels, table.points_m, name, names=names), hand)
        if seen is not None:
            axes, axes_from = mm.AxesIO(ball=seen.ball, target=seen.target, up=seen.up), "player"
    return mm.MarkerInspection(
        file=name,
        labels=list(table.labels),
        seconds=len(table.time_s) / table.rate_hz,
        rate_hz=table.rate_hz,
        rows=[
            mm.MarkerRow(ours=ours, meaning=meaning(ours), group=_group(marker), label=names.get(ours))
            for marker in Marker
            for ours in [file_label(marker, hand)]
        ],
        axes=axes,
        axes_from=axes_from,
        preset=preset.name if preset else None,
    )


@router.post(
    "/lessons/{lesson_id}/markers",
    status_code=201,
    response_model=m.Imported,
    responses=JOB,
    max_body_size=LARGEST_UPLOAD,
)
def import_markers(
    lesson_id: UUID,
    file: UploadFile,
    mapping: Annotated[str, Form()],
    uow: UnitOfWorkDep,
    s: ServicesDep,
    prefer: Prefer = "",
) -> Answer:
    """Import a marker capture with its mapping. Nothing is kept unless all of it can be read."""
    chosen = _chosen(mapping)
    _player(uow, lesson_id)
    refuse_unknown_club(chosen.club)
    name, content = uploaded(file, "markers.c3d")
    subject = {
        "name": name,
        "reader": MARKER_FILE,
        "choices": chosen.model_dump(include={"names", "axes", "club"}),
        "source": "markers",
        "remember_as": chosen.remember_as.strip(),
    }
    return imported(uow, s, lesson_id, subject, content, prefer)


@router.get("/marker-presets")
def marker_presets(uow: UnitOfWorkDep) -> list[mm.PresetOut]:
    """The academy's remembered marker mappings."""
    return [
        mm.PresetOut(id=p.id, name=p.name, handedness=p.handedness, markers=len(p.names))
        for p in uow.find(MarkerPreset, order="-used_at")
    ]


@router.delete("/marker-presets/{preset_id}")
def forget_preset(preset_id: UUID, uow: UnitOfWorkDep) -> m.Accepted:
    """Forget a mapping."""
    uow.remove(uow.get(MarkerPreset, preset_id))
    return m.Accepted()
