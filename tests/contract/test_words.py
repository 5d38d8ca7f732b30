"""The catalogues of the languages: nothing is missing, nothing is left over, and what is filled in fits."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path

import pytest
from babel.core import Locale

from finearc.core.judging.words import for_hand
from finearc.core.metrics.registry import ALL
from finearc.wording import LANGUAGES, Manner, spoken
from finearc.wording.interface import FORMS, write_words
from finearc.wording.texts import catalogue

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
import words as tool

OTHERS = [k for k in LANGUAGES if k != "en"]
HOLE = re.compile(r"\{[^{}]*\}")


@pytest.fixture(scope="module")
def asked():
    """Every text that the code, the interface, the reports and the data files ask for."""
    return tool.gathered()


@pytest.mark.parametrize("language", OTHERS)
def test_every_text_is_there_in_every_language(asked, language):
    assert tool.lacking(catalogue(language), asked) == []


@pytest.mark.parametrize("language", OTHERS)
def test_no_language_says_what_nobody_asks_for(asked, language):
    known = {m.id if isinstance(m.id, str) else tuple(m.id) for m in catalogue(language) if m.id}
    assert known == set(asked)


def test_what_is_missing_is_found(asked):
    known = catalogue("es")
    known.delete("Today")
    assert tool.lacking(known, asked) == ["Today"]


@pytest.mark.parametrize("language", OTHERS)
def test_a_translation_is_filled_with_what_the_text_is_filled_with(language):
    """One that names another value would fail where it is said; one that names none would lose it."""
    wrong = []
    for m in catalogue(language):
        pairs = [(m.id, m.string)] if isinstance(m.id, str) else [(m.id[1], s) for s in m.string]
        wrong += [(i, s) for i, s in pairs if i and set(HOLE.findall(s)) - set(HOLE.findall(i))]
        wrong += [(i, s) for i, s in pairs[-1:] if i and set(HOLE.findall(i)) - set(HOLE.findall(s))]
    assert wrong == []


@pytest.mark.parametrize("language", OTHERS)
def test_spaces_around_a_text_are_kept(language):
    """Texts are put together: what loses its space would run into the next."""
    for m in catalogue(language):
        for i, s in [(m.id, m.string)] if isinstance(m.id, str) else []:
            assert not i or (i[:1] == " ", i[-1:] == " ") == (s[:1] == " ", s[-1:] == " "), i


@pytest.mark.parametrize("language", OTHERS)
def test_plural_forms_are_those_of_the_common_locale_data(language):
    """Unicode CLDR, as Babel ships it: each form of the language has a string, in the order the catalogue has them."""
    plural = Locale.parse(language).plural_form
    assert set(FORMS[language]) == set(plural.tags) | {"other"}
    assert all(len(m.string) == len(FORMS[language]) for m in catalogue(language) if isinstance(m.id, tuple))
    assert [plural(n) for n in (1, 1_000_000, 2)] == list(FORMS[language])


@pytest.mark.parametrize("language", OTHERS)
def test_the_interface_is_given_each_of_its_texts(tmp_path, asked, language):
    write_words(tmp_path)
    given = json.loads((tmp_path / f"{language}.json").read_text(encoding="utf-8"))
    for key, places in asked.items():
        if any(p.startswith("web/") for p in places):
            assert (key if isinstance(key, str) else f"{key[0]}_other") in given
    phone = json.loads((tmp_path / f"practice.{language}.json").read_text(encoding="utf-8"))
    assert "How did it feel?" in phone
    assert len(phone) < len(given) / 4


@pytest.mark.parametrize("language", OTHERS)
def test_every_measure_has_names_and_ways_of_its_own(language):
    """Two measures of one name, or a measure whose two ways are one word, would be a slip of a translator."""
    with spoken(Manner(language)):
        named = {m: (m.label, m.positive, m.negative) for m in ALL}
    english = {m: (m.label, m.positive, m.negative) for m in ALL}
    for m in ALL:
        assert (named[m][1] == named[m][2]) == (english[m][1] == english[m][2]), m.id
    # measures that share a name in English may share it
    pairs = {(named[a][0], named[b][0]) for a in ALL for b in ALL if english[a][0] != english[b][0]}
    assert not [a for a, b in pairs if a == b]


@pytest.mark.parametrize(
    ("said", "right", "left"),
    [
        ("Mantén plano el pie delantero.", "Mantén plano el pie izquierdo.", "Mantén plano el pie derecho."),
        ("La muñeca trasera y los pies.", "La muñeca derecha y los pies.", "La muñeca izquierda y los pies."),
    ],
)
def test_lead_and_trail_are_the_players_own_sides_in_spanish_too(said, right, left):
    with spoken(Manner("es")):
        assert for_hand(said, left_handed=False) == right
        assert for_hand(said, left_handed=True) == left
