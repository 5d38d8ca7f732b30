"""Videos beside swings: attached, laid on the swing, sent in ranges, undone, exported, erased."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from datetime import timedelta

import pytest
from sqlalchemy import func, select

from finearc.formats.film import BEFORE_S, film
from finearc.golfer.scenarios import play
from finearc.services.capture.clips import MOST_BYTES, PIECE, VIEWS, ClipRead, attach, let_go_removed
from finearc.services.records import now
from finearc.store import tables as t
from tests.api.conftest import bundle, drop, new_lesson

FILMED = film(play("over-extended", 11))
SILENT = film(play("over-extended", 11), sound=False)


@pytest.fixture
def lesson_id(browser):
    made = new_lesson(browser)
    assert drop(browser, made, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    return made


@pytest.fixture
def swing_id(browser, lesson_id):
    return browser.lesson(lesson_id)["swings"][0]["id"]


def send(browser, swing_id, content=FILMED, view="front", name="swing.mp4", query=""):
    return browser.send("POST", f"/swings/{swing_id}/clips/{view}{query}", files={"file": (name, content, "video/mp4")})


def of(browser, swing_id):
    return browser.get(f"/swings/{swing_id}/clips").json()["clips"]


def kept(services):
    with services.store.engine.connect() as c:
        return c.scalar(select(func.count()).select_from(t.clip)), c.scalar(
            select(func.count()).select_from(t.clip_part)
        )


def test_a_video_is_laid_on_the_swing_by_the_sound_of_the_strike(browser, swing_id):
    answer = send(browser, swing_id)
    assert answer.status_code == 201
    (clip,) = answer.json()["clips"]
    assert (clip["view"], clip["aligned_by"], clip["slower"], clip["sound"]) == ("front", "sound", 1, True)
    assert clip["impact_s"] == pytest.approx(BEFORE_S, abs=0.012)
    impact = next(e for e in browser.swing(swing_id)["events"] if e["name"] == "impact")
    assert clip["swing_impact_s"] == pytest.approx(impact["time_s"])


def test_two_views_stand_beside_each_other_and_a_second_of_one_takes_its_place(browser, lesson_id, swing_id):
    send(browser, swing_id)
    assert [c["view"] for c in send(browser, swing_id, view="line").json()["clips"]] == ["front", "line"]
    first = of(browser, swing_id)[0]["id"]
    assert send(browser, swing_id).json()["clips"][-1]["id"] != first
    assert len(of(browser, swing_id)) == 2
    browser.post(f"/lessons/{lesson_id}/undo")
    browser.post(f"/lessons/{lesson_id}/undo")
    assert first in [c["id"] for c in of(browser, swing_id)]


def test_without_sound_a_click_on_impact_lays_it_there(browser, lesson_id, swing_id):
    (clip,) = send(browser, swing_id, SILENT).json()["clips"]
    assert (clip["impact_s"], clip["aligned_by"]) == (None, "")
    (told,) = browser.patch(f"/clips/{clip['id']}", {"impact_s": 2.5}).json()["clips"]
    assert (told["impact_s"], told["aligned_by"]) == (2.5, "click")
    beyond = browser.patch(f"/clips/{clip['id']}", {"impact_s": 9.0})
    assert (beyond.status_code, "9.00 s is not in the video" in beyond.json()["message"]) == (409, True)
    browser.post(f"/lessons/{lesson_id}/undo")
    assert of(browser, swing_id)[0]["impact_s"] is None


def test_a_slowed_video_forgets_where_its_sound_said_the_strike_was(browser, swing_id):
    (clip,) = send(browser, swing_id).json()["clips"]
    (told,) = browser.patch(f"/clips/{clip['id']}", {"slower": 8}).json()["clips"]
    assert (told["slower"], told["impact_s"], told["aligned_by"]) == (8, None, "")


def test_its_file_is_sent_whole_and_in_ranges(browser, swing_id):
    (clip,) = send(browser, swing_id).json()["clips"]
    path, size = f"/clips/{clip['id']}/content", clip["size"]
    whole = browser.get(path)
    assert (whole.status_code, len(whole.content), whole.headers["content-type"]) == (200, size, "video/mp4")
    for asked, first, last in (("0-", 0, size - 1), ("100-199", 100, 199), ("-50", size - 50, size - 1)):
        part = browser.send("GET", path, headers={"range": f"bytes={asked}"})
        assert part.status_code == 206
        assert part.content == whole.content[first : last + 1]
        assert part.headers["content-range"] == f"bytes {first}-{last}/{size}"
    for asked in (f"{size}-", "-0"):
        beyond = browser.send("GET", path, headers={"range": f"bytes={asked}"})
        assert (beyond.status_code, beyond.headers["content-range"]) == (416, f"bytes */{size}")
    assert browser.send("GET", path, headers={"range": "bytes=0-1,5-6"}).content == whole.content
    assert browser.send("GET", path, headers={"range": "rows=1-2"}).content == whole.content


def test_a_range_across_pieces_is_what_stands_there(browser, services, north, swing_id):
    content = bytes(range(256)) * (3 * PIECE // 256) + b"the end"
    with services.store.unit_of_work(north) as uow:
        clip = attach(uow, swing_id, "line", ClipRead("video/mp4", content, 4.0, 30.0, 64, 64, False, None))
    part = browser.send("GET", f"/clips/{clip.id}/content", headers={"range": f"bytes={PIECE - 5}-{2 * PIECE + 5}"})
    assert part.content == content[PIECE - 5 : 2 * PIECE + 6]
    assert browser.get(f"/clips/{clip.id}/content").content == content


def test_what_is_taken_away_comes_back_by_undoing_and_goes_after_a_day(browser, lesson_id, swing_id, services, north):
    (clip,) = send(browser, swing_id).json()["clips"]
    assert browser.send("DELETE", f"/clips/{clip['id']}").json()["clips"] == []
    assert browser.get(f"/clips/{clip['id']}/content").status_code == 404
    assert browser.patch(f"/clips/{clip['id']}", {"impact_s": 1.0}).status_code == 409
    browser.post(f"/lessons/{lesson_id}/undo")
    assert [c["id"] for c in of(browser, swing_id)] == [clip["id"]]
    browser.send("DELETE", f"/clips/{clip['id']}")
    before = kept(services)[0]
    with services.store.unit_of_work(north) as uow:
        assert let_go_removed(uow) == 0
    with services.store.unit_of_work(north) as uow:
        assert let_go_removed(uow, now() + timedelta(days=2)) >= 1
    assert kept(services)[0] < before
    assert "video" not in (browser.lesson(lesson_id)["can_undo"] or "")


def test_an_attaching_that_was_undone_is_gone_once_something_else_is_done(browser, lesson_id, swing_id, services):
    before = kept(services)
    send(browser, swing_id)
    browser.post(f"/lessons/{lesson_id}/undo")
    assert of(browser, swing_id) == []
    assert kept(services) != before
    browser.patch(f"/swings/{swing_id}", {"kind": "drill"})
    assert kept(services) == before


def test_videos_are_exported_with_their_checksums(browser, lesson_id, swing_id):
    (clip,) = send(browser, swing_id).json()["clips"]
    content = browser.get(f"/clips/{clip['id']}/content").content
    answer = browser.get(f"/lessons/{lesson_id}/export")
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        record = json.loads(archive.read("lesson.json"))
        (told,) = record["clips"]
        assert told["file"] == "videos/swing-1-front.mp4"
        assert archive.read(told["file"]) == content
        sums = dict(reversed(line.split("  ")) for line in archive.read("SHA256SUMS").decode().splitlines())
    assert sums[told["file"]] == hashlib.sha256(content).hexdigest()
    player = browser.lesson(lesson_id)["player"]["id"]
    with zipfile.ZipFile(io.BytesIO(browser.get(f"/players/{player}/export").content)) as archive:
        (name,) = (n for n in archive.namelist() if n.endswith("videos/swing-1-front.mp4"))
        assert archive.read(name) == content


def test_erasing_the_player_erases_the_videos(browser, lesson_id, swing_id, services):
    before = kept(services)
    send(browser, swing_id)
    send(browser, swing_id, view="line")
    browser.send("DELETE", f"/clips/{of(browser, swing_id)[0]['id']}")
    player = browser.lesson(lesson_id)["player"]["id"]
    assert browser.send("DELETE", f"/players/{player}").status_code < 300
    assert kept(services) == before


def test_after_consent_is_withdrawn_nothing_is_filmed(browser, lesson_id, swing_id):
    player = browser.lesson(lesson_id)["player"]["id"]
    assert browser.send("DELETE", f"/players/{player}/consents").status_code < 300
    refused = send(browser, swing_id)
    assert (refused.status_code, "consent was withdrawn" in refused.json()["message"]) == (409, True)


@pytest.mark.parametrize(
    ("content", "words"),
    [(b"", "an empty file"), (b"a table, not a film\n" * 50, "not a video"), (FILMED[:3000], "not a video")],
)
def test_what_is_no_video_is_refused_and_nothing_is_kept(browser, swing_id, services, content, words):
    before = kept(services)
    refused = send(browser, swing_id, content)
    assert (refused.status_code, words in refused.json()["message"]) == (422, True)
    assert kept(services) == before


def test_two_gigabytes_are_refused_before_they_are_sent(browser, swing_id):
    headers = {"content-length": str(2_000_000_000), "content-type": "multipart/form-data; boundary=x"}
    refused = browser.send("POST", f"/swings/{swing_id}/clips/front", content=b"--x", headers=headers)
    assert refused.status_code == 413
    assert f"({(MOST_BYTES + 1_000_000) / 1e6:g} MB)" in refused.json()["message"]


def test_another_academy_sees_and_changes_nothing(stranger, browser, swing_id):
    (clip,) = send(browser, swing_id).json()["clips"]
    for answer in (
        stranger.get(f"/swings/{swing_id}/clips"),
        send(stranger, swing_id),
        stranger.get(f"/clips/{clip['id']}/content"),
        stranger.patch(f"/clips/{clip['id']}", {"slower": 2}),
        stranger.send("DELETE", f"/clips/{clip['id']}"),
    ):
        assert answer.status_code == 404
    assert set(VIEWS) == {"front", "line"}
    assert send(browser, swing_id, view="above").status_code == 422
