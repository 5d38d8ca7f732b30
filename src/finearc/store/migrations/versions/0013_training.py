"""what was trained with live feedback, kept with its block; codes with which screens follow a bay"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("block", sa.Column("training", sa.JSON(), nullable=True))
    op.add_column("bay_token", sa.Column("purpose", sa.String(10), nullable=False, server_default="send"))
    op.alter_column("bay_token", "purpose", existing_type=sa.String(10), existing_nullable=False, server_default=None)


def downgrade() -> None:
    op.drop_column("bay_token", "purpose")
    op.drop_column("block", "training")
