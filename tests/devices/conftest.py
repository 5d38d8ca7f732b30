"""A bay without a network: its devices' messages go in and out by hand."""

import uuid

import numpy as np
import pytest

from finearc.core.live.sequence import Samples
from finearc.devices.link.bay import Bay
from finearc.devices.link.frames import write_frame
from finearc.devices.link.messages import Hello


class Clockwork:
    """The server's clock, turned by hand."""

    def __init__(self):
        self.us = 1_000_000_000

    def now_us(self):
        return self.us


class Told:
    """The way back to a device: what it was told."""

    def __init__(self):
        self.messages, self.closed = [], None

    def tell(self, message):
        self.messages.append(message)

    def close(self, error):
        self.closed = error

    def of(self, kind):
        return [m for m in self.messages if m["type"] == kind]


class Hears:
    """A listener that remembers."""

    def __init__(self):
        self.parts, self.gaps, self.events = [], [], []

    def arrived(self, parts):
        self.parts += parts

    def lost(self, device, declared, gap):
        self.gaps.append(gap)

    def happened(self, device, name, server_s):
        self.events.append((name, server_s))

    def devices_changed(self):
        pass

    def values(self, *, late=False):
        return [float(v) for p in self.parts if p.late == late for v in p.samples.values[:, 0]]


def hello(segment="lead_hand", *, device="d1", boot=1, stream=0, rate_hz=200, **more):
    streams = [{"stream": stream, "kind": "imu", "segment": segment, "rate_hz": rate_hz, **more}]
    told = {"id": device, "name": f"The {segment}", "boot": boot}
    return Hello.model_validate({"type": "hello", "protocol": 1, "token": "t", "device": told, "streams": streams})


def frame(first, count=4, *, stream=0, at_us=None, value=None):
    n = np.arange(first, first + count)
    values = np.zeros((count, 6))
    values[:, 0] = n if value is None else value
    start = 5000 * first if at_us is None else at_us
    return write_frame(stream, Samples(first, start + 5000 * (n - first), values), _LAYOUT)


_LAYOUT = hello().streams[0].layout


@pytest.fixture
def clock():
    return Clockwork()


@pytest.fixture
def new_bay(tmp_path, clock):
    """Bays on one folder; calls that should be made soon are gathered and made by ``bay.run()``."""
    made = []

    def make(folder=tmp_path / "bay"):
        calls = []
        bay = Bay(uuid.UUID(int=1), "Bay 1", folder, clock, lambda call, *args: calls.append((call, args)))
        bay.listeners.append(hears := Hears())

        def run():
            while calls:
                call, args = calls.pop(0)
                call(*args)

        bay.hears, bay.run = hears, run
        made.append(bay)
        return bay

    yield make
    for bay in made:
        bay.close()
