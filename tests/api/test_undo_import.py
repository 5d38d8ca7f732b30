"""An import that is undone is nowhere to be seen, comes back whole, and is gone for good once something else was done."""

import pytest

from tests.api.conftest import new_lesson
from tests.api.test_judging import bundle, drop


@pytest.fixture
def lesson_id(browser):
    made = new_lesson(browser)
    assert drop(browser, made, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    return made


def shown(browser, lesson_id):
    lesson = browser.lesson(lesson_id)
    return [(s["id"], s["number"]) for s in lesson["swings"]], lesson["can_undo"], lesson["can_redo"]


def undo(browser, lesson_id, way="undo"):
    answer = browser.post(f"/lessons/{lesson_id}/{way}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_an_import_is_undone_and_done_again_with_all_that_was_noted(browser, lesson_id):
    first, said, _ = shown(browser, lesson_id)
    assert (len(first), said) == (5, "import of session.zip")
    swing = first[1][0]
    browser.patch(f"/swings/{swing}", {"strike": "toe"})
    before = browser.lesson(lesson_id)
    judged = browser.swing(swing)["judged"]
    undo(browser, lesson_id)
    assert undo(browser, lesson_id) == {"label": "import of session.zip", "changed": None}
    gone = browser.lesson(lesson_id)
    assert (gone["swings"], gone["recordings"], gone["can_undo"]) == ([], [], None)
    assert gone["can_redo"] == "import of session.zip"
    assert all(s["counting"] == 0 for s in gone["summaries"])
    assert browser.get(f"/swings/{swing}").status_code == 404
    assert browser.get(f"/swings/{swing}/traces").status_code == 404
    assert browser.patch(f"/swings/{swing}", {"strike": "heel"}).status_code == 404
    undo(browser, lesson_id, "redo")
    undo(browser, lesson_id, "redo")
    after = browser.lesson(lesson_id)
    assert after["swings"] == before["swings"]
    assert after["summaries"] == before["summaries"]
    assert browser.swing(swing)["judged"] == judged
    top = next(e for e in browser.swing(swing)["events"] if e["name"] == "top")
    moved = browser.patch(f"/swings/{swing}", {"checkpoint": {"name": "top", "time_s": top["time_s"] + 0.02}})
    assert moved.status_code == 200, moved.text  # its raw streams are still there


def test_what_is_undone_is_in_no_list_no_course_and_no_cohort(browser, lesson_id):
    player = browser.lesson(lesson_id)["player"]["id"]
    seen = browser.get("/benchmarks/beside").json()["own"]
    undo(browser, lesson_id)
    assert browser.get("/benchmarks/beside").json()["own"] == seen - 1
    told = browser.get(f"/players/{player}").json()
    assert [x["swings"] for x in told["lessons"] if x["id"] == lesson_id] == [0]
    export = browser.get(f"/lessons/{lesson_id}/export")
    assert b"swing-1" not in export.content


def test_numbers_go_on_while_it_can_come_back_and_begin_anew_when_it_cannot(browser, lesson_id):
    undo(browser, lesson_id)
    assert drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    swings, said, again = shown(browser, lesson_id)
    assert ([n for _, n in swings], said, again) == ([1, 2, 3, 4, 5], "import of session.zip", None)
    assert browser.post(f"/lessons/{lesson_id}/redo").status_code == 409  # the first one is gone for good
    undo(browser, lesson_id)
    assert shown(browser, lesson_id)[0] == []


def test_a_mark_forgets_what_was_undone(browser, lesson_id, services):
    assert drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    undo(browser, lesson_id)
    swings, _, again = shown(browser, lesson_id)
    assert (len(swings), again) == (5, "import of session.zip")
    browser.patch(f"/swings/{swings[0][0]}", {"strike": "toe"})
    assert shown(browser, lesson_id)[2] is None


def test_what_a_colleague_marked_is_not_taken_out_unseen(browser, colleague, lesson_id):
    swing = shown(browser, lesson_id)[0][0][0]
    assert colleague.patch(f"/swings/{swing}", {"strike": "toe"}).status_code == 200
    refused = browser.post(f"/lessons/{lesson_id}/undo")
    assert refused.status_code == 409
    assert "has changed the same since (swing 1: strike)" in refused.json()["message"]
    assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 409
    assert len(shown(browser, lesson_id)[0]) == 5


def test_erasing_takes_what_was_set_aside(browser, lesson_id, services):
    from finearc.services.records import Chunk, Recording, Swing

    player = browser.lesson(lesson_id)["player"]["id"]
    undo(browser, lesson_id)
    with services.store.front_door() as door:
        academy = next(a for a in door.academies() if a.name == browser.get("/academy").json()["name"])
    with services.store.unit_of_work(academy.id) as uow:
        aside = uow.find_aside(Recording)
        assert [r.lesson_id for r in aside if str(r.lesson_id) == lesson_id]
    assert browser.send("DELETE", f"/players/{player}").status_code in (200, 204)
    with services.store.unit_of_work(academy.id) as uow:
        left = [*uow.find_aside(Recording), *uow.find_aside(Swing)]
        assert not [r for r in left if str(r.lesson_id) == lesson_id]
        assert not uow.find(Chunk, recording_id=[r.id for r in aside if str(r.lesson_id) == lesson_id])
