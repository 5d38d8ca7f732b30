"""A lesson's putts as their screens read them: rows of distances, steps, courses, plan and notes."""

from __future__ import annotations

import itertools
import json
import re
import struct
from dataclasses import replace

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.putting.setup import PutterSetup
from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.modelled import putting_capture_of
from finearc.services.record.blocks import unpack_traces
from tests.api.conftest import drop, new_lesson

STEPS = ["address", "extension", "deviation", "together", "rotation", "putter"]


def packed(name, sources=("wrist", "markers"), seed=5, **notes):
    data = putting_capture_of(play_putting(PUTTING[name], seed, sources=sources))
    return zip_bytes(bundle_files(replace(data, putting=replace(data.putting, **notes))))


def session(browser, player, name, **options):
    made = new_lesson(browser, player)
    assert drop(browser, made, packed(name, **options)).status_code == 201
    return made


@pytest.fixture(scope="module")
def drifting(browser):
    return session(browser, "Marlow Dane", "putt-handle-drift")


def page(browser, lesson_id):
    answer = browser.get(f"/lessons/{lesson_id}/putting")
    assert answer.status_code == 200, answer.text
    return answer.json()


def step(row, name):
    return next(s for s in row["steps"] if s["step"] == name)


def test_rows_are_the_planned_distances_with_their_putts(browser, drifting):
    read = page(browser, drifting)
    assert [(r["distance_m"], r["counting"], r["owed"]) for r in read["rows"]] == [(3, 5, 0), (6, 5, 0), (9, 5, 0)]
    assert [s["step"] for s in read["rows"][0]["steps"]] == STEPS
    assert len(read["putts"]) == 15
    assert all(p["counts"] and p["what"] == "putt" for p in read["putts"])
    phases = [p["phases"] for p in read["putts"]]
    assert {tuple(s["phase"] for s in p)[:2] for p in phases} == {("backstroke", "transition")}
    assert all(a["end_s"] == b["start_s"] for p in phases for a, b in itertools.pairwise(p))


def test_a_handle_that_stays_behind_is_what_the_sixth_step_says(browser, drifting):
    row = page(browser, drifting)["rows"][0]
    said = step(row, "putter")
    assert said["tone"] == "look"
    assert "behind the free pendulum" in said["said"]["text"]
    assert {f["told"] for f in said["facts"]} >= {"relative", "absolute"}
    assert step(row, "extension")["tone"] == "keep"


def test_the_values_of_a_putt_are_those_of_its_swing(browser, drifting):
    putt = page(browser, drifting)["putts"][7]
    of = {(v["metric"], v["moment"]): v["value"] for v in browser.get(f"/swings/{putt['id']}/numbers").json()}
    assert set(putt["values"]) >= {"putt_extension_range", "putt_roll_range", "putter_face", "lead_wrist_extension"}
    for metric, values in putt["values"].items():
        for moment, value in values.items():
            assert value == pytest.approx(of[metric, moment], abs=0.001)


def courses(browser, lesson_id):
    content = browser.get(f"/lessons/{lesson_id}/putting/courses").content
    assert content[:4] == b"FAP1"
    (size,) = struct.unpack_from("<I", content, 4)
    told, at, out = json.loads(content[8 : 8 + size])["putts"], 8 + size, {}
    for one in told:
        block = content[at : at + one["bytes"]]
        assert block[:4] == b"FAT1"
        out[one["id"]] = unpack_traces(block)
        at += one["bytes"]
    assert at == len(content)
    return out


def test_courses_agree_with_the_values_at_their_instants(browser, drifting):
    """The pictures and the numbers show the same: each course read at transition and impact is the value there."""
    drawn = courses(browser, drifting)
    for putt in page(browser, drifting)["putts"][::4]:
        course = drawn[putt["id"]]
        of = {(v["metric"], v["moment"]): v["value"] for v in browser.get(f"/swings/{putt['id']}/numbers").json()}
        for moment in ("transition", "impact"):
            at = putt["at_s"][moment]
            for angle in ("extension", "deviation", "roll"):
                seen = np.interp(at, course["time_s"], course[angle])
                assert seen == pytest.approx(of[f"putt_{angle}_at", moment], abs=0.1)
            for metric, which, axis in (("grip_end_along", "grip", "along"), ("sweet_spot_out", "head", "out")):
                apart = course[f"{which}_{axis}"] - course[f"free_{which}_{axis}"]
                assert np.interp(at, course["time_s"], apart) == pytest.approx(of[metric, moment], abs=0.05)


def test_a_strong_bias_is_said_first(browser):
    made = session(browser, "Ingrid Falk", "putt-grip-bias", sources=("wrist",))
    first = page(browser, made)["rows"][0]["steps"][0]
    assert first["step"] == "address"
    assert first["tone"] == "look"
    assert first["said"]["text"].startswith("First the grip: the face sits 6.0° open against the hands")


def test_a_bias_noted_later_changes_what_is_said_first_and_can_be_undone(browser):
    made = session(browser, "Ilka Stenner", "putt-two-only", sources=("wrist",))
    read = page(browser, made)
    assert read["rows"][0]["steps"][0]["tone"] == "shown"
    assert read["across"]["tone"] == "unseen"
    assert [(r["counting"], r["owed"]) for r in read["rows"]] == [(1, 4), (1, 4), (0, 5)]
    where = f"/recordings/{read['noted']['recording_id']}/putting"
    noted = browser.patch(where, {"face_grip_bias_deg": -5.0, "green_speed_ft": 9.5, "putter_grip": "claw"})
    assert noted.status_code == 200, noted.text
    after = page(browser, made)
    assert "5.0° closed against the hands" in after["rows"][0]["steps"][0]["said"]["text"]
    assert (after["noted"]["green_speed_ft"], after["noted"]["putter_grip"]) == (9.5, "claw")
    assert browser.post(f"/lessons/{made}/undo").status_code == 200
    assert page(browser, made)["rows"][0]["steps"] == read["rows"][0]["steps"]


def test_the_putters_length_and_a_pivot_noted_later_are_measured_with_and_can_be_undone(browser):
    made = session(browser, "Tamsin Wold", "putt-two-only", sources=("putter",), putter=PutterSetup())
    read = page(browser, made)
    assert "Note the putter's length" in step(read["rows"][0], "putter")["said"]["text"]
    where = f"/recordings/{read['noted']['recording_id']}/putting"
    answer = browser.patch(where, {"putter": {"length_m": 0.86}})
    assert answer.status_code == 200, answer.text
    assert answer.json()["putter"]["sensor_m"] == 0.3
    seen = step(page(browser, made)["rows"][0], "putter")
    assert seen["tone"] != "unseen"
    assert seen["note"] == ""
    browser.patch(where, {"putter": {"length_m": 0.86, "pivot": "sternum", "pivot_height_m": 1.3}})
    set_high = step(page(browser, made)["rows"][0], "putter")
    assert set_high["note"] == "pivot set: the sternum"
    assert any(f["words"]["text"].startswith("130") for f in set_high["facts"])
    assert browser.post(f"/lessons/{made}/undo").status_code == 200
    assert step(page(browser, made)["rows"][0], "putter") == seen
    assert browser.patch(where, {"putter": {"length_m": 3.0}}).status_code == 422


def test_the_plan_takes_other_distances_and_feet(browser, drifting):
    other = new_lesson(browser, "Nils Achter")
    usual = page(browser, other)
    assert (usual["plan"]["distances_m"], usual["plan"]["unit"]) == ([3, 6, 9], "m")
    assert [r["owed"] for r in usual["rows"]] == [5, 5, 5]
    feet = browser.patch(f"/lessons/{other}/putting", {"unit": "ft", "each": 3}).json()
    assert feet["distances_m"] == pytest.approx([3.048, 6.096, 9.144])
    assert [r["owed"] for r in page(browser, other)["rows"]] == [3, 3, 3]
    more = browser.patch(f"/lessons/{other}/putting", {"distances_m": [1.5, 3.048, 9.144], "next_m": 1.5}).json()
    assert (more["distances_m"], more["next_m"]) == ([1.5, 3.048, 9.144], 1.5)
    refused = browser.patch(f"/lessons/{other}/putting", {"next_m": 4.0})
    assert refused.status_code == 409
    assert "not among the planned distances" in refused.json()["message"]
    assert browser.patch(f"/lessons/{other}/putting", {"distances_m": [0.1]}).status_code == 409


def test_putts_whose_distance_is_not_noted_stand_apart_until_a_row_is_noted_at_once(browser):
    made = session(browser, "Vera Bohl", "putt-one-distance", sources=("wrist",), putts={})
    rows = page(browser, made)["rows"]
    assert (rows[-1]["distance_m"], rows[-1]["counting"]) == (None, 6)
    assert browser.post(f"/lessons/{made}/putts", {"swings": rows[-1]["putts"], "distance_m": 3.0}).status_code == 200
    after = page(browser, made)["rows"]
    assert [(r["distance_m"], r["counting"]) for r in after] == [(3, 6), (6, 0), (9, 0)]
    assert step(after[0], "extension")["tone"] == "keep"  # its range depends on the distance
    browser.post(f"/lessons/{made}/undo")
    assert page(browser, made)["rows"] == rows


def test_practice_strokes_stand_beside_and_do_not_count(browser):
    made = session(browser, "Karl Wemding", "putt-practice")
    read = page(browser, made)
    assert {p["what"] for p in read["putts"]} == {"putt", "practice"}
    assert read["rows"][0]["counting"] == 4
    assert len(read["rows"][0]["putts"]) == 8


def test_a_piece_of_the_set_says_how_it_stands_and_what_it_asks(browser, drifting):
    pieces = {p["id"]: p for p in page(browser, drifting)["rows"][0]["pieces"]}
    assert set(pieces) == {"face_aim", "grip_bias", "order", "forearm", "start_line"}
    assert pieces["grip_bias"]["now"]["text"] == "not seen"
    assert pieces["order"]["now"]["text"].startswith("hand ")
    assert pieces["order"]["now"]["plain"].startswith("hand rolls")
    assert all(p["asks"] and p["left"] for p in pieces.values())


def test_the_putts_of_another_academy_are_not_found(stranger, drifting):
    assert stranger.get(f"/lessons/{drifting}/putting").status_code == 404
    assert stranger.get(f"/lessons/{drifting}/putting/courses").status_code == 404
    assert stranger.patch(f"/lessons/{drifting}/putting", {"each": 3}).status_code == 404


def test_what_goes_home_shows_the_putter_where_it_speaks_of_it_else_the_loop(browser, drifting):
    home = browser.get(f"/lessons/{drifting}/page").text
    assert "putter against a free pendulum" in home
    assert home.count("stroke-opacity") == 2  # where the pendulum has head and handle
    made = session(browser, "Hella Loop", "putt-wristy", sources=("wrist",))
    loop = browser.get(f"/lessons/{made}/page").text
    assert "Your wrist from the start to the ball, putt" in loop
    assert "hinged" in loop
    assert "free pendulum" not in loop


def test_the_putter_of_a_left_hander_is_drawn_the_other_way_round(browser):
    """The same stroke mirrored: seen from in front the target lies on the other side."""
    drawn = {}
    for hand in ("right", "left"):
        made = new_lesson(browser, f"Twin {hand}", handedness=hand)
        data = putting_capture_of(
            play_putting(PUTTING["putt-handle-drift"], 5, sources=("wrist", "markers"), hand=Hand(hand))
        )
        assert drop(browser, made, zip_bytes(bundle_files(data))).status_code == 201
        home = browser.get(f"/lessons/{made}/page").text
        lines = re.findall(r'<polyline fill="none" stroke="#1b2126" stroke-width="2.2" points="([^"]+)"', home)
        drawn[hand] = [float(p.split(",")[0]) for p in lines[0].split()]
    assert drawn["left"] == pytest.approx([520.0 - x for x in drawn["right"]], abs=1.0)


def test_a_jump_at_one_distance_is_a_finding_for_as_long_as_its_putts_count(browser):
    """It rests on all putts together: marking those of one distance takes it away, undoing brings it back."""
    made = session(browser, "Jorun Sprang", "putt-jump", sources=("wrist",))

    def found():
        (summary,) = [s for s in browser.lesson(made)["summaries"] if s["club"] == "putter"]
        return {f["finding"]: f for f in summary["findings"]}

    jump = found()["putt_growth_jump"]
    assert (jump["shown"], jump["assessed"]) == (5, 5)
    far = page(browser, made)["rows"][2]
    browser.post(f"/lessons/{made}/swings/mark", {"swing_ids": far["putts"], "kind": "warm_up"})
    assert "putt_growth_jump" not in found()
    browser.post(f"/lessons/{made}/undo")
    assert found()["putt_growth_jump"]["shown"] == 5
