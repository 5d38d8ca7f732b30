"""what is known of the putter: its measures, and about what its pendulum is to turn"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("recording", sa.Column("putter", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("recording", "putter")
