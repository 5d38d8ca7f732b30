"""Where a table of numbers goes wrong."""

from __future__ import annotations

from finearc.formats.errors import BundleError
from finearc.wording import tr


def first_bad_cell(content: bytes) -> tuple[int, str]:
    """Row (header = 1) and column of the first cell that is no number; (0, "") when there is none."""
    lines = content.decode("utf-8", "replace").splitlines()
    header = [h.strip().strip('"') for h in lines[0].split(",")] if lines else []
    for number, line in enumerate(lines[1:], 2):
        cells = line.split(",")
        if len(cells) != len(header):
            return number, tr("{cells} cells where the header has {header}", cells=len(cells), header=len(header))
        for name, cell in zip(header, cells, strict=True):
            try:
                float(cell)
            except ValueError:
                return number, name
    return 0, ""


def unreadable(file: str, content: bytes, error: Exception) -> BundleError:
    """What to say of a CSV that a reader gave up on: the first cell that is no number, else the reader's own words."""
    row, column = first_bad_cell(content)
    if row:
        return BundleError(
            file,
            tr("not a number"),
            tr("row {row}, column {column}", row=row, column=column),
            tr("Remove the row or export again"),
        )
    return BundleError(file, tr("not a readable CSV ({splitlines})", splitlines=str(error).splitlines()[0][:120]))
