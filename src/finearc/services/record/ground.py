"""The ground of one swing as it is kept and drawn: pictures of the mat, feet, the way of the pressure, what is said."""

from __future__ import annotations

import json
import struct
import zlib
from collections.abc import Mapping
from typing import Any

import numpy as np

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics.definition import Source
from finearc.core.pressure.clean import MatMotion
from finearc.core.pressure.feet import Feet, Foot
from finearc.core.pressure.still import GroundMotion
from finearc.core.sources.ground_view import GroundView
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array
from finearc.services.record.blocks import pack_traces
from finearc.services.record.document import ClockShift, FootPrint, GroundInfo, Instant, PressureAtImpact
from finearc.wording import mark, tr

MAGIC = b"FAM1"
PICTURES_HZ = 100.0
"""Pictures of the mat are kept this often; the way of the pressure as often as it was recorded."""
MARGIN_CELLS = 2
ON_GROUND = frozenset({Source.MAT, Source.PLATES})
NO_CLUB = mark("When it came back against the club: this needs a hand or club sensor, or markers.")
AS_THE_CLUB_S = 0.015
"""Nearer than this, or than its uncertainty, the pressure came back *as* the club turned (house value)."""
EVEN, MIDDLE = (0.45, 0.55), (0.42, 0.60)
"""Lead share called even; heel to toe called the middle of the foot (house values, as the bands at address)."""


def pack_ground(view: GroundView, motion: GroundMotion) -> bytes:
    """``FAM1``, compressed with zlib: length of a JSON header (uint32), the header, the way of the pressure as a trace
    block of its own (its length in the header), then pictures as bytes, x by y, 255 being ``most_kpa``."""
    columns = {"time_s": view.time_s, "x": view.loads.both_m[:, 0], "y": view.loads.both_m[:, 1]}
    for k, side in enumerate(("lead", "trail")):
        columns |= {f"{side}_{axis}": view.loads.feet_m[:, k, a] for a, axis in enumerate("xy")}
    way = pack_traces(columns)
    header: dict[str, Any] = {"way": len(way), "pictures": 0}
    pictures = b""
    if isinstance(motion, MatMotion) and view.feet is not None:
        described, pictures = _pictures(view, motion, view.feet)
        header |= described
    text = json.dumps(header).encode()
    text += b" " * (-len(text) % 4)
    return zlib.compress(MAGIC + struct.pack("<I", len(text)) + text + way + pictures, 6)


def _pictures(view: GroundView, mat: MatMotion, feet: Feet) -> tuple[dict[str, Any], bytes]:
    """What the pictures show and the pictures themselves, cut to both feet."""
    grid = mat.stream.grid
    places = grid.places_m
    shown = np.zeros(grid.cells, dtype=bool)
    for foot in (feet.lead, feet.trail):
        if foot is not None:
            shown |= foot.cells
    x, y = (np.unique(np.round(places[:, k], 6)) for k in (0, 1))
    step_x, step_y = float(np.median(np.diff(x))), float(np.median(np.diff(y)))
    near = places[shown]
    x = x[(x >= near[:, 0].min() - MARGIN_CELLS * step_x) & (x <= near[:, 0].max() + MARGIN_CELLS * step_x)]
    y = y[(y >= near[:, 1].min() - MARGIN_CELLS * step_y) & (y <= near[:, 1].max() + MARGIN_CELLS * step_y)]
    order = _cells_at(places, x, y)
    every = max(1, round(1.0 / PICTURES_HZ / view.loads.step_s))
    rows = np.arange(view.window.start, view.window.stop, every)
    frames = mat.pictures(rows, order, shown)
    most = float(max(frames.max(), 20.0))
    header = {
        "pictures": len(rows),
        "every": every,
        "nx": len(x),
        "ny": len(y),
        "x0": float(x[0]),
        "y0": float(y[0]),
        "dx": step_x,
        "dy": step_y,
        "most_kpa": most,
    }
    return header, np.rint(np.clip(frames / most, 0.0, 1.0) * 255.0).astype(np.uint8).tobytes()


def _cells_at(places: Array, x: Array, y: Array) -> np.ndarray[Any, np.dtype[np.int64]]:
    """Cells of a picture, x by y: from the bay's axes back to the mat's own order."""
    index = {(round(float(a), 6), round(float(b), 6)): k for k, (a, b) in enumerate(places)}
    return np.array([index[round(float(a), 6), round(float(b), 6)] for a in x for b in y], dtype=np.int64)


def ground_info(reading: SwingReading, offset: ClockShift | None) -> GroundInfo | None:
    """What is known about the ground beside its pictures."""
    view = reading.view(GroundView)
    if view is None:
        return None
    feet = view.feet
    moments = view.moments.events if view.moments is not None else {}
    sentence, no_sentence = ("", tr(NO_CLUB)) if _alone(reading) else said(reading.events, moments)
    return GroundInfo(
        view.source.value,
        tuple(_foot(side, foot) for side, foot in _sides(feet)),
        None if feet is None else round(feet.split_m, 4),
        feet is not None and feet.by_hand,
        {k: Instant(round(e.time_s, 4), round(e.uncertainty_s, 4)) for k, e in moments.items()},
        sentence,
        no_sentence,
        real(reading),
        offset,
        _alone(reading),
    )


def _alone(reading: SwingReading) -> bool:
    """Whether the ground is all that was recorded: then nothing is said against the club, whatever was marked by
    hand."""
    return set(reading.present) <= ON_GROUND


def _sides(feet: Feet | None) -> list[tuple[str, Foot]]:
    if feet is None:
        return []
    return [(side, foot) for side, foot in (("lead", feet.lead), ("trail", feet.trail)) if foot is not None]


def _foot(side: str, foot: Foot) -> FootPrint:
    def place(at: Array) -> tuple[float, float]:
        return round(float(at[0]), 4), round(float(at[1]), 4)

    return FootPrint(side, place(foot.heel_m), place(foot.toe_m), round(foot.width_m, 4), foot.partly_off)


TURNERS = (
    (("club", "marker-club", "hands"), mark("the club turned")),
    (("hand", "forearm", "marker-forearm"), mark("the hands turned")),
    (("upper", "pelvis", "marker-upper", "marker-pelvis"), mark("the upper body turned")),
)
"""What turned at the top, by how the top was found."""


def said(events: Mapping[Checkpoint, Event], moments: Mapping[str, Event]) -> tuple[str, str]:
    """When the pressure came back, against what turned at the top, in one plain sentence; or, second, why it cannot be
    said. A mat alone does not see the club: then there is no such sentence."""
    top, back = events.get(Checkpoint.TOP), moments.get("return")
    if top is None:
        return "", tr(NO_CLUB)
    if back is None:
        return "", tr("The pressure did not come back from the trail foot.")
    turned = tr("the club turned")
    if top.method != "instructor":
        turned = next((words for starts, words in TURNERS if top.method.startswith(starts)), turned)
    apart = back.time_s - top.time_s
    if abs(apart) < max(AS_THE_CLUB_S, float(np.hypot(back.uncertainty_s, top.uncertainty_s))):
        return tr("The pressure came back as {turned}.", turned=turned), ""
    way = tr("after") if apart > 0 else tr("before")
    return tr("The pressure came back {apart:.2f}\xa0s {way} {turned}.", apart=abs(apart), way=way, turned=turned), ""


def real(reading: SwingReading) -> PressureAtImpact | None:
    """Where the pressure was at impact, in the words a player is asked in; None when it is not known."""
    at = {v.metric.id: v.value for v in reading.measured if v.moment.key == Checkpoint.IMPACT}
    share = at.get("lead_share")
    if share is None:
        return None
    feet = [(at["lead_heel_toe"], share)] if "lead_heel_toe" in at else []
    if "trail_heel_toe" in at:
        feet.append((at["trail_heel_toe"], 1.0 - share))
    weight = sum(w for _, w in feet)
    along = sum(v * w for v, w in feet) / weight if weight > 0 else None
    return PressureAtImpact(
        "lead" if share > EVEN[1] else "trail" if share < EVEN[0] else "even",
        None if along is None else "toes" if along > MIDDLE[1] else "heels" if along < MIDDLE[0] else "middle",
        round(100.0 * share, 1),
        None if along is None else round(100.0 * along, 1),
    )
