"""a grip that changed is asked about, and what is answered is kept"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("swing", sa.Column("grip_change", sa.JSON(), nullable=True))
    op.add_column("swing", sa.Column("grip_answer", sa.String(10), nullable=False, server_default=""))
    op.alter_column("swing", "grip_answer", existing_type=sa.String(10), server_default=None)


def downgrade() -> None:
    op.drop_column("swing", "grip_answer")
    op.drop_column("swing", "grip_change")
