"""from which distances a lesson's putts are made"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("lesson", sa.Column("putt_plan", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("lesson", "putt_plan")
