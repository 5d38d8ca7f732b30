"""What was said once and kept, said anew in the language of whoever reads it.

A warning of a recording is kept as it was worded when it was taken in. It is found by the text of the catalogue that
it was made of, in whichever language that was, and what filled it fills the same text in the reader's language."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from string import Formatter

from finearc.wording.manner import LANGUAGES, manner
from finearc.wording.texts import catalogue, contracted, signs, translations

LEAST = 8
"""Letters that a text must have beside what fills it: a shorter one would be found in anything."""
NUMBER = re.compile(r"[+\-\u2212]?[\d.,\u00a0\u202f]*\d")


def anew(kept: str) -> str:
    """A kept text in the reader's language; as it is where no text of the catalogue fits it."""
    return _anew(kept, manner().language) if kept else kept


@lru_cache(maxsize=4096)
def _anew(kept: str, language: str) -> str:
    whole = translations(language).gettext(kept)
    if whole != kept:
        return whole
    for source in LANGUAGES:
        if source == language:
            continue
        if kept in _english(source):
            return translations(language).gettext(_english(source)[kept])
        for template in _templates(source):
            found = template.pattern.fullmatch(kept) if all(p in kept for p in template.pieces) else None
            if found is not None:
                return _filled_again(template, found.groupdict(), source, language)
    return kept


@dataclass(frozen=True)
class _Template:
    """A text of a language as a pattern; ``pieces``: what must stand in a kept text for it to fit; ``one`` and
    ``many``: its keys."""

    pattern: re.Pattern[str]
    pieces: tuple[str, ...]
    one: str
    many: str


def _filled_again(template: _Template, found: Mapping[str, str], source: str, language: str) -> str:
    into = translations(language)
    said = into.gettext(template.one)
    if template.many != template.one:
        said = into.ngettext(template.one, template.many, _count(found.get("count", "")))
    words = {name: _argument(value, source, language) for name, value in found.items()}
    filled = "".join(piece + words.get(name or "", "") for piece, name, *_ in Formatter().parse(said))
    return contracted(filled, language)


def _count(told: str) -> int:
    return int(told) if told.isdigit() else 2


def _argument(value: str, source: str, language: str) -> str:
    """What filled a text: a number by the reader's signs, words by the catalogue."""
    if NUMBER.fullmatch(value):
        return value.translate(dict(zip(map(ord, signs(source)), signs(language), strict=True)))
    return translations(language).gettext(_english(source).get(value, value))


@lru_cache
def _english(source: str) -> dict[str, str]:
    """The key of each text of a language."""
    return {said: one for one, _, said in _texts(source)}


@lru_cache
def _templates(source: str) -> list[_Template]:
    """Those with the most letters of their own first."""
    out = []
    for one, many, said in _texts(source):
        parts = list(Formatter().parse(said))
        pieces = tuple(piece for piece, *_ in parts if piece)
        names = [name for _, name, *_ in parts if name is not None]
        if names and all(n.isidentifier() for n in names) and sum(map(len, pieces)) >= LEAST:
            out.append(_Template(_pattern(said), pieces, one, many))
    return sorted(out, key=lambda t: -sum(map(len, t.pieces)))


def _texts(source: str) -> Iterator[tuple[str, str, str]]:
    """Both keys of each text and what a language says for them; any catalogue has all the keys."""
    for m in catalogue(next(k for k in LANGUAGES if k != "en") if source == "en" else source):
        ids, told = _all(m.id), _all(m.id if source == "en" else m.string)
        yield from ((ids[0], ids[-1], said) for said in told if said)


def _all(text: object) -> tuple[str, ...]:
    """One text, or each of its plural forms."""
    return tuple(str(t) for t in text) if isinstance(text, tuple | list) else (str(text or ""),)


def _pattern(text: str) -> re.Pattern[str]:
    out, seen = "", set[str]()
    for piece, name, *_ in Formatter().parse(text):
        out += re.escape(piece)
        if name is not None:
            out += f"(?P={name})" if name in seen else f"(?P<{name}>.+?)"
            seen.add(name)
    return re.compile(out, re.DOTALL)
