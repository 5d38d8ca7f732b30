"""The stand-ins' rig: what it sends is of this moment, however often it is asked for something."""

import asyncio

from finearc.core.frames.handedness import Hand
from finearc.devices.link.frames import HEADER
from finearc.devices.simulated.client import LinkClient
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.simulated.rig import Rig
from finearc.store.columns import ParquetColumns
from tests.devices.local import PLAYS

CUES = 25


class Noted(LinkClient):
    """Connected to nothing: notes how far behind its own clock the frames are that it is given, s."""

    def __init__(self, *args):
        super().__init__(*args)
        self.behind_s = []

    async def run(self):
        await asyncio.Event().wait()

    async def send(self, stream, first, after, data):
        *_, first_us, _, _ = HEADER.unpack_from(data)
        self.behind_s.append((self.now_us() - first_us) / 1e6)


def test_a_stand_in_does_not_fall_behind_with_every_swing_that_is_asked_for():
    async def played():
        plays = Plays(PLAYS, ParquetColumns())
        rig = Rig("", "", plays, Score("hold-then-flex", 5, Hand.RIGHT, ()), connect=Noted)
        task = asyncio.create_task(rig.run())
        async with asyncio.timeout(60):
            while not (rig.devices and rig.devices[0].client.behind_s):
                await asyncio.sleep(0.01)
            client = rig.devices[0].client
            for cue in range(CUES):  # each cost the time since the last frames before
                rig._heard({"type": "cue", "id": str(cue), "swings": 0})
                await asyncio.sleep(0.03)
            client.behind_s.clear()
            while len(client.behind_s) < 20:
                await asyncio.sleep(0.01)
        task.cancel()
        await asyncio.gather(task, return_exceptions=True)
        return min(client.behind_s)

    assert asyncio.run(played()) < 0.1
