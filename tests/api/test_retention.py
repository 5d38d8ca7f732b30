"""A lesson after a lesson: is the change real, and what is left of it next time."""

from __future__ import annotations

import pytest

from tests.api.conftest import bundle, drop, new_lesson

BAND = {"metric": "lead_wrist_extension", "low": None, "high": 20.0, "phase": "at_top", "told_from": "by hand"}
CUPPED, HELD = ("over-extended", 11), ("hold-then-flex", 5)


def captured(browser, lesson_id, of):
    assert drop(browser, lesson_id, bundle(*of, sources=("wrist", "club"))).status_code == 201


def next_lesson(browser, lesson_id, hour):
    """A later lesson of the same player."""
    player, me = browser.lesson(lesson_id)["player"]["id"], browser.get("/me").json()
    made = {"player_id": player, "instructor_id": me["instructor_id"], "bay": "Bay 1", "minutes": 45}
    answer = browser.post("/lessons", {**made, "starts_at": f"2031-03-{hour:02d}T10:00:00Z"})
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def training(browser, lesson_id):
    return browser.get(f"/lessons/{lesson_id}/training").json()


@pytest.fixture
def trained(browser):
    """A lesson in which a cupped wrist was trained and tested, closed."""
    lesson_id = new_lesson(browser, "Comes Again")
    captured(browser, lesson_id, CUPPED)
    assert browser.post(f"/lessons/{lesson_id}/training", BAND).status_code == 201
    assert browser.patch(f"/lessons/{lesson_id}/training", {"test": True}).status_code == 200
    assert training(browser, lesson_id)["running"]["real"] == ""
    captured(browser, lesson_id, HELD)
    return lesson_id


def closed(browser, lesson_id):
    browser.send("DELETE", f"/lessons/{lesson_id}/training")
    assert browser.post(f"/lessons/{lesson_id}/close", {"priorities": []}).status_code == 200


def test_the_trainer_says_whether_the_change_is_real(browser, trained):
    browser.send("DELETE", f"/lessons/{trained}/training")
    test = training(browser, trained)["done"][-1]
    assert test["kind"] == "test"
    assert test["real"].startswith("Changed")
    assert training(browser, trained)["retention"] is None


@pytest.mark.parametrize(("of", "left", "what"), [(HELD, "kept", "Kept."), (CUPPED, "lost", "Lost again.")])
def test_the_next_lesson_says_what_is_left(browser, trained, of, left, what):
    closed(browser, trained)
    lesson_id = next_lesson(browser, trained, 4 if left == "kept" else 5)
    told = training(browser, lesson_id)["retention"]
    assert told["left"] == "early"
    assert "Too early to tell; 5 more swings." in told["line"]
    captured(browser, lesson_id, of)
    told = training(browser, lesson_id)["retention"]
    assert (told["left"], told["line"].endswith(what)) == (left, True), told
    assert told["plain_line"].startswith(
        "Last time wrist cup at the top went from 39° cupped to 21° cupped; the first 5"
    )


def test_what_did_not_change_is_not_asked_for_again(browser):
    lesson_id = new_lesson(browser, "Same As Ever")
    captured(browser, lesson_id, CUPPED)
    browser.post(f"/lessons/{lesson_id}/training", BAND)
    browser.patch(f"/lessons/{lesson_id}/training", {"test": True})
    captured(browser, lesson_id, CUPPED)
    closed(browser, lesson_id)
    again = next_lesson(browser, lesson_id, 6)
    captured(browser, again, CUPPED)
    assert training(browser, again)["retention"] is None
