"""Swings across players and lessons that answer a question in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from statistics import median
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.services.errors import Refused
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.lesson.wording import leading
from finearc.services.people.clock import clock_of
from finearc.services.ports import Beyond, FoundRow, UnitOfWork, ValueRow, Wanted
from finearc.services.records import Instructor, Player, SavedSearch, now
from finearc.services.searching.words import IDLE, Terms, earlier, understood, vocabulary, words_of
from finearc.wording import tr

MOST = 200
"""So many of the newest swings are told (house value)."""
LONGEST_QUESTION = 300
MOST_PLAYERS = 12
"""So many of the players that a word means are named (house value)."""
MOST_SAVED = 60
"""Of one academy (house value)."""


@dataclass(frozen=True)
class FoundSwing:
    """``values``: of the columns, in their order, in the measures' units; None where there is none."""

    row: FoundRow
    findings: Sequence[str]
    values: Sequence[float | None]


@dataclass(frozen=True)
class FoundLesson:
    """The swings of one lesson that were found, in their order; ``medians``: of each column."""

    player: Player
    lesson_id: UUID
    on: date
    swings: Sequence[FoundSwing]
    medians: Sequence[float | None]


@dataclass(frozen=True)
class Found:
    """``columns``: metric and moment that were asked about; ``labels``: of findings, the field's and plain, by id;
    ``more``: whether older swings are left out; ``players``: named in the question, or holding its unknown words;
    ``before``: the same question about the time before, or empty."""

    text: str
    terms: Terms
    columns: Sequence[tuple[Metric, str]]
    lessons: Sequence[FoundLesson]
    labels: Mapping[str, tuple[str, str]]
    more: bool
    players: Sequence[tuple[UUID, str]]
    before: str

    @property
    def swings(self) -> list[FoundSwing]:
        return [s for lesson in self.lessons for s in lesson.swings]


def search(uow: UnitOfWork, text: str) -> Found:
    """Raises ``Refused``."""
    if len(text) > LONGEST_QUESTION:
        raise Refused(
            tr("the question is too long"), tr("At most {longest_question} letters", longest_question=LONGEST_QUESTION)
        )
    zone = clock_of(uow)
    named = uow.reads.players_named([w for w in words_of(text) if len(w) > 2 and w not in IDLE])
    rule_set = rule_set_of(uow)
    known = vocabulary(rule_set, uow.reads.tags(), named, now().astimezone(zone).date())
    terms = understood(text, known)
    rows = [] if terms.empty else uow.reads.find_swings(_wanted(terms, zone), MOST + 1)
    columns = [(BY_ID[m], k) for m, k in dict.fromkeys(terms.shown)]
    for finding in terms.findings:
        rule = rule_set.rule(finding)
        if rule is not None:
            metric, moment = leading(rule.when, rule_set.ranges)
            columns.append((BY_ID[metric], moment))
    columns = list(dict.fromkeys(columns))
    labels = {r.id: (r.label, r.plain_label) for r in rule_set.rules}
    asked = set(terms.players)
    return Found(
        " ".join(text.split()),
        terms,
        columns,
        _by_lesson(uow, rows[:MOST], columns, zone),
        labels,
        len(rows) > MOST,
        [(key, name) for key, name in named if key in asked][:MOST_PLAYERS],
        earlier(text),
    )


def _wanted(terms: Terms, zone: ZoneInfo) -> Wanted:
    def instant(day: date | None) -> datetime | None:
        return None if day is None else datetime.combine(day, time(), zone)

    return Wanted(
        terms.clubs,
        terms.findings,
        terms.tags,
        terms.players,
        terms.segments,
        [Beyond(b.metric.id, b.moment, b.above, b.value / PER_SI[b.metric.unit]) for b in terms.beyond],
        instant(terms.since),
        instant(terms.until),
    )


def _by_lesson(
    uow: UnitOfWork, rows: Sequence[FoundRow], columns: Sequence[tuple[Metric, str]], zone: ZoneInfo
) -> list[FoundLesson]:
    ids = [r.swing.id for r in rows]
    findings = uow.reads.findings_of(ids)
    values = uow.swings.values(ids, [(m.id, k) for m, k in columns]) if columns and ids else []
    at = {(v.swing_id, v.metric, v.moment): v for v in values}
    lessons: dict[UUID, list[FoundSwing]] = {}
    for r in rows:
        own = [_value(at.get((r.swing.id, m.id, k)), m) for m, k in columns]
        lessons.setdefault(r.lesson.id, []).append(FoundSwing(r, findings.get(r.swing.id, []), own))
    return [_lesson(swings, len(columns), zone) for swings in lessons.values()]


def _lesson(swings: Sequence[FoundSwing], columns: int, zone: ZoneInfo) -> FoundLesson:
    ordered = sorted(swings, key=lambda s: s.row.swing.number)
    first = ordered[0].row
    known = [[v for s in ordered if (v := s.values[k]) is not None] for k in range(columns)]
    day = first.lesson.starts_at.astimezone(zone).date()
    return FoundLesson(first.player, first.lesson.id, day, ordered, [median(v) if v else None for v in known])


def _value(row: ValueRow | None, metric: Metric) -> float | None:
    return None if row is None else PER_SI[metric.unit] * row.value


def save(uow: UnitOfWork, name: str, query: str) -> SavedSearch:
    """Keep a question under a name. Raises ``Refused``."""
    name, query = " ".join(name.split()), " ".join(query.split())
    if not name or not query:
        raise Refused(tr("a saved search has a name and a question"), tr("Say what it is called"))
    if len(query) > LONGEST_QUESTION:
        raise Refused(
            tr("the question is too long"), tr("At most {longest_question} letters", longest_question=LONGEST_QUESTION)
        )
    if len(uow.find(SavedSearch)) >= MOST_SAVED:
        raise Refused(
            tr("there are {most_saved} saved searches", most_saved=MOST_SAVED), tr("Remove those that are not used")
        )
    people = uow.find(Instructor, id=uow.by) if uow.by is not None else []
    made = SavedSearch(uow.academy_id, name, query, people[0].name if people else "")
    uow.add(made)
    uow.flush()
    return made


def saved(uow: UnitOfWork) -> list[SavedSearch]:
    """By name."""
    return uow.find(SavedSearch, order="name")
