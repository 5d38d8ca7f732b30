"""A lesson as a table, as CSV too, and several of its swings marked at once."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from fastapi.responses import Response

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.tables import download
from finearc.api.views.table import csv_rows, table_out
from finearc.formats.tables import csv_table
from finearc.services.lesson.several import mark_several
from finearc.services.lesson.table import lesson_table

router = APIRouter(route_class=DoorRoute, tags=["table"])
Columns = Annotated[list[str], Query(max_length=24)]


@router.get("/lessons/{lesson_id}/table")
def table(lesson_id: UUID, uow: UnitOfWorkDep, column: Columns = []) -> m.TableOut:  # noqa: B006 - never changed
    """One row a swing; ``column``: measures at moments, as ``lead_wrist_extension@top``."""
    return table_out(lesson_table(uow, lesson_id, column))


@router.get("/lessons/{lesson_id}/table.csv", response_class=Response)
def table_csv(lesson_id: UUID, uow: UnitOfWorkDep, column: Columns = []) -> Response:  # noqa: B006 - never changed
    """The same as a file."""
    head, rows = csv_rows(lesson_table(uow, lesson_id, column))
    return download(csv_table(head, rows), "text/csv", "lesson.csv")


@router.post("/lessons/{lesson_id}/swings/mark")
def mark(lesson_id: UUID, body: m.MarkSeveralIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.Accepted:
    """Give several swings a kind: one change, undone as one."""
    mark_several(uow, s.codec, lesson_id, body.swing_ids, body.kind, body.reason)
    return m.Accepted()
