"""Markers and body sensors through the application: mapping, presets, figure, setup, export, schools."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import numpy as np
import pytest
from validation.foreign import foreign

from finearc.core.sources.figure import Part
from finearc.core.sources.markers import MARKERS
from finearc.formats.bundle import read_bundle
from finearc.formats.c3d_file import c3d_bytes
from finearc.formats.trc import trc_text
from finearc.golfer.scenarios import play
from finearc.services.modelled import capture_of
from finearc.services.record.blocks import unpack_traces
from tests.api.conftest import bundle, drop, measure_again, new_lesson

WALK = Path(__file__).resolve().parents[1] / "data" / "gait-c3d" / "walk.c3d"


@pytest.fixture(scope="module")
def lab_file():
    labels, points = foreign()
    return c3d_bytes(labels, points, 240.0)


def inspect(browser, lesson_id, content, name="trial.c3d"):
    return browser.post(f"/lessons/{lesson_id}/markers/inspect", files={"file": (name, content)})


def bring(browser, lesson_id, content, mapping, name="trial.c3d"):
    path = f"/lessons/{lesson_id}/markers"
    return browser.post(path, files={"file": (name, content)}, data={"mapping": json.dumps(mapping)})


def suggested(seen):
    return {
        "names": {r["ours"]: r["label"] for r in seen["rows"] if r["label"]},
        "axes": seen["axes"],
        "club": "7-iron",
    }


def test_a_foreign_file_is_mapped_imported_and_remembered(browser, lab_file):
    lesson_id = new_lesson(browser)
    seen = inspect(browser, lesson_id, lab_file).json()
    assert seen["axes"] == {"ball": "-y", "target": "+x", "up": "+z"}
    assert (seen["axes_from"], seen["preset"]) == ("player", None)
    rows = {r["ours"]: r for r in seen["rows"]}
    assert rows["LASI"]["label"] == "LASIS"
    assert rows["LFIN"]["label"] is None
    assert rows["RKNE"]["meaning"] == "right knee, outside"
    made = bring(browser, lesson_id, lab_file, {**suggested(seen), "remember_as": "camera bay"})
    assert made.status_code == 201
    assert len(made.json()["swings"]) == 2
    swing = browser.swing(made.json()["swings"][0])
    assert "stands_up" in {f["finding"] for f in swing["findings"]}
    assert swing["sources"] == ["markers"]
    again = inspect(browser, lesson_id, lab_file).json()
    assert (again["preset"], again["axes_from"]) == ("camera bay", "remembered")
    presets = browser.get("/marker-presets").json()
    assert [p["name"] for p in presets] == ["camera bay"]
    assert browser.send("DELETE", f"/marker-presets/{presets[0]['id']}").status_code == 200
    assert inspect(browser, lesson_id, lab_file).json()["preset"] is None


def test_presets_belong_to_one_academy(browser, stranger, lab_file):
    lesson_id = new_lesson(browser)
    seen = inspect(browser, lesson_id, lab_file).json()
    bring(browser, lesson_id, lab_file, {**suggested(seen), "remember_as": "ours"})
    theirs = new_lesson(stranger)
    assert inspect(stranger, theirs, lab_file).json()["preset"] is None
    assert stranger.get("/marker-presets").json() == []
    assert inspect(stranger, lesson_id, lab_file).status_code == 404


def test_trc_goes_the_same_way(browser):
    labels, points = foreign(swings=1)
    text = trc_text("x.trc", labels, np.arange(len(points)) / 240.0, points, 240.0).encode()
    lesson_id = new_lesson(browser)
    seen = inspect(browser, lesson_id, text, "trial.trc").json()
    made = bring(browser, lesson_id, text, suggested(seen), "trial.trc")
    assert len(made.json()["swings"]) == 1


def test_bad_marker_files_are_refused_and_nothing_is_kept(browser, lab_file):
    lesson_id = new_lesson(browser)
    good = suggested(inspect(browser, lesson_id, lab_file).json())
    twice = {**good, "names": {**good["names"], "RASI": "LASIS"}}
    wrong = {**good, "axes": {"ball": "+y", "target": "+x", "up": "+z"}}
    for response, words in (
        (inspect(browser, lesson_id, b"rubbish" * 400), "not a C3D file"),
        (inspect(browser, lesson_id, lab_file, "trial.mov"), "not known for markers"),
        (bring(browser, lesson_id, lab_file[: len(lab_file) // 2], good), "cut off"),
        (bring(browser, lesson_id, lab_file, twice), "chosen for two markers"),
        (bring(browser, lesson_id, lab_file, wrong), "axes or hand wrong"),
        (bring(browser, lesson_id, lab_file, {**good, "club": "spoon"}), "no club"),
    ):
        assert response.status_code in (409, 422), response.text
        assert words in response.json()["message"]
    assert browser.lesson(lesson_id)["recordings"] == []
    assert browser.lesson(lesson_id)["swings"] == []


def test_a_walking_person_is_not_imported(browser):
    lesson_id = new_lesson(browser)
    seen = inspect(browser, lesson_id, WALK.read_bytes(), "walk.c3d").json()
    response = bring(browser, lesson_id, WALK.read_bytes(), suggested(seen), "walk.c3d")
    assert response.status_code in (409, 422)
    assert "no swing" in response.json()["message"].lower()
    assert browser.lesson(lesson_id)["recordings"] == []


def test_the_figure_comes_as_a_block_and_says_what_it_rests_on(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("free-pelvis", 4, sources=("markers",)))
    brief = browser.lesson(lesson_id)["swings"][0]
    swing = browser.swing(brief["id"])
    assert swing["figure"]["faint"] == []
    assert swing["figure"]["placed"] is True
    block = unpack_traces(browser.block(brief, "figure").content)
    assert {"lead_knee_x", "club_head_z", "lead_foot_edge_y"} <= set(block)
    assert block["time_s"][0] >= swing["start_s"] - 0.01


def test_a_wrist_figure_is_faint_but_for_the_arm(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("flat", 4, sources=("wrist",)))
    swing = browser.swing(browser.lesson(lesson_id)["swings"][0]["id"])
    assert set(swing["figure"]["measured"]) == {Part.LEAD_FOREARM, Part.LEAD_HAND}
    assert "default limb lengths" in swing["figure"]["note"]
    assert {p["kind"]: bool(p["missing"]) for p in swing["power"]} == {
        "lateral": True,
        "rotational": True,
        "vertical": True,
    }


def test_sources_of_power_say_what_was_measured(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("free-pelvis", 4, sources=("markers",)))
    swing = browser.swing(browser.lesson(lesson_id)["swings"][0]["id"])
    power = {p["kind"]: p for p in swing["power"]}
    assert all(p["missing"] is None for p in power.values())
    assert any("toward target from top to impact" in s for s in power["lateral"]["says"])
    assert any("knee straightens" in s for s in power["vertical"]["says"])


def values(browser, brief):
    metrics = browser.swing(brief["id"])["metrics"]
    return {f"{m['metric']}@{m['moment']}": m["value"] for m in metrics}


def test_a_value_seen_twice_shows_both_sources(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("free-pelvis", 6, sources=("wrist", "club", "markers")))
    swing = browser.swing(browser.lesson(lesson_id)["swings"][0]["id"])
    top = next(m for m in swing["metrics"] if (m["metric"], m["moment"]) == ("lead_wrist_extension", "top"))
    assert {top["source"], top["others"][0]["source"]} == {"wrist sensors", "markers"}
    assert top["others"][0]["words"].startswith(str(round(abs(top["others"][0]["value"]))))
    impact = next(e for e in swing["events"] if e["name"] == "impact")
    assert impact["others"]


def test_a_still_capture_answers_the_setup_before_any_swing(browser):
    lesson_id = new_lesson(browser)
    made = drop(browser, lesson_id, bundle("open-still", 4, sources=("markers",)))
    assert made.json()["swings"] == []
    setup = browser.lesson(lesson_id)["recordings"][0]["setup"]
    assert setup["question"] in ("Where do the hips aim?", "Where do the shoulders aim?")
    assert "open at address" in setup["answer"]
    assert setup["good"] is False
    assert {"pelvis_turn", "hips_over_ankles"} <= {v["metric"] for v in setup["values"]}


def test_the_pelvis_school_of_a_player_changes_verdicts_and_no_measurement(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("restrained-pelvis", 3, sources=("markers",)))
    before = browser.lesson(lesson_id)
    assert "pelvis_under_turn" in {f["finding"] for f in before["summaries"][0]["findings"]}
    player = before["player"]
    body = {k: player[k] for k in ("name", "handedness", "height_m", "population", "goals", "usual_miss")}
    body |= {"consent_by": "x", "schools": {"lead_wrist": "hold", "pelvis": "restrained"}}
    assert browser.send("PUT", f"/players/{player['id']}", json=body).status_code == 200
    after = browser.lesson(lesson_id)
    assert "pelvis_under_turn" not in {f["finding"] for f in after["summaries"][0]["findings"]}
    assert [values(browser, s) for s in before["swings"]] == [values(browser, s) for s in after["swings"]]
    axes = {s["axis"] for s in browser.get("/catalogue").json()["schools"]}
    assert {"lead_wrist", "pelvis"} <= axes


def test_a_lesson_with_markers_and_body_goes_out_and_comes_back(browser, tmp_path):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("slide", 7, sources=("wrist", "body", "markers")))
    archive = zipfile.ZipFile(io.BytesIO(browser.get(f"/lessons/{lesson_id}/export").content))
    archive.extractall(tmp_path)
    back = read_bundle(tmp_path / "recording-1")
    original = capture_of(play("slide", 7, sources=("wrist", "body", "markers")))
    assert back.streams[MARKERS].labels == original.streams[MARKERS].labels
    np.testing.assert_allclose(back.streams[MARKERS].points_m, original.streams[MARKERS].points_m, rtol=1e-6, atol=5e-7)
    assert np.allclose(back.uprights, original.uprights)
    other = new_lesson(browser)
    drop(browser, other, zipped(tmp_path / "recording-1"))
    for a, b in zip(browser.lesson(lesson_id)["swings"], browser.lesson(other)["swings"], strict=True):
        assert values(browser, a) == pytest.approx(values(browser, b), abs=2e-4)


def zipped(folder):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for file in folder.iterdir():
            archive.write(file, file.name)
    return out.getvalue()


def test_results_measured_again_from_stored_markers_are_the_same(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("early-extension", 2, sources=("wrist", "markers")))
    kept = [values(browser, s) for s in browser.lesson(lesson_id)["swings"]]
    measure_again(browser)
    again = [values(browser, s) for s in browser.lesson(lesson_id)["swings"]]
    assert kept == again


def test_dragging_an_event_moves_body_values_too(browser):
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("free-pelvis", 4, sources=("markers",)))
    path = f"/swings/{browser.lesson(lesson_id)['swings'][0]['id']}"
    before = browser.swing(path.split("/")[2])
    top = next(e for e in before["events"] if e["name"] == "top")
    moved = browser.changed(browser.patch(path, {"checkpoint": {"name": "top", "time_s": top["time_s"] - 0.15}}))

    def turn(swing):
        return next(m["value"] for m in swing["metrics"] if (m["metric"], m["moment"]) == ("thorax_turn", "top"))

    assert turn(moved) < turn(before) - 1
