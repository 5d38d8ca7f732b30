"""Wires the application together and serves it. ``python -m finearc.launch`` runs it."""

from __future__ import annotations

import argparse
import json
import os
import shutil
import signal
import socket
import sys
import tempfile
import threading
import time
import weakref
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from functools import partial
from pathlib import Path
from types import FrameType

from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError

from finearc.api.app import create_app
from finearc.api.context import Services
from finearc.catalogue import library
from finearc.catalogue.interface import measures_module, pictures_module
from finearc.cli.measuring import tools_on
from finearc.core.errors import FineArcError
from finearc.demo.load import load
from finearc.demo.people import ACADEMY, INSTRUCTORS, PASSWORD
from finearc.devices.feed import Feeds
from finearc.devices.hub import LiveHub
from finearc.devices.link.bays import Bays
from finearc.devices.link.handed import HandedLogs
from finearc.devices.link.server_clock import ServerClock
from finearc.devices.live import Devices, Keeping
from finearc.devices.processes import RELAY, Captain, Crew
from finearc.keeping.backup import back_up
from finearc.keeping.erased import note_erased
from finearc.keeping.folder import BackupFolder
from finearc.launch.mariadb import MariaDb
from finearc.launch.memory import settle
from finearc.launch.options import STAND_INS, Parser, is_loopback
from finearc.launch.pool import OneThread, Processes
from finearc.launch.supervisor import GO, SCRUB, end_with_parent, touch
from finearc.reports.maker import Pages
from finearc.services.capture.bays import bays_of, make_token
from finearc.services.capture.clips import let_go_removed
from finearc.services.course.rounds import let_go as let_go_rounds
from finearc.services.jobs.board import Board
from finearc.services.jobs.ports import Pool
from finearc.services.people.erasing import erase_without_consent
from finearc.services.people.periods import let_go
from finearc.services.people.sessions import Sessions
from finearc.services.records import now
from finearc.services.seen import Seen, seen_in, unseen
from finearc.store.columns import ParquetColumns
from finearc.store.faults import is_passing
from finearc.store.migrate import NoDatabase, is_ready, newest, refuse_unless_current, revision_of, upgrade
from finearc.store.passwords import Argon2Passwords
from finearc.store.throttle import SqlThrottle
from finearc.store.unit_of_work import Store, engine_for
from finearc.wording.interface import write_words

ROOT = Path(__file__).resolve().parents[2]
WEB = ROOT / "web" / "dist"
NAME = "finearc?charset=utf8mb4"
"""Of the database."""
BEFORE_UPGRADES = "before-upgrades"
"""In the data folder: where backups go before tables change, where no other folder is named."""
LINKS_LEFT = timedelta(days=7)
"""So long a link that is over is still there, for whoever asks what became of it (house value)."""
AT_ONCE = 200
"""Lessons and recordings that an academy's rules let go in one tidying: the rest an hour later."""
TIDY_EVERY_S, PICK_UP_EVERY_S = 3600.0, 30.0
DATABASE_S = 120.0
"""So long a new database may take to be made."""


def wire(
    url: str,
    pace: float = 1.0,
    *,
    processes: bool = False,
    seen: Seen | None = None,
    journal: Path | None = None,
    logs: Path | None = None,
) -> Services:
    """All services on a database address; long work goes to ``processes`` of its own, or to a thread.
    ``journal``: where what devices send is put on disk, ``logs``: where what they hand over waits; else folders that go
    with the process."""
    store = Store(engine_for(url))
    codec, hub = ParquetColumns(), LiveHub()
    make = partial(tools_on, url, limited=processes)
    pool: Pool = Processes(make) if processes else OneThread(make)
    bays = Bays(journal or own_folder(store), ServerClock(pace), sync=journal is not None)
    handed = HandedLogs(logs or own_folder(store), list(library.clubs()), bays.soon)
    bays.logs = handed
    feeds = Feeds()
    reading: Pool = Processes(make) if processes else OneThread(make)
    devices = Devices(Keeping(store.unit_of_work, reading, hub, is_passing), bays, feeds)
    hasher = Argon2Passwords()
    throttle = SqlThrottle(store.engine)
    sessions = Sessions(store.front_door, hasher, throttle, hub.end_sessions)
    board = Board(pool, store.unit_of_work, is_passing)
    return Services(
        store,
        codec,
        hasher,
        Pages(),
        hub,
        devices,
        board,
        sessions,
        throttle,
        bays,
        feeds,
        handed,
        bays,
        seen=seen or unseen(),
    )


def own_folder(owner: object) -> Path:
    """A folder that is gone when its owner is."""
    folder = Path(tempfile.mkdtemp(prefix="finearc-journal-"))
    weakref.finalize(owner, shutil.rmtree, folder, ignore_errors=True)
    return folder


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


def put_on_stand_ins(services: Services, file: Path) -> None:
    """Tokens for simulated devices in the demo's bays, made once, in a file that their process reads."""
    if file.exists():
        return
    with services.store.front_door() as door:
        academy = next((a for a in door.academies() if a.name == ACADEMY), None)
    if academy is None:
        return
    with services.store.unit_of_work(academy.id) as uow:
        tokens = [make_token(uow, read.name, "simulated devices")[0] for read in bays_of(uow)]
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as opened:
        opened.write("".join(f"{token}\n" for token in tokens))


class ChildParser(Parser):
    """What the supervisor tells each of its processes beside the options of ``./start``."""

    def __init__(self) -> None:
        super().__init__()
        self.add_argument("--socket", type=int, required=True, help=argparse.SUPPRESS)
        self.add_argument("--begun", type=float, required=True, help=argparse.SUPPRESS)
        self.add_argument("--number", type=int, required=True, help=argparse.SUPPRESS)
        self.add_argument("--again", action="store_true", help=argparse.SUPPRESS)
        self.add_argument("--spare", action="store_true", help=argparse.SUPPRESS)


def prepare(database: MariaDb, backups: Path, passphrase: str = "") -> None:
    """Tables of this version, with the rights of their owner, once the database answers. What earlier versions kept is
    backed up before: raises ``BackupTrouble`` where that cannot be, and then nothing has changed."""
    owner = engine_for(f"{database.owner_url}/{NAME}")
    await_database(owner)
    if is_ready(owner) == "ok":
        owner.dispose()
        return
    if revision_of(owner) is not None:
        say("Backing up before the tables change …")
        back_up(database, BackupFolder(backups, passphrase, make=True), say)
    say("Bringing the tables up to date …")
    upgrade(owner)
    owner.dispose()


def await_database(engine: Engine, *, tables: bool = False) -> None:
    """Wait until the database answers, and with ``tables`` until they are of this version. Raises what it answers
    when it goes on for too long."""
    end = time.monotonic() + DATABASE_S
    while True:
        try:
            if tables:
                refuse_unless_current(engine)
            else:
                engine.connect().close()
            return
        except (OperationalError, NoDatabase):
            if time.monotonic() > end:
                raise
            time.sleep(0.1)


def wired(args: argparse.Namespace, database: MariaDb) -> Services:
    """All services as the options want them."""
    exposed = not is_loopback(args.host)
    seen = seen_in(args.data / "log")
    journal = args.data / "journal"
    services = wire(
        f"{database.url}/{NAME}", args.pace, processes=True, seen=seen, journal=journal, logs=args.data / "handed-over"
    )
    services.secure = args.tls_proxy or exposed
    services.proxied = args.tls_proxy
    services.hosts = (*args.name, *([args.host] if exposed else []))
    services.scrub = partial(after_erasing, services, args.data)
    services.folder = args.data
    if args.workers > 1:
        join_processes(services, args)
    return services


def after_erasing(services: Services, data: Path) -> None:
    """Have what was erased overwritten in the storage, and kept from coming back with a backup."""
    touch(data / SCRUB)
    threading.Thread(target=tell_backups, args=(services, data), name="tell_backups", daemon=True).start()


def tell_backups(services: Services, data: Path) -> None:
    """Tell the folders of backups who was erased; one that is away is told by the next hour or the next backup."""
    try:
        for folder in note_erased(data, services.store.engine):
            services.seen.security("backup_away", folder=folder.name)
    except Exception as error:
        services.seen.trouble("tell_backups", error)


def join_processes(services: Services, args: argparse.Namespace) -> None:
    """Of several web processes the first has the devices; all hear what happens."""
    folder = shared_folder(args)
    if args.number == 0:
        captain = Captain(folder, services.hub, services.devices, services.bays)
        del captain  # its thread keeps it
        return
    crew = Crew(folder, services.hub)
    services.devices = services.bays = crew
    services.link, services.relay = None, str(folder / RELAY)
    services.sessions = replace(services.sessions, ended=crew.end_sessions)


def shared_folder(args: argparse.Namespace) -> Path:
    """Where the web processes of one application meet; a socket's path must be short."""
    return Path(tempfile.gettempdir()) / f"finearc-{os.getuid()}-{args.db_port}"


def relayed(args: argparse.Namespace) -> list[socket.socket]:
    """The socket on which the process that has the devices hears those that came to another."""
    if args.workers < 2 or args.number:
        return []
    path = shared_folder(args) / RELAY
    path.unlink(missing_ok=True)  # of a process that was killed
    opened = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    opened.bind(str(path))
    opened.listen(128)
    return [opened]


def go_on(services: Services) -> None:
    """What an earlier process left unfinished: live recordings, where somebody stands and waits, then long work."""
    with services.store.front_door() as door:
        left, live = door.unfinished_jobs(), door.live_recordings()
    for academy_id, recording_id in live:
        services.devices.resume(academy_id, recording_id)
    services.jobs.resume(left)


def is_wanted() -> bool:
    """Wait, with everything loaded, until this process takes the place of one that died; False when it never will."""
    newest()
    return sys.stdin.buffer.readline() == GO


def serve(args: argparse.Namespace) -> int:
    """One web process, on the supervisor's socket and database, until told to stop."""
    import uvicorn

    end_with_parent()
    if args.spare and not is_wanted():
        return 0
    database = MariaDb(args.data, args.db_port)
    first = args.number == 0
    if first:
        secret = args.backup_passphrase.read_text().strip() if args.backup_passphrase else ""
        prepare(database, args.backup or args.data / BEFORE_UPGRADES, secret)
    services = wired(args, database)
    await_database(services.store.engine, tables=True)
    if first:
        if not args.no_demo:
            load_demo(services)
            put_on_stand_ins(services, args.data / STAND_INS)
        keep_tidy(services)
    config = uvicorn.Config(
        create_app(services, WEB),
        fd=args.socket,
        log_level="warning",
        timeout_graceful_shutdown=2,
        access_log=False,
        server_header=False,
        ws="websockets-sansio",
        ws_max_size=8_000_000,
        ws_ping_interval=5.0,
        ws_ping_timeout=10.0,
        ws_per_message_deflate=False,
    )
    server = uvicorn.Server(config)
    _stop_on_signals(server, services)
    threading.Thread(target=_once_ready, args=(server, services, args), daemon=True).start()
    settle()
    with socket.socket(fileno=args.socket) as port:
        server.run(sockets=[port, *relayed(args)])
    services.jobs.pool.close()
    return 0


def keep_tidy(services: Services) -> None:
    """Once an hour what nobody needs any more goes; twice a minute what nobody has begun is begun."""
    _every(services, TIDY_EVERY_S, tidy)
    _every(services, PICK_UP_EVERY_S, pick_up)


def _every(services: Services, pause_s: float, work: Callable[[Services], object]) -> None:
    def again() -> None:
        while True:
            try:
                work(services)
            except Exception as error:
                services.seen.trouble(work.__name__, error)
            if services.closing.wait(pause_s):
                return

    threading.Thread(target=again, name=work.__name__, daemon=True).start()


def pick_up(services: Services, older: timedelta = timedelta(minutes=1)) -> int:
    """Begin the work that waits though nobody began it; how much there was."""
    with services.store.front_door() as door:
        waiting = door.waiting_jobs(now() - older)
    return len(services.jobs.pick_up(waiting))


def tidy(services: Services) -> int:
    """Sessions and counts whose time is over, lessons that nobody consented to and nobody closed, and what an academy
    keeps no longer. Returns how much of a player's went."""
    with services.store.front_door() as door:
        academies = [a.id for a in door.academies()]
        door.purge_sessions(now() - services.sessions.idle)
        door.purge_invitations(now() - LINKS_LEFT)
    services.throttle.purge()
    if services.folder is not None:
        tell_backups(services, services.folder)
    gone = 0
    for academy_id in academies:
        with services.store.unit_of_work(academy_id) as uow:
            gone += erase_without_consent(uow)
            gone += let_go(uow, AT_ONCE)
            let_go_removed(uow)
            let_go_rounds(uow)
    if gone:
        services.seen.security("erased", what="lessons without consent, or past their time", count=gone)
        services.scrub()
    return gone


def _stop_on_signals(server: object, services: Services) -> None:
    def stop(_: int, __: FrameType | None) -> None:
        services.closing.set()
        services.hub.end()
        server.should_exit = True  # type: ignore[attr-defined]

    # the server's own handlers are replaced so that a second signal does not cut the shutdown short
    server.install_signal_handlers = lambda: None  # type: ignore[attr-defined]
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, stop)


def _once_ready(server: object, services: Services, args: argparse.Namespace) -> None:
    while not getattr(server, "started", False):
        time.sleep(0.05)
    if args.again:
        say("Ready again.")
    elif args.number == 0:
        _announce(args)
    if args.number == 0:
        go_on(services)
    services.jobs.pool.warm()


def _announce(args: argparse.Namespace) -> None:
    demo = "" if args.no_demo else f" Sign in as {INSTRUCTORS[0][1]} with the password {PASSWORD}"
    say(f"Ready in {time.monotonic() - args.begun:.0f} s.{demo}")
    print(f"\n  http://{args.host}:{args.port}\n", flush=True)
    say("Ctrl-C stops everything.")


def write_openapi(path: Path) -> None:
    """The interface description for the typed client; needs no database."""
    services = wire("mariadb+pymysql://nobody@127.0.0.1:1/none")
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(json.dumps(create_app(services).openapi(), indent=1), encoding="utf-8")


def write_generated(openapi: Path, measures: Path) -> None:
    """What the front end is built from: the interface's description, the catalogue's charts and its pictures."""
    write_openapi(openapi)
    measures.parent.mkdir(parents=True, exist_ok=True)
    measures.write_text(measures_module(), encoding="utf-8")
    measures.with_name("pictures.ts").write_text(pictures_module(), encoding="utf-8")
    write_words(measures.with_name("words"))


def main() -> int:
    """A process of the supervisor's (``python -m finearc.launch``)."""
    try:
        return serve(ChildParser().parse_args())
    except FineArcError as error:
        print(f"\n  {error}\n", file=sys.stderr)
        return 2


if __name__ == "__main__":
    sys.exit(main())
