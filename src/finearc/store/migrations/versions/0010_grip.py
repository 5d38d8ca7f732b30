"""a grip that changed is asked about, and what is answered is kept; standing up and dipping are two findings"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

OLD, UP, DOWN = "posture_change", "stands_up", "dips"
RESTS_ON = "v.metric = 'posture_from_ground' AND v.moment = 'address..top'"


def upgrade() -> None:
    op.add_column("swing", sa.Column("grip_change", sa.JSON(), nullable=True))
    op.add_column("swing", sa.Column("grip_answer", sa.String(10), nullable=False, server_default=""))
    op.alter_column("swing", "grip_answer", existing_type=sa.String(10), server_default=None)
    op.execute(
        f"UPDATE swing_finding f SET f.finding = CASE WHEN EXISTS (SELECT 1 FROM swing_value v WHERE {RESTS_ON} "
        f"AND v.swing_id = f.swing_id AND v.value < 0) THEN '{DOWN}' ELSE '{UP}' END WHERE f.finding = '{OLD}'"
    )
    for table in ("priority", "block"):
        op.execute(
            f"UPDATE {table} p SET p.finding = CASE WHEN (SELECT AVG(v.value) FROM swing_value v JOIN swing s "
            f"ON s.id = v.swing_id WHERE {RESTS_ON} AND s.lesson_id = p.lesson_id) < 0 THEN '{DOWN}' ELSE '{UP}' END "
            f"WHERE p.finding = '{OLD}'"
        )
    op.execute(f"DELETE FROM lesson_summary WHERE document LIKE '%{OLD}%'")  # made anew when the lesson is opened
    both = f'"{UP}", "{DOWN}"'
    for table in ("academy_rules", "own_rules"):
        for column in ("findings", "drills"):
            op.execute(f"UPDATE {table} SET {column} = REPLACE({column}, '\"{OLD}\"', '{both}')")


def downgrade() -> None:
    for table in ("swing_finding", "priority", "block"):
        op.execute(f"UPDATE {table} SET finding = '{OLD}' WHERE finding IN ('{UP}', '{DOWN}')")
    op.execute(f"DELETE FROM lesson_summary WHERE document LIKE '%{UP}%' OR document LIKE '%{DOWN}%'")
    op.drop_column("swing", "grip_answer")
    op.drop_column("swing", "grip_change")
