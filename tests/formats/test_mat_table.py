"""Mats as CSV and Parquet: read, written, and refused with file and place."""

import io
import json

import numpy as np
import pyarrow as pa
import pytest
from pyarrow import parquet

from finearc.core.frames.handedness import Hand
from finearc.core.sources.ground import MAT
from finearc.formats import bundle as b
from finearc.formats.entries import PressureEntry
from finearc.formats.errors import BundleError
from finearc.formats.mat_table import KPA, cell_names, grid_of, mat_csv, mat_parquet, read_mat_table
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of


def entry(file="mat.csv", **changes):
    known = {"kind": "pressure", "file": file, "rows": 2, "columns": 3, "cell_mm": [10, 20], "origin_mm": [-5, 7]}
    return PressureEntry.model_validate(known | changes)


HEADER = "time_s,r0c0,r0c1,r0c2,r1c0,r1c1,r1c2"


def table(*rows):
    return ("\n".join([HEADER, *rows]) + "\n").encode()


GOOD = table("0.00,1,2,3,4,5,6", "0.01,7,8,9,10,11,12.5")


def test_cells_come_row_by_row():
    assert cell_names(2, 3) == HEADER.split(",")[1:]
    read = read_mat_table(entry(), GOOD)
    assert read.pressure_kpa.tolist() == [[1, 2, 3, 4, 5, 6], [7, 8, 9, 10, 11, 12.5]]
    assert read.time_s.tolist() == [0.0, 0.01]
    assert read.grid == grid_of(entry())
    assert read.grid.places_m[5] == pytest.approx([-0.005 + 0.010, 0.007 + 2 * 0.020])


def test_columns_are_found_by_name_whatever_their_order():
    names = ["r1c2", "time_s", "r0c0", "r0c1", "r0c2", "r1c0", "r1c1"]
    content = (",".join(names) + "\n6,0,1,2,3,4,5\n").encode()
    assert read_mat_table(entry(), content).pressure_kpa.tolist() == [[1, 2, 3, 4, 5, 6]]


def test_a_stream_of_its_own_time_is_put_on_the_bundles():
    read = read_mat_table(entry(offset_s=2.0, rate_scale=1.5), GOOD)
    assert read.time_s == pytest.approx([2.0, 2.015])


@pytest.mark.parametrize(("unit", "factor"), KPA.items())
def test_units_become_kpa(unit, factor):
    read = read_mat_table(entry(unit=unit), GOOD)
    assert read.pressure_kpa[1, 5] == pytest.approx(12.5 * factor, rel=1e-6)


def test_known_conversions():
    """1 mmHg is 133.322 387 415 Pa (NIST Special Publication 811, appendix B); 1 N/cm² is 10 kPa by arithmetic."""
    assert KPA["mmHg"] == 0.133322387415
    assert KPA["N/cm²"] == 10.0


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "mat.csv: the file is empty"),
        (b"\xff\xfe\x00time", "not UTF-8"),
        (HEADER.encode() + b"\n", "0 rows of data"),
        (GOOD.replace(b"time_s", b"time"), 'column time_s is missing ("time" looks like it)'),
        (b"time_s,r0c0,r0c1\n0,1,2\n", "2 cells a frame, the capture says 6"),
        (GOOD.replace(b"r1c1", b"r9c9"), "cell r1c1 is missing"),
        (table("0.00,1,2,x,4,5,6"), "row 2, column r0c2: not a number"),
        (table("0.00,1,2,3,4,5,6", "0.01,1,2,,4,5,6"), "row 3, column r0c2"),
        (table("0.00,1,2,3,4,5,6", "0.01,1,2,3"), "row 3, column 4 cells where the header has 7"),
    ],
    ids=["empty", "binary", "no rows", "no time", "few cells", "other name", "text", "hole", "short row"],
)
def test_bad_csv_is_refused_with_its_place(content, says):
    with pytest.raises(BundleError) as refused:
        read_mat_table(entry(), content)
    assert says in str(refused.value)


def test_bad_parquet_is_refused():
    with pytest.raises(BundleError, match="Parquet"):
        read_mat_table(entry("mat.parquet"), b"PAR1 cut off")
    text = io.BytesIO()
    parquet.write_table(pa.table({n: ["a"] if n == "r0c1" else [1.0] for n in HEADER.split(",")}), text)
    with pytest.raises(BundleError, match="r0c1"):
        read_mat_table(entry("mat.parquet"), text.getvalue())


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"unit": "psi"}, "unit"),
        ({"rows": 0}, "rows"),
        ({"cell_mm": [10]}, "cell_mm"),
        ({"saturation_kpa": -1}, "saturation_kpa"),
    ],
)
def test_a_manifest_entry_that_cannot_be_is_refused(changes, says):
    with pytest.raises(ValueError, match=says):
        entry(**changes)


@pytest.fixture(scope="module")
def data():
    return capture_of(play("good-load", 2, sources=("pressure",), hand=Hand.LEFT))


def test_parquet_is_loss_free_and_csv_as_exact_as_asked(data):
    mat = data.streams[MAT]
    shape = {"rows": mat.grid.rows, "columns": mat.grid.columns, "cell_mm": [12.5, 12.5], "column_axis": "-y"}
    back = read_mat_table(entry("m.parquet", **shape), mat_parquet(mat))
    assert np.array_equal(back.pressure_kpa, mat.pressure_kpa)
    assert np.array_equal(back.time_s, mat.time_s)
    short = type(mat)(mat.time_s[:50], mat.pressure_kpa[:50], mat.grid, "m.csv")
    assert read_mat_table(entry("m.csv", **shape), mat_csv(short, 1)).pressure_kpa == pytest.approx(
        short.pressure_kpa, abs=0.051
    )


def test_a_bundle_with_a_mat_comes_back_whole(data, tmp_path):
    b.write_bundle(data, tmp_path / "session.zip")
    back = b.read_bundle(tmp_path / "session.zip")
    assert back.streams[MAT].grid == data.streams[MAT].grid
    assert np.array_equal(back.streams[MAT].pressure_kpa, data.streams[MAT].pressure_kpa)
    one, other = ({(v.metric.id, v.moment.key): v.value for v in an.read(d).swings[0].measured} for d in (data, back))
    assert one == other


def test_own_clock_and_limit_are_kept_in_the_manifest(tmp_path):
    from dataclasses import replace

    data = capture_of(play("own-clock", 2, sources=("wrist", "pressure")))
    data = data.with_stream(MAT, replace(data.streams[MAT], limit_kpa=300.0))
    written = json.loads(b.bundle_files(data)[b.MANIFEST])
    stated = next(s for s in written["streams"] if s["kind"] == "pressure")
    assert (stated["own_clock"], stated["saturation_kpa"]) == (True, 300.0)
    b.write_bundle(data, tmp_path / "x")
    back = b.read_bundle(tmp_path / "x").streams[MAT]
    assert (back.own_clock, back.limit_kpa) == (True, 300.0)


def test_two_mats_are_refused(data):
    files = b.bundle_files(data)
    manifest = json.loads(files[b.MANIFEST])
    manifest["streams"].append(manifest["streams"][-1])
    with pytest.raises(BundleError, match="two pressure streams"):
        b.read_files({**files, b.MANIFEST: json.dumps(manifest).encode()})


def test_a_simulated_bundle_tells_the_truth_of_the_ground(tmp_path):
    from finearc.cli.main import main

    out = tmp_path / "x"
    assert main(["simulate", "--scenario", "late-return", "--sources", "wrist,pressure", "--seed", "3", str(out)]) == 0
    truth = json.loads((out / "truth.json").read_text())
    swing = an.read(b.read_bundle(out)).swings[0]
    known = {(v.metric.id, v.moment.key): v.value for v in swing.measured}
    k = int(np.searchsorted(truth["time_s"], swing.events["top"].time_s))
    assert 100 * known["lead_share", "top"] == pytest.approx(truth["lead_share"][k], abs=0.8)
    assert 100 * known["trail_heel_toe", "top"] == pytest.approx(truth["trail_heel_toe"][k], abs=2.0)
    assert len(truth["pressure_m"]) == len(truth["time_s"])


BROKEN = {
    "mat-empty": "the mat is empty",
    "mat-saturated": "saturated everywhere",
}


@pytest.mark.parametrize("name", BROKEN)
def test_a_mat_that_says_nothing_is_an_error_alone_and_a_note_beside_others(name):
    alone = capture_of(play(name, 2, sources=("pressure",)))
    with pytest.raises(Exception, match=BROKEN[name]):
        an.read(alone)
    reading = an.read(capture_of(play(name, 2, sources=("wrist", "pressure"))))
    assert any(BROKEN[name] in n for n in reading.notes)
    missing = an.judge_swing(
        reading.swings[0], an.in_force(an.library.ranges().ranges, an.library.situation("7-iron", "full", "adult", {}))
    ).missing
    assert BROKEN[name] in missing["lead_share"]
    assert reading.calibration is not None


def test_analyze_of_a_bad_mat_ends_with_one_line_and_status_2(data, tmp_path, capsys):
    from finearc.cli.main import main

    b.write_bundle(data, tmp_path / "x")
    manifest = json.loads((tmp_path / "x" / b.MANIFEST).read_text())
    manifest["streams"][0]["rows"] = 31
    (tmp_path / "x" / b.MANIFEST).write_text(json.dumps(manifest))
    assert main(["analyze", str(tmp_path / "x")]) == 2
    error = capsys.readouterr().err
    assert "mat.parquet, row 1, header: 1792 cells a frame, the capture says 1736" in error
    assert "Traceback" not in error
