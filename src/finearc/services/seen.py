"""What is seen of the application: who came to the door and what went wrong, without a person's data."""

from __future__ import annotations

import logging
import traceback
from dataclasses import dataclass
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import Any

import structlog

ROTATE_BYTES, KEPT_FILES = 20_000_000, 10
SECURITY, ACCESS, TROUBLE = "security", "access", "trouble"


@dataclass(frozen=True)
class Seen:
    """Three logs. ``security``: sign-in, refusals, exports, erasures, changed ranges. ``access``: one line a request
    with the address as the route has it, never with the ids and words asked for. ``trouble``: what nobody foresaw."""

    loggers: dict[str, Any]
    handlers: tuple[logging.Handler, ...] = ()

    def close(self) -> None:
        """Nothing more is written."""
        for handler in self.handlers:
            handler.close()

    def security(self, event: str, **more: Any) -> None:
        """``more`` may name records by their ids and sessions by the beginning of their hash, never persons."""
        self.loggers[SECURITY].info(event, **more)

    def access(self, request_id: str, method: str, route: str, status: int, size: int, took_s: float) -> None:
        told = {"method": method, "route": route, "status": status, "bytes": size, "ms": round(1000 * took_s, 1)}
        self.loggers[ACCESS].info("request", id=request_id, **told)

    def trouble(self, request_id: str, error: BaseException) -> None:
        """Where it happened, without the values that it happened with."""
        frames = [f"{f.filename}:{f.lineno} {f.name}" for f in traceback.extract_tb(error.__traceback__)[-12:]]
        self.loggers[TROUBLE].error("error", id=request_id, kind=type(error).__name__, at=frames)


def _logger(name: str, handler: logging.Handler) -> Any:
    handler.setFormatter(logging.Formatter("%(message)s"))
    logger = logging.Logger(f"finearc.{name}", logging.INFO)  # its own: nothing else may write into it
    logger.addHandler(handler)
    processors: list[Any] = [
        structlog.processors.add_log_level,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
        structlog.processors.JSONRenderer(),
    ]
    return structlog.wrap_logger(logger, processors=processors, wrapper_class=structlog.BoundLogger)


def seen_in(folder: Path) -> Seen:
    """Logs as lines of JSON in a folder, one file each, rotated."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)

    def kept(name: str) -> logging.Handler:
        path = folder / f"{name}.log"
        return RotatingFileHandler(path, maxBytes=ROTATE_BYTES, backupCount=KEPT_FILES, encoding="utf-8", delay=True)

    handlers = {name: kept(name) for name in (SECURITY, ACCESS, TROUBLE)}
    return Seen({name: _logger(name, handler) for name, handler in handlers.items()}, tuple(handlers.values()))


def unseen() -> Seen:
    """Nothing is kept: for the command line and where no folder is."""
    return Seen({name: _logger(name, logging.NullHandler()) for name in (SECURITY, ACCESS, TROUBLE)})
