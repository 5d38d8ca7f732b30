"""how long an academy keeps what"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None

AT = DATETIME(fsp=6)


def upgrade() -> None:
    academy = sa.ForeignKey("academy.id", ondelete="CASCADE")
    op.create_table(
        "keeping_period",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), academy, nullable=False, unique=True),
        *(sa.Column(name, sa.Integer(), nullable=False) for name in ("raw_months", "lessons_months", "walk_ins_days")),
        sa.Column("changed_at", AT, nullable=False),
    )
    op.add_column("recording", sa.Column("raw_gone_at", AT, nullable=True))


def downgrade() -> None:
    op.drop_column("recording", "raw_gone_at")
    op.drop_table("keeping_period")
