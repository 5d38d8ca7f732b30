"""Two sides of the record compared: swings, lessons, blocks, references."""

from __future__ import annotations

from itertools import pairwise

import pytest

from finearc.core.frames.handedness import Hand
from tests.api.conftest import bundle, drop, new_lesson
from tests.api.test_retention import BAND, CUPPED, HELD, captured, next_lesson

CUP = {"metric": "lead_wrist_extension", "moment": "top"}


@pytest.fixture(scope="module")
def two(browser):
    """A lesson with a cupped wrist, a drill with a test, and a later lesson of the same player; ids."""
    first = new_lesson(browser, "Two Lessons")
    captured(browser, first, CUPPED)
    assert browser.post(f"/lessons/{first}/training", BAND).status_code == 201
    assert browser.patch(f"/lessons/{first}/training", {"test": True}).status_code == 200
    captured(browser, first, HELD)
    browser.send("DELETE", f"/lessons/{first}/training")
    assert browser.post(f"/lessons/{first}/close", {"priorities": []}).status_code == 200
    second = next_lesson(browser, first, 6)
    captured(browser, second, ("hold-then-flex", 8))
    return first, second


def swings(browser, lesson_id):
    return browser.lesson(lesson_id)["swings"]


def compare(browser, a, b, **more):
    asked = "&".join(f"{k}={v}" for k, v in {"a": a, "b": b, **more}.items())
    answer = browser.get(f"/compare?{asked}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def value(told, metric="lead_wrist_extension", moment="top"):
    of = next(m for m in told["metrics"] if m["metric"] == metric)
    return next(v for v in of["values"] if v["moment"] == moment)


def test_a_group_by_tag_is_offered_and_compared(browser, two):
    first, second = two
    for lesson in (first, second):
        for swing in swings(browser, lesson)[:2]:
            assert browser.patch(f"/swings/{swing['id']}", {"tags": ["skilled"]}).status_code == 200
    here = swings(browser, second)[3]["id"]
    (tag,) = [c for c in browser.get(f"/lessons/{second}/comparable?swing={here}").json() if c["kind"] == "tag"]
    assert (tag["name"], tag["swings"]) == ("skilled", 4)
    told = compare(browser, f"swing:{here}", tag["key"], **CUP)
    assert told["b"]["swings"] == 4
    assert told["b"]["name"] == "skilled"
    assert browser.get(f"/compare?a=swing:{here}&b=tag:{here}:nothing").status_code == 409


def test_what_can_be_compared_is_offered_the_likeliest_first(browser, two):
    first, second = two
    third = swings(browser, second)[2]
    offered = browser.get(f"/lessons/{second}/comparable?swing={third['id']}").json()
    assert [c["kind"] for c in offered[:2]] == ["previous", "last_lesson"]
    assert offered[0]["number"] == 2
    assert offered[1]["key"] == f"lesson:{first}"
    assert {"swing", "lesson", "reference"} <= {c["kind"] for c in offered}
    assert third["id"] not in {c["key"].partition(":")[2] for c in offered}
    kinds = [c["kind"] for c in browser.get(f"/lessons/{first}/comparable").json()]
    assert "previous" not in kinds
    assert {"block", "before"} <= set(kinds)


def test_each_offer_can_be_compared(browser, two):
    _, second = two
    here = swings(browser, second)[2]["id"]
    for choice in browser.get(f"/lessons/{second}/comparable?swing={here}").json():
        told = compare(browser, f"swing:{here}", choice["key"], **CUP)
        assert told["metric"] == "lead_wrist_extension"
        assert told["laid"] is not None


def test_a_swing_against_the_last_lesson_says_what_differs_and_that_it_was_calibrated_again(browser, two):
    first, second = two
    here = swings(browser, second)[0]
    told = compare(browser, f"swing:{here['id']}", f"lesson:{first}", **CUP)
    assert told["a"]["number"] == 1
    assert told["b"]["swings"] == len([s for s in swings(browser, first) if s["kind"] in ("normal", "test")])
    assert any("calibrations: what each leaves open" in n for n in told["notes"])
    assert told["question"] == ""  # one swing is no group
    top = value(told)
    assert top["difference"] == pytest.approx(top["a"] - top["b"], abs=1e-3)
    assert top["change"] is None


def test_before_against_a_test_is_real_and_the_rest_is_only_also_looked_at(browser, two):
    first, _ = two
    (block,) = [b for b in browser.lesson(first)["blocks"] if b["kind"] == "test"]
    told = compare(browser, f"block:{block['id']}", f"before:{block['id']}")
    assert (told["metric"], told["moment"]) == (block["metric"], block["moment"])  # what was trained comes first
    assert told["question"] == "A real difference."
    asked = value(told, block["metric"], block["moment"])["change"]
    assert asked["verdict"] == block["change"]["verdict"] == "changed"
    assert asked["difference"] == pytest.approx(block["change"]["difference"], abs=1e-3)
    assert asked["ci95"] == pytest.approx(block["change"]["ci95"], abs=1e-3)
    others = [v["change"] for m in told["metrics"] for v in m["values"] if v["change"] and v["change"] is not asked]
    changed = [c for c in others if c["verdict"] == "changed"]
    assert sum(c["real"] for c in changed) < len(changed)  # some of many looks are chance, or may be


def test_courses_are_drawn_over_each_other_with_what_lies_between_them(browser, two):
    first, second = two
    laid = compare(browser, f"lesson:{second}", f"lesson:{first}", **CUP)["laid"]
    n = len(laid["node"])
    at = laid["node"].index(laid["top"])
    assert {len(laid[k]) for k in ("difference", "uncertainty")} == {n}
    for side in ("a", "b"):
        assert len(laid[side]["mean"]) == len(laid[side]["sd"]) == n
        order = [laid[side]["nodes"][k] for k in ("takeaway", "arm_level_back", "top", "arm_level_down", "impact")]
        assert all(a < b for a, b in pairwise(order))
    between = laid["a"]["mean"][at] - laid["b"]["mean"][at]
    assert laid["difference"][at] == pytest.approx(between, abs=1e-3)


def test_where_the_curves_differ_is_told_of_groups_alone(browser, two):
    first, second = two
    (block,) = [b for b in browser.lesson(first)["blocks"] if b["kind"] == "test"]
    pair = f"a=block:{block['id']}&b=before:{block['id']}"
    told = browser.get(f"/compare/curves?{pair}&metric=lead_wrist_extension").json()
    most = max(told["stretches"], key=lambda s: s["last"] - s["first"])
    assert most["last"] > 60  # about the top
    assert most["words"].startswith(("from ", "about "))
    one = swings(browser, second)[0]["id"]
    alone = browser.get(f"/compare/curves?a=swing:{one}&b=lesson:{first}&metric=lead_wrist_extension").json()
    assert alone["stretches"] is None


def test_a_synthetic_reference_is_called_so_and_says_nothing_of_time(browser, two):
    _, second = two
    told = compare(browser, f"lesson:{second}", "reference:synthetic", **CUP)
    assert any("Synthetic" in n for n in told["notes"])
    assert told["shifts"] == told["intensity"] == []
    assert told["b"]["swing_ids"] == []
    assert value(told)["b"] != 0.0


def test_what_is_clear_against_a_reference_is_said_though_it_lacks_checkpoints(browser, two):
    first, _ = two
    (block,) = [b for b in browser.lesson(first)["blocks"] if b["kind"] == "test"]
    told = compare(browser, f"before:{block['id']}", "reference:synthetic", **CUP)
    assert "arm_level_back" not in told["laid"]["b"]["nodes"]
    assert any("more cupped" in s for s in told["plain_sentences"]), told["plain_sentences"]


def test_a_left_hander_is_mirrored_and_that_is_said(browser, two):
    _, second = two
    left = new_lesson(browser, "Left Hander", handedness="left")
    assert (
        drop(browser, left, bundle("hold-then-flex", 8, sources=("wrist", "club"), hand=Hand.LEFT)).status_code == 201
    )
    told = compare(browser, f"lesson:{left}", f"lesson:{second}", **CUP)
    assert any("mirrored" in n for n in told["notes"])
    assert abs(value(told)["difference"]) < 3.0  # twins


@pytest.mark.parametrize(
    ("a", "b", "status"),
    [
        ("swing:nonsense", "reference:synthetic", 409),
        ("everything:1", "reference:synthetic", 409),
        ("reference:synthetic", "reference:synthetic", 409),
        ("swing:6b1f6f0e-3c51-4a39-9d1c-0d6a0c1f5b11", "reference:synthetic", 404),
    ],
)
def test_what_is_not_there_is_refused_in_words(browser, a, b, status):
    answer = browser.get(f"/compare?a={a}&b={b}")
    assert answer.status_code == status, answer.text
    assert answer.json()["message"]


def test_a_lesson_without_swings_is_refused(browser, two):
    empty = new_lesson(browser, "Nothing Yet")
    answer = browser.get(f"/compare?a=lesson:{empty}&b=lesson:{two[1]}")
    assert answer.status_code == 409
    assert "no swing that counts" in answer.json()["message"]


def test_an_unknown_measure_has_no_curves(browser, two):
    answer = browser.get(f"/compare/curves?a=lesson:{two[0]}&b=lesson:{two[1]}&metric=nonsense")
    assert answer.status_code == 409


def test_another_academys_swings_lessons_and_blocks_are_not_there(browser, stranger, two):
    """They are named in the question, not in the address, where the door looks."""
    first, second = two
    block = browser.lesson(first)["blocks"][0]["id"]
    swing = swings(browser, second)[0]["id"]
    for a in (f"swing:{swing}", f"lesson:{second}", f"block:{block}", f"before:{block}", f"tag:{swing}:skilled"):
        for path in (f"/compare?a={a}&b=reference:synthetic", f"/compare/curves?a={a}&b={a}&metric=tempo"):
            assert stranger.get(path).status_code == 404, path


@pytest.mark.parametrize(
    ("kind", "ways", "shot"),
    [
        ("mid-iron", "hold.free.front_foot", "full"),
        ("driver", "flat.restrained.reverse", "full"),
        ("chip", "early_flex.free.front_foot", "chip"),
    ],
)
def test_a_synthetic_skilled_swing_says_that_it_is_one_and_what_it_was_made_from(browser, two, kind, ways, shot):
    _, second = two
    told = compare(browser, f"lesson:{second}", f"model:{kind}.{ways}", **CUP)
    assert told["b"]["kind"] == "model"
    assert told["b"]["name"].endswith("(synthetic)")
    assert told["b"]["swing_ids"] == []
    (made,) = [n for n in told["notes"] if n.startswith("Synthetic")]
    assert "no player's" in made
    assert ("made from a mid-iron" in made) == (kind != "mid-iron")
    assert ("There are no ranges for it" in made) == (shot != "full")
    assert any(n.startswith("Different shots") for n in told["notes"]) == (shot != "full")
    assert any(n.startswith("Different clubs") for n in told["notes"]) == (kind != "mid-iron")


def test_a_model_swing_has_times_of_its_own_and_the_wrist_of_its_school(browser, two):
    _, second = two
    held, flat = (
        compare(browser, f"lesson:{second}", f"model:mid-iron.{w}.free.front_foot", **CUP) for w in ("hold", "flat")
    )
    assert value(held)["b"] == pytest.approx(21.3, abs=1.5)  # the style's own: 21 at the top
    assert value(flat)["b"] == pytest.approx(0.3, abs=1.5)
    assert held["shifts"]
    assert held["intensity"]
    assert any("lead wrist at the top" in n.lower() for n in flat["notes"])  # another school than the player's


def test_what_is_read_of_the_club_alone_is_left_out_where_the_model_has_another_club(browser):
    lesson = new_lesson(browser, "With A Club")
    assert drop(browser, lesson, bundle("free-pelvis", 8, sources=("wrist", "club", "markers"))).status_code == 201
    ids = {
        kind: {
            m["metric"] for m in compare(browser, f"lesson:{lesson}", f"model:{kind}.hold.free.front_foot")["metrics"]
        }
        for kind in ("mid-iron", "driver")
    }
    assert {"club_path", "attack_angle"} <= ids["mid-iron"] - ids["driver"]
    assert "pelvis_turn" in ids["driver"]


@pytest.mark.parametrize(
    "key",
    [
        "model:mashie.hold.free.front_foot",
        "model:chip.hold.free",
        "model:chip.hold.free.sideways",
        "band:",
        "band:there",
    ],
)
def test_a_model_or_band_that_is_none_is_refused(browser, two, key):
    assert browser.get(f"/compare?a=lesson:{two[1]}&b={key}").status_code == 409


def test_the_band_in_force_says_how_far_outside_it_a_swing_is_and_where(browser, two):
    first, _ = two
    cupped = next(s["id"] for s in swings(browser, first))
    told = compare(browser, f"swing:{cupped}", "band:here", **CUP)
    judged = next(
        j
        for j in browser.get(f"/swings/{cupped}").json()["judged"]
        if j["metric"] == "lead_wrist_extension" and j["moment"] == "top"
    )
    at_top = value(told)
    assert at_top["a"] - judged["band"]["high"] == pytest.approx(at_top["difference"], abs=0.06)
    assert at_top["difference"] > 5.0
    assert value(told, moment="address")["difference"] == 0.0  # inside
    band = told["laid"]["band"]
    k = told["laid"]["node"].index(told["laid"]["top"])
    assert band["high"][k] == pytest.approx(judged["band"]["high"], abs=0.3)
    assert band["low"][k] < band["high"][k]
    assert told["shifts"] == told["intensity"] == []
    assert told["question"] == ""
    assert any("how far outside" in n for n in told["notes"])
    group = compare(browser, f"lesson:{first}", "band:here", **CUP)
    assert group["question"] == ""
    assert (
        browser.get(f"/compare/curves?a=lesson:{first}&b=band:here&metric=lead_wrist_extension").json()["stretches"]
        is None
    )
