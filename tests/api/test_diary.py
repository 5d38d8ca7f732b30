"""The diary over HTTP: nobody and nothing in two places, rows across summer time, hours, waiting, courses, calendars."""

from __future__ import annotations

import threading
import uuid
from collections import Counter
from datetime import UTC, date, datetime, timedelta
from itertools import count

import icalendar
import pytest

from finearc.core.diary.places import Wanted, clashes
from finearc.core.diary.spans import Span
from finearc.services.diary.booking import Asked, book, weekly
from finearc.services.diary.taken import resources_of, taken_by
from finearc.services.errors import Clash, Refused
from finearc.services.records import Instructor, Lesson, Player

DAYS = (date(2033, 1, 3) + timedelta(days=7 * k) for k in count())
"""A Monday of its own for each test."""


@pytest.fixture
def monday():
    return next(DAYS)


@pytest.fixture
def jon(services, north):
    """A second instructor."""
    made = Instructor(north, f"Jon {uuid.uuid4().hex[:6]}", f"{uuid.uuid4().hex}@example.test", "-")
    with services.store.unit_of_work(north) as uow:
        uow.add(made)
    return str(made.id)


@pytest.fixture
def rules(browser):
    """Changes the academy's hours, and puts them back."""
    old = browser.get("/diary/rules").json()

    def change(**more):
        body = {**{k: v for k, v in browser.get("/diary/rules").json().items() if k != "revision"}, **more}
        return browser.put("/diary/rules", body)

    yield change
    assert change(**{k: v for k, v in old.items() if k != "revision"}).status_code == 200


@pytest.fixture
def lisbon(browser):
    browser.put("/academy/clock", {"time_zone": "Europe/Lisbon"})
    yield browser
    browser.put("/academy/clock", {"time_zone": "UTC"})


def new_player(browser, name=""):
    name = name or f"Dia {uuid.uuid4().hex[:6]}"
    return browser.post("/players", {"name": name, "consent_by": name}).json()["id"]


def asked(browser, day, at="10:00", **more):
    me = browser.get("/me").json()["instructor_id"]
    own = {"player_id": more.pop("player_id", None) or new_player(browser), "instructor_id": me, "bay": "Bay 1"}
    return {**own, "starts_at": f"{day}T{at}:00", "minutes": 45, **more}


def booked(browser, day, at="10:00", **more):
    made = browser.post("/lessons", asked(browser, day, at, **more))
    assert made.status_code == 201, made.text
    return made.json()


def walls(lessons):
    return [x["starts_at"][:16] for x in lessons]


def test_instructor_bay_sensor_set_and_player_are_in_one_place_only(browser, monday, jon, rules):
    assert rules(sensor_sets=["Set A", "Set B"]).status_code == 200
    first = booked(browser, monday, sensor_set="Set A")
    elsewhere = {"instructor_id": jon, "bay": "Bay 2", "sensor_set": "Set B"}
    for same in (
        {"instructor_id": first["instructor_id"]},
        {"bay": "Bay 1"},
        {"sensor_set": "Set A"},
        {"player_id": first["player"]["id"]},
    ):
        clash = browser.post("/lessons", asked(browser, monday, "10:30", **{**elsewhere, **same}))
        assert (clash.status_code, clash.json()["code"]) == (409, "double_booking"), same
        assert "already booked from 10:00 to 10:45" in clash.json()["message"]
    assert browser.post("/lessons", asked(browser, monday, "10:30", **elsewhere)).status_code == 201
    unknown = browser.post("/lessons", asked(browser, monday, "12:00", sensor_set="Set Z"))
    assert 'no sensor set "Set Z"' in unknown.json()["message"]


def test_a_clash_says_the_next_free_places_and_they_can_be_booked(browser, monday):
    booked(browser, monday)
    clash = browser.post("/lessons", asked(browser, monday, "10:15")).json()
    assert len(clash["places"]) == 4
    assert clash["places"][0]["starts_at"][:16] == f"{monday}T10:45"
    for place in clash["places"]:
        body = asked(browser, monday, instructor_id=place["instructor_id"], bay=place["bay"], minutes=15)
        made = browser.post("/lessons", {**body, "starts_at": place["starts_at"]})
        assert made.status_code == 201, made.text


def test_lessons_with_markers_leave_time_to_set_up(browser, monday):
    booked(browser, monday, markers=True)
    clash = browser.post("/lessons", asked(browser, monday, "10:45", markers=True))
    assert "needs 15 minutes to be set up" in clash.json()["message"]
    assert clash.json()["places"][0]["starts_at"][:16] == f"{monday}T10:45"
    assert clash.json()["places"][0]["bay"] == "Bay 2"
    assert browser.post("/lessons", asked(browser, monday, "11:00", markers=True)).status_code == 201
    assert browser.post("/lessons", asked(browser, monday, "11:45")).status_code == 201


def test_hours_breaks_and_holidays_are_kept_unless_it_is_wanted(browser, monday, rules):
    week = {str(k): [[9 * 60, 13 * 60], [14 * 60, 18 * 60]] for k in range(5)}
    friday = monday + timedelta(days=4)
    holiday = {"first": str(friday), "last": str(friday), "name": "Harbour day"}
    assert rules(hours=week, holidays=[holiday]).status_code == 200
    outside = browser.post("/lessons", asked(browser, monday, "12:30"))
    assert (outside.status_code, outside.json()["code"]) == (409, "outside_hours")
    assert "12:30 to 13:15 lies outside the working hours" in outside.json()["message"]
    assert outside.json()["places"][0]["starts_at"][:16] == f"{monday}T14:00"
    assert browser.post("/lessons", asked(browser, monday, "12:30", anyway=True)).status_code == 201
    closed = browser.post("/lessons", asked(browser, friday, "10:00"))
    assert "Harbour day" in closed.json()["message"]
    assert closed.json()["places"][0]["starts_at"][:16] == f"{monday + timedelta(days=7)}T09:00"
    shown = browser.get("/diary/span", params={"first": str(monday), "days": 7}).json()
    me = browser.get("/me").json()["instructor_id"]
    assert [s["begins"][:16] for s in shown["open"] if s["instructor_id"] == me] == [
        f"{monday + timedelta(days=k)}T{at}" for k in range(4) for at in ("09:00", "14:00")
    ]
    assert shown["holidays"][0]["name"] == "Harbour day"


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"hours": {"0": [[600, 540]]}}, "overlap"),
        ({"hours": {"0": [[540, 700], [660, 800]]}}, "overlap"),
        ({"hours": {"9": []}}, "hours.9"),
        ({"holidays": [{"first": "2033-05-02", "last": "2033-05-01"}]}, "ends before it begins"),
        ({"sensor_sets": ["A", "A"]}, "one name"),
        ({"setup_minutes": -5}, "setup_minutes"),
    ],
    ids=str,
)
def test_hours_that_are_none_are_refused(rules, wrong, says):
    answer = rules(**wrong)
    assert answer.status_code in (409, 422)
    assert says in answer.json()["message"]


def test_a_second_person_hears_that_the_hours_were_changed(browser):
    seen = browser.get("/diary/rules").json()
    body = {k: v for k, v in seen.items() if k != "revision"}
    header = {"if-match": seen["revision"]}
    assert browser.send("PUT", "/diary/rules", json={**body, "setup_minutes": 20}, headers=header).status_code == 200
    second = browser.send("PUT", "/diary/rules", json={**body, "setup_minutes": 25}, headers=header)
    assert (second.status_code, second.json()["theirs"]["setup_minutes"]) == (412, 20)
    assert browser.put("/diary/rules", body).status_code == 200


def test_a_row_keeps_its_time_on_the_wall_across_summer_time(lisbon):
    """Walk 29. Summer time of 2033 begins on 27 March (Directive 2000/84/EC: the last Sunday of March, 01:00 UTC)."""
    body = {**asked(lisbon, "2033-03-14", "10:00"), "every_weeks": 1, "until": "2033-04-11"}
    made = lisbon.post("/lessons/rows", body)
    assert made.status_code == 201, made.text
    lessons = made.json()["booked"]
    assert walls(lessons) == [f"2033-{d}T10:00" for d in ("03-14", "03-21", "03-28", "04-04", "04-11")]
    instants = [datetime.fromisoformat(x["starts_at"]).astimezone(UTC).hour for x in lessons]
    assert instants == [10, 10, 9, 9, 9]
    assert all(x["in_row"] for x in lessons)
    again = lisbon.post("/lessons/rows", {**body, "bay": "Bay 2", "until": "2033-03-21"}).json()
    assert again["booked"] == []
    assert all("already booked" in x["why"] for x in again["not_booked"])


def test_a_time_that_the_clock_skips_is_left_out_of_a_row_and_said(lisbon):
    body = {**asked(lisbon, "2033-03-20", "01:30", bay="Bay 3"), "every_weeks": 1, "until": "2033-04-03"}
    made = lisbon.post("/lessons/rows", body).json()
    assert walls(made["booked"]) == ["2033-03-20T01:30", "2033-04-03T01:30"]
    assert made["not_booked"][0]["at"].startswith("2033-03-27T01:30")
    assert "the clock is put forward" in made["not_booked"][0]["why"]


def test_rows_that_go_on_too_long_are_refused():
    with pytest.raises(Refused, match="a year at most"):
        weekly(datetime(2033, 1, 3, 10), 1, date(2034, 12, 1))
    with pytest.raises(Refused, match="a year at most"):
        weekly(datetime(2033, 1, 3, 10), 1, date(2032, 12, 1))
    assert len(weekly(datetime(2033, 1, 3, 10), 2, date(2033, 2, 28))) == 5


def test_a_lesson_moves_but_not_onto_another_and_can_go_back(browser, monday, jon):
    one, two = booked(browser, monday), booked(browser, monday, "12:00")
    clash = browser.post(f"/lessons/{one['id']}/moved", {"starts_at": f"{monday}T11:30:00"})
    assert clash.status_code == 409
    assert clash.json()["places"]
    moved = browser.post(f"/lessons/{one['id']}/moved", {"starts_at": f"{monday}T11:00:00", "instructor_id": jon})
    assert (moved.json()["starts_at"][11:16], moved.json()["instructor_id"]) == ("11:00", jon)
    assert moved.json()["ends_at"][11:16] == "11:45"
    longer = browser.post(f"/lessons/{two['id']}/moved", {"minutes": 60}).json()
    assert longer["ends_at"][11:16] == "13:00"
    own = browser.post(f"/lessons/{one['id']}/moved", {"starts_at": f"{monday}T11:15:00"})  # onto itself is no clash
    assert own.status_code == 200
    browser.post(f"/lessons/{two['id']}/cancelled", {"reason": "ill"})
    assert "stays where it is" in browser.post(f"/lessons/{two['id']}/moved", {"minutes": 30}).json()["message"]


def test_what_is_cancelled_frees_its_place_and_can_be_planned_again_while_it_is_free(browser, monday):
    lesson = booked(browser, monday)
    gone = browser.post(f"/lessons/{lesson['id']}/cancelled", {"reason": "a cold"})
    assert gone.json()["status"] == "cancelled"
    assert lesson["id"] not in [x["id"] for x in browser.get("/diary", params={"day": str(monday)}).json()["lessons"]]
    shown = browser.get("/diary/span", params={"first": str(monday), "days": 1}).json()["lessons"]
    assert [(x["status"], x["cancel_reason"]) for x in shown] == [("cancelled", "a cold")]
    other = booked(browser, monday)
    assert browser.post(f"/lessons/{lesson['id']}/reinstated").status_code == 409
    browser.post(f"/lessons/{other['id']}/cancelled", {"reason": ""})
    assert browser.post(f"/lessons/{lesson['id']}/reinstated").json()["status"] == "planned"
    twice = browser.post(f"/lessons/{lesson['id']}/reinstated")
    assert twice.json()["status"] == "planned"


def test_nobody_misses_a_lesson_that_has_not_begun_and_nothing_is_captured_in_one_that_was_missed(
    browser, services, north
):
    lesson = booked(browser, "2033-12-01")
    early = browser.post(f"/lessons/{lesson['id']}/no-show")
    assert "has not begun" in early.json()["message"]
    with services.store.unit_of_work(north) as uow:
        kept = uow.get(Lesson, uuid.UUID(lesson["id"]))
        kept.starts_at, kept.ends_at = datetime(2025, 1, 1, 9, tzinfo=UTC), datetime(2025, 1, 1, 10, tzinfo=UTC)
    assert browser.post(f"/lessons/{lesson['id']}/no-show").json()["status"] == "no_show"
    refused = browser.post(f"/lessons/{lesson['id']}/recordings", {"segments": ["lead_hand"]})
    assert refused.status_code in (409, 422)


def test_whoever_waits_is_offered_the_place_that_becomes_free(browser, monday, rules):
    """The hours leave room for one lesson a day: it is taken, then cancelled."""
    me = browser.get("/me").json()["instructor_id"]
    assert rules(hours={"0": [[600, 645]]}).status_code == 200
    lesson = booked(browser, monday)
    player = new_player(browser, "Wanda Waits")
    wish = {"player_id": player, "instructor_id": me, "first": str(monday), "last": str(monday), "weekdays": [0]}
    waits = browser.post("/waiting", wish)
    assert waits.status_code == 201, waits.text
    mine = next(w for w in waits.json() if w["player"] == "Wanda Waits")
    assert mine["places"] == []
    browser.post(f"/lessons/{lesson['id']}/cancelled", {"reason": "travels"})
    mine = next(w for w in browser.get("/waiting").json() if w["id"] == mine["id"])
    assert [p["starts_at"][:16] for p in mine["places"]] == [f"{monday}T10:00"]
    booked(browser, monday, player_id=player)
    assert mine["id"] not in [w["id"] for w in browser.get("/waiting").json()]


def test_a_wish_is_kept_to_its_days_and_times(browser, monday):
    wish = {
        "player_id": new_player(browser),
        "first": str(monday),
        "last": str(monday + timedelta(days=6)),
        "weekdays": [1, 3],
        "from_minute": 17 * 60,
        "until_minute": 18 * 60,
    }
    mine = browser.post("/waiting", wish).json()[-1]
    tuesday, thursday = monday + timedelta(days=1), monday + timedelta(days=3)
    assert [p["starts_at"][:16] for p in mine["places"]] == [f"{tuesday}T17:00", f"{thursday}T17:00"]
    assert browser.send("DELETE", f"/waiting/{mine['id']}").status_code == 200
    for wrong in (
        {"last": str(monday - timedelta(days=1))},
        {"until_minute": 1000},
        {"until_minute": 1030, "minutes": 60},
    ):
        assert browser.post("/waiting", {**wish, **wrong}).status_code == 409


def test_a_course_counts_what_is_left(browser, monday, services, north):
    player = new_player(browser)
    course = browser.post(f"/players/{player}/courses", {"name": "Winter", "lessons": 2}).json()[0]
    assert (course["left"], course["used"], course["booked"]) == (2, 0, 0)
    first = booked(browser, monday, player_id=player)
    assert first["course"]["id"] == course["id"]
    booked(browser, monday, "11:00", player_id=player)
    third = booked(browser, monday, "12:00", player_id=player)
    assert third["course"] is None  # none was left
    browser.post(f"/lessons/{first['id']}/cancelled", {"reason": ""})
    left = browser.get(f"/players/{player}/next").json()["courses"][0]
    assert (left["left"], left["booked"]) == (1, 1)
    assert browser.send("DELETE", f"/courses/{course['id']}").json() == []
    assert browser.get("/diary", params={"day": str(monday)}).json()["lessons"][0]["course"] is None


def test_the_next_lesson_is_suggested_at_the_usual_time(browser, services, north):
    player = new_player(browser)
    me = uuid.UUID(browser.get("/me").json()["instructor_id"])
    with services.store.unit_of_work(north) as uow:
        for week in range(3):
            begins = datetime(2025, 3, 4 + 7 * week, 16, 30, tzinfo=UTC)  # Tuesdays
            ends = begins + timedelta(minutes=60)
            uow.add(Lesson(north, uuid.UUID(player), me, "Bay 2", begins, ends, "closed", next_date=date(2034, 5, 3)))
    found = browser.get(f"/players/{player}/next").json()
    assert (found["due"], found["why"], found["minutes"]) == ("2034-05-03", "noted for 3 May", 60)
    assert found["places"][0]["starts_at"][:16] == "2034-05-09T16:30"  # the Tuesday after
    assert found["places"][0]["bay"] == "Bay 2"


def test_a_calendar_file_keeps_an_instructor_busy(browser, jon):
    day = (datetime.now(UTC) + timedelta(days=30)).date()
    calendar = icalendar.Calendar()
    calendar.add("prodid", "-//x//EN")
    calendar.add("version", "2.0")
    event = icalendar.Event()
    event.add("uid", "a")
    event.add("dtstart", datetime(day.year, day.month, day.day, 9))
    event.add("dtend", datetime(day.year, day.month, day.day, 17))
    event.add("summary", "Secret")
    calendar.add_component(event)
    content = calendar.to_ical()
    for _ in range(2):  # a second file of one name takes the place of the first
        sent = browser.send("POST", f"/instructors/{jon}/busy", files={"file": ("work.ics", content, "text/calendar")})
        assert sent.status_code == 201, sent.text
    mine = [c for c in sent.json()["busy"] if c["instructor_id"] == jon]
    assert [(c["name"], c["times"]) for c in mine] == [("work", 1)]
    assert "Secret" not in sent.text
    clash = browser.post("/lessons", asked(browser, day, "10:00", instructor_id=jon))
    assert clash.status_code == 409
    assert clash.json()["places"][0]["starts_at"][:16] == f"{day}T17:00"
    shown = browser.get("/diary/span", params={"first": str(day), "days": 1}).json()["busy"]
    assert [b["begins"][11:16] for b in shown if b["instructor_id"] == jon] == ["09:00"]
    browser.send("DELETE", f"/calendars/{mine[0]['id']}")
    assert browser.post("/lessons", asked(browser, day, "10:00", instructor_id=jon)).status_code == 201
    odd = browser.send("POST", f"/instructors/{jon}/busy", files={"file": ("odd.ics", b"none", "text/calendar")})
    assert odd.status_code == 422
    assert "no calendar file" in odd.json()["message"]


def test_a_feed_opens_elsewhere_and_can_be_taken_back(browser, jon):
    day = (datetime.now(UTC) + timedelta(days=40)).date()
    lesson = booked(browser, day, instructor_id=jon, bay="Bay 3", player_id=new_player(browser, "Fedora Feed"))
    made = browser.post(f"/instructors/{jon}/feeds").json()
    content = browser.client.get(made["path"], headers={"cookie": ""})
    assert content.headers["content-type"].startswith("text/calendar")
    event = icalendar.Calendar.from_ical(content.content).walk("VEVENT")[0]
    assert (event["summary"], event["location"], event["status"]) == ("Lesson: Fedora Feed", "Bay 3", "CONFIRMED")
    assert event["dtstart"].dt == datetime.fromisoformat(lesson["starts_at"])
    browser.post(f"/lessons/{lesson['id']}/cancelled", {"reason": ""})
    again = icalendar.Calendar.from_ical(browser.client.get(made["path"]).content).walk("VEVENT")[0]
    assert (again["status"], again["uid"]) == ("CANCELLED", event["uid"])
    assert browser.send("DELETE", f"/feeds/{made['id']}").status_code == 200
    assert browser.client.get(made["path"]).status_code == 404


def test_many_at_once_book_nothing_twice(services, north, browser):
    """Eight people at once, with places that are few: what is kept never clashes (``validation.diary`` does more)."""
    begins = datetime(2034, 9, 4, 8, tzinfo=UTC)
    with services.store.unit_of_work(north) as uow:
        people = [Instructor(north, f"P{k}", f"p{k}-{uuid.uuid4().hex}@example.test", "-") for k in range(3)]
        players = [Player(north, f"Q{k}", "right") for k in range(6)]
        for record in (*people, *players):
            uow.add(record)
    said = Counter()

    def work(seed):
        for k in range(25):
            n = 7919 * seed + 104_729 * k
            at = begins + timedelta(minutes=15 * (n % 32))
            who, player, bay = people[n % 3].id, players[n % 6].id, f"Bay {1 + n % 3}"
            try:
                with services.store.unit_of_work(north) as uow:
                    book(uow, Asked(player, who, bay, at, 30 + 15 * (n % 3)))
                said["booked"] += 1
            except Clash:
                said["clash"] += 1

    threads = [threading.Thread(target=work, args=(seed,)) for seed in range(1, 9)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sum(said.values()) == 200
    with services.store.unit_of_work(north) as uow:
        kept = uow.find(Lesson, instructor_id=[p.id for p in people])
    assert len(kept) == said["booked"] > 10
    wishes = [
        (Wanted(Span(x.starts_at, x.ends_at), resources_of(x.instructor_id, x.bay, x.player_id, x.sensor_set)), x)
        for x in kept
    ]
    for wish, lesson in wishes:
        assert clashes(wish, [taken_by(x) for x in kept if x is not lesson]) == []
