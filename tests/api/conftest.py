"""A whole application on a real MariaDB, with two academies."""

from __future__ import annotations

import os
import socket
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache

import pytest
import uvicorn
from starlette.testclient import TestClient

from finearc.api.app import create_app
from finearc.api.context import COOKIE, Services
from finearc.devices.link.server_clock import ServerClock
from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.formats.round_bundle import round_files
from finearc.golfer.course import round as course
from finearc.golfer.scenarios import play
from finearc.launch.mariadb import MariaDb
from finearc.main import wire
from finearc.services.modelled import capture_of, round_of
from finearc.services.people.tokens import hash_token
from finearc.services.records import Academy, Instructor
from finearc.store.migrate import upgrade
from finearc.store.unit_of_work import engine_for
from tests.devices.held_clock import HeldClock
from tests.devices.local import put_into

PASSWORD = "a long enough password"
RIGS: dict[int, dict[object, object]] = {}
"""The players that stand in bays, by services and academy."""


@dataclass
class Browser:
    """A signed-in client that sends the page's own token."""

    client: TestClient
    csrf: str = ""

    def sign_in(self, email: str, password: str = PASSWORD):
        answer = self.client.post("/api/sign-in", json={"email": email, "password": password})
        if answer.status_code == 200:
            self.csrf = answer.json()["csrf"]
        return answer

    def get(self, path: str, **options):
        return self.client.get(f"/api{path}", **options)

    def send(self, method: str, path: str, **options):
        headers = {"x-csrf-token": self.csrf, "if-match": "*", **options.pop("headers", {})}
        return self.client.request(method, f"/api{path}", headers=headers, **options)

    def post(self, path: str, json=None, **options):
        if path.endswith("/recordings"):
            self.put_on_stand_ins()
        return self.send("POST", path, json=json, **options)

    def patch(self, path: str, json=None):
        return self.send("PATCH", path, json=json)

    def put(self, path: str, json=None):
        return self.send("PUT", path, json=json)

    def block(self, swing, kind: str = "traces"):
        """A block of a swing as it was last read."""
        return self.get(f"/swings/{swing['id']}/blocks/{kind}/{swing['measuring']}")

    def watch(self, path: str, **options):
        """A WebSocket of a screen."""
        return self.client.websocket_connect(f"ws://127.0.0.1/api{path}", **options)

    def put_on_stand_ins(self) -> None:
        """A player with devices stands in the academy's first bay from now on."""
        services = self.client.app.state.services
        with services.store.front_door() as door:
            session = door.enter(hash_token(self.client.cookies[COOKIE]), {}).session
        if session.academy_id not in RIGS.setdefault(id(services), {}):
            RIGS[id(services)][session.academy_id] = put_into(services, session.academy_id)

    def swing(self, swing_id: str):
        """A swing with all its values in words as ``metrics``."""
        found = self.get(f"/swings/{swing_id}").json()
        return {**found, "metrics": self.get(f"/swings/{swing_id}/numbers").json()}

    def changed(self, answer):
        """The swing of a change's answer, with all its values in words as ``metrics``."""
        swing = answer.json()["swing"]
        return {**swing, "metrics": self.get(f"/swings/{swing['id']}/numbers").json()}

    def lesson(self, lesson_id: str):
        return self.get(f"/lessons/{lesson_id}").json()


@pytest.fixture(scope="module")
def pace() -> float:
    """How much faster than real time passes, while the machine can follow; slower where a module wants it so."""
    return 20.0


@pytest.fixture(scope="module")
def services(mariadb: MariaDb, pace: float) -> Iterator[Services]:
    worker = os.environ.get("PYTEST_XDIST_WORKER", "main")
    url = mariadb.create(f"finearc_api_{worker}")
    upgrade(engine_for(url))
    wired = wire(f"{url}?charset=utf8mb4", pace=pace)
    wired.hosts = ("testserver",)
    wired.link.clock = clock = HeldClock(pace)
    wired.link.opened.append(lambda *_: clock.turn_with_the_loop())
    hashed = wired.hasher.hash(PASSWORD)
    for name, email in (("North", "north@example.test"), ("South", "south@example.test")):
        academy = Academy(name)
        with wired.store.front_door() as door:
            door.add(academy)
            door.add(Instructor(academy.id, f"{name} Instructor", email, hashed, role="owner"))
    yield wired
    wired.devices.end_all()
    wired.jobs.pool.close()
    wired.store.engine.dispose()


@pytest.fixture(scope="module")
def open_browser(services: Services) -> Iterator[Callable[[], Browser]]:
    app = create_app(services)
    with TestClient(app, base_url="http://127.0.0.1") as first:
        del first
        yield lambda: Browser(TestClient(app, base_url="http://127.0.0.1"))


@pytest.fixture(scope="module")
def browser(open_browser) -> Browser:
    """North's instructor."""
    opened = open_browser()
    assert opened.sign_in("north@example.test").status_code == 200
    return opened


@pytest.fixture(scope="module")
def stranger(open_browser) -> Browser:
    """South's instructor: another academy."""
    opened = open_browser()
    assert opened.sign_in("south@example.test").status_code == 200
    return opened


@pytest.fixture(scope="module")
def north(services: Services):
    """North's id."""
    with services.store.front_door() as door:
        return next(a.id for a in door.academies() if a.name == "North")


@pytest.fixture(scope="module")
def colleague(services, open_browser, north):
    """Another instructor of the same academy."""
    with services.store.front_door() as door:
        door.add(
            Instructor(north, "Second Instructor", "second@example.test", services.hasher.hash(PASSWORD), role="owner")
        )
    opened = open_browser()
    assert opened.sign_in("second@example.test").status_code == 200
    return opened


@lru_cache(maxsize=64)
def bundle(name: str, seed: int = 5, **options) -> bytes:
    """A simulated bundle as a zip."""
    return zip_bytes(bundle_files(capture_of(play(name, seed, **options))))


@lru_cache(maxsize=1)
def round_zip() -> bytes:
    """A short simulated round as a zip."""
    plan = course.RoundPlan(shots=14, practice=6, putts=6, disturbances=20, tap_ins=2)
    return zip_bytes(round_files(round_of(course.play_round("round-short-under-pressure", 5, plan))))


def bring_round(browser: Browser, player_id: str, content: bytes, name: str = "round.zip"):
    """Bring a round to a player: the job when it has ended."""
    begun = browser.send("POST", f"/players/{player_id}/rounds", files={"file": (name, content, "application/zip")})
    assert begun.status_code == 202, begun.text

    def ended():
        job = browser.get(f"/jobs/{begun.json()['id']}").json()
        return job if job["state"] in ("done", "failed") else None

    return wait(ended)


def new_lesson(browser: Browser, name: str = "Test Player", **player) -> str:
    """A running lesson of a new player."""
    made = browser.post("/players", {"name": name, "consent_by": name, **player}).json()
    me = browser.get("/me").json()
    day = f"2031-01-{1 + hash(made['id']) % 27:02d}"
    for hour in range(24):
        answer = browser.post(
            "/lessons",
            {
                "player_id": made["id"],
                "instructor_id": me["instructor_id"],
                "bay": "Bay 1",
                "starts_at": f"{day}T{hour:02d}:00:00Z",
                "minutes": 45,
            },
        )
        if answer.status_code == 201:
            return answer.json()["id"]
    raise AssertionError("no free hour")


def drop(browser: Browser, lesson_id: str, content: bytes):
    """Drop a bundle onto a lesson."""
    return browser.send(
        "POST", f"/lessons/{lesson_id}/bundle", files={"file": ("session.zip", content, "application/zip")}
    )


def measure_again(browser: Browser, decision: str = "accept"):
    """Measure everything of the academy again and decide; what was found."""
    assert browser.post("/measuring").status_code == 202
    done = wait(lambda: (lambda m: m if m["job"]["state"] == "done" else None)(browser.get("/measuring").json()), 120)
    assert browser.post(f"/measuring/{done['job']['id']}/decision", {"decision": decision}).status_code == 202
    wait(lambda: browser.get("/measuring").json()["job"] is None, 120)
    return done


def wait(found, seconds=90.0):
    """What ``found`` gives once it gives something."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        value = found()
        if value:
            return value
        time.sleep(0.1)
    raise AssertionError("did not happen in time")


class _OwnLoop(uvicorn.Server):
    """The loop that carries the sockets is the bays' loop, as in the application: the clients of these tests have loops
    of their own, and what is safe is told in the bays' loop only."""

    def __init__(self, config: uvicorn.Config, services: Services) -> None:
        super().__init__(config)
        self._link = services.link

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        self._link.begin(anew=True)
        await super().startup(sockets)


@pytest.fixture(scope="module")
def server(services):
    """The application on a port of its own, in real time; what it is called on the link."""
    services.link.clock = ServerClock()
    port = socket.create_server(("127.0.0.1", 0))
    port.setsockopt(socket.SOL_SOCKET, socket.SO_SNDBUF, 8192)  # so that who does not read is noticed soon
    config = uvicorn.Config(
        create_app(services), log_level="error", ws="websockets-sansio", ws_max_size=8_000_000, lifespan="off"
    )
    running = _OwnLoop(config, services)
    thread = threading.Thread(target=running.run, kwargs={"sockets": [port]}, daemon=True)
    thread.start()
    while not running.started:
        time.sleep(0.02)
    yield f"ws://127.0.0.1:{port.getsockname()[1]}/api/link"
    running.should_exit = True
    thread.join(10)


@pytest.fixture
def token(browser, request):
    """Of a bay of its own for each test: (token, its id, the bay's name)."""
    bay = f"Bay {abs(hash(request.node.name)) % 10_000}"
    made = browser.post("/bays/tokens", {"bay": bay, "name": "test rig"}).json()
    return made["token"], made["id"], bay
