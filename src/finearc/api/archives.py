"""Archives as they are sent: written to a file first, so that however much is in one, little of it is in memory."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from typing import IO

from fastapi.responses import StreamingResponse

IN_MEMORY = 16_000_000
PIECE = 1 << 20


def archive_response(write: Callable[[IO[bytes]], None], name: str) -> StreamingResponse:
    """A zip that ``write`` makes."""
    file = tempfile.SpooledTemporaryFile(IN_MEMORY)  # noqa: SIM115 - it is closed when it was sent
    try:
        write(file)
    except BaseException:
        file.close()
        raise
    size = file.tell()
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Content-Length": str(size)}
    return StreamingResponse(_pieces(file), media_type="application/zip", headers=headers)


def _pieces(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        file.seek(0)
        while piece := file.read(PIECE):
            yield piece
