"""The stand-ins: what they play lies on disk and is sent as it was worked out; there are never too many of them."""

from __future__ import annotations

import json
from uuid import UUID, uuid4

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.devices import live, plays
from finearc.devices.simulated.plays import INDEX, Plays, Score
from finearc.formats.simulated import streams_of
from finearc.services.capture.raw import ADDRESS, POSES, key_of_swing
from finearc.services.records import Recording
from finearc.store.columns import ParquetColumns
from tests.api.conftest import new_lesson
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
    whole = streams_of(plays.simulate(SCORE.name, SCORE.seed, SCORE.hand, SCORE.sources))
    keys = [key for key, _ in kept.get(SCORE).batches()]
    assert keys == [POSES, ADDRESS, *(key_of_swing(k) for k in range(plays.MOST_SWINGS))]
    parts = [kept.batch(SCORE, key) for key in keys]
    assert all(set(p) == {INERTIAL, MAT} for p in parts)
    for kind, joined in ((INERTIAL, lambda s: s[0].gyr_rad_s), (MAT, lambda s: s.pressure_kpa)):
        sent = np.concatenate([joined(p[kind]) for p in parts])
        # the last moments, after the last swing, are never sent; a mat's cells are kept as single-precision numbers
        np.testing.assert_allclose(sent, joined(whole[kind])[: len(sent)], rtol=1e-6)
        assert len(sent) > 0.95 * len(joined(whole[kind]))


def test_a_play_is_read_not_worked_out_again(laid_down, monkeypatch):
    kept = Plays(laid_down, ParquetColumns())
    monkeypatch.setattr(plays, "simulate", lambda *_: pytest.fail("worked out again"))
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


@pytest.fixture
def alone(services):
    """No stand-in plays yet."""
    for running in list(services.devices._running):
        services.devices.end(running)


@pytest.mark.usefixtures("alone")
def test_of_too_many_the_one_that_waited_longest_makes_room(browser, services, north, said, monkeypatch):
    monkeypatch.setattr(live, "MOST_OF_ONE", 2)
    first = fitted(browser, "First")
    until(lambda: ready(said))
    until(lambda: services.devices._running[UUID(first)].waiting_since)
    second = fitted(browser, "Second")
    until(lambda: services.devices._running[UUID(second)].waiting_since)
    third = fitted(browser, "Third")
    assert {str(k) for k in services.devices._running} == {second, third}
    assert live.MADE_ROOM in [m.get("reason") for m in said]
    recording = browser.lesson(first)["recordings"][0]["id"]
    with services.store.unit_of_work(north) as uow:
        assert uow.get(Recording, UUID(recording)).live is None  # it is not taken up again after a crash either
    assert browser.post(f"/lessons/{first}/stand-in/swings", {"count": 1}).status_code == 409


@pytest.mark.usefixtures("alone")
def test_when_all_are_busy_one_more_is_refused_before_anything_is_kept(browser, monkeypatch):
    monkeypatch.setattr(live, "MOST_OF_ONE", 1)
    fitted(browser, "Busy")
    lesson_id = new_lesson(browser, "Refused")
    answer = browser.post(f"/lessons/{lesson_id}/recordings", {})
    assert answer.status_code == 409
    assert "as many stand-ins play as an academy may have (1). Close a lesson" in answer.json()["message"]
    assert browser.lesson(lesson_id)["recordings"] == []


@pytest.mark.usefixtures("alone")
def test_another_academy_s_stand_ins_count_for_themselves(services, browser, monkeypatch):
    monkeypatch.setattr(live, "MOST_OF_ONE", 1)
    fitted(browser, "Ours")
    services.devices.make_room(uuid4(), uuid4())
