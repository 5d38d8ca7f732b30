"""What an answer leaves out for whoever does not teach: plans and what was noted of pain. Every answer in JSON goes
through here, so that a new route is covered by itself."""

from __future__ import annotations

import json
from typing import Any

from starlette.types import Message, Send

from finearc.services.people.roles import MAY, Right, Role

PRIVATE = frozenset(
    {
        *("pain_note", "note", "priority", "priorities", "last_priorities", "proposals", "trainer_bands"),
        *("practised", "retest", "felt", "withheld", "matched"),
    }
)
"""Under these names stands what only those who teach see."""
WRITTEN = frozenset({"limits", "scenarios", "provenance"})
"""Under these nothing is left out: whoever fits sensors needs to know limits whole."""


def sees_all(role: Role) -> bool:
    """Whether nothing is left out for a role."""
    return Right.TEACH in MAY[role]


def without_private(value: Any) -> Any:
    """The same answer with nothing where something private stood: its shape stays."""
    if isinstance(value, dict):
        return {k: v if k in WRITTEN else _empty(v) if k in PRIVATE else without_private(v) for k, v in value.items()}
    if isinstance(value, list):
        return [without_private(v) for v in value]
    return value


def _empty(value: Any) -> Any:
    return type(value)() if isinstance(value, str | list | dict) else None


def leaving_out(send: Send) -> Send:
    """What sends an answer, without what is private; anything but JSON goes as it is."""
    start: Message = {}
    body = bytearray()

    async def told(message: Message) -> None:
        nonlocal start
        if message["type"] == "http.response.start":
            kinds = [v for k, v in message["headers"] if k.lower() == b"content-type"]
            if kinds and kinds[0].startswith(b"application/json") and message["status"] < 300:
                start = message
                return
        if message["type"] != "http.response.body" or not start:
            await send(message)
            return
        body.extend(message.get("body", b""))
        if message.get("more_body"):
            return
        said = json.dumps(without_private(json.loads(bytes(body))), ensure_ascii=False).encode()
        kept = [(k, v) for k, v in start["headers"] if k.lower() != b"content-length"]
        await send({**start, "headers": [*kept, (b"content-length", str(len(said)).encode())]})
        await send({"type": "http.response.body", "body": said})

    return told
