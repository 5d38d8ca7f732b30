"""The ground through the application: pictures, feet, guess, the line between the feet, the mat's clock, setup, export."""

from __future__ import annotations

import io
import json
import struct
import zipfile
from uuid import UUID

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.sources.ground import MAT
from finearc.formats.bundle import read_bundle
from finearc.services.capture.recordings import reread
from finearc.services.record.blocks import unpack_traces
from finearc.services.records import Recording, Swing
from tests.api.conftest import bundle, drop, new_lesson, wait


def imported(browser, name="good-load", sources=("wrist", "club", "pressure"), seed=4, **options):
    """Lesson id and first swing of a simulated session."""
    lesson_id = new_lesson(browser, **({"handedness": "left"} if options.get("hand") is Hand.LEFT else {}))
    made = drop(browser, lesson_id, bundle(name, seed, sources=sources, **options))
    assert made.status_code == 201, made.text
    swings = made.json()["swings"]
    return lesson_id, browser.swing(swings[0]) if swings else None


@pytest.fixture(scope="module")
def shared(browser):
    """One session on the mat for the tests that only look."""
    return imported(browser)


def decoded(content):
    """Header, way and pictures (n, x, y) of a block; the client's transport has taken off the compression."""
    assert content[:4] == b"FAM1"
    (size,) = struct.unpack_from("<I", content, 4)
    header = json.loads(content[8 : 8 + size])
    at = 8 + size
    way = unpack_traces(content[at : at + header["way"]])
    pictures = np.frombuffer(content, np.uint8, offset=at + header["way"])
    return header, way, pictures.reshape(header["pictures"], header["nx"], header["ny"])


def test_pictures_show_where_the_way_goes(browser, shared):
    _, swing = shared
    header, way, pictures = decoded(browser.block(swing, "ground").content)
    x = header["x0"] + header["dx"] * np.arange(header["nx"])
    y = header["y0"] + header["dy"] * np.arange(header["ny"])
    for picture in range(20, header["pictures"], 40):
        p = pictures[picture].astype(float)
        k = picture * header["every"]
        seen = (p.sum(axis=1) @ x / p.sum(), p.sum(axis=0) @ y / p.sum())
        assert seen == pytest.approx((way["x"][k], way["y"][k]), abs=0.006)
    assert pictures.max() == 255


def test_a_swing_says_what_is_known_of_the_ground(browser, shared):
    _, swing = shared
    ground = swing["ground"]
    assert ground["source"] == "pressure mat"
    assert [f["side"] for f in ground["feet"]] == ["lead", "trail"]
    assert {m["name"] for m in ground["moments"]} >= {"trail_peak", "return", "even"}
    assert ground["sentence"].startswith("The pressure came back 0.")
    assert ground["sentence"].endswith("before the club turned.")
    back = next(v for v in swing["metrics"] if v["metric"] == "return_time" and v["moment"] == "top")
    assert f"{abs(back['value']):.2f}" in ground["sentence"]
    assert ground["real"]["side"] == "lead"
    assert [(b["school"], b["chosen"]) for b in ground["bands"]] == [("front_foot", True), ("reverse", False)]
    assert (ground["alone"], ground["guess"], ground["offset"]) == (False, None, None)


def test_with_the_mat_alone_there_is_no_sentence(browser):
    _, swing = imported(browser, "late-return", ("pressure",))
    assert swing["ground"]["alone"]
    assert swing["ground"]["sentence"] == ""
    assert "hand or club sensor" in swing["ground"]["no_sentence"]
    assert {e["name"] for e in swing["events"]} == {"address", "impact"}
    assert all(v["moment"] != "top" for v in swing["metrics"])


def test_without_a_mat_there_is_nothing(browser):
    _, swing = imported(browser, "hold-then-flex", ("wrist",))
    assert swing["ground"] is None
    assert browser.block(swing, "ground").content == b""
    assert any("lead_share" in x["metrics"] and "pressure mat" in x["reason"] for x in swing["missing"])


def test_a_guess_is_kept_with_the_swing_and_can_be_undone(browser):
    lesson_id, swing = imported(browser)
    path = f"/swings/{swing['id']}/guess"
    told = browser.changed(browser.put(path, json={"side": "trail", "foot": "heels"}))
    assert told["ground"]["guess"] == {"side": "trail", "foot": "heels"}
    assert told["ground"]["real"]["side"] == "lead"
    assert browser.swing(swing["id"])["ground"]["guess"]["foot"] == "heels"
    assert browser.post(f"/lessons/{lesson_id}/undo").json()["label"] == "swing 1: guess"
    assert browser.swing(swing["id"])["ground"]["guess"] is None
    browser.post(f"/lessons/{lesson_id}/redo")
    assert browser.swing(swing["id"])["ground"]["guess"]["side"] == "trail"


@pytest.mark.parametrize("body", [{"side": "left"}, {"side": "lead", "foot": "arch"}, {}])
def test_a_guess_that_is_none_is_refused(browser, shared, body):
    _, swing = shared
    assert browser.put(f"/swings/{swing['id']}/guess", json=body).status_code == 422


def test_the_line_between_the_feet_can_be_drawn_and_found_again(browser):
    lesson_id, swing = imported(browser)
    path = f"/swings/{swing['id']}/split"
    middle = float(np.mean([swing["ground"]["feet"][0]["heel"][1], swing["ground"]["feet"][0]["toe"][1]]))
    moved = browser.changed(browser.put(path, json={"split_m": middle}))
    assert moved["ground"]["split_by_hand"]
    assert moved["ground"]["split_m"] == pytest.approx(middle, abs=1e-4)

    def share(s):
        return next(v["value"] for v in s["metrics"] if (v["metric"], v["moment"]) == ("lead_share", "address"))

    assert share(moved) < share(swing) - 10
    assert browser.post(f"/lessons/{lesson_id}/undo").json()["label"] == "swing 1: line between the feet"
    again = browser.swing(swing["id"])
    assert share(again) == pytest.approx(share(swing))
    browser.put(path, json={"split_m": middle})
    free = browser.changed(browser.put(path, json={"split_m": None}))
    assert not free["ground"]["split_by_hand"]
    assert share(free) == pytest.approx(share(swing))


def test_a_line_where_there_is_no_mat_is_refused(browser):
    _, swing = imported(browser, "hold-then-flex", ("wrist",))
    refused = browser.put(f"/swings/{swing['id']}/split", json={"split_m": 0.0})
    assert refused.status_code == 409
    assert "no pressure was recorded" in refused.json()["message"]
    assert browser.put(f"/swings/{swing['id']}/mat-clock", json={"shift_s": 0.1}).status_code == 409


def back_time(swing):
    return next(v["value"] for v in swing["metrics"] if (v["metric"], v["moment"]) == ("return_time", "top"))


def test_the_mats_clock_is_set_shifted_and_set_again(browser):
    lesson_id, swing = imported(browser, "own-clock", ("wrist", "body", "pressure"))
    ground = swing["ground"]
    assert ground["has_own_clock"]
    assert ground["offset"]["shift_s"] == pytest.approx(0.37, abs=0.02)
    path = f"/swings/{swing['id']}/mat-clock"
    shifted = browser.changed(browser.put(path, json={"shift_s": ground["offset"]["shift_s"] + 0.1}))
    assert back_time(shifted) == pytest.approx(back_time(swing) + 0.1, abs=0.012)
    assert shifted["ground"]["recording_shift_s"] == pytest.approx(ground["offset"]["shift_s"] + 0.1)
    assert "mat's clock" in browser.post(f"/lessons/{lesson_id}/undo").json()["label"]
    assert back_time(browser.swing(swing["id"])) == pytest.approx(back_time(swing))
    browser.put(path, json={"shift_s": 0.9})
    assert back_time(browser.changed(browser.put(path, json={"shift_s": None}))) == pytest.approx(back_time(swing))


def test_a_shift_out_of_this_world_is_refused(browser, shared):
    _, swing = shared
    assert browser.put(f"/swings/{swing['id']}/mat-clock", json={"shift_s": 1000.0}).status_code == 422
    assert browser.put(f"/swings/{swing['id']}/mat-clock", json={"shift_s": 30.0}).status_code == 409


def test_references_are_one_skilled_course_a_school_within_its_band(browser, shared):
    _, swing = shared
    references = {r["school"]: r for r in browser.get("/ground/references").json()}
    assert set(references) == {"front_foot", "reverse"}
    bands = {b["school"]: b for b in swing["ground"]["bands"]}
    for school, r in references.items():
        at_impact = r["stance_position"][r["phase"].index(1.0)]
        assert bands[school]["low"] <= at_impact <= bands[school]["high"], school
        assert len({len(v) for k, v in r.items() if isinstance(v, list)}) == 1


def test_another_school_judges_the_same_pressure_otherwise(browser):
    lesson_id, swing = imported(browser, "reverse-pressure")
    lesson = browser.get(f"/lessons/{lesson_id}").json()
    found = {f["finding"] for t in lesson["summaries"] for f in t["findings"]}
    assert "pressure_stays_back" in found
    player = lesson["player"]
    changed = {k: player[k] for k in ("name", "handedness", "height_m", "population", "goals", "usual_miss")}
    saved = browser.put(f"/players/{player['id']}", json={**changed, "schools": {"pressure": "reverse"}})
    assert saved.status_code == 200, saved.text
    lesson = browser.get(f"/lessons/{lesson_id}").json()
    found = {f["finding"] for t in lesson["summaries"] for f in t["findings"]}
    assert not {"pressure_stays_back", "pressure_too_far", "no_push_off"} & found
    again = browser.swing(swing["id"])
    assert [b["chosen"] for b in again["ground"]["bands"]] == [False, True]


def test_the_setup_check_asks_about_the_feet_before_any_swing(browser):
    lesson_id, swing = imported(browser, "on-heels-still", ("pressure",))
    assert swing is None
    recording = browser.get(f"/lessons/{lesson_id}").json()["recordings"][-1]
    assert recording["setup"]["question"] == "Where is the weight along the feet?"
    assert "toward the heels" in recording["setup"]["answer"]
    assert not recording["setup"]["good"]
    assert {v["metric"] for v in recording["setup"]["values"]} >= {"lead_share", "lead_heel_toe", "trail_heel_toe"}


def test_a_left_handers_ground_is_the_twin_of_a_right_handers(browser):
    _, right = imported(browser, seed=6)
    _, left = imported(browser, seed=6, hand=Hand.LEFT)
    for a, b in zip(right["ground"]["feet"], left["ground"]["feet"], strict=True):
        assert a["heel"] == pytest.approx(b["heel"], abs=1e-3)
    assert right["ground"]["sentence"] == left["ground"]["sentence"]


def test_an_exported_lesson_has_its_mat_and_its_guess(browser, tmp_path):
    lesson_id, swing = imported(browser)
    browser.put(f"/swings/{swing['id']}/guess", json={"side": "even", "foot": "middle"})
    content = browser.get(f"/lessons/{lesson_id}/export").content
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        archive.extractall(tmp_path)
        record = json.loads(archive.read("lesson.json"))
    assert record["swings"][0]["guess"] == {"side": "even", "foot": "middle", "at": "impact"}
    assert "ground" not in record["swings"][0]
    back = read_bundle(tmp_path / "recording-1")
    assert MAT in back.streams
    assert len(back.swings) == 5


def test_measuring_everything_again_gives_the_same_ground(browser, services):
    _, swing = imported(browser)
    before = browser.block(swing, "ground").content
    with services.store.front_door() as door:
        north = next(academy.id for academy in door.academies() if academy.name == "North")
    with services.store.unit_of_work(north) as uow:
        reread(uow, services.codec, uow.get(Recording, uow.get(Swing, UUID(swing["id"])).recording_id))
    again = browser.swing(swing["id"])
    assert again["ground"] == swing["ground"]
    assert again["measuring"] == swing["measuring"] + 1
    assert browser.block(again, "ground").content == before
    assert browser.block(swing, "ground").status_code == 409  # an address never gives other content


@pytest.mark.parametrize(
    ("name", "says"), [("mat-empty", "the mat is empty"), ("mat-saturated", "saturated everywhere")]
)
def test_a_mat_alone_that_says_nothing_is_refused_and_nothing_kept(browser, name, says):
    lesson_id = new_lesson(browser)
    refused = drop(browser, lesson_id, bundle(name, 2, sources=("pressure",)))
    assert refused.status_code in (400, 409, 422)
    assert says in refused.json()["message"]
    assert browser.get(f"/lessons/{lesson_id}").json()["recordings"] == []


def test_one_foot_beside_the_mat_is_said_with_the_swing(browser):
    _, swing = imported(browser, "one-foot")
    assert any("Only one foot" in w for w in swing["warnings"])
    assert [f["side"] for f in swing["ground"]["feet"]] == ["lead"]
    assert swing["ground"]["real"] is None


@pytest.mark.live
def test_a_live_mat_gives_each_swing_its_ground_as_reading_it_all_again_does(browser, services):
    """Live, only the first and the newest frames of the mat are read; measured again from all of them, the same."""
    lesson_id = new_lesson(browser)
    started = browser.post(f"/lessons/{lesson_id}/recordings", {"scenario": "good-load", "seed": 3, "mat": True})
    assert started.status_code == 201
    recording = wait(lambda: next((t for t in browser.lesson(lesson_id)["recordings"] if t["setup"]), None))
    assert "pressure" in recording["segments"]
    assert {v["metric"] for v in recording["setup"]["values"]} >= {"lead_share", "lead_heel_toe"}
    browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 2})
    swings = wait(lambda: (s := browser.lesson(lesson_id)["swings"]) and len(s) == 2 and s)
    live = [browser.swing(s["id"]) for s in swings]
    assert all(s["ground"]["sentence"] for s in live)
    with services.store.front_door() as door:
        north = next(academy.id for academy in door.academies() if academy.name == "North")
    with services.store.unit_of_work(north) as uow:
        reread(uow, services.codec, uow.get(Recording, UUID(recording["id"])))
    for before in live:
        after = browser.swing(before["id"])
        assert back_time(after) == pytest.approx(back_time(before), abs=0.004)
        assert after["ground"]["real"]["lead_share"] == pytest.approx(before["ground"]["real"]["lead_share"], abs=0.3)
