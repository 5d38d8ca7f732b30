"""Putts before and after: at the distances that both have, through the same test as every swing."""

from __future__ import annotations

import numpy as np
import pytest

from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.modelled import putting_capture_of
from tests.api.conftest import drop, new_lesson

RANGE = ("putt_extension_range", "takeaway..impact")
BLOCK = {"metric": RANGE[0], "moment": RANGE[1], "finding": "putt_wristy_short", "drill": "putt_coin"}


def packed(name: str, seed: int) -> bytes:
    return zip_bytes(bundle_files(putting_capture_of(play_putting(PUTTING[name], seed, sources=("wrist",)))))


def putts(browser, lesson_id):
    return [p for p in browser.get(f"/lessons/{lesson_id}/putting").json()["putts"] if p["counts"]]


def change_of(browser, lesson_id):
    return next(b for b in browser.lesson(lesson_id)["blocks"] if b["kind"] == "test")["change"]


@pytest.fixture(scope="module")
def trained(browser):
    """A lesson of fifteen putts, then fifteen test putts; each five from 3, 6 and 9 m."""
    lesson_id = new_lesson(browser, "Bertil Oxley")
    browser.patch(f"/lessons/{lesson_id}", {"club": "putter"})
    assert drop(browser, lesson_id, packed("putt-wristy", 5)).status_code == 201
    for kind in ("drill", "test"):
        answer = browser.post(f"/lessons/{lesson_id}/blocks", {**BLOCK, "kind": kind})
        assert answer.status_code == 201, answer.text
    assert drop(browser, lesson_id, packed("putt-quiet", 6)).status_code == 201
    return lesson_id


def test_over_all_distances_what_the_distance_does_is_taken_off(browser, trained):
    change = change_of(browser, trained)
    assert (len(change["before"]), len(change["after"])) == (15, len(putts(browser, trained)) - 15)
    assert change["sentence"].startswith("Changed.")
    assert change["sentence"].endswith(" At 3, 6 and 9 m, what the distance does taken off.")
    assert change["difference"] == pytest.approx(difference(browser, trained, (3, 6, 9)), abs=0.01)


def difference(browser, lesson_id, distances):
    """The mean of the differences at each distance, weighted by how much each can tell: n1·n2/(n1+n2)."""
    every = [(p["putt"]["distance_m"], p["values"][RANGE[0]][RANGE[1]]) for p in putts(browser, lesson_id)]
    before, after = every[:15], every[15:]
    sides = [[[v for d, v in side if d == far] for side in (before, after)] for far in distances]
    parts = [(np.mean(b) - np.mean(a), len(a) * len(b) / (len(a) + len(b))) for a, b in sides]
    return np.average([p for p, _ in parts], weights=[w for _, w in parts])


def test_what_only_one_side_was_putted_from_is_left_out_and_said(browser, trained):
    late = [p["id"] for p in putts(browser, trained)[15:] if p["putt"]["distance_m"] == 6]
    left = len(putts(browser, trained)) - 15 - len(late)
    assert browser.post(f"/lessons/{trained}/putts", {"swings": late, "distance_m": 12}).status_code == 200
    change = change_of(browser, trained)
    assert (len(change["before"]), len(change["after"])) == (10, left)
    assert f" At 3 and 9 m, what the distance does taken off. {5 + len(late)} other putts" in change["sentence"]
    assert change["difference"] == pytest.approx(difference(browser, trained, (3, 9)), abs=0.01)
    browser.post(f"/lessons/{trained}/undo")
    assert len(change_of(browser, trained)["before"]) == 15


def test_where_no_distance_is_shared_that_is_said_and_nothing_judged(browser, trained):
    late = [p["id"] for p in putts(browser, trained)[15:]]
    browser.post(f"/lessons/{trained}/putts", {"swings": late, "distance_m": 12})
    change = change_of(browser, trained)
    assert change["verdict"] == "too_few"
    assert "No distance has putts before and after: putt from the same ones." in change["sentence"]
    browser.post(f"/lessons/{trained}/undo")


def test_progress_follows_putts_from_one_distance(browser, trained):
    player = browser.lesson(trained)["player"]["id"]
    found = browser.get(f"/players/{player}/progress?metric={RANGE[0]}&moment={RANGE[1]}&club=putter").json()
    assert found["points"][0]["swings"] == 5
    assert found["sentence"].endswith(" Putts from 3 m alone.")
