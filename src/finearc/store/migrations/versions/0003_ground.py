"""pressure mats and force plates"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("take", sa.Column("mat_set", sa.JSON(none_as_null=True), nullable=True))
    op.add_column("take", sa.Column("mat_shift_s", sa.Double(), nullable=True))
    op.add_column("take", sa.Column("plate_set", sa.JSON(none_as_null=True), nullable=True))
    ground = sa.LargeBinary().with_variant(mysql.LONGBLOB(), "mysql", "mariadb")
    op.add_column("swing", sa.Column("ground", ground, nullable=False, server_default=""))
    op.alter_column("swing", "ground", existing_type=mysql.LONGBLOB(), existing_nullable=False, server_default=None)
    op.add_column("swing", sa.Column("split_m", sa.Double(), nullable=True))
    op.add_column("swing", sa.Column("guess", sa.JSON(none_as_null=True), nullable=True))


def downgrade() -> None:
    for name in ("guess", "split_m", "ground"):
        op.drop_column("swing", name)
    for name in ("plate_set", "mat_shift_s", "mat_set"):
        op.drop_column("take", name)
