"""How long an academy keeps what: looked at before it is chosen, a day before anything goes, and then gone."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from uuid import UUID

import pytest

from finearc.services.people import periods as keeping
from finearc.services.people.periods import GRACE, Due, Periods, due, let_go
from finearc.services.people.records import KeepingPeriods
from finearc.services.records import Chunk, Clip, Instructor, Lesson, Player, Swing
from tests.api.conftest import bundle, drop, new_lesson
from tests.api.test_clips import send as send_clip

NONE = {"raw_months": 0, "lessons_months": 0, "walk_ins_days": 0}


def store_of(browser, services):
    with services.store.front_door() as door:
        academy_id = door.get_instructor(UUID(browser.get("/me").json()["instructor_id"])).academy_id
    return lambda: services.store.unit_of_work(academy_id)


@pytest.fixture
def open_uow(browser, services):
    opened = store_of(browser, services)
    yield opened
    with opened() as uow:
        for kept in uow.find(KeepingPeriods):
            uow.remove(kept)


def long_ago(open_uow, lesson_id, days):
    """A lesson as if it had been so many days ago."""
    with open_uow() as uow:
        lesson = uow.get(Lesson, UUID(lesson_id))
        lesson.starts_at = datetime.now(UTC) - timedelta(days=days)
        lesson.ends_at = lesson.starts_at + timedelta(minutes=45)


def ended(browser, open_uow, name, days, *, swings=False):
    lesson_id = new_lesson(browser, name)
    if swings:
        drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club")))
    closed = browser.post(f"/lessons/{lesson_id}/close", {"priorities": []})
    assert closed.status_code == 200
    long_ago(open_uow, lesson_id, days)
    return lesson_id


def preview(browser, **chosen):
    return browser.get("/people/periods/preview", params={**NONE, **chosen}).json()


def choose(browser, open_uow, **chosen):
    """Chosen after looking, and the day has passed."""
    seen = preview(browser, **chosen)["count"]
    answer = browser.put("/people/periods", {**NONE, **chosen, "seen": seen})
    assert answer.status_code == 200, answer.text
    with open_uow() as uow:
        assert let_go(uow, 100) == 0, "nothing goes on the first day"
        (kept,) = uow.find(KeepingPeriods)
        kept.changed_at -= GRACE


def test_nothing_goes_where_nothing_was_chosen(browser, open_uow):
    ended(browser, open_uow, "Nothing Chosen", 5000)
    told = browser.get("/people/periods").json()
    assert (told["periods"], told["holds_from"], told["would_go"]["count"]) == (NONE, None, 0)
    with open_uow() as uow:
        assert let_go(uow, 100) == 0
        assert due(uow, Periods()) == Due()


def test_samples_and_videos_go_and_what_was_measured_stays(browser, open_uow):
    lesson_id = ended(browser, open_uow, "Raw Rosa", 100, swings=True)
    young = ended(browser, open_uow, "Raw Young", 20, swings=True)
    swing = browser.lesson(lesson_id)["swings"][0]
    send_clip(browser, swing["id"])
    before = browser.swing(swing["id"])
    told = preview(browser, raw_months=3)
    assert (told["raw"], told["lessons"]) == (1, 0)
    choose(browser, open_uow, raw_months=3)
    with open_uow() as uow:
        assert let_go(uow, 100) == 1
        assert let_go(uow, 100) == 0
        of = {UUID(r["id"]) for r in browser.lesson(lesson_id)["recordings"]}
        assert not uow.find(Chunk, recording_id=of)
        assert not uow.find(Clip, lesson_id=UUID(lesson_id))
        assert uow.find(Chunk, recording_id=[UUID(r["id"]) for r in browser.lesson(young)["recordings"]])
    after = browser.swing(swing["id"])
    assert {m["metric"]: m["value"] for m in after["metrics"]} == {m["metric"]: m["value"] for m in before["metrics"]}
    assert browser.block(after).status_code == 200, "its courses are still drawn"
    top = next(e["time_s"] for e in before["events"] if e["name"] == "top")
    moved = browser.patch(f"/swings/{swing['id']}", {"checkpoint": {"name": "top", "time_s": top - 0.1}})
    assert (moved.status_code, moved.json()["code"]) == (409, "refused")
    assert "let go" in moved.json()["message"]
    assert browser.get(f"/lessons/{lesson_id}/export").status_code == 200
    assert preview(browser, raw_months=3)["raw"] == 0


def test_lessons_go_and_a_player_with_the_last_of_them(browser, open_uow):
    old = ended(browser, open_uow, "Both Old", 800)
    player_id = browser.lesson(old)["player"]["id"]
    me = browser.get("/me").json()["instructor_id"]
    body = {"player_id": player_id, "instructor_id": me, "bay": "Bay 3", "minutes": 45}
    recent = browser.post("/lessons", {**body, "starts_at": "2031-06-01T10:00:00Z"}).json()["id"]
    gone = ended(browser, open_uow, "Old Only", 790, swings=True)
    gone_player = browser.lesson(gone)["player"]["id"]
    told = preview(browser, lessons_months=24)
    assert {"Both Old", "Old Only"} <= set(told["names"])
    assert told["oldest"] <= told["newest"]
    choose(browser, open_uow, lessons_months=24)
    with open_uow() as uow:
        assert let_go(uow, 100) >= 2
    assert browser.get(f"/lessons/{old}").status_code == 404
    assert browser.get(f"/players/{player_id}").status_code == 200
    assert browser.get(f"/lessons/{recent}").status_code == 200
    assert browser.get(f"/players/{gone_player}").status_code == 404
    with open_uow() as uow:
        assert not uow.find(Swing, lesson_id=UUID(gone))


def test_walk_ins_without_a_name_go_and_those_with_one_stay(browser, open_uow):
    me = UUID(browser.get("/me").json()["instructor_id"])
    with open_uow() as uow:
        for name, days in (("", 40), ("", 5), ("Named Nora", 40)):
            player = Player(uow.academy_id, name, "right", walk_in=True)
            player.created_at = datetime.now(UTC) - timedelta(days=days)
            uow.add(player)
            at = datetime.now(UTC) - timedelta(days=days)
            uow.add(Lesson(uow.academy_id, player.id, me, "Bay 1", at, at + timedelta(minutes=30), "closed"))
    before = preview(browser, walk_ins_days=30)
    assert before["walk_ins"] == 1
    choose(browser, open_uow, walk_ins_days=30)
    with open_uow() as uow:
        assert let_go(uow, 100) == 1
        left = [p.name for p in uow.find(Player, walk_in=True)]
        assert sorted(left)[:1] == [""]
        assert "Named Nora" in left


def test_what_was_not_looked_at_or_makes_no_sense_is_refused(browser, open_uow, stranger):
    ended(browser, open_uow, "Seen Otherwise", 900)
    seen = preview(browser, lessons_months=24)["count"]
    assert seen > 0
    answer = browser.put("/people/periods", {**NONE, "lessons_months": 24, "seen": seen + 1})
    assert (answer.status_code, answer.json()["code"]) == (409, "refused")
    longer = browser.put("/people/periods", {**NONE, "lessons_months": 12, "raw_months": 24, "seen": 0})
    assert "longer than their lessons" in longer.json()["message"]
    assert browser.put("/people/periods", {**NONE, "lessons_months": -1, "seen": 0}).status_code == 422
    assert stranger.get("/people/periods").json()["would_go"]["count"] == 0
    with open_uow() as uow:
        assert uow.find(Instructor)
        assert keeping.periods_of(uow)[1] is None


def test_much_goes_a_part_at_a_time(browser, open_uow):
    for k in range(3):
        ended(browser, open_uow, f"Part {k}", 1000 + k)
    choose(browser, open_uow, lessons_months=24)
    with open_uow() as uow:
        assert let_go(uow, 2) == 2
        assert let_go(uow, 2) >= 1
    assert preview(browser, lessons_months=24)["count"] == 0
