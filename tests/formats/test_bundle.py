"""Capture bundles: loss-free round trip, and every kind of bad input with a clear error."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings, strategies as st

from finearc.core.errors import FineArcError, StreamError
from finearc.core.sources.inertial import INERTIAL
from finearc.formats import bundle as b
from finearc.formats.errors import BundleError
from finearc.formats.simulated import truth_json
from finearc.golfer.scenarios import play
from finearc.services.judging.analysis import analyse
from finearc.services.modelled import capture_of


@pytest.fixture(scope="module")
def data():
    return capture_of(play("over-extended", 5, sources=("wrist", "club")))


class Files(dict):
    """A bundle's files; megabytes do not belong into a failure's message."""

    def __repr__(self):
        return f"Files({', '.join(self)})"


@pytest.fixture(scope="module")
def files(data):
    return Files(b.bundle_files(data))


def zipped(files, prefix=""):
    return b.zip_bytes({prefix + k: v for k, v in files.items()})


def altered(files, **changes):
    """The bundle with its manifest's top-level keys replaced (None removes)."""
    manifest = json.loads(files[b.MANIFEST])
    for key, value in changes.items():
        if value is None:
            manifest.pop(key, None)
        else:
            manifest[key] = value
    return {**files, b.MANIFEST: json.dumps(manifest).encode()}


def with_csv(files, edit):
    rows = files["lead_hand.csv"].decode().splitlines()
    return {**files, "lead_hand.csv": ("\n".join(edit(rows)) + "\n").encode()}


def error_of(files):
    with pytest.raises(FineArcError) as caught:
        analyse(b.read_zip(zipped(files)))
    return str(caught.value)


def same(a, c):
    for x, y in zip(a.streams[INERTIAL], c.streams[INERTIAL], strict=True):
        assert x.segment is y.segment
        for name in ("time_s", "acc_m_s2", "gyr_rad_s"):
            assert np.array_equal(getattr(x, name), getattr(y, name))
    assert replace(a, streams={}) == replace(c, streams={})


def test_a_bundle_reads_back_without_loss(data, files, tmp_path):
    same(data, b.read_zip(zipped(files)))
    b.write_bundle(data, tmp_path / "folder")
    same(data, b.read_bundle(tmp_path / "folder"))
    same(data, b.read_bundle(tmp_path / "folder" / "capture.json"))
    b.write_bundle(data, tmp_path / "packed.zip")
    same(data, b.read_bundle(tmp_path / "packed.zip"))


def test_a_zip_may_hold_the_folder(data, files):
    same(data, b.read_zip(zipped(files, "session-3/")))


def test_a_functional_calibration_and_repeats_survive():
    for name in ("stiff-forearm", "two-calibrations"):
        data = capture_of(play(name, 2))
        same(data, b.read_zip(zipped(b.bundle_files(data))))


def test_other_units_are_converted_when_the_stream_says_so(data, files):
    rows = np.loadtxt(io.BytesIO(files["lead_hand.csv"]), delimiter=",", skiprows=1)
    rows[:, 1:4] /= 9.80665
    rows[:, 4:] = np.rad2deg(rows[:, 4:])
    out = io.BytesIO()
    np.savetxt(out, rows, delimiter=",", header="time_s,acc_x,acc_y,acc_z,gyr_x,gyr_y,gyr_z", comments="", fmt="%.12g")
    manifest = json.loads(files[b.MANIFEST])
    manifest["streams"][1]["units"] = {"acc": "g", "gyr": "deg/s"}
    read = b.read_zip(zipped({**files, "lead_hand.csv": out.getvalue(), b.MANIFEST: json.dumps(manifest).encode()}))
    np.testing.assert_allclose(
        read.streams[INERTIAL][1].acc_m_s2, data.streams[INERTIAL][1].acc_m_s2, rtol=0, atol=1e-6
    )
    np.testing.assert_allclose(
        read.streams[INERTIAL][1].gyr_rad_s, data.streams[INERTIAL][1].gyr_rad_s, rtol=0, atol=1e-8
    )


def test_a_streams_own_clock_is_put_on_the_bundles(data, files):
    manifest = json.loads(files[b.MANIFEST])
    manifest["streams"][0] |= {"offset_s": 1.5, "rate_scale": 1.0001}
    read = b.read_zip(zipped({**files, b.MANIFEST: json.dumps(manifest).encode()}))
    np.testing.assert_allclose(
        read.streams[INERTIAL][0].time_s, 1.0001 * data.streams[INERTIAL][0].time_s + 1.5, rtol=1e-6
    )


def swap_header(rows):
    return [rows[0].replace("gyr_x", "gyro_x"), *rows[1:]]


def put(value, row=40, column=5):
    def edit(rows):
        cells = rows[row].split(",")
        cells[column] = value
        return [*rows[:row], ",".join(cells), *rows[row + 1 :]]

    return edit


@pytest.mark.parametrize(
    ("edit", "expected"),
    [
        (swap_header, r'lead_hand.csv, row 1, header: column gyr_x is missing ("gyro_x" looks like it)'),
        (put("nan"), "lead_hand.csv, row 41, column gyr_y: not a number"),
        (put("inf"), "lead_hand.csv, row 41, column gyr_y: not a number"),
        (put("abc"), "lead_hand.csv, row 41, column gyr_y: not a number"),
        (put(""), "lead_hand.csv, row 41, column gyr_y"),
        (put("0.001", column=0), "lead_hand.csv, row 41: time goes back"),
        (lambda rows: rows[:1], "lead_hand.csv, row 2: 0 rows of data"),
        (lambda rows: [], "lead_hand.csv: the file is empty"),
        (lambda rows: [*rows[:30], rows[30] + ",1", *rows[31:]], "lead_hand.csv, row 31"),
    ],
)
def test_a_bad_log_names_file_row_and_column(files, edit, expected):
    assert expected in error_of(with_csv(files, edit))


@pytest.mark.parametrize(("factor", "expected"), [(1 / 9.81, '"g"'), (100.0, "cm/s²")])
def test_mixed_units_are_said(data, factor, expected):
    streams = [
        replace(s, acc_m_s2=s.acc_m_s2 * factor) if s.segment.value == "lead_hand" else s
        for s in data.streams[INERTIAL]
    ]
    message = error_of(b.bundle_files(data.with_stream(INERTIAL, tuple(streams))))
    assert expected in message
    assert "lead_hand.csv" in message


def test_duplicate_rows_are_dropped_and_change_nothing(files, data):
    doubled = with_csv(files, lambda rows: [*rows[:100], rows[99], rows[99], *rows[100:]])
    a, c = analyse(b.read_zip(zipped(doubled))), analyse(data)
    assert a.swings[0].reading.events == c.swings[0].reading.events


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        ({"format": "something"}, "capture.json, field format"),
        ({"version": 2}, "field version"),
        ({"player": None}, "field player"),
        ({"player": {"handedness": "both"}}, "field player.handedness"),
        ({"club": "7-irn"}, 'did you mean "7-iron"'),
        ({"streams": []}, "field streams"),
        ({"streams": [{"kind": "imu", "segment": "lead_hnd", "file": "a.csv"}]}, "field streams.0"),
        ({"streams": [{"kind": "sound", "file": "a.wav"}]}, "field streams.0"),
        ({"swings": [[1.0, "later"]]}, "field swings.0.1"),
        ({"swings": [[900.0, 903.0]]}, "outside the recording"),
        ({"calibration": {"flat": [900.0, 902.0], "raised": [903.0, 905.0]}}, "outside the recording"),
    ],
)
def test_a_bad_manifest_names_the_field(files, change, expected):
    assert expected in error_of(altered(files, **change))


def test_broken_json_names_the_line(files):
    assert "capture.json, line 2" in error_of({**files, b.MANIFEST: b'{"format": "finearc-capture",\n nonsense}'})


def test_files_named_but_missing_are_said(files):
    without = {k: v for k, v in files.items() if k != "lead_hand.csv"}
    assert "lead_hand.csv: named in capture.json but not in" in error_of(without)
    assert "capture.json is missing" in error_of({"readme.txt": b"hello"})


@pytest.mark.parametrize("name", ["../evil.csv", "/etc/passwd", "a/../../b", "C:\\x.csv", "..\\x"])
def test_a_path_outside_the_bundle_is_refused(files, name):
    assert "points outside the bundle" in error_of({**files, name: b"x"})
    inside = json.loads(files[b.MANIFEST])
    inside["streams"][0]["file"] = name
    assert "points outside the bundle" in error_of({**files, b.MANIFEST: json.dumps(inside).encode()})


def test_a_zip_bomb_is_refused_before_it_unpacks(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        archive.writestr(b.MANIFEST, files[b.MANIFEST])
        archive.writestr("bomb.csv", b"0" * 80_000_000)
    with pytest.raises(BundleError, match="would unpack to 80 MB"):
        b.read_zip(out.getvalue())


def test_too_many_files_and_too_large_a_file_are_refused(files, monkeypatch):
    with pytest.raises(BundleError, match="at most 200"):
        b.read_zip(zipped({**files, **{f"{k}.txt": b"" for k in range(201)}}))
    monkeypatch.setattr(b, "MAX_UPLOAD", 1000)
    with pytest.raises(BundleError, match="is taken"):
        b.read_zip(zipped(files))


@given(st.integers(0, 3000))
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
def test_a_truncated_zip_never_gives_a_stack_trace(files, cut):
    content = zipped(files)
    with pytest.raises(FineArcError):
        b.read_zip(content[: max(0, len(content) - 1 - cut * 7)])


@given(st.binary(max_size=400))
@settings(max_examples=60, deadline=None)
def test_any_bytes_give_a_clear_error(content):
    with pytest.raises(FineArcError):
        b.read_zip(content)
    with pytest.raises(FineArcError):
        b.parse_manifest(content)


@given(st.floats(0, 1), st.integers(1, 120), st.binary(max_size=60))
@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
def test_any_damage_to_a_log_is_refused_or_harmless(files, where, length, rubbish):
    """A random slice of the file replaced by random text: a clear error, or a result; never anything else."""
    content = bytearray(files["lead_hand.csv"])
    at = int(where * (len(content) - 200))
    content[at : at + length] = rubbish
    try:
        analyse(b.read_zip(zipped({**files, "lead_hand.csv": bytes(content)})))
    except FineArcError as error:
        assert str(error)


@pytest.mark.parametrize("rubbish", [b"\x80", b"\xff\xfe", b"\x00\x00", b'"'])
def test_a_damaged_header_is_said(files, rubbish):
    content = rubbish + files["lead_hand.csv"]
    assert "lead_hand.csv" in error_of({**files, "lead_hand.csv": content})


def test_a_truncated_c3d_is_said(files):
    manifest = json.loads(files[b.MANIFEST])
    manifest["streams"].append({"kind": "markers", "file": "trial.c3d"})
    for content in (b"", b"\x02P" + b"\x00" * 600, b"not a c3d" * 300):
        damaged = {**files, b.MANIFEST: json.dumps(manifest).encode(), "trial.c3d": content}
        assert "trial.c3d" in error_of(damaged)


def test_no_such_file(tmp_path):
    with pytest.raises(BundleError, match="no such file"):
        b.read_bundle(tmp_path / "nowhere")
    (tmp_path / "empty").mkdir()
    with pytest.raises(BundleError, match=r"capture.json: not found"):
        b.read_bundle(tmp_path / "empty")


def test_truth_comes_with_true_angles_and_instants():
    recording = play("dip", 9)
    truth = json.loads(truth_json(recording))
    assert len(truth["time_s"]) == len(truth["lead_wrist_extension"])
    assert {"top", "impact", "arm_level_back"} <= set(truth["swings"][0]["events"])


def test_stream_errors_are_types_with_values(files):
    with pytest.raises(StreamError) as caught:
        analyse(b.read_zip(zipped(with_csv(files, put("0.001", column=0)))))
    assert (caught.value.source, caught.value.place) == ("lead_hand.csv", "row 41")
