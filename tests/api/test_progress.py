"""A player's progress over lessons: the sentence claims no more than the swings say."""

from __future__ import annotations

import pytest

from tests.api.conftest import new_lesson
from tests.api.test_retention import BAND, CUPPED, HELD, captured, next_lesson


def progress(browser, player_id, **asked):
    answer = browser.get(f"/players/{player_id}/progress?" + "&".join(f"{k}={v}" for k, v in asked.items()))
    assert answer.status_code == 200, answer.text
    return answer.json()


CUP = {"metric": "lead_wrist_extension", "moment": "top", "club": "7-iron"}


@pytest.fixture(scope="module")
def improver(browser):
    """Cupped, trained and tested in the first lesson; held from the second on."""
    first = new_lesson(browser, "Gets Better")
    captured(browser, first, CUPPED)
    assert browser.post(f"/lessons/{first}/training", BAND).status_code == 201
    assert browser.patch(f"/lessons/{first}/training", {"test": True}).status_code == 200
    captured(browser, first, HELD)
    browser.send("DELETE", f"/lessons/{first}/training")
    kept = [{"finding": "over_extended_top", "label": "Over-extended", "drill": "peg_pointer"}]
    answer = browser.post(f"/lessons/{first}/close", {"priorities": kept})
    assert answer.status_code == 200, answer.text
    second = next_lesson(browser, first, 9)
    captured(browser, second, ("hold-then-flex", 8))
    return browser.lesson(first)["player"]["id"], first, second


def test_who_gets_better_is_told_so_with_the_two_values(browser, improver):
    player, first, second = improver
    told = progress(browser, player, **CUP)
    assert told["verdict"] == "changed"
    assert told["plain_sentence"].startswith("A real change")
    assert "cupped" in told["plain_sentence"]
    assert "extended" in told["sentence"]
    assert [p["lesson_id"] for p in told["points"]] == [first, second]
    before, after = told["points"]
    assert f"{before['median']:.0f}°" in told["plain_sentence"]
    assert f"{after['median']:.0f}°" in told["plain_sentence"]
    assert before["test"] is not None
    assert after["test"] is None
    assert after["kept"] == "kept"
    assert told["noise"] > 0
    assert told["per_week"] is None  # two lessons are no trend


def test_what_was_trained_stands_on_the_time_line(browser, improver):
    player, _, _ = improver
    events = progress(browser, player, **CUP)["events"]
    assert {"priority"} <= {e["kind"] for e in events}


def test_without_a_question_it_follows_the_newest_priority(browser, improver):
    player, _, _ = improver
    told = progress(browser, player)
    assert {k: told[k] for k in ("metric", "moment", "club")} == told["offered"][0]


def test_who_stays_is_not_told_of_a_change(browser):
    first = new_lesson(browser, "Stays There")
    captured(browser, first, ("hold-then-flex", 5))
    second = next_lesson(browser, first, 12)
    captured(browser, second, ("hold-then-flex", 8))
    told = progress(browser, browser.lesson(first)["player"]["id"], **CUP)
    assert told["verdict"] in ("unchanged", "not_distinguishable")
    assert told["sentence"].startswith(("No change that matters", "Not to be told from scatter"))


def test_one_lesson_and_none_say_so(browser):
    first = new_lesson(browser, "Only Once")
    player = browser.lesson(first)["player"]["id"]
    assert progress(browser, player) is None
    assert progress(browser, player, **CUP)["points"] == []
    captured(browser, first, HELD)
    told = progress(browser, player, **CUP)
    assert told["verdict"] == "one_lesson"
    assert told["sentence"].startswith("One lesson so far")


def test_an_unknown_measure_is_refused(browser, improver):
    answer = browser.get(f"/players/{improver[0]}/progress?metric=nonsense&moment=top")
    assert answer.status_code == 409


def test_since_the_last_lesson_is_told_by_itself(browser, improver):
    _, first, second = improver
    told = browser.get(f"/lessons/{second}/since").json()
    assert (told["a"], told["b"]) == (f"lesson:{second}", f"lesson:{first}")
    assert (told["metric"], told["moment"]) == ("lead_wrist_extension", "top")
    assert told["sentence"].startswith("Since ")
    assert "lead wrist extension at the top" in told["sentence"]
    compared = browser.get(
        f"/compare?a={told['a']}&b={told['b']}&metric={told['metric']}&moment={told['moment']}"
    ).json()
    row = next(
        v for m in compared["metrics"] if m["metric"] == told["metric"] for v in m["values"] if v["moment"] == "top"
    )
    assert row["change"]["verdict"] == told["verdict"]
    assert browser.get(f"/lessons/{first}/since").json() is None


def test_how_steady_a_player_is_lesson_by_lesson(browser, improver):
    player, first, second = improver
    asked = "&".join(f"{k}={v}" for k, v in CUP.items())
    told = browser.get(f"/players/{player}/consistency?{asked}").json()
    where = progress(browser, player, **CUP)
    assert [p["lesson_id"] for p in told["points"]] == [first, second]
    for steady, point in zip(told["points"], where["points"], strict=True):
        assert steady["sd"] == pytest.approx(point["sd"], abs=1e-3)
        assert steady["low"] < steady["sd"] < steady["high"]
        assert 0.9 < steady["likeness"] <= 1.0  # the same player's swings, scattered by a degree or two
    assert "±" in told["sentence"]
    nobody = browser.lesson(new_lesson(browser, "Nothing To Follow"))["player"]["id"]
    assert browser.get(f"/players/{nobody}/consistency").json() is None
