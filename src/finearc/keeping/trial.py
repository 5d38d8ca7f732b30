"""Whether what was restored is what was kept: every table's rows are counted, and some swings are measured again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import Engine, text

from finearc import __version__
from finearc.keeping.errors import BackupTrouble
from finearc.services.jobs.measuring import look_again
from finearc.services.records import Recording
from finearc.store.columns import ParquetColumns
from finearc.store.unit_of_work import Store

SAMPLE = 12
"""Recordings of each academy that are measured again, spread over all of them (house value)."""


@dataclass(frozen=True)
class Same:
    """``values`` of ``swings`` that were measured again; ``changed``: those that read otherwise, all measured by an
    earlier engine; ``unreadable``: recordings that could not be read before either."""

    swings: int = 0
    values: int = 0
    changed: int = 0
    unreadable: int = 0


def refuse_other_counts(engine: Engine, rows: Mapping[str, int]) -> None:
    """Raises ``BackupTrouble`` where a table has more or fewer rows than were kept."""
    with engine.connect() as connection:
        for table, kept in rows.items():
            found = connection.scalar(text(f"select count(*) from `{table}`"))
            if found != kept:
                raise BackupTrouble(f"{table} has {found} rows of {kept}", "Restore another backup")


def sample_measured_again(store: Store) -> Same:
    """Raises ``BackupTrouble`` where this engine's own values read otherwise now."""
    with store.front_door() as door:
        academies = [a.id for a in door.academies()]
    told = Same()
    for academy_id in academies:
        with store.unit_of_work(academy_id) as uow:
            every = uow.find(Recording, order="created_at")
            chosen = every[:: max(1, len(every) // SAMPLE)]
            report = look_again(uow, ParquetColumns(), chosen)
        if report.changed and report.engines == [__version__]:
            words = f"{report.changed} of {report.values} values read otherwise than they were kept"
            raise BackupTrouble(words, "Restore another backup")
        told = Same(
            told.swings + report.swings,
            told.values + report.values,
            told.changed + report.changed,
            told.unreadable + len(report.unreadable),
        )
    return told
