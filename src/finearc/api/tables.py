"""Tables and rules that go out and come in as files."""

from __future__ import annotations

from fastapi import UploadFile
from fastapi.responses import Response

from finearc.catalogue.toml_file import DataFileError
from finearc.wording import tr

MAX_TABLE = 2_000_000
LARGEST_TABLE = MAX_TABLE + 10_000
"""Bytes of a request with a file of that size and what is said beside it."""


def read_table(file: UploadFile) -> bytes:
    """The content of an uploaded file. Raises ``DataFileError`` when it is too large."""
    content = file.file.read(MAX_TABLE + 1)
    if len(content) > MAX_TABLE:
        raise DataFileError(file.filename or "file", tr("larger than {value:.0f} MB", value=MAX_TABLE / 1000000.0))
    return content


def download(text: str, kind: str, name: str) -> Response:
    """A text to be saved under a name."""
    return Response(text, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
