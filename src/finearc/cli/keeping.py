"""``finearc backup`` and ``finearc restore``."""

from __future__ import annotations

import argparse
import shutil
import signal
import sys
import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

from finearc.core.errors import FineArcError
from finearc.keeping.backup import back_up
from finearc.keeping.erased import remember
from finearc.keeping.errors import BackupTrouble
from finearc.keeping.folder import Backup, BackupFolder, utc_now
from finearc.keeping.nightly import every_night, hour_of
from finearc.keeping.restore import Restored, restore, try_restore
from finearc.keeping.state import BackupState, failed, read_state, write_state
from finearc.launch.mariadb import DatabaseTrouble, MariaDb, port_is_free

Say = Callable[[str], None]


def _say(words: str) -> None:
    print(words, file=sys.stderr)


def _passphrase(args: argparse.Namespace) -> str:
    return args.passphrase_file.read_text().strip() if args.passphrase_file else ""


def make_backup(args: argparse.Namespace) -> int:
    """Add a backup to a folder; on wish tried out, and old ones dropped; or all of that every night."""
    if args.list:
        for backup in BackupFolder(args.folder, _passphrase(args)).backups():
            print(_line(backup))
        return 0
    if args.nightly:
        _every_night(args)
        return 0
    try:
        _make(args)
    except (BackupTrouble, DatabaseTrouble, OSError) as error:
        if args.data.exists():
            failed(args.data, str(error), utc_now())
        raise
    return 0


def _make(args: argparse.Namespace) -> None:
    database = MariaDb(args.data, args.db_port)
    folder = BackupFolder(args.folder, _passphrase(args), make=True)
    made = back_up(database, folder, _say)
    remember(args.data, args.folder)
    backup = made.backup
    print(f"{_line(backup)}: {made.written / 1e6:.1f} MB new of {made.read / 1e6:.1f} MB", flush=True)
    if args.verify:
        done = try_restore(folder, args.data, free_port(args.db_port), _say)
        backup = done.backup
        print(in_words(done), flush=True)
    verified = backup.verified_at or read_state(args.data).verified_at
    swings = backup.rows.get("swing", 0)
    write_state(args.data, BackupState(str(args.folder.resolve()), backup.made_at, verified, swings, backup.made_at))
    if args.keep_days is not None:
        with folder.alone():
            dropped = folder.drop_older(utc_now() - timedelta(days=args.keep_days))
        if dropped:
            print(f"{dropped} older than {args.keep_days} days dropped", flush=True)


def _every_night(args: argparse.Namespace) -> None:
    """Until told to stop; a database that was started for a trial is stopped first."""
    at, over = hour_of(args.nightly), threading.Event()
    args.verify = True

    def once() -> bool:
        try:
            _make(args)
        except (FineArcError, OSError) as error:
            failed(args.data, str(error), utc_now())
            print(f"finearc: {error}", file=sys.stderr, flush=True)
            return False
        return True

    def last() -> datetime | None:
        made = read_state(args.data).made_at
        return datetime.fromisoformat(made) if made else None

    def stop(*_: object) -> None:
        over.set()
        raise SystemExit(0)

    signal.signal(signal.SIGTERM, stop)
    every_night(once, last, at, lambda: datetime.now().astimezone(), over.wait)


def bring_back(args: argparse.Namespace) -> int:
    """Make a data folder of a backup."""
    at = _time(args.at) if args.at else None
    folder = BackupFolder(args.folder, _passphrase(args))
    needed = shutil.disk_usage(args.data.parent if args.data.parent.exists() else Path("/")).free
    if needed < 1_000_000_000:
        raise BackupTrouble(f"less than 1 GB is free where {args.data} would lie", "Free some space")
    done = restore(folder, args.data, free_port(args.db_port), at, _say)
    print(in_words(done))
    print(f"Start it: ./start --data {args.data}")
    return 0


def in_words(done: Restored) -> str:
    """What a restore found."""
    same = done.same
    words = f"{_line(done.backup)}: all {done.rows} rows are back"
    if same.values and not same.changed:
        words += f"; all {same.values} values of {same.swings} swings measured again read the same"
    elif same.values:
        words += f"; {same.changed} of {same.values} values read otherwise by this engine than by an earlier one"
    if done.again:
        words += f"; {done.again} who were erased since are erased again"
    return words


def _line(backup: Backup) -> str:
    verified = f", verified {backup.verified_at}" if backup.verified_at else ""
    return f"{backup.made_at} by {backup.release}, {backup.rows.get('swing', 0)} swings{verified}"


def _time(told: str) -> datetime:
    try:
        at = datetime.fromisoformat(told)
    except ValueError:
        raise BackupTrouble(f'"{told}" is no time', "Write it as 2026-12-01T18:00, in UTC or with +01:00") from None
    return at if at.tzinfo else at.replace(tzinfo=UTC)


def free_port(port: int) -> int:
    """A free port beside the database's own, for one that is only looked at."""
    return next(p for p in range(port + 1, port + 200) if port_is_free(p))
