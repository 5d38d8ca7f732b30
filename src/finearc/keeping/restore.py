"""Making a data folder of a backup, and looking whether it is what was kept before anybody uses it."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path

from finearc.keeping.backup import LEFT_OUT, NAME, Say
from finearc.keeping.cutting import statements
from finearc.keeping.erased import erase_again
from finearc.keeping.errors import BackupTrouble
from finearc.keeping.folder import Backup, BackupFolder, utc_now
from finearc.keeping.trial import Same, refuse_other_counts, sample_measured_again
from finearc.launch.mariadb import MariaDb
from finearc.store.migrate import revisions, upgrade
from finearc.store.unit_of_work import Store, engine_for

BEGIN = b"set foreign_key_checks = 0, unique_checks = 0, autocommit = 0;\n"


@dataclass(frozen=True)
class Restored:
    """``again``: players and lessons that were erased since and are erased again; ``same``: what the sample said."""

    backup: Backup
    rows: int
    again: int
    same: Same


def restore(
    folder: BackupFolder, data: Path, port: int, at: datetime | None = None, say: Say = lambda _: None
) -> Restored:
    """A new data folder with what a backup holds, verified; the newest one, or the newest made by ``at``. Raises
    ``BackupTrouble``, and then nothing is there: everything is made beside and takes its place last."""
    backup = folder.chosen(at)
    if data.exists() and any(data.iterdir()):
        raise BackupTrouble(f"{data} holds data", "Name a folder that is not there yet: nothing is overwritten")
    if backup.revision not in revisions():
        raise BackupTrouble(f"it was made by a newer release ({backup.release})", "Restore it with that release")
    work = data.with_name(f".{data.name}.restoring")
    shutil.rmtree(work, ignore_errors=True)
    try:
        restored = _restore(folder, backup, work, port, say)
        if data.exists():
            data.rmdir()
        work.replace(data)
    finally:
        shutil.rmtree(work, ignore_errors=True)
    return restored


def try_restore(folder: BackupFolder, beside: Path, port: int, say: Say = lambda _: None) -> Restored:
    """Restore the newest backup into a folder that goes again, and note in the backup that it was verified."""
    data = beside.with_name(f"{beside.name}-trial")
    shutil.rmtree(data, ignore_errors=True)
    try:
        restored = restore(folder, data, port, say=say)
    finally:
        shutil.rmtree(data, ignore_errors=True)
    verified = replace(restored.backup, verified_at=utc_now().isoformat(timespec="seconds"))
    folder.add(verified)
    return replace(restored, backup=verified)


def _restore(folder: BackupFolder, backup: Backup, work: Path, port: int, say: Say) -> Restored:
    database = MariaDb(work, port, durable=False)  # without a binary log, which would name this folder
    database.start()
    try:
        say(f"Bringing {sum(backup.rows.values())} rows back …")
        _load(database, _script(folder, backup))
        owner = engine_for(f"{database.owner_url}/{NAME}?charset=utf8mb4")
        try:
            refuse_other_counts(owner, {k: n for k, n in backup.rows.items() if k not in LEFT_OUT})
            upgrade(owner)
            store = Store(owner)
            again = erase_again(store, folder.erased())
            say("Measuring some of it again …")
            same = sample_measured_again(store)
        finally:
            owner.dispose()
        if again:
            database.scrub()
    finally:
        database.stop()
    for name, pieces in backup.files.items():
        place = work / name
        if not place.resolve().is_relative_to(work.resolve()):
            raise BackupTrouble(f"it names a file outside ({name})", "Restore another backup")
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(b"".join(folder.get(p) for p in pieces))
    return Restored(backup, sum(backup.rows.values()), again, same)


def _script(folder: BackupFolder, backup: Backup) -> Iterator[bytes]:
    yield BEGIN
    for name in backup.pieces:
        yield from statements(folder.get(name))
    yield b"commit;\n"


def _load(database: MariaDb, script: Iterator[bytes]) -> None:
    """Raises ``BackupTrouble`` where the database refuses a statement, or a piece is damaged."""
    with tempfile.TemporaryFile() as trouble:
        process = subprocess.Popen(
            database.client(NAME), stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=trouble
        )
        assert process.stdin is not None
        try:
            with process.stdin, suppress(BrokenPipeError):  # the database says itself why it takes no more
                for statement in script:
                    process.stdin.write(statement)
        except BaseException:
            process.kill()
            process.wait()
            raise
        if process.wait():
            trouble.seek(0)
            said = trouble.read().decode(errors="replace").strip()
            raise BackupTrouble(f"the database refused a part of it ({said[-200:]})", "Restore another backup")
