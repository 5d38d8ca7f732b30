"""Kills the web process and the database at moments of chance during a scripted session over the device link, then
counts: every acknowledged sample must be in the database or in the bay's journal, byte for byte, and every swing there.

``python -m validation.kills --web 100 --database 20``. The player lives in this process, so that what was sent and what
was acknowledged is known; every five kills a new lesson is fitted and ten swings are asked for."""

from __future__ import annotations

import argparse
import asyncio
import os
import random
import signal
import tempfile
import threading
import time
from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any
from uuid import UUID

import httpx2 as httpx
import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.sources.inertial import INERTIAL
from finearc.devices.link.bay import Arrived, Bay
from finearc.devices.link.frames import Layout, read_header, read_samples
from finearc.devices.link.server_clock import ServerClock
from finearc.devices.simulated.client import LinkClient
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.simulated.rig import Rig
from finearc.services.capture import raw
from finearc.services.records import Recording
from finearc.store.columns import ParquetColumns
from finearc.store.unit_of_work import Store, engine_for
from validation.attack import PACE, Application, Person, make_academy, until

IMU = Layout(6, "<f4")
SWINGS = 10
Key = tuple[str, int]
"""A device's id and its boot."""


@dataclass
class Sent:
    """What one device has sent: its samples by sequence, and up to which they were acknowledged."""

    values: dict[int, bytes] = field(default_factory=dict)
    acked: int = -1


SENT: dict[Key, Sent] = {}


class Noting(LinkClient):
    """A client that remembers what it sent and what was acknowledged."""

    @property
    def sent(self) -> Sent:
        device = self.hello["device"]
        return SENT.setdefault((device["id"], device["boot"]), Sent())

    async def send(self, stream: int, first: int, after: int, data: bytes) -> None:
        _, values = read_samples(read_header(data), data, IMU)
        for k, row in enumerate(values):
            self.sent.values[first + k] = row.tobytes()
        await super().send(stream, first, after, data)

    def _forget(self, stream: int, sequence: int) -> None:
        self.sent.acked = max(self.sent.acked, sequence)
        super()._forget(stream, sequence)


@dataclass
class Toll:
    """What the kills cost."""

    kills: int = 0
    acknowledged: int = 0
    in_database: int = 0
    in_journal: int = 0
    lost: int = 0
    never_acknowledged: int = 0
    other: int = 0
    swings_seen: int = 0
    swings_lost: int = 0


def main() -> int:
    """0 when nothing was lost."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--web", type=int, default=100)
    parser.add_argument("--database", type=int, default=20)
    args = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="finearc-kills-"))
    application = Application(folder / "data")
    application.start()
    toll = Toll()
    try:
        make_academy(application)
        player = _player(application, folder)
        for name, count, victim in (
            ("web process", args.web, application.web),
            ("database", args.database, lambda: _database(application)),
        ):
            _kill(application, count, victim, toll)
            print(
                f"{name}: {count} kills so far {toll.kills}; swings {toll.swings_seen} seen, {toll.swings_lost} lost",
                flush=True,
            )
        player.set()
        time.sleep(3.0)
    finally:
        application.stop()
    _count(application, toll)
    print(
        f"{toll.kills} kills: {toll.acknowledged} samples acknowledged, {toll.in_database} in the database, "
        f"{toll.in_journal} in the journal, {toll.lost} lost, {toll.other} not as they were sent; "
        f"{toll.never_acknowledged} between them never came and never were acknowledged; "
        f"{toll.swings_seen} swings seen, {toll.swings_lost} lost"
    )
    return 1 if toll.lost or toll.other or toll.swings_lost else 0


def _player(application: Application, folder: Path) -> threading.Event:
    """A wrist pair in the first bay, in a thread, until the event is set."""
    person = Person.signed_in(application.url)
    made = person.send("POST", "/api/bays/tokens", json={"bay": "Bay 1", "name": "kills"}).json()
    link = application.url.replace("http", "ws", 1) + "/api/link"
    score, ended = Score("hold-then-flex", 3, Hand.RIGHT, ()), threading.Event()
    rig = Rig(link, made["token"], Plays(folder / "plays", ParquetColumns()), score, pace=float(PACE), connect=Noting)

    async def live() -> None:
        task = asyncio.create_task(rig.run())
        while not ended.is_set() and not task.done():
            await asyncio.sleep(0.2)
        task.cancel()
        (how,) = await asyncio.gather(task, return_exceptions=True)
        if not ended.is_set():
            print(f"the player has ended: {how!r}", flush=True)

    threading.Thread(target=lambda: asyncio.run(live()), daemon=True).start()
    return ended


def _kill(application: Application, count: int, victim: Any, toll: Toll) -> None:
    draw = random.Random(5)
    lesson, known = "", set[str]()
    for number in range(count):
        person = Person.signed_in(application.url)
        if number % 5 == 0:
            lesson, known = person.lesson(f"Kills {toll.kills}"), set()
            body = {"scenario": "hold-then-flex", "seed": 3, "club_clip": False}
            person.send("POST", f"/api/lessons/{lesson}/recordings", json=body).raise_for_status()
            until(partial(_ask, application.url, lesson), 60.0)
        if number % 5 == 4:  # the others come too soon for any swing: before the last of five one is waited for
            with suppress(AssertionError):
                until(partial(_has_swing, person, lesson), 40.0)
        time.sleep(draw.uniform(0.2, 2.5))
        with suppress(httpx.HTTPError):
            known |= set(person.swings(lesson))
        os.kill(victim(), signal.SIGKILL)
        time.sleep(0.4)
        application.wait()
        toll.kills += 1
        there = set(Person.signed_in(application.url).swings(lesson))
        toll.swings_seen += len(known)
        toll.swings_lost += len(known - there)


def _has_swing(person: Person, lesson: str) -> bool:
    with suppress(httpx.HTTPError):
        return bool(person.swings(lesson))
    return False


def _ask(url: str, lesson: str) -> bool:
    person = Person.signed_in(url)
    answer = person.send("POST", f"/api/lessons/{lesson}/stand-in/swings", json={"count": SWINGS})
    return answer.status_code == 200


def _database(application: Application) -> int:
    return int((application.folder / "mariadb.pid").read_text())


def _count(application: Application, toll: Toll) -> None:
    """Compare what was acknowledged with what is kept, once everything has stopped. What a recording holds is a run of
    what a device sent; after the last recording, which still went on, all that was acknowledged must be there."""
    journalled, newest = _journalled(application), max(boot for _, boot in SENT)
    for values in _stored(application):
        key, sequences = _found(values)
        toll.other += len(values) - len(sequences)
        if key is None:
            continue
        sent = SENT[key]
        toll.acknowledged += len(sequences)
        toll.in_database += len(sequences)
        between = set(range(sequences[0], sequences[-1])) - set(sequences)
        acknowledged = {k for k in between if k <= sent.acked}
        toll.acknowledged += len(acknowledged)
        toll.lost += len(acknowledged)
        toll.never_acknowledged += len(between) - len(acknowledged)
        if key[1] != newest:
            continue
        for sequence in range(sequences[-1] + 1, sent.acked + 1):
            kept = journalled.get(key, {}).get(sequence)
            toll.acknowledged += 1
            toll.in_journal += kept is not None
            toll.lost += kept is None
            toll.other += kept is not None and kept != sent.values[sequence]


ALIKE = 8
"""So many samples in a row tell which they are: a player who stands still repeats himself."""


def _found(rows: list[bytes]) -> tuple[Key | None, list[int]]:
    """Which device sent these samples, and the sequence of each that it sent, in order."""
    for key, sent in SENT.items():
        places: dict[bytes, list[int]] = {}
        for k, row in sent.values.items():
            places.setdefault(row, []).append(k)
        if rows[0] not in places:
            continue
        sequences: list[int] = []
        for k, row in enumerate(rows):
            following = sequences[-1] + 1 if sequences else -1
            if sent.values.get(following) == row:
                sequences.append(following)
                continue
            ahead = rows[k : k + ALIKE]
            later = (p for p in places.get(row, ()) if p > following)
            place = next((p for p in later if all(sent.values.get(p + j) == r for j, r in enumerate(ahead))), None)
            if place is not None:
                sequences.append(place)
        if len(sequences) > len(rows) / 2:
            return key, sequences
    return None, []


def _stored(application: Application) -> Iterator[list[bytes]]:
    """Each sensor's samples of each recording in the database, in order, as they were sent."""
    database = application.database()
    database.start()
    try:
        store = Store(engine_for(f"{database.url}/finearc?charset=utf8mb4"))
        with store.front_door() as door:
            academies = [a.id for a in door.academies()]
        for academy in academies:
            with store.unit_of_work(academy) as uow:
                for recording in uow.find(Recording):
                    for stream in raw.streams_of(uow, ParquetColumns(), recording).get(INERTIAL, ()):
                        values = np.column_stack([stream.acc_m_s2, stream.gyr_rad_s]).astype("<f4")
                        yield [row.tobytes() for row in values]
    finally:
        database.stop()


def _journalled(application: Application) -> Mapping[Key, Mapping[int, bytes]]:
    """Samples in the journals."""
    out: dict[Key, dict[int, bytes]] = {}
    for folder in (application.folder / "journal").iterdir():
        bay = Bay(UUID(int=1), "read", folder, ServerClock(), lambda call, *args: None)
        for _, arrived in bay.recovered():
            _note(out, arrived)
        bay.close()
    return out


def _note(out: dict[Key, dict[int, bytes]], arrived: Arrived) -> None:
    device = arrived.device.hello.device
    into = out.setdefault((device.id, device.boot), {})
    for k, row in enumerate(arrived.samples.values):
        into[arrived.samples.first + k] = np.asarray(row).tobytes()


if __name__ == "__main__":
    raise SystemExit(main())
