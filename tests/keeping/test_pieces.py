"""What a backup folder is made of: pieces cut by their content, packed, named, and refused where they are damaged."""

from __future__ import annotations

import itertools
import json
import random
from datetime import UTC, datetime

import pytest
import zstandard
from hypothesis import given, settings, strategies as st

from finearc.keeping.cutting import LONGEST, SHORTEST, pieces, statements, table_of
from finearc.keeping.errors import BackupTrouble
from finearc.keeping.folder import ABOUT, PIECES, Backup, BackupFolder
from finearc.keeping.sealing import Plain, known_key, new_key

rows = st.lists(st.tuples(st.sampled_from(("a", "b")), st.text("xyz',()\\n", max_size=12)), max_size=40)


def line(table: str, value: str) -> bytes:
    """A row as the dump writes it: quotes and ends of lines are escaped."""
    text = value.replace("\\", "\\\\").replace("'", "\\'").replace("\n", "\\n")
    return f"INSERT INTO `{table}` (`id`) VALUES ('{text}');\n".encode()


def many(count: int, seed: int = 3) -> list[bytes]:
    drawn = random.Random(seed)
    return [line("swing_value", drawn.randbytes(60).hex()) for _ in range(count)]


def test_pieces_together_are_what_was_cut():
    lines = [*many(20_000), line("chunk", "f" * 3 * SHORTEST), *many(500, 4)]
    cut = list(pieces(lines))
    assert b"".join(cut) == b"".join(lines)
    assert len(cut) > 5
    assert all(len(p) <= LONGEST + SHORTEST for p in cut)
    assert line("chunk", "f" * 3 * SHORTEST) in cut, "what is large is a piece of its own"


@pytest.mark.parametrize("where", [0, 7_000, 29_999])
def test_rows_that_did_not_change_fall_into_the_same_pieces_again(where):
    before = many(30_000)
    after = [*before[:where], *many(40, 9), *before[where:]]
    known = set(pieces(before))
    new = [p for p in pieces(after) if p not in known]
    assert 1 <= len(new) <= 3, f"{len(new)} of {len(known)} pieces are new after one insertion"


@settings(max_examples=60, deadline=None)
@given(rows)
def test_neighbouring_rows_go_back_in_one_statement_and_none_is_lost(drawn):
    lines = [line(table, value) for table, value in drawn]
    again = [*statements(b"".join([b"SET NAMES utf8mb4;\n", *lines, b"commit;\n"]))]
    assert again[0] == b"SET NAMES utf8mb4;\n"
    assert again[-1] == b"commit;\n"
    rows_again = b"".join(again[1:-1])
    assert rows_again.count(b"('") >= len(lines)
    split = b"".join(x.replace(b");\n", b"),") for x in again[1:-1])
    values = b"".join(x[x.index(b" VALUES ") + 8 :].replace(b");\n", b"),") for x in lines)
    assert (
        split.replace(b"INSERT INTO `a` (`id`) VALUES ", b"").replace(b"INSERT INTO `b` (`id`) VALUES ", b"") == values
    )
    changes = sum(a[0] != b[0] for a, b in itertools.pairwise(drawn))
    assert len(again) == 2 + (changes + 1 if drawn else 0)


def test_a_line_says_of_which_table_it_is():
    assert table_of(line("swing", "x")) == "swing"
    assert table_of(b"CREATE TABLE `swing` (\n") == ""


def test_an_encrypted_piece_says_nothing_without_the_passphrase():
    content = b"Ilse Marrow, lead wrist" * 100
    sealing, kept = new_key("ferry lantern walnut")
    sealed = sealing.seal(content)
    assert b"Ilse" not in sealed
    assert zstandard.MAGIC_NUMBER.to_bytes(4, "little") not in sealed[:40]
    assert known_key(kept, "ferry lantern walnut").open(sealed) == content
    assert sealing.name(content) != Plain().name(content)
    assert "ferry" not in json.dumps(kept)
    for wrong in ("", "another"):
        with pytest.raises(BackupTrouble, match=r"encrypted|passphrase"):
            known_key(kept, wrong)
    for k in (0, 20, len(sealed) - 1):
        with pytest.raises(BackupTrouble, match="damaged"):
            sealing.open(sealed[:k] + bytes([sealed[k] ^ 1]) + sealed[k + 1 :])


def test_a_packed_piece_is_a_standard_frame():
    """RFC 8878: any Zstandard program unpacks it."""
    packed = Plain().seal(b"rows" * 1000)
    assert packed[:4] == bytes.fromhex("28b52ffd")
    assert zstandard.ZstdDecompressor().decompress(packed) == b"rows" * 1000


def backup(folder: BackupFolder, made_at: str, *contents: bytes) -> Backup:
    made = Backup(made_at, "1", "0001", {"swing": len(contents)}, [folder.put(c)[0] for c in contents])
    folder.add(made)
    return made


def test_a_folder_keeps_each_piece_once_and_finds_a_backup_by_time(tmp_path):
    folder = BackupFolder(tmp_path / "b", make=True)
    assert folder.put(b"one")[1] > 0
    assert folder.put(b"one")[1] == 0
    first = backup(folder, "2026-05-01T10:00:00+00:00", b"one", b"two")
    second = backup(folder, "2026-05-02T10:00:00+00:00", b"one", b"three")
    again = BackupFolder(tmp_path / "b")
    assert again.backups() == [first, second]
    assert again.chosen(None) == second
    assert again.chosen(datetime(2026, 5, 2, 9, 59, tzinfo=UTC)) == first
    with pytest.raises(BackupTrouble, match="none so old"):
        again.chosen(datetime(2026, 4, 1, tzinfo=UTC))
    assert again.drop_older(datetime(2026, 5, 2, tzinfo=UTC)) == 1
    assert [again.get(n) for n in second.pieces] == [b"one", b"three"]
    with pytest.raises(BackupTrouble, match="missing"):
        again.get(first.pieces[1])
    assert again.drop_older(datetime(2030, 1, 1, tzinfo=UTC)) == 0, "the newest stays"


def test_nobody_who_was_erased_is_ever_taken_off_the_list(tmp_path):
    folder = BackupFolder(tmp_path / "b", "a passphrase", make=True)
    one, two = ({"what": "player", "id": k, "academy_id": "a", "at": "t"} for k in "12")
    folder.note_erased([one])
    folder.note_erased([two])
    folder.note_erased([])
    assert folder.erased() == [one, two]
    told = tmp_path / "b" / "erased.json"
    told.write_bytes(told.read_bytes().replace(b'"id": "1"', b'"id": "3"'))
    with pytest.raises(BackupTrouble, match="not what it was"):
        folder.erased()


def test_what_is_no_backup_or_damaged_or_newer_is_refused_in_words(tmp_path):
    (tmp_path / "other").mkdir()
    (tmp_path / "other" / "letter.txt").write_text("mine")
    with pytest.raises(BackupTrouble, match="holds something else"):
        BackupFolder(tmp_path / "other", make=True)
    with pytest.raises(BackupTrouble, match="there is none"):
        BackupFolder(tmp_path / "nowhere")
    assert not (tmp_path / "nowhere").exists()
    folder = BackupFolder(tmp_path / "b", make=True)
    made = backup(folder, "2026-05-01T10:00:00+00:00", b"one")
    place = next((tmp_path / "b" / PIECES).glob("*/*"))
    whole = place.read_bytes()
    for damaged in (whole[:-3], whole[:-1] + bytes([whole[-1] ^ 1]), Plain().seal(b"other"), b""):
        place.write_bytes(damaged)
        with pytest.raises(BackupTrouble, match=r"damaged|not what it was"):
            folder.get(made.pieces[0])
    listed = next((tmp_path / "b" / "backups").glob("*"))
    head, _, _ = listed.read_bytes().partition(b"\n")
    listed.write_bytes(head + b"\n" + Plain().seal(b"{}"))
    with pytest.raises(BackupTrouble, match="not what it was"):
        folder.backups()
    (tmp_path / "b" / ABOUT).write_text('{"format": 2, "encryption": null}')
    with pytest.raises(BackupTrouble, match="format is 2"):
        BackupFolder(tmp_path / "b")
    (tmp_path / "b" / ABOUT).write_text("{")
    with pytest.raises(BackupTrouble, match="cannot be read"):
        BackupFolder(tmp_path / "b")


def test_two_do_not_write_into_one_folder_at_once(tmp_path):
    folder = BackupFolder(tmp_path / "b", make=True)
    with folder.alone(), pytest.raises(BackupTrouble, match="another backup"), BackupFolder(tmp_path / "b").alone():
        pass
    with folder.alone():
        pass
