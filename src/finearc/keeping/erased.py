"""Who was erased, so that no restore brings them back.

Erasing a player leaves an id that nothing else has (the log's line that it was removed). Every backup writes those ids
beside the pieces, and so does every erasure, into the folders that are known; a restore erases again whoever stands
there, before anybody can open the data."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from uuid import UUID

from sqlalchemy import Engine, select

from finearc.keeping.errors import BackupTrouble
from finearc.keeping.folder import ABOUT, tell_erased, write_whole
from finearc.services.people.erasing import erase_lesson, erase_player
from finearc.services.records import Lesson, Player
from finearc.store import tables as t
from finearc.store.unit_of_work import Store

KINDS = ("player", "lesson")
FOLDERS = "backup-folders.json"
"""In the data folder: where its backups lie."""


def erased_in(engine: Engine) -> list[dict[str, str]]:
    """The players and lessons that were erased from a database."""
    a = t.author.c
    query = select(a.what, a.of_id, a.academy_id, a.at).where(a.how == "removed", a.what.in_(KINDS))
    with engine.connect() as connection:
        rows = connection.execute(query).all()
    return [{"what": w, "id": str(k), "academy_id": str(of), "at": at.isoformat()} for w, k, of, at in rows]


def erase_again(store: Store, erased: Sequence[Mapping[str, str]]) -> int:
    """Erase again whoever came back with a backup that is older than their erasure; how many did."""
    gone = 0
    for told in sorted(erased, key=lambda e: KINDS.index(e["what"])):  # with a player the lessons go
        with store.unit_of_work(UUID(told["academy_id"])) as uow:
            if told["what"] == "player":
                for player in uow.find(Player, id=UUID(told["id"])):
                    erase_player(uow, player)
                    gone += 1
            else:
                for lesson in uow.find(Lesson, id=UUID(told["id"])):
                    erase_lesson(uow, lesson)
                    gone += 1
    return gone


def remember(data: Path, folder: Path) -> None:
    """That backups of a data folder lie there."""
    known = known_folders(data)
    if folder.resolve() not in known:
        write_whole(data / FOLDERS, json.dumps([str(p) for p in (*known, folder.resolve())]).encode())


def note_erased(data: Path, engine: Engine) -> list[Path]:
    """Tell every folder of backups who was erased; those that could not be told now. Raises what the database does."""
    folders = known_folders(data)
    erased = erased_in(engine) if folders else []
    away = []
    for folder in folders:
        try:
            if not (folder / ABOUT).exists():
                raise FileNotFoundError(folder)
            tell_erased(folder, erased)
        except (OSError, BackupTrouble):
            away.append(folder)
    return away


def known_folders(data: Path) -> list[Path]:
    """Where the backups of a data folder lie."""
    with suppress(FileNotFoundError, ValueError):
        return [Path(p) for p in json.loads((data / FOLDERS).read_text())]
    return []
