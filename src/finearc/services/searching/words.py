"""What is asked for in words: *driver swings with early extension this month*. Every phrase that is known says what it
was taken for; the rest is told back."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import lru_cache
from typing import Any, Literal
from uuid import UUID

from finearc.catalogue.library import clubs, ranges
from finearc.catalogue.rule_set import RuleSet
from finearc.core.events.model import ORDER
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.registry import ALL
from finearc.core.metrics.words import moment_words
from finearc.wording import LANGUAGES, manner, mark, texts_of, tr

Kind = Literal["club", "finding", "tag", "player", "source", "period", "measure"]
LONGEST = 8
"""Words of a phrase that is looked up."""
SOURCES: Mapping[str, tuple[str, ...]] = {
    "wrist sensors": ("lead_hand",),
    "club clip": ("club",),
    "body sensors": ("pelvis", "thorax"),
    "markers": ("markers",),
    "mat": ("pressure",),
    "pressure mat": ("pressure",),
    "force plates": ("plates",),
}
"""What a recording was made with, by the segments and kinds it names."""
ABOVE = (mark("above"), "over", "beyond", mark("more than"), ">")
BELOW = (mark("below"), "under", mark("less than"), "<")
IDLE = frozenset(
    [
        *("swing", "swings", "lesson", "lessons", "with", "and", "or", "of", "in", "the", "a", "an", "by"),
        *("at", "to", "from", "on", "for", "all", "show", "me", "who"),
    ]
)
"""Words that say nothing of their own."""
IDLE_ELSEWHERE = mark("with and or of in the a an by at to from on for all show me who swing swings lesson lessons")
"""The same of the reader's language, one after the other."""
MONTHS = [
    mark("january"),
    mark("february"),
    mark("march"),
    mark("april"),
    mark("may"),
    mark("june"),
    mark("july"),
    mark("august"),
    mark("september"),
    mark("october"),
    mark("november"),
    mark("december"),
]
SINCE = mark("since {date}")
DATED = (SINCE, mark("before {date}"), mark("until {date}"))
LAST = {mark("last {n} days"): 1, mark("last {n} weeks"): 7}
"""Ways to name a time, with how many days each counted one has."""
WORD = re.compile(r"[<>]|#?[^\s,;<>]+")


@dataclass(frozen=True)
class Beyond:
    """A value of a measure above or below a number, in the measure's own unit."""

    metric: Metric
    moment: str
    above: bool
    value: float


@dataclass(frozen=True)
class Said:
    """A phrase, what it was taken for, and that in words: the field's, and plain ones."""

    text: str
    kind: Kind
    label: str
    plain_label: str


@dataclass(frozen=True)
class Terms:
    """What is asked for: all of it holds at once, of several clubs, tags, sources or players any. ``since`` to before
    ``until``: days by the academy's clock; ``shown``: metric and moment that are looked at beside; ``unknown``: words
    that were not understood."""

    clubs: tuple[str, ...] = ()
    findings: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    players: tuple[UUID, ...] = ()
    segments: tuple[str, ...] = ()
    beyond: tuple[Beyond, ...] = ()
    since: date | None = None
    until: date | None = None
    shown: tuple[tuple[str, str], ...] = ()
    said: tuple[Said, ...] = ()
    unknown: tuple[str, ...] = ()

    @property
    def empty(self) -> bool:
        """Whether nothing is asked for."""
        return not self.said


Update = Callable[[Terms], Terms]


def adding(name: str, *values: object) -> Update:
    """Adds values to one of the terms."""

    def narrowed(terms: Terms) -> Terms:
        changed: dict[str, Any] = {name: (*getattr(terms, name), *values)}
        return replace(terms, **changed)

    return narrowed


@dataclass(frozen=True)
class Known:
    """A phrase that is known: what it is and how it narrows what is asked for."""

    kind: Kind
    label: str
    narrow: Update
    plain_label: str = ""


@dataclass
class Vocabulary:
    """Phrases in small letters; ``today``: by the academy's clock."""

    today: date
    phrases: dict[str, Known] = field(default_factory=dict)

    def learn(self, phrase: str, known: Known) -> None:
        """The first meaning of a phrase stays."""
        for said in (phrase, tr(phrase)):
            key = " ".join(words_of(said))
            if key:
                self.phrases.setdefault(key, known)


def vocabulary(rule_set: RuleSet, tags: Iterable[str], players: Iterable[tuple[UUID, str]], today: date) -> Vocabulary:
    """All that an academy has words for: its players first, then its tags, clubs, findings, sources and periods."""
    known = Vocabulary(today)
    _learn_players(known, list(players))
    for tag in tags:
        said = Known("tag", tr(tag), adding("tags", tag))
        known.learn(tag, said)
        known.learn(f"#{tag}", said)
    for club, about in clubs().items():
        said = Known("club", about.label, adding("clubs", club))
        for phrase in (about.label, club, about.label.replace("-", " ")):
            known.learn(phrase, said)
    for group, of in (("wood", "woods"), ("iron", "irons"), ("wedge", "wedges")):
        members = tuple(c for c, about in clubs().items() if group in about.classes)
        known.learn(of, Known("club", of, adding("clubs", *members)))
    for rule in rule_set.rules:
        said = Known("finding", rule.label, adding("findings", rule.id), rule.plain_label)
        for phrase in (rule.label, rule.plain_label, rule.id.replace("_", " "), rule.id):
            known.learn(phrase, said)
    for source, segments in SOURCES.items():
        known.learn(source, Known("source", tr(source), adding("segments", *segments)))
    for phrase, (since, until) in _periods(today).items():
        known.learn(phrase, _period(tr(phrase), since, until))
    return known


def _learn_players(known: Vocabulary, players: Sequence[tuple[UUID, str]]) -> None:
    """By the whole name, and by each part of it: a part that several share means any of them."""
    parts: dict[str, list[UUID]] = {}
    for key, name in players:
        known.learn(name, _player(name, (key,)))
        for part in name.split():
            parts.setdefault(part, []).append(key)
    for part, keys in parts.items():
        if len(part) > 2:
            known.learn(part, _player(part, tuple(keys)))


def _player(name: str, keys: tuple[UUID, ...]) -> Known:
    return Known("player", name, adding("players", *keys))


def _period(label: str, since: date | None, until: date | None) -> Known:
    return Known("period", label, lambda t: replace(t, since=since or t.since, until=until or t.until))


def _periods(today: date) -> dict[str, tuple[date, date]]:
    monday = today - timedelta(days=today.weekday())
    month, year = today.replace(day=1), today.replace(month=1, day=1)
    day, week = timedelta(days=1), timedelta(days=7)
    found = {
        mark("today"): (today, today + day),
        mark("yesterday"): (today - day, today),
        mark("this week"): (monday, monday + week),
        mark("last week"): (monday - week, monday),
        mark("this month"): (month, _next_month(month)),
        mark("last month"): ((month - day).replace(day=1), month),
        mark("this year"): (year, year.replace(year=year.year + 1)),
        mark("last year"): (year.replace(year=year.year - 1), year),
    }
    for number, name in enumerate(MONTHS, 1):
        first = date(today.year if number <= today.month else today.year - 1, number, 1)
        found[name] = (first, _next_month(first))
    return found


def _next_month(first: date) -> date:
    return (first + timedelta(days=32)).replace(day=1)


def understood(text: str, known: Vocabulary) -> Terms:
    """A question in words."""
    words, terms = words_of(text), Terms()
    k = 0
    while k < len(words):
        taken, found = _take(words[k:], known)
        phrase = " ".join(words[k : k + taken])
        if found is not None:
            terms = found.narrow(terms)
            told = Said(phrase, found.kind, found.label, found.plain_label or found.label)
            terms = replace(terms, said=(*terms.said, told))
        elif phrase not in _idle():
            terms = replace(terms, unknown=(*terms.unknown, phrase))
        k += taken
    return terms


def _take(words: Sequence[str], known: Vocabulary) -> tuple[int, Known | None]:
    """The longest beginning that is known, and how many words it takes."""
    special = _measure(words) or _dated(words, known.today)
    for n in range(min(LONGEST, len(words)), 0, -1):
        if special is not None and special[0] >= n:
            return special
        found = known.phrases.get(" ".join(words[:n]))
        if found is not None:
            return n, found
    return 1, None


def _measure(words: Sequence[str]) -> tuple[int, Known] | None:
    """``wrist cup at the top above 30``: a measure, where, and how much, of which all but the first may be missing."""
    for n in range(min(LONGEST, len(words)), 0, -1):
        metric = _measures(manner().language).get(" ".join(words[:n]))
        if metric is None:
            continue
        moment, m = _moment(words[n:])
        moment = moment or _usual(metric)
        n += m
        above, size, more = _beyond(words[n:])
        asked = f", {moment_words(moment)}"
        if above is None or size is None:
            narrow = adding("shown", (metric.id, moment))
        else:
            narrow = _narrowed(Beyond(metric, moment, above, size))
            asked += f" {'above' if above else 'below'} {size:g}"
            n += more
        return n, Known("measure", metric.label + asked, narrow, metric.plain_label + asked)
    return None


def _narrowed(beyond: Beyond) -> Update:
    looked_at, narrowed = adding("shown", (beyond.metric.id, beyond.moment)), adding("beyond", beyond)
    return lambda terms: narrowed(looked_at(terms))


def _moment(words: Sequence[str]) -> tuple[str, int]:
    skip = 0
    while skip < len(words) and words[skip] in _idle():
        skip += 1
    for n in range(min(4, len(words) - skip), 0, -1):
        key = _moments(manner().language).get(" ".join(words[skip : skip + n]))
        if key is not None:
            return key, skip + n
    return "", 0


def _beyond(words: Sequence[str]) -> tuple[bool | None, float | None, int]:
    for phrases, above in ((ABOVE, True), (BELOW, False)):
        for phrase in phrases:
            for said in (phrase, tr(phrase)):
                size = len(said.split())
                if list(words[:size]) != said.split():
                    continue
                size += size < len(words) and words[size] in _idle()
                number = _number(words[size]) if len(words) > size else None
                if number is not None:
                    return above, number, size + 1
    return None, None, 0


def _number(word: str) -> float | None:
    found = re.fullmatch(r"(-?\d+(?:[.,]\d+)?)(?:°|%|cm|s|ms)?", word)
    return float(found.group(1).replace(",", ".")) if found else None


def _usual(metric: Metric) -> str:
    """Where a measure is read when nothing is said: at the top where a range speaks of it there, else where one does,
    else over the whole swing."""
    judged = [moment for name, moment in ranges().places.values() if name == metric.id]
    return "top" if "top" in judged else next(iter(judged), "swing" if metric.chart is None else "top")


def _dated(words: Sequence[str], today: date) -> tuple[int, Known] | None:
    """``since 2026-11-01``, ``before 2026-12-01``, ``last 30 days``."""
    for template in DATED:
        for said in (template, tr(template)):
            taken, filled = _filled(said, words)
            day = _date(filled)
            if day is not None:
                label = " ".join(words[:taken])
                return taken, _period(label, day, None) if template == SINCE else _period(label, None, day)
    for template, each in LAST.items():
        for said in (template, tr(template)):
            taken, filled = _filled(said, words)
            days = int(filled) * each if filled.isdigit() else 0
            if 0 < days <= 36_500:
                label = " ".join(words[:taken])
                return taken, _period(label, today - timedelta(days=days), today + timedelta(days=1))
    return None


def _filled(template: str, words: Sequence[str]) -> tuple[int, str]:
    """How many words a template takes, and which of them fills it; empty where it does not fit."""
    parts = template.split()
    if len(words) < len(parts):
        return 0, ""
    fits = all(part == word or part.startswith("{") for part, word in zip(parts, words, strict=False))
    return len(parts), words[next(k for k, part in enumerate(parts) if part.startswith("{"))] if fits else ""


def _date(word: str) -> date | None:
    try:
        return date.fromisoformat(word)
    except ValueError:
        return None


def _idle() -> frozenset[str]:
    return IDLE | frozenset(words_of(tr(IDLE_ELSEWHERE)))


def words_of(text: str) -> list[str]:
    """In small letters, without what stands between them."""
    return [w.strip(".!?\"'“”") or w for w in WORD.findall(text.lower())]


def earlier(text: str) -> str:
    """The same question about the time before; empty where it names none that has one."""
    for now, before in (
        ("this month", "last month"),
        ("this week", "last week"),
        ("this year", "last year"),
        ("today", "yesterday"),
    ):
        for this, that in ((now, before), (tr(now), tr(before))):
            if re.search(rf"\b{this}\b", text, re.IGNORECASE):
                return re.sub(rf"\b{this}\b", that, text, count=1, flags=re.IGNORECASE)
    return ""


@lru_cache(maxsize=len(LANGUAGES))
def _measures(language: str) -> dict[str, Metric]:
    """By every name a measure has, in English and as the reader's ``language`` has it."""
    found: dict[str, Metric] = {}
    for metric in ALL:
        kept = (*texts_of(metric)[:2], metric.id.replace("_", " "), metric.id)
        for phrase in (metric.label, metric.plain_label, *kept):
            found.setdefault(" ".join(words_of(phrase)), metric)
    return found


@lru_cache(maxsize=len(LANGUAGES))
def _moments(language: str) -> dict[str, str]:
    """By every name a moment has, without what stands idle before it."""
    found = {"shaft level": "shaft_level_back", "arm level": "arm_level_back"}
    for checkpoint in ORDER:
        for said in (checkpoint.value.replace("_", " "), moment_words(checkpoint.value)):
            words = words_of(said)
            while len(words) > 1 and words[0] in _idle():
                words = words[1:]
            found.setdefault(" ".join(words), checkpoint.value)
    return found
