"""All bays of a process: what lies about of those that nobody comes to any more."""

import asyncio
import os
import time
from uuid import uuid4

from finearc.devices.link.bays import OLD_S, Bays, TokenOwner
from finearc.devices.link.server_clock import ServerClock


def journal(folder, name, age_s):
    place = folder / name
    place.mkdir()
    file = place / "00000001.journal"
    file.write_bytes(b"")
    os.utime(file, (time.time() - age_s,) * 2)
    return place


def test_journals_that_nobody_needs_any_more_go_after_a_day(tmp_path):
    """Not those of a bay in use, nor of one that was used within the day."""
    used = uuid4()
    kept = [journal(tmp_path, str(used), 2 * OLD_S), journal(tmp_path, str(uuid4()), 0.5 * OLD_S)]
    gone = [journal(tmp_path, str(uuid4()), 2 * OLD_S), journal(tmp_path, f"{uuid4()}.unread-1", 2 * OLD_S)]

    async def walk():
        bays = Bays(tmp_path, ServerClock(), sync=False)
        bays.open(TokenOwner(uuid4(), used, "Bay 1", uuid4()))
        bays.let_go_of_old()
        bays.close()

    asyncio.run(walk())
    assert all(p.exists() for p in kept)
    assert not any(p.exists() for p in gone)
