"""Databases of every released version are brought up to date without losing what they hold."""

from __future__ import annotations

import lzma
from contextlib import contextmanager
from pathlib import Path

import pytest
from sqlalchemy import text

from finearc.core.events.model import Checkpoint
from finearc.devices.live import Devices, Keeping
from finearc.services.capture.clips import clips_of
from finearc.services.capture.recordings import reread
from finearc.services.lesson.changes import redo, undo
from finearc.services.lesson.pages import lesson_page, numbers, swing_page
from finearc.services.people.erasing import erase_player
from finearc.services.record.codec import unpack_record
from finearc.services.records import (
    Academy,
    Block,
    Consent,
    Instructor,
    Lesson,
    Player,
    Recording,
    Reference,
    Swing,
)
from finearc.store.columns import ParquetColumns
from finearc.store.migrate import upgrade
from finearc.store.tables import metadata
from finearc.store.unit_of_work import Store, engine_for

RELEASED = Path(__file__).parents[1] / "data" / "released"
VERSIONS = ("0001", "0002", "0003", "0004")


def statements(version):
    with lzma.open(RELEASED / f"{version}.sql.xz", "rt", encoding="utf-8") as dump:
        yield from dump


@pytest.fixture(params=VERSIONS)
def released(request, database_url):
    """A database as that release left it, and one as this one makes of it."""
    engine = engine_for(database_url)
    with engine.connect() as connection:
        for statement in statements(request.param):
            connection.connection.cursor().execute(statement)  # as it stands: percent signs are not placeholders
        connection.connection.commit()
        old = {
            row.number: row
            for row in connection.execute(
                text(
                    "SELECT swing.*, lesson.status FROM swing JOIN lesson ON lesson.id = lesson_id WHERE lesson.status = 'running'"
                )
            )
        }
    upgrade(engine)
    store = Store(engine)
    with store.front_door() as door:
        (academy,) = door.academies()
    yield request.param, store, academy, old
    engine.dispose()


def only(found):
    (one,) = found
    return one


def lessons(uow):
    closed, running = uow.find(Lesson, order="starts_at")
    return closed, running


def test_values_verdicts_findings_and_marks_are_all_still_there(released):
    import json

    _, store, academy, old = released
    with store.unit_of_work(academy.id) as uow:
        _, running = lessons(uow)
        swing = only(uow.find(Swing, lesson_id=running.id))
        row = old[swing.number]
        result = json.loads(row.result)
        page = swing_page(uow, swing.id)
        assert (swing.ball_start, swing.ball_curve, swing.strike) == ("lead", "trail", "toe")
        assert set(swing.checkpoints_corrected) == {"top"}
        values = {(v.metric, v.moment): v for v in numbers(uow, swing.id)}
        assert len(values) == len(result["metrics"]) > 60
        for e in result["metrics"]:
            v = values[e["metric"], e["event"]]
            assert v.value == pytest.approx(e["value"], abs=2e-6)
            assert v.uncertainty == pytest.approx(e["uncertainty"], rel=6e-3, abs=1e-6)
            assert v.verdict == e["verdict"]
            assert (v.band.range_id if v.band else None) in (e["range_id"], None)
        assert {f.finding for f in page.findings} >= {f["finding"] for f in result["findings"]}
        assert {k.value: e.time_s for k, e in page.record.checkpoints.items()} == {
            k: e["time_s"] for k, e in result["events"].items()
        }
        detected = json.loads(row.events_detected)
        assert page.record.detected[Checkpoint.TOP].time_s == detected["top"]["time_s"]
        assert page.record.missing == {e["metric"]: e["reason"] for e in result["missing"]}


def test_what_was_closed_keeps_what_it_was_judged_by(released):
    _, store, academy, _ = released
    with store.unit_of_work(academy.id) as uow:
        closed, running = lessons(uow)
        assert closed.rules_revision == 0
        assert closed.schools["lead_wrist"] == "flat"
        assert running.schools is None
        read = lesson_page(uow, closed.id)
        assert [p.priority.finding for p in read.priorities] == ["over_extended_top"]
        assert read.summaries[0].counting == 1
        assert read.summaries[0].flight.start == "lead"


def test_rows_can_be_asked_for_and_traces_have_no_bands_any_more(released):
    _, store, academy, _ = released
    with store.engine.connect() as connection:
        for table, least in (("swing_value", 2), ("swing_verdict", 2), ("swing_finding", 1)):
            assert connection.execute(text(f"SELECT COUNT(DISTINCT swing_id) FROM {table}")).scalar() >= least, table
        names = {row[0] for row in connection.execute(text("SHOW TABLES"))}
    assert names == {*metadata.tables, "alembic_version"}
    with store.unit_of_work(academy.id) as uow:
        for swing in uow.find(Swing):
            block = uow.swings.blocks([swing.id], "traces")[swing.id]
            assert b"_band_" not in block
            traced = unpack_record(uow.swings.records([swing.id])[swing.id]).traced
            assert "lead_wrist_extension" in traced


def test_the_newest_change_can_be_taken_back_and_raw_streams_are_measured_again(released):
    version, store, academy, _ = released
    if version != "0001":
        return  # the others ship without their raw streams, which are large
    codec = ParquetColumns()
    with store.unit_of_work(academy.id) as uow:
        _, running = lessons(uow)
        swing = only(uow.find(Swing, lesson_id=running.id))
        moved = unpack_record(uow.swings.records([swing.id])[swing.id]).checkpoints[Checkpoint.TOP].time_s
        undo(uow, codec, running)
        record = unpack_record(uow.swings.records([swing.id])[swing.id])
        assert swing.checkpoints_corrected == {}
        assert record.checkpoints[Checkpoint.TOP].time_s == pytest.approx(moved - 0.01, abs=0.006)
        assert swing.measuring == 2
        reread(uow, codec, only(uow.find(Recording, lesson_id=running.id)))
        again = unpack_record(uow.swings.records([swing.id])[swing.id])
        assert [m.value for m in again.values.values()] == [m.value for m in record.values.values()]


def test_academies_are_found_with_their_bays(released):
    from finearc.services.records import Bay

    _, store, academy, _ = released
    assert isinstance(academy, Academy)
    with store.unit_of_work(academy.id) as uow:
        assert [b.name for b in uow.find(Bay, order="place")] == ["Bay 1", "Bay 2", "Bay 3"]


@contextmanager
def upgraded(database_url, version, name):
    """The database of a release as this one makes of it, and the academy of this name in it."""
    engine = engine_for(database_url)
    with engine.connect() as connection:
        for statement in statements(version):
            connection.connection.cursor().execute(statement)
        connection.connection.commit()
    upgrade(engine)
    store = Store(engine)
    with store.front_door() as door:
        academy = next(a for a in door.academies() if a.name == name)
    yield store, academy
    engine.dispose()


@pytest.fixture
def release_0_5(database_url):
    """As release 0.5.0 left it: two instructors, three players, one lesson, three references."""
    with upgraded(database_url, "0008", "Old Harbour") as found:
        yield found


def test_accounts_get_the_one_form_under_which_they_are_found(release_0_5):
    store, _ = release_0_5
    with store.front_door() as door:
        assert door.instructor_by_email("ánna@harbour.example").name == "Ànna Õlder"
        assert door.instructor_by_email("anna@harbour.example") is None  # an accent is another account
        ben = door.instructor_by_email("ben@harbour.example")
        assert ben.email == "BEN@harbour.example"
        assert len(door.sessions_of(door.instructor_by_email("ánna@harbour.example").id)) == 1


def test_consents_begin_their_history_with_what_was_noted(release_0_5):
    store, academy = release_0_5
    with store.unit_of_work(academy.id) as uow:
        players = {p.id: p for p in uow.find(Player)}
        told = {players[c.player_id].name: (c.given, c.by, c.as_, c.at) for c in uow.find(Consent)}
        for player in players.values():
            if player.consent_at is not None:
                assert told[player.name][3] == player.consent_at
    assert {k: v[:3] for k, v in told.items()} == {
        "Grown Player": (True, "Grown Player", "player"),
        "Small Player": (True, "Rosa", "guardian"),
    }


def test_what_was_kept_of_a_player_before_is_erased_with_them(release_0_5):
    """Whose swings a reference was made of is known by its owner or by its name; a mean of unknown ones stays."""
    store, academy = release_0_5
    with store.unit_of_work(academy.id) as uow:
        (lesson,) = uow.find(Lesson)
        assert lesson_page(uow, lesson.id).swings[0].swing.strike == "toe"
        grown = only(uow.find(Player, name="Grown Player"))
        assert {r.name for r in uow.find(Reference)} == {"Grown Player, swing 1", "Best", "House"}
        erase_player(uow, grown)
        assert {r.name for r in uow.find(Reference)} == {"House"}
        assert uow.find(Swing) == []


def test_a_change_without_an_author_is_anybodys_to_undo(release_0_5):
    store, academy = release_0_5
    with store.unit_of_work(academy.id) as uow:
        ben = only(uow.find(Instructor, name="Ben Older"))
    with store.unit_of_work(academy.id, ben.id) as uow:
        (lesson,) = uow.find(Lesson)
        assert lesson_page(uow, lesson.id).head.undo == "swing 1: strike"
        undo(uow, ParquetColumns(), lesson)
        assert only([s for s in uow.find(Swing) if s.number == 1]).strike == ""


@pytest.fixture
def release_0_6(database_url):
    """As release 0.6.0 left it: one player stands up going back, one dips, and both are *posture_change*."""
    with upgraded(database_url, "0009", "North") as found:
        yield found


@pytest.mark.parametrize(
    ("name", "finding", "other"), [("Standing Player", "stands_up", "dips"), ("Dipping Player", "dips", "stands_up")]
)
def test_standing_up_and_dipping_are_told_apart_in_what_was_kept(release_0_6, name, finding, other):
    store, academy = release_0_6
    with store.unit_of_work(academy.id) as uow:
        player = only(uow.find(Player, name=name))
        lesson = only(uow.find(Lesson, player_id=player.id))
        read = lesson_page(uow, lesson.id)
        said = {f.finding for s in read.swings for f in swing_page(uow, s.swing.id).findings}
        assert finding in said
        assert said.isdisjoint({other, "posture_change"})
        summary = {f.finding for f in read.summaries[0].findings}
        assert finding in summary
        assert summary.isdisjoint({other, "posture_change"})
        assert [p.priority.finding for p in read.priorities] == [finding]
        assert [b.block.finding for b in read.blocks] == [finding]
        assert [(s.swing.grip_change, s.swing.grip_answer) for s in read.swings] == [(None, "")] * 2
    with store.engine.connect() as connection:
        rows = connection.execute(text("SELECT DISTINCT finding FROM swing_finding")).scalars().all()
    assert {"stands_up", "dips"} <= set(rows)
    assert "posture_change" not in rows


@pytest.fixture
def release_0_7(database_url):
    """As release 0.7.0 left it: five swings, at the third another grip, said to be the grip."""
    with upgraded(database_url, "0010", "North") as found:
        yield found


def test_nothing_of_a_release_before_it_was_set_aside(release_0_7):
    store, academy = release_0_7
    with store.unit_of_work(academy.id) as uow:
        player = only(uow.find(Player, name="Changed Grip"))
        lesson = only(uow.find(Lesson, player_id=player.id))
        read = lesson_page(uow, lesson.id)
        assert [s.swing.number for s in read.swings] == [1, 2, 3, 4, 5]
        assert [s.swing.grip_answer for s in read.swings if s.swing.grip_change is not None] == ["grip"]
        assert uow.find_aside(Recording) == uow.find_aside(Swing) == []
        assert read.head.undo == "swing 1: strike"  # what was imported before can not be undone: nobody wrote it down
        undo(uow, ParquetColumns(), lesson)
        undo(uow, ParquetColumns(), lesson)
        assert lesson_page(uow, lesson.id).head.undo is None
        recording = only(uow.find(Recording, lesson_id=lesson.id))
        reread(uow, ParquetColumns(), recording)
        assert len(lesson_page(uow, lesson.id).swings) == 5


@pytest.fixture
def release_0_8(database_url):
    """As release 0.8.0 left it: an import taken back, and a capture under way with the stand-in inside the server."""
    with upgraded(database_url, "0011", "North") as found:
        yield found


def test_an_import_that_was_taken_back_can_still_be_done_again(release_0_8):
    store, academy = release_0_8
    with store.unit_of_work(academy.id) as uow:
        lesson = only(uow.find(Lesson, player_id=only(uow.find(Player, name="Set Aside")).id))
        assert len(uow.find(Swing, lesson_id=lesson.id)) == len(uow.find_aside(Swing)) == 5
        redo(uow, ParquetColumns(), lesson)
        assert [s.swing.number for s in lesson_page(uow, lesson.id).swings] == list(range(1, 11))


def test_a_capture_under_way_ends_with_its_swings_kept(release_0_8):
    """What it was taken of is gone: its times would begin anew over those that are kept."""
    store, academy = release_0_8
    with store.front_door() as door:
        ((_, recording_id),) = door.live_recordings()
    keeping = Keeping(store.unit_of_work, None, None, lambda _: False)
    assert not Devices(keeping, None).resume(academy.id, recording_id)
    with store.front_door() as door:
        assert door.live_recordings() == []
    with store.unit_of_work(academy.id) as uow:
        assert len(uow.find(Swing, recording_id=recording_id)) == 1


@pytest.fixture
def release_0_9(database_url):
    """As release 0.9.0 left it: a capture of a bay's devices under way."""
    with upgraded(database_url, "0012", "North") as found:
        yield found


def test_a_capture_over_the_link_keeps_its_place_and_its_swing(release_0_9):
    store, academy = release_0_9
    with store.front_door() as door:
        ((_, recording_id),) = door.live_recordings()
    with store.unit_of_work(academy.id) as uow:
        recording = uow.get(Recording, recording_id)
        swing = only(uow.find(Swing, recording_id=recording_id))
        assert {k.split("/")[0] for k in recording.live["following"]} == {
            "Bay 1-lead_forearm",
            "Bay 1-lead_hand",
            "Bay 1-club",
        }
        page = swing_page(uow, swing.id)
        assert page.swing.number == 1
        before = {(v.metric, v.moment): v.value for v in numbers(uow, swing.id)}
        reread(uow, ParquetColumns(), recording)
        again = {(v.metric, v.moment): v.value for v in numbers(uow, swing.id)}
        assert before.keys() <= again.keys()
        assert all(abs(again[k] - v) < 0.5 + 0.02 * abs(v) for k, v in before.items())
        assert clips_of(uow, [swing.id]) == []
        assert uow.find(Block) == []


@pytest.fixture
def release_0_10(database_url):
    """As release 0.10.0 left it: a lesson with a video, a drill and its test, closed; the next one planned. One swing
    carries tags."""
    engine = engine_for(database_url)
    with engine.connect() as connection:
        for statement in statements("0014"):
            connection.connection.cursor().execute(statement)
        connection.execute(text('UPDATE swing SET tags = \'["skilled", "wet mat"]\' WHERE number = 2'))
        connection.connection.commit()
    upgrade(engine)
    yield Store(engine)
    engine.dispose()


def test_drill_test_and_video_stay_and_tags_can_be_searched_for(release_0_10):
    store = release_0_10
    with store.front_door() as door:
        academy = next(a for a in door.academies() if a.name == "North")
    with store.unit_of_work(academy.id) as uow:
        player = only(uow.find(Player, name="Comes Again"))
        assert (player.words, player.lengths, player.language) == ("plain", "", "")
        first = uow.find(Lesson, player_id=player.id, order="starts_at")[0]
        read = lesson_page(uow, first.id)
        assert [b.block.kind for b in read.blocks] == ["drill", "test"]
        assert read.blocks[1].change.change.changed
        assert len(clips_of(uow, [s.swing.id for s in read.swings])) == 1
        second = next(s.swing.id for s in read.swings if s.swing.number == 2)
    with store.engine.connect() as connection:
        rows = connection.execute(text("SELECT swing_id, tag FROM swing_tag ORDER BY tag")).all()
    assert [(str(swing), tag) for swing, tag in rows] == [(str(second), "skilled"), (str(second), "wet mat")]
    with store.unit_of_work(academy.id) as uow:
        uow.get(Swing, second).tags = ["skilled"]
    with store.engine.connect() as connection:
        assert connection.execute(text("SELECT tag FROM swing_tag")).scalars().all() == ["skilled"]


def test_swings_of_before_have_nothing_noted_of_putts(release_0_10):
    store = release_0_10
    with store.front_door() as door:
        academy = next(a for a in door.academies() if a.name == "North")
    with store.unit_of_work(academy.id) as uow:
        swings, recordings = uow.find(Swing), uow.find(Recording)
        assert swings
        assert {(s.distance_m, s.outcome, s.rolled_past_m, s.slope, s.breaks) for s in swings} == {
            (None, "", None, "", "")
        }
        assert {(r.green_speed_ft, r.putter_grip, r.face_grip_bias_deg) for r in recordings} == {(None, "", None)}
