"""Fixtures shared by all tests: one MariaDB a worker's session, on its own port."""

from __future__ import annotations

import os
import shutil
import socket
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from finearc.launch.mariadb import MariaDb
from tests.simulated import keep_between_runs

keep_between_runs()  # before any test module takes the model's functions

# the same examples on every machine, and no clock: a busy machine must not fail a test
settings.register_profile("finearc", deadline=None, derandomize=True)
settings.load_profile("finearc")


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def mariadb() -> Iterator[MariaDb]:
    """A real MariaDB with its own data folder."""
    folder = Path(tempfile.mkdtemp(prefix="finearc-test-"))
    server = MariaDb(folder, free_port(), durable=False)
    server.start()
    try:
        yield server
    finally:
        server.stop()
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def database_url(mariadb: MariaDb, request: pytest.FixtureRequest) -> str:
    """An empty database for one test."""
    worker = os.environ.get("PYTEST_XDIST_WORKER", "main")
    return mariadb.create(f"finearc_{worker}")
