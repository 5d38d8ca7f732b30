"""what each person of an academy may do, who has left, and links by which people come in"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None

AT = DATETIME(fsp=6)


def _of(parent: str, *, nullable: bool = False) -> sa.Column[object]:
    key = sa.ForeignKey(f"{parent}.id", ondelete="CASCADE")
    return sa.Column(f"{parent}_id", sa.Uuid(), key, nullable=nullable, index=True)


def upgrade() -> None:
    op.add_column("instructor", sa.Column("role", sa.String(20), nullable=False, server_default="instructor"))
    op.add_column("instructor", sa.Column("left_at", AT, nullable=True))
    op.execute("update instructor set role = 'owner'")  # until now everybody could do everything: nobody is locked out
    op.create_table(
        "invitation",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _of("academy"),
        sa.Column("token_hash", sa.String(64), nullable=False, unique=True),
        sa.Column("expires_at", AT, nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("email", sa.String(200), nullable=False),
        sa.Column("role", sa.String(20), nullable=False),
        _of("instructor", nullable=True),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", AT, nullable=False),
        sa.Column("used_at", AT, nullable=True),
    )
    op.create_index("ix_author_academy_at", "author", ["academy_id", "at"])


def downgrade() -> None:
    op.drop_index("ix_author_academy_at", "author")
    op.drop_table("invitation")
    op.drop_column("instructor", "left_at")
    op.drop_column("instructor", "role")
