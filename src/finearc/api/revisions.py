"""Which revision of a record a request is about."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Header

DESCRIPTION = 'The "revision" that was seen (If-Match of RFC 9110), or * to save on top of anything'


async def seen_revision(
    if_match: Annotated[str | None, Header(description=DESCRIPTION, max_length=80)] = None,
) -> str | None:
    """The revision of the header, without what HTTP puts around it."""
    return None if if_match is None else if_match.strip().removeprefix("W/").strip('"')


SeenRevision = Annotated[str | None, Depends(seen_revision)]
