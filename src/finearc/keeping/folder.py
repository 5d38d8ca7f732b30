"""A backup folder: pieces by their names, a list of pieces for each backup, and who was erased since.

``finearc-backup.json`` says the format and how it is encrypted; ``pieces/ab/abcd…`` hold the content, each once;
``backups/TIME.json`` is written last, so that a backup is there whole or not at all; ``erased.json`` names by ids who
must not come back."""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from finearc.keeping.errors import BackupTrouble
from finearc.keeping.sealing import Encrypted, Plain, Sealing, known_key, new_key

FORMAT = 1
ABOUT, PIECES, BACKUPS, ERASED = "finearc-backup.json", "pieces", "backups", "erased.json"
NAMED = "%Y%m%dT%H%M%S.%fZ"
ANOTHER = "Choose another folder, or an earlier backup"


@dataclass(frozen=True)
class Backup:
    """One backup. ``revision`` of the tables; ``rows`` of each table; ``pieces`` of the dump in order; ``files``: what
    waits beside the database, by path, each as its pieces; ``verified_at``: when a trial restore was equal."""

    made_at: str
    release: str
    revision: str
    rows: Mapping[str, int]
    pieces: Sequence[str]
    files: Mapping[str, Sequence[str]] = field(default_factory=dict)
    verified_at: str = ""

    @property
    def name(self) -> str:
        return datetime.fromisoformat(self.made_at).strftime(NAMED)


class BackupFolder:
    """Opened to read or to add to. Raises ``BackupTrouble`` where it is something else, damaged or newer."""

    def __init__(self, path: Path, passphrase: str = "", *, make: bool = False) -> None:
        self.path = path
        about = path / ABOUT
        if not about.exists():
            if not make:
                raise BackupTrouble(f"there is none in {path}", "Name a folder that finearc backup has made")
            if path.exists() and any(path.iterdir()):
                raise BackupTrouble(f"{path} holds something else", "Name an empty folder, or one of earlier backups")
            for name in (PIECES, BACKUPS):
                (path / name).mkdir(parents=True, exist_ok=True)
            encryption = None
            if passphrase:
                _, encryption = new_key(passphrase)
            write_whole(about, json.dumps({"format": FORMAT, "encryption": encryption}, indent=1).encode())
        told = _json(about.read_bytes(), ABOUT)
        if told.get("format") != FORMAT:
            raise BackupTrouble(f"its format is {told.get('format')}, not {FORMAT}", "Use the release that made it")
        kept = told["encryption"]
        self.sealing: Sealing = Plain() if kept is None else known_key(kept, passphrase)
        self.encrypted = isinstance(self.sealing, Encrypted)

    @contextmanager
    def alone(self) -> Iterator[None]:
        """One writer at a time. Raises ``BackupTrouble`` while another writes."""
        handle = os.open(self.path / ".writing", os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            os.close(handle)
            raise BackupTrouble("another backup is being made into this folder", "Wait until it has ended") from None
        try:
            yield
        finally:
            os.close(handle)

    def _piece(self, name: str) -> Path:
        return self.path / PIECES / name[:2] / name

    def put(self, content: bytes) -> tuple[str, int]:
        """Keep a piece; its name, and how many bytes were written: none where it is there already."""
        name = self.sealing.name(content)
        place = self._piece(name)
        if place.exists():
            return name, 0
        sealed = self.sealing.seal(content)
        place.parent.mkdir(exist_ok=True)
        write_whole(place, sealed)
        return name, len(sealed)

    def get(self, name: str) -> bytes:
        """A piece. Raises ``BackupTrouble`` for one that is missing, damaged or not what its name says."""
        try:
            sealed = self._piece(name).read_bytes()
        except FileNotFoundError:
            raise BackupTrouble(f"the piece {name[:12]}… is missing", ANOTHER) from None
        content = self.sealing.open(sealed)
        if self.sealing.name(content) != name:
            raise BackupTrouble(f"the piece {name[:12]}… is not what it was", ANOTHER)
        return content

    def add(self, backup: Backup) -> None:
        """Last of all: now the backup is there."""
        self._write(self.path / BACKUPS / f"{backup.name}.json", asdict(backup))

    def backups(self) -> list[Backup]:
        """All of them, the oldest first. Raises ``BackupTrouble`` for a damaged list."""
        found = sorted((self.path / BACKUPS).glob("*.json"))
        try:
            return [Backup(**self._read(p)) for p in found]
        except TypeError:
            raise BackupTrouble("a list of pieces is not as this release writes it", ANOTHER) from None

    def chosen(self, at: datetime | None) -> Backup:
        """The newest, or the newest that was made by then. Raises ``BackupTrouble``."""
        found = [b for b in self.backups() if at is None or datetime.fromisoformat(b.made_at) <= at]
        if not found:
            raise BackupTrouble("there is none so old", "finearc backup FOLDER --list tells which there are")
        return found[-1]

    def erased(self) -> list[dict[str, str]]:
        """Who was erased since the first backup: ``what`` (player, lesson), ``id``, ``academy_id``, ``at``."""
        return erased_told(self.path)

    def note_erased(self, erased: Sequence[Mapping[str, str]]) -> None:
        """Add to them; nobody is ever taken off."""
        tell_erased(self.path, erased)

    def drop_older(self, than: datetime) -> int:
        """Backups made before go, but for the newest, and the pieces that none of those left needs. How many went."""
        every = self.backups()
        old = [b for b in every[:-1] if datetime.fromisoformat(b.made_at) < than]
        for backup in old:
            (self.path / BACKUPS / f"{backup.name}.json").unlink()
        left = [b for b in every if b not in old]
        needed = {n for b in left for n in (*b.pieces, *(n for names in b.files.values() for n in names))}
        if old:
            for place in (self.path / PIECES).glob("*/*"):
                if place.name not in needed:
                    place.unlink()
        return len(old)

    def _write(self, path: Path, told: Mapping[str, Any]) -> None:
        """With a hash of its own: what was cut off or changed is seen."""
        content = json.dumps(told, sort_keys=True).encode()
        head = json.dumps({"name": self.sealing.name(content)}).encode()
        write_whole(path, head + b"\n" + self.sealing.seal(content))

    def _read(self, path: Path) -> dict[str, Any]:
        head, _, sealed = path.read_bytes().partition(b"\n")
        content = self.sealing.open(sealed)
        if _json(head, path.name).get("name") != self.sealing.name(content):
            raise BackupTrouble(f"{path.name} is not what it was", ANOTHER)
        return _json(content, path.name)


def erased_told(path: Path) -> list[dict[str, str]]:
    """Who was erased, as a folder says. Raises ``BackupTrouble`` where that was changed: somebody might come back."""
    if not (path / ERASED).exists():
        return []
    told = _json((path / ERASED).read_bytes(), ERASED)
    found: list[dict[str, str]] = told.get("erased", [])
    if told.get("sha256") != _hashed(found):
        raise BackupTrouble(f"{ERASED} is not what it was", "Take it from another copy of the folder")
    return found


def tell_erased(path: Path, erased: Sequence[Mapping[str, str]]) -> None:
    """Add to them. They are ids alone, so no passphrase is needed: an erasure never waits for one."""
    known = erased_told(path)
    there = {e["id"] for e in known}
    new = [dict(e) for e in erased if e["id"] not in there]
    if new:
        every = [*known, *new]
        write_whole(path / ERASED, json.dumps({"erased": every, "sha256": _hashed(every)}, indent=1).encode())


def _hashed(erased: Sequence[Mapping[str, str]]) -> str:
    return hashlib.sha256(json.dumps(erased, sort_keys=True).encode()).hexdigest()


def _json(content: bytes, name: str) -> dict[str, Any]:
    try:
        told: dict[str, Any] = json.loads(content)
    except ValueError:
        raise BackupTrouble(f"{name} cannot be read", ANOTHER) from None
    return told


def write_whole(path: Path, content: bytes) -> None:
    """On disk whole, or not at all."""
    fresh = path.with_name(f".{path.name}.{os.getpid()}")
    try:
        with fresh.open("wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        fresh.replace(path)
    except OSError:
        with suppress(OSError):
            fresh.unlink()
        raise
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def utc_now() -> datetime:
    return datetime.now(UTC)
