"""a player's own ranges with a club"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None

OF = ("player_id", "club", "metric", "moment")


def upgrade() -> None:
    op.create_table(
        "own_range",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("player_id", sa.Uuid(), sa.ForeignKey("player.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("club", sa.String(30), nullable=False),
        sa.Column("metric", sa.String(60), nullable=False),
        sa.Column("moment", sa.String(60), nullable=False),
        *(sa.Column(name, sa.Double(), nullable=False) for name in ("low", "middle", "high")),
        sa.Column("n", sa.Integer(), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        sa.UniqueConstraint(*OF, name="uq_own_range_player_id_club_metric_moment"),
    )


def downgrade() -> None:
    op.drop_table("own_range")
