"""tokens with which devices send into a bay"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "bay_token",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("bay_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("token_hash", sa.String(64), nullable=False),
        sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("used_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(
            ["academy_id"], ["academy.id"], name=op.f("fk_bay_token_academy_id"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["bay_id"], ["bay.id"], name=op.f("fk_bay_token_bay_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_bay_token")),
        sa.UniqueConstraint("token_hash", name=op.f("uq_bay_token_token_hash")),
    )
    op.create_index(op.f("ix_bay_token_academy_id"), "bay_token", ["academy_id"])
    op.create_index(op.f("ix_bay_token_bay_id"), "bay_token", ["bay_id"])


def downgrade() -> None:
    op.drop_table("bay_token")
