"""Ranges, findings and drills as TOML, ranges as CSV too: out and in again."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import tomli_w

from finearc.catalogue import library, schemas
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.toml_file import DataFileError, read_toml
from finearc.formats.tables import csv_table
from finearc.wording import tr

MOST_RANGES = 2000
COLUMNS = tuple(schemas.RangeEntry.model_fields)
NUMBERS = (
    "low", "high", "soft_low", "soft_high", "low_offset", "high_offset", "low_share", "scale", "least_m", "most_m",
    "swings", "players",
)  # fmt: skip
FLAGS = ("own_best", "synthetic")


def ranges_toml(ranges: RangeLibrary) -> str:
    """A version as a TOML file that imports again."""
    return tomli_w.dumps({"version": ranges.version, "range": [_written(e) for e in ranges.entries]})


def academy_rules_toml(own: schemas.AcademyRulesFile) -> str:
    """An academy's own findings and drills as a TOML file that imports again."""
    return tomli_w.dumps(
        {"finding": [_written(f) for f in own.finding], "drill": [_written(d) for d in own.drill]},
        multiline_strings=True,
    )


def _written(entry: schemas.Strict) -> dict[str, Any]:
    return entry.model_dump(mode="json", exclude_defaults=True)


def ranges_csv(ranges: RangeLibrary) -> str:
    """A version as a table, one range a row; the school as ``axis=option``."""
    return csv_table(COLUMNS, [_row(e) for e in ranges.entries])


def _row(entry: schemas.RangeEntry) -> list[object]:
    values = entry.model_dump(mode="json")
    school = values["school"]
    values["school"] = "" if not school else "=".join(next(iter(school.items())))
    return ["" if values[c] is None else values[c] for c in COLUMNS]


def read_ranges(content: bytes, name: str) -> RangeLibrary:
    """A version from a TOML or, by its ending, CSV file. Raises ``DataFileError`` with file and line."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise DataFileError(name, tr("not a text file in UTF-8; export it again")) from None
    if name.lower().endswith(".csv"):
        return _from_csv(text, name)
    return library.ranges_of_text(text, name)


def check_ranges(name: str, content: bytes) -> None:
    """Raises ``DataFileError`` when ``read_ranges`` does."""
    read_ranges(content, name)


def check_own(name: str, content: bytes) -> None:
    """A file of own findings and drills is TOML of that shape. Raises ``DataFileError``."""
    read_toml(content.decode("utf-8-sig"), name, schemas.AcademyRulesFile)


def _from_csv(text: str, name: str) -> RangeLibrary:
    reader = csv.DictReader(io.StringIO(text))
    header = reader.fieldnames or []
    unknown = [h for h in header if h not in COLUMNS]
    if unknown or not {"id", "metric", "event", "provenance"} <= set(header):
        problem = (
            tr('unknown column "{unknown}"', unknown=unknown[0])
            if unknown
            else tr("needs the columns id, metric, event and provenance")
        )
        raise DataFileError(name, tr("{problem}; known: {columns}", problem=problem, columns=", ".join(COLUMNS)), 1)
    entries: list[schemas.RangeEntry] = []
    for row in _rows(reader, name):
        line = reader.line_num
        if len(entries) >= MOST_RANGES:
            raise DataFileError(name, tr("more than {most_ranges} ranges", most_ranges=MOST_RANGES), line)
        entries.append(_entry(row, name, line))
        try:  # what is wrong with one row is said with its line
            library.range_library(schemas.RangeFile(version=name, range=entries[-1:]), name)
        except DataFileError as error:
            raise DataFileError(name, error.problem, line) from None
    return library.range_library(_file(entries, name), name)


def _rows(reader: csv.DictReader[str], name: str) -> Iterator[dict[str, Any]]:
    try:
        yield from reader
    except csv.Error as error:
        raise DataFileError(name, tr("not a readable table ({error})", error=error), reader.line_num) from None


def _file(entries: Sequence[schemas.RangeEntry], name: str) -> schemas.RangeFile:
    ids = [e.id for e in entries]
    twice = next((i for i in ids if ids.count(i) > 1), None)
    if twice is not None:
        raise DataFileError(
            name, tr("range {twice} stands twice", twice=twice), 2 + ids.index(twice, ids.index(twice) + 1)
        )
    return schemas.RangeFile(version=name.rsplit(".", 1)[0][:80] or "imported", range=list(entries))


def _entry(row: Mapping[str, Any], name: str, line: int) -> schemas.RangeEntry:
    if None in row or None in row.values():
        raise DataFileError(name, tr("as many cells as the header has are needed"), line)
    values: dict[str, Any] = {}
    for column, cell in row.items():
        text = cell.strip()
        if text.startswith("'"):
            text = text[1:]
        if text == "":
            continue
        if column in NUMBERS:
            values[column] = _number(text, column, name, line)
        elif column in FLAGS:
            values[column] = text.lower() in ("true", "1", "yes")
        elif column == "school":
            axis, _, option = text.partition("=")
            values[column] = {axis: option}
        else:
            values[column] = text
    try:
        return library.entry_of(values, name)
    except DataFileError as error:
        raise DataFileError(name, error.problem, line) from None


def _number(text: str, column: str, name: str, line: int) -> float | int:
    try:
        return int(text) if column in ("swings", "players") else float(text)
    except ValueError:
        raise DataFileError(name, tr('{column}: "{text_}" is no number', column=column, text_=text), line) from None
