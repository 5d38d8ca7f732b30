"""Putts that devices send: found by themselves, told apart, with the distance that is owed."""

from __future__ import annotations

import pytest

from tests.api.conftest import new_lesson
from tests.api.test_capture_goes_on import ready, said, until

__all__ = ["said"]
pytestmark = pytest.mark.live


@pytest.fixture(scope="module")
def pace() -> float:
    """Putts are long in coming: between them a player comes back to the ball."""
    return 6.0


@pytest.mark.parametrize(("name", "asked"), [("putt-transition", {}), ("putt-practice", {"putter_markers": True})])
def test_putts_come_live_from_where_they_are_owed(browser, said, name, asked):
    """The putter in hand: the same devices, putts in place of swings, each with the distance that is owed first;
    practice strokes are told apart."""
    lesson_id = new_lesson(browser, "Putting live")
    browser.patch(f"/lessons/{lesson_id}", {"club": "putter"})
    browser.patch(f"/lessons/{lesson_id}/putting", {"distances_m": [3.0, 6.0], "each": 2})
    answer = browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": name, "seed": 5, **asked})
    assert answer.status_code == 201, answer.text
    until(lambda: ready(said))
    browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 3})
    until(lambda: len(browser.lesson(lesson_id)["swings"]) == 3)
    read = browser.get(f"/lessons/{lesson_id}/putting").json()
    struck = [p for p in read["putts"] if p["what"] == "putt"]
    practised = name == "putt-practice"
    assert [p["what"] for p in read["putts"]] == (["practice", "putt", "practice"] if practised else ["putt"] * 3)
    assert [p["putt"]["distance_m"] for p in struck] == ([3.0] if practised else [3.0, 3.0, 6.0])
    assert read["next_m"] == (3.0 if practised else 6.0)
    assert all("putt_extension_range" in p["values"] for p in struck)
    assert {s["club"] for s in browser.lesson(lesson_id)["swings"]} == {"putter"}
    seen = {v["metric"] for v in browser.get(f"/swings/{struck[0]['id']}/numbers").json()}
    assert ("sweet_spot_deviation" in seen) is practised  # the markers


def test_putts_are_repetitions_of_a_training(browser, said):
    """The band of the coin drill: a quiet wrist stands at the ball as it stood at address, putt after putt."""
    lesson_id = new_lesson(browser, "Training putts")
    browser.patch(f"/lessons/{lesson_id}", {"club": "putter"})
    browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": "putt-quiet", "seed": 5, "club_clip": False})
    until(lambda: ready(said))
    band = {"metric": "lead_wrist_extension", "low": -2.0, "high": 2.0, "phase": "impact", "relative": True}
    answer = browser.post(f"/lessons/{lesson_id}/training", {**band, "drill": "putt_coin"})
    assert answer.status_code == 201, answer.text
    browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 3})
    running = lambda: browser.get(f"/lessons/{lesson_id}/training").json()["running"]  # noqa: E731
    until(lambda: len(running()["repetitions"]) == 3)
    until(lambda: len(browser.lesson(lesson_id)["swings"]) == 3)
    assert [r["good"] for r in running()["repetitions"]] == [True, True, True]
    assert "at impact, relative to address" in running()["words"]
