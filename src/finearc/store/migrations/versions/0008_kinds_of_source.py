"""what the columns of each kind of source mean stands in one place, so that a new kind needs no column"""

from __future__ import annotations

import json

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

COLUMNS = {"markers": "marker_set", "pressure": "mat_set", "plates": "plate_set"}


def upgrade() -> None:
    op.add_column("recording", sa.Column("described", sa.JSON(), nullable=True))
    bind = op.get_bind()
    recording = sa.table("recording", *(sa.column(c) for c in ("id", "described", *COLUMNS.values())))
    for row in bind.execute(sa.select(recording)).mappings():
        found = {key: json.loads(row[column]) for key, column in COLUMNS.items() if row[column] is not None}
        bind.execute(recording.update().where(recording.c.id == row["id"]).values(described=json.dumps(found)))
    op.alter_column("recording", "described", existing_type=sa.JSON(), nullable=False)
    for column in COLUMNS.values():
        op.drop_column("recording", column)


def downgrade() -> None:
    for column in COLUMNS.values():
        op.add_column("recording", sa.Column(column, sa.JSON(), nullable=True))
    bind = op.get_bind()
    recording = sa.table("recording", *(sa.column(c) for c in ("id", "described", *COLUMNS.values())))
    for row in bind.execute(sa.select(recording)).mappings():
        found = json.loads(row["described"])
        kept = {column: json.dumps(found[key]) for key, column in COLUMNS.items() if key in found}
        if kept:
            bind.execute(recording.update().where(recording.c.id == row["id"]).values(**kept))
    op.drop_column("recording", "described")
