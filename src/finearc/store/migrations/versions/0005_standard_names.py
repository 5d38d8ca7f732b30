"""standard names: recording (was take), academy_rules (was house), moment of a block (was event)"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

TABLES = (("take", "recording"), ("house", "academy_rules"))
COLUMNS = (("chunk", "take_id", "recording_id"), ("swing", "take_id", "recording_id"), ("block", "event", "moment"))


def _convention(name: str, renamed: dict[str, str]) -> str:
    for old, new in renamed.items():
        name = name.replace(f"_{old}_", f"_{new}_")
    return name


def _rename(
    tables: tuple[tuple[str, str], ...], columns: tuple[tuple[str, str, str], ...], entities: tuple[str, str]
) -> None:
    """Tables and columns, and every key and index that carries their names. MariaDB keeps foreign keys through a
    rename but not their names, so they are made anew."""
    names = dict(tables) | {old: new for _, old, new in columns if old != "event" and new != "event"}
    for old, new in tables:
        op.rename_table(old, new)
    now = [new for _, new in tables]
    for table, old, new in columns:
        op.execute(f"ALTER TABLE `{table}` RENAME COLUMN `{old}` TO `{new}`")
    looked = sa.inspect(op.get_bind())
    for table in sorted({*now, *(t for t, _, _ in columns)}):
        for key in looked.get_foreign_keys(table):
            name, column = str(key["name"]), key["constrained_columns"][0]
            better = f"fk_{table}_{column}"
            if name != better:
                op.drop_constraint(name, table, type_="foreignkey")
                op.create_foreign_key(better, table, key["referred_table"], [column], ["id"], ondelete="CASCADE")
        for index in looked.get_indexes(table):
            better = _convention(f"{index['name']}_", names).removesuffix("_")
            if index["name"] != better:
                op.execute(f"ALTER TABLE `{table}` RENAME INDEX `{index['name']}` TO `{better}`")
    op.execute(f"UPDATE change_entry SET entity = '{entities[1]}' WHERE entity = '{entities[0]}'")


def upgrade() -> None:
    _rename(TABLES, COLUMNS, ("take", "recording"))


def downgrade() -> None:
    back = tuple((new, old) for old, new in TABLES)
    _rename(back, tuple((t, new, old) for t, old, new in COLUMNS), ("recording", "take"))
