"""from which distances a lesson's putts are made, and what is looked for in a recording"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("lesson", sa.Column("putt_plan", sa.JSON(), nullable=True))
    op.add_column("recording", sa.Column("shot", sa.String(10), nullable=False, server_default="full"))
    op.execute("UPDATE recording r JOIN swing s ON s.recording_id = r.id SET r.shot = s.shot WHERE s.shot <> r.shot")


def downgrade() -> None:
    op.drop_column("recording", "shot")
    op.drop_column("lesson", "putt_plan")
