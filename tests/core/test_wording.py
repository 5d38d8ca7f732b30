"""What is said in a language, its units and its clock; against the Common Locale Data as Babel ships it."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from datetime import date, datetime

import pytest
from babel.dates import format_date
from babel.numbers import format_decimal
from hypothesis import given, strategies as st

from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import at_moment, in_words, moment_words
from finearc.wording import (
    LANGUAGES,
    Manner,
    anew,
    day_words,
    manner,
    number,
    said,
    spoken,
    time_words,
    tr,
    trn,
    worded,
)

SPANISH = Manner("es")


def test_a_text_is_said_in_the_language_that_is_spoken_and_in_no_other():
    assert tr("Nothing to change.") == "Nothing to change."
    with spoken(SPANISH):
        assert tr("Nothing to change.") == "Nada que cambiar."
        with spoken(Manner("en")):
            assert tr("Nothing to change.") == "Nothing to change."
        assert tr("Nothing to change.") == "Nada que cambiar."
    assert tr("Nothing to change.") == "Nothing to change."


def test_what_no_catalogue_has_is_said_as_it_stands():
    with spoken(SPANISH):
        assert tr("Ilse Marrow") == "Ilse Marrow"
        assert tr("") == ""


def test_one_and_many():
    assert trn("{count} swing", "{count} swings", 1) == "1 swing"
    assert trn("{count} swing", "{count} swings", 0) == "0 swings"
    with spoken(SPANISH):
        assert trn("{count} week", "{count} weeks", 3) != ""
        assert trn("over {count} week", "over {count} weeks", 1) == "en 1 semana"
        assert trn("over {count} week", "over {count} weeks", 3) == "en 3 semanas"


def test_numbers_that_fill_a_text_have_the_signs_of_its_language():
    with spoken(SPANISH):
        assert tr("held {value:.1f} s, at least {pose_min_s:.0f} s is needed", value=1.25, pose_min_s=2) == (
            "mantenida 1,2 s, hacen falta al menos 2 s"
        )


def test_a_word_that_fills_a_text_is_said_in_its_language_and_a_name_stays():
    with spoken(SPANISH):
        assert tr("{player}: practice", player="Ilse Marrow") == "Ilse Marrow: práctica"
        assert tr("needs {needs}", needs="markers") == "necesita marcadores"


@given(st.floats(-9999, 9999, allow_nan=False), st.integers(0, 3))
def test_numbers_are_written_as_the_common_locale_data_has_them(value, decimals):
    """Below 10,000, where Spanish writes no sign between thousands (Unicode CLDR: minimumGroupingDigits 2)."""
    pattern = "0." + "0" * decimals if decimals else "0"
    for language in LANGUAGES:
        with spoken(Manner(language)):
            # halves are rounded to even by both; the library takes the decimal's own digits
            assert number(value, decimals) in {
                format_decimal(f"{value:.{decimals}f}", pattern, locale=language),
                f"-{format_decimal(abs(float(f'{value:.{decimals}f}')), pattern, locale=language)}",
            }


@given(st.dates(date(2000, 1, 1), date(2099, 12, 31)))
def test_days_are_written_as_the_common_locale_data_has_them(day):
    with spoken(SPANISH):
        assert day_words(day, "full") == format_date(day, "d 'de' MMMM 'de' y", locale="es")
        assert day_words(day, "weekday") == format_date(day, "EEEE", locale="es")
        assert day_words(day, "weekday_day") == format_date(day, "EEEE, d 'de' MMMM", locale="es")
    assert day_words(day, "full") == format_date(day, "d MMMM y", locale="en_GB")


@pytest.mark.parametrize(
    ("hour", "told"), [(0, "12:05\u202fam"), (9, "9:05\u202fam"), (12, "12:05\u202fpm"), (23, "11:05\u202fpm")]
)
def test_a_clock_of_twelve_hours(hour, told):
    at = datetime(2031, 1, 1, hour, 5)
    assert time_words(at) == f"{hour:02}:05"
    with spoken(Manner(clock="12")):
        assert time_words(at) == told


@pytest.mark.parametrize(
    ("metric", "value_si", "how", "told"),
    [
        ("pelvis_sway", 0.0254, Manner(lengths="in"), "1.0 in toward target"),
        ("pelvis_sway", 0.03, Manner(), "3.0 cm toward target"),
        ("pelvis_sway", 0.0254, Manner("es", lengths="in"), "1,0 pulg hacia el objetivo"),
        ("lead_wrist_extension", 0.2, Manner(lengths="in"), "11° extended"),
        ("lead_wrist_extension", 0.2, SPANISH, "11° en extensión"),
        ("putt_distance", 3.048, Manner(distances="ft"), "10.0 ft"),
    ],
)
def test_values_in_the_units_that_are_read(metric, value_si, how, told):
    """An inch is 2.54 cm and a foot 0.3048 m exactly (international yard and pound agreement of 1959)."""
    with spoken(how):
        assert in_words(BY_ID[metric], value_si) == told


def test_changes_and_moments_in_another_language():
    with spoken(SPANISH):
        assert moment_words("address..top") == "la colocación a lo alto"
        assert at_moment(BY_ID["lead_wrist_extension"], "address..top", 0.1, plain=True) == "6° más quebrada"


def test_a_manner_is_one_word_and_read_back_from_it():
    for how in (Manner(), Manner("es", "in", "ft", "12")):
        assert Manner.read(how.written()) == how
    for text in ("", "es", "xx-cm-m-24", "en-cm-m-25", "en-cm-m-24-more"):
        assert Manner.read(text) is None


def test_choices_of_somebodys_own_stand_over_the_academys():
    assert Manner("es", "cm", "m", "24").with_own("", "in", "", "12") == Manner("es", "in", "m", "12")


def test_each_thread_speaks_for_itself():
    heard = []
    with spoken(SPANISH):
        thread = threading.Thread(target=lambda: heard.append(manner().language))
        thread.start()
        thread.join()
        with ThreadPoolExecutor() as pool:
            heard.append(pool.submit(copy_context().run, manner).result().language)
    assert heard == ["en", "es"]


def test_a_kept_text_is_written_out_in_english():
    @worded("label", "ways")
    class One:
        def __init__(self):
            self.label, self.ways = "Pelvis", ("open", "closed")

    one = One()
    with spoken(SPANISH):
        assert one.label == "Pelvis"
        assert one.ways[0] == "abierta"
        assert said(None) is None
    assert one.__dict__ == {"label": "Pelvis", "ways": ("open", "closed")}


@pytest.mark.parametrize(
    ("kept", "said"),
    [
        (
            "36 dead cells of the mat: filled from the cells around.",
            "36 celdas muertas de la plataforma: rellenas con las de alrededor.",
        ),
        (
            "The pressure came back 0.02\xa0s after the club turned.",
            "La presión volvió 0,02\xa0s después de que el palo cambió de sentido.",
        ),
        ("Usable: axes found by movement.", "Utilizable: ejes encontrados por movimiento."),
        ("Somebody's own words, 0.02 s.", "Somebody's own words, 0.02 s."),
    ],
)
def test_what_was_kept_is_said_anew_to_its_reader(kept, said):
    """Whichever language it was kept in: numbers by the reader's signs, words by the catalogue."""
    with spoken(Manner("es")):
        assert anew(kept).replace("\xa0", " ") == said.replace("\xa0", " ")
    assert anew(kept) == kept


def test_a_warning_kept_in_spanish_is_read_in_english():
    with spoken(Manner("es")):
        kept = anew("36 dead cells of the mat: filled from the cells around.")
    assert anew(kept) == "36 dead cells of the mat: filled from the cells around."
