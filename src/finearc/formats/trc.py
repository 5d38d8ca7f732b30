"""OpenSim TRC (tab-separated marker trajectories): reading and writing."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from finearc.core.typing import Array
from finearc.formats.bounds import MOST_LABELS, MOST_NUMBERS, MOST_ROWS, refuse_many
from finearc.formats.errors import BundleError
from finearc.formats.points import PointTable
from finearc.wording import tr

UNITS_M = {"mm": 0.001, "cm": 0.01, "m": 1.0}


def _number(file: str, text: str, line: int, column: int) -> float:
    if text.strip() == "":
        return float("nan")
    try:
        return float(text)
    except ValueError:
        raise BundleError(
            file,
            tr('"{text_}" is no number', text_=text[:20]),
            tr("line {line}, column {column}", line=line, column=column),
            tr("Export it again"),
        ) from None


def read_trc(file: str, content: bytes) -> PointTable:
    """Points of a TRC file. Raises ``BundleError`` naming the line."""
    try:
        lines = content.decode("utf-8").replace("\r\n", "\n").replace("\r", "\n").split("\n")
    except UnicodeDecodeError:
        raise BundleError(file, tr("not UTF-8 text"), advice=tr("Export the capture as C3D or TRC")) from None
    if not lines or not lines[0].startswith("PathFileType"):
        raise BundleError(file, tr("not a TRC file"), "line 1", tr("Export the capture as C3D or TRC"))
    if len(lines) < 6:
        raise BundleError(file, tr("cut off: no data"), tr("line {lines}", lines=len(lines)), tr("Export it again"))
    head = dict(zip((k.strip() for k in lines[1].split("\t")), (v.strip() for v in lines[2].split("\t")), strict=False))
    unit = head.get("Units", "mm").lower()
    if unit not in UNITS_M:
        raise BundleError(file, tr('points in "{unit}"', unit=unit), tr("line 3, Units"), tr("Export in mm or m"))
    labels = tuple(name.strip() for name in lines[3].split("\t")[2:] if name.strip())
    if not labels:
        raise BundleError(file, tr("names no marker"), "line 4", tr("Export it again"))
    refuse_many(file, "markers", len(labels), MOST_LABELS, "line 4")
    width = 2 + 3 * len(labels)
    refuse_many(file, "frames", len(lines) - 5, MOST_ROWS)
    # cells left out at the end of a line are filled in: not more of them than the file has bytes
    refuse_many(
        file, "cells", width * (len(lines) - 5), min(MOST_NUMBERS, 4 * len(content) + 4 * width), tr("all lines")
    )
    rows = []
    for number, line in enumerate(lines[5:], 6):
        if not line.strip():
            continue
        cells = line.split("\t")[:width]
        if len(cells) < width:
            cells += [""] * (width - len(cells))
        rows.append(np.array([_number(file, c, number, k + 1) for k, c in enumerate(cells)]))
    if not rows:
        raise BundleError(file, "0 frames", "line 6", tr("Capture again"))
    table = np.array(rows)
    said = head.get("NumFrames", "")
    if said.isdigit() and int(said) > len(table):
        raise BundleError(
            file,
            tr("cut off: {table} of {said} frames are there", table=len(table), said=said),
            tr("line {value}", value=len(table) + 6),
            tr("Export it again"),
        )
    time_s = table[:, 1]
    points = table[:, 2:].reshape(len(table), len(labels), 3) * UNITS_M[unit]
    points[(points == 0.0).all(axis=2)] = np.nan
    rate = (len(time_s) - 1) / (time_s[-1] - time_s[0]) if len(time_s) > 1 and time_s[-1] > time_s[0] else 0.0
    return PointTable(time_s, labels, points, rate)


def trc_text(name: str, labels: Sequence[str], time_s: Array, points_m: Array, rate_hz: float) -> str:
    """Points (n, k, 3), m, as millimetres; empty where hidden."""
    n, k, _ = points_m.shape
    rate = f"{rate_hz:.6g}"
    lines = [
        f"PathFileType\t4\t(X/Y/Z)\t{name}",
        "DataRate\tCameraRate\tNumFrames\tNumMarkers\tUnits\tOrigDataRate\tOrigDataStartFrame\tOrigNumFrames",
        f"{rate}\t{rate}\t{n}\t{k}\tmm\t{rate}\t1\t{n}",
        "Frame#\tTime\t" + "\t\t\t".join(labels) + "\t\t",
        "\t\t" + "\t".join(f"X{i}\tY{i}\tZ{i}" for i in range(1, k + 1)),
        "",
    ]
    for row in range(n):
        cells = ["" if v != v else repr(round(1000.0 * float(v), 6)) for v in points_m[row].reshape(-1)]
        lines.append(f"{row + 1}\t{float(time_s[row])!r}\t" + "\t".join(cells))
    return "\n".join(lines) + "\n"
