"""The stand-ins: what they play lies on disk and is sent as it was worked out; one plays in each bay."""

from __future__ import annotations

import json
from uuid import UUID

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.sources.address_check import MOVED
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.devices import live
from finearc.devices.simulated import plays
from finearc.devices.simulated.plays import INDEX, Plays, Score
from finearc.devices.simulated.tape import Tape
from finearc.golfer.played import MOST_SWINGS, play_lesson
from finearc.services.capture.raw import ADDRESS, POSES, key_of_swing
from finearc.services.modelled import streams_of
from finearc.services.records import Recording
from finearc.store.columns import ParquetColumns
from tests.api.conftest import RIGS, new_lesson
from tests.api.test_capture_goes_on import fitted, ready, said, until

__all__ = ["said"]
SCORE = Score("hold-then-flex", 5, Hand.RIGHT, ("pressure",))


@pytest.fixture(scope="module")
def laid_down(tmp_path_factory):
    """A folder with one play."""
    folder = tmp_path_factory.mktemp("plays")
    Plays(folder, ParquetColumns()).get(SCORE)
    return folder


def test_the_batches_joined_are_the_recording(laid_down):
    """Not a sample is lost, doubled or changed between what the model played and what is sent."""
    kept = Plays(laid_down, ParquetColumns())
    whole = streams_of(play_lesson(SCORE.name, SCORE.seed, SCORE.hand, SCORE.sources))
    keys = [key for key, _ in kept.get(SCORE).batches()]
    assert keys == [POSES, ADDRESS, *(key_of_swing(k) for k in range(MOST_SWINGS))]
    parts = [kept.batch(SCORE, key) for key in keys]
    assert all(set(p) == {INERTIAL, MAT} for p in parts)
    for kind, joined in ((INERTIAL, lambda s: s[0].gyr_rad_s), (MAT, lambda s: s.pressure_kpa)):
        sent = np.concatenate([joined(p[kind]) for p in parts])
        # the last moments, after the last swing, are never sent; a mat's cells are kept as single-precision numbers
        np.testing.assert_allclose(sent, joined(whole[kind])[: len(sent)], rtol=1e-6)
        assert len(sent) > 0.95 * len(joined(whole[kind]))


def test_a_play_is_read_not_worked_out_again(laid_down, monkeypatch):
    kept = Plays(laid_down, ParquetColumns())
    monkeypatch.setattr(plays, "play_lesson", lambda *_: pytest.fail("worked out again"))
    assert kept.get(SCORE).swing_ends_s == sorted(kept.get(SCORE).swing_ends_s)


def test_an_index_of_another_version_is_made_anew(laid_down):
    kept = Plays(laid_down, ParquetColumns())
    index = laid_down / SCORE.file / INDEX
    before = index.read_text()
    index.write_text(json.dumps({"moved": 1}))
    assert kept.get(SCORE).described
    assert json.loads(index.read_text()) == json.loads(before)


def test_the_player_is_still_in_the_poses_and_moves_between(laid_down):
    play = Plays(laid_down, ParquetColumns()).get(SCORE)
    for step in play.steps:
        held = [play.is_still(t) for t in np.arange(step.start_s + 0.5, step.end_s, 0.1)]
        assert np.mean(held) > 0.8, step
    between = [play.is_still(0.5 * (a.end_s + b.start_s)) for a, b in zip(play.steps, play.steps[1:], strict=False)]
    assert not any(between)


def test_old_plays_and_half_made_ones_go(tmp_path, monkeypatch):
    monkeypatch.setattr(plays, "MOST_KEPT", 2)
    for name in ("a", "b", "c", ".half"):
        (tmp_path / name).mkdir()
    (tmp_path / "old.pickle").touch()
    Plays(tmp_path, ParquetColumns()).get(Score("hold-then-flex", 5, Hand.RIGHT))
    left = {p.name for p in tmp_path.iterdir()}
    assert len(left) == 2
    assert "hold-then-flex-5-right" in left
    assert ".half" not in left


def test_the_tape_stands_still_as_long_as_it_takes_and_goes_on(laid_down):
    """What is sent goes on evenly in time while the player waits, in what is repeated as in what follows."""
    tape = Tape(Plays(laid_down, ParquetColumns()), SCORE)
    sent = {name: [] for name in tape.strands}

    def lives(seconds):
        for _ in range(round(seconds / 0.02)):
            for name, time_s, _ in tape.advance(0.02):
                sent[name].append(time_s)

    lives(3.0)
    tape.hold_pose("flat")
    lives(6.0)
    assert tape.is_standing
    tape.hold_pose("raised")
    lives(8.0)
    tape.stand_at_address()
    lives(10.0)
    assert tape.is_standing
    assert tape.swing()
    lives(6.0)
    for name, parts in sent.items():
        step = np.diff(np.concatenate(parts))
        usual = 1.0 / tape.strands[name].declared.rate_hz
        assert step.min() > 0, name
        assert np.mean(step) == pytest.approx(usual, rel=0.005), name
        assert step.max() < 2.5 * usual, name
    assert tape.swings_left == MOST_SWINGS - 1


def test_a_bay_plays_for_the_lesson_that_was_fitted_last(browser, services, north, said):
    first = fitted(browser, "First")
    until(lambda: ready(said))
    second = fitted(browser, "Second")
    until(lambda: live.MADE_ROOM in [m.get("reason") for m in said])
    assert {str(k) for k in services.devices._takes} == {second}
    recording = UUID(browser.lesson(first)["recordings"][0]["id"])

    def ended():
        with services.store.unit_of_work(north) as uow:
            return uow.get(Recording, recording).live is None  # it is not taken up again after a crash either

    until(ended)
    assert browser.post(f"/lessons/{first}/stand-in/swings", {"count": 1}).status_code == 409


def test_where_nobody_sends_it_is_said(browser, services, north, said):
    """A bay without devices: what is missing and what to do."""
    lesson = browser.post("/lessons/start-now", {"bay": "Bay 2", "handedness": "right"}).json()
    browser.post(f"/lessons/{lesson['id']}/recordings", {})
    until(lambda: any("No devices send into Bay 2" in m.get("reason", "") for m in said))


def test_whatever_sends_into_the_bay_is_taken_without_a_story(browser, services, north, said):
    """The bay's own devices: what is worn decides which poses are asked for; nothing is told to be played."""
    lesson_id = new_lesson(browser, "Own")
    browser.put_on_stand_ins()
    bay = next(b for b in services.link._open.values() if b.name == "Bay 1")
    until(lambda: sum(d.outlet is not None and d.has_clock for d in bay.devices.values()) >= 2)
    stories = {d.hello.device.firmware for d in bay.devices.values() if d.outlet is not None}
    started = browser.post(f"/lessons/{lesson_id}/recordings", {"devices": True}).json()["recording_id"]
    until(lambda: any(m["type"] == "ready" and m["recording_id"] == started for m in said))
    (recording,) = browser.lesson(lesson_id)["recordings"]
    assert recording["source"] == "devices"
    assert recording["calibration"]["method"] == "two-pose"
    assert {d.hello.device.firmware for d in bay.devices.values() if d.outlet is not None} == stories
    assert "left" not in next(m for m in said if m["type"] == "ready" and m["recording_id"] == started)


def test_a_sensor_that_slips_between_two_swings_is_said_with_the_next(browser, services, said):
    """finearc devices --faults slip=40: the third swing is not judged, and its screen says why."""
    browser.put_on_stand_ins()
    rig, _ = next(iter(RIGS[id(services)].values()))
    services.link.call(lambda: setattr(rig, "faults", {"slip": 40.0}))
    try:
        lesson_id = fitted(browser, "Slipping")
        until(lambda: ready(said))
        browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 3})
        until(lambda: len(browser.lesson(lesson_id)["swings"]) == 3)
    finally:
        services.link.call(lambda: setattr(rig, "faults", {}))
    assert [s["sensor_moved"] for s in browser.lesson(lesson_id)["swings"]] == [False, False, True]
    assert [m["warning"] for m in said if "warning" in m] == [MOVED]


def test_a_swing_without_a_strike_does_not_count_until_somebody_says_it_was_a_hit(browser, said):
    lesson_id = new_lesson(browser, "Practising")
    browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": "no-ball", "seed": 5})
    until(lambda: ready(said))
    browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
    until(lambda: browser.lesson(lesson_id)["swings"])
    lesson = browser.lesson(lesson_id)
    assert [s["kind"] for s in lesson["swings"]] == ["no_ball"]
    assert [s["counting"] for s in lesson["summaries"]] == [0]
    browser.patch(f"/swings/{lesson['swings'][0]['id']}", {"kind": "normal"})
    assert [s["counting"] for s in browser.lesson(lesson_id)["summaries"]] == [1]
