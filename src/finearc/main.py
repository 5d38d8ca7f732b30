"""Wires the application together and serves it."""

from __future__ import annotations

import argparse
import json
import os
import shutil
import signal
import sys
import threading
import time
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from types import FrameType

from finearc.api.app import create_app
from finearc.api.context import Services
from finearc.catalogue.interface import measures_module
from finearc.cli.measuring import tools_on
from finearc.core.errors import FineArcError
from finearc.demo.load import load
from finearc.demo.people import INSTRUCTORS, PASSWORD
from finearc.devices.hub import LiveHub
from finearc.devices.live import Devices
from finearc.launch.mariadb import MariaDb, port_is_free
from finearc.launch.memory import settle
from finearc.launch.pool import OneThread, Processes
from finearc.reports.maker import Pages
from finearc.services.jobs.board import Board
from finearc.services.jobs.ports import Pool
from finearc.store.columns import ParquetColumns
from finearc.store.migrate import upgrade
from finearc.store.passwords import Argon2Passwords
from finearc.store.unit_of_work import Store, engine_for

ROOT = Path(__file__).resolve().parents[2]
WEB = ROOT / "web" / "dist"


def wire(url: str, pace: float = 1.0, *, processes: bool = False) -> Services:
    """All services on a database address; long work goes to ``processes`` of its own, or to a thread."""
    store = Store(engine_for(url))
    codec, hub, make = ParquetColumns(), LiveHub(), partial(tools_on, url)
    pool: Pool = Processes(make) if processes else OneThread(make)
    devices = Devices(store.unit_of_work, codec, hub, pace)
    return Services(store, codec, Argon2Passwords(), Pages(), hub, devices, Board(pool, store.unit_of_work))


def say(text: str) -> None:
    """Progress for the person at the terminal."""
    print(f"  {text}", flush=True)


def load_demo(services: Services) -> None:
    """Fill an empty database with the demo."""
    with services.store.front_door() as door:
        if door.academies():
            return
    say("Playing the demo clinic with the golfer model (about half a minute) …")
    shown = [-1]

    def progress(what: str, share: float) -> None:
        tenth = int(share * 10)
        if tenth > shown[0]:
            shown[0] = tenth
            say(f"  {100 * share:3.0f} %  {what}")

    load(services.store, services.codec, services.hasher, progress)


@dataclass
class PortTaken(FineArcError):
    """The application's port is in use."""

    port: int
    code = "port_taken"

    def __str__(self) -> str:
        return (
            f"Port {self.port} is taken by another program. Stop it, or choose another: ./start --port {self.port + 1}"
        )


class Parser(argparse.ArgumentParser):
    """Options of the server."""

    def __init__(self) -> None:
        super().__init__(prog="start", description="Starts Fine Arc: database, application, demo.")
        self.add_argument("--port", type=int, default=int(os.environ.get("FINEARC_PORT", "8420")))
        self.add_argument("--db-port", type=int, default=int(os.environ.get("FINEARC_DB_PORT", "33420")))
        self.add_argument("--data", type=Path, default=Path(os.environ.get("FINEARC_DATA", ROOT / "var" / "data")))
        self.add_argument("--no-demo", action="store_true")
        self.add_argument("--pace", type=float, default=float(os.environ.get("FINEARC_PACE", "1")))


def serve(args: argparse.Namespace) -> int:
    """Start everything, serve until told to stop, stop everything."""
    import uvicorn

    begun = time.monotonic()
    if not port_is_free(args.port):
        raise PortTaken(args.port)
    database = MariaDb(args.data, args.db_port)
    say("Starting MariaDB on loopback …")
    database.start()
    try:
        url = f"{database.url}/finearc?charset=utf8mb4"
        say("Bringing the tables up to date …")
        upgrade(engine_for(url))
        services = wire(url, args.pace, processes=True)
        if not args.no_demo:
            load_demo(services)
        with services.store.front_door() as door:
            left = door.unfinished_jobs()
        services.jobs.resume(left)
        services.jobs.pool.warm()
        app = create_app(services, WEB)
        server = uvicorn.Server(
            uvicorn.Config(
                app,
                host="127.0.0.1",
                port=args.port,
                log_level="warning",
                timeout_graceful_shutdown=2,
                access_log=False,
            )
        )
        _stop_on_signals(server, services)
        announce = threading.Thread(target=_announce, args=(server, args.port, begun), daemon=True)
        announce.start()
        settle()
        server.run()
        services.jobs.pool.close()
        return 0
    finally:
        say("Stopping …")
        database.stop()


def _stop_on_signals(server: object, services: Services) -> None:
    def stop(_: int, __: FrameType | None) -> None:
        services.closing.set()
        services.hub.end()
        server.should_exit = True  # type: ignore[attr-defined]

    # the server's own handlers are replaced so that a second signal does not cut the shutdown short
    server.install_signal_handlers = lambda: None  # type: ignore[attr-defined]
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, stop)


def _announce(server: object, port: int, begun: float) -> None:
    while not getattr(server, "started", False):
        time.sleep(0.05)
    say(f"Ready in {time.monotonic() - begun:.0f} s. Sign in as {INSTRUCTORS[0][1]} with the password {PASSWORD}")
    print(f"\n  http://127.0.0.1:{port}\n", flush=True)
    say("Ctrl-C stops everything.")


def write_openapi(path: Path) -> None:
    """The interface description for the typed client; needs no database."""
    services = wire("mariadb+pymysql://nobody@127.0.0.1:1/none")
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(json.dumps(create_app(services).openapi(), indent=1), encoding="utf-8")


def write_generated(openapi: Path, measures: Path) -> None:
    """What the front end is built from: the interface's description and the catalogue's charts."""
    write_openapi(openapi)
    measures.parent.mkdir(parents=True, exist_ok=True)
    measures.write_text(measures_module(), encoding="utf-8")


def main() -> int:
    """Entry of ``./start``."""
    args = Parser().parse_args()
    try:
        return serve(args)
    except FineArcError as error:
        print(f"\n  {error}\n", file=sys.stderr)
        return 2
    except OSError as error:
        free = shutil.disk_usage(ROOT).free // 1_000_000
        print(f"\n  {error.strerror or error} ({error.filename or 'system'}); {free} MB are free.\n", file=sys.stderr)
        return 2


if __name__ == "__main__":
    sys.exit(main())
