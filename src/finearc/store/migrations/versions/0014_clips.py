"""videos of swings, in pieces"""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def _owned(parent: str) -> list[sa.Column[Any]]:
    return [
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column(
            f"{parent}_id", sa.Uuid(), sa.ForeignKey(f"{parent}.id", ondelete="CASCADE"), nullable=False, index=True
        ),
    ]


def upgrade() -> None:
    op.create_table(
        "clip",
        *_owned("lesson"),
        sa.Column("swing_id", sa.Uuid(), sa.ForeignKey("swing.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("view", sa.String(10), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.Column("rate_hz", sa.Double(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("sound", sa.Boolean(), nullable=False),
        sa.Column("impact_s", sa.Double(), nullable=True),
        sa.Column("aligned_by", sa.String(10), nullable=False),
        sa.Column("slower", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
    )
    op.create_table(
        "clip_part",
        *_owned("clip"),
        sa.Column("sequence", sa.Integer(), nullable=False),
        sa.Column("content", LONGBLOB(), nullable=False),
        sa.UniqueConstraint("clip_id", "sequence"),
    )


def downgrade() -> None:
    op.drop_table("clip_part")
    op.drop_table("clip")
