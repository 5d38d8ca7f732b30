"""The time to analyse one 60 s, five-swing bundle from bytes to findings, beside

(a) the floor: the fastest CSV reader on the same files plus one filter pass a sensor, and
(b) the same steps from general-purpose peers: pandas, a pure-Python filter, per-frame SciPy rotations.

All three alternate in one run; the medians and their ratios are printed. ``--profile`` says where our time goes.
"""

from __future__ import annotations

import argparse
import cProfile
import io
import pstats
import statistics
import time
from collections.abc import Callable

import numpy as np
import pandas as pd
import pyarrow as pa
from pyarrow import csv
from scipy.signal import savgol_filter
from scipy.spatial.transform import Rotation
from validation.simulated import session
from vqf import PyVQF, offlineVQF

from finearc.formats.bundle import bundle_files, read_files
from finearc.golfer.sensors import SensorQuirks
from finearc.services.judging.analysis import analyse
from finearc.services.modelled import capture_of

Files = dict[str, bytes]


def sixty_seconds() -> Files:
    """The bundle's files: wrist pair, 200 Hz, five swings in 60 s."""
    return bundle_files(capture_of(session(3, between_s=12.5, quirks=SensorQuirks())))


def ours(files: Files) -> None:
    """Bytes to findings."""
    analysis = analyse(read_files(files))
    assert len(analysis.swings) == 5


def floor(files: Files) -> None:
    """Read the logs with the fastest reader, one offline filter pass each, nothing more."""
    for name in ("lead_forearm.csv", "lead_hand.csv"):
        table = csv.read_csv(pa.BufferReader(files[name]))
        columns = [table.column(k).to_numpy() for k in range(7)]
        acc, gyr = np.column_stack(columns[1:4]), np.column_stack(columns[4:7])
        offlineVQF(gyr, acc, None, 0.005)


def peers(files: Files) -> None:
    """pandas, a pure-Python filter, SciPy rotations frame by frame, then angles and rates of the whole session."""
    tables = [pd.read_csv(io.BytesIO(files[name])) for name in ("lead_forearm.csv", "lead_hand.csv")]
    orientations = []
    for table in tables:
        gyr = np.ascontiguousarray(table[["gyr_x", "gyr_y", "gyr_z"]].to_numpy())
        acc = np.ascontiguousarray(table[["acc_x", "acc_y", "acc_z"]].to_numpy())
        orientations.append(PyVQF(0.005).updateBatch(gyr, acc)["quat6D"])
    angles = []
    for forearm, hand in zip(*orientations, strict=True):
        relative = Rotation.from_quat(forearm[[1, 2, 3, 0]]).inv() * Rotation.from_quat(hand[[1, 2, 3, 0]])
        angles.append(relative.as_euler("ZYX"))
    savgol_filter(np.array(angles), 9, 3, deriv=1, delta=0.005, axis=0)


def timed(work: Callable[[], None]) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def main() -> None:
    """Print medians and ratios."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--rounds", type=int, default=15)
    parser.add_argument("--profile", action="store_true")
    args = parser.parse_args()
    files = sixty_seconds()
    work = {"ours": lambda: ours(files), "floor": lambda: floor(files)}
    times: dict[str, list[float]] = {name: [] for name in work}
    for call in work.values():
        call()
    for _ in range(args.rounds):
        for name, call in work.items():
            times[name].append(timed(call))
    times["peers"] = [timed(lambda: peers(files)) for _ in range(2)]
    medians = {name: statistics.median(values) for name, values in times.items()}
    for name, value in medians.items():
        print(f"{name:6} {1000 * value:9.1f} ms")
    print(f"ours / floor  {medians['ours'] / medians['floor']:5.2f}   (goal: at most 3)")
    print(f"peers / ours  {medians['peers'] / medians['ours']:5.1f}   (goal: at least 40)")
    if args.profile:
        profile = cProfile.Profile()
        profile.runcall(ours, files)
        pstats.Stats(profile).sort_stats("cumulative").print_stats(45)


if __name__ == "__main__":
    main()
