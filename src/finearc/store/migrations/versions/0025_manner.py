"""in which language, units and clock an academy and what goes home to a player speak"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None

USUAL = {"language": "en", "lengths": "cm", "distances": "m", "clock": "24"}


def upgrade() -> None:
    for name, usual in USUAL.items():
        op.add_column("academy", sa.Column(name, sa.String(8), nullable=False, server_default=usual))
    for name in ("language", "distances", "clock"):
        op.add_column("player", sa.Column(name, sa.String(8), nullable=False, server_default=""))
    # lengths that were chosen for a player stay: centimetres are the academy's own until it says otherwise
    op.alter_column(
        "player",
        "lengths",
        existing_type=sa.String(4),
        type_=sa.String(8),
        existing_nullable=False,
        server_default="",
        existing_server_default="cm",
    )
    op.execute("update player set lengths = '' where lengths = 'cm'")


def downgrade() -> None:
    op.execute("update player set lengths = 'cm' where lengths = ''")
    op.alter_column(
        "player",
        "lengths",
        existing_type=sa.String(8),
        type_=sa.String(4),
        existing_nullable=False,
        server_default="cm",
        existing_server_default="",
    )
    for name in ("language", "distances", "clock"):
        op.drop_column("player", name)
    for name in USUAL:
        op.drop_column("academy", name)
