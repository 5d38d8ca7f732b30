"""What a retest looks at."""

from __future__ import annotations

import re

from finearc.core.judging.findings import Finding
from finearc.core.judging.ranges import Judged
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import Unit
from finearc.core.metrics.words import at_moment, moment_words, place_words
from finearc.wording import tr


def target_of(found: Finding) -> Judged | None:
    """The value that a retest looks at; None when no band was in force."""
    return next((e for e in found.evidence if e.range is not None), None)


def target_sentence(found: Finding, *, plain: bool) -> str:
    """What the next test looks at: a value, its band, how often, and how it stood; empty when no band was in force."""
    lead = target_of(found)
    if lead is None:
        return ""
    metric, moment = lead.measured.metric, lead.measured.moment
    name = metric.plain_label if plain else metric.label
    band = limits_in_words(metric, lead.low, lead.high, plain=plain, change=moment.is_change)
    now = at_moment(metric, moment.key, lead.measured.value, plain=plain)
    place = place_words(moment.key)
    if metric.unit is Unit.SECONDS:  # a time against a checkpoint names it where others say "it"
        place = ""
        band, now = (re.sub(r"\b(before|after) it\b", rf"\1 {moment_words(moment.key)}", t) for t in (band, now))
    return tr("{name}{place}: {band}, in 4 of 5 swings. Now {now}.", name=name, place=place, band=band, now=now)
