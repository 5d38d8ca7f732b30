"""A live capture meets what can go wrong: a database that is away, clashes, a bug, a crash. It goes on."""

from __future__ import annotations

import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from uuid import UUID

import numpy as np
import pytest
from pymysql.err import OperationalError as MariaDbError
from sqlalchemy.exc import OperationalError

from finearc.core.sources.inertial import INERTIAL
from finearc.devices import live as devices
from finearc.devices.live import Devices, Keeping
from finearc.devices.plan import Kept
from finearc.launch.pool import OneThread
from finearc.services.capture import live, raw
from finearc.services.jobs.ports import Tools
from finearc.services.records import Chunk, Recording
from finearc.store.faults import is_passing
from tests.api.conftest import RIGS, bundle, drop, new_lesson


def away() -> OperationalError:
    """As it is raised while the database is away."""
    return OperationalError("SELECT 1", None, MariaDbError(2006, "gone away"))


@pytest.fixture
def said(services, monkeypatch):
    """What the screens are told, in order."""
    told = []
    publish = services.hub.publish

    def listen(lesson_id, message):
        told.append(message)
        publish(lesson_id, message)

    monkeypatch.setattr(services.hub, "publish", listen)
    return told


def fitted(browser, name: str, **worn: object) -> str:
    """A lesson whose stand-in is calibrated and ready."""
    lesson_id = new_lesson(browser, name)
    asked = {"scenario": "hold-then-flex", "seed": 5, **worn}
    assert browser.post(f"/lessons/{lesson_id}/recordings", asked).status_code == 201
    return lesson_id


def until(happened, patience_s: float = 60.0) -> None:
    """Wait for something."""
    end = time.monotonic() + patience_s
    while not happened():
        assert time.monotonic() < end, "it did not happen"
        time.sleep(0.05)


def swings(browser, lesson_id: str) -> list[int]:
    return [s["number"] for s in browser.lesson(lesson_id)["swings"]]


def ready(said) -> bool:
    return any(m["type"] == "ready" for m in said)


def failing(monkeypatch, times: int, error) -> None:
    """The reading of a live stretch fails so many times."""
    whole, left = live.go_on, [times]

    def go_on(*args):
        if left[0]:
            left[0] -= 1
            raise error()
        return whole(*args)

    monkeypatch.setattr(live, "go_on", go_on)


def test_a_database_that_is_away_is_waited_for_and_said(browser, said, monkeypatch):
    lesson_id = fitted(browser, "Away")
    until(lambda: ready(said))
    failing(monkeypatch, 3, away)
    assert browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 2}).status_code == 200
    until(lambda: swings(browser, lesson_id) == [1, 2])
    assert {"trouble", "captured"} <= {m["type"] for m in said}
    assert devices.WAITING in [m.get("reason") for m in said]


def test_a_bug_costs_one_swing_whose_raw_data_are_kept(browser, services, north, said, monkeypatch):
    lesson_id = fitted(browser, "Bug")
    until(lambda: ready(said))
    failing(monkeypatch, 1, ZeroDivisionError)
    assert browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 2}).status_code == 200
    until(lambda: swings(browser, lesson_id) == [1])
    assert devices.UNREAD in [m.get("reason") for m in said]
    recording_id = browser.lesson(lesson_id)["recordings"][0]["id"]
    with services.store.unit_of_work(north) as uow:
        keys = {c.key for c in uow.find(Chunk, recording_id=recording_id)}
    assert {"poses", "address", "unread-swing-0", "swing-1"} <= keys


def test_a_stand_in_that_is_gone_is_not_asked_for_swings(browser, services, said):
    lesson_id = fitted(browser, "Stopped")
    take = services.devices._takes[UUID(lesson_id)]
    until(lambda: take.phase == "armed")
    gone = {d.id: d.outlet for d in take.bay.devices.values()}
    for device in take.bay.devices.values():
        device.outlet = None
    answer = browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
    for device in take.bay.devices.values():
        device.outlet = gone[device.id]
    assert answer.status_code == 409
    assert "Fit and calibrate" in answer.json()["message"]


def test_after_a_crash_the_capture_goes_on_where_it_was(browser, services, north, said):
    """Another process takes the recording over: nothing is kept twice, what was asked for still comes."""
    lesson_id = fitted(browser, "Crash")
    until(lambda: ready(said))
    browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
    until(lambda: swings(browser, lesson_id) == [1])
    lost = services.devices._takes.pop(next(k for k in services.devices._takes if str(k) == lesson_id))
    services.link.call(lambda: lost.bay.listeners.remove(lost))  # as a process that was killed
    recording_id = UUID(browser.lesson(lesson_id)["recordings"][0]["id"])
    with services.store.unit_of_work(north) as uow:
        recording = uow.get(Recording, recording_id)
        assert {k: recording.live[k] for k in ("sources", "wanted")} == {"sources": ["club"], "wanted": 1}
        assert len(recording.live["following"]) == 3
        recording.live = {**recording.live, "wanted": 3}
    live.forget(recording_id)
    with services.store.front_door() as door:
        assert (north, recording_id) in door.live_recordings()
    assert services.devices.resume(north, recording_id)
    until(lambda: swings(browser, lesson_id) == [1, 2, 3])
    assert len(browser.lesson(lesson_id)["recordings"]) == 1
    with services.store.unit_of_work(north) as uow:
        stored = raw.streams_of(uow, services.codec, uow.get(Recording, recording_id))[INERTIAL]
    for stream in stored:
        step = np.diff(stream.time_s)
        assert step.min() > 0, "a sample is there twice"
        assert step.max() < 0.02, "samples are missing"
    browser.post(f"/lessons/{lesson_id}/close", {"priorities": []})
    with services.store.front_door() as door:
        assert (north, recording_id) not in door.live_recordings()


def test_a_closed_lesson_is_not_gone_on_with(browser, services, north):
    lesson_id = new_lesson(browser, "Closed")
    started = UUID(browser.post(f"/lessons/{lesson_id}/recordings", {}).json()["recording_id"])
    browser.post(f"/lessons/{lesson_id}/close", {"priorities": []})
    with services.store.unit_of_work(north) as uow:
        uow.get(Recording, started).live = {"sources": [], "wanted": 3}
    assert not services.devices.resume(north, started)


def test_what_comes_after_the_end_does_not_begin_it_again(browser, services, north):
    """The rest of a recording is kept after its lesson was closed; no start goes on with it for that."""
    lesson_id = new_lesson(browser, "Late rest")
    started = UUID(browser.post(f"/lessons/{lesson_id}/recordings", {}).json()["recording_id"])
    keeper = services.devices._takes[UUID(lesson_id)].keeper
    browser.post(f"/lessons/{lesson_id}/close", {"priorities": []})
    for after in (keeper.rest, keeper.swing):
        after({}, "idle-0", Kept(0, {}))
        with services.store.front_door() as door:
            assert (north, started) not in door.live_recordings()


def test_what_does_not_pass_is_not_waited_for():
    tried = []

    @contextmanager
    def open_(_):
        tried.append(1)
        raise ZeroDivisionError
        yield

    class Hub:
        def publish(self, _, message):
            tried.append(message["type"])

    pool = OneThread(lambda: Tools(open_, None, {}, None, None, None, None))
    keeping = Keeping(open_, pool, Hub(), is_passing)
    devices.RecordingListener(keeping, None, None, None).swing({}, "swing-0", Kept(0, {}))
    assert tried == [1, 1, "trouble"]
    assert Devices(keeping, None).request_swings(None, 1) is False
    pool.close()


def test_a_dozen_imports_into_one_lesson_all_succeed(browser, open_browser):
    """Swings are numbered without a gap, whoever was first."""
    lesson_id = new_lesson(browser, "Dozen")
    one = bundle("hold-then-flex", 5)
    with ThreadPoolExecutor(12) as pool:
        answers = list(pool.map(lambda _: drop(browser, lesson_id, one), range(12)))
    assert [a.status_code for a in answers] == [201] * 12, [a.text for a in answers]
    found = swings(browser, lesson_id)
    assert found == list(range(1, len(found) + 1))
    assert len(browser.lesson(lesson_id)["recordings"]) == 12


def test_devices_switched_on_anew_between_two_poses_begin_the_poses_again(browser, services, north, said, monkeypatch):
    """As a player does who has lost the thread: what was held before belongs to sensors that may sit otherwise now."""
    browser.put_on_stand_ins()
    rig, _ = RIGS[id(services)][north]
    follow, lost = rig._follow, []

    def loses_the_thread(state):
        if state.get("pose") == "raised" and not lost:
            lost.append(rig.boot)
            rig._cues.put_nowait({"anew": True})
        else:
            follow(state)

    monkeypatch.setattr(rig, "_follow", loses_the_thread)
    lesson_id = fitted(browser, "Anew")
    take = services.devices._takes[UUID(lesson_id)]
    until(lambda: take.phase == "armed")
    assert lost
    assert all(boot > lost[0] for boot in take._boots.values())
    assert {k: len(w) for k, w in take._windows.items()} == {"flat": 1, "raised": 1}
    assert browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1}).status_code == 200
    until(lambda: swings(browser, lesson_id) == [1])
    assert browser.lesson(lesson_id)["recordings"][0]["calibration"]["refused"] is None
