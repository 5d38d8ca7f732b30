"""Reads a TOML data file into its shape; whatever is wrong is said with file and line."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ValidationError
from pydantic_core import ErrorDetails

from finearc.core.errors import FineArcError

Shape = TypeVar("Shape", bound=BaseModel)
MOST_PARTS, MOST_BRACKETS = 12, 200
TABLE = re.compile(r"^\s*\[\[?\s*([A-Za-z0-9_.\-]+)\s*\]?\]")
KEY = re.compile(r'^\s*"?([A-Za-z0-9_\-]+)"?\s*=')


@dataclass
class DataFileError(FineArcError):
    """A data file (ranges, findings, …) is not as it should be. ``line`` counts from 1; 0 when unknown."""

    file: str
    problem: str
    line: int = 0
    code = "data_file"

    def __str__(self) -> str:
        return f"{self.file}{f', line {self.line}' if self.line else ''}: {self.problem}"


def read_toml(text: str, name: str, shape: type[Shape]) -> Shape:
    """The file's content in its shape. Raises ``DataFileError``."""
    _refuse_deep(text, name)
    try:
        return shape.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        found = re.search(r"line (\d+)", str(error))
        raise DataFileError(name, f"not valid TOML: {error}", int(found[1]) if found else 0) from None
    except (RecursionError, ValueError) as error:
        if isinstance(error, ValidationError):
            first = error.errors()[0]
            raise DataFileError(name, _problem(error), line_of(text, first["loc"], _named(first))) from None
        raise DataFileError(name, "nested too deep, or a number of more digits than any has") from None


def _refuse_deep(text: str, name: str) -> None:
    """Keys of many parts and brackets in brackets cost time out of all proportion to their length."""
    for number, line in enumerate(text.splitlines(), 1):
        key, is_set, _ = line.partition("=")
        if (is_set or key.lstrip().startswith("[")) and key.count(".") > MOST_PARTS:
            raise DataFileError(name, f"a key of more than {MOST_PARTS} parts", number)
        if line.count("[") + line.count("{") > MOST_BRACKETS:
            raise DataFileError(name, f"more than {MOST_BRACKETS} brackets in one line", number)


def read_dict(content: Mapping[str, object], name: str, shape: type[Shape]) -> Shape:
    """The same for content that did not come as a file. Raises ``DataFileError``."""
    try:
        return shape.model_validate(content)
    except ValidationError as error:
        raise DataFileError(name, _problem(error)) from None


def _problem(error: ValidationError) -> str:
    first = error.errors()[0]
    where = ".".join(str(p) for p in first["loc"]) or "file"
    return f"{where}: {first['msg'].removeprefix('Value error, ')}"


def read_file(path: Path, shape: type[Shape]) -> Shape:
    """The same for a file on disk."""
    try:
        text = path.read_text(encoding="utf-8")
    except FileNotFoundError:
        raise DataFileError(str(path), "no such file") from None
    except UnicodeDecodeError as error:
        raise DataFileError(path.name, f"not a text file in UTF-8: {error}") from None
    return read_toml(text, path.name, shape)


def line_of(text: str, place: Sequence[int | str], named: Sequence[str] = ()) -> int:
    """The line (from 1) of a place such as ``("finding", 3, "when", …)``: of its key where that can be found, else of
    its table. ``named``: keys that the problem speaks of, where a table was refused whole."""
    names = [str(p) for p in place if isinstance(p, str)]
    if not names:
        return 0
    index = next((p for p in place if isinstance(p, int)), 0)
    lines = text.splitlines()
    starts = [k for k, line in enumerate(lines) if (t := TABLE.match(line)) and t[1] == names[0]]
    if not starts:
        return next((k + 1 for k, line in enumerate(lines) if (m := KEY.match(line)) and m[1] == names[0]), 0)
    start = starts[min(index, len(starts) - 1)]
    others = [k for k in starts if k > start]
    end = others[0] if others else len(lines)
    wanted = [*reversed(names[1:]), *named]
    for name in wanted:
        for k in range(start, end):
            if re.search(rf'(^|[\s{{,])"?{re.escape(name)}"?\s*=', lines[k]):
                return k + 1
    return start + 1


def _named(error: ErrorDetails) -> list[str]:
    """The keys of a refused table that its message speaks of, in the message's order."""
    given = error.get("input")
    if not isinstance(given, dict):
        return []
    words = re.findall(r"[A-Za-z0-9_\-]+", error["msg"])
    return sorted((str(k) for k in given if str(k) in words), key=words.index)


def entry_line(text: str, table: str, name: str) -> int:
    """The line of the entry ``id = "name"`` of a table; 0 when it is not there."""
    for k, line in enumerate(text.splitlines()):
        if re.match(rf'\s*id\s*=\s*"{re.escape(name)}"', line):
            return k + 1
    return 0
