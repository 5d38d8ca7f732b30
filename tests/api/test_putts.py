"""Putts in the application: measured and judged as putts, their notes kept through export, correction and measuring again."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace

import pytest

from finearc.core.putting.notes import Break, Outcome, PuttNote, Slope
from finearc.formats.bundle import bundle_files, read_zip, zip_bytes
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.modelled import putting_capture_of
from tests.api.conftest import bundle, drop, measure_again, new_lesson

NOTE = PuttNote(3.0, Outcome.SHORT, -0.4, Slope.UPHILL, Break.LEFT_TO_RIGHT)


def packed(name, sources=("wrist", "markers"), seed=5, **notes):
    data = putting_capture_of(play_putting(PUTTING[name], seed, sources=sources))
    putting = replace(data.putting, **notes)
    putting = replace(putting, putts={**putting.putts, 0: NOTE}) if putting.putts else putting
    return zip_bytes(bundle_files(replace(data, putting=putting)))


@pytest.fixture(scope="module")
def lesson_id(browser):
    made = new_lesson(browser, "Petra Roller")
    answer = drop(browser, made, packed("putt-wristy", grip="hands side by side", face_grip_bias_rad=0.0175))
    assert answer.status_code == 201, answer.text
    return made


def swings(browser, lesson_id):
    return browser.lesson(lesson_id)["swings"]


def values(browser, swing_id):
    return {(v["metric"], v["moment"]): v for v in browser.get(f"/swings/{swing_id}/numbers").json()}


def exported(browser, lesson_id):
    content = browser.get(f"/lessons/{lesson_id}/export").content
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        files = {
            n.removeprefix("recording-1/"): archive.read(n) for n in archive.namelist() if n.startswith("recording-1/")
        }
    return read_zip(zip_bytes(files)).putting


def test_a_session_of_putts_is_measured_as_putts(browser, lesson_id):
    assert len(swings(browser, lesson_id)) == 15
    page = browser.get(f"/swings/{swings(browser, lesson_id)[0]['id']}").json()
    assert set(page["checkpoints"]) == {"address", "takeaway", "transition", "impact", "finish"}
    of = values(browser, page["id"])
    assert of[("putt_distance", "swing")]["words"] == "3.0 m"
    assert of[("putt_extension_range", "takeaway..impact")]["note"] == "relative"
    assert ("sweet_spot_out", "impact") in of


def test_findings_are_those_of_putts(browser, lesson_id):
    found = {f["finding"] for f in browser.lesson(lesson_id)["summaries"][0]["findings"]}
    assert "putt_impact_wrist" in found
    page = browser.get(f"/swings/{swings(browser, lesson_id)[0]['id']}").json()
    assert "early_extension" not in json.dumps(page)


def test_notes_leave_with_the_export(browser, lesson_id):
    notes = exported(browser, lesson_id)
    assert notes.putts[0] == NOTE
    assert notes.putts[14].distance_m == 9.0
    assert (notes.green_speed_ft, notes.grip) == (10.5, "hands side by side")
    assert notes.face_grip_bias_rad == pytest.approx(0.0175, abs=1e-9)


def test_a_checkpoint_that_is_moved_takes_no_note_with_it(browser, lesson_id):
    one = swings(browser, lesson_id)[2]
    page = browser.get(f"/swings/{one['id']}").json()
    at = page["checkpoints"]["impact"]
    browser.patch(f"/swings/{one['id']}", {"checkpoint": {"name": "impact", "time_s": at - 0.02}})
    of = values(browser, one["id"])
    assert of[("putt_distance", "swing")]["value"] == 3.0
    assert of[("face_grip_bias", "address")]["value"] == pytest.approx(1.0, abs=0.01)
    browser.post(f"/lessons/{lesson_id}/undo")


def test_measuring_again_gives_the_same(browser, lesson_id):
    one = swings(browser, lesson_id)[4]["id"]
    before = values(browser, one)
    measure_again(browser)
    assert values(browser, one) == before


def patched(browser, swing_id, **note):
    answer = browser.patch(f"/swings/{swing_id}", {"putt": note})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_an_outcome_is_noted_in_one_step_and_taken_back(browser, lesson_id):
    one = swings(browser, lesson_id)[5]
    assert one["putt"] == {"distance_m": 6.0, "outcome": "", "rolled_past_m": None, "slope": "", "breaks": ""}
    told = patched(browser, one["id"], outcome="holed", rolled_past_m=0.0)
    assert told["brief"]["putt"]["outcome"] == "holed"
    assert told["can_undo"] == f"swing {one['number']}: holed, how far past"
    browser.post(f"/lessons/{lesson_id}/undo")
    assert swings(browser, lesson_id)[5]["putt"]["outcome"] == ""


def test_a_distance_is_a_value_and_what_it_is_judged_by_follows(browser, lesson_id):
    one = swings(browser, lesson_id)[14]
    assert values(browser, one["id"])[("putt_extension_range", "takeaway..impact")]["verdict"] == "not_judged"
    patched(browser, one["id"], distance_m=2.5)
    of = values(browser, one["id"])
    assert of[("putt_distance", "swing")]["value"] == 2.5
    assert of[("putt_extension_range", "takeaway..impact")]["verdict"] == "high"
    browser.post(f"/lessons/{lesson_id}/undo")
    assert values(browser, one["id"])[("putt_distance", "swing")]["value"] == 9.0


def test_a_row_of_putts_is_noted_at_once_and_taken_back_at_once(browser, lesson_id):
    row = [s["id"] for s in swings(browser, lesson_id) if s["putt"]["distance_m"] == 6.0]
    told = browser.post(f"/lessons/{lesson_id}/putts", {"swings": row, "slope": "downhill", "breaks": "right_to_left"})
    assert told.status_code == 200, told.text
    noted = [(s["putt"]["slope"], s["putt"]["breaks"]) for s in swings(browser, lesson_id) if s["id"] in row]
    assert noted == [("downhill", "right_to_left")] * 5
    browser.post(f"/lessons/{lesson_id}/undo")
    assert {s["putt"]["slope"] for s in swings(browser, lesson_id)[5:10]} == {""}


def test_a_swing_is_no_putt(browser):
    lesson_id = new_lesson(browser, "Olaf Ironwood")
    assert drop(browser, lesson_id, bundle("hold-then-flex")).status_code == 201
    one = swings(browser, lesson_id)[0]
    assert "putt" not in one
    answer = browser.patch(f"/swings/{one['id']}", {"putt": {"outcome": "holed"}})
    assert answer.status_code == 409
    assert "is no putt" in answer.json()["message"]


def test_a_practice_stroke_is_kept_as_one_without_a_ball(browser):
    lesson_id = new_lesson(browser, "Ava Rehearser")
    assert drop(browser, lesson_id, packed("putt-practice", ("wrist",))).status_code == 201
    assert [s["kind"] for s in swings(browser, lesson_id)] == ["no_ball", "normal"] * 4


@pytest.mark.parametrize(
    ("changed", "told"),
    [
        ({"shot": "full"}, 'say "shot": "putt"'),
        ({"putts": [{"swing": 0}, {"swing": 0}]}, "swing 0 is noted twice"),
        ({"putts": [{"swing": 40}]}, "there are only 2 swings"),
        ({"putts": [{"swing": 0, "outcome": "lipped"}]}, "holed"),
        ({"putts": [{"swing": 0, "distance_m": -3}]}, "greater than 0"),
        ({"green_speed_ft": 900}, "less than or equal to 25"),
    ],
)
def test_notes_that_cannot_be_are_refused_with_what_to_do(browser, lesson_id, changed, told):
    with zipfile.ZipFile(io.BytesIO(packed("putt-two-only", ("wrist",)))) as archive:
        files = {n: archive.read(n) for n in archive.namelist()}
    manifest = json.loads(files["capture.json"]) | changed
    files["capture.json"] = json.dumps(manifest).encode()
    answer = drop(browser, lesson_id, zip_bytes(files))
    assert answer.status_code in (400, 409, 422)
    assert "capture.json" in answer.text
    assert told in answer.json()["message"]
    assert len(swings(browser, lesson_id)) == 15
