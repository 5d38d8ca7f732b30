"""A player with devices in the same process: the stand-ins' own rig, its frames handed to the bay without a network."""

import asyncio
import json
import tempfile
from pathlib import Path

from finearc.core.frames.handedness import Hand
from finearc.devices.link.bays import TokenOwner
from finearc.devices.link.messages import LinkRefused, read_message
from finearc.devices.simulated.client import LinkClient
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.simulated.rig import Rig
from finearc.services.lesson.lessons import bay_of
from finearc.store.columns import ParquetColumns

PLAYS = Path(tempfile.gettempdir()) / "finearc-test-plays"


class LocalClient(LinkClient):
    """Says and hears the same; what would go over the network goes from hand to hand, as the JSON and bytes it is."""

    def tell(self, message):
        message = json.loads(json.dumps(message))
        if message["type"] == "ack":
            self.acked[message["stream"]] = message["sequence"]
            self._forget(message["stream"], message["sequence"])
        self.heard(message)

    def close(self, error: LinkRefused):
        self.refused = error.reason
        self.here = None

    async def run(self):
        bay, self.here = self.bay, None
        while True:
            if self.here is None and not self._unplugged:
                hello = read_message(json.dumps({"type": "hello", "protocol": 1, **self.hello}))
                self.here = bay.welcome(hello, self)
                self.welcomes += 1
            bay.hear(self.here, read_message(json.dumps({"type": "clock", "t0_us": self.now_us()})))
            if self.health is not None:
                bay.hear(self.here, read_message(json.dumps({"type": "health", **self.health()})))
            await asyncio.sleep(0.2)

    async def send(self, stream, first, after, data):
        self._kept.append((stream, first, after, data))
        if getattr(self, "here", None) is not None:
            self.bay.frame(self.here, data)


def put_into(services, academy_id, bay_name="Bay 1"):
    """A rig in a bay, on the services' own event loop; it plays whatever a lesson asks for."""
    with services.store.unit_of_work(academy_id) as uow:
        found = bay_of(uow, bay_name)
        uow.flush()
        owner = TokenOwner(academy_id, found.id, found.name, found.id)

    def begin():
        bay = services.link.open(owner)
        made = type("InBay", (LocalClient,), {"bay": bay})
        score = Score("hold-then-flex", 5, Hand.RIGHT, ())
        clock, plays = services.link.clock, Plays(PLAYS, ParquetColumns())
        rig = Rig("", "", plays, score, pace=clock.pace, name=bay_name, connect=made, real_s=clock.real_s)
        return rig, asyncio.get_running_loop().create_task(rig.run())

    return services.link.call(begin)
