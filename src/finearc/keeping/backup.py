"""Making a backup while lessons run: one consistent moment of the database (``mariadb-dump --single-transaction``), cut
into pieces, and the files that wait beside it."""

from __future__ import annotations

import errno
import os
import re
import subprocess
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from finearc import __version__
from finearc.keeping.cutting import pieces, table_of
from finearc.keeping.erased import erased_in
from finearc.keeping.errors import BackupTrouble
from finearc.keeping.folder import Backup, BackupFolder, utc_now
from finearc.launch.mariadb import OWNER, MariaDb, program
from finearc.store.unit_of_work import engine_for

NAME = "finearc"
LEFT_OUT = ("sign_in", "throttle")
"""Tables whose rows are of the moment: nobody who was signed in then is signed in after a restore."""
WAITING = "handed-over"
"""Logs that nobody has taken yet, beside the database."""
OPTIONS = (
    "--single-transaction",
    "--quick",
    "--order-by-primary",
    "--skip-extended-insert",  # a row a line: what did not change is found again
    "--complete-insert",
    "--skip-add-locks",
    "--skip-disable-keys",
    "--skip-comments",
    "--no-tablespaces",
    "--default-character-set=utf8mb4",
    "--max-allowed-packet=256M",
)
READ_AT_ONCE = 4_000_000
Say = Callable[[str], None]


@dataclass(frozen=True)
class Made:
    """A backup, with how many bytes it read and how many it had to write."""

    backup: Backup
    read: int
    written: int


@contextmanager
def running(database: MariaDb) -> Iterator[MariaDb]:
    """The database of a data folder: as it runs, else started for a while. Raises ``BackupTrouble`` for one that runs
    and does not answer: lessons may go on in it."""
    if database.answers():
        yield database
        return
    if database.running_elsewhere() is not None:
        raise BackupTrouble("the database does not answer", "Try again in a while")
    database.start()
    try:
        yield database
    finally:
        database.stop()


def back_up(database: MariaDb, folder: BackupFolder, say: Say = lambda _: None) -> Made:
    """Add a backup of everything to a folder. Raises ``BackupTrouble``; what was written before then is only pieces
    that the next one finds."""
    if not (database.data / "mysql").exists():
        raise BackupTrouble(f"there is no data in {database.folder}", "Name the folder of ./start: --data")
    try:
        with folder.alone(), running(database):
            made = _back_up(database, folder, say)
            engine = engine_for(f"{database.url}/{NAME}?charset=utf8mb4")
            try:
                folder.note_erased(erased_in(engine))
            finally:
                engine.dispose()
            return made
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            raise BackupTrouble(f"the disk of {folder.path} is full", "Free some space, or name another") from None
        raise


def _back_up(database: MariaDb, folder: BackupFolder, say: Say) -> Made:
    made_at = utc_now()
    rows: Counter[str] = Counter()
    revision, read, written, names = [""], 0, 0, list[str]()

    def counted() -> Iterator[bytes]:
        for line in dumped(database):
            table = table_of(line)
            if table:
                rows[table] += 1
            if table == "alembic_version":
                revision[0] = _revision(line)
            yield line

    for piece in pieces(counted()):
        name, size = folder.put(piece)
        names.append(name)
        read, written = read + len(piece), written + size
        if len(names) % 500 == 0:
            say(f"{sum(rows.values())} rows, {written // 1_000_000} MB new of {read // 1_000_000} MB …")
    if not revision[0]:
        raise BackupTrouble("the database has no tables", "Start the application once")
    files = {}
    for path in sorted((database.folder / WAITING).rglob("*")):
        if path.is_file():
            name, size = folder.put(path.read_bytes())
            files[str(path.relative_to(database.folder))] = [name]
            written += size
    backup = Backup(made_at.isoformat(timespec="milliseconds"), __version__, revision[0], dict(rows), names, files)
    folder.add(backup)
    return Made(backup, read, written)


def dumped(database: MariaDb) -> Iterator[bytes]:
    """The dump's lines, as they come. Raises ``BackupTrouble``."""
    with _told(database) as options, tempfile.TemporaryFile() as trouble:
        process = subprocess.Popen(
            [
                program("mariadb-dump", "mysqldump"),
                f"--defaults-file={options}",
                *OPTIONS,
                *(f"--ignore-table-data={NAME}.{table}" for table in LEFT_OUT),
                NAME,
            ],
            bufsize=READ_AT_ONCE,
            stdout=subprocess.PIPE,
            stderr=trouble,
        )
        assert process.stdout is not None
        try:
            yield from process.stdout
        finally:
            process.stdout.close()
            if process.poll() is None:
                process.terminate()
            code = process.wait()
        if code:
            trouble.seek(0)
            said = trouble.read().decode(errors="replace").strip().splitlines()
            raise BackupTrouble(f"the database could not be read ({said[-1] if said else code})", "Try again")


@contextmanager
def _told(database: MariaDb) -> Iterator[str]:
    """Where the program reads how to sign in: no list of processes shows it."""
    handle, name = tempfile.mkstemp(prefix="finearc-dump-")
    try:
        with os.fdopen(handle, "w") as file:
            password = database.password(OWNER)
            file.write(f"[client]\nuser={OWNER}\npassword={password}\nhost=127.0.0.1\nport={database.port}\n")
        yield name
    finally:
        Path(name).unlink()


def _revision(line: bytes) -> str:
    found = re.search(rb"VALUES \('([^']*)'\)", line)
    return found.group(1).decode() if found else ""
