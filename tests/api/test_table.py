"""A lesson as a table, and several swings marked at once."""

from __future__ import annotations

import csv
import io
from uuid import uuid4

import pytest

from tests.api.conftest import bundle, drop, new_lesson

CUP, HINGE = "lead_wrist_extension@top", "lead_wrist_radial_deviation@top"


@pytest.fixture
def lesson(browser):
    lesson_id = new_lesson(browser, "=Tabitha Rowe")
    assert drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    return lesson_id


def table(browser, lesson_id, *columns):
    answer = browser.get(f"/lessons/{lesson_id}/table?" + "&".join(f"column={c}" for c in columns))
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_rows_are_the_swings_and_values_those_of_their_pages(browser, lesson):
    told = table(browser, lesson, CUP, HINGE)
    assert [c["key"] for c in told["columns"]] == [CUP, HINGE]
    swings = browser.lesson(lesson)["swings"]
    assert [r["number"] for r in told["rows"]] == [s["number"] for s in swings]
    page = browser.get(f"/swings/{swings[2]['id']}/numbers").json()
    for column, value, uncertainty in zip(
        (CUP, HINGE), told["rows"][2]["values"], told["rows"][2]["uncertainties"], strict=True
    ):
        there = next(v for v in page if f"{v['metric']}@{v['moment']}" == column)
        assert value == pytest.approx(there["value"], abs=0.01)
        assert uncertainty == pytest.approx(there["uncertainty"], abs=0.01)
    assert "high" in {r["verdicts"][0] for r in told["rows"]}


def test_it_opens_with_what_stands_out_and_offers_all_that_was_measured(browser, lesson):
    told = table(browser, lesson)
    keys = [c["key"] for c in told["columns"]]
    assert CUP in keys
    assert 1 <= len(keys) <= 6
    offered = [c["key"] for c in told["offered"]]
    assert set(keys) < set(offered)
    assert offered.index("lead_wrist_extension@address") < offered.index(CUP)


def test_what_a_swing_does_not_have_is_empty(browser, lesson):
    told = table(browser, lesson, "pelvis_sway@top")
    assert {tuple(r["values"]) for r in told["rows"]} == {(None,)}
    assert {tuple(r["verdicts"]) for r in told["rows"]} == {("",)}


def test_as_a_file_it_holds_the_same_and_no_formula(browser, lesson):
    swing = browser.lesson(lesson)["swings"][0]["id"]
    assert browser.patch(f"/swings/{swing}", {"tags": ["=sum(a1)"]}).status_code == 200
    answer = browser.get(f"/lessons/{lesson}/table.csv?column={CUP}")
    rows = list(csv.reader(io.StringIO(answer.text)))
    assert rows[0][-2:] == ["Lead wrist extension at top, deg", "standard uncertainty"]
    told = table(browser, lesson, CUP)["rows"]
    assert [float(r[-2]) for r in rows[1:]] == [r["values"][0] for r in told]
    assert rows[1][6] == "'=sum(a1)"


def mark(browser, lesson_id, ids, kind, **more):
    return browser.post(f"/lessons/{lesson_id}/swings/mark", {"swing_ids": ids, "kind": kind, **more})


def kinds(browser, lesson_id):
    return [s["kind"] for s in browser.lesson(lesson_id)["swings"]]


def test_several_are_marked_by_one_change_and_undone_as_one(browser, lesson):
    before = browser.lesson(lesson)
    ids = [s["id"] for s in before["swings"]]
    counting = before["summaries"][0]["counting"]
    assert mark(browser, lesson, ids[:3], "warm_up").status_code == 200
    assert kinds(browser, lesson) == ["warm_up"] * 3 + ["normal"] * (len(ids) - 3)
    now = browser.lesson(lesson)
    assert now["can_undo"] == "3 swings: warm-up"
    assert now["summaries"][0]["counting"] == counting - 3
    assert browser.post(f"/lessons/{lesson}/undo", {}).json()["label"] == "3 swings: warm-up"
    assert kinds(browser, lesson) == ["normal"] * len(ids)
    assert browser.lesson(lesson)["summaries"][0]["counting"] == counting
    browser.post(f"/lessons/{lesson}/redo", {})
    assert kinds(browser, lesson)[:3] == ["warm_up"] * 3


def test_what_is_so_already_is_no_change(browser, lesson):
    ids = [s["id"] for s in browser.lesson(lesson)["swings"]]
    undo = browser.lesson(lesson)["can_undo"]
    assert mark(browser, lesson, ids[:2], "normal").status_code == 200
    assert browser.lesson(lesson)["can_undo"] == undo
    assert mark(browser, lesson, ids[:1], "warm_up").status_code == 200
    assert browser.lesson(lesson)["can_undo"] == "swing 1: warm-up"


def test_what_cannot_be_is_refused_and_nothing_is_marked(browser, lesson):
    ids = [s["id"] for s in browser.lesson(lesson)["swings"]]
    other = new_lesson(browser, "Elsewhere")
    assert mark(browser, other, ids[:1], "warm_up").status_code == 409
    assert mark(browser, lesson, [*ids[:1], str(uuid4())], "warm_up").status_code == 409
    assert "needs a reason" in mark(browser, lesson, ids[:1], "discard").json()["message"]
    assert mark(browser, lesson, ids[:1], "discard", reason="topped").status_code == 200
    assert kinds(browser, lesson)[0] == "discard"
    assert browser.get(f"/lessons/{lesson}/table?column=nonsense").status_code == 409
    assert browser.get(f"/lessons/{lesson}/table?" + "&".join(f"column={CUP}" for _ in range(30))).status_code == 422
