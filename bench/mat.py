"""The time to analyse one 3 s, 500 Hz, 32 by 56 pressure capture from bytes to findings, beside

(a) a bare read of the same file into an array by the fastest reader of several, and
(b) the other readers, doing nothing more either.

All alternate in one run; the medians and their ratios are printed. ``--profile`` says where our time goes.
"""

from __future__ import annotations

import argparse
import cProfile
import io
import pstats
import statistics
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pandas as pd
import pyarrow as pa
from pyarrow import csv, parquet

from bench.analyze import timed
from finearc.core.sources.ground import MAT
from finearc.core.typing import Floats
from finearc.formats.bundle import MANIFEST, bundle_files, manifest_of, read_files
from finearc.formats.mat_table import BLOCK_BYTES, mat_csv, mat_parquet
from finearc.golfer import bodies as bd
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.judging.analysis import analyse
from finearc.services.modelled import capture_of

Files = dict[str, bytes]


def three_seconds(ending: str) -> Files:
    """One skilled swing on a mat: 1500 frames of 1792 cells, 0.1 kPa steps, as CSV or Parquet."""
    import json

    story = Scenario((bd.with_body(bd.SKILLED),), "bench", mat={"rate_hz": 500.0})
    data = capture_of(play_story(story, 3, sources=("pressure",)))
    mat = data.streams[MAT]
    impact = int(np.searchsorted(mat.time_s, data.swings[0][1] - 1.2))  # type: ignore[index]
    rows = slice(impact - 1100, impact + 400)
    mat = replace(mat, time_s=mat.time_s[rows], pressure_kpa=mat.pressure_kpa[rows])
    data = replace(data.with_stream(MAT, mat), swings=((float(mat.time_s[0]), float(mat.time_s[-1])),))
    manifest = json.loads(json.dumps(manifest_of(data)))
    manifest["streams"][0]["file"] = f"mat.{ending}"
    content = mat_csv(mat, 1) if ending == "csv" else mat_parquet(mat)
    return {
        **bundle_files(data.with_stream(MAT, None)),
        MANIFEST: json.dumps(manifest).encode(),
        f"mat.{ending}": content,
    }


def ours(files: Files) -> None:
    """Bytes to findings."""
    analysis = analyse(read_files(files))
    assert len(analysis.swings) == 1
    assert any(v.metric.id == "peak_trail_share" for v in analysis.swings[0].reading.measured)


def by_numpy(content: bytes) -> Floats:
    return np.loadtxt(io.BytesIO(content), delimiter=",", skiprows=1, dtype=np.float32)


def by_pandas(content: bytes) -> Floats:
    return np.asarray(pd.read_csv(io.BytesIO(content), dtype=np.float32).to_numpy())


def _array(table: pa.Table) -> Floats:
    out = np.empty((table.num_columns, table.num_rows), dtype=np.float32)
    for k, column in enumerate(table.columns):
        at = 0
        for chunk in column.chunks:
            out[k, at : at + len(chunk)] = chunk.to_numpy()
            at += len(chunk)
    return out


def by_arrow(content: bytes) -> Floats:
    names = content[: content.find(b"\n")].decode().split(",")
    options = csv.ConvertOptions(column_types=dict.fromkeys(names, pa.float32()))
    reading = csv.ReadOptions(block_size=BLOCK_BYTES)
    return _array(csv.read_csv(pa.BufferReader(content), read_options=reading, convert_options=options))


def parquet_by_arrow(content: bytes) -> Floats:
    return _array(parquet.read_table(pa.BufferReader(content)))


def parquet_by_pandas(content: bytes) -> Floats:
    return np.asarray(pd.read_parquet(io.BytesIO(content)).to_numpy(dtype=np.float32))


READERS: dict[str, dict[str, Callable[[bytes], Floats]]] = {
    "csv": {"arrow": by_arrow, "pandas": by_pandas, "numpy": by_numpy},
    "parquet": {"arrow": parquet_by_arrow, "pandas": parquet_by_pandas},
}


def run(ending: str, rounds: int) -> None:
    """Medians and ratios for one kind of file."""
    files = three_seconds(ending)
    content = files[f"mat.{ending}"]
    work: dict[str, Callable[[], object]] = {"ours": lambda: ours(files)}
    work |= {name: (lambda read=read: read(content)) for name, read in READERS[ending].items()}  # type: ignore[misc]
    times: dict[str, list[float]] = {name: [] for name in work}
    for call in work.values():
        call()
    for _ in range(rounds):
        for name, call in work.items():
            times[name].append(timed(call))  # type: ignore[arg-type]
    medians = {name: statistics.median(values) for name, values in times.items()}
    fastest = min((n for n in medians if n != "ours"), key=lambda n: medians[n])
    print(f"{ending}, {len(content) / 1e6:.1f} MB")
    for name, value in medians.items():
        print(f"  {name:8} {1000 * value:8.1f} ms")
    print(f"  ours / bare read by {fastest}  {medians['ours'] / medians[fastest]:5.2f}   (goal: at most 2)")


def main() -> None:
    """Print medians and ratios."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--rounds", type=int, default=15)
    parser.add_argument("--profile", action="store_true")
    args = parser.parse_args()
    for ending in READERS:
        run(ending, args.rounds)
    if args.profile:
        files = three_seconds("parquet")
        profile = cProfile.Profile()
        profile.runcall(ours, files)
        pstats.Stats(profile).sort_stats("cumulative").print_stats(40)


if __name__ == "__main__":
    main()
