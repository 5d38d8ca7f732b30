"""what a player practises between lessons"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME, LONGTEXT

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def _of(parent: str) -> sa.ForeignKeyConstraint:
    column = f"{parent}_id"
    return sa.ForeignKeyConstraint([column], [f"{parent}.id"], name=f"fk_practice_plan_{column}", ondelete="CASCADE")


def upgrade() -> None:
    op.create_table(
        "practice_plan",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("lesson_id", sa.Uuid(), nullable=False),
        sa.Column("player_id", sa.Uuid(), nullable=False),
        sa.Column("document", LONGTEXT(), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        _of("academy"),
        _of("lesson"),
        _of("player"),
        sa.PrimaryKeyConstraint("id", name="pk_practice_plan"),
        sa.UniqueConstraint("lesson_id", name="uq_practice_plan_lesson_id"),
    )
    for column in ("academy_id", "lesson_id", "player_id"):
        op.create_index(f"ix_practice_plan_{column}", "practice_plan", [column])


def downgrade() -> None:
    op.drop_table("practice_plan")
