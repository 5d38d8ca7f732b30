"""Marker files of a bundle: read to see that they are whole. This version keeps them and measures nothing
from them."""

from __future__ import annotations

import tempfile
from pathlib import Path

from finearc.formats.errors import BundleError


def probe_markers(file: str, content: bytes) -> int:
    """Number of frames. Raises ``BundleError`` for a truncated or unreadable file."""
    if file.lower().endswith(".trc"):
        return _probe_trc(file, content)
    if len(content) < 1024 or content[1] != 80:
        raise BundleError(file, "not a C3D file", "first block", "Export the capture as C3D or TRC")
    try:
        import ezc3d

        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "probe.c3d"
            path.write_bytes(content)
            read = ezc3d.c3d(str(path))
        frames = int(read["data"]["points"].shape[2])
        expected = int(read["header"]["points"]["last_frame"]) - int(read["header"]["points"]["first_frame"]) + 1
    except Exception:
        raise BundleError(file, "the C3D is damaged or cut off", advice="Export it again") from None
    if frames < expected:
        raise BundleError(
            file, f"cut off: {frames} of {expected} frames are there", f"frame {frames + 1}", "Export it again"
        )
    if frames == 0:
        raise BundleError(file, "0 frames", advice="Capture again")
    return frames


def _probe_trc(file: str, content: bytes) -> int:
    lines = content.decode("utf-8", "replace").splitlines()
    if not lines or not lines[0].startswith("PathFileType"):
        raise BundleError(file, "not a TRC file", "line 1", "Export the capture as C3D or TRC")
    return max(0, len(lines) - 6)
