"""In which language, units and clock something is said, and the catalogue of texts of each language."""

from finearc.wording.again import anew
from finearc.wording.dates import day_words, time_words
from finearc.wording.kept import said, texts_of, worded
from finearc.wording.manner import LANGUAGES, Clock, Distances, Language, Lengths, Manner, is_told, manner, spoken
from finearc.wording.texts import mark, number, tr, trn

__all__ = [
    "LANGUAGES",
    "Clock",
    "Distances",
    "Language",
    "Lengths",
    "Manner",
    "anew",
    "day_words",
    "is_told",
    "manner",
    "mark",
    "number",
    "said",
    "spoken",
    "texts_of",
    "time_words",
    "tr",
    "trn",
    "worded",
]
