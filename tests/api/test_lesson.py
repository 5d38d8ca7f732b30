"""The course of a lesson, from the diary to the page that goes home."""

from __future__ import annotations

import io
import json
import re
import zipfile
from io import BytesIO

import pytest
from pypdf import PdfReader

from finearc.cli.main import main
from finearc.core.sources.inertial import INERTIAL
from finearc.formats.bundle import read_bundle
from finearc.services.record.blocks import unpack_traces
from finearc.services.records import Chunk, Lesson, Player, Recording, Swing
from tests.api.conftest import bundle, drop, measure_again, new_lesson, wait


@pytest.fixture
def lesson_id(browser):
    """A lesson with seven swings of an over-extended wrist."""
    made = new_lesson(browser)
    assert drop(browser, made, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    return made


def swing(browser, lesson_id, number=1):
    brief = browser.lesson(lesson_id)["swings"][number - 1]
    return browser.swing(brief["id"])


def extension_top(swing):
    return next(m for m in swing["metrics"] if (m["metric"], m["moment"]) == ("lead_wrist_extension", "top"))


def shown(browser, lesson_id, finding="over_extended_top"):
    summary = browser.lesson(lesson_id)["summaries"][0]
    found = next((f for f in summary["findings"] if f["finding"] == finding), None)
    return (found["shown"], found["assessed"]) if found else None


def test_a_bundle_prints_equal_numbers_in_the_interface_and_on_the_command_line(browser, tmp_path, capsys):
    main(["simulate", "--scenario", "dip", "--seed", "4711", "--sources", "wrist,club", str(tmp_path / "own.zip")])
    capsys.readouterr()
    main(["analyze", str(tmp_path / "own.zip"), "--json"])
    printed = json.loads(capsys.readouterr().out)
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, (tmp_path / "own.zip").read_bytes())
    for brief, expected in zip(browser.lesson(lesson_id)["swings"], printed["swings"], strict=True):
        got = browser.swing(brief["id"])
        assert {(m["metric"], m["moment"]): m["value"] for m in got["metrics"]} == {
            (m["metric"], m["event"]): m["value"] for m in expected["metrics"]
        }
        assert {k for m in got["missing"] for k in m["metrics"]} == {m["metric"] for m in expected["missing"]}
    assert {f["finding"] for f in browser.lesson(lesson_id)["summaries"][0]["findings"]} == {
        f["finding"] for f in printed["swings"][0]["findings"]
    }


def test_marking_warm_ups_changes_what_a_finding_rests_on_and_undo_restores(browser, lesson_id):
    assert shown(browser, lesson_id) == (5, 5)
    for number in (1, 2):
        patched = browser.patch(f"/swings/{swing(browser, lesson_id, number)['id']}", {"kind": "warm_up"})
        assert patched.json()["brief"]["kind"] == "warm_up"
    browser.patch(f"/swings/{swing(browser, lesson_id, 3)['id']}", {"kind": "drill"})
    assert shown(browser, lesson_id) == (2, 2)
    assert browser.post(f"/lessons/{lesson_id}/undo").json()["label"] == "swing 3: drill"
    assert shown(browser, lesson_id) == (3, 3)
    assert browser.post(f"/lessons/{lesson_id}/redo").status_code == 200
    assert shown(browser, lesson_id) == (2, 2)
    for _ in range(3):
        assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 200
    assert shown(browser, lesson_id) == (5, 5)
    assert browser.post(f"/lessons/{lesson_id}/undo").json()["label"] == "import of session.zip"
    assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 409


def test_a_discard_needs_a_reason(browser, lesson_id):
    path = f"/swings/{swing(browser, lesson_id)['id']}"
    assert browser.patch(path, {"kind": "discard"}).status_code == 409
    assert browser.patch(path, {"kind": "discard", "reason": "topped"}).json()["brief"]["discard_reason"] == "topped"
    assert shown(browser, lesson_id) == (4, 4)


def test_dragging_the_top_changes_value_and_keeps_the_detected_one(browser, lesson_id):
    before = swing(browser, lesson_id)
    top = next(e for e in before["events"] if e["name"] == "top")
    path = f"/swings/{before['id']}"
    moved = browser.changed(browser.patch(path, {"checkpoint": {"name": "top", "time_s": top["time_s"] - 0.2}}))
    event = next(e for e in moved["events"] if e["name"] == "top")
    assert event["time_s"] == pytest.approx(top["time_s"] - 0.2, abs=1e-3)
    assert (event["method"], event["corrected"]) == ("instructor", True)
    assert event["detected_s"] == pytest.approx(top["time_s"])
    assert extension_top(moved)["value"] < extension_top(before)["value"] - 3
    again = browser.swing(path.split("/")[2])
    assert extension_top(again) == extension_top(moved)
    assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 200
    assert extension_top(browser.swing(path.split("/")[2]))["value"] == pytest.approx(extension_top(before)["value"])


def test_an_event_cannot_pass_its_neighbours(browser, lesson_id):
    one = swing(browser, lesson_id)
    impact = next(e["time_s"] for e in one["events"] if e["name"] == "impact")
    answer = browser.patch(f"/swings/{one['id']}", {"checkpoint": {"name": "top", "time_s": impact + 0.01}})
    assert answer.status_code == 409
    assert "must come before" in answer.json()["message"]
    assert browser.patch(f"/swings/{one['id']}", {"checkpoint": {"name": "topp", "time_s": 1}}).status_code == 409


def test_ball_flight_is_kept_by_lead_and_trail_side_and_fits_a_finding(browser, lesson_id):
    for number in range(1, 6):
        path = f"/swings/{swing(browser, lesson_id, number)['id']}"
        assert (
            browser.patch(path, {"ball_start": "straight", "ball_curve": "trail", "strike": "thin"}).status_code == 200
        )
    finding = browser.lesson(lesson_id)["summaries"][0]["findings"][0]
    assert finding["fits"] == ["slice"]
    assert "fits with the ball flight: slice" in swing(browser, lesson_id)["headline"]["tends"]
    assert browser.patch(path, {"ball_start": "left", "ball_curve": "trail"}).status_code == 422


def test_swings_are_grouped_and_judged_by_club(browser, lesson_id):
    path = f"/swings/{swing(browser, lesson_id)['id']}"
    patched = browser.changed(browser.patch(path, {"club": "driver"}))
    assert extension_top(patched)["verdict"] == "not_judged"
    assert "club" in extension_top(patched)["reason"]
    assert shown(browser, lesson_id) == (4, 4)
    assert {t["club"]: t["counting"] for t in browser.lesson(lesson_id)["summaries"]} == {"7-iron": 4, "driver": 1}
    browser.post(f"/lessons/{lesson_id}/undo")
    assert extension_top(browser.swing(path.split("/")[2]))["verdict"] == "high"


def test_another_school_gives_other_verdicts_and_the_same_values(browser, lesson_id):
    before = extension_top(swing(browser, lesson_id))
    player = browser.lesson(lesson_id)["player"]
    body = {"name": player["name"], "consent_by": "x", "schools": {"lead_wrist": "flat"}}
    assert browser.send("PUT", f"/players/{player['id']}", json=body).status_code == 200
    after = extension_top(swing(browser, lesson_id))
    assert (before["band"]["range_id"], after["band"]["range_id"]) == ("W3a", "W3b")
    assert after["value"] == before["value"]
    one = swing(browser, lesson_id)
    assert len(one["bands"]["lead_wrist_extension"]) >= 3
    assert "lead_wrist_extension_band_low" in browser.get(f"/swings/{one['id']}/traces.csv").text.splitlines()[0]


def test_a_junior_gets_the_pattern_and_nothing_judged(browser):
    lesson_id = new_lesson(browser, population="junior", consent_as="guardian")
    drop(browser, lesson_id, bundle("over-hinged", 3))
    one = swing(browser, lesson_id)
    assert one["pattern"] == "extend_more"
    assert {m["verdict"] for m in one["metrics"]} == {"not_judged"}
    assert browser.lesson(lesson_id)["summaries"][0]["findings"] == []


def test_a_slip_is_a_warning_and_nothing_is_compared_across_it(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("turned-sensor", 21))
    lesson = browser.lesson(lesson_id)
    assert [s["sensor_moved"] for s in lesson["swings"]] == [False, False, True, True, True]
    assert lesson["summaries"][0]["counting"] == 2
    assert "calibrate again" in browser.swing(lesson["swings"][2]["id"])["headline"]["text"]
    drop(browser, lesson_id, bundle("hold-then-flex", 22))
    lesson = browser.lesson(lesson_id)
    assert len(lesson["recordings"]) == 2
    assert lesson["summaries"][0]["counting"] == 7


def test_a_changed_grip_is_asked_about_once_and_answered_both_ways(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("grip-changed", 3))
    swings = browser.lesson(lesson_id)["swings"]
    assert [bool(s["grip"]) for s in swings] == [False, False, True, False, False]
    asked = swings[2]["grip"]
    assert asked["plain_question"] == "14° more cupped at address than before: the grip, or the sensor?"
    assert asked["question"].startswith("14° more extended")
    assert asked["answer"] == ""

    def judged():
        lesson = browser.lesson(lesson_id)
        return lesson["summaries"][0]["counting"], [s["sensor_moved"] for s in lesson["swings"]]

    def verdicts(k):
        return {m["verdict"] for m in browser.swing(swings[k]["id"])["metrics"]}

    everything = (5, [False] * 5)
    assert judged() == everything
    answer = browser.patch(f"/swings/{swings[2]['id']}", json={"grip": "sensor"})
    assert answer.status_code == 200, answer.text
    assert answer.json()["can_undo"] == "swing 3: the sensor moved"
    assert judged() == (2, [False, False, True, True, True])
    assert verdicts(3) == {"not_judged"}
    assert verdicts(1) != {"not_judged"}
    assert browser.post(f"/lessons/{lesson_id}/undo").status_code == 200
    assert judged() == everything
    assert verdicts(3) != {"not_judged"}
    assert browser.post(f"/lessons/{lesson_id}/redo").status_code == 200
    assert judged()[0] == 2
    assert browser.patch(f"/swings/{swings[2]['id']}", json={"grip": "grip"}).status_code == 200
    assert judged() == everything
    assert browser.lesson(lesson_id)["swings"][2]["grip"]["answer"] == "grip"
    refused = browser.patch(f"/swings/{swings[0]['id']}", json={"grip": "grip"})
    assert refused.status_code == 409
    assert "nothing is asked about swing 1" in refused.json()["message"]


def test_after_the_sensor_was_blamed_later_swings_are_not_judged_until_the_next_calibration(browser, services):
    """A checkpoint that is moved measures a swing again, and a swing that joins is measured for the first time: neither
    forgets what was answered."""
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("grip-changed", 3))
    swings = browser.lesson(lesson_id)["swings"]
    browser.patch(f"/swings/{swings[2]['id']}", json={"grip": "sensor"})
    top = next(e["time_s"] for e in browser.swing(swings[4]["id"])["events"] if e["name"] == "top")
    moved = browser.patch(f"/swings/{swings[4]['id']}", json={"checkpoint": {"name": "top", "time_s": top + 0.01}})
    assert moved.status_code == 200
    assert [s["sensor_moved"] for s in browser.lesson(lesson_id)["swings"]] == [False, False, True, True, True]
    drop(browser, lesson_id, bundle("hold-then-flex", 22))
    assert [s["sensor_moved"] for s in browser.lesson(lesson_id)["swings"]][5:] == [False] * 5


@pytest.mark.parametrize(
    ("content", "status", "words"),
    [
        (b"no zip at all", 422, "not a zip file"),
        (b"", 422, "not a zip file"),
        (bundle("poses-too-close"), 422, "at least 30° is needed"),
    ],
)
def test_a_bad_bundle_leaves_nothing_half_saved(browser, services, content, status, words):
    lesson_id = new_lesson(browser)
    answer = drop(browser, lesson_id, content)
    assert answer.status_code == status
    assert words in answer.json()["message"]
    lesson = browser.lesson(lesson_id)
    assert (lesson["recordings"], lesson["swings"]) == ([], [])


def test_a_still_capture_alone_gives_a_setup_answer(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("setup-only", 4))
    lesson = browser.lesson(lesson_id)
    assert lesson["swings"] == []
    setup = lesson["recordings"][0]["setup"]
    assert setup["question"] == "How does the grip show in the wrist?"
    assert "cupped at address" in setup["plain_answer"]
    assert setup["instruction"]


def test_a_bundle_of_the_other_hand_is_refused(browser):
    from finearc.core.frames.handedness import Hand

    lesson_id = new_lesson(browser)
    answer = drop(browser, lesson_id, bundle("flip", 2, hand=Hand.LEFT))
    assert answer.status_code == 409
    assert "left-handed" in answer.json()["message"]


def test_twins_of_both_hands_give_the_same_numbers(browser):
    from finearc.core.frames.handedness import Hand

    values = []
    for hand in (Hand.RIGHT, Hand.LEFT):
        lesson_id = new_lesson(browser, handedness=hand.value)
        drop(browser, lesson_id, bundle("dip", 8, hand=hand))
        values.append([(m["metric"], m["moment"], round(m["value"], 3)) for m in swing(browser, lesson_id)["metrics"]])
    assert values[0] == values[1]


def test_the_diary_refuses_a_double_booking(browser):
    me = browser.get("/me").json()["instructor_id"]
    player = browser.post("/players", {"name": "Booked", "consent_by": "x"}).json()["id"]
    body = {
        "player_id": player,
        "instructor_id": me,
        "bay": "Bay 2",
        "starts_at": "2032-05-04T10:00:00Z",
        "minutes": 45,
    }
    assert browser.post("/lessons", body).status_code == 201
    clash = browser.post("/lessons", {**body, "starts_at": "2032-05-04T10:30:00Z"})
    assert clash.status_code == 409
    assert "already booked from 10:00 to 10:45" in clash.json()["message"]
    assert browser.post("/lessons", {**body, "starts_at": "2032-05-04T10:45:00Z"}).status_code == 201
    day = browser.get("/diary", params={"day": "2032-05-04"}).json()
    assert [e["starts_at"][11:16] for e in day["lessons"]] == ["10:00", "10:45"]


def test_a_walk_in_without_consent_is_erased_at_the_close(browser, services):
    made = browser.post("/lessons/start-now", {"handedness": "left", "club": "8-iron"}).json()
    from finearc.core.frames.handedness import Hand

    drop(browser, made["id"], bundle("flat", 4, hand=Hand.LEFT))
    academy = _academy(services)
    assert browser.post(f"/lessons/{made['id']}/close", {"priorities": []}).json() == {"kept": False}
    assert browser.get(f"/lessons/{made['id']}").status_code == 404
    with services.store.unit_of_work(academy) as uow:
        for kind in (Lesson, Recording, Swing, Chunk, Player):
            own = [
                r for r in uow.find(kind) if str(getattr(r, "lesson_id", r.id)) in (made["id"], made["player"]["id"])
            ]
            assert own == []


def test_a_walk_in_that_is_named_with_consent_is_kept(browser):
    made = browser.post("/lessons/start-now", {"handedness": "right", "club": "7-iron"}).json()
    named = browser.post(f"/players/{made['player']['id']}/name", {"name": "Named Now", "consent_by": "Named Now"})
    assert named.json()["consent"] is True
    assert browser.post(f"/lessons/{made['id']}/close", {"priorities": []}).json() == {"kept": True}


def test_at_most_two_priorities_one_page_and_the_lesson_is_found_again(browser, lesson_id):
    browser.patch(f"/lessons/{lesson_id}", {"pain": "yes", "pain_note": "sore elbow"})
    three = [{"finding": f, "label": f} for f in ("flip", "palm_grip", "early_release")]
    assert browser.post(f"/lessons/{lesson_id}/close", {"priorities": three}).status_code == 422
    proposal = browser.lesson(lesson_id)["summaries"][0]["proposals"][0]
    body = {
        "priorities": [{"finding": proposal["finding"], "label": proposal["label"], "drill": proposal["drills"][0]}],
        "note": "Half swings only.",
        "next_date": "2031-03-01",
    }
    assert browser.post(f"/lessons/{lesson_id}/close", body).json() == {"kept": True}
    page = browser.get(f"/lessons/{lesson_id}/page").text
    for words in (
        "Cups past the band at the top",
        "Peg in the glove",
        "Half swings only.",
        "1 March 2031",
        "<polyline",
    ):
        assert words in page
    assert "sore elbow" not in page
    assert "@font-face" in page
    assert "/page.css" not in page  # it is whole in itself: saved, sent, opened elsewhere
    assert re.search(r"Wrist cup at top: \d+° cupped, swing \d", page)
    pdf = browser.get(f"/lessons/{lesson_id}/page.pdf").content
    sheets = PdfReader(BytesIO(pdf)).pages
    assert len(sheets) == 1
    printed = " ".join(sheets[0].extract_text().split())
    for words in (
        "Cups past the band at the top",
        "Half swings only.",
        "1 March 2031",
        "licensed health professional",
    ):
        assert words in printed
    assert "sore elbow" not in printed
    player = browser.get(f"/players/{browser.lesson(lesson_id)['player']['id']}").json()
    assert player["lessons"][0]["priorities"][0]["drill_label"] == "Peg in the glove"


def test_a_limit_withholds_what_asks_for_more(browser):
    made = new_lesson(browser)
    drop(browser, made, bundle("short-early-turn", 11, sources=("wrist", "club", "body")))
    player = browser.lesson(made)["player"]["id"]
    answer = browser.post(f"/players/{player}/limits", {"area": "back", "movement": "turn", "comfortable": 61.0})
    assert answer.json()["limits"][0]["holds"] is True
    proposal = browser.lesson(made)["summaries"][0]["proposals"][0]
    assert (proposal["finding"], proposal["drills"]) == ("short_early_turn", ["trail_foot_out"])
    assert proposal["withheld"][0]["drill"] == "turn_first"
    assert "61°" in proposal["withheld"][0]["reason"]


def test_train_test_and_changed_or_too_early_to_tell(browser, lesson_id):
    block = {"kind": "drill", "finding": "over_extended_top", "metric": "lead_wrist_extension", "moment": "top"}
    lesson = browser.post(f"/lessons/{lesson_id}/blocks", block).json()
    assert (lesson["kind"], lesson["blocks"][0]["running"]) == ("drill", True)
    drop(browser, lesson_id, bundle("half-speed", 31))
    assert browser.lesson(lesson_id)["swings"][-1]["kind"] == "drill"
    lesson = browser.post(f"/lessons/{lesson_id}/blocks", {**block, "kind": "test"}).json()
    assert lesson["blocks"][1]["change"]["sentence"].startswith("Too early to tell")
    drop(browser, lesson_id, bundle("hold-then-flex", 32))
    change = browser.lesson(lesson_id)["blocks"][1]["change"]
    assert (len(change["before"]), len(change["after"])) == (5, 5)
    assert change["across_calibrations"] is True
    assert change["changed"] is True
    assert change["before_median"] > change["after_median"] + 10
    assert change["sentence"].startswith("Changed.")
    assert browser.post(f"/lessons/{lesson_id}/blocks/end").json()["kind"] == "normal"


def test_pinned_swings_are_the_before(browser, lesson_id):
    ids = [s["id"] for s in browser.lesson(lesson_id)["swings"][:2]]
    assert browser.post(f"/lessons/{lesson_id}/pin", {"swing_ids": ids}).json()["pinned"] == ids
    other = new_lesson(browser)
    assert browser.post(f"/lessons/{other}/pin", {"swing_ids": ids}).status_code == 409


def test_export_imports_again_without_loss(browser, lesson_id, tmp_path):
    content = browser.get(f"/lessons/{lesson_id}/export").content
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        archive.extractall(tmp_path)
    record = json.loads((tmp_path / "lesson.json").read_text())
    assert len(record["swings"]) == 5
    data = read_bundle(tmp_path / "recording-1")
    again = new_lesson(browser)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        for path in (tmp_path / "recording-1").iterdir():
            archive.write(path, path.name)
    assert drop(browser, again, packed.getvalue()).status_code == 201
    a, c = swing(browser, lesson_id), swing(browser, again)
    assert [(m["metric"], m["moment"], m["value"]) for m in a["metrics"]] == [
        (m["metric"], m["moment"], m["value"]) for m in c["metrics"]
    ]
    assert len(data.streams[INERTIAL]) == 3


def test_traces_travel_as_one_compact_block(browser, lesson_id):
    one = swing(browser, lesson_id)
    answer = browser.block(one)
    columns = unpack_traces(answer.content)
    assert {"time_s", "lead_wrist_extension", "shaft_elevation"} <= set(columns)
    assert len(answer.content) < 60_000
    assert browser.get(f"/swings/{one['id']}/traces.csv").text.startswith("time_s,lead_wrist_extension")


def test_forgetting_every_result_and_measuring_again_gives_the_same(browser, lesson_id):
    before = swing(browser, lesson_id, 2)
    traces = browser.block(before).content
    measure_again(browser)
    again = swing(browser, lesson_id, 2)
    assert again == {**before, "measuring": before["measuring"] + 1}
    assert browser.block(again).content == traces


def test_the_stand_in_calibrates_checks_the_setup_and_swings(browser):
    lesson_id = new_lesson(browser)
    assert browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1}).status_code == 409
    assert browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": "flp"}).status_code == 422
    assert browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": "palm-grip", "seed": 3}).status_code == 201
    recording = wait(lambda: next((t for t in browser.lesson(lesson_id)["recordings"] if t["setup"]), None))
    assert recording["calibration"]["quality"] > 0.5
    assert "palm" in recording["setup"]["instruction"]
    browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 3})
    swings = wait(lambda: (s := browser.lesson(lesson_id)["swings"]) and len(s) == 3 and s)
    assert [s["number"] for s in swings] == [1, 2, 3]
    assert browser.lesson(lesson_id)["summaries"][0]["findings"][0]["finding"] == "palm_grip"


def test_the_stand_in_refuses_poses_too_close_and_no_value_leaks_out(browser):
    lesson_id = new_lesson(browser)
    browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": "poses-too-close", "seed": 3})
    recording = wait(lambda: next((t for t in browser.lesson(lesson_id)["recordings"] if t["calibration"]), None))
    assert "at least 30° is needed" in recording["calibration"]["refused"]
    assert recording["calibration"]["quality"] is None
    assert recording["setup"] is None
    assert browser.lesson(lesson_id)["swings"] == []


def _academy(services):
    with services.store.front_door() as door:
        return next(a.id for a in door.academies() if a.name == "North")


def test_a_limit_is_removed_from_the_player_whose_it_is(browser):
    """A limit of somebody else, named under this player, is not found and stays."""
    one, other = (
        browser.post("/players", {"name": name, "handedness": "right"}).json()["id"] for name in ("Limited", "Free")
    )
    limit = browser.post(f"/players/{one}/limits", {"area": "back", "movement": "turn"}).json()["limits"][0]["id"]
    assert browser.send("DELETE", f"/players/{other}/limits/{limit}").status_code == 404
    assert [x["id"] for x in browser.get(f"/players/{one}").json()["limits"]] == [limit]
    assert browser.send("DELETE", f"/players/{one}/limits/{limit}").json()["limits"] == []


def test_a_lesson_now_without_a_bay_is_in_the_academys_first(browser):
    bays = browser.get("/diary").json()["bays"]
    assert browser.post("/lessons/start-now", {"handedness": "left"}).json()["bay"] == bays[0]
    assert browser.post("/lessons/start-now", {"bay": bays[-1]}).json()["bay"] == bays[-1]


def test_the_list_of_players_says_when_they_were_here_and_what_they_work_on(browser):
    """And the player's progress opens with that measure over the lessons."""
    made = browser.post("/players", {"name": "Listed Player", "consent_by": "Listed Player"}).json()
    me = browser.get("/me").json()

    def listed():
        (found,) = browser.get("/players", params={"q": "listed"}).json()
        return found

    before = listed()
    assert (before["last_lesson"], before["next_lesson"], before["priority"], before["limits"]) == (
        None,
        None,
        "",
        False,
    )
    assert browser.get(f"/players/{made['id']}/progress").json() is None
    medians = []
    for day, seed in ((3, 31), (4, 32)):
        lesson = browser.post(
            "/lessons",
            {
                "player_id": made["id"],
                "instructor_id": me["instructor_id"],
                "bay": "Bay 3",
                "starts_at": f"2031-06-{day:02d}T10:00:00Z",
            },
        ).json()
        drop(browser, lesson["id"], bundle("over-extended", seed))
        swings = [browser.swing(s["id"]) for s in browser.lesson(lesson["id"])["swings"]]
        tops = [
            next(v["value"] for v in s["metrics"] if v["metric"] == "lead_wrist_extension" and v["moment"] == "top")
            for s in swings
        ]
        medians.append(sorted(tops)[2])
        body = {"priorities": [{"finding": "over_extended_top", "label": "Over-extended", "drill": "peg_pointer"}]}
        assert browser.post(f"/lessons/{lesson['id']}/close", body).status_code == 200
    browser.post(f"/players/{made['id']}/limits", {"area": "wrist", "side": "lead", "movement": "flexion"})
    after = listed()
    assert after["last_lesson"].startswith("2031-06-04T")
    assert (after["priority"], after["limits"]) == ("Over-extended", True)
    course = browser.get(f"/players/{made['id']}/progress").json()
    assert (course["metric"], course["moment"]) == ("lead_wrist_extension", "top")
    assert [p["median"] for p in course["points"]] == pytest.approx(medians, abs=0.06)
    assert [p["swings"] for p in course["points"]] == [5, 5]
    assert (course["low"], course["high"]) == pytest.approx((0.0, 30.0), abs=6.0)
    assert all(p["low"] <= p["median"] <= p["high"] for p in course["points"])
