"""The picture of a drill on the page: as the interface draws it, in the page's own colours."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

FOLDER = Path(__file__).parent / "pictures"
"""One file a picture, written by the interface's own drawing code (``web/src/shared/drill``) and compared there."""
COLOURS = {
    "var(--paper)": "#ffffff",
    "var(--ink)": "#1b2126",
    "var(--hairline)": "#d9d4c8",
    "var(--band)": "#e6eaea",
    "var(--sea)": "#1f5468",
    "var(--muted)": "#565b58",
}


@lru_cache(maxsize=64)
def drill_picture(name: str) -> str:
    """The picture as SVG; empty for a drill that has none."""
    file = FOLDER / f"{name}.svg"
    if not name or not file.is_file():
        return ""
    text = file.read_text(encoding="utf-8").strip()
    for name_, colour in COLOURS.items():
        text = text.replace(name_, colour)
    return text
