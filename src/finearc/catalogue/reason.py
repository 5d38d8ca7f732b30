"""Bounds of what is sent in, whatever it is about."""

from __future__ import annotations

from datetime import date

LONGEST_TEXT = 10_000
LARGEST_NUMBER = 1e9
YEARS = (1900, 2200)


def refuse_unreasonable(name: str, value: object) -> None:
    """Raises ``ValueError`` for a text of characters that cannot be kept, a number beyond anything that is measured, or
    a date that no calendar here can turn; in lists and mappings for any of them."""
    if isinstance(value, str):
        if any(c == "\0" or "\ud800" <= c <= "\udfff" for c in value):
            raise ValueError(f"{name} holds a character that cannot be kept")
    elif isinstance(value, bool) or value is None:
        return
    elif isinstance(value, int | float):
        if abs(value) > LARGEST_NUMBER:
            raise ValueError(f"{name} is larger than anything that is measured here")
    elif isinstance(value, date):
        if not YEARS[0] <= value.year <= YEARS[1]:
            raise ValueError(f"{name} lies outside the years {YEARS[0]} to {YEARS[1]}")
    elif isinstance(value, dict):
        for key, inner in value.items():
            refuse_unreasonable(name, key)
            refuse_unreasonable(name, inner)
    elif isinstance(value, list | tuple):
        for inner in value:
            refuse_unreasonable(name, inner)
