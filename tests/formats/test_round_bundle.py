"""A round's bundle: written, read back, and what is wrong with it said with its place."""

from __future__ import annotations

import json

import numpy as np
import pytest

from finearc.cli.main import main
from finearc.core.course.card import CardLine
from finearc.core.errors import FineArcError
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import ImuStream, Segment
from finearc.formats.bundle import MANIFEST, opener_of, read_files, write_files
from finearc.formats.errors import BundleError
from finearc.formats.round_bundle import read_card, read_opened_round, round_files, write_card
from finearc.golfer.course import round as model
from finearc.golfer.course.round import RoundPlan
from finearc.services.course.round_reading import RoundData
from finearc.services.modelled import round_of

CARD = [
    CardLine(31.5, 1, 1, "driver", "tee", "good", 0, ""),
    CardLine(120.0, 1, 2, "7-iron", "rough", 'bad, "left"', 3, "wind"),
]


def data(club="7-iron", n=200):
    time_s = np.arange(n) / 100.0
    acc = np.tile([9.81, 0.0, 0.0], (n, 1))
    log = ImuStream(Segment.CLUB, time_s, acc, np.zeros((n, 3)), f"{club}.csv")
    return RoundData(None, Hand.RIGHT, {club: log}, CARD)


def changed(**manifest):
    files = round_files(data())
    told = json.loads(files[MANIFEST]) | manifest
    return {**files, MANIFEST: json.dumps(told).encode()}


def test_a_round_is_read_back_as_it_was_written():
    read = read_opened_round(opener_of(round_files(data())))
    assert read.card == CARD
    np.testing.assert_array_equal(read.logs["7-iron"].acc_m_s2, data().logs["7-iron"].acc_m_s2)
    assert read_card("shots.csv", write_card(CARD)) == CARD


def test_two_clips_of_one_club_are_refused_with_both_files():
    stream = {"kind": "imu", "segment": "club", "club": "7-iron"}
    files = changed(streams=[stream | {"file": "7-iron.csv"}, stream | {"file": "other.csv"}])
    with pytest.raises(BundleError, match=r"two clips of \"7-iron\" \(7-iron.csv and other.csv\)"):
        read_opened_round(opener_of(files))


def test_a_club_nobody_knows_gets_the_nearest():
    files = changed(streams=[{"kind": "imu", "segment": "club", "club": "7-irn", "file": "7-iron.csv"}])
    with pytest.raises(BundleError, match='did you mean "7-iron"'):
        read_opened_round(opener_of(files))


def test_a_round_is_no_lesson_and_a_lesson_no_round():
    with pytest.raises(BundleError, match="finearc round"):
        read_files(round_files(data()))
    with pytest.raises(BundleError, match="not a round"):
        read_opened_round(opener_of(changed(shot="full")))


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("hole,shot,club\n1,1,driver\n", "row 1, header: column time_s is missing"),
        ("time_s,club,pressure\n3,driver,9\n", 'row 2, column pressure: "9" is no whole number from 0 to 3'),
        ("time_s,club\n3,driver\nsoon,driver\n", 'row 3, column time_s: "soon" is no time'),
        ("time_s,club\n3,drivr\n", 'row 2, column club: no club "drivr", did you mean "driver"'),
    ],
)
def test_a_card_that_cannot_be_read_says_where(text, told):
    with pytest.raises(BundleError) as refused:
        read_card("shots.csv", text.encode())
    assert told in str(refused.value)


def test_a_log_over_days_is_refused():
    files = round_files(data())
    rows = files["7-iron.csv"].decode().splitlines()
    last = rows[-1].split(",")
    rows.append(",".join(["200000.0", *last[1:]]))
    with pytest.raises(BundleError, match="56 hours"):
        read_opened_round(opener_of({**files, "7-iron.csv": "\n".join(rows).encode()}))


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    place = tmp_path_factory.mktemp("round") / "round"
    plan = RoundPlan(shots=6, practice=3, putts=4, disturbances=12, tap_ins=1)
    write_files(round_files(round_of(model.play_round("round-steady", 3, plan))), place)
    return place


def test_the_command_prints_the_contract(folder, capsys):
    assert main(["round", str(folder), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["format"], told["version"]) == ("finearc-round", 1)
    keys = {"club", "time_s", "kind", "confidence", "impact_s", "backswing_length_deg", "uncertainty_deg", "swept_deg",
            "tempo", "peak_turn_deg_s"}  # fmt: skip
    assert all(keys <= s.keys() for s in told["swings"])
    assert sum(s["kind"] == "shot" for s in told["swings"]) == 6
    assert all((s["impact_s"] is not None) for s in told["swings"] if s["kind"] in ("shot", "putt"))
    assert all(s["impact_s"] is None for s in told["swings"] if s["kind"] == "practice")
    times = [s["time_s"] for s in told["swings"]]
    assert times == sorted(times)
    for c in told["compared"]:
        assert {"club", "what", "difference", "verdict", "sentence"} <= c.keys()


def test_the_table_for_people_names_what_was_found(folder, capsys):
    assert main(["round", str(folder)]) == 0
    assert "6 shots" in capsys.readouterr().out


def test_unusable_input_exits_2_with_one_line(folder, tmp_path, capsys):
    assert main(["round", str(tmp_path / "nothing")]) == 2
    assert "no such file or folder" in capsys.readouterr().err
    assert main(["analyze", str(folder)]) == 2
    error = capsys.readouterr().err
    assert error.count("\n") == 1
    assert "finearc round" in error


def test_refusals_are_errors_a_person_can_do_something_about():
    assert issubclass(BundleError, FineArcError)
