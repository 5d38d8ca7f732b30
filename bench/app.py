"""What an instructor waits for: ``python -m bench.app``.

A lesson of 30 five-source swings in a real MariaDB, asked for through the API over HTTP on loopback. Every request's
time is printed as a ratio to a bare FastAPI route that reads one row from the same database, measured in turns in the
same run; beside it the number of SQL statements (sign-in included) and the size of the answer uncompressed.
``--many N`` asks the same once more with N swings (values only) in the store instead of a thousand. Times are medians.
"""

from __future__ import annotations

import argparse
import shutil
import socket
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from typing import Any
from uuid import UUID, uuid4

import httpx2 as httpx
import uvicorn
from sqlalchemy import Column, Table, event, insert, select, text

from finearc.api.app import create_app
from finearc.api.context import Services
from finearc.golfer.population import INJECTED
from finearc.golfer.scenarios import Scenario, play_story
from finearc.launch.mariadb import MariaDb
from finearc.launch.memory import settle
from finearc.main import wire
from finearc.services.capture.recordings import import_capture
from finearc.services.modelled import capture_of
from finearc.services.records import Academy, Instructor, Lesson, Player, Swing
from finearc.store import tables as t
from finearc.store.migrate import upgrade
from finearc.store.unit_of_work import engine_for

PASSWORD = "a long enough password"
SOURCES = ("wrist", "body", "club", "markers", "pressure")
NAMES = ("slide_away", "over_extended_top", "takeaway_dip", "early_extension", "slide_away", "over_extended_top")
ROUNDS = 25
OF_A_SWING = (t.swing_record, t.swing_value, t.swing_judgement, t.swing_verdict, t.swing_finding)
JUDGED_AGAIN = 200
FEW = 1000
OTHERS = 20


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Statements:
    """Counts SQL statements of the application."""

    def __init__(self, services: Services) -> None:
        self.count = 0
        event.listen(services.store.engine, "before_cursor_execute", self._one)

    def _one(self, *_: Any) -> None:
        self.count += 1


@contextmanager
def application(*, processes: bool = False) -> Iterator[tuple[Services, str]]:
    """A served application on a database of its own; ``/bare`` reads one row. ``processes``: long work leaves it."""
    folder = Path(tempfile.mkdtemp(prefix="finearc-bench-"))
    database = MariaDb(folder, free_port())
    database.start()
    try:
        url = database.create("finearc_bench")
        upgrade(engine_for(url))
        services = wire(f"{url}?charset=utf8mb4", processes=processes)
        app = create_app(services)

        def bare() -> dict[str, str]:
            with services.store.engine.connect() as connection:
                return {"name": str(connection.execute(text("SELECT name FROM academy LIMIT 1")).scalar())}

        app.get("/bare")(bare)
        app.router.routes.insert(0, app.router.routes.pop())
        port = free_port()
        server = uvicorn.Server(uvicorn.Config(app, port=port, log_level="warning", access_log=False))
        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.02)
        yield services, f"http://127.0.0.1:{port}"
        server.should_exit = True
    finally:
        database.stop()
        shutil.rmtree(folder, ignore_errors=True)


def fill(services: Services) -> tuple[UUID, UUID, UUID]:
    """An academy with one player: a lesson of 30 five-source swings. Returns academy, player and lesson."""
    academy = Academy("Bench")
    with services.store.front_door() as door:
        door.add(academy)
        door.add(Instructor(academy.id, "I", "bench@example.test", services.hasher.hash(PASSWORD)))
    with services.store.unit_of_work(academy.id) as uow:
        who = uow.find(Instructor)[0]
        player = Player(academy.id, "Bench Player", "right", 1.78)
        uow.add(player)
        start = datetime(2026, 3, 2, 9, 0, tzinfo=UTC)
        lesson = Lesson(academy.id, player.id, who.id, "Bay 1", start, start + timedelta(minutes=45), "running")
        uow.add(lesson)
        for seed, name in enumerate(NAMES):
            story = Scenario((INJECTED[name],) * 5, name)
            import_capture(uow, services.codec, lesson, capture_of(play_story(story, seed, sources=SOURCES)))
    return academy.id, player.id, lesson.id


def spread_out(services: Services, academy: UUID, player: UUID, lesson: UUID, lessons: int) -> None:
    """Closed lessons of the player, to lengthen lists."""
    with services.store.unit_of_work(academy) as uow:
        model = uow.get(Lesson, lesson)
        for k in range(lessons):
            start = model.starts_at - timedelta(days=7 * (k + 1))
            uow.add(
                Lesson(academy, player, model.instructor_id, "Bay 1", start, start + timedelta(minutes=45), "closed")
            )


def copied(services: Services, lesson: UUID, upto: int) -> None:
    """More running lessons of the player, so that together they have ``upto`` swings: copies of the lesson's rows."""
    with services.store.engine.begin() as connection:

        def rows(table: Table, column: Column[Any], among: list[Any]) -> list[dict[str, Any]]:
            return [dict(r) for r in connection.execute(table.select().where(column.in_(among))).mappings()]

        old = rows(t.lesson, t.lesson.c.id, [lesson])[0]
        recordings = rows(t.recording, t.recording.c.lesson_id, [lesson])
        swings = rows(t.swing, t.swing.c.lesson_id, [lesson])
        parts = {x: rows(x, x.c.swing_id, [s["id"] for s in swings]) for x in OF_A_SWING}
        left = upto - len(swings)
        while left > 0:
            where, some = uuid4(), swings[:left]
            names = {r["id"]: uuid4() for r in (*recordings, *some)}
            connection.execute(insert(t.lesson), [{**old, "id": where}])
            of = {"lesson_id": where}
            connection.execute(insert(t.recording), [{**r, **of, "id": names[r["id"]]} for r in recordings])
            connection.execute(
                insert(t.swing),
                [{**s, **of, "id": names[s["id"]], "recording_id": names[s["recording_id"]]} for s in some],
            )
            for table, known in parts.items():
                own = [{**r, "swing_id": names[r["swing_id"]]} for r in known if r["swing_id"] in names]
                connection.execute(insert(table), own)
            left -= len(some)


def grow(services: Services, academy: UUID, lesson: UUID, many: int) -> None:
    """Many more swings of other players, values only: copies of a swing's rows under other keys."""
    with services.store.unit_of_work(academy) as uow:
        model = uow.find(Swing, lesson_id=lesson)[0]
        old = uow.get(Lesson, lesson)
    v, s = t.swing_value.c, t.swing.c
    given = {"swing_id": s.id, "player_id": s.player_id, "captured_at": s.captured_at}
    columns = [c.name for c in v]
    per_lesson = 50
    with services.store.unit_of_work(academy) as uow:
        known = [p for p in uow.find(Player) if p.id != model.player_id]
        for k in range(OTHERS if not known else 0):
            known.append(Player(academy, f"Player {k}", "right"))
            uow.add(known[-1])
    for done in range(0, many, per_lesson):
        player, where = known[done // per_lesson % len(known)], uuid4()
        start = old.starts_at - timedelta(days=1 + done % 900)
        other = replace(old, id=where, player_id=player.id, starts_at=start, ends_at=start + timedelta(hours=1))
        swings = [
            replace(model, id=uuid4(), lesson_id=where, player_id=player.id, number=k + 1, captured_at=start)
            for k in range(min(per_lesson, many - done))
        ]
        with services.store.engine.begin() as connection:
            connection.execute(insert(t.lesson), [{**_row(other), "status": "closed"}])
            connection.execute(insert(t.swing), [_row(x) for x in swings])
            each = t.swing.join(t.swing_value, v.swing_id == model.id)
            values = select(*(given.get(c, v[c]) for c in columns)).select_from(each).where(s.lesson_id == where)
            connection.execute(insert(t.swing_value).from_select(columns, values))


def _row(record: Any) -> dict[str, Any]:
    return {k: v for k, v in vars(record).items() if not k.startswith("_")}


class Client:
    """A signed-in browser."""

    def __init__(self, url: str) -> None:
        self.http = httpx.Client(base_url=url, headers={"accept-encoding": "identity"}, timeout=120)
        answer = self.http.post("/api/sign-in", json={"email": "bench@example.test", "password": PASSWORD})
        self.http.headers["x-csrf-token"] = answer.json()["csrf"]

    def ask(self, method: str, path: str, json: Any = None) -> Any:
        answer = self.http.request(method, path if path == "/bare" else f"/api{path}", json=json)
        answer.raise_for_status()
        return answer


def timed(work: Callable[[], Any]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def against_bare(client: Client, work: Callable[[int], Any], rounds: int) -> tuple[float, float]:
    """Median seconds of some work and of the bare route, in turns."""
    for k in (0, 1):
        work(-1 - k)
    mine, bare = [], []
    for k in range(rounds):
        bare.append(min(timed(lambda: client.ask("GET", "/bare")) for _ in range(3)))
        mine.append(timed(lambda k=k: work(k)))  # type: ignore[misc]
    return median(mine), median(bare)


Work = tuple[str, float, Callable[[int], Any]]


def asked(client: Client, player: UUID, lesson: UUID) -> list[Work]:
    """What a screen asks for, with its goal."""
    swings = client.ask("GET", f"/lessons/{lesson}").json()["swings"]
    path = f"/swings/{swings[7]['id']}"
    top = next(e["time_s"] for e in client.ask("GET", path).json()["events"] if e["name"] == "top")
    strikes, kinds = ("toe", "heel", "thin"), ("drill", "normal")

    def moved(k: int) -> Any:
        return client.ask("PATCH", path, {"checkpoint": {"name": "top", "time_s": top - 0.01 * (1 + k % 3)}})

    return [
        ("swing", 8, lambda k: client.ask("GET", path)),
        ("lesson", 12, lambda k: client.ask("GET", f"/lessons/{lesson}")),
        ("strike", 6, lambda k: client.ask("PATCH", path, {"strike": strikes[k % 3]})),
        ("mark", 6, lambda k: client.ask("PATCH", path, {"kind": kinds[k % 2]})),
        ("note", 6, lambda k: client.ask("PATCH", f"/lessons/{lesson}", {"note": f"Note {k}"})),
        ("diary", 0, lambda k: client.ask("GET", "/diary?day=2026-03-02")),
        ("players", 0, lambda k: client.ask("GET", "/players")),
        ("player", 0, lambda k: client.ask("GET", f"/players/{player}")),
        ("checkpoint", 0, moved),
    ]


def table(client: Client, statements: Statements, requests: list[Work], rounds: int) -> dict[str, float]:
    """Print a line a request; the ratios to the bare route."""
    print(f"{'request':10} {'× bare':>7} {'goal':>5} {'ms':>7} {'SQL':>4} {'kB':>7}")
    ratios = {}
    for name, goal, work in requests:
        seconds, bare = against_bare(client, work, rounds if name != "checkpoint" else max(3, rounds // 4))
        statements.count = 0
        answer = work(rounds)
        ratios[name] = seconds / bare
        line = f"{name:10} {ratios[name]:7.1f} {goal or '':>5} {1000 * seconds:7.1f} {statements.count:4d}"
        print(f"{line} {len(answer.content) / 1000:7.1f}", flush=True)
    return ratios


def school(client: Client, statements: Statements, player: UUID, rounds: int) -> None:
    """A player's school changed: all swings of open lessons are judged again."""
    schools = ("flat", "hold")
    body = {"name": "Bench Player", "handedness": "right", "height_m": 1.78, "consent_by": "x"}

    def change(k: int) -> Any:
        return client.ask("PUT", f"/players/{player}", {**body, "schools": {"lead_wrist": schools[k % 2]}})

    seconds, bare = against_bare(client, change, rounds)
    statements.count = 0
    change(rounds)
    print(
        f"{'school':10} {seconds / bare:7.1f} {'':>5} {1000 * seconds:7.1f} {statements.count:4d}   "
        f"{JUDGED_AGAIN / seconds:.0f} swings/s; bare route {1000 * bare:.2f} ms",
        flush=True,
    )


def main() -> None:
    """Print the table."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--rounds", type=int, default=ROUNDS)
    parser.add_argument("--many", type=int, default=0)
    args = parser.parse_args()
    with application() as (services, url):
        academy, player, lesson = fill(services)
        spread_out(services, academy, player, lesson, 40)
        settle()
        client, statements = Client(url), Statements(services)
        requests = asked(client, player, lesson)
        if args.many:
            grow(services, academy, lesson, FEW)
        few = table(client, statements, requests, args.rounds)
        if args.many:
            grow(services, academy, lesson, args.many - FEW)
            print(f"\nwith {args.many} swings instead of {FEW}:")
            many = table(client, statements, requests, args.rounds)
            print("  ".join(f"{name} {many[name] / few[name]:.2f} ×" for name in many))
        copied(services, lesson, JUDGED_AGAIN)
        school(client, statements, player, max(3, args.rounds // 4))


if __name__ == "__main__":
    main()
