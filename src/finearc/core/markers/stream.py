"""A marker capture as read, and the way from the laboratory's axes to the bay."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from finearc.core.errors import StreamError
from finearc.core.frames.handedness import Hand
from finearc.core.markers.labels import Marker, file_label
from finearc.core.typing import Array
from finearc.wording import tr

AXES = {
    "+x": (1, 0, 0),
    "-x": (-1, 0, 0),
    "+y": (0, 1, 0),
    "-y": (0, -1, 0),
    "+z": (0, 0, 1),
    "-z": (0, 0, -1),
}
MIN_FRAMES = 10
RATES_HZ = (90.0, 1000.0)
PELVIS_WIDTH_M = (0.12, 0.45)
BODY_SIZE_M = (0.4, 4.0)
"""What a file must keep within to be a person's: frames, rate, width of the pelvis, size (house values)."""


@dataclass(frozen=True)
class BayAxes:
    """Along which axes of the file the true directions of ball, target and up lie."""

    ball: str = "+x"
    target: str = "+y"
    up: str = "+z"


@dataclass(frozen=True)
class MarkerStream:
    """Points as recorded: ``time_s`` (n,) on the capture's clock, the file's ``labels`` (k,), ``points_m`` (n, k, 3)
    in the laboratory's axes, not a number where a marker was not seen. ``names``: our label to the file's."""

    time_s: Array
    labels: tuple[str, ...]
    points_m: Array
    source: str
    axes: BayAxes = BayAxes()
    names: Mapping[str, str] = field(default_factory=dict)

    @property
    def rate_hz(self) -> float:
        return float((len(self.time_s) - 1) / (self.time_s[-1] - self.time_s[0]))


def bay_from_lab(axes: BayAxes, hand: Hand, source: str) -> Array:
    """Matrix (3, 3) from laboratory to bay axes; for a left-hander it mirrors. Its determinant is +1 for a
    right-hander, -1 for a left-hander. Raises ``StreamError`` otherwise."""
    rows = []
    for name, axis in (("ball", axes.ball), ("target", axes.target), ("up", axes.up)):
        if axis not in AXES:
            raise StreamError(
                source,
                tr('"{axis}" is no axis', axis=axis),
                f"bay_axes.{name}",
                tr("Use one of {axes}", axes=", ".join(AXES)),
            )
        rows.append(AXES[axis])
    matrix = np.array(rows, dtype=float)
    determinant = round(float(np.linalg.det(matrix)))
    wanted = 1 if hand is Hand.RIGHT else -1
    if determinant != wanted:
        kind = (
            tr("two of them lie on one axis")
            if determinant == 0
            else tr("they are those of a {other}-hander", other=_other(hand))
        )
        raise StreamError(
            source,
            tr(
                "axes or hand wrong: ball {ball}, target {target}, up {up} and a {value}-handed player do not fit, "
                "{kind}",
                ball=axes.ball,
                target=axes.target,
                up=axes.up,
                value=hand.value,
                kind=kind,
            ),
            "bay_axes",
            tr("Name the true directions of ball, target and up, or correct the player's hand"),
        )
    return matrix


def _other(hand: Hand) -> str:
    return Hand.LEFT.value if hand is Hand.RIGHT else Hand.RIGHT.value


def check_stream(stream: MarkerStream) -> None:
    """Refuse what cannot be measured. Raises ``StreamError`` saying what, where and what to do."""
    n = len(stream.time_s)
    if n < MIN_FRAMES:
        raise StreamError(
            stream.source,
            tr("{n} frames, at least {min_frames} are needed", n=n, min_frames=MIN_FRAMES),
            advice=tr("Export the whole capture"),
        )
    twice = sorted({name for name in stream.labels if stream.labels.count(name) > 1})
    if twice:
        raise StreamError(
            stream.source,
            tr('two markers are called "{twice}"', twice=twice[0]),
            "labels",
            tr("Rename one of them and export again"),
        )
    if (np.diff(stream.time_s) <= 0).any():
        row = int(np.argmax(np.diff(stream.time_s) <= 0)) + 2
        raise StreamError(
            stream.source,
            tr("time stands still or goes back"),
            tr("frame {row}", row=row),
            tr("Export the capture again"),
        )
    if not RATES_HZ[0] <= stream.rate_hz <= RATES_HZ[1]:
        raise StreamError(
            stream.source,
            tr(
                "{rate_hz:.0f} frames a second, {rates_hz:.0f} to {rates_hz2:.0f} are expected",
                rate_hz=stream.rate_hz,
                rates_hz=RATES_HZ[0],
                rates_hz2=RATES_HZ[1],
            ),
            advice=tr("Check the file's frame rate"),
        )


def _plain(label: str) -> str:
    return label.split(":")[-1].strip().upper()


def resolve(stream: MarkerStream, hand: Hand) -> dict[Marker, int]:
    """Which column of the file holds which marker. Raises ``StreamError`` for a mapping to a label that is not
    there. Labels match whatever their case and subject prefix (``name:LASI``)."""
    exact = {label: k for k, label in enumerate(stream.labels)}
    loose: dict[str, int] = {}
    for k, label in enumerate(stream.labels):
        loose.setdefault(_plain(label), k)
    found: dict[Marker, int] = {}
    for marker in Marker:
        ours = file_label(marker, hand)
        named = stream.names.get(ours)
        if named is not None:
            column = exact.get(named, loose.get(_plain(named)))
            if column is None:
                raise StreamError(
                    stream.source,
                    tr('no marker is called "{named}"', named=named),
                    f"labels.{ours}",
                    tr("Correct the label mapping"),
                )
            found[marker] = column
        elif ours in exact or ours in loose:
            found[marker] = exact.get(ours, loose.get(ours, -1))
    columns: dict[int, Marker] = {}
    for marker, column in found.items():
        if column in columns:
            one, two = file_label(columns[column], hand), file_label(marker, hand)
            raise StreamError(
                stream.source,
                tr('"{labels}" is named for both {one_} and {two}', labels=stream.labels[column], one_=one, two=two),
                "labels",
                tr("Give each marker a label of its own"),
            )
        columns[column] = marker
    return found


def check_size(points: Mapping[Marker, Array], source: str) -> None:
    """A pelvis is 12 to 45 cm wide; a player 0.4 to 4 m large. Else the unit is wrong."""
    if not points:
        return  # only the club is seen, and clubs are of any size
    lead, trail = points.get(Marker.LEAD_ASIS), points.get(Marker.TRAIL_ASIS)
    if lead is not None and trail is not None:
        size, what, bounds = float(np.nanmedian(np.linalg.norm(lead - trail, axis=1))), "pelvis", PELVIS_WIDTH_M
    else:
        middle = np.array([np.nanmedian(p, axis=0) for p in points.values()])
        size, what, bounds = float(np.ptp(middle, axis=0).max()), tr("set of markers"), BODY_SIZE_M
    if not np.isfinite(size) or bounds[0] <= size <= bounds[1]:
        return
    guess = tr(" (metres called millimetres?)") if size < bounds[0] else tr(" (millimetres called metres?)")
    raise StreamError(
        source,
        tr(
            "the {what} would be {size:.3g} m wide, so the unit of length is wrong{guess}",
            what=what,
            size=size,
            guess=guess,
        ),
        tr("unit of the points"),
        tr("Correct the unit in the file, or export again"),
    )


def check_mirrored(points: Mapping[Marker, Array], source: str) -> None:
    """Front, lead side and up of the pelvis must be right-handed in bay axes; else the laboratory's axes, the hand
    or the sides of the labels are mirrored. Raises ``StreamError``."""
    names = (Marker.LEAD_ASIS, Marker.TRAIL_ASIS, Marker.LEAD_PSIS, Marker.TRAIL_PSIS)
    if any(m not in points for m in names):
        return
    a, b, c, d = (points[m] for m in names)
    lead = (a + c) - (b + d)
    ahead = (a + b) - (c + d)
    upward = np.nanmedian(np.cross(ahead, lead)[:, 2])
    if np.isfinite(upward) and upward < 0:
        raise StreamError(
            source,
            tr(
                "seen from above, the front and the left side of the pelvis lie the wrong way round: the bay's axes, "
                "the player's hand or the sides of the labels are mirrored"
            ),
            "bay_axes",
            tr("Check the directions of ball, target and up, the hand, and that L and R are the player's own sides"),
        )
