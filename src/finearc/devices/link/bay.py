"""The devices of one bay: who is there, what they send in order and on one clock, what of it is safe.

Everything here runs in one thread, the event loop's, but for the journal's writing."""

from __future__ import annotations

import json
import struct
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Protocol
from uuid import UUID

import structlog

from finearc.core.live.sequence import Gap, Samples, give_up_waiting, put_in_order
from finearc.core.typing import Array
from finearc.devices.link import messages as msg
from finearc.devices.link.declared import AnyDeclared, ImuDeclared
from finearc.devices.link.device import MOST_BAD, DeviceState, Outlet, StreamState
from finearc.devices.link.frames import MAX_FRAME_BYTES, BadFrame, read_header, read_samples
from finearc.devices.link.journal import Journal, NoJournal, RecordKind, Writes, read_journal
from finearc.devices.link.messages import AnySent, Close, LinkRefused, Message
from finearc.devices.link.server_clock import TellsTime
from finearc.wording import mark, tr

log = structlog.get_logger()
OF_FRAME = struct.Struct("<IQ")
"""Before each frame in the journal: whose session it is of, and when it came, µs."""
FORGOTTEN_S = 600.0
"""A device that has been gone for so long is not told of any more (house value)."""
KEPT_IDLE_S = 120.0
"""While nobody records, so much of what was sent is kept (house value)."""
IDLE_SYNC_S = 0.3
"""While nobody records, the disk is asked no more often (house value)."""
CLIPPING_EVERY_US = 5_000_000
CLOCK_JUMPED = mark("The clock of {} has jumped. It is set again; what lies across the jump is not joined.")
CLIPPING = mark("{} is at the end of its range: what it felt there is cut off.")
DISK = mark("The disk does not take what is sent ({}). Devices keep it and send it again; free some space.")
TAKEN = mark("{} is sent by {} already. Take that off first, or let it go on.")
SEQUENCE = mark("its sequences run back by more than the last 30 seconds: they never restart within a boot")


class Soon(Protocol):
    """Has a call made in the bay's own thread."""

    def __call__(self, call: Callable[..., None], *args: object) -> None: ...


@dataclass(frozen=True)
class Arrived:
    """Samples of a stream in order: ``time_s`` (n,) on the server's clock, and as they were sent."""

    device: DeviceState
    declared: AnyDeclared
    time_s: Array
    samples: Samples
    late: bool = False


class Listener(Protocol):
    """Whoever works with what a bay's devices send."""

    def arrived(self, parts: Sequence[Arrived]) -> None: ...

    def lost(self, device: DeviceState, declared: AnyDeclared, gap: Gap) -> None: ...

    def happened(self, device: DeviceState, name: str, server_s: float) -> None: ...

    def devices_changed(self) -> None: ...


class Bay:
    """One bay; ``folder``: its journal's, None to keep nothing."""

    def __init__(
        self,
        bay_id: UUID,
        name: str,
        folder: Path | None,
        clock: TellsTime,
        soon: Soon,
        *,
        sync: bool = True,
    ) -> None:
        self.id, self.name, self.clock = bay_id, name, clock
        self.devices: dict[str, DeviceState] = {}
        self.listeners: list[Listener] = []
        self.state: Message = {"type": "state", "state": "idle"}
        self.trouble = ""
        self.needed_from: int | None = None
        self._opened_us = clock.now_us()
        self._folder = folder
        self._session = 0
        self._recover()
        self.journal: Writes = NoJournal()
        if folder is not None:
            self.journal = Journal(folder, partial(soon, self._on_safe), partial(soon, self._on_trouble), sync=sync)
        self.journal.every_s = IDLE_SYNC_S
        self._segments: list[tuple[int, int]] = []
        self._written_to = 0

    # what devices send

    def welcome(self, hello: msg.Hello, outlet: Outlet) -> DeviceState:
        """Let a device in, or know it again. Raises ``LinkRefused``."""
        self._refuse_taken(hello)
        now = self.clock.now_us()
        known = self.devices.get(hello.device.id)
        if known is not None and known.outlet is not None:  # it came back before its old connection was seen to end
            known.outlet.close(LinkRefused(Close.TAKEN, tr("the same device has connected again")))
        if known is not None and known.hello.device.boot == hello.device.boot and known.hello.streams == hello.streams:
            device = known
        else:
            self._session += 1
            device = DeviceState(
                hello, self._session, {s.stream: StreamState.of(s, now, self.clock_pace) for s in hello.streams}
            )
            self.devices[hello.device.id] = device
        device.outlet, device.seen_us = outlet, now
        self._write_session(device)
        outlet.tell(msg.welcome(str(device.session), now, self.name, MAX_FRAME_BYTES, device.resume()))
        outlet.tell(self.state)
        self._changed()
        return device

    def _refuse_taken(self, hello: msg.Hello) -> None:
        wanted = {s.place for s in hello.streams}
        for other in self.devices.values():
            if other.outlet is None or other.id == hello.device.id:
                continue
            for stream in other.hello.streams:
                if stream.place in wanted:
                    raise LinkRefused(Close.TAKEN, tr(TAKEN).format(str(stream.place), other.name))

    def hear(self, device: DeviceState, message: AnySent) -> None:
        """A control message after *hello*. Raises ``LinkRefused``."""
        now = device.seen_us = self.clock.now_us()
        if isinstance(message, msg.Hello):
            raise LinkRefused(Close.BAD_HELLO, tr("hello was said already"))
        if isinstance(message, msg.Clock):
            self._hear_clock(device, message, now)
        elif isinstance(message, msg.Health):
            device.health = message
            self._changed()
        elif isinstance(message, msg.Event) and device.clock.line is not None:
            at = float(device.clock.line.server_s(message.t_us / 1e6))
            for listener in self.listeners:
                listener.happened(device, message.name, at)

    def _hear_clock(self, device: DeviceState, message: msg.Clock, now: int) -> None:
        jumped = device.hear_clock(message, now)
        device.answered_at_us = self.clock.now_us()
        noted = {"us": now, "answered_us": device.answered_at_us, "clock": message.model_dump()}
        self._write(RecordKind.CONTROL, {"session": device.session, **noted})
        told = {"type": "clock", "t0_us": message.t0_us, "t1_us": now, "t2_us": device.answered_at_us}
        if device.outlet is not None:
            device.outlet.tell(told)
            if jumped:
                device.outlet.tell(msg.notice("clock", tr(CLOCK_JUMPED).format(device.name)))

    def frame(self, device: DeviceState, data: bytes) -> None:
        """A frame of samples. Raises ``LinkRefused``."""
        now = device.seen_us = self.clock.now_us()
        if len(data) > MAX_FRAME_BYTES:
            raise LinkRefused(
                Close.TOO_LARGE,
                tr(
                    "a frame has at most {max_frame_bytes} bytes, this has {data}",
                    max_frame_bytes=MAX_FRAME_BYTES,
                    data=len(data),
                ),
            )
        stream, samples = _read(device, data)
        stream.spend(samples.count, now)
        stream.pace.count(samples.count, now)
        if self._is_bad(device, stream, samples, now):
            return
        device.hear_arrival(int(samples.time_s[-1]), now)
        ordered = put_in_order(stream.params, stream.order, samples)
        if ordered.behind:
            raise LinkRefused(
                Close.BAD_HELLO, tr("stream {stream}: {sequence}", stream=stream.declared.stream, sequence=SEQUENCE)
            )
        if ordered.repeated == samples.count:
            self._ack_again(device, stream)
            return
        position = self._write_frame(device, data, now)
        if stream.order.next is not None:
            stream.unsafe.append((position, stream.order.next - 1))
        self._pass_on(device, stream, [*ordered.ready, *ordered.late], set(map(id, ordered.late)))

    def _is_bad(self, device: DeviceState, stream: StreamState, samples: Samples, now: int) -> bool:
        """Whether the samples are no measurement: they are left out and that is said, a few times."""
        problem = stream.declared.problem(samples.values)
        if not problem:
            stream.bad = 0
            if isinstance(stream.declared, ImuDeclared) and stream.declared.clips(samples.values):
                self._say_clipping(device, stream, now)
            return False
        stream.bad += 1
        if stream.bad > MOST_BAD:
            raise LinkRefused(
                Close.BAD_HELLO, tr("stream {stream}: {problem}", stream=stream.declared.stream, problem=problem)
            )
        self._say_dropped(device, stream, Gap(samples.first, samples.after - 1), problem)
        return True

    def _say_clipping(self, device: DeviceState, stream: StreamState, now: int) -> None:
        if device.outlet is not None and now - stream.clipped_at_us > CLIPPING_EVERY_US:
            stream.clipped_at_us = now
            device.outlet.tell(msg.notice("clipping", tr(CLIPPING).format(device.name), stream=stream.declared.stream))

    def _say_dropped(self, device: DeviceState, stream: StreamState, gap: Gap, why: str) -> None:
        if device.outlet is not None:
            words = tr(
                "Samples {first} to {last} of {place} are missing: {why}.",
                first=gap.first,
                last=gap.last,
                place=stream.declared.place,
                why=why,
            )
            told = msg.notice("dropped", words, stream=stream.declared.stream)
            device.outlet.tell(told | {"from": gap.first, "to": gap.last})

    def _pass_on(
        self, device: DeviceState, stream: StreamState, parts: Sequence[Samples | Gap], late: set[int]
    ) -> None:
        arrived = []
        for part in parts:
            if isinstance(part, Gap):
                stream.lost += part.last - part.first + 1
                self._say_dropped(device, stream, part, tr("they did not come"))
                for listener in self.listeners:
                    listener.lost(device, stream.declared, part)
            else:
                at = device.server_s(stream, part.time_s, late=id(part) in late)
                arrived.append(Arrived(device, stream.declared, at, part, id(part) in late))
        for listener in self.listeners if arrived else ():
            listener.arrived(arrived)

    def flush(self) -> None:
        """Pass on what still waits for samples before it: nothing more comes."""
        for device in self.devices.values():
            for stream in device.streams.values():
                self._pass_on(device, stream, give_up_waiting(stream.order), set())

    def gone(self, device: DeviceState, outlet: Outlet) -> None:
        """A connection has ended; what was sent stays, and the device may come back."""
        if device.outlet is outlet:
            device.outlet = None
            device.seen_us = self.clock.now_us()
            self._changed()

    def known_devices(self) -> list[DeviceState]:
        """Those that are connected, then those that were a while ago."""
        lately = self.clock.now_us() - FORGOTTEN_S * 1e6
        known = [d for d in self.devices.values() if d.outlet is not None or d.seen_us > lately]
        return sorted(known, key=lambda d: (d.outlet is None, d.name))

    # what devices are told

    def tell_state(self, state: str, **more: object) -> None:
        """For a light or a buzzer on each device."""
        self.state = {"type": "state", "state": state, **more}
        self.tell(self.state)

    def tell(self, message: Message, to: str = "") -> None:
        """Every device that is connected; ``to``: those of one model alone."""
        for device in self.devices.values():
            if device.outlet is not None and to in ("", device.hello.device.model):
                device.outlet.tell(message)

    @property
    def clock_pace(self) -> float:
        """How much faster than real time passes here."""
        return getattr(self.clock, "pace", 1.0)

    def end(self, reason: LinkRefused) -> None:
        """Close every connection."""
        for device in list(self.devices.values()):
            if device.outlet is not None:
                device.outlet.close(reason)

    def close(self) -> None:
        """The process ends: what was taken in is written."""
        self.journal.close()

    def _changed(self) -> None:
        for listener in self.listeners:
            listener.devices_changed()

    # the journal

    def _on_safe(self, position: int) -> None:
        self.trouble = ""
        for device in self.devices.values():
            for number, stream in device.streams.items():
                newest = stream.safe_up_to(position)
                if newest is not None and device.outlet is not None:
                    device.outlet.tell(msg.ack(number, newest))

    def _on_trouble(self, error: OSError) -> None:
        if not self.trouble:
            log.error("the journal cannot be written", bay=str(self.id), error=error.strerror)
        self.trouble = tr(DISK).format(error.strerror)
        self._changed()

    def _ack_again(self, device: DeviceState, stream: StreamState) -> None:
        if stream.acked >= 0 and device.outlet is not None:
            device.outlet.tell(msg.ack(stream.declared.stream, stream.acked))

    def _write_frame(self, device: DeviceState, data: bytes, now: int) -> int:
        self._begin_segment()
        return self.journal.append(RecordKind.FRAME, OF_FRAME.pack(device.session, now) + data)

    def _write_session(self, device: DeviceState) -> None:
        self._write(RecordKind.SESSION, device.snapshot())

    def _write(self, kind: RecordKind, told: object) -> None:
        self.journal.append(kind, json.dumps(told).encode())

    def _begin_segment(self) -> None:
        """Every file of the journal begins with how each device stands, so that those before it can go."""
        if self.journal.segment == self._written_to:
            return
        self._written_to = self.journal.segment
        self._segments.append((self._written_to, self.clock.now_us()))
        for device in self.devices.values():
            self._write_session(device)

    def let_go(self) -> None:
        """Delete what is kept elsewhere: the files before ``needed_from``; without a recording, None, those that are
        old."""
        needed_from = self.needed_from
        if needed_from is None and self.clock.now_us() - self._opened_us < KEPT_IDLE_S * 1e6:
            return  # after a restart: a recording may still go on from here
        if needed_from is None:
            old = self.clock.now_us() - KEPT_IDLE_S * 1e6
            newer = [number for number, began in self._segments if began > old]
            needed_from = (newer[0] if newer else self._written_to) - 1
        self.journal.let_go(needed_from)
        self._segments = [s for s in self._segments if s[0] >= needed_from]

    def _recover(self) -> None:
        """The devices as the journal knows them. One that cannot be read is put aside, not lost, and the bay begins
        anew."""
        try:
            known = self._replayed(lambda _: None)
        except Exception as error:
            log.error("a journal cannot be read", bay=str(self.id), kind=type(error).__name__)
            assert self._folder is not None
            self._folder.rename(self._folder.with_name(f"{self._folder.name}.unread-{self.clock.now_us()}"))
            return
        for device in known:
            self.devices[device.id] = device
            self._session = max(self._session, device.session)

    def recovered(self) -> list[tuple[int, Arrived]]:
        """All that is in the journal, in order, with the file that each stands in."""
        self.journal.flush()
        found: list[tuple[int, Arrived]] = []
        self._replayed(found.append)
        return found

    def _replayed(self, hear: Callable[[tuple[int, Arrived]], None]) -> list[DeviceState]:
        """The devices as they stood at the journal's end; ``hear`` is told what they had sent."""
        by_session: dict[int, DeviceState] = {}
        now = self.clock.now_us()
        for record in read_journal(self._folder) if self._folder is not None else ():
            if record.kind is RecordKind.FRAME:
                session, came_us = OF_FRAME.unpack_from(record.payload)
                if session in by_session:
                    for arrived in _again(by_session[session], record.payload[OF_FRAME.size :], came_us):
                        hear((record.segment, arrived))
                continue
            told = json.loads(record.payload)
            if record.kind is RecordKind.SESSION and told["session"] not in by_session:
                by_session[told["session"]] = DeviceState.from_snapshot(told, now, self.clock_pace)
            elif record.kind is RecordKind.CONTROL and told["session"] in by_session:
                device = by_session[told["session"]]
                device.hear_clock(msg.Clock.model_validate(told["clock"]), told["us"])
                device.answered_at_us = told.get("answered_us", told["us"])
        return list(by_session.values())


def _read(device: DeviceState, data: bytes) -> tuple[StreamState, Samples]:
    try:
        header = read_header(data)
        stream = device.streams.get(header.stream)
        if stream is None:
            raise LinkRefused(Close.BAD_HELLO, tr("stream {stream} was not declared in hello", stream=header.stream))
        time_us, values = read_samples(header, data, stream.declared.layout)
    except BadFrame as bad:
        raise LinkRefused(Close.BAD_HELLO, str(bad)) from None
    return stream, Samples(header.sequence, time_us, values)


def _again(device: DeviceState, data: bytes, came_us: int) -> Iterator[Arrived]:
    """A frame out of the journal, taken in as when it came."""
    stream, samples = _read(device, data)
    device.hear_arrival(int(samples.time_s[-1]), came_us)
    ordered = put_in_order(stream.params, stream.order, samples)
    if stream.order.next is not None:
        stream.acked = max(stream.acked, stream.order.next - 1)
    late = set(map(id, ordered.late))
    for part in [*ordered.ready, *ordered.late]:
        if isinstance(part, Samples):
            at = device.server_s(stream, part.time_s, late=id(part) in late)
            yield Arrived(device, stream.declared, at, part, id(part) in late)
