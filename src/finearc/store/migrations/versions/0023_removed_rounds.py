"""a round that was removed can be brought back for a while"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("round", sa.Column("aside", sa.Boolean(), nullable=False, server_default=sa.text("0")))
    op.add_column("round", sa.Column("aside_at", DATETIME(fsp=6), nullable=True))


def downgrade() -> None:
    op.drop_column("round", "aside_at")
    op.drop_column("round", "aside")
