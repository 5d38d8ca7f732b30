"""What an attacker and bad luck do to a running application: ``python -m validation.attack``.

On loopback, against ``python -m finearc.launch`` in a folder of its own: odd requests with real ids, hostile files, and
``kill -9`` of the web process and of the database while swings are captured and imported. Prints counts; the exit code
is 0 when nothing was lost, half saved or answered with a 5xx of the application's own."""

from __future__ import annotations

import argparse
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any

import httpx2 as httpx
from sqlalchemy import create_engine, text

from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.formats.c3d_file import c3d_bytes
from finearc.golfer.scenarios import play
from finearc.launch.mariadb import MariaDb
from finearc.services.modelled import capture_of
from validation.foreign import foreign
from validation.hostile import bundles, wide_trc
from validation.odd_requests import Odd

PASSWORD = "ferry lantern walnut"
LEFT = frozenset(
    {
        "POST /api/sign-out",
        "DELETE /api/me/sessions",
        "DELETE /api/me/sessions/{session_id}",
        "PUT /api/me/password",
        "DELETE /api/players/{player_id}",
    }
)
"""After these nothing else would be found; erasing has tests of its own."""
WITHOUT = "select count(*) from {} x left join {} y on y.{} = x.id where y.{} is null"
HALF_SAVED = {
    "swings without their record": WITHOUT.format("swing", "swing_record", "swing_id", "swing_id"),
    "swings without their judgement": WITHOUT.format("swing", "swing_judgement", "swing_id", "swing_id"),
    "imported recordings without raw data": WITHOUT.format("recording", "chunk", "recording_id", "recording_id")
    + " and x.source <> 'stand-in'",
    "jobs that neither wait nor have ended": "select count(*) from job where state in ('running', 'waiting')",
}


def free_port() -> int:
    """A port nobody listens on."""
    import socket

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


PACE = "6"
"""How much faster than real the players live."""


@dataclass
class Application:
    """A running application with one academy."""

    folder: Path
    port: int = field(default_factory=free_port)
    db_port: int = field(default_factory=free_port)
    pace: str = PACE
    process: subprocess.Popen[bytes] | None = None
    stand_ins: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        options = ["--port", str(self.port), "--db-port", str(self.db_port), "--data", str(self.folder), "--no-demo"]
        command = [sys.executable, "-m", "finearc.launch", *options, "--pace", self.pace]
        with (self.folder.parent / "start.log").open("ab") as log:
            self.process = subprocess.Popen(command, stdout=log, stderr=log)
        self.wait()

    def wait(self, patience_s: float = 120.0) -> float:
        """Until it is ready; the seconds that took."""
        begun = time.monotonic()
        while time.monotonic() - begun < patience_s:
            with suppress(httpx.HTTPError):
                if httpx.get(f"{self.url}/readyz", timeout=2).status_code == 200:
                    return time.monotonic() - begun
            time.sleep(0.1)
        raise AssertionError((self.folder.parent / "start.log").read_text()[-2000:])

    def web(self) -> int:
        """The web process's id."""
        return next(p for p in _children(self.process.pid) if b"finearc.main" in _command(p))  # type: ignore[union-attr]

    def memory(self) -> list[int]:
        """Bytes of each process but the database, the largest first (shared pages counted once)."""
        found = (_pss(p) for p in _tree(self.process.pid) if b"mariadbd" not in _command(p))  # type: ignore[union-attr]
        return sorted(found, reverse=True)

    def database(self) -> MariaDb:
        return MariaDb(self.folder, self.db_port)

    def put_on_stand_ins(self, person: Person, bay: str = "Bay 1") -> None:
        """A player with devices in a bay, in a process of their own that no kill is meant for."""
        if self.stand_ins is not None:
            return
        made = person.send("POST", "/api/bays/tokens", json={"bay": bay, "name": "attack"})
        options = ["--url", self.url, "--token", made.json()["token"], "--pace", PACE]
        command = [sys.executable, "-m", "finearc", "devices", *options, "--plays", str(self.folder.parent / "plays")]
        with (self.folder.parent / "devices.log").open("ab") as log:
            self.stand_ins = subprocess.Popen(command, stdout=log, stderr=log)

    def stop(self) -> None:
        if self.stand_ins is not None:
            self.stand_ins.terminate()
            self.stand_ins.wait(20)
        if self.process is not None:
            self.process.terminate()
            self.process.wait(60)


def _command(pid: int) -> bytes:
    with suppress(OSError):
        return Path(f"/proc/{pid}/cmdline").read_bytes()
    return b""


def _children(pid: int) -> list[int]:
    with suppress(OSError):
        return [int(p) for p in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    return []


def _tree(pid: int) -> Iterator[int]:
    yield pid
    for task in Path(f"/proc/{pid}/task").glob("*") if Path(f"/proc/{pid}").exists() else []:
        with suppress(OSError):
            for child in (task / "children").read_text().split():
                yield from _tree(int(child))


def _pss(pid: int) -> int:
    with suppress(OSError, StopIteration):
        lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
        return 1024 * int(next(line for line in lines if line.startswith("Pss:")).split()[1])
    return 0


@contextmanager
def peak(application: Application) -> Iterator[list[int]]:
    """The memory of each process when most was used in all."""
    most, done = application.memory(), threading.Event()

    def watch() -> None:
        while not done.wait(0.05):
            found = application.memory()
            if sum(found) > sum(most):
                most[:] = found

    thread = threading.Thread(target=watch, daemon=True)
    thread.start()
    try:
        yield most
    finally:
        done.set()
        thread.join()


@dataclass
class Person:
    """Somebody who is signed in."""

    client: httpx.Client
    csrf: str

    def __enter__(self) -> Person:
        return self

    def __exit__(self, *_: object) -> None:
        self.client.close()

    @staticmethod
    def signed_in(url: str) -> Person:
        client = httpx.Client(base_url=url, timeout=60)
        answer = client.post("/api/sign-in", json={"email": "a@attack.example", "password": PASSWORD})
        return Person(client, answer.json()["csrf"])

    def send(self, method: str, path: str, **options: Any) -> httpx.Response:
        headers = {"x-csrf-token": self.csrf, "if-match": "*", **options.pop("headers", {})}
        return self.client.request(method, path, headers=headers, **options)

    def lesson(self, name: str) -> str:
        player = self.send("POST", "/api/players", json={"name": name, "consent_by": name}).json()
        return str(self.send("POST", "/api/lessons/start-now", json={"player_id": player["id"]}).json()["id"])

    def bring(self, lesson_id: str, content: bytes, name: str = "x.zip", path: str = "bundle") -> httpx.Response:
        fields = {} if path == "bundle" else {"data": {"mapping": '{"names": {}}'}}
        return self.send("POST", f"/api/lessons/{lesson_id}/{path}", files={"file": (name, content)}, **fields)

    def swings(self, lesson_id: str) -> list[str]:
        return [s["id"] for s in self.send("GET", f"/api/lessons/{lesson_id}").json()["swings"]]


def ids_of(person: Person, content: bytes) -> dict[str, Any]:
    """Real ids for every path."""
    lesson_id = person.lesson("Ida")
    person.bring(lesson_id, content).raise_for_status()
    lesson = person.send("GET", f"/api/lessons/{lesson_id}").json()
    swing, player = lesson["swings"][0], lesson["player"]["id"]
    limit = person.send("POST", f"/api/players/{player}/limits", json={"area": "wrist", "movement": "flexion"}).json()
    block = {"kind": "test", "metric": "lead_wrist_extension", "moment": "top"}
    blocks = person.send("POST", f"/api/lessons/{lesson_id}/blocks", json=block).json()["blocks"]
    reference = person.send("POST", "/api/references", json={"form": "swing", "swing_ids": [swing["id"]]}).json()
    return {
        "lesson_id": lesson_id,
        "swing_id": swing["id"],
        "player_id": player,
        "limit_id": limit["limits"][0]["id"],
        "recording_id": lesson["recordings"][0]["id"],
        "block_id": blocks[-1]["id"],
        "reference_id": reference["id"],
        "job_id": person.send("GET", "/api/jobs").json()[0]["id"],
        "session_id": person.send("GET", "/api/me/sessions").json()[0]["id"],
        "drill_id": "peg_pointer",
        "finding_id": "own",
        "preset_id": lesson_id,
        "kind": "traces",
        "measuring": swing["measuring"],
    }


def spoilt(content: bytes, draw: random.Random) -> bytes:
    """The same file with some bytes changed, cut off, or twice."""
    way = draw.random()
    if way < 0.2:
        return content[: draw.randrange(len(content))]
    if way < 0.25:
        return content + content
    out = bytearray(content)
    for _ in range(draw.choice([1, 4, 60])):
        at = draw.randrange(len(out))
        out[at] = draw.randrange(256)
    return bytes(out)


def odd_requests(application: Application, person: Person, content: bytes, count: int) -> Counter[int]:
    """So many odd requests, from four at once. Operations that end what the others are about come last."""
    description = person.send("GET", "/api/openapi.json").json()
    told: Counter[int] = Counter()
    lock = threading.Lock()

    def some(seed: int) -> None:
        mine = Person.signed_in(application.url)
        ids = ids_of(mine, content)
        odd = Odd(description, ids, seed)
        for number, request in enumerate(odd.requests(count // 4, leave=LEFT)):
            if number % (4 * len(odd.operations)) == len(odd.operations):
                odd.renew(ids_of(mine, content))  # what was erased meanwhile is made anew
            status = _asked(mine, request)
            with lock:
                told[status] += 1
                if status >= 500:
                    print(f"  {status}: {request}"[:600], flush=True)

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(some, range(4)))
    return told


def _asked(person: Person, request: Any) -> int:
    try:
        answer = person.send(
            request.method, request.path, params=request.query, content=request.content, headers=dict(request.headers)
        )
    except httpx.InvalidURL:
        return 0
    return int(answer.status_code)


def hostile_files(person: Person, content: bytes, count: int) -> Counter[int]:
    """Files made to do harm, and real ones with some bytes changed."""
    told: Counter[int] = Counter()
    draw = random.Random(7)
    lesson_id = person.lesson("Files")
    labels, points = foreign(swings=1)
    lab = c3d_bytes(labels, points, 240.0)
    for what, hostile in bundles().items():
        told[_brought(person, lesson_id, what, hostile, "x.zip", "bundle")] += 1
    told[_brought(person, lesson_id, "wide trc", wide_trc(), "x.trc", "markers/inspect")] += 1
    for number in range(count):
        if number % 2:
            told[_brought(person, lesson_id, "bundle", spoilt(content, draw), "x.zip", "bundle")] += 1
        else:
            path = draw.choice(["markers", "markers/inspect"])
            told[_brought(person, lesson_id, "c3d", spoilt(lab, draw), "x.c3d", path)] += 1
    return told


def _brought(person: Person, lesson_id: str, what: str, content: bytes, name: str, path: str) -> int:
    answer = person.bring(lesson_id, content, name, path)
    if answer.status_code >= 500 or answer.json().get("code") == "internal":
        print(f"  {answer.status_code} for {what}: {answer.text[:200]}", flush=True)
        return 500
    return int(answer.status_code)


def grown(before: list[int], most: list[int]) -> None:
    """A line on memory."""
    each = ", ".join(f"{n / 1e6:.0f}" for n in most)
    print(
        f"  memory {sum(before) / 1e6:.0f} MB before, {(sum(most) - sum(before)) / 1e6:+.0f} at most ({each})",
        flush=True,
    )


def half_saved(application: Application) -> dict[str, int]:
    """What stands in the tables without what belongs to it."""
    engine = create_engine(f"{application.database().url}/finearc?charset=utf8mb4")
    with engine.connect() as connection:
        found = {what: int(connection.scalar(text(query)) or 0) for what, query in HALF_SAVED.items()}
    engine.dispose()
    return {what: n for what, n in found.items() if n}


@dataclass
class Toll:
    """What kills cost."""

    acknowledged: int = 0
    lost: int = 0
    away_s: list[float] = field(default_factory=list)
    capture_s: list[float] = field(default_factory=list)


def kills(application: Application, content: bytes, count: int, victim: Callable[[], int]) -> Toll:
    """Kill so often, at a moment of chance, while swings are captured and files imported. Every swing that was seen
    before must be there afterwards, and new ones must come by themselves."""
    toll, draw, known = Toll(), random.Random(11), set[str]()
    live, imports = "", ""
    for number in range(count):
        person = Person.signed_in(application.url)
        if number % 5 == 0:
            live, imports = person.lesson(f"Live {number}"), person.lesson(f"Imports {number}")
            application.put_on_stand_ins(person)
            body = {"scenario": "hold-then-flex", "seed": 3, "club_clip": True}
            person.send("POST", f"/api/lessons/{live}/recordings", json=body).raise_for_status()
            until(partial(_swing, person, live))
            known = set()
        known |= set(person.swings(live)) | set(person.swings(imports))
        threading.Thread(target=_bring_quietly, args=(application.url, imports, content), daemon=True).start()
        time.sleep(draw.uniform(0.2, 2.5))
        with suppress(httpx.HTTPError):
            known |= set(person.swings(live)) | set(person.swings(imports))
        begun = time.monotonic()
        os.kill(victim(), signal.SIGKILL)
        toll.away_s.append(_gone_and_back(application))
        person = Person.signed_in(application.url)
        there = person.swings(live)
        lost = known - set(there) - set(person.swings(imports))
        toll.acknowledged, toll.lost = toll.acknowledged + len(known), toll.lost + len(lost)
        if len(there) < 10:
            with suppress(AssertionError):
                until(partial(_more_than, len(there), person, live), 40.0)
                toll.capture_s.append(time.monotonic() - begun)
    return toll


def _swing(person: Person, lesson_id: str) -> bool:
    answer = person.send("POST", f"/api/lessons/{lesson_id}/stand-in/swings", json={"count": 10})
    return answer.status_code == 200


def _more_than(count: int, person: Person, lesson_id: str) -> bool:
    return len(person.swings(lesson_id)) > count


def _bring_quietly(url: str, lesson_id: str, content: bytes) -> None:
    with suppress(httpx.HTTPError, KeyError, ValueError):
        Person.signed_in(url).bring(lesson_id, content)


def _gone_and_back(application: Application) -> float:
    begun = time.monotonic()
    time.sleep(0.4)
    application.wait()
    return time.monotonic() - begun


def until(happened: Callable[[], bool], patience_s: float = 60.0) -> None:
    """Wait for something. Raises ``AssertionError``."""
    end = time.monotonic() + patience_s
    while not happened():
        if time.monotonic() > end:
            raise AssertionError("it did not happen")
        time.sleep(0.1)


def told(what: str, toll: Toll) -> None:
    """A line on kills."""
    capture = sorted(toll.capture_s) or [0.0]
    lost = f"{toll.acknowledged} times a swing was acknowledged, {toll.lost} lost"
    print(f"{what}: {len(toll.away_s)} kills, {lost}; back after {max(toll.away_s):.1f} s at most")
    middle, most = capture[len(capture) // 2], capture[-1]
    print(f"  the next live swing {middle:.1f} s after the kill in the middle, {most:.1f} s at most", flush=True)


def make_academy(application: Application) -> None:
    """By the command line, with its first instructor."""
    command = [sys.executable, "-m", "finearc", "academy", "Attacked", "Anna", "a@attack.example"]
    where = ["--data", str(application.folder), "--db-port", str(application.db_port)]
    subprocess.run([*command, *where], input=f"{PASSWORD}\n".encode(), check=True, stdout=subprocess.DEVNULL)


def main() -> int:
    """Print all; 0 when nothing was lost."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--requests", type=int, default=10_000)
    parser.add_argument("--files", type=int, default=400)
    parser.add_argument("--web-kills", type=int, default=100)
    parser.add_argument("--database-kills", type=int, default=20)
    args = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="finearc-attack-"))
    application = Application(folder / "data")
    failed = 0
    try:
        application.start()
        make_academy(application)
        content = zip_bytes(bundle_files(capture_of(play("over-extended", 11, sources=("wrist", "club")))))
        person = Person.signed_in(application.url)
        ids_of(person, content)
        before = application.memory()
        with peak(application) as most:
            counts = odd_requests(application, person, content, args.requests)
        fives = sum(n for status, n in counts.items() if status >= 500)
        print(f"{sum(counts.values())} odd requests: {fives} answered with 5xx; {dict(sorted(counts.items()))}")
        grown(before, most)
        before = application.memory()
        with peak(application) as most:
            files = hostile_files(person, content, args.files)
        print(f"{sum(files.values())} hostile files: {files[500]} answered with 5xx; {dict(sorted(files.items()))}")
        grown(before, most)
        web = kills(application, content, args.web_kills, application.web)
        told("web process", web)
        data = kills(
            application, content, args.database_kills, lambda: int((application.folder / "mariadb.pid").read_text())
        )
        told("database", data)
        with suppress(AssertionError):
            until(lambda: not half_saved(application), 120.0)  # what was begun is ended first
        half = half_saved(application)
        print(f"half saved: {half or 'nothing'}")
        failed = fives + files[500] + web.lost + data.lost + sum(half.values())
    finally:
        application.stop()
        shutil.rmtree(folder, ignore_errors=True)
    return int(failed > 0)


if __name__ == "__main__":
    sys.exit(main())
