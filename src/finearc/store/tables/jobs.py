"""Long work: jobs, what they work on, and what they offer."""

from __future__ import annotations

from sqlalchemy import JSON, Boolean, Column, ForeignKey, Index, Integer, String, Table, Text, UniqueConstraint, Uuid

from finearc.store.tables.base import Blob, UtcDateTime, academy_column, belongs_to, id_column, metadata, text

job = Table(
    "job",
    metadata,
    id_column(),
    academy_column(),
    text("kind", 30),
    Column("subject", JSON(), nullable=False),
    text("made_by"),
    belongs_to("lesson_id", "lesson", nullable=True),
    Column("state", String(20), nullable=False, index=True),
    Column("total", Integer(), nullable=False),
    Column("done", Integer(), nullable=False),
    text("step"),
    Column("answer", JSON(none_as_null=True)),
    text("code", 40),
    Column("message", Text(), nullable=False),
    Column("cancel_wanted", Boolean(), nullable=False),
    Column("attempts", Integer(), nullable=False),
    Column("created_at", UtcDateTime(), nullable=False),
    Column("started_at", UtcDateTime()),
    Column("ended_at", UtcDateTime()),
    Index("ix_job_order", "academy_id", "created_at"),
)
job_input = Table(
    "job_input",
    metadata,
    id_column(),
    academy_column(),
    belongs_to("job_id", "job"),
    Column("sequence", Integer(), nullable=False),
    Column("content", Blob, nullable=False),
    UniqueConstraint("job_id", "sequence"),
)
swing_offer = Table(
    "swing_offer",
    metadata,
    Column("job_id", Uuid(), ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
    Column("swing_id", Uuid(), ForeignKey("swing.id", ondelete="CASCADE"), primary_key=True, index=True),
    Column("kind", String(20), primary_key=True),
    Column("academy_id", Uuid(), nullable=False),
    Column("measuring", Integer(), nullable=False),
    Column("content", Blob, nullable=False),
)
