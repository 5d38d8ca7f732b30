"""rounds: what a player's clips logged on the course"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB, LONGTEXT

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def _of(parent: str, column: str, table: str) -> sa.ForeignKeyConstraint:
    name = f"fk_{table}_{column}"
    return sa.ForeignKeyConstraint([column], [f"{parent}.id"], name=name, ondelete="CASCADE")


def upgrade() -> None:
    op.create_table(
        "round",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("player_id", sa.Uuid(), nullable=False),
        sa.Column("played_at", DATETIME(fsp=6), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("document", LONGTEXT(), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        _of("academy", "academy_id", "round"),
        _of("player", "player_id", "round"),
        sa.PrimaryKeyConstraint("id", name="pk_round"),
    )
    op.create_index("ix_round_academy_id", "round", ["academy_id"])
    op.create_index("ix_round_player_id", "round", ["player_id"])
    op.create_index("ix_round_played", "round", ["player_id", "played_at"])
    op.create_table(
        "round_log",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("round_id", sa.Uuid(), nullable=False),
        sa.Column("club", sa.String(30), nullable=False),
        sa.Column("columns", LONGBLOB(), nullable=False),
        _of("academy", "academy_id", "round_log"),
        _of("round", "round_id", "round_log"),
        sa.PrimaryKeyConstraint("id", name="pk_round_log"),
        sa.UniqueConstraint("round_id", "club", name="uq_round_log_round_id_club"),
    )
    op.create_index("ix_round_log_academy_id", "round_log", ["academy_id"])
    op.create_index("ix_round_log_round_id", "round_log", ["round_id"])
    op.create_table(
        "round_correction",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("round_id", sa.Uuid(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        _of("academy", "academy_id", "round_correction"),
        _of("round", "round_id", "round_correction"),
        sa.PrimaryKeyConstraint("id", name="pk_round_correction"),
        sa.UniqueConstraint("round_id", "number", name="uq_round_correction_round_id_number"),
    )
    op.create_index("ix_round_correction_academy_id", "round_correction", ["academy_id"])
    op.create_index("ix_round_correction_round_id", "round_correction", ["round_id"])


def downgrade() -> None:
    for table in ("round_correction", "round_log", "round"):
        op.drop_table(table)
