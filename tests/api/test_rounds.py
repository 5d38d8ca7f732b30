"""A player's rounds over HTTP: brought, looked at, corrected, taken away, erased with the player."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace
from datetime import datetime, timedelta
from uuid import UUID

import pytest

from finearc.formats.bundle import opener_of, zip_bytes
from finearc.formats.round_bundle import read_opened_round, round_files
from finearc.golfer.course import round as model
from finearc.main import tidy
from finearc.services.course.records import Round, RoundCorrection, RoundLog
from finearc.services.jobs.records import Job
from finearc.services.modelled import round_of
from tests.api.conftest import bring_round, bundle, drop, new_lesson, round_zip
from tests.api.test_bringing import brought, crafted

PLAN = model.RoundPlan(shots=14, practice=6, putts=6, disturbances=20, tap_ins=2)


@pytest.fixture(scope="module")
def played():
    return model.play_round("round-short-under-pressure", 5, PLAN)


@pytest.fixture(scope="module")
def content(played):
    return zip_bytes(round_files(round_of(played)))


def new_player(browser, name="Ronda Round"):
    return browser.post("/players", {"name": name, "consent_by": name}).json()["id"]


@pytest.fixture(scope="module")
def kept_round(browser, content):
    player_id = new_player(browser)
    job = bring_round(browser, player_id, content)
    assert job["state"] == "done", job
    return player_id, job["round_id"]


def test_a_round_is_brought_and_listed_with_its_counts(browser, kept_round, played):
    player_id, round_id = kept_round
    (brief,) = browser.get(f"/players/{player_id}/rounds").json()
    assert brief["id"] == round_id
    assert (brief["shots"], brief["putts"]) == (14, 6)
    assert brief["other"] >= 20
    shown = browser.get(f"/rounds/{round_id}").json()
    assert len(shown["motions"]) == sum(brief[k] for k in ("shots", "practice", "putts", "other"))
    assert {m["hole"] for m in shown["motions"] if m["kind"] == "shot"} >= {1, 16}
    assert shown["brief"]["played_at"].startswith("2026-06-04T08:00")
    times = [m["at"] for m in shown["motions"]]
    assert times == sorted(times)


def test_a_person_says_otherwise_and_takes_it_back(browser, kept_round):
    _, round_id = kept_round
    motions = browser.get(f"/rounds/{round_id}").json()["motions"]
    number = next(m["number"] for m in motions if m["found"] == "practice" and m["stroke"] != "putt")
    said = browser.send("PATCH", f"/rounds/{round_id}/motions/{number}", json={"kind": "shot"}).json()
    assert said["motions"][number]["kind"] == "shot"
    assert said["motions"][number]["found"] == "practice"
    assert said["brief"]["shots"] == 15
    back = browser.send("PATCH", f"/rounds/{round_id}/motions/{number}", json={"kind": None}).json()
    assert back["motions"][number]["kind"] == "practice"
    wrong = browser.send("PATCH", f"/rounds/{round_id}/motions/9999", json={"kind": "shot"})
    assert wrong.status_code == 409
    assert "counted from 0" in wrong.json()["message"]


def test_the_round_can_be_taken_away_and_reads_again(browser, kept_round, played):
    _, round_id = kept_round
    answer = browser.get(f"/rounds/{round_id}/bundle")
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    read = read_opened_round(opener_of(files))
    assert set(read.logs) == set(played.logs)
    for club, log in played.logs.items():
        assert (read.logs[club].gyr_rad_s == log.gyr_rad_s).all()
    assert len(read.card) == len(played.card)


def test_another_academy_sees_nothing_of_it(stranger, kept_round):
    player_id, round_id = kept_round
    assert stranger.get(f"/rounds/{round_id}").status_code == 404
    assert stranger.get(f"/rounds/{round_id}/bundle").status_code == 404
    assert stranger.get(f"/players/{player_id}/rounds").status_code == 404
    assert stranger.send("PATCH", f"/rounds/{round_id}/motions/0", json={"kind": "shot"}).status_code == 404
    assert stranger.send("DELETE", f"/rounds/{round_id}").status_code == 404


def test_what_is_no_round_says_so(browser):
    player_id = new_player(browser, "Norma Noround")
    job = bring_round(browser, player_id, bundle("hold-then-flex", 5))
    assert job["state"] == "failed"
    assert "not a round" in job["message"]
    assert browser.get(f"/players/{player_id}/rounds").json() == []


def test_the_course_is_set_against_the_range(browser, played):
    """Driver swings in the bay with a clip, the same driver on the course: the range stands beside it."""
    lesson_id = new_lesson(browser, "Rae Range")
    player_id = browser.lesson(lesson_id)["player"]["id"]
    assert browser.send("PATCH", f"/lessons/{lesson_id}", json={"club": "7-iron"}).status_code in (200, 428)
    assert drop(browser, lesson_id, bundle("short", 6, sources=("wrist", "club"))).status_code == 201
    job = bring_round(browser, player_id, zip_bytes(round_files(replace(round_of(played), captured_at=None))))
    shown = browser.get(f"/rounds/{job['round_id']}").json()
    against = [c for c in shown["compared"] if c["what"] == "course_against_range"]
    if any(m["club"] == "7-iron" and m["kind"] == "shot" for m in shown["motions"]):
        (mine,) = [c for c in against if c["club"] == "7-iron"]
        assert mine["shots"][0] == 5
        assert mine["sentence"].startswith("On the course your 7-iron backswing")
    assert {c["club"] for c in against} <= {"7-iron"}


def test_a_players_own_range_is_kept_with_the_latest_round(browser, played):
    """What a round is laid over stays, however many lessons come after it, until another round is brought."""
    lesson_id = new_lesson(browser, "Owen Ownrange")
    player_id = browser.lesson(lesson_id)["player"]["id"]
    for seed in (6, 7):
        assert drop(browser, lesson_id, bundle("short", seed, sources=("wrist", "club"))).status_code == 201
    log = zip_bytes(round_files(replace(round_of(played), captured_at=None)))
    first = bring_round(browser, player_id, log)["round_id"]
    (band,) = [b for b in browser.get(f"/rounds/{first}").json()["bands"] if b["club"] == "7-iron"]
    assert band["kept_at"] is not None
    assert band["low_deg"] <= band["middle_deg"] <= band["high_deg"]
    assert drop(browser, lesson_id, bundle("short", 8, sources=("wrist", "club"))).status_code == 201
    assert band in browser.get(f"/rounds/{first}").json()["bands"]
    second = bring_round(browser, player_id, log)["round_id"]
    (newer,) = [b for b in browser.get(f"/rounds/{second}").json()["bands"] if b["club"] == "7-iron"]
    assert newer["n"] > band["n"]


def test_a_round_goes_with_its_player(browser, services, north, content):
    player_id = new_player(browser, "Gone Gone")
    job = bring_round(browser, player_id, content)
    number = 0
    browser.send("PATCH", f"/rounds/{job['round_id']}/motions/{number}", json={"kind": "putt"})
    failed = bring_round(browser, player_id, b"no zip at all")
    assert failed["state"] == "failed"
    assert browser.send("DELETE", f"/players/{player_id}").status_code == 200
    with services.store.unit_of_work(north) as uow:
        round_id = UUID(job["round_id"])
        assert uow.find(Round, id=round_id) == []
        assert uow.find(RoundLog, round_id=round_id) == []
        assert uow.find(RoundCorrection, round_id=round_id) == []
        assert uow.find(Job, id=UUID(failed["id"])) == []


def test_a_round_can_be_removed_alone(browser, content):
    player_id = new_player(browser, "Remo Ved")
    job = bring_round(browser, player_id, content)
    assert browser.send("DELETE", f"/rounds/{job['round_id']}").status_code == 200
    assert browser.get(f"/players/{player_id}/rounds").json() == []
    assert json.dumps(browser.get(f"/players/{player_id}").json())


def test_a_removed_round_comes_back_for_a_day_and_then_goes_for_good(browser, stranger, services, north, content):
    player_id = new_player(browser, "Rue Turned")
    round_id = bring_round(browser, player_id, content)["round_id"]
    before = browser.get(f"/rounds/{round_id}").json()
    browser.send("DELETE", f"/rounds/{round_id}")
    assert browser.get(f"/rounds/{round_id}").status_code == 404
    assert stranger.post(f"/rounds/{round_id}/restored").status_code == 404
    for _ in range(2):  # twice is once
        assert browser.post(f"/rounds/{round_id}/restored").json() == before
    browser.send("DELETE", f"/rounds/{round_id}")
    tidy(services)
    assert browser.post(f"/rounds/{round_id}/restored").status_code == 200
    browser.send("DELETE", f"/rounds/{round_id}")
    with services.store.unit_of_work(north) as uow:
        (kept,) = uow.find_aside(Round, id=UUID(round_id))
        kept.aside_at -= timedelta(days=1, minutes=1)
    tidy(services)
    assert browser.post(f"/rounds/{round_id}/restored").status_code == 404
    with services.store.unit_of_work(north) as uow:
        assert uow.find(RoundLog, round_id=UUID(round_id)) == []


def test_a_removed_round_goes_with_its_player(browser, services, north, content):
    player_id = new_player(browser, "Gone Along")
    round_id = bring_round(browser, player_id, content)["round_id"]
    browser.send("DELETE", f"/rounds/{round_id}")
    assert browser.send("DELETE", f"/players/{player_id}").status_code == 200
    with services.store.unit_of_work(north) as uow:
        assert uow.find_aside(Round, id=UUID(round_id)) == []
        assert uow.find(RoundLog, round_id=UUID(round_id)) == []


def shown(who, round_id):
    """A round without what belongs to where it stands."""
    found = who.get(f"/rounds/{round_id}").json()
    return {k: v for k, v in found.items() if k not in ("player_id", "brief")} | {"name": found["brief"]["name"]}


def test_rounds_travel_with_their_player(browser, stranger, content):
    player_id = new_player(browser, "Travis Round")
    round_id = bring_round(browser, player_id, content)["round_id"]
    said = browser.send("PATCH", f"/rounds/{round_id}/motions/3", json={"kind": "putt"})
    assert said.status_code == 200
    job = brought(stranger, browser.get(f"/players/{player_id}/export").content)
    assert job["state"] == "done", job["message"]
    there = job["player_id"]
    (brief,) = stranger.get(f"/players/{there}/rounds").json()
    assert brief["id"] != round_id
    assert shown(stranger, brief["id"]) == shown(browser, round_id)
    assert stranger.get(f"/rounds/{brief['id']}/bundle").content == browser.get(f"/rounds/{round_id}/bundle").content


@pytest.mark.parametrize(
    ("spoil", "told"),
    [
        (lambda record: record["rounds"][0].update(document='{"motions": [{"club": "7-iron"}]}'), "a round cannot be read"),
        (lambda record: record["rounds"][0].update(document=record["rounds"][0]["document"].replace("0.", "1e999", 1)), ""),
        (lambda record: record["round_corrections"][0].update(kind="albatross"), "is not known here"),
        (lambda record: record["round_logs"][0].update(round_id=record["player"]["id"]), "is not in it"),
    ],
)  # fmt: skip
def test_a_round_written_by_hand_is_refused(browser, stranger, content, spoil, told):
    player_id = new_player(browser, "Tam Pered")
    round_id = bring_round(browser, player_id, content)["round_id"]
    browser.send("PATCH", f"/rounds/{round_id}/motions/3", json={"kind": "putt"})

    def spoilt(name, held):
        if name != "player.json":
            return held
        record = json.loads(held)
        spoil(record)
        return json.dumps(record).encode()

    job = brought(stranger, crafted(browser.get(f"/players/{player_id}/export").content, files=spoilt))
    assert job["state"] == "failed"
    assert told in job["message"]


def test_a_shot_says_how_long_before_it_the_last_practice_swing_was(browser):
    player = browser.post("/players", {"name": "Pra Ctice", "consent_by": "Pra Ctice"}).json()["id"]
    brought = bring_round(browser, player, round_zip())
    motions = browser.get(f"/rounds/{brought['round_id']}").json()["motions"]
    practised = None
    for m in motions:
        if m["kind"] == "shot" and practised is not None:
            gap = datetime.fromisoformat(m["at"]) - datetime.fromisoformat(practised)
            assert m["since_practice_s"] == pytest.approx(gap.total_seconds(), abs=0.11)
        else:
            assert m["since_practice_s"] is None
        practised = m["at"] if m["kind"] == "practice" else practised
    assert any(m["since_practice_s"] is not None for m in motions)
    assert all(m["smoothness"] < 0 for m in motions if m["kind"] == "shot" and m["smoothness"] is not None)
