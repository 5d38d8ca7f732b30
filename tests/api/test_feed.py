"""What screens are told while a player moves, and training with live feedback: through the link, the take and the feed."""

from __future__ import annotations

import json
import time

import numpy as np
import pytest
from starlette.websockets import WebSocketDisconnect

from finearc.devices.feed import MOST_SCREENS
from finearc.services.people.tokens import hash_token
from tests.api.conftest import new_lesson
from tests.api.test_capture_goes_on import fitted, ready, said, until

__all__ = ["said"]
pytestmark = pytest.mark.live
TOP = {"metric": "lead_wrist_extension", "low": 5.0, "high": 60.0, "phase": "at_top", "told_from": "by hand"}


@pytest.fixture(scope="module")
def pace():
    """So slowly that a busy machine keeps up with every frame: what is shown is shown in time."""
    return 5.0


def listen(socket, enough, patience_s=60.0):
    """Messages until there are enough."""
    told, end = [], time.monotonic() + patience_s
    while not enough(told):
        assert time.monotonic() < end, [m["type"] for m in told][-5:]
        told.append(json.loads(socket.receive_text()))
    return told


def repetitions(told):
    return [m for m in told if m["type"] == "repetition"]


def test_every_value_moves_while_the_player_swings_and_settles_while_he_stands(browser, said):
    lesson_id = fitted(browser, "Watched")
    until(lambda: ready(said))
    with browser.watch(f"/lessons/{lesson_id}/feed") as socket:
        browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
        told = listen(socket, lambda t: any(m.get("along", 0) > 2.2 for m in t))
    now = [m for m in told if m["type"] == "now"]
    seen = {k for m in now for k in m.get("values", {})}
    assert {"lead_wrist_extension", "lead_wrist_radial_deviation", "shaft_elevation"} <= seen
    along = [m["along"] for m in now if "along" in m]
    assert min(along) == 0.0
    assert any(0.0 < a < 1.0 for a in along)
    settled = [m["settled"]["lead_wrist_extension"] for m in now if "lead_wrist_extension" in m.get("settled", {})]
    until(lambda: browser.lesson(lesson_id)["swings"])
    swing = browser.swing(browser.lesson(lesson_id)["swings"][0]["id"])
    at = {v["moment"]: v["value"] for v in swing["metrics"] if v["metric"] == "lead_wrist_extension"}
    assert settled[0][0] == pytest.approx(at["address"], abs=1.5)
    assert 0.0 <= settled[0][1] < 2.0
    extension = [m["values"]["lead_wrist_extension"][0] for m in now if "lead_wrist_extension" in m.get("values", {})]
    assert min(np.abs(np.array(extension) - at["top"])) < 2.0


def test_what_stands_on_each_foot_moves_with_the_player(browser, said):
    lesson_id = fitted(browser, "On The Mat", scenario="good-load", mat=True)
    until(lambda: ready(said))
    with browser.watch(f"/lessons/{lesson_id}/feed") as socket:
        browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
        told = listen(socket, lambda t: sum(m.get("along", 0) > 2.2 for m in t) > 8)  # the mat comes after
    now = [m for m in told if m["type"] == "now"]
    share = [m["values"]["lead_share"][0] for m in now if "lead_share" in m.get("values", {})]
    until(lambda: browser.lesson(lesson_id)["swings"])
    swing = browser.swing(browser.lesson(lesson_id)["swings"][0]["id"])
    at = {v["moment"]: v["value"] for v in swing["metrics"] if v["metric"] == "lead_share"}
    settled = [m["settled"]["lead_share"][0] for m in now if "lead_share" in m.get("settled", {})]
    assert min(np.abs(np.array(settled) - at["address"])) < 3.0  # the weight begins to move before the hands do
    assert min(share) < at["top"] + 8.0  # a busy machine shows fewer pictures of a fast swing
    assert max(share) > at["impact"] - 12.0


def test_repetitions_are_counted_told_and_kept_and_a_test_is_silent(browser, said):
    lesson_id = fitted(browser, "Trained")
    until(lambda: ready(said))
    answer = browser.post(f"/lessons/{lesson_id}/training", TOP)
    assert answer.status_code == 201, answer.text
    page = answer.json()
    assert page["running"]["words"] == "Lead wrist extension: 5° to 60° extended, at the top"
    with browser.watch(f"/lessons/{lesson_id}/feed") as socket:
        browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 3})
        told = listen(socket, lambda t: len(repetitions(t)) == 3)
    assert [m["good"] for m in repetitions(told)] == [True] * 3
    decided = [m["decision"] for m in told if "decision" in m]
    assert {(d["low"], d["high"]) for d in decided} >= {(5.0, 60.0)}
    assert all(d["speaks"] for d in decided)
    until(lambda: len(browser.get(f"/lessons/{lesson_id}/training").json()["running"]["repetitions"]) == 3)
    running = browser.get(f"/lessons/{lesson_id}/training").json()["running"]
    assert (running["made"], running["good"], running["run"], running["best"]) == (3, 3, 3, 3)
    assert running["line"] == "3 of 3 good, best run 3."
    assert running["width"] < 1.0  # narrower with success
    until(lambda: len(browser.lesson(lesson_id)["swings"]) == 3)
    for made, brief in zip(running["repetitions"], browser.lesson(lesson_id)["swings"], strict=True):
        assert brief["kind"] == "drill"
        values = browser.get(f"/swings/{brief['id']}/numbers").json()
        (top,) = (v["value"] for v in values if (v["metric"], v["moment"]) == ("lead_wrist_extension", "top"))
        assert made["value"] == pytest.approx(top, abs=4.0)

    felt = browser.post(f"/lessons/{lesson_id}/training/felt", {"number": 2, "guess": "more"}).json()["running"]
    assert [(r["felt"], r["felt_steps"]) for r in felt["repetitions"]] == [("", None), ("more", 1), ("", None)]
    refused = browser.post(f"/lessons/{lesson_id}/training/felt", {"number": 9, "guess": "more"})
    assert "there is no repetition 9" in refused.json()["message"]

    tested = browser.patch(f"/lessons/{lesson_id}/training", {"test": True}).json()
    assert (tested["running"]["kind"], tested["running"]["every"]) == ("test", 0)
    assert tested["done"][-1]["line"] == "3 of 3 good, best run 3."
    with browser.watch(f"/lessons/{lesson_id}/feed") as socket:
        browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
        told = listen(socket, lambda t: len(repetitions(t)) == 1)
    assert not any(m["decision"]["speaks"] for m in told if "decision" in m)
    assert not repetitions(told)[0]["spoken"]
    ended = browser.send("DELETE", f"/lessons/{lesson_id}/training").json()
    assert ended["running"] is None
    assert [d["kind"] for d in ended["done"]] == ["drill", "test"]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"low": 60.0, "high": 5.0}, "the lower limit is not below the upper one"),
        ({"low": None, "high": None}, "a band needs a limit"),
    ],
)
def test_a_band_that_is_none_is_refused(browser, change, words):
    lesson_id = new_lesson(browser, "No Band")
    answer = browser.post(f"/lessons/{lesson_id}/training", {**TOP, **change})
    assert answer.status_code in (409, 422)
    assert words in answer.json()["message"]


def test_a_feed_is_its_academys_alone(browser, open_browser, said):
    lesson_id = new_lesson(browser, "Private")
    south = open_browser()
    south.sign_in("south@example.test")
    for other in (south, open_browser()):
        with (
            pytest.raises(WebSocketDisconnect) as ended,
            other.watch(f"/lessons/{lesson_id}/feed") as socket,
        ):
            socket.receive_text()
        assert ended.value.code == 4401
    with (
        pytest.raises(WebSocketDisconnect) as ended,
        browser.client.websocket_connect(
            f"/api/lessons/{lesson_id}/feed", headers={"origin": "http://evil.test"}
        ) as socket,
    ):
        socket.receive_text()
    assert ended.value.code == 4401


def test_a_bay_is_watched_by_so_many_screens_and_no_more(browser, services):
    code = browser.post("/bays/screens", {"bay": "Bay 3"}).json()["code"]
    with services.store.front_door() as door:
        bay, _ = door.bay_of_token(hash_token(code), "follow")
    feed = services.feeds.of(bay.id)
    feed.screens += [None] * MOST_SCREENS
    with pytest.raises(WebSocketDisconnect) as ended, browser.watch("/screen") as socket:
        socket.send_text(json.dumps({"code": code}))
        assert json.loads(socket.receive_text())["type"] == "bay"
        socket.receive_text()
    assert ended.value.code == 4429
    feed.screens.clear()


def test_a_second_screen_follows_by_its_code_and_is_told_nothing_private(browser, open_browser, said):
    lesson_id = fitted(browser, "Seen From Afar")
    until(lambda: ready(said))
    browser.post(f"/lessons/{lesson_id}/training", TOP)
    code = browser.post("/bays/screens", {"bay": "Bay 1"}).json()["code"]
    with open_browser().watch("/screen") as socket:
        socket.send_text(json.dumps({"code": code}))
        browser.post(f"/lessons/{lesson_id}/stand-in/swings", {"count": 1})
        told = listen(socket, lambda t: len(repetitions(t)) == 1)
    text = json.dumps(told)
    assert (told[0]["type"], told[0]["name"]) == ("bay", "Bay 1")
    assert "lead_wrist_extension" in {x["id"] for x in told[0]["measures"]}
    assert any("lead_wrist_extension" in m.get("values", {}) for m in told)
    for private in (lesson_id, "Seen From Afar", "block_id", "recording"):
        assert private not in text
    tokens = next(b for b in browser.get("/bays").json()["bays"] if b["name"] == "Bay 1")["tokens"]
    (screen,) = (t for t in tokens if t["name"] == "second screen")
    browser.send("DELETE", f"/bays/tokens/{screen['id']}")
    for wrong in (code, "", "NOCODE"):
        with (
            pytest.raises(WebSocketDisconnect) as ended,
            open_browser().watch("/screen") as socket,
        ):
            socket.send_text(json.dumps({"code": wrong}))
            socket.receive_text()
        assert ended.value.code == 4403
    browser.send("DELETE", f"/lessons/{lesson_id}/training")


def test_the_band_goes_with_the_club_where_it_was_taken_from_a_range(browser):
    """A driver is allowed another sway; a band by hand stays as it was typed."""
    lesson_id = new_lesson(browser, "Another Club")

    def trained(finding):
        band = {"metric": "pelvis_sway", "low": 1.0, "high": 2.0, "phase": "impact", "finding": finding}
        browser.post(f"/lessons/{lesson_id}/training", band)
        limits = []
        for club in ("driver", "7-iron"):
            assert browser.patch(f"/lessons/{lesson_id}", {"club": club}).status_code == 200
            running = browser.get(f"/lessons/{lesson_id}/training").json()["running"]
            limits.append((running["low"], running["high"], running["club"]))
        return limits

    ranges = {}
    for club in ("driver", "7-iron"):
        browser.patch(f"/lessons/{lesson_id}", {"club": club})
        at = [b for b in browser.get(f"/lessons/{lesson_id}/bands").json() if b["metric"] == "pelvis_sway"]
        ranges[club] = next((b["low"], b["high"]) for b in at if b["at"] == "impact")
    assert trained("") == [(1.0, 2.0, "7-iron"), (1.0, 2.0, "7-iron")]
    finding = next(
        f["id"] for f in browser.get("/catalogue").json()["findings"] if f["metric"] == "posture_from_ground"
    )
    assert trained(finding) == [(*ranges["driver"], "driver"), (*ranges["7-iron"], "7-iron")]
    assert ranges["driver"] != ranges["7-iron"]
    browser.send("DELETE", f"/lessons/{lesson_id}/training")


def test_a_second_screen_is_told_the_figure_and_the_bands_and_nobodys_name(browser, said):
    lesson_id = fitted(browser, "Never Named", body_pack=True)
    code = browser.post("/bays/screens", {"bay": "Bay 1"}).json()["code"]
    with browser.watch("/screen") as socket:
        socket.send_text(json.dumps({"code": code}))
        told = listen(socket, lambda t: any("lead_hand" in m.get("figure", {}).get("measured", ()) for m in t))
    figure = next(m["figure"] for m in reversed(told) if "figure" in m)
    assert {"pelvis", "upper_body", "lead_forearm", "lead_hand"} <= set(figure["measured"])
    assert figure["placed"] is False
    assert figure["points"]["neck"][2] > figure["points"]["pelvis"][2] > figure["points"]["lead_knee"][2]
    band = next(
        b for m in told for b in m.get("bands", ()) if (b["metric"], b["at"]) == ("lead_wrist_extension", "top")
    )
    assert band["low"] < band["high"]
    assert "Never Named" not in json.dumps(told)
    assert lesson_id not in json.dumps(told)
