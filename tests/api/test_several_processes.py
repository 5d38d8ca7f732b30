"""Several web processes with one set of devices: what one asks for happens in the first, and all screens hear it."""

from __future__ import annotations

import asyncio
import threading
from pathlib import Path
from types import SimpleNamespace
from uuid import uuid4

import pytest

from finearc.core.errors import FineArcError
from finearc.devices import processes
from finearc.devices.hub import LiveHub
from finearc.services.errors import Refused


class Devices:
    """Notes what it is told to do."""

    def __init__(self) -> None:
        self.done = []

    def resume(self, academy_id, recording_id):
        self.done.append(("begin", academy_id, recording_id))
        return True

    def request_swings(self, lesson_id, count):
        if count > 9:
            raise Refused("too many swings", "Ask for fewer")
        self.done.append(("swings", lesson_id, count))
        return count < 5

    def end(self, lesson_id):
        self.done.append(("end", lesson_id))


class Bays:
    """Says what it is asked."""

    def __init__(self) -> None:
        self.revoked = []

    def told(self, bay_id):
        return {"state": "armed", "trouble": "", "devices": []}

    def revoke(self, token_id):
        self.revoked.append(token_id)


@pytest.fixture
def linked(tmp_path: Path):
    """A captain with its hub and devices, and one of the crew with its own hub."""
    first, other, devices = LiveHub(), LiveHub(), Devices()
    known = uuid4()
    first.publish(known, {"type": "ready"})
    captain = processes.Captain(tmp_path / "run", first, devices, bays := Bays())
    crew = processes.Crew(tmp_path / "run", other)
    yield SimpleNamespace(first=first, other=other, devices=devices, crew=crew, captain=captain, known=known, bays=bays)
    crew.close()
    captain.close()


def heard(hub: LiveHub, lesson_id, session: str = "", then=lambda: None):
    """The first message that somebody who watches a lesson hears after something is done."""

    async def watch():
        with hub.watching(lesson_id, session) as mine:
            threading.Timer(0.3, then).start()
            return await mine.next(10.0)

    return asyncio.run(watch())


def test_what_is_asked_elsewhere_is_done_where_the_devices_are(linked):
    academy, recording, lesson = uuid4(), SimpleNamespace(id=uuid4()), uuid4()
    assert linked.crew.begin(academy, recording, ["club"])
    assert linked.crew.request_swings(lesson, 3) is True
    assert linked.crew.request_swings(lesson, 7) is False
    linked.crew.end(lesson)
    assert linked.devices.done == [
        ("begin", academy, recording.id),
        ("swings", lesson, 3),
        ("swings", lesson, 7),
        ("end", lesson),
    ]


def test_bays_are_looked_into_and_tokens_revoked_where_the_devices_are(linked):
    token = uuid4()
    assert linked.crew.told(uuid4())["state"] == "armed"
    linked.crew.revoke(token)
    assert linked.bays.revoked == [token]


def test_a_refusal_comes_back_in_its_words(linked):
    with pytest.raises(FineArcError, match=r"too many swings\. Ask for fewer") as refused:
        linked.crew.request_swings(uuid4(), 10)
    assert refused.value.code == "refused"


def test_every_process_hears_what_happens_and_knows_what_stands(linked):
    lesson = uuid4()
    said = heard(linked.other, lesson, then=lambda: linked.first.publish(lesson, {"type": "captured"}))
    assert said == {"type": "captured"}
    assert dict(linked.other.states())[linked.known] == {"type": "ready"}


def test_a_session_that_ends_anywhere_ends_its_streams_everywhere(linked):
    lesson = uuid4()
    assert heard(linked.first, lesson, "mine", lambda: linked.crew.end_sessions(["mine"])) is None
    assert heard(linked.other, lesson, "mine", lambda: linked.first.end_sessions(["mine"])) is None


def test_while_the_first_process_is_away_it_is_said(tmp_path, monkeypatch):
    monkeypatch.setattr(processes, "PATIENCE_MS", 200)
    crew = processes.Crew(tmp_path / "run", LiveHub())
    try:
        with pytest.raises(processes.DevicesAway, match="nothing was lost"):
            crew.request_swings(uuid4(), 1)
    finally:
        crew.close()
