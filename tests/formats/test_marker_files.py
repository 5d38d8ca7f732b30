"""C3D and TRC: read by two independent libraries, round trips, other laboratories' labels, bad files."""

from __future__ import annotations

import io
from pathlib import Path

import c3d
import ezc3d
import numpy as np
import pytest

from finearc.catalogue.markers import meaning, other_names, suggest
from finearc.core.errors import FineArcError, NoSwingFound
from finearc.core.frames.handedness import Hand
from finearc.core.markers.axes import suggest_axes
from finearc.core.markers.labels import Marker, file_label
from finearc.core.markers.motion import read_markers
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.sources.markers import MARKERS
from finearc.formats import bundle as b
from finearc.formats.c3d_file import c3d_bytes, read_c3d
from finearc.formats.errors import BundleError
from finearc.formats.marker_file import marker_stream, read_points, suggested_names
from finearc.formats.tables import convert
from finearc.formats.trc import read_trc, trc_text
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

WALK = Path(__file__).resolve().parents[1] / "data" / "gait-c3d" / "walk.c3d"


@pytest.fixture(scope="module")
def data():
    return capture_of(play("free-pelvis", 5, sources=("markers",)))


def points(n=300, k=5, seed=1):
    rng = np.random.default_rng(seed)
    out = rng.normal(0.5, 0.4, (n, k, 3))
    out[40:60, 2] = np.nan
    return out


LABELS = ("LASI", "RASI", "LPSI", "RPSI", "C7")


# the same real file through two independent libraries: ezc3d (C++) and c3d (which our reader builds on)
def test_a_real_file_gives_the_same_numbers_in_two_libraries():
    table = read_c3d(WALK.name, WALK.read_bytes())
    other = ezc3d.c3d(str(WALK))["data"]["points"]
    theirs = other[:3].transpose(2, 1, 0) / 1000.0
    assert table.points_m.shape == theirs.shape
    seen = np.isfinite(table.points_m)
    assert seen.mean() > 0.9
    assert np.abs(table.points_m[seen] - theirs[seen]).max() < 1e-12
    assert table.rate_hz == 100.0


def test_a_real_files_hidden_points_are_hidden():
    reader = c3d.Reader(io.BytesIO(WALK.read_bytes()))
    residuals = np.array([p[:, 3] for _, p, _ in reader.read_frames()])
    table = read_c3d(WALK.name, WALK.read_bytes())
    assert np.isnan(table.points_m[residuals < 0]).all()


def test_c3d_round_trip_keeps_points_gaps_labels_and_rate():
    written = points()
    table = read_c3d("x.c3d", c3d_bytes(LABELS, written, 240.0))
    assert table.labels == LABELS
    assert table.rate_hz == 240.0
    np.testing.assert_allclose(table.points_m, written, rtol=1e-6, atol=1e-7)


def test_a_long_c3d_is_read_to_its_end():
    """More frames than fit into sixteen bits of bytes: counts in the header are small integers."""
    written = points(n=3000, k=40)
    table = read_c3d("long.c3d", c3d_bytes([f"M{k}" for k in range(40)], written, 240.0))
    assert table.points_m.shape == (3000, 40, 3)
    assert table.points_m[-1] == pytest.approx(written[-1], abs=1e-7)


def test_trc_round_trip_and_units():
    written, t = points(), np.arange(300) / 240.0
    text = trc_text("x.trc", LABELS, t, written, 240.0)
    table = read_trc("x.trc", text.encode())
    assert table.labels == LABELS
    np.testing.assert_allclose(table.points_m, written, rtol=1e-6, atol=1e-6)
    metres = text.replace("\tmm\t", "\tm\t", 1)
    assert read_trc("x.trc", metres.encode()).points_m[0, 0] == pytest.approx(1000 * written[0, 0], rel=1e-5)


def test_what_is_converted_opens_in_an_independent_reader_and_says_the_same(data, tmp_path):
    convert(data, tmp_path / "out.c3d")
    convert(data, tmp_path / "out.trc")
    theirs = ezc3d.c3d(str(tmp_path / "out.c3d"))
    assert theirs["parameters"]["POINT"]["LABELS"]["value"] == list(data.streams[MARKERS].labels)
    got = theirs["data"]["points"][:3].transpose(2, 1, 0) / 1000.0
    seen = np.isfinite(data.streams[MARKERS].points_m)
    assert np.abs(got[seen] - data.streams[MARKERS].points_m[seen]).max() < 1e-6
    for name in ("out.c3d", "out.trc"):
        back = marker_stream(name, (tmp_path / name).read_bytes())
        again = an.analyse(an.CaptureData({MARKERS: back}, uprights=data.uprights, swings=data.swings))
        first = an.analyse(data)
        for x, y in zip(first.swings, again.swings, strict=True):
            a = {(v.metric.id, v.moment.key): v.value for v in x.reading.measured}
            z = {(v.metric.id, v.moment.key): v.value for v in y.reading.measured}
            assert a.keys() == z.keys()
            # written on a clock that starts at zero: only the grid's rounding is left
            assert all(a[k] == pytest.approx(z[k], rel=1e-3, abs=2e-3) for k in a)


def test_a_bundle_with_markers_comes_back_loss_free(data):
    back = b.read_files(b.bundle_files(data))
    assert back.streams[MARKERS].labels == data.streams[MARKERS].labels
    assert back.streams[MARKERS].axes == data.streams[MARKERS].axes
    np.testing.assert_allclose(back.streams[MARKERS].points_m, data.streams[MARKERS].points_m, rtol=1e-6, atol=3e-7)
    twice = b.read_files(b.bundle_files(back))
    assert np.array_equal(twice.streams[MARKERS].points_m, back.streams[MARKERS].points_m, equal_nan=True)


def test_a_bundle_keeps_the_body_packs_poses():
    data = capture_of(play("free-pelvis", 2, sources=("wrist", "body")))
    back = b.read_files(b.bundle_files(data))
    assert np.allclose(back.uprights, data.uprights)
    assert np.allclose(back.bow, data.bow)


def test_angles_go_to_mot_in_degrees_and_nothing_else_does(data, tmp_path):
    convert(data, tmp_path / "angles.mot")
    lines = (tmp_path / "angles.mot").read_text().splitlines()
    names = lines[lines.index("endheader") + 1].split("\t")
    assert {"time", "pelvis_turn", "thorax_forward_bend", "lead_knee_flexion"} <= set(names)
    assert not {"pelvis_sway", "club_rate", "pelvis_turn_rate"} & set(names)


def test_a_walking_person_is_said_to_have_no_swing():
    stream = marker_stream(WALK.name, WALK.read_bytes(), BayAxes("-y", "+x", "+z"))
    with pytest.raises(NoSwingFound):
        an.analyse(an.CaptureData({MARKERS: stream}))


def test_labels_of_a_real_laboratory_are_suggested():
    table = read_c3d(WALK.name, WALK.read_bytes())
    own = [label for label in table.labels if label not in {m.value for m in Marker}]
    names = suggested_names(own, Hand.RIGHT)
    assert names["LASI"] == "LASIS"
    assert names["CLAV"] == "JN"
    assert names["STRN"] == "XIPH"
    assert (names["LKNE"], names["LKNM"]) == ("LLEK", "LMEK")
    stream = MarkerStream(table.time_s, table.labels, table.points_m, "walk", names=names)
    assert suggest_axes(stream, Hand.RIGHT) == BayAxes("-y", "+x", "+z")


def test_no_label_is_suggested_twice_and_every_marker_has_a_meaning():
    labels = ["LASIS", "RASIS", "anything", "HEEL", "LHEE"]
    for hand in Hand:
        names = suggested_names(labels, hand)
        assert len(set(names.values())) == len(names)
    for marker in Marker:
        assert meaning(file_label(marker, Hand.LEFT))
        assert meaning(marker.value)
    assert suggest("LASI", ["x"], set()) is None
    assert other_names()["RKNE"][0].startswith("R")


def damaged(content, at, value):
    out = bytearray(content)
    out[at : at + len(value)] = value
    return bytes(out)


@pytest.fixture(scope="module")
def whole():
    return c3d_bytes(LABELS, points(), 240.0)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda c: b"not a c3d at all" * 100, "not a C3D file"),
        (lambda c: c[:700], "damaged or cut off|not a C3D file"),
        (lambda c: c[: len(c) // 2], "cut off"),
        (lambda c: damaged(c, 512, bytes(64)), "damaged or cut off"),
        (lambda c: b"", "not a C3D file"),
    ],
)
def test_damaged_c3d_files_are_named_and_explained(whole, change, words):
    with pytest.raises(BundleError, match=words):
        read_c3d("trial.c3d", change(whole))


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (lambda t: "nothing", "TRC"),
        (lambda t: t.replace("\tmm\t", "\tfurlongs\t", 1), "furlongs"),
        (lambda t: t.replace("0.5", "half", 5), "half|number"),
        (lambda t: "\n".join(t.splitlines()[:5]), "cut off"),
    ],
)
def test_damaged_trc_files_are_named_and_explained(edit, words):
    text = trc_text("x.trc", LABELS, np.arange(300) / 240.0, points(), 240.0)
    with pytest.raises(FineArcError, match=words) as error:
        read_trc("trial.trc", edit(text).encode())
    assert "trial.trc" in str(error.value)


def test_an_unknown_ending_is_refused():
    with pytest.raises(BundleError, match="not known for markers"):
        read_points("trial.xyz", b"")


def test_ten_minutes_of_markers_are_read(data):
    """Two frames are too few and ten minutes not too many."""
    one = data.streams[MARKERS]
    n = int(600 * one.rate_hz)
    rows = np.arange(n) % len(one.time_s)
    long = MarkerStream(np.arange(n) / one.rate_hz, one.labels[:12], one.points_m[rows, :12], "long.c3d")
    motion = read_markers(long, Hand.RIGHT)
    assert len(motion.time_s) == n
