"""The journal: whatever was said to be safe is there, wherever the file is cut."""

import threading

import pytest

from finearc.devices.link import journal as j
from finearc.devices.link.journal import Journal, RecordKind, read_journal


class Hears:
    def __init__(self):
        self.position, self.more, self.troubles = 0, threading.Condition(), []

    def safe(self, position):
        with self.more:
            self.position = position
            self.more.notify_all()

    def until(self, position):
        with self.more:
            assert self.more.wait_for(lambda: self.position >= position, 5)


@pytest.fixture
def hears():
    return Hears()


def opened(folder, hears):
    return Journal(folder, hears.safe, hears.troubles.append)


def test_records_come_back_in_order_after_a_restart(tmp_path, hears):
    first = opened(tmp_path, hears)
    for k in range(100):
        position = first.append(RecordKind.FRAME, bytes([k]) * k)
    hears.until(position)
    first.close()
    second = opened(tmp_path, hears)
    second.append(RecordKind.MARK, b"later")
    second.close()
    records = list(read_journal(tmp_path))
    assert [len(r.payload) for r in records[:-1]] == list(range(100))
    assert (records[-1].kind, records[-1].payload, records[-1].segment) == (RecordKind.MARK, b"later", 2)


def test_a_file_cut_anywhere_ends_at_its_last_whole_record(tmp_path, hears):
    written = opened(tmp_path, hears)
    for k in range(5):
        written.append(RecordKind.FRAME, b"abcdefgh"[: k + 3])
    written.close()
    (path,) = tmp_path.glob("*.journal")
    whole = path.read_bytes()
    ends = [sum(9 + k + 3 for k in range(n)) for n in range(6)]
    for cut in range(len(whole) + 1):
        path.write_bytes(whole[:cut])
        assert len(list(read_journal(tmp_path))) == sum(end <= cut for end in ends) - 1


def test_a_flipped_bit_is_noticed(tmp_path, hears):
    written = opened(tmp_path, hears)
    for _ in range(3):
        written.append(RecordKind.FRAME, b"payload")
    written.close()
    (path,) = tmp_path.glob("*.journal")
    damaged = bytearray(path.read_bytes())
    damaged[16 + 12] ^= 1
    path.write_bytes(damaged)
    assert len(list(read_journal(tmp_path))) == 1


def test_old_files_are_let_go_and_the_one_that_is_written_never(tmp_path, hears, monkeypatch):
    monkeypatch.setattr(j, "SEGMENT_BYTES", 100)
    written = opened(tmp_path, hears)
    for _ in range(10):
        hears.until(written.append(RecordKind.FRAME, b"x" * 60))
    assert written.segment >= 4
    written.let_go(3)
    assert min(r.segment for r in read_journal(tmp_path)) == 3
    written.let_go(10_000)
    written.append(RecordKind.FRAME, b"last")
    written.close()
    assert [r.payload for r in read_journal(tmp_path)][-1] == b"last"


def test_a_disk_that_takes_nothing_is_waited_for_and_nothing_is_said_to_be_safe(tmp_path, hears, monkeypatch):
    full = threading.Event()
    full.set()
    real = j.os.fdatasync

    def sync(handle):
        if full.is_set():
            raise OSError(28, "No space left on device")
        real(handle)

    monkeypatch.setattr(j.os, "fdatasync", sync)
    written = opened(tmp_path, hears)
    position = written.append(RecordKind.FRAME, b"kept")
    for _ in range(100):
        if hears.troubles:
            break
        threading.Event().wait(0.02)
    assert hears.troubles[0].errno == 28
    assert hears.position == 0
    full.clear()
    hears.until(position)
    written.close()
    assert [r.payload for r in read_journal(tmp_path)] == [b"kept"]
