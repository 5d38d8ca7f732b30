"""The diary beside the lessons: rules, who waits, busy times, feeds, courses of lessons."""

from __future__ import annotations

from sqlalchemy import JSON, Column, Date, ForeignKey, Integer, String, Table, UniqueConstraint, Uuid

from finearc.store.tables.base import LongText, UtcDateTime, academy_column, belongs_to, id_column, metadata, text

diary_rules = Table(
    "diary_rules",
    metadata,
    id_column(),
    Column("academy_id", Uuid(), ForeignKey("academy.id", ondelete="CASCADE"), nullable=False),
    Column("document", LongText, nullable=False),
    Column("bookings", Integer(), nullable=False),
    UniqueConstraint("academy_id"),
)
waiting = Table(
    "waiting",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("player_id", "player"),
    belongs_to("instructor_id", "instructor", nullable=True),
    Column("first", Date(), nullable=False),
    Column("last", Date(), nullable=False),
    Column("weekdays", JSON(), nullable=False),
    Column("from_minute", Integer(), nullable=False),
    Column("until_minute", Integer(), nullable=False),
    Column("minutes", Integer(), nullable=False),
    text("note", 500),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
)
busy_calendar = Table(
    "busy_calendar",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("instructor_id", "instructor"),
    text("name"),
    Column("spans", JSON(), nullable=False),
    Column("until", UtcDateTime(), nullable=False),
    Column("remarks", JSON(), nullable=False),
    Column("made_at", UtcDateTime(), nullable=False),
)
calendar_feed = Table(
    "calendar_feed",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("instructor_id", "instructor"),
    Column("token_hash", String(64), nullable=False, unique=True),
    Column("made_at", UtcDateTime(), nullable=False),
    Column("used_at", UtcDateTime()),
)
package = Table(
    "package",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("player_id", "player"),
    text("name"),
    Column("lessons", Integer(), nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
)
