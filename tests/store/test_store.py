"""Migrations, mapping, loss-free columns, and what survives a kill."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import textwrap
import threading
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta, timezone
from pathlib import Path

import numpy as np
import pytest
from alembic import command
from hypothesis import given, strategies as st
from sqlalchemy import inspect
from sqlalchemy.exc import StatementError

from finearc.core.frames.handedness import Hand
from finearc.core.pressure.plates import ForcePlate, PlateStream
from finearc.core.sources.ground import MAT, PLATES
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.markers import MARKERS
from finearc.golfer.scenarios import play
from finearc.launch.mariadb import DatabaseTrouble, MariaDb
from finearc.services.capture.raw import append, streams_of
from finearc.services.diary.booking import Asked, book
from finearc.services.errors import Clash, NotFound
from finearc.services.lesson.lessons import bay_of
from finearc.services.modelled import capture_of
from finearc.services.record.blocks import pack_traces, unpack_traces
from finearc.services.records import Academy, Chunk, Instructor, Lesson, Player, Recording
from finearc.store.columns import ParquetColumns
from finearc.store.migrate import config_for, downgrade, upgrade
from finearc.store.tables import MAPPED, metadata
from finearc.store.unit_of_work import Store, engine_for
from tests.conftest import free_port


@pytest.fixture
def store(database_url):
    engine = engine_for(database_url)
    upgrade(engine)
    yield Store(engine)
    engine.dispose()


def academy(store, name="Here"):
    made = Academy(name)
    with store.front_door() as door:
        door.add(made)
    return made


def a_recording(uow):
    instructor = Instructor(uow.academy_id, "I", f"{uow.academy_id}@example.test", "x")
    player = Player(uow.academy_id, "P", "right")
    for record in (instructor, player):
        uow.add(record)
    now = datetime.now(UTC)
    lesson = Lesson(uow.academy_id, player.id, instructor.id, "Bay 1", now, now)
    uow.add(lesson)
    recording = Recording(uow.academy_id, lesson.id, 1, "test", "right")
    uow.add(recording)
    return recording


def test_migrations_go_up_down_and_match_the_tables(database_url):
    engine = engine_for(database_url)
    upgrade(engine)
    command.check(config_for(engine))
    assert set(inspect(engine).get_table_names()) == set(metadata.tables) | {"alembic_version"}
    downgrade(engine, "base")
    assert inspect(engine).get_table_names() == ["alembic_version"]
    upgrade(engine)
    engine.dispose()


def test_every_table_but_the_academy_belongs_to_one():
    for kind, table in MAPPED.items():
        assert kind is Academy or "academy_id" in table.c


def test_another_academys_records_are_not_found(store):
    here, there = academy(store), academy(store, "There")
    with store.unit_of_work(here.id) as uow:
        recording = a_recording(uow)
    with store.unit_of_work(there.id) as uow:
        with pytest.raises(NotFound):
            uow.get(Recording, recording.id)
        assert uow.find(Recording) == []
        with pytest.raises(NotFound):
            uow.add(Player(here.id, "Smuggled", "right"))


def test_times_come_back_aware_in_utc_and_naive_ones_are_refused(store):
    here = academy(store)
    paris = datetime(2026, 7, 1, 12, 0, 0, 123456, tzinfo=timezone(timedelta(hours=2)))
    with store.unit_of_work(here.id) as uow:
        player = Player(here.id, "P", "right", consent_at=paris)
        uow.add(player)
    with store.unit_of_work(here.id) as uow:
        assert uow.get(Player, player.id).consent_at == paris
        assert uow.get(Player, player.id).consent_at.utcoffset() == timedelta(0)
    with pytest.raises(StatementError), store.unit_of_work(here.id) as uow:
        uow.add(Player(here.id, "P", "right", consent_at=datetime(2026, 1, 1)))


def test_an_error_rolls_the_whole_unit_back(store):
    here = academy(store)
    with pytest.raises(RuntimeError), store.unit_of_work(here.id) as uow:
        uow.add(Player(here.id, "Half", "right"))
        raise RuntimeError
    with store.unit_of_work(here.id) as uow:
        assert uow.find(Player) == []


def test_raw_streams_come_back_to_the_bit_and_a_repeated_delivery_is_harmless(store):
    here, codec = academy(store), ParquetColumns()
    streams = play("flat", 3).streams
    halves = [
        [type(s)(s.segment, s.time_s[p], s.acc_m_s2[p], s.gyr_rad_s[p], s.source) for s in streams]
        for p in (slice(0, 2000), slice(2000, None))
    ]
    with store.unit_of_work(here.id) as uow:
        recording = a_recording(uow)
        assert append(uow, codec, recording, {INERTIAL: halves[0]}, "a")
        assert append(uow, codec, recording, {INERTIAL: halves[1]}, "b")
        assert not append(uow, codec, recording, {INERTIAL: halves[1]}, "b")
        assert len(uow.find(Chunk)) == 4
    with store.unit_of_work(here.id) as uow:
        back = streams_of(uow, codec, uow.get(Recording, recording.id))
    assert list(back) == [INERTIAL]
    for a, b in zip(streams, sorted(back[INERTIAL], key=lambda s: s.segment.value), strict=True):
        assert np.array_equal(a.gyr_rad_s, b.gyr_rad_s)
        assert np.array_equal(a.time_s, b.time_s)


def test_raw_markers_come_back_with_their_labels_axes_and_gaps(store):
    here, codec = academy(store), ParquetColumns()
    markers = capture_of(play("markers-flicker", 3, sources=("markers",))).streams[MARKERS]
    with store.unit_of_work(here.id) as uow:
        recording = a_recording(uow)
        assert append(uow, codec, recording, {MARKERS: markers}, "a")
    with store.unit_of_work(here.id) as uow:
        kept = streams_of(uow, codec, uow.get(Recording, recording.id))
    back = kept[MARKERS]
    assert list(kept) == [MARKERS]
    assert (back.labels, back.axes, back.names) == (markers.labels, markers.axes, markers.names)
    assert np.array_equal(back.points_m, markers.points_m, equal_nan=True)
    assert np.array_equal(back.time_s, markers.time_s)


def test_a_raw_mat_comes_back_to_the_bit(store):
    here, codec = academy(store), ParquetColumns()
    mat = capture_of(play("own-clock", 3, sources=("pressure",), hand=Hand.LEFT)).streams[MAT]
    middle = len(mat.time_s) // 2
    with store.unit_of_work(here.id) as uow:
        recording = a_recording(uow)
        for key, rows in (("a", slice(0, middle)), ("b", slice(middle, None))):
            part = replace(mat, time_s=mat.time_s[rows], pressure_kpa=mat.pressure_kpa[rows])
            assert append(uow, codec, recording, {MAT: part}, key)
        recording.mat_shift_s = 0.25
    with store.unit_of_work(here.id) as uow:
        back = streams_of(uow, codec, uow.get(Recording, recording.id))[MAT]
    assert (back.grid, back.own_clock, back.shift_s) == (mat.grid, True, 0.25)
    assert np.array_equal(back.time_s, mat.time_s)
    assert np.array_equal(back.pressure_kpa, mat.pressure_kpa)


def test_raw_force_plates_come_back_to_the_bit(store):
    here, codec = academy(store), ParquetColumns()
    rng = np.random.default_rng(4)
    plates = tuple(ForcePlate(*rng.normal(size=(2, 9, 3)), rng.normal(size=(4, 3)), rng.normal(size=3)) for _ in "ab")
    with store.unit_of_work(here.id) as uow:
        recording = a_recording(uow)
        append(uow, codec, recording, {PLATES: PlateStream(np.arange(9.0), plates, "trial.c3d")}, "a")
    with store.unit_of_work(here.id) as uow:
        back = streams_of(uow, codec, uow.get(Recording, recording.id))[PLATES]
    for one, other in zip(plates, back.plates, strict=True):
        assert np.array_equal(one.force_n, other.force_n)
        assert np.array_equal(one.moment_nm, other.moment_nm)
        assert np.array_equal(one.corners_m, other.corners_m)


@given(st.lists(st.floats(allow_nan=False, width=64), min_size=1, max_size=50))
def test_columns_are_loss_free(values):
    codec = ParquetColumns()
    assert codec.unpack(codec.pack({"x": np.array(values)}))["x"].tolist() == values


def test_trace_blocks_invert():
    columns = {"time_s": np.linspace(0, 1, 7), "x": np.array([1.5, np.nan, -2, 0, 1, 2, 3])}
    back = unpack_traces(pack_traces(columns))
    assert list(back) == ["time_s", "x"]
    assert back["x"] == pytest.approx(columns["x"], nan_ok=True)


WRITER = """
    import sys
    from datetime import UTC, datetime
    from uuid import UUID
    from finearc.golfer.scenarios import play
    from finearc.services.records import Recording
    from finearc.core.sources.inertial import INERTIAL
    from finearc.services.capture.raw import append
    from finearc.store.columns import ParquetColumns
    from finearc.store.unit_of_work import Store, engine_for
    store, codec = Store(engine_for(sys.argv[1])), ParquetColumns()
    streams = play("setup-only", 1).streams
    for k in range(100000):
        with store.unit_of_work(UUID(sys.argv[2])) as uow:
            append(uow, codec, uow.get(Recording, UUID(sys.argv[3])), {INERTIAL: streams}, f"chunk-{k}")
        print(k, flush=True)
"""


def acknowledged(process, at_least):
    """Read what the writer was told is kept, until there are enough; then the rest that arrived."""
    last = -1
    while last < at_least:
        last = int(process.stdout.readline())
    return last


@pytest.mark.slow
@pytest.mark.parametrize("victim", ["server", "database"])
def test_acknowledged_captures_survive_a_kill(victim):
    """kill -9 of the writing process or of MariaDB: everything acknowledged is there after a restart."""
    server = MariaDb(Path(tempfile.mkdtemp(prefix="finearc-kill-")), free_port())
    server.start()
    try:
        url = f"{server.url}/finearc"
        upgrade(engine_for(f"{server.owner_url}/finearc"))
        store = Store(engine_for(url))
        here = academy(store)
        with store.unit_of_work(here.id) as uow:
            recording = a_recording(uow)
        writer = subprocess.Popen(
            [sys.executable, "-c", textwrap.dedent(WRITER), url, str(here.id), str(recording.id)],
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )
        seen = acknowledged(writer, 8)
        os.kill(writer.pid if victim == "server" else server.process.pid, signal.SIGKILL)
        if victim == "database":
            server.process.wait()
            time.sleep(0.2)
            writer.kill()
        rest, _ = writer.communicate()
        seen = max([seen, *(int(line) for line in rest.split() if line.isdigit())])
        if victim == "database":
            server.process = None
            server.start()
        store = Store(engine_for(url))
        with store.unit_of_work(here.id) as uow:
            keys = {c.key for c in uow.find(Chunk, recording_id=recording.id)}
            whole = streams_of(uow, ParquetColumns(), uow.get(Recording, recording.id))[INERTIAL]
        assert {f"chunk-{k}" for k in range(seen + 1)} <= keys
        assert len({len(s.time_s) for s in whole}) == 1
        store.engine.dispose()
    finally:
        server.stop()


def test_a_taken_port_and_a_missing_program_are_said(mariadb, monkeypatch):
    other = MariaDb(Path(tempfile.mkdtemp(prefix="finearc-port-")), mariadb.port)
    with pytest.raises(DatabaseTrouble, match=f"port {mariadb.port} is taken"):
        other.start()
    monkeypatch.setattr("finearc.launch.mariadb.shutil.which", lambda *_, **__: None)
    with pytest.raises(DatabaseTrouble, match="mariadb-server-core"):
        MariaDb(Path(tempfile.mkdtemp()), free_port()).start()


def test_a_full_disk_is_said(monkeypatch):
    monkeypatch.setattr("finearc.launch.mariadb.LOW_SPACE_BYTES", 10**18)
    with pytest.raises(DatabaseTrouble, match="Free some space"):
        MariaDb(Path(tempfile.mkdtemp()), free_port()).start()


def test_two_who_book_the_same_hour_at_once_do_not_both_get_it(store):
    """The second has read the player before it waits for the bay; it still sees what the first booked."""
    here = academy(store)
    with store.unit_of_work(here.id) as uow:
        recording = a_recording(uow)
        lesson = uow.get(Lesson, recording.lesson_id)
        player, who = lesson.player_id, lesson.instructor_id
        bay_of(uow, "Bay 1")
    starts, refused = datetime(2031, 5, 1, 9, 0, tzinfo=UTC), []

    def second():
        try:
            with store.unit_of_work(here.id) as uow:
                book(uow, Asked(player, who, "Bay 1", starts + timedelta(minutes=15), 45))
        except Clash as clash:
            refused.append(str(clash))

    with store.unit_of_work(here.id) as uow:
        book(uow, Asked(player, who, "Bay 1", starts, 45))
        waiting = threading.Thread(target=second)
        waiting.start()
        time.sleep(0.6)
        assert waiting.is_alive()
    waiting.join(20)
    assert refused
    assert "already booked" in refused[0]
