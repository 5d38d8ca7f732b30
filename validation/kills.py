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
from finearc.devices.link.frames import HEADER, Layout
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
BITS = 12
"""Of each of three values the last bits say which sample this is: less than a thousandth of the value."""
COLUMNS = (0, 1, 3)
"""Those values: the sequence's upper and lower bits, and who sent it."""


@dataclass
class Sent:
    """What one device has sent: its samples by sequence, up to which they were acknowledged, and those of which it was
    told, or knows itself, that they never arrived."""

    number: int
    values: dict[int, bytes] = field(default_factory=dict)
    acked: int = -1
    told_missing: set[int] = field(default_factory=set)


SENT: dict[Key, Sent] = {}


def _marked(rows: np.ndarray, first: int, number: int) -> None:
    """Write into samples (n, 6), float32, which they are."""
    bits = rows.view("<u4")
    sequence = first + np.arange(len(rows))
    for column, told in zip(COLUMNS, (sequence >> BITS, sequence, np.full(len(rows), number)), strict=True):
        low = (1 << BITS) - 1
        bits[:, column] = (bits[:, column] & ~np.uint32(low)) | (told.astype("<u4") & np.uint32(low))


def _marks(rows: np.ndarray) -> np.ndarray:
    """Who sent each of samples (n, 6) and its sequence (n, 2)."""
    low = rows.view("<u4")[:, list(COLUMNS)].astype(np.int64) & ((1 << BITS) - 1)
    return np.column_stack([low[:, 2], (low[:, 0] << BITS) | low[:, 1]])


class Noting(LinkClient):
    """A client that marks what it sends, and remembers that, what was acknowledged and what was told to be missing."""

    @property
    def sent(self) -> Sent:
        device = self.hello["device"]
        return SENT.setdefault((device["id"], device["boot"]), Sent(len(SENT)))

    async def send(self, stream: int, first: int, after: int, data: bytes) -> None:
        body = np.frombuffer(data, IMU.sample(own_offset=True), offset=HEADER.size).copy()
        rows = np.ascontiguousarray(body["values"])
        _marked(rows, first, self.sent.number)
        body["values"] = rows
        self.sent.values.update({first + k: row.tobytes() for k, row in enumerate(rows)})
        if len(self._kept) == self._kept.maxlen:  # a device remembers only so much
            _, gone, after_gone, _ = self._kept[0]
            self.sent.told_missing |= set(range(gone, after_gone))
        await super().send(stream, first, after, data[: HEADER.size] + body.tobytes())

    async def _listen(self, socket: Any) -> None:
        hear = self.heard

        def noting(message: dict[str, Any]) -> None:
            if message.get("from") is not None:
                self.sent.told_missing |= set(range(message["from"], message["to"] + 1))
            hear(message)

        self.heard = noting
        try:
            await super()._listen(socket)
        finally:
            self.heard = hear

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
    told_missing: int = 0
    never_acknowledged: int = 0
    other: int = 0
    out_of_order: int = 0
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
        f"{toll.in_journal} in the journal, {toll.lost} lost, {toll.other} not as they were sent, "
        f"{toll.out_of_order} out of order; {toll.told_missing} never came, of which the device was told or knew, "
        f"{toll.never_acknowledged} never came and never were acknowledged; "
        f"{toll.swings_seen} swings seen, {toll.swings_lost} lost"
    )
    return 1 if toll.lost or toll.other or toll.out_of_order or toll.swings_lost else 0


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
    by_number = {sent.number: (key, sent) for key, sent in SENT.items()}
    for rows in _stored(application):
        marks = _marks(rows)
        for number in np.unique(marks[:, 0]).tolist():
            key, sent = by_number[number]
            own = marks[:, 0] == number
            _count_run(toll, sent, marks[own, 1], rows[own])
            if key[1] == newest:
                _count_after(toll, sent, int(marks[own, 1].max()), journalled.get(key, {}))


def _count_run(toll: Toll, sent: Sent, sequences: np.ndarray, rows: np.ndarray) -> None:
    kept = dict(zip(sequences.tolist(), (row.tobytes() for row in rows), strict=True))
    toll.out_of_order += int((np.diff(sequences) <= 0).sum())
    toll.other += sum(sent.values.get(k) != row for k, row in kept.items())
    toll.in_database += len(kept)
    toll.acknowledged += len(kept)
    for k in set(range(min(kept), max(kept))) - kept.keys():
        if k in sent.told_missing:
            toll.told_missing += 1
        elif k > sent.acked:
            toll.never_acknowledged += 1
        else:
            toll.acknowledged += 1
            toll.lost += 1


def _count_after(toll: Toll, sent: Sent, last: int, journalled: Mapping[int, bytes]) -> None:
    for sequence in range(last + 1, sent.acked + 1):
        kept = journalled.get(sequence)
        if kept is None and sequence in sent.told_missing:
            toll.told_missing += 1
            continue
        toll.acknowledged += 1
        toll.in_journal += kept is not None
        toll.lost += kept is None
        toll.other += kept is not None and kept != sent.values[sequence]


def _stored(application: Application) -> Iterator[np.ndarray]:
    """Each sensor's samples (n, 6) of each recording in the database, in order, as they were sent."""
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
                        yield np.column_stack([stream.acc_m_s2, stream.gyr_rad_s]).astype("<f4")
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
