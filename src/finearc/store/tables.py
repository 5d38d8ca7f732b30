"""Tables and their mapping onto the services' records."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import (
    JSON,
    Boolean,
    Column,
    Date,
    Double,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    Text,
    UniqueConstraint,
    Uuid,
)
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB, LONGTEXT
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import deferred, registry
from sqlalchemy.types import TypeDecorator

from finearc.services import records as r

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


Blob = LargeBinary().with_variant(LONGBLOB(), "mysql", "mariadb")


def _id() -> Column[Any]:
    return Column("id", Uuid(), primary_key=True)


def _academy() -> Column[Any]:
    return Column("academy_id", Uuid(), ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True)


def _of(name: str, target: str, *, nullable: bool = False) -> Column[Any]:
    return Column(name, Uuid(), ForeignKey(f"{target}.id", ondelete="CASCADE"), nullable=nullable, index=True)


def _text(name: str, size: int = 200) -> Column[Any]:
    return Column(name, String(size), nullable=False, default="")


academy = Table("academy", metadata, _id(), Column("name", String(200), nullable=False), _text("time_zone", 60))
bay = Table(
    "bay",
    metadata,
    _id(),
    _academy(),
    _text("name", 60),
    Column("place", Integer(), nullable=False),
    UniqueConstraint("academy_id", "name"),
)
instructor = Table(
    "instructor",
    metadata,
    _id(),
    _academy(),
    _text("name"),
    Column("email", String(200), nullable=False, unique=True),
    _text("password_hash", 300),
)
sign_in = Table(
    "sign_in",
    metadata,
    _id(),
    _academy(),
    _of("instructor_id", "instructor"),
    Column("token_hash", String(64), nullable=False, unique=True),
    _text("csrf", 64),
    Column("expires_at", UtcDateTime(), nullable=False),
)
player = Table(
    "player",
    metadata,
    _id(),
    _academy(),
    _text("name"),
    _text("handedness", 10),
    Column("height_m", Double()),
    _text("population", 20),
    Column("goals", Text(), nullable=False),
    Column("usual_miss", Text(), nullable=False),
    Column("schools", JSON(), nullable=False),
    Column("consent_at", UtcDateTime()),
    _text("consent_by"),
    Column("walk_in", Boolean(), nullable=False),
    Column("created_at", UtcDateTime(), nullable=False),
)
movement_limit = Table(
    "movement_limit",
    metadata,
    _id(),
    _academy(),
    _of("player_id", "player"),
    _text("area", 40),
    _text("side", 10),
    _text("movement", 40),
    Column("from_date", Date()),
    Column("until_date", Date()),
    Column("note", Text(), nullable=False),
    Column("comfortable", Double()),
)
lesson = Table(
    "lesson",
    metadata,
    _id(),
    _academy(),
    _of("player_id", "player"),
    _of("instructor_id", "instructor"),
    _text("bay", 60),
    Column("starts_at", UtcDateTime(), nullable=False, index=True),
    Column("ends_at", UtcDateTime(), nullable=False),
    _text("status", 20),
    _text("club", 30),
    _text("kind", 20),
    Column("block_id", Uuid()),
    _text("pain", 10),
    Column("pain_note", Text(), nullable=False),
    Column("pinned", JSON(), nullable=False),
    Column("note", Text(), nullable=False),
    Column("next_date", Date()),
    Column("closed_at", UtcDateTime()),
    _text("benchmarks", 120),
    Column("planned", Boolean(), nullable=False),
    Column("schools", JSON(none_as_null=True)),
    Column("rules_revision", Integer()),
    Index("ix_lesson_diary", "academy_id", "starts_at"),
    Index("ix_lesson_player", "player_id", "starts_at"),
)
recording = Table(
    "recording",
    metadata,
    _id(),
    _academy(),
    _of("lesson_id", "lesson"),
    Column("number", Integer(), nullable=False),
    _text("source", 40),
    _text("handedness", 10),
    Column("glove", Boolean(), nullable=False),
    Column("segments", JSON(), nullable=False),
    Column("poses", JSON(), nullable=False),
    Column("functional", JSON(none_as_null=True)),
    Column("uprights", JSON(), nullable=False),
    Column("bow", JSON(none_as_null=True)),
    Column("marker_set", JSON(none_as_null=True)),
    Column("mat_set", JSON(none_as_null=True)),
    Column("mat_shift_s", Double()),
    Column("plate_set", JSON(none_as_null=True)),
    Column("calibration", JSON(none_as_null=True)),
    Column("setup", JSON(none_as_null=True)),
    Column("warnings", JSON(), nullable=False),
    _text("scenario", 60),
    Column("seed", Integer(), nullable=False),
    Column("created_at", UtcDateTime(), nullable=False),
    UniqueConstraint("lesson_id", "number"),
)
chunk = Table(
    "chunk",
    metadata,
    _id(),
    _academy(),
    _of("recording_id", "recording"),
    _text("segment", 30),
    Column("sequence", Integer(), nullable=False),
    _text("key", 80),
    Column("columns", Blob, nullable=False),
    UniqueConstraint("recording_id", "segment", "key"),
)
marker_preset = Table(
    "marker_preset",
    metadata,
    _id(),
    _academy(),
    _text("name"),
    Column("label_key", String(64), nullable=False),
    _text("handedness", 10),
    Column("names", JSON(), nullable=False),
    Column("axes", JSON(), nullable=False),
    Column("used_at", UtcDateTime(), nullable=False),
    UniqueConstraint("academy_id", "label_key", "handedness"),
)
swing = Table(
    "swing",
    metadata,
    _id(),
    _academy(),
    _of("lesson_id", "lesson"),
    _of("recording_id", "recording"),
    _of("player_id", "player"),
    Column("number", Integer(), nullable=False),
    Column("start_s", Double(), nullable=False),
    Column("end_s", Double(), nullable=False),
    _text("kind", 20),
    _text("club", 30),
    _text("shot", 20),
    _text("discard_reason"),
    _text("ball_start", 10),
    _text("ball_curve", 10),
    _text("strike", 20),
    Column("block_id", Uuid()),
    Column("checkpoints_corrected", JSON(), nullable=False),
    Column("tags", JSON(), nullable=False),
    Column("split_m", Double()),
    Column("guess", JSON(none_as_null=True)),
    Column("sensor_moved", Boolean(), nullable=False),
    Column("measuring", Integer(), nullable=False),
    Column("captured_at", UtcDateTime(), nullable=False),
    UniqueConstraint("lesson_id", "number"),
    Index("ix_swing_player_time", "player_id", "club", "captured_at"),
    Index("ix_swing_club", "academy_id", "club", "captured_at"),
)


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
)
lesson_summary = Table(
    "lesson_summary",
    metadata,
    Column("lesson_id", Uuid(), ForeignKey("lesson.id", ondelete="CASCADE"), primary_key=True),
    _key("club", 30),
    _owner(),
    Column("document", Text().with_variant(LONGTEXT(), "mysql", "mariadb"), nullable=False),
)
block = Table(
    "block",
    metadata,
    _id(),
    _academy(),
    _of("lesson_id", "lesson"),
    _text("kind", 20),
    _text("finding", 60),
    _text("metric", 60),
    _text("moment", 60),
    _text("drill", 60),
    _text("club", 30),
    Column("started_at", UtcDateTime(), nullable=False),
    Column("ended_at", UtcDateTime()),
)
priority = Table(
    "priority",
    metadata,
    _id(),
    _academy(),
    _of("lesson_id", "lesson"),
    Column("rank", Integer(), nullable=False),
    _text("finding", 60),
    _text("label"),
    _text("drill", 60),
    Column("why", Text(), nullable=False),
    Column("override_reason", Text(), nullable=False),
)
change_entry = Table(
    "change_entry",
    metadata,
    _id(),
    _academy(),
    _of("lesson_id", "lesson"),
    Column("sequence", Integer(), nullable=False),
    _text("label"),
    _text("entity", 30),
    Column("entity_id", Uuid()),
    Column("before", JSON(), nullable=False),
    Column("after", JSON(), nullable=False),
    Column("undone", Boolean(), nullable=False),
    Column("at", UtcDateTime(), nullable=False),
    Index("ix_change_entry_order", "lesson_id", "sequence"),
)
academy_rules = Table(
    "academy_rules",
    metadata,
    _id(),
    Column("academy_id", Uuid(), ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, unique=True),
    Column("schools", JSON(), nullable=False),
    _text("benchmarks", 120),
    Column("findings", JSON(), nullable=False),
    Column("drills", JSON(), nullable=False),
    Column("revision", Integer(), nullable=False),
)
own_rules = Table(
    "own_rules",
    metadata,
    _id(),
    _academy(),
    Column("revision", Integer(), nullable=False),
    Column("findings", JSON(), nullable=False),
    Column("drills", JSON(), nullable=False),
    Column("saved_at", UtcDateTime(), nullable=False),
    UniqueConstraint("academy_id", "revision"),
)
benchmark_version = Table(
    "benchmark_version",
    metadata,
    _id(),
    _academy(),
    _text("name", 80),
    Column("number", Integer(), nullable=False),
    _text("based_on", 120),
    Column("entries", JSON(), nullable=False),
    Column("note", Text(), nullable=False),
    _text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
    Column("retired_at", UtcDateTime()),
    UniqueConstraint("academy_id", "name", "number"),
)
reference = Table(
    "reference",
    metadata,
    _id(),
    _academy(),
    _text("name"),
    _text("form", 20),
    _text("club", 30),
    Column("swings", Integer(), nullable=False),
    Column("players", Integer(), nullable=False),
    Column("traces", Blob, nullable=False),
    _of("player_id", "player", nullable=True),
    Column("best", JSON(), nullable=False),
    _text("made_by"),
    Column("made_at", UtcDateTime(), nullable=False),
)

MAPPED: dict[type[Any], Table] = {
    r.Academy: academy,
    r.Bay: bay,
    r.Instructor: instructor,
    r.SignIn: sign_in,
    r.Player: player,
    r.MovementLimit: movement_limit,
    r.Lesson: lesson,
    r.Recording: recording,
    r.Chunk: chunk,
    r.MarkerPreset: marker_preset,
    r.Swing: swing,
    r.Block: block,
    r.Priority: priority,
    r.ChangeEntry: change_entry,
    r.AcademyRules: academy_rules,
    r.OwnRules: own_rules,
    r.BenchmarkVersion: benchmark_version,
    r.Reference: reference,
}
_mapper = registry(metadata=metadata)
LARGE = {"chunk": ("columns",), "reference": ("traces",)}
"""Blocks of bytes that are read only when they are asked for, not with every record of a lesson."""
_done: list[bool] = []


def map_records() -> None:
    """Tie records and tables together, once."""
    if _done:
        return
    for kind, table in MAPPED.items():
        large = {name: deferred(table.c[name]) for name in LARGE.get(table.name, ())}
        _mapper.map_imperatively(kind, table, properties=large)
    _done.append(True)
