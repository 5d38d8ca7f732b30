"""second factors, whether an academy asks its owners for one, and whose players are whose"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None

AT = DATETIME(fsp=6)
CHOICES = ("owners_second_factor", "own_players")


def _of(parent: str, *, index: bool = True, unique: bool = False) -> sa.Column[object]:
    key = sa.ForeignKey(f"{parent}.id", ondelete="CASCADE")
    return sa.Column(f"{parent}_id", sa.Uuid(), key, nullable=False, index=index, unique=unique)


def upgrade() -> None:
    for name in CHOICES:
        op.add_column("academy", sa.Column(name, sa.Boolean(), nullable=False, server_default="0"))
    op.create_table(
        "second_factor",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _of("academy"),
        _of("instructor", index=False, unique=True),
        sa.Column("secret", sa.String(64), nullable=False),
        sa.Column("confirmed_at", AT, nullable=True),
        sa.Column("last_step", sa.BigInteger(), nullable=False),
        sa.Column("paper", sa.JSON(), nullable=False),
    )
    op.create_table(
        "own_player",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _of("academy"),
        _of("player"),
        _of("instructor", index=False),
        sa.Column("shared_by", sa.String(200), nullable=False),
        sa.Column("at", AT, nullable=False),
        sa.UniqueConstraint("instructor_id", "player_id"),
    )


def downgrade() -> None:
    op.drop_table("own_player")
    op.drop_table("second_factor")
    for name in CHOICES:
        op.drop_column("academy", name)
