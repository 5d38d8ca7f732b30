"""A lesson's practice plan over HTTP."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import date, timedelta
from uuid import UUID

import pytest

from finearc.core.training.success import Fading, Width
from finearc.core.training.trainer import Repetition
from finearc.services.lesson.training import keep_repetition
from tests.api.conftest import bundle, drop, new_lesson
from tests.api.test_bringing import brought, crafted

WEEK = {str(k): 20 for k in range(0, 7, 2)}


@pytest.fixture(scope="module")
def lesson_id(browser):
    """A lesson with a priority that was kept."""
    made = new_lesson(browser, "Prax Ticer")
    assert drop(browser, made, bundle("over-extended", 5, sources=("wrist", "club"))).status_code == 201
    keep_first(browser, made)
    return made


def keep_first(browser, lesson_id):
    """The first proposal becomes the lesson's priority."""
    lesson = browser.lesson(lesson_id)
    first = lesson["summaries"][0]["proposals"][0]
    body = {"priorities": [{"finding": first["finding"], "label": first["label"], "drill": first["drills"][0]}]}
    kept = browser.send("PUT", f"/lessons/{lesson_id}/plan", json=body, headers={"If-Match": lesson["revision"]})
    assert kept.status_code == 200, kept.text


def planned(browser, lesson_id, **more):
    return browser.send(
        "PUT", f"/lessons/{lesson_id}/practice", json={"minutes": WEEK, **more}, headers={"If-Match": "*"}
    )


def test_a_plan_is_made_and_found_again(browser, lesson_id):
    made = planned(browser, lesson_id, place="garage")
    assert made.status_code == 200, made.text
    plan = made.json()
    assert plan["room"] == "slow and half swings"
    assert plan["broken"] == []
    first = date.fromisoformat(plan["first"])
    assert first == date.fromisoformat(plan["today"]) + timedelta(days=1)
    days = [date.fromisoformat(b["day"]) for b in plan["blocks"]]
    assert all(d.weekday() in (0, 2, 4, 6) for d in days)
    assert all(b["drills"][0]["how"] and b["why"] for b in plan["blocks"])
    assert any("Without any feedback" in b["why"][-1] for b in plan["blocks"])
    assert browser.get(f"/lessons/{lesson_id}/practice").json()["plan"] == plan


def test_without_a_plan_there_is_none(browser):
    other = new_lesson(browser, "Noa Noplan")
    assert browser.get(f"/lessons/{other}/practice").json()["plan"] is None
    refused = planned(browser, other)
    assert refused.status_code == 422
    assert "no priority has a drill" in refused.json()["message"]
    assert browser.send("POST", f"/lessons/{other}/practice/missed", json={"day": "2031-01-01"}).status_code == 404


def test_a_block_is_moved_and_what_it_breaks_is_said(browser, lesson_id):
    plan = planned(browser, lesson_id).json()
    first, second = plan["blocks"][:2]
    moved = browser.send(
        "POST", f"/lessons/{lesson_id}/practice/moved", json={"number": first["number"], "to": second["day"]}
    )
    assert moved.status_code == 200, moved.text
    assert "40 minutes" in " ".join(b["words"] for b in moved.json()["broken"])
    far = browser.send("POST", f"/lessons/{lesson_id}/practice/moved", json={"number": 0, "to": "2099-01-01"})
    assert far.status_code == 409
    assert "lies outside the plan" in far.json()["message"]


def test_a_missed_day_moves_on(browser, lesson_id):
    plan = planned(browser, lesson_id).json()
    day = plan["blocks"][0]["day"]
    after = browser.send("POST", f"/lessons/{lesson_id}/practice/missed", json={"day": day}).json()
    assert all(b["day"] != day for b in after["blocks"])
    assert len(after["blocks"]) + after["dropped"] == len(plan["blocks"])
    assert "Moved here" in " ".join(after["blocks"][0]["why"])


def test_pain_stops_it_and_nothing_goes_on_after(browser, lesson_id):
    planned(browser, lesson_id)
    stopped = browser.send("POST", f"/lessons/{lesson_id}/practice/pain", json={"where": "wrist"}).json()
    assert stopped["blocks"] == []
    assert "licensed health professional" in stopped["stopped"]
    again = browser.send("POST", f"/lessons/{lesson_id}/practice/missed", json={"day": "2031-01-01"})
    assert again.status_code == 409
    assert browser.send("DELETE", f"/lessons/{lesson_id}/practice").status_code == 200
    assert browser.get(f"/lessons/{lesson_id}/practice").json()["plan"] is None


@pytest.mark.parametrize(
    ("body", "status", "words"),
    [
        ({"minutes": {}}, 422, "No day until the next lesson has 10 minutes"),
        ({"minutes": {"9": 20}}, 422, ""),
        ({"minutes": {"0": 999}}, 422, ""),
        ({"minutes": WEEK, "last": "1999-01-01"}, 422, "No day until"),
        ({"minutes": WEEK, "place": "moon"}, 422, ""),
    ],
)
def test_what_cannot_be_planned_says_why(browser, lesson_id, body, status, words):
    answer = browser.send("PUT", f"/lessons/{lesson_id}/practice", json=body)
    assert answer.status_code == status
    assert words in answer.json()["message"]


def test_another_academy_sees_nothing_of_it(stranger, lesson_id):
    assert stranger.get(f"/lessons/{lesson_id}/practice").status_code == 404
    assert planned(stranger, lesson_id).status_code == 404


def record_of(exported):
    """A lesson's record in its export."""
    with zipfile.ZipFile(io.BytesIO(exported)) as archive:
        return json.loads(archive.read("lesson.json"))


def test_it_travels_with_its_lesson_and_goes_with_it(browser, stranger, lesson_id):
    plan = planned(browser, lesson_id).json()
    exported = browser.get(f"/lessons/{lesson_id}/export").content
    there = brought(stranger, exported)
    assert there["state"] == "done", there["message"]
    lesson = stranger.get(f"/players/{there['player_id']}").json()["lessons"][0]["id"]
    assert stranger.get(f"/lessons/{lesson}/practice").json()["plan"]["blocks"] == plan["blocks"]

    kept = json.loads(record_of(exported)["practice"][0]["document"])
    endless = {**kept, "wishes": {**kept["wishes"], "minutes": {"0": 10**9}}}
    for document in ("{}", json.dumps(endless)):

        def spoil(record, document=document):
            record["practice"][0]["document"] = document

        refused = brought(stranger, crafted(exported, spoil))
        assert "the document of a practiceplan" in refused["message"]
    assert stranger.send("DELETE", f"/players/{there['player_id']}").status_code == 200


def test_what_is_proposed_counts_where_nothing_was_kept(browser):
    proposed = new_lesson(browser, "Pro Posed")
    assert drop(browser, proposed, bundle("over-extended", 5, sources=("wrist", "club"))).status_code == 201
    plan = planned(browser, proposed)
    assert plan.status_code == 200, plan.text
    first = browser.lesson(proposed)["summaries"][0]["proposals"][0]
    assert plan.json()["blocks"][0]["drills"][0]["id"] == first["drills"][0]


def trained(browser, services, north, lesson_id, offer, times):
    """The offer trained so many times in the bay, then ended."""
    keep = ("metric", "low", "high", "phase", "relative", "above_address", "finding", "drill")
    body = {k: offer[k] for k in keep} | {"practice": True}
    running = browser.post(f"/lessons/{lesson_id}/training", body)
    assert running.status_code == 201, running.text
    block_id = UUID(running.json()["running"]["block_id"])
    made = [Repetition(k, True, 1.0, 0.1, 0.0, 1.0, 1.2, None, True) for k in range(1, times + 1)]
    with services.store.unit_of_work(north) as uow:
        for repetition in made:
            keep_repetition(uow, block_id, repetition, (Width(), Fading()))
    assert browser.send("DELETE", f"/lessons/{lesson_id}/training").status_code == 200
    return running.json()["running"]


def test_the_bay_trains_the_plans_next_block_and_ticks_it(browser, services, north):
    lesson_id = new_lesson(browser, "Bay Trainer")
    assert drop(browser, lesson_id, bundle("over-extended", 5, sources=("wrist", "club"))).status_code == 201
    keep_first(browser, lesson_id)
    plan = planned(browser, lesson_id).json()
    offers = browser.get(f"/lessons/{lesson_id}/training").json()["offers"]
    first = offers[0]
    assert first["practice"] == f"Next in the practice plan (1 of {len(plan['blocks'])}), feedback each time"
    assert first["drill"] == plan["blocks"][0]["drills"][0]["id"]
    assert [o["practice"] for o in offers[1:]] == [""] * (len(offers) - 1)
    assert len([o for o in offers if o["drill"] == first["drill"] and o["source"] == "drill"]) == 1
    trained(browser, services, north, lesson_id, first, times=2)  # too few to count
    assert not any(b["done"] for b in browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["blocks"])
    assert trained(browser, services, north, lesson_id, first, times=5)["every"] == 1
    blocks = browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["blocks"]
    assert [b["done"] for b in blocks] == [True] + [False] * (len(blocks) - 1)
    for block in blocks[1:]:
        offer = browser.get(f"/lessons/{lesson_id}/training").json()["offers"][0]
        running = trained(browser, services, north, lesson_id, offer, times=5)
        assert (running["kind"] == "test") == (block["feedback"] == 0)
    assert browser.get(f"/lessons/{lesson_id}/training").json()["offers"][0]["practice"] == ""
