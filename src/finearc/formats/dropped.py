"""Files that are dropped on a lesson, as captures: one reader for each kind, by name."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from finearc.core.frames.handedness import Hand
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.sources.ground import PLATES
from finearc.core.sources.kind import Kind
from finearc.core.sources.markers import MARKERS
from finearc.formats.bounds import check_clocks
from finearc.formats.bundle import read_zip
from finearc.formats.errors import BundleError
from finearc.formats.marker_file import read_points
from finearc.formats.plates_c3d import read_plates
from finearc.services.jobs.ports import PlayerRead, Reader
from finearc.services.judging.analysis import CaptureData
from finearc.wording import tr


def read_dropped_bundle(name: str, content: bytes, choices: Mapping[str, Any], player: PlayerRead) -> CaptureData:
    """A zip with capture.json; nothing is chosen for it. Raises ``BundleError``."""
    return read_zip(content, name)


def read_dropped_markers(name: str, content: bytes, choices: Mapping[str, Any], player: PlayerRead) -> CaptureData:
    """A C3D or TRC file with the ``names`` of its markers (ours to the file's), the ``axes`` of its bay and the
    ``club``; of a C3D its force plates too. Raises ``BundleError``."""
    table = read_points(name, content)
    names = {k: v for k, v in choices["names"].items() if v}
    used = list(names.values())
    twice = next((label for label in used if used.count(label) > 1), None)
    if twice is not None:
        raise BundleError(
            name, tr('"{twice}" is chosen for two markers', twice=twice), "labels", tr("Choose each label once")
        )
    markers = MarkerStream(table.time_s, table.labels, table.points_m, name, BayAxes(**choices["axes"]), names)
    streams: dict[Kind, Any] = {MARKERS: markers}
    plates = read_plates(name, content) if name.lower().endswith(".c3d") else None
    if plates is not None:
        streams[PLATES] = plates
    check_clocks(streams)
    return CaptureData(
        streams,
        handedness=Hand(player.handedness),
        height_m=player.height_m,
        population=player.population,
        club=choices["club"],
    )


BUNDLE, MARKER_FILE = "bundle", "markers"
READERS: Mapping[str, Reader] = {BUNDLE: read_dropped_bundle, MARKER_FILE: read_dropped_markers}
