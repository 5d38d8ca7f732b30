"""The application as ./start runs it: what dies is started again, a new academy gets in, a signal ends it all."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import httpx2 as httpx
import pytest
from validation.attack import PASSWORD, Application, Person, _tree

from finearc.launch.mariadb import MariaDb
from finearc.launch.options import is_loopback
from finearc.launch.supervisor import Kept, Supervisor
from tests.conftest import free_port

pytestmark = pytest.mark.slow


@pytest.fixture(scope="module")
def application(tmp_path_factory):
    """With two web processes, so that the way between them is walked too."""
    os.environ["FINEARC_WORKERS"] = "2"
    try:
        running = Application(tmp_path_factory.mktemp("supervised") / "data")
        running.start()
    finally:
        del os.environ["FINEARC_WORKERS"]
    yield running
    running.stop()


@pytest.fixture(autouse=True)
def told(request):
    """What the application said stands beside a test that fails."""
    yield
    if "application" in request.fixturenames:
        running = request.getfixturevalue("application")
        print(running.process and running.process.poll(), (running.folder.parent / "start.log").read_text()[-4000:])


def alive(pid: int) -> bool:
    return Path(f"/proc/{pid}").exists()


def until(happened, patience_s: float = 90.0):
    end = time.monotonic() + patience_s
    while not happened():
        assert time.monotonic() < end, "it did not happen"
        time.sleep(0.1)


@pytest.fixture(scope="module")
def person(application):
    """The first instructor of an academy that the command line made."""
    where = ["--data", str(application.folder), "--db-port", str(application.db_port)]
    given = [sys.executable, "-m", "finearc", "academy", "Attacked", "Anna", "A@attack.example", *where]
    made = subprocess.run(given, input=f"{PASSWORD}\n", capture_output=True, text=True, check=False)
    assert made.returncode == 0, made.stderr
    assert "Anna can sign in as A@attack.example" in made.stdout
    again = subprocess.run(given, input=f"{PASSWORD}\n", capture_output=True, text=True, check=False)
    assert (again.returncode, "there is an account" in again.stderr) == (2, True)
    weak = subprocess.run(
        [*given[:6], "b@attack.example", *where], input="weak\n", capture_output=True, text=True, check=False
    )
    assert (weak.returncode, "12 characters" in weak.stderr) == (2, True)
    with Person.signed_in(application.url) as signed_in:
        yield signed_in


def test_the_databases_passwords_are_made_and_kept_to_their_owner(application, person):
    assert oct((application.folder / "database.secret").stat().st_mode)[-3:] == "600"
    assert oct((application.folder / "log").stat().st_mode)[-3:] == "700"
    commands = b"".join(Path(f"/proc/{p}/cmdline").read_bytes() for p in _tree(application.process.pid))
    for account in ("finearc", "finearc_owner"):
        assert application.database().password(account).encode() not in commands


def test_the_application_may_change_rows_and_nothing_else(application, person):
    from sqlalchemy import create_engine, text
    from sqlalchemy.exc import DBAPIError

    engine = create_engine(f"{application.database().url}/finearc")
    for statement in (
        "drop table player",
        "create table x (a int)",
        "alter table player add x int",
        "select * from mysql.user",
        "grant all on *.* to finearc",
    ):
        with pytest.raises(DBAPIError), engine.begin() as connection:
            connection.execute(text(statement))
    engine.dispose()


def test_a_capture_is_asked_for_in_any_process_and_seen_in_all(application, person):
    """Connections fall on either process: swings come whichever is asked."""
    application.put_on_stand_ins(person)
    lesson_id = person.lesson("Shared")
    answer = person.send("POST", f"/api/lessons/{lesson_id}/recordings", json={"scenario": "hold-then-flex", "seed": 3})
    assert answer.status_code == 201, answer.text

    def swing() -> bool:
        fresh = httpx.post  # a connection of its own each time
        cookies = dict(person.client.cookies)
        path = f"{application.url}/api/lessons/{lesson_id}/stand-in/swings"
        return fresh(path, json={"count": 1}, cookies=cookies, headers={"x-csrf-token": person.csrf}).status_code == 200

    until(swing)
    until(lambda: len(person.swings(lesson_id)) >= 1)


def test_a_web_process_and_a_database_that_are_killed_are_started_again(application, person):
    lesson_id = person.lesson("Killed")
    for _ in range(2):
        os.kill(application.web(), signal.SIGKILL)
        application.wait()
        assert swings_of(application, lesson_id) == []
    server = int((application.folder / "mariadb.pid").read_text())
    os.kill(server, signal.SIGKILL)
    until(lambda: not alive(server))
    application.wait()
    assert int((application.folder / "mariadb.pid").read_text()) != server
    until(lambda: swings_of(application, lesson_id) == [])


def test_what_was_erased_is_overwritten_without_anybodys_doing(application, person):
    application.wait()  # what was killed before may still be on its way
    with Person.signed_in(application.url) as who:
        made = who.send("POST", "/api/players", json={"name": "Quillon Ferrywright"}).json()
        assert any(p.is_file() and b"Quillon Ferrywright" in read(p) for p in application.folder.rglob("*"))
        who.send("DELETE", f"/api/players/{made['id']}").raise_for_status()
    until(lambda: not any(p.is_file() and b"Quillon Ferrywright" in read(p) for p in application.folder.rglob("*")))


def swings_of(application, lesson_id) -> list[str] | None:
    """None while a person who signs in is told to try again."""
    try:
        with Person.signed_in(application.url) as who:
            return who.swings(lesson_id)
    except (httpx.HTTPError, KeyError):
        return None


def read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError:  # a file of the server's that has just gone
        return b""


def test_a_signal_ends_everything(tmp_path):
    """An application of its own: the tests of this module come in any order."""
    running = Application(tmp_path / "data")
    running.start()
    every = [*_tree(running.process.pid), int((running.folder / "mariadb.pid").read_text())]
    assert len(every) >= 4
    running.process.terminate()
    assert running.process.wait(40) == 0
    until(
        lambda: (
            not any(alive(p) and b"Z" not in Path(f"/proc/{p}/stat").read_bytes().split(b")")[-1][:3] for p in every)
        )
    )


def test_a_process_that_says_why_it_cannot_start_is_not_started_again(tmp_path, monkeypatch):
    monkeypatch.setattr(MariaDb, "alive", True)
    refusing = Kept("It", [sys.executable, "-c", "raise SystemExit(2)"])
    supervisor = Supervisor(MariaDb(tmp_path, free_port()), [refusing], print)
    refusing.start()
    refusing.process.wait()
    assert supervisor._look() == 2


def test_a_taken_port_is_said(capsys):
    import socket

    from finearc.launch.__main__ import main as launch

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        given, sys.argv = sys.argv, ["x", "--port", str(port)]
        try:
            assert launch() == 2
        finally:
            sys.argv = given
    assert f"Port {port} is taken" in capsys.readouterr().err


def test_only_loopback_is_loopback():
    assert [is_loopback(h) for h in ("127.0.0.1", "localhost", "::1", "0.0.0.0", "192.0.2.1")] == [True] * 3 + [
        False
    ] * 2
