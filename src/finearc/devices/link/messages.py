"""Control messages: JSON in text frames. What a device sends is checked here; what it is told is made here."""

from __future__ import annotations

from enum import IntEnum
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError, model_validator

from finearc.core.errors import FineArcError
from finearc.devices.link.declared import AnyDeclared
from finearc.wording import tr

SUBPROTOCOL = "finearc.link.v1"
PROTOCOL = 1
LARGEST_MESSAGE = 64_000
"""Bytes of a control message."""
Message = dict[str, Any]
Us = Annotated[int, Field(ge=0, lt=2**64)]
Short = Annotated[str, Field(max_length=120)]


class Close(IntEnum):
    """With which a refused socket closes."""

    BAD_HELLO = 4400
    TOKEN = 4401
    TAKEN = 4409
    TOO_LARGE = 4413
    PROTOCOL = 4426
    TOO_FAST = 4429


class LinkRefused(FineArcError):
    """A device is refused, in words; its socket closes with ``close``."""

    def __init__(self, close: Close, reason: str) -> None:
        super().__init__(close, reason)
        self.close, self.reason = close, reason
        self.code = close.name.lower()

    def __str__(self) -> str:
        return self.reason


class _Sent(BaseModel):
    """Unknown fields are a later version's, and are left alone."""

    model_config = ConfigDict(extra="ignore", frozen=True)


class Device(_Sent):
    """Who sends. ``boot``: a number that is new after each power-up."""

    id: Annotated[str, Field(min_length=1, max_length=120)]
    name: Short = ""
    model: Short = ""
    firmware: Short = ""
    boot: Annotated[int, Field(ge=0, lt=2**63)]


class Hello(_Sent):
    """The first message. ``log``: what was felt before is handed over, a clip a stream (``devices.link.handed``)."""

    type: Literal["hello"]
    protocol: int
    token: Annotated[str, Field(max_length=200)]
    device: Device
    streams: Annotated[tuple[AnyDeclared, ...], Field(min_length=1, max_length=16)]
    log: bool = False

    @model_validator(mode="after")
    def _once(self) -> Hello:
        numbers = [s.stream for s in self.streams]
        places = [getattr(s, "club", "") if self.log else str(s.place) for s in self.streams]
        if len(set(numbers)) != len(numbers):
            raise ValueError("two streams have one number")
        if len(set(places)) != len(places):
            raise ValueError("two streams measure one thing")
        return self


class Clock(_Sent):
    """Device time at sending. A device that also sends when the last answer came (``last_t0_us``, ``last_t3_us``) lets
    the round trip be known."""

    type: Literal["clock"]
    t0_us: Us
    last_t0_us: Us | None = None
    last_t3_us: Us | None = None


class Health(_Sent):
    """How the device is."""

    type: Literal["health"]
    battery: Annotated[float, Field(ge=0, le=1)] | None = None
    charging: bool | None = None
    temperature_c: float | None = None
    rssi_dbm: float | None = None
    errors: Annotated[tuple[Short, ...], Field(max_length=20)] = ()


class Event(_Sent):
    """Something that happened at the device."""

    type: Literal["event"]
    name: Literal["button", "tap", "strike"]
    t_us: Us


class Bye(_Sent):
    """The device goes."""

    type: Literal["bye"]
    reason: Short = ""


AnySent = Hello | Clock | Health | Event | Bye
_SENT: TypeAdapter[AnySent] = TypeAdapter(Annotated[AnySent, Field(discriminator="type")])


def read_message(text: str) -> AnySent:
    """Raises ``LinkRefused`` in words that name the field."""
    if len(text) > LARGEST_MESSAGE:
        raise LinkRefused(
            Close.TOO_LARGE,
            tr(
                "a message has at most {largest_message} bytes, this has {text_}",
                largest_message=LARGEST_MESSAGE,
                text_=len(text),
            ),
        )
    try:
        return _SENT.validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        where = ".".join(str(p) for p in first["loc"]) or "message"
        raise LinkRefused(
            Close.BAD_HELLO, tr("{where}: {first}. See the page of the protocol.", where=where, first=first["msg"])
        ) from None


def refused(error: LinkRefused) -> Message:
    """What is told before the socket closes."""
    return {"type": "refused", "code": int(error.close), "reason": error.reason}


def welcome(session: str, server_us: int, bay: str, max_frame_bytes: int, resume: dict[int, int]) -> Message:
    """The answer to *hello*."""
    told: Message = {"type": "welcome", "session": session, "server_us": server_us, "bay": bay}
    told["max_frame_bytes"] = max_frame_bytes
    return told | ({"resume": {str(k): v for k, v in resume.items()}} if resume else {})


def ack(stream: int, sequence: int) -> Message:
    """Every sample up to and with it is safe."""
    return {"type": "ack", "stream": stream, "sequence": sequence}


def notice(name: str, words: str, **more: Any) -> Message:
    """Words for a person."""
    return {"type": "notice", "name": name, "words": words, **more}
