"""What every table is made of."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Column, ForeignKey, LargeBinary, MetaData, String, Text, Uuid
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB, LONGTEXT
from sqlalchemy.engine import Dialect
from sqlalchemy.types import TypeDecorator

metadata = MetaData(
    naming_convention={
        "ix": "ix_%(table_name)s_%(column_0_N_name)s",
        "uq": "uq_%(table_name)s_%(column_0_N_name)s",
        "fk": "fk_%(table_name)s_%(column_0_name)s",
        "pk": "pk_%(table_name)s",
    }
)


class UtcDateTime(TypeDecorator[datetime]):
    """Aware in, UTC stored with microseconds, aware out."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a time without a zone cannot be stored")
        return value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


LongText = Text().with_variant(LONGTEXT(), "mysql", "mariadb")
Blob = LargeBinary().with_variant(LONGBLOB(), "mysql", "mariadb")


def id_column() -> Column[Any]:
    """The primary key."""
    return Column("id", Uuid(), primary_key=True)


def academy_column() -> Column[Any]:
    """The academy that owns the row."""
    return Column("academy_id", Uuid(), ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True)


def belongs_to(name: str, target: str, *, nullable: bool = False) -> Column[Any]:
    """A parent that takes its rows with it."""
    return Column(name, Uuid(), ForeignKey(f"{target}.id", ondelete="CASCADE"), nullable=nullable, index=True)


def text(name: str, size: int = 200) -> Column[Any]:
    """A short text, empty where nothing is said."""
    return Column(name, String(size), nullable=False, default="")
