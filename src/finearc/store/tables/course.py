"""What a player does away from the lesson: rounds (what was found, the raw logs, what a person corrected), practice."""

from __future__ import annotations

from sqlalchemy import Boolean, Column, Double, Index, Integer, String, Table, UniqueConstraint, Uuid, text as sql_text

from finearc.store.tables.base import (
    Blob,
    LongText,
    UtcDateTime,
    academy_column,
    belongs_to,
    id_column,
    metadata,
    text,
)

round_ = Table(
    "round",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("player_id", "player"),
    Column("played_at", UtcDateTime(), nullable=False),
    text("name"),
    Column("document", LongText, nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
    Column("aside", Boolean(), nullable=False, server_default=sql_text("0")),
    Column("aside_at", UtcDateTime()),
    Index("ix_round_played", "player_id", "played_at"),
)
round_log = Table(
    "round_log",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("round_id", "round"),
    Column("club", String(30), nullable=False),
    Column("columns", Blob, nullable=False),
    UniqueConstraint("round_id", "club"),
)
round_correction = Table(
    "round_correction",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("round_id", "round"),
    Column("number", Integer(), nullable=False),
    Column("kind", String(10), nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
    UniqueConstraint("round_id", "number"),
)
own_range = Table(
    "own_range",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("player_id", "player"),
    Column("club", String(30), nullable=False),
    Column("metric", String(60), nullable=False),
    Column("moment", String(60), nullable=False),
    Column("low", Double(), nullable=False),
    Column("middle", Double(), nullable=False),
    Column("high", Double(), nullable=False),
    Column("n", Integer(), nullable=False),
    Column("made_at", UtcDateTime(), nullable=False),
    UniqueConstraint("player_id", "club", "metric", "moment"),
)
practice_plan = Table(
    "practice_plan",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("lesson_id", "lesson"),
    belongs_to("player_id", "player"),
    Column("document", LongText, nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
    UniqueConstraint("lesson_id"),
)
practice_answer = Table(
    "practice_answer",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("lesson_id", "lesson"),
    belongs_to("player_id", "player"),
    Column("plan_id", Uuid(), nullable=False),
    Column("key", String(40), nullable=False),
    Column("kind", String(10), nullable=False),
    Column("document", LongText, nullable=False),
    Column("at", UtcDateTime(), nullable=False),
    Column("received_at", UtcDateTime(), nullable=False),
    UniqueConstraint("lesson_id", "key"),
)
