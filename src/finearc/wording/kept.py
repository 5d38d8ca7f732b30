"""Texts of what is defined once, when it is loaded, and said in the language of whoever reads it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from finearc.wording.texts import tr

Kind = TypeVar("Kind", bound=type)


def said(text: Any) -> Any:
    """A kept text, or each of several, in the reader's language."""
    if isinstance(text, str):
        return tr(text)
    if isinstance(text, tuple | list):
        return type(text)(said(t) for t in text)
    return text


class _Kept:
    """A field that is kept in English and read in the reader's language."""

    def __init__(self, name: str) -> None:
        self.name = name

    def __get__(self, one: Any, _: Any = None) -> Any:
        return self if one is None else said(one.__dict__[self.name])

    def __set__(self, one: Any, value: Any) -> None:
        one.__dict__[self.name] = value


def worded(*names: str) -> Callable[[Kind], Kind]:
    """These fields of a dataclass or a model are texts of the catalogue. What is written out keeps them in English."""

    def of(kind: Kind) -> Kind:
        for name in names:
            setattr(kind, name, _Kept(name))
        kind.__worded__ = names  # type: ignore[attr-defined]
        return kind

    return of


def texts_of(one: Any) -> list[str]:
    """The texts of something whose fields are kept so, in English."""
    found: list[str] = []
    for name in getattr(type(one), "__worded__", ()):
        kept = one.__dict__[name]
        found += [kept] if isinstance(kept, str) else [t for t in kept or () if isinstance(t, str)]
    return [t for t in found if t]
