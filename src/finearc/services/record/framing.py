"""How a document that is kept of a swing lies in bytes.

Four letters that say what it is, the length of its head (uint32), the head as JSON, and one table of numbers
(``table``). The head is checked against its dataclass by Pydantic when it is read; a version this application does not
know is refused."""

from __future__ import annotations

import struct
from dataclasses import dataclass
from typing import Any

from pydantic import TypeAdapter, ValidationError

from finearc.core.errors import FineArcError
from finearc.services.record.document import RECORD_VERSION
from finearc.wording import tr


@dataclass
class UnknownDocument(FineArcError):
    """Bytes that are no document of a known version."""

    problem: str
    code = "unknown_document"

    def __str__(self) -> str:
        return tr(
            "A stored swing cannot be read: {problem}. Update Fine Arc, or restore a backup.", problem=self.problem
        )


def document(magic: bytes, head: bytes, table: bytes) -> bytes:
    """Head (JSON) and table as one."""
    return magic + struct.pack("<I", len(head)) + head + table


def parts(magic: bytes, block: bytes) -> tuple[bytes, bytes]:
    """Its head (JSON) and its table. Raises ``UnknownDocument``."""
    if block[:4] != magic:
        raise UnknownDocument(tr("it begins with {block!r} where {magic!r} was expected", block=block[:4], magic=magic))
    size = int.from_bytes(block[4:8], "little")
    if len(block) < 8 + size:
        raise UnknownDocument(tr("it ends after {block} bytes, in the middle of its head", block=len(block)))
    return block[8 : 8 + size], block[8 + size :]


def read_head(adapter: TypeAdapter[Any], text: bytes) -> Any:
    """A head from its JSON. Raises ``UnknownDocument``."""
    try:
        head = adapter.validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "document"
        raise UnknownDocument(f"{where}: {first['msg']}") from None
    if head.version != RECORD_VERSION:
        raise UnknownDocument(
            tr(
                "its version is {version}, this is {record_version}",
                version=head.version,
                record_version=RECORD_VERSION,
            )
        )
    return head
