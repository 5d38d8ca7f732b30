"""Bays and their devices as they are told."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from finearc.api import models as m
from finearc.api.views.told import to_reader
from finearc.services.capture.bays import BayRead
from finearc.services.records import BayToken

QUIET: Mapping[str, Any] = {"state": "idle", "trouble": "", "devices": []}


def bay_out(read: BayRead, told: Mapping[str, Any] | None) -> m.BayOut:
    """``told``: what the process that hears the devices says of it; None where none has come."""
    return m.BayOut(name=read.name, tokens=[token_out(t) for t in read.tokens], **to_reader(told or QUIET))


def token_out(token: BayToken) -> m.BayTokenOut:
    return m.BayTokenOut(id=token.id, name=token.name, made_at=token.made_at, used_at=token.used_at)
