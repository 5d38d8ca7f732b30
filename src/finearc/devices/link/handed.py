"""Logs that clips hand over: what they felt hours ago, sent as fast as the link takes it, kept until somebody says
whose round it was. A log is no part of a bay's live life: no lesson listens to it.

Each log is a folder of its own with a journal; what is acknowledged is on disk, and a connection that broke goes on
where it was."""

from __future__ import annotations

import hashlib
import json
import shutil
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from uuid import UUID

import numpy as np

from finearc.core.signals.streams import ImuStream, Segment
from finearc.devices.link import messages as msg
from finearc.devices.link.declared import ImuDeclared
from finearc.devices.link.device import Outlet
from finearc.devices.link.frames import MAX_FRAME_BYTES, BadFrame, Header, Values, read_header, read_samples
from finearc.devices.link.journal import Journal, RecordKind, read_journal
from finearc.devices.link.messages import AnySent, Close, LinkRefused
from finearc.devices.link.owner import TokenOwner
from finearc.wording import mark, tr

MOST_SAMPLES = 3_000_000
"""Of one clip (house value): four hours without a second's sleep."""
MOST_LOGS = 40
"""Of one bay (house value): the oldest that nobody took goes first."""
KEPT_S = 14 * 86_400.0
"""So long a log waits for somebody to say whose it is (house value)."""
TOLD, DONE, CLOCK = "log.json", "done.json", "clock.json"
WANTED = mark("a log wants of each stream the club: kind imu, segment club or putter, and the club's name")
NOT_NEXT = mark("the next sample wanted is {}: send again from there")
TOO_LONG = f"a clip's log has at most {MOST_SAMPLES:,} samples"


def refuse_unfit(hello: msg.Hello, clubs: Sequence[str]) -> None:
    """Raises ``LinkRefused`` for a log whose streams are not each a club's clip."""
    for stream in hello.streams:
        if not isinstance(stream, ImuDeclared) or stream.segment not in (Segment.CLUB, Segment.PUTTER):
            raise LinkRefused(Close.BAD_HELLO, tr(WANTED))
        if stream.club not in clubs:
            raise LinkRefused(
                Close.BAD_HELLO, tr('there is no club "{club}". {wanted}', club=stream.club, wanted=WANTED)
            )


@dataclass
class Log:
    """One log as it comes. ``next``: the sequence that is wanted of each stream; ``first_us`` and ``last_us`` by the
    device's clock; ``unsafe``: positions in the journal with the newest sample that they hold."""

    folder: Path
    hello: msg.Hello
    journal: Journal
    outlet: Outlet | None = None
    token_id: UUID | None = None
    next: dict[int, int] = field(default_factory=dict)
    first_us: int | None = None
    last_us: int = 0
    unsafe: list[tuple[int, int, int]] = field(default_factory=list)
    acked: dict[int, int] = field(default_factory=dict)

    def heard(self, time_us: Values) -> None:
        """Take in when samples were taken."""
        first, last = int(time_us[0]), int(time_us[-1])
        self.first_us = first if self.first_us is None else min(self.first_us, first)
        self.last_us = max(self.last_us, last)

    def stream(self, header: Header) -> ImuDeclared:
        """Raises ``LinkRefused``."""
        found = next((s for s in self.hello.streams if s.stream == header.stream), None)
        if not isinstance(found, ImuDeclared):
            raise LinkRefused(Close.BAD_HELLO, tr("stream {stream} was not declared in hello", stream=header.stream))
        return found


@dataclass(frozen=True)
class LogBrief:
    """A log that was handed over: ``key`` names it in its bay; by clubs how many samples; from when to when."""

    bay_id: UUID
    key: str
    device: str
    samples: Mapping[str, int]
    began: datetime
    ended: datetime


class HandedLogs:
    """All logs under a folder, one folder a bay. What devices send is heard in the event loop; looking and taking is
    for any thread and any process."""

    def __init__(self, folder: Path, clubs: Sequence[str], soon: Callable[..., None]) -> None:
        self._folder, self._clubs, self._soon = folder, clubs, soon
        self._open: dict[Path, Log] = {}

    def welcome(self, owner: TokenOwner, hello: msg.Hello, outlet: Outlet, now_us: int) -> Log:
        """A device begins to hand over, or goes on. Raises ``LinkRefused``."""
        refuse_unfit(hello, self._clubs)
        folder = self._folder / str(owner.bay_id) / key_of(hello)
        known = self._open.get(folder)
        if known is not None and known.outlet is not None:
            known.outlet.close(LinkRefused(Close.TAKEN, tr("the same device has connected again")))
        log = known or self._begin(folder, hello)
        log.outlet, log.token_id = outlet, owner.token_id
        outlet.tell(msg.welcome(folder.name, now_us, owner.bay, MAX_FRAME_BYTES, dict(log.next)))
        return log

    def _begin(self, folder: Path, hello: msg.Hello) -> Log:
        self._make_room(folder.parent)
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        told = hello.model_dump(mode="json", exclude={"token"})
        (folder / TOLD).write_text(json.dumps({**told, "token": ""}), encoding="utf-8")
        log = Log(folder, hello, Journal(folder, lambda at: self._soon(self._on_safe, folder, at), lambda _: None))
        for stream, header, (time_us, _) in _frames(folder, hello):
            log.next[stream.stream] = max(log.next.get(stream.stream, 0), header.sequence + header.count)
            log.heard(time_us)
        log.acked = {k: v - 1 for k, v in log.next.items()}
        self._open[folder] = log
        return log

    def _make_room(self, bay: Path) -> None:
        logs = sorted((f for f in bay.glob("*") if f.is_dir()), key=lambda f: f.stat().st_mtime)
        for old in logs[: max(0, len(logs) - MOST_LOGS + 1)]:
            if old not in self._open:
                shutil.rmtree(old, ignore_errors=True)

    def hear(self, log: Log, message: AnySent, now_us: int) -> None:
        """A control message after *hello*: the clocks' exchanges say when it was. Raises ``LinkRefused``."""
        if isinstance(message, msg.Hello):
            raise LinkRefused(Close.BAD_HELLO, tr("hello was said already"))
        if isinstance(message, msg.Clock):
            (log.folder / CLOCK).write_text(json.dumps([message.t0_us, now_us]), encoding="utf-8")
            if log.outlet is not None:
                log.outlet.tell({"type": "clock", "t0_us": message.t0_us, "t1_us": now_us, "t2_us": now_us})

    def frame(self, log: Log, data: bytes) -> None:
        """Samples of a clip, in their order; those that are there already are acknowledged again. Raises
        ``LinkRefused``."""
        try:
            header = read_header(data)
            stream = log.stream(header)
            time_us, values = read_samples(header, data, stream.layout)
        except BadFrame as bad:
            raise LinkRefused(Close.BAD_HELLO, str(bad)) from None
        problem = stream.problem(values)
        if problem:
            raise LinkRefused(Close.BAD_HELLO, tr("stream {stream}: {problem}", stream=stream.stream, problem=problem))
        wanted, after = log.next.get(stream.stream, 0), header.sequence + header.count
        if after > MOST_SAMPLES:
            raise LinkRefused(Close.TOO_LARGE, TOO_LONG)
        if header.sequence > wanted:
            self._say_again(log, stream.stream, wanted, header.sequence)
        elif after <= wanted:
            self._ack(log, stream.stream, log.acked.get(stream.stream, -1))
        else:
            log.next[stream.stream] = after
            log.heard(time_us)
            log.unsafe.append((log.journal.append(RecordKind.FRAME, data), stream.stream, after - 1))

    def _say_again(self, log: Log, stream: int, wanted: int, sent: int) -> None:
        if log.outlet is not None:
            told = msg.notice("dropped", tr(NOT_NEXT).format(wanted), stream=stream)
            log.outlet.tell(told | {"from": wanted, "to": sent - 1})

    def _on_safe(self, folder: Path, position: int) -> None:
        log = self._open.get(folder)
        if log is None:
            return
        safe = [u for u in log.unsafe if u[0] <= position]
        log.unsafe = [u for u in log.unsafe if u[0] > position]
        for _, stream, newest in safe:
            log.acked[stream] = newest
        for stream in {s for _, s, _ in safe}:
            self._ack(log, stream, log.acked[stream])

    def _ack(self, log: Log, stream: int, newest: int) -> None:
        if log.outlet is not None and newest >= 0:
            log.outlet.tell(msg.ack(stream, newest))

    def gone(self, log: Log, outlet: Outlet, *, done: bool) -> None:
        """The device has gone; with a *bye* its log is whole."""
        if log.outlet is not outlet:
            return
        log.outlet = None
        log.journal.close()
        self._open.pop(log.folder, None)
        if done and log.first_us is not None:
            clubs = {s.stream: s.club for s in log.hello.streams if isinstance(s, ImuDeclared)}
            samples = {clubs[k]: n for k, n in log.next.items()}
            told = {"at": time.time(), "samples": samples, "first_us": log.first_us, "last_us": log.last_us}
            (log.folder / DONE).write_text(json.dumps(told), encoding="utf-8")

    def revoke(self, token_id: UUID, error: LinkRefused) -> None:
        """End the connections that came with a token; in the event loop."""
        for log in list(self._open.values()):
            if log.token_id == token_id and log.outlet is not None:
                log.outlet.close(error)

    def close(self) -> None:
        """The process ends: what was taken in is written."""
        for log in self._open.values():
            log.journal.close()

    # for screens

    def waiting(self, bay_ids: Sequence[UUID]) -> list[LogBrief]:
        """The whole logs of some bays, the latest first; those that nobody took for two weeks go."""
        out = []
        for bay_id in bay_ids:
            for done in (self._folder / str(bay_id)).glob(f"*/{DONE}"):
                if time.time() - done.stat().st_mtime > KEPT_S:
                    shutil.rmtree(done.parent, ignore_errors=True)
                    continue
                with suppress(OSError, ValueError, KeyError):
                    out.append(_brief(bay_id, done.parent))
        return sorted(out, key=lambda b: b.began, reverse=True)

    def read(self, bay_ids: Sequence[UUID], key: str) -> tuple[LogBrief, dict[str, ImuStream]] | None:
        """A log's streams by club, on one clock of seconds; None for one that is none of these bays'."""
        found = next((b for b in self.waiting(bay_ids) if b.key == key), None)
        return None if found is None else (found, _streams(self._folder / str(found.bay_id) / key))

    def taken(self, brief: LogBrief) -> None:
        """It is kept elsewhere."""
        shutil.rmtree(self._folder / str(brief.bay_id) / brief.key, ignore_errors=True)


def key_of(hello: msg.Hello) -> str:
    """One and the same for the same device and power-up."""
    return hashlib.sha256(f"{hello.device.id}\n{hello.device.boot}".encode()).hexdigest()[:24]


def _hello(folder: Path) -> msg.Hello:
    return msg.Hello.model_validate_json((folder / TOLD).read_text(encoding="utf-8"))


def _frames(folder: Path, hello: msg.Hello) -> Iterator[tuple[ImuDeclared, Header, tuple[Values, Values]]]:
    streams = {s.stream: s for s in hello.streams if isinstance(s, ImuDeclared)}
    for record in read_journal(folder):
        if record.kind is RecordKind.FRAME:
            header = read_header(record.payload)
            stream = streams[header.stream]
            yield stream, header, read_samples(header, record.payload, stream.layout)


def _streams(folder: Path) -> dict[str, ImuStream]:
    """Each sample once, in order: frames may overlap what came before."""
    parts: dict[str, list[tuple[Values, Values]]] = {}
    wanted: dict[str, int] = {}
    segments: dict[str, Segment] = {}
    for stream, header, (time_us, values) in _frames(folder, _hello(folder)):
        new = max(0, wanted.get(stream.club, 0) - header.sequence)
        parts.setdefault(stream.club, []).append((time_us[new:], values[new:]))
        wanted[stream.club] = max(wanted.get(stream.club, 0), header.sequence + header.count)
        segments[stream.club] = stream.segment
    first = min(float(p[0][0][0]) for p in parts.values())
    out = {}
    for club, pieces in parts.items():
        time_s = (np.concatenate([t for t, _ in pieces]).astype(float) - first) / 1e6
        values = np.concatenate([v for _, v in pieces]).astype(float)
        out[club] = ImuStream(segments[club], time_s, values[:, :3], values[:, 3:6], f"{club}.csv")
    return out


def _brief(bay_id: UUID, folder: Path) -> LogBrief:
    hello, done = _hello(folder), json.loads((folder / DONE).read_text(encoding="utf-8"))
    ends_us = done["at"] * 1e6 - done["last_us"]  # without an exchange: the last sample was taken when it was whole
    clock = folder / CLOCK
    if clock.exists():
        t0_us, server_us = json.loads(clock.read_text(encoding="utf-8"))
        ends_us = server_us - t0_us
    began, ended = (datetime.fromtimestamp((ends_us + done[k]) / 1e6, UTC) for k in ("first_us", "last_us"))
    name = hello.device.name or hello.device.model or hello.device.id
    return LogBrief(bay_id, folder.name, name, done["samples"], began, ended)
