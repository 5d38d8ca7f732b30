"""An export brought into another academy: equal in everything that was noted, marked, planned and measured."""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile

import pytest

from tests.api.conftest import bundle, drop, new_lesson, wait
from tests.api.test_clips import send as send_clip
from tests.api.test_retention import BAND, CUPPED, HELD, captured, next_lesson

ID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")


@pytest.fixture(scope="module")
def player(browser):
    """Two lessons with everything in them; the player's id."""
    first = new_lesson(browser, "Travels Along", words="standard", lengths="in")
    captured(browser, first, CUPPED)
    ids = [s["id"] for s in browser.lesson(first)["swings"]]
    browser.patch(f"/swings/{ids[0]}", {"kind": "warm_up"})
    browser.patch(f"/swings/{ids[1]}", {"strike": "toe", "tags": ["skilled"], "ball_start": "lead"})
    top = next(e["time_s"] for e in browser.swing(ids[2])["events"] if e["name"] == "top")
    moved = browser.patch(f"/swings/{ids[2]}", {"checkpoint": {"name": "top", "time_s": top + 0.02}})
    assert moved.status_code == 200, moved.text
    assert send_clip(browser, ids[3]).status_code == 201
    assert browser.post(f"/lessons/{first}/pin", {"swing_ids": ids[1:3]}).status_code == 200
    assert browser.post(f"/lessons/{first}/training", BAND).status_code == 201
    assert browser.patch(f"/lessons/{first}/training", {"test": True}).status_code == 200
    captured(browser, first, HELD)
    browser.send("DELETE", f"/lessons/{first}/training")
    kept = [{"finding": "over_extended_top", "label": "Over-extended at the top", "drill": "peg_pointer"}]
    body = {"priorities": kept, "note": "Half swings only.", "next_date": "2031-03-01"}
    assert browser.post(f"/lessons/{first}/close", body).status_code == 200
    second = next_lesson(browser, first, 14)
    assert drop(browser, second, bundle("good-load", 11, sources=("wrist", "pressure"))).status_code == 201
    swing = browser.lesson(second)["swings"][0]["id"]
    assert browser.put(f"/swings/{swing}/guess", {"side": "lead", "foot": "heels"}).status_code == 200
    player_id = browser.lesson(first)["player"]["id"]
    browser.post(f"/players/{player_id}/limits", {"area": "back", "movement": "turn", "comfortable": 61.0})
    assert browser.post("/references", {"form": "best", "swing_ids": ids[1:3]}).status_code in (200, 201)
    return player_id


@pytest.fixture(scope="module")
def exported(browser, player):
    return browser.get(f"/players/{player}/export").content


def brought(who, content, name="player.zip"):
    answer = who.send("POST", "/players/bring", files={"file": (name, content, "application/zip")})
    assert answer.status_code == 202, answer.text
    job = answer.json()["id"]
    return wait(lambda: (j := who.get(f"/jobs/{job}").json())["state"] in ("done", "failed", "cancelled") and j)


def told(who, player_id):
    """All that is answered of a player, by what it says rather than by its ids."""
    page = who.get(f"/players/{player_id}").json()
    out = {"player": page, "progress": who.get(f"/players/{player_id}/progress").json(), "lessons": []}
    for brief in sorted(page["lessons"], key=lambda x: x["starts_at"]):
        lesson = who.lesson(brief["id"])
        swings = [
            {
                "page": who.get(f"/swings/{s['id']}").json(),
                "numbers": who.get(f"/swings/{s['id']}/numbers").json(),
                "clips": who.get(f"/swings/{s['id']}/clips").json(),
                "traces": who.block(who.get(f"/swings/{s['id']}").json()).content.hex(),
            }
            for s in lesson["swings"]
        ]
        out["lessons"].append(
            {"lesson": lesson, "swings": swings, "table": who.get(f"/lessons/{brief['id']}/table").json()}
        )
    return out


APART = {"instructor", "instructor_id", "revision", "created_at", "made_at", "can_undo"}
"""What is another's by its nature."""


def plain(value):
    """Without ids, and without what belongs to the academy it stands in."""
    if isinstance(value, dict):
        return {k: plain(v) for k, v in value.items() if k not in APART}
    if isinstance(value, list):
        return [plain(v) for v in value]
    return ID.sub("id", value) if isinstance(value, str) else value


def differences(a, b, at=""):
    if type(a) is not type(b):
        return [f"{at}: {a!r} | {b!r}"[:300]]
    if isinstance(a, dict):
        return [d for k in a.keys() | b.keys() for d in differences(a.get(k), b.get(k), f"{at}/{k}")]
    if isinstance(a, list):
        if len(a) != len(b):
            return [f"{at}: {len(a)} | {len(b)}"]
        return [d for k, (x, y) in enumerate(zip(a, b, strict=True)) for d in differences(x, y, f"{at}/{k}")]
    return [] if a == b else [f"{at}: {a!r} | {b!r}"[:300]]


def test_a_player_is_the_same_in_another_academy(browser, stranger, player):
    content = browser.get(f"/players/{player}/export").content
    job = brought(stranger, content)
    assert job["state"] == "done", job["message"]
    assert job["player_id"] != player
    there = job["player_id"]
    assert differences(plain(told(browser, player)), plain(told(stranger, there))) == []
    ours = {r["name"] for r in stranger.get("/references").json()}
    assert any("Travels Along" in name for name in ours)
    lesson = stranger.get(f"/players/{there}").json()["lessons"][-1]["id"]
    assert stranger.post(f"/lessons/{lesson}/reopen").status_code == 200
    undone = stranger.post(f"/lessons/{lesson}/undo")
    assert undone.status_code == 200, undone.text  # what was changed there can be undone here
    swing = stranger.lesson(lesson)["swings"][1]["id"]
    top = next(e["time_s"] for e in stranger.swing(swing)["events"] if e["name"] == "top")
    again = stranger.patch(f"/swings/{swing}", {"checkpoint": {"name": "top", "time_s": top + 0.01}})
    assert again.status_code == 200, again.text  # measured anew from the raw samples that came along


def test_it_can_be_exported_and_brought_once_more(stranger, browser, player):
    content = browser.get(f"/players/{player}/export").content
    first = brought(stranger, content)["player_id"]
    again = brought(stranger, stranger.get(f"/players/{first}/export").content)["player_id"]
    assert again != first
    assert differences(plain(told(stranger, first)), plain(told(stranger, again))) == []


def test_a_lesson_alone_comes_with_its_player(browser, stranger, player):
    lesson = browser.get(f"/players/{player}").json()["lessons"][-1]["id"]
    job = brought(stranger, browser.get(f"/lessons/{lesson}/export").content, "lesson.zip")
    page = stranger.get(f"/players/{job['player_id']}").json()
    assert page["name"] == "Travels Along"
    assert len(page["lessons"]) == 1
    assert page["consent_by"] == "Travels Along"
    there = stranger.lesson(page["lessons"][0]["id"])
    assert len(there["swings"]) == len(browser.lesson(lesson)["swings"])


def changed(content, **files):
    """The export with other files, its list made to agree where ``listed``."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, files.get(name, old.read(name)))
    return out.getvalue()


def test_what_is_cut_off_damaged_or_newer_is_refused_and_nothing_is_kept(browser, stranger, player):
    content = browser.get(f"/players/{player}/export").content
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        manifest = json.loads(archive.read("manifest.json"))
        chunk = next(n for n in archive.namelist() if n.startswith("lesson") and n.endswith(".parquet"))
    names = len(stranger.get("/players").json())
    wrong = {
        "half": (content[: len(content) // 2], "cut off"),
        "damaged": (changed(content, **{chunk: b"PAR1"}), "other than"),
        "newer": (changed(content, **{"manifest.json": json.dumps({**manifest, "version": 99})}), "newer Fine Arc"),
        "older": (changed(content, **{"manifest.json": json.dumps({**manifest, "version": 2})}), "Export it again"),
        "other": (changed(content, **{"manifest.json": json.dumps({**manifest, "format": "x"})}), "no export"),
        "text": (b"hello", "not a zip"),
    }
    for name, (bad, said) in wrong.items():
        job = brought(stranger, bad, f"{name}.zip")
        assert job["state"] == "failed", name
        assert said in job["message"], (name, job["message"])
    assert len(stranger.get("/players").json()) == names


def crafted(content, edits=None, files=None):
    """The export as somebody might write it by hand: its list agrees with what is in it."""
    out, listed = io.BytesIO(), []
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            if name == "manifest.json":
                continue
            held = (files or (lambda name, held: held))(name, old.read(name))
            if edits is not None and name.endswith("lesson.json"):
                record = json.loads(held)
                edits(record)
                held = json.dumps(record).encode()
            new.writestr(name, held)
            listed.append({"name": name, "bytes": len(held), "sha256": hashlib.sha256(held).hexdigest()})
        manifest = {**json.loads(old.read("manifest.json")), "files": listed}
        new.writestr("manifest.json", json.dumps(manifest))
    return out.getvalue()


def first(record, part, **fields):
    """Other fields in the first of a lesson's swings, clips, changes …"""
    for one in record[part][:1]:
        one.update(fields)


HOSTILE = {
    "a page where a video is": (lambda r: first(r, "clips", kind="text/html"), "the kind of a clip"),
    "a hand there is not": (lambda r: first(r, "recordings", handedness="both"), "the handedness of a recording"),
    "a shot there is not": (lambda r: first(r, "recordings", shot="drive"), '"drive" is not known here'),
    "a plan of no distances": (
        lambda r: r["lesson"].update(putt_plan={"distances_m": []}),
        "the putt_plan of a lesson",
    ),
    "a plan of more putts than anybody makes": (
        lambda r: r["lesson"].update(putt_plan={"each": 10**9}),
        "the putt_plan of a lesson",
    ),
    "a putter of another form": (
        lambda r: first(r, "recordings", putter={"length_m": "long"}),
        "the putter of a recording",
    ),
    "a club there is not": (lambda r: first(r, "swings", club="broom"), '"broom" is not known here'),
    "a strike there is not": (lambda r: first(r, "swings", strike="<b>"), "the strike of a swing"),
    "a metric there is not": (lambda r: first(r, "blocks", metric="luck"), '"luck" is not known here'),
    "a start that is no number": (lambda r: first(r, "swings", start_s="soon"), "the start_s of a swing"),
    "no number at all": (lambda r: first(r, "swings", end_s=float("nan")), "the end_s of a swing"),
    "an id of somebody else's": (
        lambda r: first(r, "swings", block_id="0A0B0C0D-0000-4000-8000-00000000000A"),
        "an id is written otherwise",
    ),
    "undo that gives a swing away": (
        lambda r: first(r, "changes", entity="swing", before={"player_id": "x"}),
        "a change cannot be about the player_id",
    ),
    "undo that opens another academy": (
        lambda r: first(r, "changes", entity="lesson", before={"academy_id": "x"}),
        "a change cannot be about the academy_id",
    ),
    "undo of something there is not": (lambda r: first(r, "changes", before={"shoes": 2}), "has no shoes"),
    "a state there is not": (lambda r: r["lesson"].update(status="eternal"), "the status of a lesson"),
    "no recordings": (lambda r: r.pop("recordings"), "not as an export is"),
}


@pytest.mark.parametrize("case", HOSTILE)
def test_what_this_application_could_not_have_written_is_refused(stranger, exported, case):
    edits, said = HOSTILE[case]
    names = len(stranger.get("/players").json())
    job = brought(stranger, crafted(exported, edits))
    assert job["state"] == "failed", case
    assert said in job["message"], job["message"]
    assert len(stranger.get("/players").json()) == names


def test_an_export_written_anew_by_hand_is_taken_when_nothing_in_it_is_other(stranger, exported):
    content = crafted(exported, lambda record: None)
    assert brought(stranger, content)["state"] == "done"  # or the test above could not fail


def forged_layout(name, held):
    """A record that names the first metric otherwise, under the mark by which all layouts like it are known."""
    return held.replace(b'["hand_roll",', b'["hand_rock",') if name.endswith("/record.bin") else held


SPOILT = {
    "samples": (lambda n, held: b"hello" if n.endswith(".parquet") and "/kept/" in f"/{n}" else held, "raw samples"),
    "record": (lambda n, held: held[:90] if n.endswith("/record.bin") else held, "measured in a swing"),
    "layout": (forged_layout, "measured in a swing"),
    "judgement": (lambda n, held: b"FAJ2" if n.endswith("/judgement.bin") else held, "measured in a swing"),
    "traces": (lambda n, held: held[:-2] if n.endswith("/block-traces.bin") else held, "measured in a swing"),
}


@pytest.mark.parametrize("what", SPOILT)
def test_what_cannot_be_read_is_not_kept(stranger, exported, what):
    files, said = SPOILT[what]
    spoilt = crafted(exported, files=files)
    assert spoilt != crafted(exported)
    names = len(stranger.get("/players").json())
    job = brought(stranger, spoilt)
    assert job["state"] == "failed", what
    assert said in job["message"], job["message"]
    assert len(stranger.get("/players").json()) == names


def test_a_list_of_files_that_counts_backwards_is_refused(stranger, exported):
    with zipfile.ZipFile(io.BytesIO(exported)) as archive:
        manifest = json.loads(archive.read("manifest.json"))
    manifest["files"][0]["bytes"] = -2
    job = brought(stranger, changed(exported, **{"manifest.json": json.dumps(manifest)}))
    assert job["state"] == "failed"
    assert "no export" in job["message"]
