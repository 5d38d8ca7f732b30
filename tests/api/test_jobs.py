"""Long work: imports, measuring again, questions; begun, stopped, tried again, left by a crash."""

from __future__ import annotations

import os
import signal
from dataclasses import replace
from datetime import timedelta
from functools import partial
from threading import Event
from uuid import UUID

import pytest

from finearc.cli.main import main
from finearc.cli.measuring import tools_on
from finearc.launch.pool import Processes
from finearc.main import pick_up
from finearc.services.capture.prepared import KEPT
from finearc.services.capture.recordings import keep_reading
from finearc.services.jobs import importing, measuring
from finearc.services.jobs.board import Board, wait_for, write_down
from finearc.services.jobs.questions import CohortAsked, cohort_of
from finearc.services.jobs.records import RUNNING, Job, JobInput
from finearc.services.jobs.run import IMPORT, run_job
from finearc.services.judging.cohorts import Choice
from finearc.services.judging.terms import terms_of
from finearc.services.record import blocks
from finearc.services.record.codec import unpack_record
from finearc.services.record.making import Made
from finearc.services.records import Chunk, Lesson, Player, Recording, Swing
from tests.api.conftest import bundle, drop, measure_again, new_lesson, wait

BUNDLE = ("over-extended", 11)


@pytest.fixture
def lesson_id(browser):
    return new_lesson(browser)


@pytest.fixture
def tools(services):
    return services.jobs.pool._tools


def drop_async(browser, lesson_id, content):
    answer = browser.client.post(
        f"/api/lessons/{lesson_id}/bundle",
        headers={"x-csrf-token": browser.csrf, "prefer": "respond-async"},
        files={"file": ("session.zip", content, "application/zip")},
    )
    assert (answer.status_code, answer.headers["preference-applied"]) == (202, "respond-async")
    return answer.json()["id"]


def ended(browser, job_id):
    return wait(lambda: (lambda j: j if j["ended_at"] else None)(browser.get(f"/jobs/{job_id}").json()), 60)


def an_import(services, north, lesson_id, content) -> Job:
    subject = {"name": "a.zip", "reader": "bundle", "choices": {}, "source": "bundle"}
    with services.store.unit_of_work(north) as uow:
        return write_down(uow, IMPORT, subject, content, lesson_id=UUID(lesson_id))


def test_an_import_that_nobody_waits_for_ends_in_the_lesson(browser, lesson_id, services, north):
    job = ended(browser, drop_async(browser, lesson_id, bundle(*BUNDLE)))
    lesson = browser.lesson(lesson_id)
    assert job["state"] == "done"
    assert job["done"] == job["total"] == len(lesson["swings"])
    assert [s["id"] for s in lesson["swings"]] == job["swings"]
    assert lesson["recordings"][0]["id"] == job["recording_id"]
    with services.store.unit_of_work(north) as uow:
        assert not uow.find(JobInput, job_id=job["id"])


def test_what_cannot_be_read_fails_in_the_same_words_and_may_be_tried_again(browser, lesson_id, services, north):
    said = drop(browser, lesson_id, b"not a zip").json()
    job = ended(browser, drop_async(browser, lesson_id, b"not a zip"))
    assert (job["state"], job["code"]) == ("failed", said["code"])
    assert job["message"] == said["message"]
    assert browser.post(f"/jobs/{job['id']}/retry").json()["state"] == "waiting"
    assert ended(browser, job["id"])["state"] == "failed"
    assert browser.lesson(lesson_id)["recordings"] == []


def test_an_error_nobody_foresaw_ends_the_job_and_not_the_worker(browser, lesson_id, monkeypatch):
    def broken(*_args):
        raise ZeroDivisionError

    with monkeypatch.context() as patched:
        patched.setattr(importing.recordings, "keep_capture", broken)
        job = ended(browser, drop_async(browser, lesson_id, bundle(*BUNDLE)))
    assert (job["state"], job["code"]) == ("failed", "internal")
    assert browser.lesson(lesson_id)["recordings"] == []
    assert browser.post(f"/jobs/{job['id']}/retry").status_code == 200
    assert ended(browser, job["id"])["state"] == "done"


def test_what_has_not_begun_is_stopped_before_it_begins(browser, lesson_id, services):
    hold = Event()
    services.jobs.pool._executor.submit(hold.wait, 20)
    try:
        job_id = drop_async(browser, lesson_id, bundle(*BUNDLE))
        assert browser.post(f"/jobs/{job_id}/cancel").json()["stopping"]
    finally:
        hold.set()
    assert ended(browser, job_id)["state"] == "cancelled"
    assert browser.lesson(lesson_id)["recordings"] == []
    assert browser.post(f"/jobs/{job_id}/retry").status_code == 409  # its file is gone


def test_what_runs_is_stopped_at_its_next_step_and_keeps_nothing(browser, lesson_id, monkeypatch):
    real = importing.recordings.read_capture

    def stopped_half_way(data, player, told):
        running = browser.get("/jobs").json()[0]
        assert running["state"] == "running"
        browser.post(f"/jobs/{running['id']}/cancel")
        return real(data, player, told)

    monkeypatch.setattr(importing.recordings, "read_capture", stopped_half_way)
    monkeypatch.setattr("finearc.services.jobs.run.EVERY_S", 0.0)
    job = ended(browser, drop_async(browser, lesson_id, bundle(*BUNDLE)))
    assert (job["state"], job["message"]) == ("cancelled", "Stopped. Nothing of it was kept.")
    assert browser.lesson(lesson_id)["recordings"] == []


def test_a_job_is_done_once_whoever_begins_it(browser, lesson_id, services, north, tools):
    job = an_import(services, north, lesson_id, bundle(*BUNDLE))
    first, second = run_job(tools, north, job.id), run_job(tools, north, job.id)
    assert first.answer == second.answer
    assert len(browser.lesson(lesson_id)["recordings"]) == 1


def test_what_a_crash_left_is_begun_again_until_it_has_crashed_three_times(browser, lesson_id, services, north):
    job, deadly = (an_import(services, north, lesson_id, bundle(*BUNDLE)) for _ in range(2))
    with services.store.unit_of_work(north) as uow:
        for kept, attempts in ((job, 1), (deadly, 3)):
            found = uow.get(Job, kept.id)
            found.state, found.attempts = RUNNING, attempts
    with services.store.front_door() as door:
        left = door.unfinished_jobs()
    assert [k for _, k in left] == [job.id, deadly.id]
    for begun in services.jobs.resume(left):
        wait_for(begun)
    assert browser.get(f"/jobs/{job.id}").json()["state"] == "done"
    assert browser.get(f"/jobs/{deadly.id}").json()["state"] == "failed"
    assert len(browser.lesson(lesson_id)["recordings"]) == 1
    with services.store.front_door() as door:
        assert door.unfinished_jobs() == []


def own_process(tools, academy_id, asked):
    return os.getpid(), asked


def test_work_leaves_the_process_and_a_worker_that_dies_is_replaced(browser, lesson_id, services, north):
    url = services.store.engine.url.render_as_string(hide_password=False)
    pool = Processes(partial(tools_on, url))
    board = Board(pool, services.store.unit_of_work)
    try:
        worker, echo = pool.ask(own_process, north, "hello").result(120)
        assert echo == "hello"
        assert worker != os.getpid()
        asked = CohortAsked(Choice("7-iron"), "", "most")
        here, there = cohort_of(services.jobs.pool._tools, north, asked), pool.ask(cohort_of, north, asked).result(120)
        assert [r.range.metric for r in here.rows] == [r.range.metric for r in there.rows], "a metric is one object"
        assert (here.swings, here.players) == (there.swings, there.players)
        job = an_import(services, north, lesson_id, bundle(*BUNDLE))
        answer = wait_for(board.begin(north, job.id))
        swings = browser.lesson(lesson_id)["swings"]
        assert [s["id"] for s in swings] == answer["swings"]
        with services.store.unit_of_work(north) as uow:  # moving a checkpoint need not read it all again
            recording = uow.get(Recording, next(iter(uow.find(Swing, id=swings[0]["id"]))).recording_id)
            assert KEPT.get(recording, uow.find(Swing, recording_id=recording.id, order="number")) is not None
        job = an_import(services, north, lesson_id, bundle(*BUNDLE))
        begun = board.begin(north, job.id)
        wait(lambda: browser.get(f"/jobs/{job.id}").json()["state"] == "running")
        os.kill(worker, signal.SIGKILL)
        assert len(wait_for(begun)["swings"]) == len(swings)
        with services.store.unit_of_work(north) as uow:
            assert uow.get(Job, job.id).attempts == 2
        assert len(browser.lesson(lesson_id)["recordings"]) == 2
    finally:
        pool.close()


def shifted(services, north, swing_id, by_rad):
    """As if another engine had measured a swing's wrist otherwise at the top."""
    key = ("lead_wrist_extension", "top")
    with services.store.unit_of_work(north) as uow:
        swing = uow.get(Swing, swing_id)
        record = unpack_record(uow.swings.records([swing_id])[swing.id])
        m = record.values[key]
        other = replace(record, engine="0.1.0", values={**record.values, key: m._replace(value=m.value + by_rad)})
        kept = {k: uow.swings.blocks([swing_id], k).get(swing.id) for k in blocks.KINDS}
        made = Made(other, {k: b for k, b in kept.items() if b})
        lesson = uow.get(Lesson, swing.lesson_id)
        keep_reading(uow, swing, made, terms_of(uow, lesson, uow.get(Player, lesson.player_id)), [swing], again=True)


def at_top(browser, swing_id):
    found = browser.swing(swing_id)["metrics"]
    return next(v for v in found if (v["metric"], v["moment"]) == ("lead_wrist_extension", "top"))


def test_measuring_again_stands_beside_what_is_kept_until_it_is_accepted(browser, lesson_id, services, north):
    drop(browser, lesson_id, bundle(*BUNDLE))
    swing_id = browser.lesson(lesson_id)["swings"][1]["id"]
    right = at_top(browser, swing_id)
    shifted(services, north, swing_id, -0.3)
    wrong = browser.swing(swing_id)
    assert at_top(browser, swing_id)["value"] != right["value"]

    found = measure_again(browser, "dismiss")
    report = found["report"]
    assert report["changed"] == 1
    assert report["gone"] == report["new"] == 0
    assert report["verdicts"] >= 1
    assert "0.1.0" in report["engines"]
    shown = found["largest"][0]
    assert shown["swing_id"] == swing_id
    assert (shown["metric"], shown["moment"]) == (
        "Lead wrist extension",
        "top",
    )
    assert shown["before"] != shown["after"]
    assert browser.swing(swing_id) == wrong, "both stand until somebody decides, and dismissing changes nothing"

    measure_again(browser)
    assert at_top(browser, swing_id) == right
    assert browser.get("/measuring").json()["report"] is None


def test_the_command_measures_goes_on_and_accepts(browser, lesson_id, services, north, capsys):
    drop(browser, lesson_id, bundle(*BUNDLE))
    swing_id = browser.lesson(lesson_id)["swings"][1]["id"]
    right = at_top(browser, swing_id)
    shifted(services, north, swing_id, -0.3)
    command = ["measure-again", "--url", services.store.engine.url.render_as_string(hide_password=False)]
    assert main(command) == 0
    assert "North: 1 of" in capsys.readouterr().out
    assert browser.get("/measuring").json()["report"]["changed"] == 1
    assert at_top(browser, swing_id) != right
    assert main([*command, "--accept"]) == 0
    assert at_top(browser, swing_id) == right
    assert main(["measure-again", "--url", "mariadb+pymysql://nobody@127.0.0.1:1/none"]) == 2
    assert "no database answers" in capsys.readouterr().err


def test_one_measuring_at_a_time_and_only_what_has_ended_is_decided(browser, services):
    hold = Event()
    services.jobs.pool._executor.submit(hold.wait, 20)
    try:
        job = browser.post("/measuring").json()["job"]
        assert browser.post("/measuring").status_code == 409
        for decision in ("accept", "dismiss"):
            assert browser.post(f"/measuring/{job['id']}/decision", {"decision": decision}).status_code == 409
        browser.post(f"/jobs/{job['id']}/cancel")
    finally:
        hold.set()
    assert ended(browser, job["id"])["state"] == "cancelled"
    assert browser.get("/measuring").json()["job"] is None


def test_a_stopped_measuring_goes_on_where_it_was(browser, services, north, tools, monkeypatch):
    for _ in range(2):
        drop(browser, new_lesson(browser), bundle(*BUNDLE))
    read, real = [], measuring._read

    def counting(uow, with_tools, recording, swings):
        read.append(recording.id)
        if len(read) == 2:
            uow.hold(Job, job.id).cancel_wanted = True
        return real(uow, with_tools, recording, swings)

    monkeypatch.setattr(measuring, "_read", counting)
    monkeypatch.setattr("finearc.services.jobs.run.EVERY_S", 0.0)
    with services.store.unit_of_work(north) as uow:
        recordings = {s.recording_id for s in uow.find(Swing)}
        job = write_down(uow, "measure_again", {})
    assert run_job(tools, north, job.id).state == "cancelled"
    assert browser.post(f"/jobs/{job.id}/retry").status_code == 200
    assert ended(browser, str(job.id))["state"] == "done"
    assert len(read) == len(recordings)
    assert set(read) == recordings
    with services.store.unit_of_work(north) as uow:
        swings = {s.id for s in uow.find(Swing)}
        assert set(uow.offers.swings(job.id)) == swings
        measuring.decide(uow, uow.hold(Job, job.id), measuring.DISMISSED)
        assert uow.offers.swings(job.id) == []


def test_a_swing_that_changed_meanwhile_keeps_the_instructors_checkpoint(browser, lesson_id, services):
    drop(browser, lesson_id, bundle(*BUNDLE))
    assert browser.post("/measuring").status_code == 202
    done = wait(lambda: (lambda m: m if m["job"]["state"] == "done" else None)(browser.get("/measuring").json()), 120)
    swing = browser.lesson(lesson_id)["swings"][1]
    top = next(e for e in browser.swing(swing["id"])["events"] if e["name"] == "top")
    moved = {"checkpoint": {"name": "top", "time_s": top["time_s"] - 0.05}}
    after = browser.changed(browser.patch(f"/swings/{swing['id']}", moved))
    assert browser.post(f"/measuring/{done['job']['id']}/decision", {"decision": "accept"}).status_code == 202
    wait(lambda: browser.get("/measuring").json()["job"] is None, 120)
    again = browser.swing(swing["id"])
    assert again["metrics"] == after["metrics"]
    assert next(e for e in again["events"] if e["name"] == "top")["method"] == "instructor"


def test_a_recording_that_cannot_be_read_any_more_is_said_and_left(browser, lesson_id, services, north):
    drop(browser, lesson_id, bundle(*BUNDLE))
    before = [browser.swing(s["id"]) for s in browser.lesson(lesson_id)["swings"]]
    with services.store.unit_of_work(north) as uow:
        recording = uow.find(Recording, lesson_id=lesson_id)[0]
        for chunk in uow.find(Chunk, recording_id=recording.id, segment="lead_hand"):
            uow.remove(chunk)
    found = measure_again(browser)
    mine = [u for u in found["report"]["unreadable"] if u["recording_id"] == str(recording.id)]
    assert len(mine) == 1
    assert mine[0]["swings"] == len(before)
    assert "lead_hand" in mine[0]["why"]
    assert [browser.swing(s["id"]) for s in before] == before
    with services.store.unit_of_work(north) as uow:
        uow.remove(uow.get(Lesson, recording.lesson_id))


def test_what_was_dropped_on_a_lesson_is_erased_with_it(browser, lesson_id, services, north):
    job_id = drop_async(browser, lesson_id, b"not a zip")
    assert ended(browser, job_id)["state"] == "failed"
    with services.store.unit_of_work(north) as uow:
        assert uow.find(JobInput, job_id=UUID(job_id))
        uow.remove(uow.get(Lesson, UUID(lesson_id)))
    assert browser.get(f"/jobs/{job_id}").status_code == 404
    with services.store.unit_of_work(north) as uow:
        assert not uow.find(JobInput, job_id=UUID(job_id))


def test_another_academys_jobs_are_not_seen(browser, stranger, lesson_id):
    job_id = drop_async(browser, lesson_id, bundle(*BUNDLE))
    assert ended(browser, job_id)["state"] == "done"
    assert job_id in {j["id"] for j in browser.get("/jobs").json()}
    assert job_id not in {j["id"] for j in stranger.get("/jobs").json()}
    for call in (stranger.get(f"/jobs/{job_id}"), stranger.post(f"/jobs/{job_id}/cancel")):
        assert call.status_code == 404


def test_what_was_written_down_and_never_begun_is_picked_up(browser, lesson_id, services, north):
    """Whoever wrote it down lost the database before it could be handed over."""
    job = an_import(services, north, lesson_id, bundle("hold-then-flex"))
    assert pick_up(services) == 0  # it may yet be begun by whoever wrote it down
    assert pick_up(services, timedelta(seconds=-1)) == 1
    assert ended(browser, str(job.id))["state"] == "done"
    assert pick_up(services, timedelta(seconds=-1)) == 0
    assert len(browser.lesson(lesson_id)["recordings"]) == 1
