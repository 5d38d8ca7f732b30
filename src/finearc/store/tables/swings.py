"""What is measured in a swing and how it is judged: documents, rows by which they are found, large blocks."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Column, Double, ForeignKey, Index, String, Table, Uuid

from finearc.store.tables.base import Blob, LongText, UtcDateTime, metadata


def _swing() -> Column[Any]:
    return Column("swing_id", Uuid(), ForeignKey("swing.id", ondelete="CASCADE"), primary_key=True)


def _owner() -> Column[Any]:
    return Column("academy_id", Uuid(), nullable=False)


def _key(name: str, size: int = 60) -> Column[Any]:
    return Column(name, String(size), primary_key=True)


swing_record = Table("swing_record", metadata, _swing(), _owner(), Column("document", Blob, nullable=False))
swing_judgement = Table("swing_judgement", metadata, _swing(), _owner(), Column("document", Blob, nullable=False))
swing_block = Table(
    "swing_block",
    metadata,
    _swing(),
    _key("kind", 20),
    _owner(),
    Column("content", Blob, nullable=False),
)
swing_value = Table(
    "swing_value",
    metadata,
    _swing(),
    _key("metric"),
    _key("moment"),
    _owner(),
    Column("player_id", Uuid(), nullable=False),
    Column("club", String(30), nullable=False),
    Column("captured_at", UtcDateTime(), nullable=False),
    Column("value", Double(), nullable=False),
    Column("uncertainty", Double(), nullable=False),
    Column("calibration_part", Double(), nullable=False),
    Column("source", String(40), nullable=False),
    Index("ix_swing_value_course", "player_id", "metric", "moment", "club", "captured_at"),
    Index("ix_swing_value_found", "academy_id", "metric", "moment", "captured_at", "value"),
)
swing_verdict = Table(
    "swing_verdict",
    metadata,
    _swing(),
    _key("metric"),
    _key("moment"),
    _owner(),
    Column("verdict", String(20), nullable=False),
    Column("range_id", String(60), nullable=False),
    Column("low", Double()),
    Column("high", Double()),
)
swing_finding = Table(
    "swing_finding",
    metadata,
    _swing(),
    _key("finding"),
    _owner(),
    Column("player_id", Uuid(), nullable=False),
    Column("club", String(30), nullable=False),
    Column("captured_at", UtcDateTime(), nullable=False),
    Column("severity", Double(), nullable=False),
    Column("confidence", Double(), nullable=False),
    Column("role", String(20), nullable=False),
    Column("explained_by", String(60)),
    Index("ix_swing_finding_course", "player_id", "finding", "captured_at"),
    Index("ix_swing_finding_found", "academy_id", "finding", "captured_at"),
)
lesson_summary = Table(
    "lesson_summary",
    metadata,
    Column("lesson_id", Uuid(), ForeignKey("lesson.id", ondelete="CASCADE"), primary_key=True),
    _key("club", 30),
    _owner(),
    Column("document", LongText, nullable=False),
)
