"""Search across players and lessons."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from finearc.api import models as m
from finearc.api.context import UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.tables import download
from finearc.api.views.searching import csv_rows, found_out, saved_out
from finearc.formats.tables import csv_table
from finearc.services.records import SavedSearch
from finearc.services.searching.found import save, saved, search

router = APIRouter(route_class=DoorRoute, tags=["search"])


@router.get("/search")
def find(uow: UnitOfWorkDep, q: str = "") -> m.FoundOut:
    """Counting swings that answer a question in words, such as *driver, early extension, this month*; the newest
    lesson first."""
    return found_out(search(uow, q))


@router.get("/search.csv", response_class=Response)
def find_csv(uow: UnitOfWorkDep, q: str = "") -> Response:
    """The same as a table."""
    head, rows = csv_rows(search(uow, q))
    return download(csv_table(head, rows), "text/csv", "swings.csv")


@router.get("/searches")
def all_saved(uow: UnitOfWorkDep) -> list[m.SavedSearchOut]:
    """Questions that were kept, by name."""
    return [saved_out(x) for x in saved(uow)]


@router.post("/searches", status_code=201)
def keep(body: m.SearchIn, uow: UnitOfWorkDep) -> m.SavedSearchOut:
    """Keep a question under a name."""
    return saved_out(save(uow, body.name, body.query))


@router.delete("/searches/{search_id}")
def forget(search_id: UUID, uow: UnitOfWorkDep) -> m.Accepted:
    """Remove a question that was kept."""
    uow.remove(uow.get(SavedSearch, search_id))
    return m.Accepted()
