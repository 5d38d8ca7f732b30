"""Two colleagues at once: nobody's words are lost, everybody undoes their own, nothing is booked twice."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager

import pytest
from pymysql.err import OperationalError as MariaDbError
from sqlalchemy.exc import OperationalError

from finearc.services.records import Author, Instructor
from finearc.store.unit_of_work import Store
from tests.api.conftest import bundle, drop, new_lesson

ANYTHING = object()


@pytest.fixture
def lesson_id(browser):
    made = new_lesson(browser, "Shared")
    drop(browser, made, bundle("hold-then-flex"))
    return made


def saved(who, method, path, body, seen):
    return who.send(method, path, json=body, headers={"if-match": seen})


def player_body(player, **changed):
    kept = ("name", "handedness", "height_m", "population", "goals", "usual_miss", "consent_by")
    return {**{k: player[k] for k in kept}, "schools": player["own_schools"], **changed}


def cases(browser, lesson_id):
    """Everything that is edited as a whole: path, two bodies, revision of what is there, and where the text stands."""
    lesson = browser.lesson(lesson_id)
    player = browser.get(f"/players/{lesson['player']['id']}").json()
    one, two = ({"finding": "", "label": f"plan {k}", "drill": ""} for k in (1, 2))
    close = {"priorities": [], "note": "closed by one"}
    return [
        (
            "PUT",
            f"/players/{player['id']}",
            player_body(player, goals="one"),
            player_body(player, goals="two"),
            player["revision"],
            ("goals",),
        ),
        ("PATCH", f"/lessons/{lesson_id}", {"note": "one"}, {"note": "two"}, lesson["revision"], ("note",)),
        ("PUT", f"/lessons/{lesson_id}/plan", {"priorities": [one]}, {"priorities": [two]}, ANYTHING, ("priorities",)),
        ("POST", f"/lessons/{lesson_id}/close", close, {**close, "note": "closed by two"}, ANYTHING, ("note",)),
    ]


def test_whoever_saves_second_sees_both_and_nothing_is_lost(browser, colleague, lesson_id):
    for method, path, mine, theirs, seen, (field, *_) in cases(browser, lesson_id):
        revision = browser.lesson(lesson_id)["revision"] if seen is ANYTHING else seen
        assert saved(browser, method, path, mine, revision).status_code in (200, 201), path
        clash = saved(colleague, method, path, theirs, revision)
        assert clash.status_code == 412, (path, clash.text)
        told = clash.json()
        assert "North Instructor changed" in told["message"]
        assert told["theirs"][field], (path, told)
        again = saved(colleague, method, path, theirs, f'"{told["revision"]}"')
        assert again.status_code in (200, 201), (path, again.text)
        unsaid = colleague.client.request(method, f"/api{path}", json=theirs, headers={"x-csrf-token": colleague.csrf})
        assert (unsaid.status_code, unsaid.json()["code"]) == (428, "revision_needed"), path


def test_of_ten_who_save_at_once_one_is_first(browser, lesson_id):
    player = browser.lesson(lesson_id)["player"]
    seen = browser.get(f"/players/{player['id']}").json()
    body = [player_body(seen, goals=f"goal {k}") for k in range(10)]
    with ThreadPoolExecutor(10) as pool:
        answers = list(pool.map(lambda b: saved(browser, "PUT", f"/players/{player['id']}", b, seen["revision"]), body))
    assert sorted(a.status_code for a in answers) == [200] + [412] * 9


def test_academy_choices_are_saved_over_what_was_seen(browser, colleague):
    rules = browser.get("/academy-rules").json()
    body = {"schools": {"lead_wrist": "flat"}}
    assert saved(browser, "PUT", "/academy-rules/schools", body, rules["schools_revision"]).status_code == 200
    clash = saved(colleague, "PUT", "/academy-rules/schools", {"schools": {}}, rules["schools_revision"])
    assert clash.json()["theirs"] == body
    clock = browser.get("/academy").json()
    assert saved(browser, "PUT", "/academy/clock", {"time_zone": "Europe/Lisbon"}, clock["revision"]).status_code == 200
    assert saved(colleague, "PUT", "/academy/clock", {"time_zone": "UTC"}, clock["revision"]).status_code == 412
    for path, back in (("/academy-rules/schools", {"schools": {}}), ("/academy/clock", {"time_zone": "UTC"})):
        assert saved(browser, "PUT", path, back, "*").status_code == 200


def test_everybody_undoes_their_own(browser, colleague, lesson_id):
    first, second = (s["id"] for s in browser.lesson(lesson_id)["swings"][:2])
    browser.patch(f"/swings/{first}", {"kind": "warm_up"})
    colleague.patch(f"/swings/{second}", {"strike": "toe"})
    assert "warm-up" in browser.lesson(lesson_id)["can_undo"]
    assert "strike" in colleague.lesson(lesson_id)["can_undo"]
    assert "warm-up" in browser.post(f"/lessons/{lesson_id}/undo").json()["label"]
    kinds = {s["id"]: (s["kind"], s["strike"]) for s in browser.lesson(lesson_id)["swings"]}
    assert (kinds[first][0], kinds[second][1]) == ("normal", "toe")
    assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 409  # the colleague's is not one's own
    colleague.patch(f"/swings/{second}", {"strike": "heel"})
    assert "warm-up" in browser.lesson(lesson_id)["can_redo"]  # nor does theirs end what one can do again


def test_what_a_colleague_has_built_upon_is_not_undone_under_them(browser, colleague, lesson_id):
    swing = browser.lesson(lesson_id)["swings"][0]["id"]
    browser.patch(f"/swings/{swing}", {"strike": "toe"})
    colleague.patch(f"/swings/{swing}", {"strike": "heel"})
    refused = browser.post(f"/lessons/{lesson_id}/undo")
    assert refused.status_code == 409
    assert "Second Instructor has changed the same" in refused.json()["message"]
    assert colleague.post(f"/lessons/{lesson_id}/undo").status_code == 200
    assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 200


def test_every_change_has_its_author(browser, colleague, lesson_id, services, north):
    lesson = browser.lesson(lesson_id)
    saved(colleague, "PATCH", f"/lessons/{lesson_id}", {"note": "words"}, lesson["revision"])
    browser.post(f"/players/{lesson['player']['id']}/limits", {"area": "wrist", "movement": "flexion"})
    with services.store.unit_of_work(north) as uow:
        people = {p.id: p.name for p in uow.find(Instructor)}
        told = [(people[a.instructor_id], a.what, a.how, a.fields) for a in uow.find(Author, order="-at")[:2]]
    assert told == [
        ("North Instructor", "limit", "made", ""),
        ("Second Instructor", "lesson", "changed", "note"),
    ]


def test_of_fifty_who_book_one_bay_at_once_one_gets_it(browser):
    """Also when the bay is named for the first time."""
    people = [browser.post("/players", {"name": f"Booker {k}"}).json()["id"] for k in range(2)]
    instructor = browser.get("/diary").json()["instructors"][0]["id"]

    def book(k: int):
        body = {
            "player_id": people[k % 2],
            "instructor_id": instructor,
            "bay": "New bay",
            "starts_at": "2026-06-01T09:00:00Z",
        }
        return browser.post("/lessons", {**body, "minutes": 30 + k % 3})

    with ThreadPoolExecutor(50) as pool:
        answers = list(pool.map(book, range(50)))
    assert sorted(a.status_code for a in answers) == [201] + [409] * 49, [
        a.text for a in answers if a.status_code > 409
    ]
    assert len(browser.get("/diary?day=2026-06-01").json()["lessons"]) == 1
    assert browser.get("/diary").json()["bays"].count("New bay") == 1


def failing(monkeypatch, errors):
    """The next units of work end in these errors."""
    real = Store.unit_of_work
    left = list(errors)

    @contextmanager
    def unit_of_work(self, *args, **options):
        with real(self, *args, **options) as uow:
            yield uow
            if left:
                raise left.pop(0)

    monkeypatch.setattr(Store, "unit_of_work", unit_of_work)


def database_error(code: int) -> OperationalError:
    return OperationalError("UPDATE", None, MariaDbError(code, "as MariaDB says it"))


@pytest.mark.parametrize("code", [1213, 1205, 1020])
def test_two_who_stand_in_each_others_way_both_pass(browser, monkeypatch, code):
    failing(monkeypatch, [database_error(code), database_error(code)])
    name = f"Deadlock {code}"
    assert browser.post("/players", {"name": name}).status_code == 201
    assert [p["name"] for p in browser.get(f"/players?q={name}").json()] == [name]


def test_a_lost_connection_is_read_over_again_and_said_where_something_was_written(browser, monkeypatch):
    failing(monkeypatch, [database_error(2013)])
    assert browser.get("/players").status_code == 200
    failing(monkeypatch, [database_error(2013)])
    answer = browser.post("/players", {"name": "Perhaps"})
    assert (answer.status_code, answer.json()["code"]) == (503, "database")
    assert answer.headers["retry-after"]


@pytest.mark.parametrize(("code", "status"), [(4025, 422), (1406, 422), (1114, 507), (9999, 500)])
def test_other_errors_of_the_database_are_told_apart(browser, monkeypatch, code, status):
    """A value that does not fit is not called a database that does not answer."""
    failing(monkeypatch, [database_error(code)] * 9)
    answer = browser.post("/players", {"name": "Odd"})
    assert answer.status_code == status
    assert "as MariaDB says it" not in answer.text


def test_a_pain_that_was_said_is_not_taken_back_by_whoever_did_not_see_it(browser, colleague, lesson_id):
    before = browser.lesson(lesson_id)["revision"]
    said = {"pain": "yes", "pain_note": "low back"}
    assert saved(colleague, "PATCH", f"/lessons/{lesson_id}", said, before).status_code == 200
    told = saved(browser, "PATCH", f"/lessons/{lesson_id}", {"pain": "no"}, before)
    assert told.status_code == 412
    assert {k: told.json()["theirs"][k] for k in said} == said
    again = saved(browser, "PATCH", f"/lessons/{lesson_id}", {"pain": "yes"}, before)  # saying the same takes nothing
    assert (again.status_code, again.json()["pain_note"]) == (200, "low back")
    seen = saved(browser, "PATCH", f"/lessons/{lesson_id}", {"pain": "no"}, told.json()["revision"])
    assert (seen.status_code, seen.json()["pain_note"]) == (200, "")
