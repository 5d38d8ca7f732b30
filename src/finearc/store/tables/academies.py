"""An academy: who belongs to it, and what it has chosen for itself."""

from __future__ import annotations

from sqlalchemy import (
    JSON,
    Boolean,
    Column,
    Date,
    Double,
    ForeignKey,
    Index,
    Integer,
    String,
    Table,
    Text,
    UniqueConstraint,
    Uuid,
)

from finearc.store.tables.base import Blob, UtcDateTime, academy_column, belongs_to, id_column, metadata, text

USUAL_MANNER = {"language": "en", "lengths": "cm", "distances": "m", "clock": "24"}
"""How an academy speaks where it has chosen nothing."""
academy = Table(
    "academy",
    metadata,
    id_column(),
    Column("name", String(200), nullable=False),
    text("time_zone", 60),
    *(Column(name, String(8), nullable=False, server_default=usual) for name, usual in USUAL_MANNER.items()),
)
bay = Table(
    "bay",
    metadata,
    id_column(),
    academy_column(),
    text("name", 60),
    Column("place", Integer(), nullable=False),
    UniqueConstraint("academy_id", "name"),
)
bay_token = Table(
    "bay_token",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("bay_id", "bay"),
    text("name", 60),
    Column("token_hash", String(64), nullable=False, unique=True),
    Column("made_at", UtcDateTime(), nullable=False),
    Column("used_at", UtcDateTime(), nullable=True),
    text("purpose", 10),
)
instructor = Table(
    "instructor",
    metadata,
    id_column(),
    academy_column(),
    text("name"),
    Column("email", String(200), nullable=False, unique=True),
    Column("email_key", String(200, collation="utf8mb4_bin"), nullable=False, unique=True),
    text("password_hash", 300),
)
sign_in = Table(
    "sign_in",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("instructor_id", "instructor"),
    Column("token_hash", String(64), nullable=False, unique=True),
    text("csrf", 64),
    Column("expires_at", UtcDateTime(), nullable=False),
    Column("made_at", UtcDateTime(), nullable=False),
    Column("seen_at", UtcDateTime(), nullable=False),
    text("agent", 80),
)
throttle = Table(
    "throttle",
    metadata,
    Column("name", String(64, collation="ascii_bin"), primary_key=True),
    Column("hits", Integer(), nullable=False),
    Column("ends_s", Double(), nullable=False, index=True),
)
author = Table(
    "author",
    metadata,
    id_column(),
    academy_column(),
    Column("instructor_id", Uuid(), nullable=False),
    text("what", 30),
    Column("of_id", Uuid(), nullable=False),
    text("how", 10),
    text("fields", 400),
    Column("at", UtcDateTime(), nullable=False),
    Index("ix_author_of_id", "of_id", "at"),
)
player = Table(
    "player",
    metadata,
    id_column(),
    academy_column(),
    text("name"),
    text("handedness", 10),
    Column("height_m", Double()),
    text("population", 20),
    Column("goals", Text(), nullable=False),
    Column("usual_miss", Text(), nullable=False),
    Column("schools", JSON(), nullable=False),
    Column("consent_at", UtcDateTime()),
    text("consent_by"),
    Column("walk_in", Boolean(), nullable=False),
    Column("words", String(10), nullable=False, server_default="plain"),
    *(Column(name, String(8), nullable=False, server_default="") for name in USUAL_MANNER),
    Column("created_at", UtcDateTime(), nullable=False),
)
consent = Table(
    "consent",
    metadata,
    id_column(),
    academy_column(),
    Column("player_id", Uuid(), ForeignKey("player.id", ondelete="CASCADE"), nullable=False),
    Column("given", Boolean(), nullable=False),
    text("by"),
    text("as_", 20),
    text("purpose"),
    text("noted_by"),
    Column("at", UtcDateTime(), nullable=False),
    Index("ix_consent_player_id", "player_id", "at"),
)
made_of = Table(
    "made_of",
    metadata,
    Column("what", String(20), primary_key=True),
    Column("of_id", Uuid(), primary_key=True),
    Column("player_id", Uuid(), ForeignKey("player.id", ondelete="CASCADE"), primary_key=True, index=True),
    Column("academy_id", Uuid(), nullable=False),
)
movement_limit = Table(
    "movement_limit",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("player_id", "player"),
    text("area", 40),
    text("side", 10),
    text("movement", 40),
    Column("from_date", Date()),
    Column("until_date", Date()),
    Column("note", Text(), nullable=False),
    Column("comfortable", Double()),
)
marker_preset = Table(
    "marker_preset",
    metadata,
    id_column(),
    academy_column(),
    text("name"),
    Column("label_key", String(64), nullable=False),
    text("handedness", 10),
    Column("names", JSON(), nullable=False),
    Column("axes", JSON(), nullable=False),
    Column("used_at", UtcDateTime(), nullable=False),
    UniqueConstraint("academy_id", "label_key", "handedness"),
)
academy_rules = Table(
    "academy_rules",
    metadata,
    id_column(),
    Column("academy_id", Uuid(), ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, unique=True),
    Column("schools", JSON(), nullable=False),
    text("benchmarks", 120),
    Column("findings", JSON(), nullable=False),
    Column("drills", JSON(), nullable=False),
    Column("revision", Integer(), nullable=False),
)
own_rules = Table(
    "own_rules",
    metadata,
    id_column(),
    academy_column(),
    Column("revision", Integer(), nullable=False),
    Column("findings", JSON(), nullable=False),
    Column("drills", JSON(), nullable=False),
    Column("saved_at", UtcDateTime(), nullable=False),
    UniqueConstraint("academy_id", "revision"),
)
benchmark_version = Table(
    "benchmark_version",
    metadata,
    id_column(),
    academy_column(),
    text("name", 80),
    Column("number", Integer(), nullable=False),
    text("based_on", 120),
    Column("entries", JSON(), nullable=False),
    Column("note", Text(), nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
    Column("retired_at", UtcDateTime()),
    UniqueConstraint("academy_id", "name", "number"),
)
reference = Table(
    "reference",
    metadata,
    id_column(),
    academy_column(),
    text("name"),
    text("form", 20),
    text("club", 30),
    Column("swings", Integer(), nullable=False),
    Column("players", Integer(), nullable=False),
    Column("traces", Blob, nullable=False),
    belongs_to("player_id", "player", nullable=True),
    Column("best", JSON(), nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
)
saved_search = Table(
    "saved_search",
    metadata,
    id_column(),
    academy_column(),
    text("name", 120),
    Column("query", Text(), nullable=False),
    text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
)
