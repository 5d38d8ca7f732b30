"""what a player says of practice by a private link"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME, LONGTEXT

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None

OF = ("academy", "lesson", "player")


def _of(parent: str) -> sa.ForeignKeyConstraint:
    column = f"{parent}_id"
    return sa.ForeignKeyConstraint([column], [f"{parent}.id"], name=f"fk_practice_answer_{column}", ondelete="CASCADE")


def upgrade() -> None:
    op.add_column("share_link", sa.Column("purpose", sa.String(10), nullable=False, server_default="page"))
    op.create_table(
        "practice_answer",
        sa.Column("id", sa.Uuid(), nullable=False),
        *(sa.Column(f"{parent}_id", sa.Uuid(), nullable=False) for parent in OF),
        sa.Column("plan_id", sa.Uuid(), nullable=False),
        sa.Column("key", sa.String(40), nullable=False),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("document", LONGTEXT(), nullable=False),
        sa.Column("at", DATETIME(fsp=6), nullable=False),
        sa.Column("received_at", DATETIME(fsp=6), nullable=False),
        *map(_of, OF),
        sa.PrimaryKeyConstraint("id", name="pk_practice_answer"),
        sa.UniqueConstraint("lesson_id", "key", name="uq_practice_answer_lesson_id_key"),
    )
    for parent in OF:
        op.create_index(f"ix_practice_answer_{parent}_id", "practice_answer", [f"{parent}_id"])


def downgrade() -> None:
    op.drop_table("practice_answer")
    op.drop_column("share_link", "purpose")
