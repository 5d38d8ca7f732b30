"""an academy's own ranges, findings, drills and references"""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

MOMENT = mysql.DATETIME(fsp=6)


def _owner(*, unique: bool = False) -> list[Any]:
    return [
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column(
            "academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, unique=unique
        ),
    ]


def upgrade() -> None:
    blob = sa.LargeBinary().with_variant(mysql.LONGBLOB(), "mysql", "mariadb")
    op.add_column("movement_limit", sa.Column("comfortable", sa.Double(), nullable=True))
    op.add_column("lesson", sa.Column("benchmarks", sa.String(120), nullable=False, server_default=""))
    op.alter_column("lesson", "benchmarks", existing_type=sa.String(120), existing_nullable=False, server_default=None)
    op.add_column("lesson", sa.Column("planned", sa.Boolean(), nullable=False, server_default=sa.text("0")))
    op.alter_column("lesson", "planned", existing_type=sa.Boolean(), existing_nullable=False, server_default=None)
    op.add_column("swing", sa.Column("measured", blob, nullable=False, server_default=""))
    op.alter_column("swing", "measured", existing_type=mysql.LONGBLOB(), existing_nullable=False, server_default=None)
    op.add_column("swing", sa.Column("tags", sa.JSON(), nullable=False, server_default="[]"))
    op.alter_column("swing", "tags", existing_type=sa.JSON(), existing_nullable=False, server_default=None)
    op.create_table(
        "house",
        *_owner(unique=True),
        sa.Column("schools", sa.JSON(), nullable=False),
        sa.Column("benchmarks", sa.String(120), nullable=False),
        sa.Column("findings", sa.JSON(), nullable=False),
        sa.Column("drills", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
    )
    op.create_table(
        "benchmark_version",
        *_owner(),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("based_on", sa.String(120), nullable=False),
        sa.Column("entries", sa.JSON(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("retired_at", MOMENT, nullable=True),
        sa.UniqueConstraint("academy_id", "name", "number", name="uq_benchmark_version_academy_id_name_number"),
    )
    op.create_index("ix_benchmark_version_academy_id", "benchmark_version", ["academy_id"])
    op.create_table(
        "reference",
        *_owner(),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("form", sa.String(20), nullable=False),
        sa.Column("club", sa.String(30), nullable=False),
        sa.Column("swings", sa.Integer(), nullable=False),
        sa.Column("players", sa.Integer(), nullable=False),
        sa.Column("traces", blob, nullable=False),
        sa.Column("player_id", sa.Uuid(), sa.ForeignKey("player.id", ondelete="CASCADE"), nullable=True),
        sa.Column("best", sa.JSON(), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
    )
    op.create_index("ix_reference_academy_id", "reference", ["academy_id"])
    op.create_index("ix_reference_player_id", "reference", ["player_id"])


def downgrade() -> None:
    for name in ("reference", "benchmark_version", "house"):
        op.drop_table(name)
    for name in ("tags", "measured"):
        op.drop_column("swing", name)
    for name in ("planned", "benchmarks"):
        op.drop_column("lesson", name)
    op.drop_column("movement_limit", "comfortable")
