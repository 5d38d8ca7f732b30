"""Every night a backup: when it is due, what happens where one comes to nothing, and what the owner is told."""

from __future__ import annotations

from datetime import UTC, datetime, time, timedelta

import pytest

from finearc.keeping.errors import BackupTrouble
from finearc.keeping.nightly import AFTER_START, AFTER_TROUBLE, every_night, hour_of, next_due
from finearc.keeping.state import FILE, BackupState, failed, is_late, read_state, write_state

NIGHT = time(3, 0)
NOON = datetime(2026, 5, 10, 12, 0, tzinfo=UTC)


@pytest.mark.parametrize(
    ("last", "now", "due"),
    [
        (None, NOON, NOON + AFTER_START),
        (NOON - timedelta(hours=9), NOON, datetime(2026, 5, 11, 3, tzinfo=UTC)),
        (
            datetime(2026, 5, 9, 3, tzinfo=UTC),
            datetime(2026, 5, 10, 2, tzinfo=UTC),
            datetime(2026, 5, 10, 3, tzinfo=UTC),
        ),
        (NOON - timedelta(days=3), NOON, NOON + AFTER_START),
        (NOON + timedelta(days=30), NOON, NOON + AFTER_START),
    ],
    ids=["never", "last night", "tonight", "days ago", "a clock that went back"],
)
def test_when_the_next_is_due(last, now, due):
    assert next_due(last, NIGHT, now) == due


def test_a_time_of_day_is_read_or_refused():
    assert hour_of("3:05") == time(3, 5)
    assert hour_of(" 23:59 ") == time(23, 59)
    for odd in ("24:00", "3", "03:60", "night", ""):
        with pytest.raises(BackupTrouble, match="time of day"):
            hour_of(odd)


def test_one_that_comes_to_nothing_is_tried_again_within_the_hour():
    now, made, waited = [NOON], [None], []
    works = iter([True, False, True, True])

    def wait(seconds):
        waited.append(timedelta(seconds=seconds))
        now[0] += waited[-1]
        return len(waited) > 4

    def once():
        worked = next(works)
        if worked:
            made[0] = now[0]
        return worked

    every_night(once, lambda: made[0], NIGHT, lambda: now[0], wait)
    night = timedelta(hours=14, minutes=58)
    assert waited == [AFTER_START, night, AFTER_TROUBLE, timedelta(hours=23), timedelta(hours=24)]


def test_what_the_owner_is_told_outlives_a_failure_and_a_damaged_file(tmp_path):
    assert read_state(tmp_path) == BackupState()
    stands = BackupState("/mnt/b", "2026-05-10T03:00:00+00:00", "2026-05-10T03:05:00+00:00", 166)
    write_state(tmp_path, stands)
    failed(tmp_path, "the disk is full", NOON)
    told = read_state(tmp_path)
    assert (told.made_at, told.verified_at, told.trouble) == (stands.made_at, stands.verified_at, "the disk is full")
    assert not is_late(told, NOON)
    assert is_late(told, NOON + timedelta(hours=20))
    assert is_late(BackupState(), NOON)
    for damaged in ("{", "[]", '{"odd": 1}'):
        (tmp_path / FILE).write_text(damaged)
        assert read_state(tmp_path) == BackupState()
