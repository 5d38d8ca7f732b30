"""an import that is undone is set aside, so that it can come back"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("recording", "swing"):
        op.add_column(table, sa.Column("aside", sa.Boolean(), nullable=False, server_default=sa.false()))
        op.alter_column(table, "aside", existing_type=sa.Boolean(), existing_nullable=False, server_default=None)


def downgrade() -> None:
    op.execute("DELETE FROM recording WHERE aside")  # an older version would show it
    for table in ("swing", "recording"):
        op.drop_column(table, "aside")
