"""Days and times in words, as the reader's language and clock write them (patterns of Unicode CLDR, by Babel)."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

from finearc.wording.manner import manner

Style = Literal["day", "short", "full", "weekday", "weekday_day"]
ENGLISH: dict[Style, str] = {
    "day": "{0.day} {0:%B}",
    "short": "{0.day} {0:%b}",
    "full": "{0.day} {0:%B %Y}",
    "weekday": "{0:%A}",
    "weekday_day": "{0:%A} {0.day} {0:%B}",
}
"""The day before the month, as the academy's screens have it."""
SKELETONS: dict[Style, str] = {"day": "MMMMd", "short": "MMMd", "full": "yMMMMd"}


def day_words(day: date, style: Style = "day") -> str:
    """``3 December``, ``3 Dec``, ``3 December 2026``, ``Thursday``, ``Thursday 3 December``."""
    language = manner().language
    if language == "en":
        return ENGLISH[style].format(day)
    from babel.dates import format_date, format_skeleton

    weekday = str(format_date(day, "EEEE", locale=language))
    if style == "weekday":
        return weekday
    said = str(format_skeleton(SKELETONS["day" if style == "weekday_day" else style], day, locale=language))
    return f"{weekday}, {said}" if style == "weekday_day" else said


def time_words(moment: datetime) -> str:
    """``14:05``, or ``2:05 pm`` where the clock has twelve hours."""
    if manner().clock == "24":
        return f"{moment:%H:%M}"
    half = "am" if moment.hour < 12 else "pm"
    if manner().language == "es":
        half = "a.\u202fm." if moment.hour < 12 else "p.\u202fm."
    return f"{(moment.hour - 1) % 12 + 1}:{moment:%M}\u202f{half}"
