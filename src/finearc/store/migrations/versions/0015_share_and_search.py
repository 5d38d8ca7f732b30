"""links to share, saved searches, tags and values that can be searched for, and how a player is written to"""

from __future__ import annotations

import json
from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import DATETIME

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def _owned() -> list[sa.Column[Any]]:
    return [
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True),
    ]


def upgrade() -> None:
    op.add_column("player", sa.Column("words", sa.String(10), nullable=False, server_default="plain"))
    op.add_column("player", sa.Column("lengths", sa.String(4), nullable=False, server_default="cm"))
    op.create_table(
        "share_link",
        *_owned(),
        sa.Column("lesson_id", sa.Uuid(), sa.ForeignKey("lesson.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("token_hash", sa.String(64), nullable=False, unique=True),
        sa.Column("expires_at", DATETIME(fsp=6), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
        sa.Column("revoked_at", DATETIME(fsp=6), nullable=True),
        sa.Column("opened", sa.Integer(), nullable=False),
        sa.Column("opened_at", DATETIME(fsp=6), nullable=True),
    )
    op.create_table(
        "saved_search",
        *_owned(),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("query", sa.Text(), nullable=False),
        sa.Column("made_by", sa.String(200), nullable=False),
        sa.Column("made_at", DATETIME(fsp=6), nullable=False),
    )
    op.create_table(
        "swing_tag",
        sa.Column("swing_id", sa.Uuid(), sa.ForeignKey("swing.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("tag", sa.String(60), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("captured_at", DATETIME(fsp=6), nullable=False),
    )
    op.create_index("ix_swing_tag_found", "swing_tag", ["academy_id", "tag", "captured_at"])
    op.create_index("ix_swing_time", "swing", ["academy_id", "captured_at"])
    op.create_index("ix_swing_finding_found", "swing_finding", ["academy_id", "finding", "captured_at"])
    op.create_index("ix_swing_value_found", "swing_value", ["academy_id", "metric", "moment", "captured_at", "value"])
    _tags()


def _tags() -> None:
    """Tags that stand in the swings' own rows so far."""
    connection = op.get_bind()
    rows = connection.execute(
        sa.text("SELECT id, academy_id, tags, captured_at FROM swing WHERE JSON_LENGTH(tags) > 0")
    ).all()
    insert = sa.text(
        "INSERT INTO swing_tag (swing_id, tag, academy_id, captured_at) VALUES (:swing, :tag, :academy, :at)"
    )
    for swing, academy, tags, at in rows:
        for tag in dict.fromkeys(str(t)[:60] for t in json.loads(tags)):
            connection.execute(insert, {"swing": swing, "tag": tag, "academy": academy, "at": at})


def downgrade() -> None:
    op.drop_index("ix_swing_value_found", "swing_value")
    op.drop_index("ix_swing_finding_found", "swing_finding")
    op.drop_index("ix_swing_time", "swing")
    op.drop_table("swing_tag")
    op.drop_table("saved_search")
    op.drop_table("share_link")
    op.drop_column("player", "lengths")
    op.drop_column("player", "words")
