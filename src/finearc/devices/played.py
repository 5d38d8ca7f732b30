"""A bundle sent through the live path: frame by frame as its devices would send it, with what goes wrong on the way, as
fast as it can be read."""

from __future__ import annotations

import heapq
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any
from uuid import uuid4

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.live.angles import LiveTrace
from finearc.core.live.gridding import Grid
from finearc.core.live.reader import StretchRead, StretchReader
from finearc.core.live.sequence import Gap, Samples
from finearc.core.live.take import LiveTake, joined_traces
from finearc.core.markers.stream import MarkerStream
from finearc.core.pressure.stream import MatStream
from finearc.core.signals.streams import ImuStream
from finearc.core.sources.capture import Capture, CaptureReading, with_notes
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.kind import Kind, Window
from finearc.core.sources.markers import MARKERS
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array, Mask
from finearc.devices.link.bay import Arrived, Bay
from finearc.devices.link.declared import Declared, ImuDeclared, MarkersDeclared, PressureDeclared
from finearc.devices.link.device import DeviceState
from finearc.devices.link.frames import Values, write_frame
from finearc.devices.link.messages import Clock, Hello, LinkRefused, Message
from finearc.services.judging import analysis as an

FRAME_S = 0.02
"""Devices send fifty frames a second."""
LEAD_S = 10.0
"""Device clocks begin so long before the recording, as no device time is negative."""
POSE_AFTER_S = 0.25
"""So long after the last pose the calibration is read, and so long between tries without named poses: these are
seconds of reading and stillness that only cost time."""
TRY_EVERY_S = 1.0
SCALE_KPA, FULL_SCALE = 0.01, 65_535
"""A mat's step, far below its noise, unless its largest reading needs a coarser one."""


@dataclass(frozen=True)
class Faults:
    """``loss``: share of samples lost, in bursts of ``burst_ms``; frames come up to ``late_ms`` late. ``seed`` repeats
    them."""

    loss: float = 0.0
    burst_ms: float = 40.0
    late_ms: float = 0.0
    seed: int = 0


@dataclass(frozen=True)
class _Sent:
    """One stream as a device has it: device times (n,), µs, and values as they go over the wire."""

    declared: Declared
    time_us: Values
    values: Values


class _PlayedClock:
    """The server's clock, as the recording has it."""

    def __init__(self) -> None:
        self.us = 0

    def now_us(self) -> int:
        return self.us


class _Silent:
    """A device that does not care what it is told."""

    def tell(self, message: Message) -> None:
        """Nothing."""

    def close(self, error: LinkRefused) -> None:
        raise error


@dataclass
class Played:
    """Hears what a bay's devices send and reads it as a live recording is read. ``named``: the bundle's own windows of
    swings, or None; ``beside``: streams that no device sends (force plates)."""

    capture: Capture
    take: LiveTake
    origin_us: int
    poses_end_s: float | None
    named: Sequence[Window] | None
    beside: Mapping[Kind, Any]
    reader: StretchReader = field(init=False)
    shown: list[LiveTrace] = field(default_factory=list)
    swings: list[SwingReading] = field(default_factory=list)
    last: CaptureReading | None = None
    setup: CaptureReading | None = None
    _pending: list[Arrived] = field(default_factory=list)
    _now_s: float = -np.inf
    _read_s: float = -np.inf
    _tried_s: float = -np.inf

    def __post_init__(self) -> None:
        self.reader = StretchReader(self.capture)

    # what the bay tells

    def arrived(self, parts: Sequence[Arrived]) -> None:
        for part in parts:
            self._pending.append(part)
            if part.late:
                continue
            stream = self._in_core(part)
            self._now_s = max(self._now_s, float(part.time_s[-1]) - self.origin_us / 1e6)
            if isinstance(stream, ImuStream):
                self.take.hear(stream)
            elif isinstance(stream, MarkerStream):
                self.take.see(stream)
            elif isinstance(stream, MatStream):
                self.take.tread(stream)
        self.shown += self.take.new_values()
        self._go_on()

    def lost(self, device: DeviceState, declared: Declared, gap: Gap) -> None:
        """What never came shows as a gap in time."""

    def happened(self, device: DeviceState, name: str, server_s: float) -> None:
        """Nothing in a recording."""

    def devices_changed(self) -> None:
        """Nothing in a recording."""

    # reading

    def _go_on(self) -> None:
        over = self.take.swing_is_over()
        if self.reader.live is None:
            self._try_to_begin()
        if self.named is not None:
            ended = [w for w in self.named if self._read_s < w[1] <= self._now_s - POSE_AFTER_S]
            if ended and self.reader.live is not None:
                self._read(ended)
        elif over:
            self._read(None)

    def _try_to_begin(self) -> None:
        """As soon as the poses are over; without named ones now and then, until it can be read."""
        if self.poses_end_s is not None and self._now_s < self.poses_end_s + POSE_AFTER_S:
            return
        if self._now_s < self._tried_s + TRY_EVERY_S or (self.poses_end_s is None and not self._is_moving()):
            return
        self._tried_s = self._now_s
        found = self.reader.try_to_begin(self._stretch())
        if found is not None:
            self.setup = found.reading
            self._learn(found)

    def _is_moving(self) -> bool:
        """Whether a pose is over: while it is held, its window still grows."""
        return self.take.main is None or self.take.angles.address.since_s is None

    def _read(self, windows: Sequence[Window] | None) -> None:
        found = self.reader.read(self._stretch(), windows)
        self._read_s = self._now_s if windows is None else max(w[1] for w in windows)
        self.swings += found.reading.swings
        self._learn(found)

    def _learn(self, found: StretchRead) -> None:
        self.last = found.reading
        self.take.learn(found.learned.anchors, found.learned.upright)

    def end(self) -> None:
        """Read what is left. Raises a ``FineArcError`` when nothing could be read at all."""
        named = None if self.named is None else [w for w in self.named if w[1] > self._read_s]
        if self._pending or self.reader.live is None:
            self._read(named)

    def _in_core(self, part: Arrived) -> Any:
        return part.declared.to_core(part.time_s - self.origin_us / 1e6, part.samples.values)

    def _stretch(self) -> dict[Kind, Any]:
        """All that has arrived since the last reading, in order, as the core reads it."""
        by_stream: dict[tuple[int, int], list[Arrived]] = {}
        for part in sorted(self._pending, key=lambda p: p.samples.first):
            by_stream.setdefault((part.device.session, part.declared.stream), []).append(part)
        self._pending = []
        out: dict[Kind, Any] = {}
        for parts in by_stream.values():
            declared = parts[0].declared
            time_s = np.concatenate([p.time_s for p in parts]) - self.origin_us / 1e6
            stream = declared.to_core(time_s, np.concatenate([p.samples.values for p in parts]))
            kind = declared.source
            out[kind] = (*out.get(kind, ()), stream) if kind == INERTIAL else stream
        return out | self._beside()

    def _beside(self) -> dict[Kind, Any]:
        """What no device sends is there from the start."""
        beside, self.beside = self.beside, {}
        return dict(beside)

    def reading(self) -> CaptureReading:
        """All swings together."""
        assert self.last is not None
        setup = self.setup.setup if self.setup is not None and not self.swings else None
        return replace(self.last, swings=tuple(self.swings), setup=setup)


def play_live(
    data: an.CaptureData, faults: Faults, options: an.Options
) -> tuple[an.Analysis, Mapping[str, tuple[Array, Array]]]:
    """Play a bundle. Returns its analysis, and what was shown of each metric while it came, by id: times (n,), s, and
    values (n,), SI. Raises a ``FineArcError``."""
    sent, beside = _as_sent(data.streams)
    if not sent:
        return an.analyse(data, options), {}  # force plates alone: no device sends them
    capture = an.capture_of(replace(data, swings=None), swings_expected=False)
    played = Played(
        capture,
        LiveTake(capture, _grid(sent), [s.declared.segment for s in sent if isinstance(s.declared, ImuDeclared)]),
        round(LEAD_S * 1e6),
        _poses_end(data),
        data.swings,
        beside,
    )
    clock = _PlayedClock()
    bay = Bay(uuid4(), "played", None, clock, lambda call, *args: call(*args))
    bay.listeners.append(played)
    devices = [_connected(bay, clock, k, s) for k, s in enumerate(sent)]
    for arrives_us, number, frame in _frames(sent, faults):
        clock.us = arrives_us
        bay.frame(devices[number], frame)
    bay.flush()
    played.end()
    if not played.swings and (played.last is None or played.reading().setup is None):
        an.read(data)  # says why no swing was found
    reading = with_notes(played.reading(), data.putting)
    return an.analysis_of(reading, data, options), joined_traces(played.shown)


def _connected(bay: Bay, clock: _PlayedClock, number: int, sent: _Sent) -> DeviceState:
    told = sent.declared.model_dump(mode="json") | {"stream": 0}
    hello = Hello.model_validate(
        {
            "type": "hello",
            "protocol": 1,
            "token": "",
            "device": {"id": f"played-{number}", "boot": 1},
            "streams": [told],
        }
    )
    device = bay.welcome(hello, _Silent())
    for _ in range(2):  # all of a bundle is on one clock: the exchange takes no time
        bay.hear(device, Clock(type="clock", t0_us=clock.us, last_t0_us=clock.us, last_t3_us=clock.us))
    return device


def _poses_end(data: an.CaptureData) -> float | None:
    """When the last named pose ends, s; None where a wrist pair's have to be looked for."""
    ends = [p.end_s for p in data.poses] + [w[1] for w in (*data.uprights, data.bow, data.lifted) if w]
    if isinstance(data.functional, FunctionalWindows):
        ends.append(data.functional.deviation[1])
    return max(ends) if ends else None


def _grid(sent: Sequence[_Sent]) -> Grid:
    """As the batch lays it: from where all sensors have begun, at the fastest one's step."""
    sensors = [s for s in sent if isinstance(s.declared, ImuDeclared)] or list(sent)
    origin_us = max(int(s.time_us[0]) for s in sensors)
    return Grid(origin_us / 1e6 - LEAD_S, min(1.0 / s.declared.rate_hz for s in sensors))


def _frames(sent: Sequence[_Sent], faults: Faults) -> Iterator[tuple[int, int, bytes]]:
    """When each frame arrives (µs of the server), whose it is, and its bytes, in the order of arriving."""
    rng = np.random.default_rng(faults.seed)
    queues = [_frames_of(k, s, faults, np.random.default_rng(rng.integers(2**63))) for k, s in enumerate(sent)]
    return heapq.merge(*(_by_arrival(q, faults.late_ms) for q in queues))


def _frames_of(number: int, sent: _Sent, faults: Faults, rng: np.random.Generator) -> Iterator[tuple[int, int, bytes]]:
    there = ~lost_samples(len(sent.time_us), sent.declared.rate_hz, faults, rng)
    size = max(1, round(FRAME_S * sent.declared.rate_hz))
    layout = sent.declared.layout
    for a in range(0, len(there), size):
        inside = there[a : a + size]
        edges = np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(np.int8))).reshape(-1, 2)
        for first, after in edges + a:
            samples = Samples(int(first), sent.time_us[first:after], sent.values[first:after])
            late_us = round(1000.0 * float(rng.uniform(0.0, faults.late_ms))) if faults.late_ms else 0
            yield int(samples.time_s[-1]) + late_us, number, write_frame(0, samples, layout)


def _by_arrival(frames: Iterator[tuple[int, int, bytes]], late_ms: float) -> Iterator[tuple[int, int, bytes]]:
    """Sorted by arrival; none comes later than ``late_ms`` after those that follow it."""
    waiting: list[tuple[int, int, bytes]] = []
    for frame in frames:
        heapq.heappush(waiting, frame)
        while waiting and waiting[0][0] < frame[0] - 2000 * late_ms - 1:
            yield heapq.heappop(waiting)
    while waiting:
        yield heapq.heappop(waiting)


def lost_samples(count: int, rate_hz: float, faults: Faults, rng: np.random.Generator) -> Mask:
    """Which of the samples (count,) are lost: bursts at random places that do not touch one another."""
    lost = np.zeros(count, dtype=bool)
    burst = max(1, round(faults.burst_ms / 1000.0 * rate_hz))
    bursts = round(faults.loss * count / burst)
    room = count - bursts * (burst + 2)
    if bursts == 0 or room <= 0:
        return lost
    starts = np.sort(rng.integers(0, room, bursts)) + np.arange(bursts) * (burst + 2)
    for start in starts:
        lost[start + 1 : start + 1 + burst] = True
    return lost


def as_sent(streams: Mapping[Kind, Any]) -> Iterator[tuple[str, Declared, Array, Values]]:
    """Every stream that a device can send: its name, how it is declared, times (n,), s, and values on the wire."""
    for sent in _as_sent(streams)[0]:
        place = sent.declared.place
        yield place.segment or place.kind, sent.declared, sent.time_us / 1e6 - LEAD_S, sent.values


def _as_sent(streams: Mapping[Kind, Any]) -> tuple[list[_Sent], dict[Kind, Any]]:
    """Every stream that a device can send, and those that none does."""
    beside = dict(streams)
    sent = [_imu(s) for s in beside.pop(INERTIAL, ())]
    if (markers := beside.pop(MARKERS, None)) is not None:
        sent.append(_markers(markers))
    if (mat := beside.pop(MAT, None)) is not None:
        sent.append(_mat(mat))
    return [s for s in sent if len(s.time_us) > 1], beside


def _device_us(time_s: Array) -> Values:
    return np.rint((time_s + LEAD_S) * 1e6).astype(np.int64)


def _rate_hz(time_s: Array) -> float:
    return float(1.0 / max(np.median(np.diff(time_s)), 1e-4)) if len(time_s) > 1 else 100.0


def _imu(stream: ImuStream) -> _Sent:
    declared = ImuDeclared(kind="imu", stream=0, segment=stream.segment, rate_hz=_rate_hz(stream.time_s))
    values = np.column_stack([stream.acc_m_s2, stream.gyr_rad_s]).astype(np.float32)
    return _Sent(declared, _device_us(stream.time_s), values)


def _markers(stream: MarkerStream) -> _Sent:
    ours = {theirs: label for label, theirs in stream.names.items()}
    declared = MarkersDeclared(
        kind="markers",
        stream=0,
        rate_hz=_rate_hz(stream.time_s),
        labels=tuple(ours.get(label, label) for label in stream.labels),
        bay_axes={"ball": stream.axes.ball, "target": stream.axes.target, "up": stream.axes.up},
    )
    points = stream.points_m.reshape(len(stream.points_m), -1).astype(np.float32)
    return _Sent(declared, _device_us(stream.time_s), points)


def _mat(stream: MatStream) -> _Sent:
    grid, largest = stream.grid, float(np.nanmax(stream.pressure_kpa, initial=1.0))
    scale = max(SCALE_KPA, largest / FULL_SCALE)
    declared = PressureDeclared(
        kind="pressure",
        stream=0,
        rate_hz=_rate_hz(stream.time_s),
        rows=grid.rows,
        columns=grid.columns,
        cell_mm=(1000.0 * grid.cell_m[0], 1000.0 * grid.cell_m[1]),
        origin_mm=(1000.0 * grid.origin_m[0], 1000.0 * grid.origin_m[1]),
        row_axis=grid.row_axis,
        column_axis=grid.column_axis,
        scale_kpa=scale,
        saturation_kpa=stream.limit_kpa,
        own_clock=stream.own_clock,
    )
    return _Sent(declared, _device_us(stream.time_s), np.rint(stream.pressure_kpa / scale).astype(np.uint16))
