"""Alembic's entry: uses the engine it is given."""

from __future__ import annotations

from alembic import context

from finearc.store.tables import metadata

engine = context.config.attributes["engine"]
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
    connection.commit()
