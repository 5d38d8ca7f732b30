"""sign-in counted, sessions listed, consents with their history, authors of changes, whose swings kept things hold"""

from __future__ import annotations

import unicodedata
import uuid
from datetime import UTC, datetime

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

EXACT = "utf8mb4_bin"


def _key(email: str) -> str:
    """As it was normalised when this migration was written."""
    return unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", email.strip()).casefold())


def upgrade() -> None:
    bind = op.get_bind()
    present = datetime.now(UTC).replace(tzinfo=None)
    op.add_column("instructor", sa.Column("email_key", sa.String(200, collation=EXACT), nullable=True))
    people = sa.table("instructor", sa.column("id"), sa.column("email"), sa.column("email_key"))
    for row in bind.execute(sa.select(people.c.id, people.c.email)).all():
        bind.execute(people.update().where(people.c.id == row.id).values(email_key=_key(row.email)))
    op.alter_column("instructor", "email_key", existing_type=sa.String(200, collation=EXACT), nullable=False)
    op.create_unique_constraint("uq_instructor_email_key", "instructor", ["email_key"])
    for name, column in (("made_at", mysql.DATETIME(fsp=6)), ("seen_at", mysql.DATETIME(fsp=6))):
        op.add_column("sign_in", sa.Column(name, column, nullable=True))
    sessions = sa.table("sign_in", sa.column("made_at"), sa.column("seen_at"))
    bind.execute(sessions.update().values(made_at=present, seen_at=present))
    for name in ("made_at", "seen_at"):
        op.alter_column("sign_in", name, existing_type=mysql.DATETIME(fsp=6), nullable=False)
    op.add_column("sign_in", sa.Column("agent", sa.String(80), nullable=False, server_default=""))
    op.alter_column("sign_in", "agent", existing_type=sa.String(80), existing_nullable=False, server_default=None)
    op.create_table(
        "throttle",
        sa.Column("name", sa.String(64, collation="ascii_bin"), primary_key=True),
        sa.Column("hits", sa.Integer(), nullable=False),
        sa.Column("ends_s", sa.Double(), nullable=False),
        mysql_charset="utf8mb4",
    )
    op.create_index("ix_throttle_ends_s", "throttle", ["ends_s"])
    op.add_column("change_entry", sa.Column("made_by", sa.Uuid(), nullable=True))
    op.add_column("recording", sa.Column("live", sa.JSON(), nullable=True))
    _consents(bind)
    _authors_and_origins()


def _consents(bind: sa.Connection) -> None:
    op.create_table(
        "consent",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False),
        sa.Column("player_id", sa.Uuid(), sa.ForeignKey("player.id", ondelete="CASCADE"), nullable=False),
        sa.Column("given", sa.Boolean(), nullable=False),
        sa.Column("by", sa.String(200), nullable=False),
        sa.Column("as_", sa.String(20), nullable=False),
        sa.Column("purpose", sa.String(200), nullable=False),
        sa.Column("noted_by", sa.String(200), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        mysql_charset="utf8mb4",
    )
    op.create_index("ix_consent_academy_id", "consent", ["academy_id"])
    op.create_index("ix_consent_player_id", "consent", ["player_id", "at"])
    player = sa.table("player", *(sa.column(c) for c in ("id", "academy_id", "population", "consent_by", "consent_at")))
    consent = sa.table(
        "consent",
        sa.column("id", sa.Uuid()),
        *(sa.column(c) for c in ("academy_id", "player_id", "given", "by", "as_", "purpose", "noted_by", "at")),
    )
    for row in bind.execute(sa.select(player).where(player.c.consent_at.is_not(None))).all():
        own = "guardian" if row.population == "junior" else "player"
        told = {
            "given": True,
            "by": row.consent_by,
            "as_": own,
            "purpose": "lessons",
            "noted_by": "",
            "at": row.consent_at,
        }
        bind.execute(consent.insert().values(id=uuid.uuid4(), academy_id=row.academy_id, player_id=row.id, **told))


def _authors_and_origins() -> None:
    op.create_table(
        "author",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False),
        sa.Column("instructor_id", sa.Uuid(), nullable=False),
        sa.Column("what", sa.String(30), nullable=False),
        sa.Column("of_id", sa.Uuid(), nullable=False),
        sa.Column("how", sa.String(10), nullable=False),
        sa.Column("fields", sa.String(400), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        mysql_charset="utf8mb4",
    )
    op.create_index("ix_author_academy_id", "author", ["academy_id"])
    op.create_index("ix_author_of_id", "author", ["of_id", "at"])
    op.create_table(
        "made_of",
        sa.Column("what", sa.String(20), primary_key=True),
        sa.Column("of_id", sa.Uuid(), primary_key=True),
        sa.Column("player_id", sa.Uuid(), sa.ForeignKey("player.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("academy_id", sa.Uuid(), nullable=False),
        mysql_charset="utf8mb4",
    )
    op.create_index("ix_made_of_player_id", "made_of", ["player_id"])
    bind = op.get_bind()
    # whose swing a kept one was stood in its name alone
    bind.execute(
        sa.text(
            "insert ignore into made_of (what, of_id, player_id, academy_id) "
            "select 'reference', r.id, p.id, r.academy_id from reference r join player p "
            "on p.academy_id = r.academy_id and (p.id = r.player_id or "
            "(p.name <> '' and locate(concat(p.name, ', swing'), r.name) = 1))"
        )
    )


def downgrade() -> None:
    for table in ("made_of", "author", "consent"):
        op.drop_table(table)
    op.drop_column("recording", "live")
    op.drop_column("change_entry", "made_by")
    op.drop_table("throttle")
    for column in ("agent", "seen_at", "made_at"):
        op.drop_column("sign_in", column)
    op.drop_constraint("uq_instructor_email_key", "instructor", type_="unique")
    op.drop_column("instructor", "email_key")
