"""long work is written down: jobs, their input, swings measured again that wait to be accepted"""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

MOMENT = mysql.DATETIME(fsp=6)
BLOB = sa.LargeBinary().with_variant(mysql.LONGBLOB(), "mysql", "mariadb")


def _academy() -> sa.Column[Any]:
    return sa.Column(
        "academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True
    )


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _academy(),
        sa.Column("kind", sa.String(30), nullable=False),
        sa.Column("subject", sa.JSON(), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("lesson_id", sa.Uuid(), sa.ForeignKey("lesson.id", ondelete="CASCADE"), index=True),
        sa.Column("state", sa.String(20), nullable=False, index=True),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(200), nullable=False),
        sa.Column("answer", sa.JSON(none_as_null=True)),
        sa.Column("code", sa.String(40), nullable=False),
        sa.Column("message", sa.Text(), nullable=False),
        sa.Column("cancel_wanted", sa.Boolean(), nullable=False),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("created_at", MOMENT, nullable=False),
        sa.Column("started_at", MOMENT),
        sa.Column("ended_at", MOMENT),
        sa.Index("ix_job_order", "academy_id", "created_at"),
    )
    op.create_table(
        "job_input",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _academy(),
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("sequence", sa.Integer(), nullable=False),
        sa.Column("content", BLOB, nullable=False),
        sa.UniqueConstraint("job_id", "sequence"),
    )
    op.create_table(
        "swing_offer",
        sa.Column("job_id", sa.Uuid(), sa.ForeignKey("job.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("swing_id", sa.Uuid(), sa.ForeignKey("swing.id", ondelete="CASCADE"), primary_key=True, index=True),
        sa.Column("kind", sa.String(20), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("measuring", sa.Integer(), nullable=False),
        sa.Column("content", BLOB, nullable=False),
    )


def downgrade() -> None:
    for table in ("swing_offer", "job_input", "job"):
        op.drop_table(table)
