"""Marker files of a bundle, or alone: read by their ending, labels suggested for files of other laboratories."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from finearc.catalogue.markers import suggest
from finearc.core.frames.handedness import Hand
from finearc.core.markers.labels import Marker, file_label
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.formats.bounds import refuse_beyond_measure
from finearc.formats.c3d_file import read_c3d
from finearc.formats.errors import BundleError
from finearc.formats.points import PointTable
from finearc.formats.trc import read_trc
from finearc.wording import tr


def read_points(file: str, content: bytes) -> PointTable:
    """Points of a C3D or TRC file. Raises ``BundleError``."""
    ending = file.lower().rsplit(".", 1)[-1]
    readers = {"c3d": read_c3d, "trc": read_trc}
    if ending not in readers:
        raise BundleError(
            file, tr('ending ".{ending}" is not known for markers', ending=ending[:20]), advice=tr("Use .c3d or .trc")
        )
    table = readers[ending](file, content)
    refuse_beyond_measure(file, table.points_m, "points")
    return table


def marker_stream(
    file: str,
    content: bytes,
    axes: BayAxes | None = None,
    names: Mapping[str, str] | None = None,
    *,
    offset_s: float = 0.0,
    rate_scale: float = 1.0,
) -> MarkerStream:
    """A marker file with its axes and label mapping, on the capture's clock."""
    table = read_points(file, content)
    return MarkerStream(
        rate_scale * table.time_s + offset_s, table.labels, table.points_m, file, axes or BayAxes(), dict(names or {})
    )


def suggested_names(labels: Sequence[str], hand: Hand) -> dict[str, str]:
    """Our label to the file's, for every marker that the file seems to hold under another name."""
    found: dict[str, str] = {}
    taken: set[str] = set()
    for marker in Marker:
        ours = file_label(marker, hand)
        label = suggest(ours, labels, taken)
        if label is not None:
            found[ours] = label
            taken.add(label)
    return found
