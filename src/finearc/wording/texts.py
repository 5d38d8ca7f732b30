"""Texts by the catalogue of the language (GNU gettext; plural forms of Unicode CLDR, by Babel). The English text is the
key: what a catalogue lacks is said in English, and a test finds it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from gettext import GNUTranslations, NullTranslations
from io import BytesIO
from pathlib import Path
from string import Formatter
from typing import TYPE_CHECKING, Any

from finearc.wording.manner import manner

if TYPE_CHECKING:
    from babel.messages.catalog import Catalog

CATALOGUES = Path(__file__).with_name("catalogues")


def catalogue(language: str) -> Catalog:
    """The catalogue of a language as it is kept."""
    from babel.messages.pofile import read_po

    with (CATALOGUES / f"{language}.po").open("rb") as file:
        return read_po(file, locale=language)


@lru_cache
def translations(language: str) -> NullTranslations:
    """The catalogue of a language, read from its ``.po`` file; that of English says each text as it stands."""
    if language == "en":
        return NullTranslations()
    from babel.messages.mofile import write_mo

    compiled = BytesIO()
    write_mo(compiled, catalogue(language))
    compiled.seek(0)
    return GNUTranslations(compiled)


@lru_cache
def signs(language: str) -> tuple[str, str]:
    """What stands between the thousands and before the decimals of a number."""
    if language == "en":
        return ",", "."
    from babel.numbers import get_decimal_symbol, get_group_symbol

    return get_group_symbol(language), get_decimal_symbol(language)


def _localised(text: str) -> str:
    group, decimal = signs(manner().language)
    if (group, decimal) == (",", "."):
        return text
    return text.translate({ord(","): group, ord("."): decimal})


class _Filler(Formatter):
    """Fills a text: numbers by the signs of the language; words that the catalogue has by the catalogue."""

    def format_field(self, value: Any, format_spec: str) -> Any:
        if isinstance(value, bool) or not isinstance(value, int | float):
            return super().format_field(_word(value), format_spec)
        return _localised(super().format_field(value, format_spec))


_filler = _Filler()


def _word(value: Any) -> Any:
    if manner().language == "en" or not isinstance(value, str) or not value:
        return value
    return translations(manner().language).gettext(value)


def _filled(text: str, args: Mapping[str, Any]) -> str:
    if not args:
        return text
    return contracted(_filler.vformat(text, (), args), manner().language)


def contracted(text: str, language: str) -> str:
    """A text as it is written once all that fills it stands in it."""
    return CONTRACTED.sub(_contract, text) if language == "es" else text


CONTRACTED = re.compile(r"\b([Dd]e|[Aa]) el\b")
"""What Spanish writes as one word: *del*, *al* (Real Academia Española, Diccionario panhispánico de dudas, el)."""


def _contract(found: re.Match[str]) -> str:
    return found[1] + "l"


def tr(text: str, /, **args: Any) -> str:
    """A text in the reader's language, its ``{names}`` filled as ``str.format`` does."""
    if not text:
        return text
    said = text if manner().language == "en" else translations(manner().language).gettext(text)
    return _filled(said, args)


def trn(one: str, many: str, count: int, /, **args: Any) -> str:
    """A text that depends on how many, which stands in it as ``{count}``."""
    said = translations(manner().language).ngettext(one, many, count)
    return _filled(said, {"count": count, **args})


def mark(text: str) -> str:
    """A text that is kept or compared as it stands, and said in the reader's language where it is shown."""
    return text


def number(value: float, decimals: int = 0, *, sign: bool = False) -> str:
    """A number with the signs of the reader's language."""
    return _localised(f"{value:{'+' if sign else ''}.{decimals}f}")
