"""markers, body poses and figures"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from finearc.store.tables import UtcDateTime

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("take", sa.Column("uprights", sa.JSON(), nullable=False, server_default="[]"))
    op.add_column("take", sa.Column("bow", sa.JSON(none_as_null=True), nullable=True))
    op.add_column("take", sa.Column("marker_set", sa.JSON(none_as_null=True), nullable=True))
    figure = sa.LargeBinary().with_variant(mysql.LONGBLOB(), "mysql", "mariadb")
    op.add_column("swing", sa.Column("figure", figure, nullable=False, server_default=""))
    op.alter_column("take", "uprights", existing_type=sa.JSON(), existing_nullable=False, server_default=None)
    op.alter_column("swing", "figure", existing_type=mysql.LONGBLOB(), existing_nullable=False, server_default=None)
    op.create_table(
        "marker_preset",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("label_key", sa.String(length=64), nullable=False),
        sa.Column("handedness", sa.String(length=10), nullable=False),
        sa.Column("names", sa.JSON(), nullable=False),
        sa.Column("axes", sa.JSON(), nullable=False),
        sa.Column("used_at", UtcDateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["academy_id"], ["academy.id"], name=op.f("fk_marker_preset_academy_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_marker_preset")),
        sa.UniqueConstraint(
            "academy_id", "label_key", "handedness", name=op.f("uq_marker_preset_academy_id_label_key_handedness")
        ),
    )
    op.create_index(op.f("ix_marker_preset_academy_id"), "marker_preset", ["academy_id"], unique=False)


def downgrade() -> None:
    op.drop_table("marker_preset")
    op.drop_column("swing", "figure")
    for name in ("marker_set", "bow", "uprights"):
        op.drop_column("take", name)
