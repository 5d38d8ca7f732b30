"""A backup while lessons run, restored elsewhere and compared; who was erased stays erased; what cannot be restored
touches nothing."""

from __future__ import annotations

import shutil
import threading
from datetime import datetime

import pytest
from sqlalchemy import text
from starlette.testclient import TestClient

from finearc import __version__
from finearc.api.app import create_app
from finearc.cli.main import main
from finearc.keeping import backup as making
from finearc.keeping.backup import back_up
from finearc.keeping.erased import note_erased, remember
from finearc.keeping.errors import BackupTrouble
from finearc.keeping.folder import PIECES, BackupFolder
from finearc.keeping.restore import restore, try_restore
from finearc.keeping.trial import sample_measured_again
from finearc.launch.mariadb import MariaDb, port_is_free
from finearc.main import prepare, wire
from finearc.services.records import Academy, Instructor, Player, Swing
from finearc.store.migrate import revision_of, revisions, upgrade
from finearc.store.unit_of_work import Store, engine_for
from tests.api.conftest import PASSWORD, Browser, bundle, drop, new_lesson
from tests.store.test_released import statements

EMAIL = "keeps@example.test"


def free_port() -> int:
    return next(p for p in range(43610, 43990, 2) if port_is_free(p) and port_is_free(p + 1))


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    """A data folder whose database runs."""
    database = MariaDb(tmp_path_factory.mktemp("data") / "here", free_port())
    database.start()
    upgrade(engine_for(f"{database.owner_url}/finearc?charset=utf8mb4"))
    yield database
    database.stop()


@pytest.fixture(scope="module")
def browser(data):
    """An owner of an academy in it, with a lesson of measured swings."""
    services = wire(f"{data.url}/finearc?charset=utf8mb4")
    services.hosts = ("testserver",)
    with services.store.front_door() as door:
        academy = Academy("Kept")
        door.add(academy)
        door.add(Instructor(academy.id, "Kay", EMAIL, services.hasher.hash(PASSWORD), role="owner"))
    with TestClient(create_app(services), base_url="http://127.0.0.1") as client:
        opened = Browser(client)
        assert opened.sign_in(EMAIL).status_code == 200
        lesson = new_lesson(opened, "Ilse Marrow")
        drop(opened, lesson, bundle("over-extended", 11, sources=("wrist", "club")))
        opened.post(f"/lessons/{lesson}/close", {"priorities": []})
        yield opened
    services.jobs.pool.close()
    services.store.engine.dispose()


@pytest.fixture
def elsewhere(tmp_path):
    return tmp_path / "elsewhere"


def opened(folder, port):
    """A restored data folder's database, running."""
    database = MariaDb(folder, port)
    database.start()
    return database, Store(engine_for(f"{database.url}/finearc?charset=utf8mb4"))


def everything(store, kind):
    with store.front_door() as door:
        academies = [a.id for a in door.academies()]
    found = []
    for academy_id in academies:
        with store.unit_of_work(academy_id) as uow:
            found += uow.find(kind)
    return found


def test_all_that_was_kept_is_back_and_measures_the_same(data, browser, tmp_path, elsewhere):
    waiting = data.folder / "handed-over" / "bay" / "log.zip"
    waiting.parent.mkdir(parents=True, exist_ok=True)
    waiting.write_bytes(b"somebody's round")
    folder = BackupFolder(tmp_path / "backups", make=True)
    first = back_up(data, folder)
    assert first.backup.rows["swing"] > 0
    assert first.backup.rows.keys().isdisjoint({"sign_in", "throttle"})
    second = back_up(data, folder)
    assert second.written == 0, "nothing changed: nothing is kept twice"
    drop(browser, new_lesson(browser, "Corin Hale"), bundle("over-extended", 12, sources=("wrist",)))
    third = back_up(data, folder)
    assert 0 < third.written < first.written
    assert set(first.backup.pieces) & set(third.backup.pieces)

    done = restore(folder, elsewhere, free_port())
    assert (done.rows, done.again) == (sum(third.backup.rows.values()), 0)
    assert done.same.values > 100
    assert done.same.changed == 0
    assert (elsewhere / "handed-over" / "bay" / "log.zip").read_bytes() == b"somebody's round"
    database, store = opened(elsewhere, free_port())
    try:
        again = back_up(database, folder)
        assert again.written == 0, "a backup of what was restored is the backup it was made of"
        assert again.backup.pieces == third.backup.pieces
        services = wire(f"{database.url}/finearc?charset=utf8mb4")
        with TestClient(create_app(services), base_url="http://127.0.0.1") as client:
            theirs = Browser(client)
            assert theirs.get("/me").status_code == 401, "nobody is signed in after a restore"
            assert theirs.sign_in(EMAIL).status_code == 200, "the password is the one it was"
            assert {p["name"] for p in theirs.get("/players").json()} == {"Ilse Marrow", "Corin Hale"}
        services.jobs.pool.close()
        services.store.engine.dispose()
    finally:
        store.engine.dispose()
        database.stop()
    early = restore(folder, tmp_path / "early", free_port(), at=datetime.fromisoformat(first.backup.made_at))
    assert early.backup.rows["player"] == 1, "as it was before the second player came"


def test_whoever_was_erased_since_is_erased_again_and_in_no_file(data, browser, tmp_path, elsewhere):
    """Also from a backup made before the erasure."""
    lesson = new_lesson(browser, "Zebedee Quillfeather")
    drop(browser, lesson, bundle("over-extended", 13, sources=("wrist",)))
    player_id = browser.lesson(lesson)["player"]["id"]
    folder = BackupFolder(tmp_path / "backups", make=True)
    before = back_up(data, folder).backup
    assert any(b"Zebedee Quillfeather" in folder.get(name) for name in before.pieces)
    remember(data.folder, folder.path)
    remember(data.folder, tmp_path / "on a disk that is away")
    assert browser.send("DELETE", f"/players/{player_id}").status_code == 200
    away = note_erased(data.folder, browser.client.app.state.services.store.engine)
    assert away == [tmp_path / "on a disk that is away"]
    assert player_id in {e["id"] for e in folder.erased()}, "noted at once, not with the next backup"

    done = restore(folder, elsewhere, free_port(), at=datetime.fromisoformat(before.made_at))
    assert done.again == 1, "the player, and with the player every lesson"
    held = [p for p in elsewhere.rglob("*") if p.is_file() and b"Quillfeather" in p.read_bytes()]
    assert held == []
    database, store = opened(elsewhere, free_port())
    try:
        assert "Zebedee Quillfeather" not in {p.name for p in everything(store, Player)}
    finally:
        store.engine.dispose()
        database.stop()


def test_a_backup_is_one_moment_while_lessons_go_on(data, browser, tmp_path, elsewhere, monkeypatch):
    """Players and their lessons are written all the while; none comes back in halves."""
    stop, made = threading.Event(), []

    def go_on():
        while not stop.is_set():
            made.append(new_lesson(browser, f"Player {len(made)}"))

    writer = threading.Thread(target=go_on)
    slow = making.pieces

    def slowly(lines):
        for piece in slow(lines):
            stop.wait(0.02)
            yield piece

    monkeypatch.setattr(making, "pieces", slowly)
    folder = BackupFolder(tmp_path / "backups", make=True)
    writer.start()
    try:
        while len(made) < 3:
            stop.wait(0.05)
        backup = back_up(data, folder).backup
    finally:
        stop.set()
        writer.join()
    assert len(made) > 3
    restore(folder, elsewhere, free_port())
    database, store = opened(elsewhere, free_port())
    try:
        with store.engine.connect() as connection:
            lost = connection.scalar(
                text("select count(*) from lesson left join player on player.id = player_id where player.id is null")
            )
            assert lost == 0
            assert connection.scalar(text("select count(*) from player")) == backup.rows["player"]
    finally:
        store.engine.dispose()
        database.stop()


def test_what_cannot_be_restored_is_refused_and_nothing_is_touched(data, browser, tmp_path, elsewhere):
    del browser
    folder = BackupFolder(tmp_path / "backups", make=True)
    backup = back_up(data, folder).backup
    full = tmp_path / "full"
    full.mkdir()
    (full / "mine.txt").write_text("mine")
    with pytest.raises(BackupTrouble, match="nothing is overwritten"):
        restore(folder, full, free_port())
    assert [p.name for p in full.iterdir()] == ["mine.txt"]

    copied = tmp_path / "newer"
    shutil.copytree(folder.path, copied)
    newer = BackupFolder(copied)
    newer.add(type(backup)(**{**vars(backup), "revision": "9999", "release": "99.0"}))
    with pytest.raises(BackupTrouble, match=r"newer release \(99.0\)"):
        restore(newer, elsewhere, free_port())

    fewer = tmp_path / "fewer"
    shutil.copytree(folder.path, fewer)
    other = BackupFolder(fewer)
    other.add(type(backup)(**{**vars(backup), "rows": {**backup.rows, "swing": backup.rows["swing"] + 1}}))
    with pytest.raises(BackupTrouble, match="swing has"):
        restore(other, elsewhere, free_port())

    place = sorted((folder.path / PIECES).glob("*/*"))[-1]
    place.write_bytes(place.read_bytes()[:-1])
    with pytest.raises(BackupTrouble, match="damaged"):
        restore(folder, elsewhere, free_port())
    place.unlink()
    with pytest.raises(BackupTrouble, match="missing"):
        restore(folder, elsewhere, free_port())
    assert not elsewhere.exists()
    assert not list(tmp_path.glob(".*"))


def test_values_that_read_otherwise_are_seen(data, browser):
    """The sample says so where this engine's own values are not what it measures now."""
    del browser
    store = Store(engine_for(f"{data.owner_url}/finearc?charset=utf8mb4"))
    assert sample_measured_again(store).changed == 0
    swing = everything(store, Swing)[0]
    with store.engine.begin() as connection:
        moved = text("update recording set poses = json_array() where id = :k")
        kept = connection.scalar(text("select poses from recording where id = :k"), {"k": swing.recording_id})
        connection.execute(moved, {"k": swing.recording_id})
    try:
        told = None
        with pytest.raises(BackupTrouble, match="read otherwise"):
            told = sample_measured_again(store)
        assert told is None
    finally:
        with store.engine.begin() as connection:
            connection.execute(
                text("update recording set poses = :p where id = :k"), {"p": kept, "k": swing.recording_id}
            )
        store.engine.dispose()


def test_the_command_makes_lists_tries_and_brings_back(data, browser, tmp_path, capsys):
    del browser
    secret = tmp_path / "passphrase"
    secret.write_text("ferry lantern walnut\n")
    here = ["--data", str(data.folder), "--db-port", str(data.port), "--passphrase-file", str(secret)]
    backups = str(tmp_path / "backups")
    assert main(["backup", backups, *here, "--verify", "--keep-days", "30"]) == 0
    told = capsys.readouterr().out
    assert f"by {__version__}" in told
    assert "read the same" in told
    assert main(["backup", backups, *here, "--list"]) == 0
    assert "verified 20" in capsys.readouterr().out
    assert main(["backup", backups, *here[:4], "--list"]) == 2
    assert "encrypted" in capsys.readouterr().err
    there = ["--data", str(tmp_path / "there"), "--db-port", str(free_port()), "--passphrase-file", str(secret)]
    assert main(["restore", backups, *there, "--at", "yesterday"]) == 2
    assert "is no time" in capsys.readouterr().err
    assert main(["restore", backups, *there]) == 0
    assert "./start --data" in capsys.readouterr().out
    assert main(["restore", backups, *there]) == 2
    assert "nothing is overwritten" in capsys.readouterr().err
    for held in (tmp_path / "backups").rglob("*"):
        assert not held.is_file() or b"Ilse" not in held.read_bytes()


def test_a_trial_leaves_nothing_behind_and_is_noted(data, browser, tmp_path):
    del browser
    folder = BackupFolder(tmp_path / "backups", make=True)
    back_up(data, folder)
    try_restore(folder, tmp_path / "data", free_port())
    assert folder.backups()[-1].verified_at
    assert [p.name for p in tmp_path.iterdir()] == ["backups"]


def test_before_the_tables_change_what_an_earlier_release_kept_is_backed_up(tmp_path):
    """And a backup of that release is brought up to date when it is restored."""
    database = MariaDb(tmp_path / "old", free_port())
    database.start()
    try:
        owner = engine_for(f"{database.owner_url}/finearc?charset=utf8mb4")
        prepare(database, tmp_path / "none")
        assert not (tmp_path / "none").exists(), "a new database has nothing to keep"
        url = database.create("finearc")
        with engine_for(url).connect() as connection:
            for statement in statements("0014"):
                connection.connection.cursor().execute(statement)
            connection.connection.commit()
        prepare(database, tmp_path / "backups")
        assert revision_of(owner) in revisions()
        assert revision_of(owner) != "0014"
        owner.dispose()
    finally:
        database.stop()
    folder = BackupFolder(tmp_path / "backups")
    (kept,) = folder.backups()
    assert kept.revision == "0014"
    done = restore(folder, tmp_path / "again", free_port())
    assert done.rows == sum(kept.rows.values()) > 0
    again, store = opened(tmp_path / "again", free_port())
    try:
        assert len(everything(store, Swing)) == kept.rows["swing"]
    finally:
        store.engine.dispose()
        again.stop()
