"""Brings the database's tables to the newest version."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Literal

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine
from sqlalchemy.exc import DBAPIError, OperationalError

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


@lru_cache(maxsize=1)
def newest() -> str | None:
    """The version that this release makes."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return ScriptDirectory.from_config(config).get_current_head()


def revisions() -> set[str]:
    """The versions of the tables that this release knows."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return {script.revision for script in ScriptDirectory.from_config(config).walk_revisions()}


def revision_of(engine: Engine) -> str | None:
    """The version of a database's tables, None where it has none yet."""
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision()


def refuse_unless_current(engine: Engine) -> None:
    """Raises ``NoDatabase`` when no database answers, or its tables are not of this version."""
    wanted = newest()
    try:
        found = revision_of(engine)
    except OperationalError as error:
        raise NoDatabase("no database answers there", "Start the application, or name its --url") from error
    if found != wanted:
        raise NoDatabase(f"its tables are of version {found}, not {wanted}", "Start the application once")


def is_ready(engine: Engine) -> Literal["ok", "away", "other version"]:
    """Whether a database answers with tables of this version."""
    try:
        refuse_unless_current(engine)
    except NoDatabase as error:
        return "away" if error.__cause__ is not None else "other version"
    except DBAPIError:
        return "away"
    return "ok"


def downgrade(engine: Engine, revision: str) -> None:
    """Back to an older version."""
    command.downgrade(config_for(engine), revision)
