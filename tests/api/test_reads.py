"""What screens ask for: bounded queries and sizes, what a change answers, what a closed lesson keeps."""

from __future__ import annotations

from contextlib import contextmanager

import pytest
from sqlalchemy import event

from finearc.formats.benchmarks import ranges_toml
from tests.api.conftest import bundle, drop, new_lesson
from tests.formats.test_benchmarks import OWN

ALL = ("wrist", "club", "body", "markers", "pressure")


@pytest.fixture(scope="module")
def lesson_id(browser):
    """Five swings seen by five sources."""
    made = new_lesson(browser)
    assert drop(browser, made, bundle("over-extended", 11, sources=ALL)).status_code == 201
    return made


@pytest.fixture
def queries(services):
    """Counts the SQL statements of a request, sign-in included."""

    @contextmanager
    def counting(most):
        found = []

        def one(connection, cursor, statement, *_):
            found.append(statement)

        event.listen(services.store.engine, "before_cursor_execute", one)
        try:
            yield
        finally:
            event.remove(services.store.engine, "before_cursor_execute", one)
        assert len(found) <= most, "\n".join(found)

    return counting


def test_every_screen_asks_a_bounded_number_of_questions(browser, lesson_id, queries):
    swing = browser.lesson(lesson_id)["swings"][1]
    path = f"/swings/{swing['id']}"
    player = browser.lesson(lesson_id)["player"]["id"]
    for first in (path, f"/players/{player}"):  # a look stands in the log once in a while, not with every click
        browser.get(first)
    with queries(6):
        assert browser.get(path).status_code == 200
    with queries(8):
        assert browser.get(f"/lessons/{lesson_id}").status_code == 200
    for patch in (
        {"strike": "toe"},
        {"kind": "drill"},
        {"kind": "normal"},
        {"ball_start": "lead", "ball_curve": "trail"},
    ):
        with queries(6):
            assert browser.patch(path, patch).status_code == 200
    with queries(6):
        assert browser.patch(f"/lessons/{lesson_id}", {"note": "Quiet hands."}).status_code == 200
    # the first screen of the day asks what is left open, what is free, what was practised
    for read, most in (("/players", 8), (f"/players/{player}", 8), ("/diary", 12), ("/diary/span", 9), ("/waiting", 6)):
        with queries(most):
            assert browser.get(read).status_code == 200


def test_the_diary_asks_no_more_for_more_lessons(browser, queries):
    me = browser.get("/me").json()
    for hour in range(8, 18):
        player = browser.post("/players", {"name": f"Diary {hour}", "consent_by": "x"}).json()
        body = {"player_id": player["id"], "instructor_id": me["instructor_id"], "bay": "Bay 2", "minutes": 45}
        assert browser.post("/lessons", {**body, "starts_at": f"2032-05-03T{hour:02d}:00:00Z"}).status_code == 201
    with queries(8):
        diary = browser.get("/diary", params={"day": "2032-05-03"}).json()
    assert [x["starts_at"][11:13] for x in diary["lessons"]] == [f"{h:02d}" for h in range(8, 18)]
    assert "Bay 2" in diary["bays"]


def test_a_five_source_swing_and_its_lesson_are_small(browser, lesson_id):
    swing = browser.lesson(lesson_id)["swings"][2]
    assert len(browser.get(f"/swings/{swing['id']}").content) <= 40_000
    assert len(browser.get(f"/lessons/{lesson_id}").content) <= 80_000
    found = browser.swing(swing["id"])
    assert len(found["metrics"]) > 400
    at = {(v["metric"], v["moment"]): v for v in found["metrics"]}
    order = ("address", "takeaway", "shaft_level_back", "arm_level_back", "top")
    for metric, table in found["values"].items():
        for place, moment in enumerate(order):
            if table["at"] and table["at"][place] is not None:
                assert at[metric, moment]["value"] == pytest.approx(table["at"][place], abs=0.06)
    judged = {(v["metric"], v["moment"]) for v in found["judged"]}
    assert {k for k, v in at.items() if v.get("band")} <= judged


def test_a_block_has_an_address_that_may_be_kept_for_ever(browser, lesson_id):
    swing = browser.lesson(lesson_id)["swings"][3]
    answer = browser.block(swing)
    assert answer.headers["cache-control"] == "private, max-age=31536000, immutable"
    assert answer.content[:4] == b"FAT1"
    assert browser.get(f"/swings/{swing['id']}/blocks/traces/99").status_code == 409
    assert browser.get(f"/swings/{swing['id']}/blocks/video/1").status_code == 422


def test_a_mark_answers_with_what_it_changed_and_the_lesson_agrees(browser, lesson_id):
    before = browser.lesson(lesson_id)
    swing = before["swings"][4]
    answer = browser.patch(f"/swings/{swing['id']}", {"kind": "warm_up"}).json()
    after = browser.lesson(lesson_id)
    assert answer["brief"] == after["swings"][4]
    assert answer["summaries"] == after["summaries"]
    assert answer["summaries"][0]["counting"] == before["summaries"][0]["counting"] - 1
    assert (answer["can_undo"], answer["can_redo"]) == (after["can_undo"], after["can_redo"])
    assert "swing" not in answer
    assert answer["stale"]
    whole = browser.get(f"/swings/{swing['id']}").json()
    assert (answer["headline"], answer["findings"]) == (whole["headline"], whole["findings"])
    browser.post(f"/lessons/{lesson_id}/undo")
    tagged = browser.patch(f"/swings/{swing['id']}", {"tags": ["skilled"]}).json()
    assert tagged["summaries"] == []
    assert not tagged["stale"]


def test_what_is_undone_and_done_again_answers_with_the_swing_as_it_is_then(browser, lesson_id):
    swing = browser.lesson(lesson_id)["swings"][4]
    browser.patch(f"/swings/{swing['id']}", {"kind": "warm_up"})
    for way, kind in (("undo", "normal"), ("redo", "warm_up"), ("undo", "normal")):
        answer = browser.post(f"/lessons/{lesson_id}/{way}").json()
        after = browser.lesson(lesson_id)
        assert answer["changed"]["brief"] == after["swings"][4]
        assert answer["changed"]["brief"]["kind"] == kind
        assert answer["changed"]["swing"] == browser.get(f"/swings/{swing['id']}").json()
        assert {s["club"]: s for s in answer["changed"]["summaries"]} == {s["club"]: s for s in after["summaries"]}
        assert (answer["changed"]["can_undo"], answer["changed"]["can_redo"]) == (after["can_undo"], after["can_redo"])
    browser.post(f"/lessons/{lesson_id}/terms", {"schools": {"lead_wrist": "flat"}})
    answer = browser.post(f"/lessons/{lesson_id}/undo").json()
    assert answer["changed"] is None, "another school changes every swing"


def test_what_came_to_a_lesson_is_told_alone(browser, lesson_id, queries):
    lesson = browser.lesson(lesson_id)
    with queries(8):
        came = browser.get(f"/lessons/{lesson_id}/joined", params={"after": 3}).json()
    assert came["swings"] == [s for s in lesson["swings"] if s["number"] > 3]
    assert came["summaries"] == lesson["summaries"]
    assert (came["recordings"], came["blocks"]) == (lesson["recordings"], lesson["blocks"])
    none = browser.get(f"/lessons/{lesson_id}/joined", params={"after": 99}).json()
    assert (none["swings"], none["summaries"]) == ([], [])


def test_a_moved_checkpoint_answers_with_the_swing_and_only_it_is_measured(browser, lesson_id):
    before = browser.lesson(lesson_id)["swings"]
    swing = browser.swing(before[2]["id"])
    top = next(e["time_s"] for e in swing["events"] if e["name"] == "top")
    answer = browser.patch(f"/swings/{swing['id']}", {"checkpoint": {"name": "top", "time_s": top - 0.05}}).json()
    assert answer["swing"]["measuring"] == swing["measuring"] + 1
    after = browser.lesson(lesson_id)["swings"]
    assert [s["measuring"] for s in after] == [s["measuring"] + (s["id"] == swing["id"]) for s in before]
    assert browser.block(answer["swing"]).content[:4] == b"FAT1"
    browser.post(f"/lessons/{lesson_id}/undo")
    assert browser.swing(swing["id"])["metrics"] == swing["metrics"]


def test_one_swing_measured_alone_is_as_measuring_all_of_the_recording(browser, services, lesson_id):
    """With the recording prepared in memory, and without it."""
    from finearc.services.capture import prepared

    swing = browser.lesson(lesson_id)["swings"][1]
    top = next(e["time_s"] for e in browser.swing(swing["id"])["events"] if e["name"] == "top")
    body = {"checkpoint": {"name": "top", "time_s": top - 0.04}}
    warm = browser.changed(browser.patch(f"/swings/{swing['id']}", body))
    browser.post(f"/lessons/{lesson_id}/undo")
    prepared.KEPT.__init__()
    cold = browser.changed(browser.patch(f"/swings/{swing['id']}", body))
    browser.post(f"/lessons/{lesson_id}/undo")
    assert warm["metrics"] == cold["metrics"]
    assert warm["bands"] == cold["bands"]


def test_judging_otherwise_shows_what_keeping_it_gives(browser, lesson_id):
    asked = browser.post(f"/lessons/{lesson_id}/what-if", {"schools": {"lead_wrist": "flat"}}).json()
    before = {f["finding"] for f in browser.lesson(lesson_id)["summaries"][0]["findings"]}
    browser.post(f"/lessons/{lesson_id}/terms", {"schools": {"lead_wrist": "flat"}})
    summary = browser.lesson(lesson_id)["summaries"][0]
    assert [p["finding"] for p in summary["proposals"]] == [p["finding"] for p in asked["after"]]
    kept = {f["finding"] for f in summary["findings"]}
    assert kept - before == {f["finding"] for f in asked["new"]}
    assert before - kept == {f["finding"] for f in asked["gone"]}
    browser.post(f"/lessons/{lesson_id}/undo")
    assert {f["finding"] for f in browser.lesson(lesson_id)["summaries"][0]["findings"]} == before


def test_rows_of_values_verdicts_and_findings_say_what_the_documents_say(browser, services, lesson_id):
    from sqlalchemy import text

    swing = browser.swing(browser.lesson(lesson_id)["swings"][0]["id"])
    with services.store.engine.connect() as connection:

        def rows(query):
            return connection.execute(text(query), {"s": swing["id"]}).all()

        values = rows("SELECT metric, moment, value FROM swing_value WHERE swing_id = :s")
        verdicts = rows("SELECT metric, moment, verdict, range_id FROM swing_verdict WHERE swing_id = :s")
        findings = rows("SELECT finding, severity FROM swing_finding WHERE swing_id = :s")
    assert {(m, k) for m, k, _ in values} == {(v["metric"], v["moment"]) for v in swing["metrics"]}
    assert {(m, k): (v, r) for m, k, v, r in verdicts} == {
        (v["metric"], v["moment"]): (v["verdict"], v["band"]["range_id"]) for v in swing["judged"] if "band" in v
    }
    assert dict((f, s) for f, s in findings) == {f["finding"]: f["severity"] for f in swing["findings"]}


def test_a_closed_lesson_keeps_ranges_findings_drills_and_schools_of_its_day(browser):
    """The academy changes all four; the lesson does not."""
    lesson_id = new_lesson(browser, "Kept Person")
    drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club")))
    browser.send("POST", "/academy-rules/import", files={"file": ("own.toml", OWN, "application/toml")})
    chosen = {"finding": "over_extended_top", "label": "Over-extended", "drill": "peg_pointer", "why": "w"}
    assert browser.post(f"/lessons/{lesson_id}/close", {"priorities": [chosen]}).status_code == 200
    swing_id = browser.lesson(lesson_id)["swings"][0]["id"]
    before, swing = browser.lesson(lesson_id), browser.swing(swing_id)
    page = browser.get(f"/lessons/{lesson_id}/page").text
    schools = browser.get("/academy-rules").json()["schools"]
    rules = browser.get("/academy-rules").json()
    own = rules["findings"][0]["id"]
    words = {"label": "Quite another name", "how": "Otherwise.", "feel": "", "revision": rules["revision"]}
    wide = ranges_toml_with(top=(-60, 60))
    try:
        made = browser.send("POST", "/benchmarks/import", files={"file": ("wide.toml", wide, "application/toml")})
        label = made.json()["label"]
        assert browser.post("/benchmarks/use", {"label": label}).status_code == 200
        assert browser.put("/academy-rules/drills/peg_pointer", words).status_code == 200
        assert browser.send("DELETE", f"/academy-rules/findings/{own}").status_code == 200
        assert browser.put("/academy-rules/schools", {"schools": {**schools, "lead_wrist": "flat"}}).status_code == 200
        assert browser.lesson(lesson_id) == before
        assert browser.swing(swing_id) == swing
        assert browser.get(f"/lessons/{lesson_id}/page").text == page
        assert "Quite another name" not in page
    finally:
        browser.put("/academy-rules/schools", {"schools": schools})
        browser.post("/benchmarks/use", {"label": ""})
        revision = browser.get("/academy-rules").json()["revision"]
        browser.put("/academy-rules/drills/peg_pointer", {"label": "", "how": "", "feel": "", "revision": revision})


def ranges_toml_with(top):
    from finearc.catalogue import library

    text = ranges_toml(library.ranges())
    assert '"builtin-5"' in text
    return text.replace('"builtin-5"', '"Wide open 1"').replace("low = 0", f"low = {top[0]}", 1)
