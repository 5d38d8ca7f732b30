"""what is noted of putts: of each, and of the session"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("recording", sa.Column("green_speed_ft", sa.Double(), nullable=True))
    op.add_column("recording", sa.Column("putter_grip", sa.String(200), nullable=False, server_default=""))
    op.add_column("recording", sa.Column("face_grip_bias_deg", sa.Double(), nullable=True))
    op.add_column("swing", sa.Column("distance_m", sa.Double(), nullable=True))
    op.add_column("swing", sa.Column("outcome", sa.String(10), nullable=False, server_default=""))
    op.add_column("swing", sa.Column("rolled_past_m", sa.Double(), nullable=True))
    op.add_column("swing", sa.Column("slope", sa.String(10), nullable=False, server_default=""))
    op.add_column("swing", sa.Column("breaks", sa.String(20), nullable=False, server_default=""))


def downgrade() -> None:
    for name in ("breaks", "slope", "rolled_past_m", "outcome", "distance_m"):
        op.drop_column("swing", name)
    for name in ("face_grip_bias_deg", "putter_grip", "green_speed_ft"):
        op.drop_column("recording", name)
