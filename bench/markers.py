"""The time to analyse one 3 s, 240 Hz, 40-marker C3D from bytes to findings, beside

(a) the floor: the fastest C3D library reading the file alone, plus one plain NumPy pass over its points, and
(b) general-purpose peers: ezc3d, pandas spline filling, SciPy filters and rotations, without checkpoints or findings.

All alternate in one run; the medians and their ratios are printed. ``--profile`` says where our time goes.
"""

from __future__ import annotations

import argparse
import cProfile
import io
import pstats
import statistics
import tempfile
from pathlib import Path

import c3d
import ezc3d
import numpy as np
import pandas as pd
from scipy.signal import butter, filtfilt
from scipy.spatial.transform import Rotation
from validation.body import skilled

from bench.analyze import timed
from finearc.core.sources.markers import MARKERS
from finearc.formats.c3d_file import c3d_bytes
from finearc.formats.marker_file import marker_stream
from finearc.services.judging.analysis import CaptureData, analyse
from finearc.services.modelled import capture_of

LABELS = 40


def three_seconds() -> bytes:
    """One skilled swing: 720 frames of 40 markers, 0.3 mm of noise, a quarter of them with short gaps."""
    data = capture_of(skilled(3, ("markers",), swings=1))
    markers = data.streams[MARKERS]
    assert markers is not None
    impact = int(np.searchsorted(markers.time_s, data.swings[0][1] - 1.0))  # type: ignore[index]
    rows = slice(impact - 520, impact + 200)
    keep = [k for k, label in enumerate(markers.labels) if label != "RFIN"][:LABELS]
    return c3d_bytes([markers.labels[k] for k in keep], markers.points_m[rows][:, keep], markers.rate_hz)


def ours(content: bytes) -> None:
    """Bytes to findings."""
    analysis = analyse(CaptureData({MARKERS: marker_stream("trial.c3d", content)}))
    assert len(analysis.swings) == 1


def numpy_pass(points: np.ndarray) -> None:
    """A plain pass over the points: mean, spread and speed of each."""
    np.nanmean(points, axis=0)
    np.nanstd(points, axis=0)
    np.linalg.norm(np.diff(points, axis=0), axis=2).max(axis=0)


def floor_ezc3d(path: Path) -> None:
    """The C++ library."""
    numpy_pass(np.ascontiguousarray(ezc3d.c3d(str(path))["data"]["points"][:3].transpose(2, 1, 0)))


def floor_c3d(content: bytes) -> None:
    """The pure-Python library, as it is meant to be used."""
    reader = c3d.Reader(io.BytesIO(content))
    numpy_pass(np.array([points[:, :3] for _, points, _ in reader.read_frames(copy=False)]))


def peers(path: Path) -> None:
    """Splines of a table library over the gaps, two-way filters, rotations and their angles."""
    file = ezc3d.c3d(str(path))
    labels = file["parameters"]["POINT"]["LABELS"]["value"]
    points = file["data"]["points"][:3].transpose(2, 1, 0) / 1000.0
    flat = pd.DataFrame(points.reshape(len(points), -1)).interpolate("cubicspline", limit=24, limit_direction="both")
    b, a = butter(2, 18.0 / 0.802, fs=240.0)
    smooth = filtfilt(b, a, np.nan_to_num(flat.to_numpy()), axis=0).reshape(points.shape)
    at = {label: smooth[:, k] for k, label in enumerate(labels)}
    for lead, trail, front, back in (
        ("LASI", "RASI", ("LASI", "RASI"), ("LPSI", "RPSI")),
        ("LSHO", "RSHO", ("CLAV",), ("C7",)),
    ):
        y = at[lead] - at[trail]
        x = sum(at[k] for k in front) / len(front) - sum(at[k] for k in back) / len(back)
        z = np.cross(x, y)
        axes = np.stack([np.cross(y, z), y, z], axis=2)
        axes /= np.linalg.norm(axes, axis=1, keepdims=True)
        angles = Rotation.from_matrix(axes).as_euler("ZXY")
        np.gradient(np.unwrap(angles, axis=0), 1 / 240.0, axis=0)


def main() -> None:
    """Print medians and ratios."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--rounds", type=int, default=15)
    parser.add_argument("--profile", action="store_true")
    args = parser.parse_args()
    content = three_seconds()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "trial.c3d"
        path.write_bytes(content)
        works = {
            "ours, bytes to findings": lambda: ours(content),
            "floor, ezc3d and a pass": lambda: floor_ezc3d(path),
            "floor, c3d and a pass": lambda: floor_c3d(content),
            "peers, no findings": lambda: peers(path),
        }
        for work in works.values():
            work()
        if args.profile:
            profile = cProfile.Profile()
            profile.runcall(ours, content)
            pstats.Stats(profile).sort_stats("cumulative").print_stats(35)
            return
        times: dict[str, list[float]] = {name: [] for name in works}
        for _ in range(args.rounds):
            for name, work in works.items():
                times[name].append(timed(work))
    medians = {name: statistics.median(values) for name, values in times.items()}
    floor = min(v for name, v in medians.items() if name.startswith("floor"))
    for name, median in medians.items():
        print(f"{name:28s} {1000 * median:8.1f} ms   {median / floor:5.2f} x the faster floor")


if __name__ == "__main__":
    main()
