"""Whether anything is booked twice when many book, move, cancel and plan again at once: on a MariaDB of its own, in
several processes. Run with ``python -m validation.diary [--bookings 10000] [--processes 4] [--threads 2]``."""

from __future__ import annotations

import argparse
import random
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import combinations
from pathlib import Path
from uuid import UUID

from sqlalchemy.exc import DBAPIError

from finearc.core.diary.places import Taken, Wanted, clashes
from finearc.launch.mariadb import MariaDb
from finearc.services.diary.booking import Asked, Move, book, cancel, move, reinstate
from finearc.services.diary.document import DiaryDocument, written
from finearc.services.diary.hours import held_rules
from finearc.services.diary.taken import STANDING, taken_by
from finearc.services.errors import Clash, Outside, Refused
from finearc.services.records import Academy, Instructor, Lesson, Player
from finearc.store.faults import is_clash
from finearc.store.migrate import upgrade
from finearc.store.unit_of_work import Store, engine_for

FIRST = datetime(2031, 3, 28, 8, tzinfo=UTC)
DAYS, QUARTERS = 5, 44
"""So few places that most wishes clash: five days of eleven hours, across a change to summer time."""
SETUP = timedelta(minutes=15)
SETS = ("Set A", "Set B")
TRIES = 6
SEEN = ("booked", "moved", "cancelled", "planned again", "clash", "refused", "gave way")


@dataclass(frozen=True)
class World:
    """Who and what is booked."""

    url: str
    academy: UUID
    instructors: Sequence[UUID]
    players: Sequence[UUID]
    bays: Sequence[str]


def make_world(url: str) -> World:
    """An academy of four instructors, four bays, two sensor sets and a dozen players."""
    engine = engine_for(url)
    upgrade(engine)
    store = Store(engine)
    academy = Academy("Busy", "Europe/Lisbon")
    with store.front_door() as door:
        door.add(academy)
    with store.unit_of_work(academy.id) as uow:
        staff = [Instructor(academy.id, f"Instructor {k}", f"i{k}@example.test", "-") for k in range(4)]
        players = [Player(academy.id, f"Player {k}", "right") for k in range(12)]
        for record in (*staff, *players):
            uow.add(record)
        held_rules(uow).document = written(DiaryDocument(sensor_sets=list(SETS)))
    engine.dispose()
    return World(url, academy.id, [s.id for s in staff], [p.id for p in players], [f"Bay {k}" for k in range(1, 5)])


class Person:
    """Somebody at a screen who books, moves, cancels and plans again, at random."""

    def __init__(self, world: World, store: Store, seed: int) -> None:
        self.world, self.store, self.rng = world, store, random.Random(seed)
        self.mine: list[UUID] = []
        self.said: Counter[str] = Counter()

    def act(self) -> None:
        """One change; done again where the database says that two stood in each other's way, as the door does."""
        chance = self.rng.random()
        kind = "book" if chance < 0.7 or not self.mine else "move" if chance < 0.85 else "end"
        wish = self._wish()
        for number in range(1, TRIES + 1):
            try:
                self.said[self._do(kind, wish)] += 1
            except (Clash, Outside):
                self.said["clash"] += 1
            except Refused:
                self.said["refused"] += 1
            except DBAPIError as error:
                if not is_clash(error) or number == TRIES:
                    raise
                self.said["gave way"] += 1
                time.sleep(0.02 * number)
                continue
            return

    def _wish(self) -> Asked:
        r, w = self.rng, self.world
        at = FIRST + timedelta(days=r.randrange(DAYS), minutes=15 * r.randrange(QUARTERS))
        sensors = r.choice(("", *SETS))
        who, player, bay = r.choice(w.instructors), r.choice(w.players), r.choice(w.bays)
        return Asked(player, who, bay, at, r.choice((30, 45, 60)), "7-iron", sensors, r.random() < 0.3)

    def _do(self, kind: str, wish: Asked) -> str:
        with self.store.unit_of_work(self.world.academy) as uow:
            if kind == "book":
                made = book(uow, wish)
                key = made.id
            else:
                key = self.rng.choice(self.mine)
                if kind == "move":
                    move(uow, key, Move(wish.starts_at, wish.minutes, wish.instructor_id, wish.bay, wish.sensor_set))
                    return "moved"
                if uow.get(Lesson, key).status == "cancelled":
                    reinstate(uow, key)
                    return "planned again"
                cancel(uow, key, "at random")
                return "cancelled"
        self.mine.append(key)
        return "booked"


def work(world: World, seed: int, threads: int, times: int) -> Counter[str]:
    """Some people at once in this process."""
    engine = engine_for(world.url)
    people = [Person(world, Store(engine), 1000 * seed + k) for k in range(threads)]

    def act(person: Person) -> None:
        for _ in range(times):
            person.act()

    running = [threading.Thread(target=act, args=(p,)) for p in people]
    for t in running:
        t.start()
    for t in running:
        t.join()
    engine.dispose()
    return sum((p.said for p in people), Counter())


def doubles(world: World) -> Iterator[tuple[Taken, Taken]]:
    """Pairs of standing lessons that are in each other's way."""
    engine = engine_for(world.url)
    with Store(engine).unit_of_work(world.academy) as uow:
        standing = [taken_by(x) for x in uow.find(Lesson, status=list(STANDING))]
    engine.dispose()
    for a, b in combinations(standing, 2):
        if clashes(Wanted(a.span, a.resources, a.markers), [b], SETUP):
            yield a, b


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--bookings", type=int, default=10_000)
    parser.add_argument("--processes", type=int, default=4)
    parser.add_argument("--threads", type=int, default=2)
    asked = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        server = MariaDb(Path(folder), 9571)
        server.start()
        try:
            world = make_world(f"{server.create('finearc_diary')}?charset=utf8mb4")
            times = -(-asked.bookings // (asked.processes * asked.threads))
            begun = time.perf_counter()
            with ProcessPoolExecutor(asked.processes) as pool:
                each = [pool.submit(work, world, k, asked.threads, times) for k in range(1, asked.processes + 1)]
                said = sum((f.result() for f in each), Counter[str]())
            took = time.perf_counter() - begun
            found = len(list(doubles(world)))
        finally:
            server.stop()
    done = sum(said[k] for k in SEEN if k != "gave way")
    print(f"{done} changes by {asked.processes * asked.threads} people at once in {took:.0f} s")
    print(", ".join(f"{k} {said[k]}" for k in SEEN))
    print(f"booked twice: {found}")
    raise SystemExit(1 if found or done < asked.bookings else 0)


if __name__ == "__main__":
    main()
