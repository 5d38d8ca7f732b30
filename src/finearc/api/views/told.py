"""What was said once for all, by the devices' process or when it was kept: said to each reader in their language."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from finearc.wording import anew

SAID = frozenset(
    {
        *("reason", "refused", "sentence", "notes", "trouble", "measures", "words", "says", "plain_says", "warnings"),
        *("question", "answer", "plain_answer", "instruction"),
    }
)
"""Under these keys stand words; under all others what is told by an id or a number."""


def to_reader(message: Mapping[str, Any]) -> dict[str, Any]:
    """The same message in the reader's language, as far as the catalogue has its words."""
    return {key: _said(value, key in SAID) for key, value in message.items()}


def _said(value: Any, words: bool) -> Any:
    if isinstance(value, str):
        return anew(value) if words else value
    if isinstance(value, Mapping):
        return to_reader(value)
    if isinstance(value, list | tuple):
        return [_said(v, words) for v in value]
    return value
