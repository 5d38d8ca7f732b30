"""The player's private page: by a link, answers that count once, pain that stops the plan."""

from __future__ import annotations

import uuid
from datetime import UTC, date, datetime, timedelta

import icalendar
import pytest

from tests.api.conftest import bundle, drop, new_lesson
from tests.api.test_practice import keep_first, planned


@pytest.fixture
def lesson_id(browser):
    """A lesson with a plan and a player who agreed."""
    made = new_lesson(browser, f"Lin Kopener {uuid.uuid4().hex[:4]}")
    assert drop(browser, made, bundle("over-extended", 5, sources=("wrist", "club"))).status_code == 201
    keep_first(browser, made)
    assert planned(browser, made, place="garage").status_code == 200
    return made


@pytest.fixture
def link(browser, lesson_id):
    """What the link's address ends with."""
    made = browser.send("POST", f"/lessons/{lesson_id}/links", json={"days": 14, "purpose": "practice"})
    assert made.status_code == 201, made.text
    assert made.json()["path"].startswith("/p/")
    return made.json()["path"]


def page(browser, link):
    found = browser.client.get(f"/api{link}")
    assert found.status_code == 200, found.text
    return found.json()


def answer(plan, kind, block=None, **more):
    number = {} if block is None else {"block": block["number"], "day": block["day"], "minutes": block["minutes"]}
    return {
        "key": str(uuid.uuid4()),
        "kind": kind,
        "plan": plan["id"],
        "at": datetime.now(UTC).isoformat(),
        **number,
        **more,
    }


def say(browser, link, *answers):
    """Without a session and without its token: the link is all a player has."""
    return browser.client.post(f"/api{link}", json={"answers": list(answers)}, headers={"cookie": ""})


def test_the_page_names_the_player_by_the_first_name_and_shows_the_plan(browser, lesson_id, link):
    shown = page(browser, link)
    assert shown["player"] == "Lin"
    assert shown["plan"]["blocks"] == browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["blocks"]
    assert set(shown["days"]) == {str(b["number"]) for b in shown["plan"]["blocks"]}


def test_a_tick_that_comes_twice_counts_once_and_both_answers_come_back(browser, lesson_id, link):
    plan = page(browser, link)["plan"]
    block = plan["blocks"][0]
    done, felt = answer(plan, "done", block), answer(plan, "felt", block, feel=4)
    fine = answer(plan, "no_pain", block)
    for _ in range(2):
        said = say(browser, link, done, felt, done, fine)
        assert said.status_code == 200, said.text
        assert said.json()["not_done"] == []
    kept = browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["blocks"][0]
    assert (kept["done"], kept["feel"], kept["pain_free"]) == (True, 4, True)
    undone = say(browser, link, answer(plan, "undone", block)).json()
    assert undone["plan"]["blocks"][0]["done"] is False
    late = say(browser, link, done).json()  # what was sent long ago does not come back
    assert late["plan"]["blocks"][0]["done"] is False


def test_pain_stops_the_plan_and_says_whom_to_see(browser, lesson_id, link):
    plan = page(browser, link)["plan"]
    stopped = say(browser, link, answer(plan, "pain", plan["blocks"][0], where="lower back")).json()
    assert "lower back" in stopped["plan"]["stopped"]
    assert "health professional" in stopped["plan"]["stopped"]
    assert stopped["plan"]["blocks"] == []
    assert browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["stopped"] == stopped["plan"]["stopped"]


def test_pain_said_of_an_older_plan_stops_the_new_one_but_a_tick_does_not_count(browser, lesson_id, link):
    old = page(browser, link)["plan"]
    assert planned(browser, lesson_id, place="range").status_code == 200
    said = say(browser, link, answer(old, "done", old["blocks"][0])).json()
    assert "made anew" in said["not_done"][0]["why"]
    assert not any(b["done"] for b in said["plan"]["blocks"])
    assert say(browser, link, answer(old, "pain")).json()["plan"]["stopped"]


def test_a_block_moves_and_the_page_knew_what_that_breaks(browser, link):
    shown = page(browser, link)
    plan = shown["plan"]
    first, second = plan["blocks"][:2]
    told = {e["day"]: e["breaks"] for e in shown["days"][str(first["number"])]}
    assert first["day"] not in told
    moved = say(browser, link, answer(plan, "moved", first, to=second["day"])).json()
    assert told[second["day"]]
    assert set(told[second["day"]]) <= {b["words"] for b in moved["plan"]["broken"]}
    assert any("40 minutes" in words for words in told[second["day"]])
    outside = (date.fromisoformat(plan["last"]) + timedelta(days=3)).isoformat()
    refused = say(browser, link, answer(plan, "moved", second, to=outside)).json()
    assert "outside the plan" in refused["not_done"][0]["why"]


def test_a_link_that_was_taken_back_opens_nothing_and_takes_nothing(browser, lesson_id, link):
    plan = page(browser, link)["plan"]
    made = browser.get(f"/lessons/{lesson_id}/links").json()[0]
    assert made["purpose"] == "practice"
    browser.send("DELETE", f"/links/{made['id']}")
    assert browser.client.get(f"/api{link}").status_code == 404
    assert say(browser, link, answer(plan, "pain")).status_code == 404
    assert not browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["stopped"]


def test_a_link_to_the_lesson_does_not_open_the_practice(browser, lesson_id, link):
    other = browser.send("POST", f"/lessons/{lesson_id}/links", json={"days": 14}).json()["path"]
    assert browser.client.get(f"/api/p/{other.removeprefix('/s/')}").status_code == 404
    assert browser.client.get(f"/s/{link.removeprefix('/p/')}").status_code == 404


@pytest.mark.parametrize(
    "wrong",
    [{"kind": "slept"}, {"feel": 6}, {"key": "x"}, {"plan": "none"}, {"at": "yesterday"}, {"minutes": -1}],
    ids=str,
)
def test_answers_that_nobody_gives_are_refused(browser, link, wrong):
    plan = page(browser, link)["plan"]
    assert say(browser, link, {**answer(plan, "done", plan["blocks"][0]), **wrong}).status_code == 422


def test_the_calendar_has_each_block_that_is_to_come_as_a_day(browser, lesson_id, link):
    plan = page(browser, link)["plan"]
    say(browser, link, answer(plan, "done", plan["blocks"][0]))
    content = browser.client.get(f"/api{link}/calendar.ics")
    assert content.headers["content-type"].startswith("text/calendar")
    events = icalendar.Calendar.from_ical(content.content).walk("VEVENT")
    assert [e["dtstart"].dt.isoformat() for e in events] == [b["day"] for b in plan["blocks"][1:]]
    assert len({e["uid"] for e in events}) == len(events)
    assert all("health professional" in e["description"] for e in events)
    assert max(map(len, content.content.split(b"\r\n"))) <= 75  # RFC 5545, 3.1: lines are folded
    own = browser.get(f"/lessons/{lesson_id}/practice/calendar.ics")
    assert len(icalendar.Calendar.from_ical(own.content).walk("VEVENT")) == len(events)


def test_the_plan_can_be_printed(browser, lesson_id):
    printed = browser.get(f"/lessons/{lesson_id}/practice/page")
    assert printed.status_code == 200
    assert "Without any feedback" in printed.text
    assert "script" not in printed.text


def test_a_second_maker_is_told_what_stands_there(browser, lesson_id):
    mine = browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]
    body = {"minutes": {"1": 20}}
    first = browser.send("PUT", f"/lessons/{lesson_id}/practice", json=body, headers={"if-match": mine["revision"]})
    assert first.status_code == 200
    second = browser.send("PUT", f"/lessons/{lesson_id}/practice", json=body, headers={"if-match": mine["revision"]})
    assert second.status_code == 412
    assert "practice plan" in second.json()["message"]


def test_the_page_tells_nothing_of_limits(browser, lesson_id, link):
    """A limit that is noted once the plan is made: the instructor hears what is not offered, the link does not."""
    player = browser.lesson(lesson_id)["player"]["id"]
    drill = page(browser, link)["plan"]["blocks"][0]["drills"][0]["label"]
    noted = browser.post(f"/players/{player}/limits", {"area": "wrist", "side": "lead", "movement": "flexion"})
    assert noted.status_code == 201
    told = browser.get(f"/lessons/{lesson_id}/practice").json()["plan"]["broken"]
    assert any(drill in b["words"] and b["rule"] == "drill" for b in told)
    shown = page(browser, link)
    assert shown["plan"]["withheld"] == []
    drills = {d["label"] for b in shown["plan"]["blocks"] for d in b["drills"]}
    assert drill not in drills  # no drill against a limit, whenever it was noted
    assert not any(b["rule"] == "drill" for b in shown["plan"]["broken"])
    assert "wrist" not in str(shown["days"])
    for path in (f"/api{link}/calendar.ics", f"/api/lessons/{lesson_id}/practice/page"):
        assert drill not in browser.client.get(path).text.replace("\r\n ", "")
