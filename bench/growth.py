"""The player's page, progress and search as the store grows: ``python -m bench.growth [--many 100000]``.

Two databases in one real MariaDB, one with about 1,000 swings and one with many: values, verdicts and findings of the
measures that are judged or shown, no documents, no raw samples. One player has 10 lessons of 5 swings in both; all
others are copies of that player with other names and days. What is asked is asked of both in turns in one run; medians
and their ratio are printed (goal 1.5). A search that finds only that player's swings is told apart from one whose
answer grows with the store up to its limit of 200 swings.
"""

from __future__ import annotations

import argparse
import shutil
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from uuid import UUID

from sqlalchemy import Connection, Engine, text

from bench.app import free_port
from finearc.golfer.scenarios import play
from finearc.launch.mariadb import MariaDb
from finearc.services.capture.recordings import import_capture
from finearc.services.comparing.progress import player_progress
from finearc.services.modelled import capture_of
from finearc.services.people.pages import player_page
from finearc.services.ports import UnitOfWork
from finearc.services.record.shown import ALWAYS
from finearc.services.records import Academy, Instructor, Lesson, Player, Priority
from finearc.services.searching.found import search
from finearc.store.columns import ParquetColumns
from finearc.store.migrate import upgrade
from finearc.store.tables import metadata
from finearc.store.unit_of_work import Store, engine_for

LESSONS, ROUNDS = 10, 15
NAME = "Agna Growthwell"
COPIED = (
    "player",
    "lesson",
    "priority",
    "recording",
    "swing",
    "swing_value",
    "swing_verdict",
    "swing_finding",
    "swing_tag",
)
"""Tables whose rows are copied, parents first."""
IDS = {"player_id": "player", "lesson_id": "lesson", "recording_id": "recording", "swing_id": "swing"}


@dataclass
class Filled:
    """A store with one player who is asked about."""

    store: Store
    academy: UUID
    player: UUID
    swings: int


def first_player(engine: Engine) -> tuple[UUID, UUID]:
    """An academy with one player of ten lessons, as the application writes them; documents and other values gone."""
    store = Store(engine)
    academy = Academy("Growth")
    with store.front_door() as door:
        door.add(academy)
        instructor = Instructor(academy.id, "I", "i@example.test", "x")
        door.add(instructor)
    data = capture_of(play("over-extended", 11))
    with store.unit_of_work(academy.id, instructor.id) as uow:
        player = Player(academy.id, NAME, "right", consent_by=NAME, consent_at=datetime.now(UTC))
        uow.add(player)
    for k in range(LESSONS):
        with store.unit_of_work(academy.id, instructor.id) as uow:
            at = datetime.now(UTC) - timedelta(days=7 * (LESSONS - k))
            lesson = Lesson(academy.id, player.id, instructor.id, "Bay 1", at, at + timedelta(hours=1), status="closed")
            uow.add(lesson)
            uow.flush()
            import_capture(uow, ParquetColumns(), lesson, data)
            uow.add(Priority(academy.id, lesson.id, 1, "over_extended_top", "Over-extended at the top", "peg_pointer"))
    with engine.begin() as c:
        wanted = ", ".join(f"('{m}', '{k}')" for m, k in sorted(ALWAYS))
        for table in ("swing_record", "swing_judgement", "swing_block", "chunk", "change_entry", "author"):
            c.execute(text(f"DELETE FROM {table}"))
        c.execute(text(f"DELETE FROM swing_value WHERE (metric, moment) NOT IN ({wanted})"))
        c.execute(text("UPDATE swing s JOIN lesson l ON l.id = s.lesson_id SET s.captured_at = l.starts_at"))
        for table in ("swing_value", "swing_finding"):
            c.execute(text(f"UPDATE {table} v JOIN swing s ON s.id = v.swing_id SET v.captured_at = s.captured_at"))
    return academy.id, player.id


def double(c: Connection, turn: int, only: UUID | None = None) -> None:
    """Every player once more under another name, some days earlier; ``only``: that one alone."""
    for table in ("player", "lesson", "recording", "swing"):
        c.execute(text(f"CREATE TEMPORARY TABLE new_{table} (old UUID PRIMARY KEY, new UUID) ENGINE=InnoDB"))
    where = "" if only is None else f" WHERE id = '{only}'"
    c.execute(text(f"INSERT INTO new_player SELECT id, UUID() FROM player{where}"))
    for table, parent in (("lesson", "player"), ("recording", "lesson"), ("swing", "lesson")):
        joined = f"FROM {table} x JOIN new_{parent} p ON p.old = x.{parent}_id"
        c.execute(text(f"INSERT INTO new_{table} SELECT x.id, UUID() {joined}"))
    for table in COPIED:
        c.execute(text(_copy(table, turn)))
    for table in ("player", "lesson", "recording", "swing"):
        c.execute(text(f"DROP TEMPORARY TABLE new_{table}"))


def _copy(table: str, turn: int) -> str:
    own = metadata.tables[table]
    known = {i: t for i, t in IDS.items() if i in own.c}
    needed = known if table not in ("lesson", "recording", "swing") else {**known, "id": table}
    if table == "player":
        needed = {"id": "player"}
    shift = f" - INTERVAL {turn + 1} DAY"
    picked = []
    for column in own.c:
        if column.name in needed:
            picked.append(f"n_{needed[column.name]}.new")
        elif column.name == "id":
            picked.append("UUID()")
        elif column.name in ("captured_at", "starts_at", "ends_at"):
            picked.append(f"x.`{column.name}`{shift}")
        elif table == "player" and column.name == "name":
            picked.append(f"CONCAT('Player {turn} ', UUID_SHORT())")
        else:
            picked.append(f"x.`{column.name}`")
    joins = " ".join(f"JOIN new_{t} n_{t} ON n_{t}.old = x.`{i}`" for i, t in needed.items())
    names = ", ".join(f"`{column.name}`" for column in own.c)
    return f"INSERT INTO {table} ({names}) SELECT {', '.join(picked)} FROM {table} x {joins}"


def filled(server: MariaDb, name: str, swings: int) -> Filled:
    """A database with so many swings or a few more."""
    engine = engine_for(server.create(name))
    upgrade(engine)
    academy, player = first_player(engine)
    turn = 0
    while True:
        with engine.begin() as c:
            there = int(c.execute(text("SELECT COUNT(*) FROM swing")).scalar_one())
            if there >= swings:
                break
            double(c, turn, only=player if there * 2 > swings * 1.9 and there < swings else None)
        turn += 1
    with engine.begin() as c:
        for table in COPIED:
            c.execute(text(f"ANALYZE TABLE {table}"))
    return Filled(Store(engine), academy, player, there)


Ask = Callable[[UnitOfWork, UUID], object]
QUESTIONS: dict[str, Ask] = {
    "the player's page": lambda uow, player: player_page(uow, uow.get(Player, player)),
    "progress": lambda uow, player: player_progress(uow, uow.get(Player, player)),
    "search: the player, a finding, 60 days": lambda uow, _: search(
        uow, f"{NAME} cups past the band at the top last 60 days"
    ),
    "search: the player, a value": lambda uow, _: search(uow, f"{NAME} wrist cup at the top above 35"),
    "search: a finding this year, 200 swings": lambda uow, _: search(
        uow, "cups past the band at the top last 365 days"
    ),
    "search: a value beyond all, none found": lambda uow, _: search(uow, "wrist cup at the top above 500"),
    "search: a club, 200 swings": lambda uow, _: search(uow, "7-iron"),
}


def took(of: Filled, ask: Ask) -> float:
    start = time.perf_counter()
    with of.store.unit_of_work(of.academy) as uow:
        ask(uow, of.player)
    return time.perf_counter() - start


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--few", type=int, default=1000)
    parser.add_argument("--many", type=int, default=100_000)
    args = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="finearc-growth-"))
    server = MariaDb(folder, free_port(), durable=False)
    server.start()
    try:
        few, many = filled(server, "finearc_few", args.few), filled(server, "finearc_many", args.many)
        print(f"{few.swings} and {many.swings} swings")
        for what, ask in QUESTIONS.items():
            for of in (few, many):
                took(of, ask)
            pairs = [(took(few, ask), took(many, ask)) for _ in range(ROUNDS)]
            a, b = (1000.0 * median(x) for x in zip(*pairs, strict=True))
            print(f"{what:44s} {a:7.1f} ms  {b:7.1f} ms  ratio {b / a:5.2f}   goal 1.5")
    finally:
        server.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
