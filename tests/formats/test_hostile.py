"""Every file made to do harm is refused in words, at a cost in proportion to its bytes."""

from __future__ import annotations

import time
import tracemalloc

import numpy as np
import pytest
from validation.hostile import bundles, dotted_toml, wide_trc

from finearc.catalogue.toml_file import DataFileError
from finearc.core.errors import FineArcError, StreamError
from finearc.formats.benchmarks import check_own, read_ranges
from finearc.formats.bounds import check_clock
from finearc.formats.bundle import read_zip
from finearc.formats.errors import BundleError
from finearc.formats.marker_file import read_points
from finearc.launch.bounded import BoundedProcess, Limits, TooMuchWork
from finearc.services.judging import analysis

MOST_BYTES = 120_000_000
HOSTILE = bundles()
HARMLESS = {"two of everything", "a constant sensor", "windows backward"}
"""Whether these can be measured is not the reader's to say."""


@pytest.mark.parametrize("what", [k for k in HOSTILE if k not in HARMLESS])
def test_a_hostile_bundle_is_refused_in_words(what):
    tracemalloc.start()
    try:
        with pytest.raises(FineArcError) as refused:
            analysis.read(read_zip(HOSTILE[what], "x.zip"))
        peak = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    words = str(refused.value)
    assert 15 < len(words) < 400, words
    assert peak < MOST_BYTES, (what, peak)


@pytest.mark.parametrize("what", sorted(HARMLESS))
def test_what_can_be_read_is_refused_in_words_or_measured(what):
    try:
        analysis.read(read_zip(HOSTILE[what], "x.zip"))
    except FineArcError as refused:
        assert str(refused)


def test_a_marker_file_of_ten_thousand_labels_costs_nothing():
    with pytest.raises(BundleError, match="10000 markers"):
        read_points("x.trc", wide_trc())


def test_lines_that_leave_their_cells_out_are_not_filled_up_without_end():
    with pytest.raises(BundleError, match="cells"):
        read_points("x.trc", wide_trc(labels=390, rows=50_000))


@pytest.mark.parametrize(
    "content",
    [
        dotted_toml(),
        b"[" + b"a." * 5_000 + b"a]\n",
        b"x = " + b"[" * 5_000,
        b"x = " + b"9" * 5_000,
        b"\xff\xfe",
        b"x = nan",
    ],
    ids=["dotted key", "dotted table", "brackets", "digits", "no text", "nan"],
)
def test_hostile_toml_is_refused_at_once(content):
    begun = time.process_time()
    with pytest.raises(DataFileError):
        read_ranges(content, "x.toml")
    with pytest.raises((DataFileError, UnicodeDecodeError)):
        check_own("x.toml", content)
    assert time.process_time() - begun < 2.0  # the dotted key took seven


def test_a_table_of_ranges_without_end_is_refused():
    content = (
        "id,metric,event,provenance\n" + "\n".join(f"X{k},lead_wrist_extension,top,ACADEMY" for k in range(5000))
    ).encode()
    with pytest.raises(DataFileError):
        read_ranges(content, "x.csv")


def test_a_cell_without_end_is_no_table():
    content = b'id,metric,event,provenance\n"' + b"x" * 200_000
    with pytest.raises(DataFileError):
        read_ranges(content, "x.csv")


@pytest.mark.parametrize(
    ("times", "words"),
    [
        ([0.0], "at least 2"),
        ([0.0, np.nan], "counted by"),
        ([0.0, 1e300], "counted by"),
        ([0.0, 1.0, 0.5], "row 4"),
        ([3.0, 3.0, 3.0], "one time"),
        ([0.0, 1e6], "hours"),
    ],
)
def test_a_clock_that_cannot_be_counted_by(times, words):
    with pytest.raises(StreamError, match=words):
        check_clock("x.csv", np.array(times))


def hungry(name: str, content: bytes) -> int:
    return len(bytearray(3_000_000_000))


def slow(name: str, content: bytes) -> None:
    while True:
        pass


def loud(name: str, content: bytes) -> bytes:
    return bytes(50_000_000)


def dying(name: str, content: bytes) -> None:
    import os

    os.kill(os.getpid(), 9)


def wrong(name: str, content: bytes) -> None:
    raise BundleError(name, "a problem", advice="some advice")


def whole(name: str, content: bytes) -> bytes:
    return content


@pytest.mark.parametrize(
    ("work", "words"), [(hungry, "memory"), (slow, "time"), (loud, "room"), (dying, "time or memory")]
)
def test_a_reader_that_takes_too_much_is_ended(work, words):
    bounded = BoundedProcess(Limits(memory=1_000_000_000, cpu_s=1, wall_s=5.0, output=10_000_000))
    with pytest.raises(TooMuchWork) as refused:
        bounded.read(work, "x.zip", b"")
    assert words in str(refused.value)


def test_a_bounded_reader_gives_and_raises_what_it_would_here():
    bounded = BoundedProcess()
    assert bounded.read(whole, "x.zip", b"abc" * 1000) == b"abc" * 1000
    with pytest.raises(BundleError) as refused:
        bounded.read(wrong, "x.zip", b"")
    assert str(refused.value) == "x.zip: a problem. some advice"
