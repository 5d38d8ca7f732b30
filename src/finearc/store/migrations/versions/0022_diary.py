"""the diary: rules, who waits, busy times, feeds, courses of lessons"""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME, LONGTEXT

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None

AT = DATETIME(fsp=6)
TABLES = ("package", "calendar_feed", "busy_calendar", "waiting", "diary_rules")


def _owned() -> list[sa.Column[Any]]:
    return [
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True),
    ]


def _of(parent: str, *, nullable: bool = False) -> sa.Column[Any]:
    key = sa.ForeignKey(f"{parent}.id", ondelete="CASCADE")
    return sa.Column(f"{parent}_id", sa.Uuid(), key, nullable=nullable, index=True)


def _text(name: str, size: int = 200) -> sa.Column[Any]:
    return sa.Column(name, sa.String(size), nullable=False)


def upgrade() -> None:
    op.add_column("lesson", sa.Column("sensor_set", sa.String(60), nullable=False, server_default=""))
    op.add_column("lesson", sa.Column("markers", sa.Boolean(), nullable=False, server_default=sa.text("0")))
    op.add_column("lesson", sa.Column("series_id", sa.Uuid(), nullable=True))
    op.add_column("lesson", sa.Column("package_id", sa.Uuid(), nullable=True))
    op.add_column("lesson", sa.Column("cancel_reason", sa.String(200), nullable=False, server_default=""))
    op.create_index("ix_lesson_package_id", "lesson", ["package_id"])
    op.create_table(
        "diary_rules",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", LONGTEXT(), nullable=False),
        sa.Column("bookings", sa.Integer(), nullable=False),
        sa.UniqueConstraint("academy_id", name="uq_diary_rules_academy_id"),
    )
    op.create_table(
        "waiting",
        *_owned(),
        _of("player"),
        _of("instructor", nullable=True),
        sa.Column("first", sa.Date(), nullable=False),
        sa.Column("last", sa.Date(), nullable=False),
        sa.Column("weekdays", sa.JSON(), nullable=False),
        sa.Column("from_minute", sa.Integer(), nullable=False),
        sa.Column("until_minute", sa.Integer(), nullable=False),
        sa.Column("minutes", sa.Integer(), nullable=False),
        _text("note", 500),
        _text("made_by"),
        sa.Column("made_at", AT, nullable=False),
    )
    op.create_table(
        "busy_calendar",
        *_owned(),
        _of("instructor"),
        _text("name"),
        sa.Column("spans", sa.JSON(), nullable=False),
        sa.Column("until", AT, nullable=False),
        sa.Column("remarks", sa.JSON(), nullable=False),
        sa.Column("made_at", AT, nullable=False),
    )
    op.create_table(
        "calendar_feed",
        *_owned(),
        _of("instructor"),
        sa.Column("token_hash", sa.String(64), nullable=False, unique=True),
        sa.Column("made_at", AT, nullable=False),
        sa.Column("used_at", AT, nullable=True),
    )
    op.create_table(
        "package",
        *_owned(),
        _of("player"),
        _text("name"),
        sa.Column("lessons", sa.Integer(), nullable=False),
        _text("made_by"),
        sa.Column("made_at", AT, nullable=False),
    )


def downgrade() -> None:
    for table in TABLES:
        op.drop_table(table)
    op.drop_index("ix_lesson_package_id", "lesson")
    for column in ("cancel_reason", "package_id", "series_id", "markers", "sensor_set"):
        op.drop_column("lesson", column)
