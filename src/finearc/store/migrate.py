"""Brings the database's tables to the newest version."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine

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


def downgrade(engine: Engine, revision: str) -> None:
    """Back to an older version."""
    command.downgrade(config_for(engine), revision)
