"""A sensor that streams by Lab Streaming Layer arrives in a bay."""

import asyncio
import threading
import time
from uuid import uuid4

import numpy as np
import pylsl
import pytest

from finearc.core.signals.streams import Segment
from finearc.devices.bridges.lab_streaming import Bridged, NoSuchStream, run_bridge


@pytest.fixture
def outlet():
    """A sensor that says g and degrees a second, by its name."""
    name, ended = f"sensor-{uuid4().hex[:8]}", threading.Event()
    made = pylsl.StreamOutlet(pylsl.StreamInfo(name, "IMU", 6, 100, "float32", name))

    def play():
        sample, began_s = 0, pylsl.local_clock()
        while not ended.wait(0.02):
            while began_s + sample / 100 < pylsl.local_clock():  # what is due, however late this thread gets its turn
                made.push_sample([0.0, 0.0, 1.0, float(sample % 90), 0.0, 0.0], began_s + sample / 100)
                sample += 1

    thread = threading.Thread(target=play)
    thread.start()
    yield name
    ended.set()
    thread.join()


def test_its_samples_arrive_in_si_units_in_order_on_its_clock(server, token, services, outlet):
    async def walk():
        bridged = Bridged(outlet, Segment.PELVIS, "g", "deg/s")
        running = asyncio.create_task(run_bridge(server, token[0], bridged))
        deadline = time.monotonic() + 30
        bay = None
        while time.monotonic() < deadline and not (bay and next(iter(bay.devices.values())).streams[0].acked > 150):
            await asyncio.sleep(0.1)
            bay = next((b for b in services.link._open.values() if b.name == token[2] and b.devices), None)
        running.cancel()
        await asyncio.gather(running, return_exceptions=True)
        return bay

    bay = asyncio.run(walk())
    parts = [p for _, p in bay.recovered()]
    values = np.concatenate([p.samples.values for p in parts])
    time_s = np.concatenate([p.time_s for p in parts])
    assert len(values) > 150
    assert values[:, 2] == pytest.approx(9.81, rel=1e-3)
    turned = np.rint(np.rad2deg(values[:, 3])).astype(int)
    assert set((np.diff(turned) % 90).tolist()) == {1}  # none is lost, doubled or out of order
    assert (np.diff(time_s) > 0).all()
    assert np.ptp(time_s[-100:]) == pytest.approx(1.0, rel=0.15)


def test_a_stream_that_is_not_there_is_said(monkeypatch):
    import finearc.devices.bridges.lab_streaming as bridge

    monkeypatch.setattr(bridge, "FIND_S", 0.5)
    with pytest.raises(NoSuchStream, match="not found within"):
        asyncio.run(run_bridge("ws://127.0.0.1:1/api/link", "t", Bridged("nobody-streams-this", Segment.PELVIS)))
