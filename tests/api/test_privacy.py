"""Consent, erasing and export: what is kept, of whom, and what remains when it goes."""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
from datetime import timedelta
from uuid import UUID

import pytest
from sqlalchemy import func, select
from validation.foreign import foreign

from finearc.formats.c3d_file import c3d_bytes
from finearc.launch.mariadb import MariaDb
from finearc.main import tidy, wire
from finearc.services.course.records import OwnRange
from finearc.services.jobs.records import Job, JobInput
from finearc.services.people.records import OwnPlayer
from finearc.services.records import Academy, BenchmarkVersion, Chunk, Instructor, Lesson, MadeOf, Recording, now
from finearc.store import tables as t
from finearc.store.migrate import upgrade
from finearc.store.unit_of_work import engine_for
from tests.api.conftest import PASSWORD, Browser, bring_round, bundle, drop, new_lesson, round_zip
from tests.api.test_body import bring, inspect, suggested
from tests.api.test_clips import send as send_clip
from tests.conftest import free_port

NAME = "Quillon Ferrywright"


def lesson_of(browser, name=NAME, **player):
    lesson_id = new_lesson(browser, name, **player)
    assert drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    return browser.lesson(lesson_id)


def without_consent(browser, name="Nobody Asked"):
    return lesson_of(browser, name, consent_by="")


def test_a_junior_needs_a_guardian(browser):
    junior = {"name": "Small One", "population": "junior", "consent_by": "Small One"}
    refused = browser.post("/players", junior)
    assert (refused.status_code, "guardian" in refused.json()["message"]) == (409, True)
    made = browser.post("/players", {**junior, "consent_by": "Rosa", "consent_as": "guardian"})
    assert made.status_code == 201
    told = browser.get(f"/players/{made.json()['id']}/consents").json()
    assert [(c["given"], c["by"], c["as"], c["noted_by"]) for c in told] == [
        (True, "Rosa", "guardian", "North Instructor")
    ]


def test_who_becomes_a_junior_needs_a_guardian_again(browser):
    made = browser.post("/players", {"name": "Grows Down", "consent_by": "Grows Down"}).json()
    body = {"name": "Grows Down", "population": "junior", "consent_by": "Grows Down"}
    assert browser.put(f"/players/{made['id']}", body).status_code == 409
    assert (
        browser.put(f"/players/{made['id']}", {**body, "consent_by": "Rosa", "consent_as": "guardian"}).status_code
        == 200
    )


def test_consent_is_kept_with_its_history_and_taken_back(browser):
    lesson = lesson_of(browser, "Changes Mind")
    player = lesson["player"]["id"]
    assert browser.send("DELETE", f"/players/{player}/consents").json()["consent_at"] is None
    again = browser.post(f"/players/{player}/consents", {"by": "Changes Mind", "as": "player"})
    assert again.status_code == 201
    assert [c["given"] for c in browser.get(f"/players/{player}/consents").json()] == [True, False, True]


def test_a_withdrawal_acts(browser):
    """Nothing more is captured, imported or compared; export and erasing go."""
    lesson = lesson_of(browser, "Took Back")
    player, lesson_id = lesson["player"]["id"], lesson["id"]
    before = browser.post("/cohorts/look", {"club": "7-iron"}).json()
    assert any(p["id"] == player for p in before["players"])
    assert browser.send("DELETE", f"/players/{player}/consents").status_code == 200
    for answer in (
        drop(browser, lesson_id, bundle("hold-then-flex")),
        browser.post(f"/lessons/{lesson_id}/recordings", {}),
    ):
        assert "withdrawn" in answer.json()["message"]
        assert answer.status_code == 409
    assert not any(p["id"] == player for p in browser.post("/cohorts/look", {"club": "7-iron"}).json()["players"])
    assert len(browser.lesson(lesson_id)["swings"]) == len(lesson["swings"])
    assert browser.get(f"/players/{player}/export").status_code == 200
    assert browser.post(f"/lessons/{lesson_id}/close", {"priorities": []}).json() == {"kept": True}
    assert browser.send("DELETE", f"/players/{player}").status_code == 200


def test_withdrawing_what_was_never_given_is_refused(browser):
    made = browser.post("/players", {"name": "Never Asked"}).json()
    assert browser.send("DELETE", f"/players/{made['id']}/consents").status_code == 409


def test_without_consent_nothing_is_kept_past_the_lesson(browser):
    lesson = without_consent(browser)
    assert browser.post(f"/lessons/{lesson['id']}/close", {"priorities": []}).json() == {"kept": False}
    assert browser.get(f"/lessons/{lesson['id']}").status_code == 404
    assert browser.get(f"/swings/{lesson['swings'][0]['id']}").status_code == 404
    assert browser.get(f"/players/{lesson['player']['id']}").json()["lessons"] == []


def test_with_a_consent_noted_in_time_it_is_kept(browser):
    lesson = without_consent(browser)
    browser.post(f"/players/{lesson['player']['id']}/consents", {"by": "Nobody Asked"})
    assert browser.post(f"/lessons/{lesson['id']}/close", {"priorities": []}).json() == {"kept": True}


def test_what_nobody_closed_and_nobody_consented_to_is_gone_a_day_later(browser, services, north):
    walk_in = browser.post("/lessons/start-now", {}).json()
    drop(browser, walk_in["id"], bundle("hold-then-flex"))
    fresh = browser.post("/lessons/start-now", {}).json()
    consented = lesson_of(browser, "Agreed")
    named = without_consent(browser)
    with services.store.unit_of_work(north) as uow:
        for lesson_id in (walk_in["id"], consented["id"], named["id"]):
            uow.find(Lesson, id=lesson_id)[0].ends_at = now() - timedelta(hours=25)
    scrubbed = []
    services.scrub, before = lambda: scrubbed.append(1), services.scrub
    try:
        assert tidy(services) >= 2
    finally:
        services.scrub = before
    assert scrubbed == [1]
    assert browser.get(f"/lessons/{walk_in['id']}").status_code == 404
    assert browser.get(f"/players/{walk_in['player']['id']}").status_code == 404
    assert browser.get(f"/lessons/{named['id']}").status_code == 404
    assert browser.get(f"/lessons/{fresh['id']}").status_code == 200
    assert len(browser.lesson(consented["id"])["swings"]) > 0


def _bytes(value) -> bytes:
    return value if isinstance(value, bytes) else getattr(value, "bytes", None) or str(value).encode()


def rows_naming(engine, *needles: bytes) -> dict[str, int]:
    """In which tables anything that names somebody still stands."""
    found = {}
    with engine.connect() as connection:
        for table in t.metadata.tables.values():
            for row in connection.execute(table.select()):
                text = b" ".join(_bytes(v) for v in row).lower()
                if any(n.lower() in text for n in needles):
                    found[table.name] = found.get(table.name, 0) + 1
    return found


def tables_of_a_player() -> set[str]:
    """All tables whose rows hang on a player's, directly or not: what the database itself says of them."""
    found = {"player"}
    while more := {
        name
        for name, table in t.metadata.tables.items()
        if name not in found and any(fk.column.table.name in found for fk in table.foreign_keys)
    }:
        found |= more
    return found


PASSING = {"job_input", "swing_offer"}
"""Only there while a job works; put in by hand here."""


def what_jobs_leave(services, north, lesson_id: str, swing_id: str) -> list[bytes]:
    """A job that died: its input and a swing's new values that nobody took. Returns the keys."""
    with services.store.unit_of_work(north) as uow:
        job = Job(north, "import", {}, "North Instructor", UUID(lesson_id), state="failed")
        uow.add(job)
        uow.flush()
        uow.add(JobInput(north, job.id, 0, b"PK"))
    row = {"job_id": job.id, "swing_id": UUID(swing_id), "kind": "measured", "academy_id": north, "measuring": 2}
    with services.store.engine.begin() as connection:
        connection.execute(t.metadata.tables["swing_offer"].insert().values(**row, content=b"x"))
    return [job.id.bytes]


def test_erased_is_erased_in_every_table(browser, services, north, lab_file):
    """References, versions, presets, jobs, change history, consents: gone, or without the person."""
    lesson = lesson_of(browser)
    player, swing = lesson["player"]["id"], lesson["swings"][0]["id"]
    other = lesson_of(browser, "Stays Here")
    browser.patch(f"/swings/{swing}", {"strike": "toe", "tags": ["ferrywright"]})
    clip = send_clip(browser, swing).json()["clips"][0]["id"]
    assert browser.post(f"/lessons/{lesson['id']}/links", {"days": 7}).status_code == 201
    browser.patch(f"/lessons/{lesson['id']}", {"note": f"{NAME} slept badly", "pain": "yes", "pain_note": "back"})
    browser.post(f"/lessons/{lesson['id']}/pin", {"swing_ids": [swing]})
    browser.post(f"/players/{player}/limits", {"area": "back", "movement": "any", "note": f"{NAME}'s surgeon"})
    single = browser.post("/references", {"form": "swing", "swing_ids": [swing]}).json()
    best = browser.post("/references", {"form": "best", "swing_ids": [swing]}).json()
    mean = browser.post(
        "/references", {"form": "mean", "name": f"{NAME} and one more", "swing_ids": [swing, other["swings"][0]["id"]]}
    ).json()
    saved = browser.post(
        "/cohorts/ranges",
        {"club": "7-iron", "players": [player, other["player"]["id"]], "name": "Ours", "note": f"From {NAME}."},
    )
    assert saved.status_code == 201
    seen = inspect(browser, lesson["id"], lab_file).json()
    bring(browser, lesson["id"], lab_file, {**suggested(seen), "remember_as": f"{NAME}'s labels"})
    browser.client.post(
        f"/api/lessons/{lesson['id']}/bundle",
        files={"file": (f"{NAME}.zip", b"PK", "application/zip")},
        headers={"x-csrf-token": browser.csrf},
    )
    slower = {"label": "Slower", "finding": "", "drill": "peg_pointer"}
    assert browser.put(f"/lessons/{lesson['id']}/plan", {"priorities": [slower]}).status_code == 200
    practised = browser.send("PUT", f"/lessons/{lesson['id']}/practice", json={"minutes": {"1": 20}})
    assert practised.status_code == 200, practised.text
    link = browser.post(f"/lessons/{lesson['id']}/links", {"days": 7, "purpose": "practice"}).json()["path"]
    pain = {"key": "it-hurts-here", "kind": "pain", "plan": practised.json()["id"], "at": "2026-06-01T08:00:00Z"}
    assert browser.client.post(f"/api{link}", json={"answers": [pain]}).status_code == 200
    wish = {"player_id": player, "first": "2031-01-01", "last": "2031-01-02"}
    assert browser.post("/waiting", wish).status_code == 201
    assert browser.post(f"/players/{player}/courses", {"lessons": 5}).status_code == 201
    played = bring_round(browser, player, round_zip(), f"{NAME}.zip")["round_id"]
    assert browser.send("PATCH", f"/rounds/{played}/motions/0", json={"kind": "putt"}).status_code == 200
    browser.post(f"/lessons/{lesson['id']}/blocks", {"kind": "test", "metric": "lead_wrist_extension", "moment": "top"})
    recordings = [r["id"] for r in browser.lesson(lesson["id"])["recordings"]]
    with services.store.unit_of_work(north) as uow:
        uow.add(OwnPlayer(north, UUID(browser.get("/me").json()["instructor_id"]), UUID(player)))
        uow.add(OwnRange(north, UUID(player), "7-iron", "shaft_elevation", "top", 0.1, 0.2, 0.3, 20))
    keys = [bytes.fromhex(x.replace("-", "")) for x in (player, lesson["id"], swing, clip, played, *recordings)]
    keys += what_jobs_leave(services, north, lesson["id"], swing)
    before = rows_naming(services.store.engine, NAME.encode(), *keys)
    # a new table that hangs on a player fails here until something is kept in it above, and below until it is erased
    assert tables_of_a_player() | {"marker_preset", "benchmark_version", "author"} <= set(before)
    assert browser.send("DELETE", f"/players/{player}").status_code == 200
    left = rows_naming(services.store.engine, NAME.encode(), b"ferrywright", *keys)
    assert set(left) <= {"author"}  # that somebody was erased, when and by whom
    names = {r["id"]: r["name"] for r in browser.get("/references").json()}
    assert single["id"] not in names
    assert best["id"] not in names
    assert names[mean["id"]] == "a player who was erased and one more"
    with services.store.unit_of_work(north) as uow:
        assert not uow.find(MadeOf, of_id=mean["id"], player_id=player)
        assert "a player who was erased" in uow.find(BenchmarkVersion, name="Ours")[0].note
        assert uow.find(Job, lesson_id=lesson["id"]) == []
    assert len(browser.lesson(other["id"])["swings"]) > 0


WHERE_EXPORTED = {
    "player": "player",
    "consent": "consents",
    "own_player": "shared_with",
    "movement_limit": "limits",
    "made_of": "made_of_their_swings",
    "reference": "references",
    "lesson": "lesson",
    "recording": "recordings",
    "chunk": "recording-",
    "clip": "clips",
    "clip_part": "videos/",
    "share_link": "links",
    "swing": "swings",
    "swing_tag": "swings",
    "swing_record": "result",
    "swing_judgement": "result",
    "swing_value": "result",
    "swing_verdict": "result",
    "swing_finding": "result",
    "swing_block": "",  # pictures of what the raw data give again
    "lesson_summary": "summaries",
    "block": "blocks",
    "priority": "priorities",
    "change_entry": "changes",
    "practice_plan": "practice",
    "practice_answer": "practice_answers",
    "waiting": "waiting",
    "package": "courses",
    "own_range": "own_ranges",
    "round": "rounds",
    "round_log": "round_logs",
    "round_correction": "round_corrections",
    "job": "",  # that something was imported or exported: the record is the swings themselves
}
"""Under which name an export has what stands in each table."""


def test_everything_of_a_player_has_a_place_in_the_export(browser):
    """A new table that hangs on a player fails here until it is said where its rows go."""
    assert set(WHERE_EXPORTED) == tables_of_a_player() - PASSING
    lesson = lesson_of(browser, "Every Kind")
    send_clip(browser, lesson["swings"][0]["id"])
    files = unpacked(browser.get(f"/players/{lesson['player']['id']}/export").content)
    told = b" ".join(content for name, content in files.items() if name.endswith(".json")).decode()
    for table, name in WHERE_EXPORTED.items():
        assert f'"{name}"' in told or any(name in file for file in files), table


@pytest.fixture(scope="module")
def lab_file():
    labels, points = foreign()
    return c3d_bytes(labels, points, 240.0)


def unpacked(content: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        assert archive.testzip() is None
        return {name: archive.read(name) for name in archive.namelist()}


def test_an_export_is_whole_and_can_be_checked(browser, services, north):
    lesson = lesson_of(browser, "Whole Export")
    player, swing = lesson["player"]["id"], lesson["swings"][0]
    browser.patch(f"/swings/{swing['id']}", {"strike": "heel"})
    top = next(e for e in browser.get(f"/swings/{swing['id']}").json()["events"] if e["name"] == "top")
    browser.patch(f"/swings/{swing['id']}", {"checkpoint": {"name": "top", "time_s": top["time_s"] + 0.01}})
    browser.put(f"/lessons/{lesson['id']}/plan", {"priorities": [{"label": "Slower", "finding": ""}]})
    browser.post("/references", {"form": "best", "swing_ids": [swing["id"]]})
    with services.store.unit_of_work(north) as uow:  # a second lesson of the same minute
        one = uow.find(Lesson, id=lesson["id"])[0]
        twin = Lesson(north, one.player_id, one.instructor_id, "Bay 3", one.starts_at, one.ends_at, note="the twin")
        uow.add(twin)
    files = unpacked(browser.get(f"/players/{player}/export").content)
    manifest = json.loads(files.pop("manifest.json"))
    sums = dict(reversed(line.split("  ", 1)) for line in files.pop("SHA256SUMS").decode().splitlines())
    assert {f["name"]: f["sha256"] for f in manifest["files"]} == sums
    assert {name: hashlib.sha256(content).hexdigest() for name, content in files.items()} == sums
    folders = sorted({name.split("/")[0] for name in files if name.startswith("lesson-")})
    assert len(folders) == 2
    assert folders[1] == f"{folders[0]}-2"
    told = [json.loads(files[f"{f}/lesson.json"]) for f in folders]
    whole = next(x for x in told if x["swings"])
    assert "the twin" in [x["lesson"]["note"] for x in told]
    assert [c["label"] for c in whole["changes"]] == [
        "import of session.zip",
        "swing 1: strike",
        "swing 1: top moved",
    ]
    assert all(c["made_by"] for c in whole["changes"])
    assert whole["priorities"][0]["label"] == "Slower"
    assert whole["swings"][0]["checkpoints_corrected"]["top"]
    assert whole["swings"][0]["strike"] == "heel"
    assert whole["summaries"]
    assert whole["authors"][-1]["by"] == "North Instructor"
    about = json.loads(files["player.json"])
    assert about["consents"][0]["by"] == "Whole Export"
    (reference,) = about["references"]
    assert files[reference["traces"]].startswith(b"FAT1")
    assert any(re.search(r"recording-1/lead_hand.csv$", name) for name in files)


@pytest.mark.slow
def test_what_was_erased_stands_in_no_file_of_the_data_folder(tmp_path):
    """On a server as ./start runs it, with its binary log: before the scrub it is found there, afterwards not."""
    database = MariaDb(tmp_path / "db", free_port())
    database.start()
    try:
        upgrade(engine_for(f"{database.owner_url}/finearc"))
        services = wire(f"{database.url}/finearc?charset=utf8mb4")
        academy = Academy("Alone")
        with services.store.front_door() as door:
            door.add(academy)
            door.add(Instructor(academy.id, "I", "i@example.test", services.hasher.hash(PASSWORD), role="owner"))
        from starlette.testclient import TestClient

        from finearc.api.app import create_app

        browser = Browser(TestClient(create_app(services), base_url="http://127.0.0.1"))
        browser.sign_in("i@example.test")
        lesson = lesson_of(browser)
        other = browser.lesson(new_lesson(browser, "Stays Here"))
        drop(browser, other["id"], bundle("hold-then-flex", 6))
        browser.patch(f"/lessons/{lesson['id']}", {"note": f"{NAME} slept badly"})
        with services.store.unit_of_work(academy.id) as uow:
            raw = [
                c.columns
                for r in uow.find(Recording, lesson_id=lesson["id"])
                for c in uow.find(Chunk, recording_id=r.id)
            ]
        needles = [NAME.encode(), *(piece[2000:2040] for piece in raw)]
        database._flush()
        assert all(standing_in(tmp_path, n) for n in needles)
        assert browser.send("DELETE", f"/players/{lesson['player']['id']}").status_code == 200
        assert standing_in(tmp_path, needles[0])  # deleted rows are not yet gone from the files
        database.scrub()
        assert {n: standing_in(tmp_path, n) for n in needles if standing_in(tmp_path, n)} == {}
        assert len(browser.lesson(other["id"])["swings"]) > 0
        browser.patch(f"/lessons/{other['id']}", {"note": "the database goes on"})
        services.jobs.pool.close()
        services.store.engine.dispose()
    finally:
        database.stop()
    database.start()  # and starts from what is left
    try:
        with engine_for(f"{database.url}/finearc").connect() as connection:
            assert connection.scalar(select(func.count()).select_from(t.player)) == 1
    finally:
        database.stop()


def standing_in(folder, needle: bytes) -> list[str]:
    return [p.name for p in folder.rglob("*") if p.is_file() and needle in p.read_bytes()]
