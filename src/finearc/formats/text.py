"""Where a table of numbers goes wrong."""

from __future__ import annotations


def first_bad_cell(content: bytes) -> tuple[int, str]:
    """Row (header = 1) and column of the first cell that is no number; (0, "") when there is none."""
    lines = content.decode("utf-8", "replace").splitlines()
    header = [h.strip().strip('"') for h in lines[0].split(",")] if lines else []
    for number, line in enumerate(lines[1:], 2):
        cells = line.split(",")
        if len(cells) != len(header):
            return number, f"{len(cells)} cells where the header has {len(header)}"
        for name, cell in zip(header, cells, strict=True):
            try:
                float(cell)
            except ValueError:
                return number, name
    return 0, ""
