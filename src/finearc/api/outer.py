"""Around everything: a request id, the usual headers, the host's name, the access log, and no error without words."""

from __future__ import annotations

import secrets
import time
from collections.abc import Sequence
from dataclasses import dataclass

import structlog
from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import HTTPConnection
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from finearc.api.errors import answer_to, problem
from finearc.services.seen import Seen
from finearc.wording import LANGUAGES, Language, Manner, manner, spoken, tr

log = structlog.get_logger()
CSP = (
    "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; media-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": CSP,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "X-Frame-Options": "DENY",
    "Permissions-Policy": "camera=(self), microphone=(self), geolocation=()",
    "Cross-Origin-Opener-Policy": "same-origin",
}
HSTS = "max-age=31536000"
LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


@dataclass(frozen=True)
class Outer:
    """ASGI middleware. ``hosts``: the names under which the application may be asked for; ``tls``: there is TLS in
    front, and browsers are told to keep to it (RFC 6797, from memory)."""

    app: ASGIApp
    seen: Seen
    hosts: Sequence[str] = LOOPBACK
    tls: bool = False

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        with spoken(manner_asked(scope)):
            await self._answered(scope, receive, send)

    async def _answered(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        answer = _Answer(send, secrets.token_hex(8), self.tls, scope["path"].startswith("/api"))
        scope.setdefault("state", {})["request_id"] = answer.request_id
        begun = time.perf_counter()
        try:
            if _host(scope) not in self.hosts:
                words = "This name is not one of this server's. Ask for it by its own name."
                await problem(421, "host", words)(scope, receive, answer.send)
            else:
                await self.app(scope, receive, answer.send)
        except Exception as error:
            await self._say(error, scope, receive, answer)
        finally:
            self._note(scope, answer, time.perf_counter() - begun)

    async def _say(self, error: Exception, scope: Scope, receive: Receive, answer: _Answer) -> None:
        """In words what went wrong; when the answer has begun it can only be cut off."""
        said = answer_to(error)
        if said is None or said.status_code >= 500:
            self.seen.trouble(answer.request_id, error)
        if answer.status:
            return
        if said is None:
            words = tr(
                "Something went wrong in the application. Try again; if it stays, tell us {request}.",
                request=answer.request_id,
            )
            said = problem(500, "internal", words)
        await said(scope, receive, answer.send)

    def _note(self, scope: Scope, answer: _Answer, took_s: float) -> None:
        route = getattr(scope.get("route"), "path", "")
        self.seen.access(answer.request_id, scope["method"], route, answer.status, answer.bytes, took_s)


COOKIE = "finearc_manner"
"""What the interface tells of its own manner (``Manner.written``)."""


def manner_asked(scope: Scope) -> Manner:
    """As the browser's interface speaks; where it does not say, in the language it likes best (RFC 9110, 12.5.4)."""
    if scope["type"] not in ("http", "websocket"):
        return manner()
    asked = HTTPConnection(scope)
    told = Manner.read(asked.cookies.get(COOKIE, ""))
    return told or Manner(liked(asked.headers.get("accept-language", "")))


def liked(header: str) -> Language:
    """The first of ours in a list of languages with their weights; English where there is none."""
    wanted = []
    for place, part in enumerate(header.split(",")):
        tag, _, weight = part.strip().partition(";q=")
        try:
            wanted.append((-float(weight or 1.0), place, tag.strip().lower()[:2]))
        except ValueError:
            continue
    return next((known for _, _, tag in sorted(wanted) for known in LANGUAGES if known == tag), "en")


def _host(scope: Scope) -> str:
    name = Headers(scope=scope).get("host", "").lower()
    return name.rsplit(":", 1)[0] if not name.endswith("]") else name


class _Answer:
    """What is sent, with the usual headers put on it."""

    def __init__(self, send: Send, request_id: str, tls: bool, of_api: bool) -> None:
        self._send, self.request_id, self._tls, self._api = send, request_id, tls, of_api
        self.status = self.bytes = 0

    async def send(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.status = message["status"]
            headers = MutableHeaders(scope=message)
            for name, value in HEADERS.items():
                headers.setdefault(name, value)
            headers["X-Request-Id"] = self.request_id
            if self._tls:
                headers["Strict-Transport-Security"] = HSTS
            if self._api:
                headers.setdefault("Cache-Control", "no-store")
        elif message["type"] == "http.response.body":
            self.bytes += len(message.get("body", b""))
        await self._send(message)
