"""Brings the database's tables to the newest version."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError

from finearc.core.errors import FineArcError

MIGRATIONS = Path(__file__).parent / "migrations"


def config_for(engine: Engine) -> Config:
    """Alembic's settings for an engine."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine
    return config


def upgrade(engine: Engine) -> None:
    """To the newest version."""
    command.upgrade(config_for(engine), "head")


@dataclass
class NoDatabase(FineArcError):
    """Nothing answers at an address, or what answers is of another version."""

    problem: str
    advice: str
    code = "no_database"

    def __str__(self) -> str:
        return f"{self.problem}. {self.advice}"


def refuse_unless_current(engine: Engine) -> None:
    """Raises ``NoDatabase`` when no database answers, or its tables are not of this version."""
    newest = ScriptDirectory.from_config(config_for(engine)).get_current_head()
    try:
        with engine.connect() as connection:
            found = MigrationContext.configure(connection).get_current_revision()
    except OperationalError as error:
        raise NoDatabase("no database answers there", "Start the application, or name its --url") from error
    if found != newest:
        raise NoDatabase(f"its tables are of version {found}, not {newest}", "Start the application once")


def downgrade(engine: Engine, revision: str) -> None:
    """Back to an older version."""
    command.downgrade(config_for(engine), revision)
