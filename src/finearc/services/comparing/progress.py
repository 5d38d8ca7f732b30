"""A player's progress in one measure: what each lesson's swings say, what happened when, and one sentence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Literal
from uuid import UUID
from zoneinfo import ZoneInfo

import numpy as np

from finearc.catalogue.library import clubs, schools
from finearc.core.comparing.change import ChangeVerdict
from finearc.core.comparing.progress import LessonValues, Progress, progress
from finearc.core.comparing.retention import Left
from finearc.core.judging.putt_row import distance_words
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import amount, at_moment
from finearc.services.comparing.by_distance import commonest, level_of
from finearc.services.errors import Refused
from finearc.services.judging.academy_rules import academy_rules_of, rule_set_of
from finearc.services.lesson.summary import counts
from finearc.services.lesson.wording import leading
from finearc.services.people.clock import clock_of
from finearc.services.ports import CourseRow, UnitOfWork
from finearc.services.record.shown import GOOD
from finearc.services.records import Block, Lesson, MovementLimit, Player, Priority, Recording, Swing
from finearc.wording import mark, tr, trn

FOLLOWED = ("lead_wrist_extension", "top")
"""Followed first where nothing was a priority (house value)."""
NEWEST = 60
"""Among so many of the newest swings one that counts is looked for (house value)."""
EventKind = Literal["priority", "drill", "school", "limit", "sensors", "club"]
DAY_S = 86_400.0
KEPT = {
    Left.KEPT: mark("kept"),
    Left.PART: mark("kept in part"),
    Left.LOST: mark("lost again"),
    Left.UNCERTAIN: mark("not told apart"),
}


@dataclass(frozen=True)
class Happened:
    """Something that may bear on the course."""

    on: date
    kind: EventKind
    says: str


@dataclass(frozen=True)
class Point:
    """One lesson, in the measure's unit: middle and middle half of its counting swings before training, their number
    and scatter (None of fewer than three), the middle of its tests, what was left in it of the test before, and the
    ``values`` themselves."""

    lesson_id: UUID
    on: date
    swings: int
    median: float
    low: float
    high: float
    sd: float | None
    test: float | None
    kept: str
    values: Sequence[float] = ()


@dataclass(frozen=True)
class ProgressRead:
    """``found``: in the measure's unit; ``low``, ``high``: the limits by which the latest swing was judged;
    ``offered``: metric, moment and club of what else there is to follow; ``sentence``: what is to be said of it, in
    terms, and plainly."""

    metric: Metric
    moment: str
    club: str
    points: Sequence[Point]
    found: Progress
    low: float | None
    high: float | None
    events: Sequence[Happened]
    offered: Sequence[tuple[str, str, str]]
    sentence: str
    plain_sentence: str


def player_progress(
    uow: UnitOfWork, player: Player, metric: str = "", moment: str = "", club: str = ""
) -> ProgressRead | None:
    """Of one measure, or of the newest measured priority, or of what else was measured; None where nothing was and none
    is named. Raises ``Refused``."""
    lessons = uow.find(Lesson, player_id=player.id, order="starts_at")
    ids = [x.id for x in lessons]
    priorities = uow.find(Priority, lesson_id=ids, order="rank") if ids else []
    offered = list(dict.fromkeys([*_offered(uow, lessons, priorities), *_measured(uow, player)]))
    if metric:
        if metric not in BY_ID or not moment:
            raise Refused(
                tr('there is no measure "{metric}" at "{moment}"', metric=metric, moment=moment),
                tr("Choose one of the list"),
            )
        key = (metric, moment, club or (lessons[-1].club if lessons else ""))
    elif offered:
        key = offered[0]
    else:
        return None
    measured = BY_ID[key[0]]
    zone = clock_of(uow)
    rows = uow.swings.course(player.id, key[2], key[0], key[1])
    far = commonest(level_of(r) for r in rows)
    rows = [r for r in rows if far is None or level_of(r) == far]
    by_lesson: dict[UUID, list[CourseRow]] = {}
    for row in rows:
        by_lesson.setdefault(row.lesson_id, []).append(row)
    read = [(x, _values(by_lesson[x.id], measured), x.starts_at) for x in lessons if x.id in by_lesson]
    held = [(x, replace(v, day=at.timestamp() / DAY_S)) for x, v, at in read if v is not None]
    found = progress([v for _, v in held], measured.smallest_relevant)
    points = [_point(x, v, k, zone) for (x, v), k in zip(held, _kept(found), strict=True)]
    low, high = (None if edge is None else measured.at_edge(edge) for edge in (rows[-1][2:4] if rows else (None, None)))
    putted = "" if far is None else tr(" Putts from {distance_words} alone.", distance_words=distance_words(far))
    said = [_sentence(measured, key[1], points, found, plain=plain) + putted for plain in (False, True)]
    events = _events(uow, player, [x for x, _ in held], priorities, zone)
    return ProgressRead(measured, key[1], key[2], points, found, low, high, events, offered, said[0], said[1])


def _values(rows: Sequence[CourseRow], metric: Metric) -> LessonValues | None:
    """A lesson of tests alone has nothing from before; the day is not set."""
    per = PER_SI[metric.unit]
    tests = [r for r in rows if r.kind == "test"]
    first = min((r.captured_at for r in tests), default=None)
    before = [r for r in rows if r.kind != "test" and (first is None or r.captured_at < first)]
    if not before:
        return None
    last = [r for r in tests if r.block_id == tests[-1].block_id] if tests else []
    return LessonValues(
        0.0,
        [per * r.value for r in before],
        [per * r.value for r in last],
        per * max(r.calibration_part for r in before),
        per * max(max(0.0, r.uncertainty**2 - r.calibration_part**2) ** 0.5 for r in before),
    )


def _kept(found: Progress) -> list[str]:
    return [tr(KEPT.get(k.left, "")) if k is not None else "" for k in found.kept]


def _point(lesson: Lesson, values: LessonValues, kept: str, zone: ZoneInfo) -> Point:
    low, median, high = (float(q) for q in np.percentile(values.before, (25, 50, 75)))
    n = len(values.before)
    sd = float(np.std(values.before, ddof=1)) if n > 2 else None
    test = float(np.median(values.test)) if values.test else None
    return Point(lesson.id, _day(lesson.starts_at, zone), n, median, low, high, sd, test, kept, values.before)


def _day(moment: datetime, zone: ZoneInfo) -> date:
    return moment.astimezone(zone).date()


def _offered(uow: UnitOfWork, lessons: Sequence[Lesson], priorities: Sequence[Priority]) -> list[tuple[str, str, str]]:
    """Measure, moment and club of what has been a priority, the newest first."""
    rules = academy_rules_of(uow)
    found: dict[tuple[str, str, str], None] = {}
    for lesson in reversed(lessons):
        own = [p for p in priorities if p.lesson_id == lesson.id and p.finding]
        rule_set = rule_set_of(uow, lesson, rules=rules) if own else None
        for p in own:
            rule = rule_set.rule(p.finding) if rule_set is not None else None
            if rule is not None and rule_set is not None:
                metric, moment = leading(rule.when, rule_set.ranges)
                found[metric, moment, lesson.club] = None
    return list(found)


def _measured(uow: UnitOfWork, player: Player) -> list[tuple[str, str, str]]:
    """What is looked at first of all was measured in the newest swing that counts: it can be followed too."""
    newest = next(
        (s for s in uow.find(Swing, player_id=player.id, order="-captured_at", most=NEWEST) if counts(s)), None
    )
    if newest is None:
        return []
    there = {(r.metric, r.moment) for r in uow.swings.values([newest.id], GOOD)}
    return [(*key, newest.club) for key in sorted(GOOD, key=lambda k: k != FOLLOWED) if key in there]


def _sentence(metric: Metric, moment: str, points: Sequence[Point], found: Progress, *, plain: bool) -> str:
    """Claims no more than the numbers do."""
    change = found.change
    if change is None or not points:
        return tr("One lesson so far: from the next one on it is seen what changes.")
    per = PER_SI[metric.unit]

    def words(value: float) -> str:
        return at_moment(metric, moment, value / per, plain=plain)

    weeks = round((points[-1].on - points[0].on).days / 7)
    over = trn("over {count} week", "over {count} weeks", weeks) if weeks else tr("within a week")
    then, now = words(change.before.median), words(change.after.median)
    least = amount(metric, metric.smallest_relevant / per)
    told = {
        ChangeVerdict.CHANGED: tr("A real change {over}: from {then} to {now}.", over=over, then=then, now=now),
        ChangeVerdict.UNCHANGED: tr("No change that matters {over}: less than {least}.", over=over, least=least),
        ChangeVerdict.NOT_DISTINGUISHABLE: tr(
            "Not to be told from scatter {over}: {then} then, {now} now.", over=over, then=then, now=now
        ),
        ChangeVerdict.TOO_FEW: tr("Too few swings in a lesson to tell: three of each are needed."),
    }[change.verdict]
    steady = found.steadiness
    if steady is not None and steady.changed:
        how = tr("Steadier") if steady.last < steady.first else tr("Less steady")
        now_sd, then_sd = amount(metric, steady.last / per), amount(metric, steady.first / per)
        told += tr(" {how} within a lesson: ± {now_sd}, ± {then_sd} at first.", how=how, now_sd=now_sd, then_sd=then_sd)
    return told


def _events(
    uow: UnitOfWork, player: Player, lessons: Sequence[Lesson], priorities: Sequence[Priority], zone: ZoneInfo
) -> list[Happened]:
    """What was new in each lesson after the one before it."""
    ids = [x.id for x in lessons]
    drills = uow.find(Block, lesson_id=ids, kind="drill", order="started_at") if ids else []
    worn = uow.find(Recording, lesson_id=ids, order="number") if ids else []
    rules = academy_rules_of(uow)
    out: list[Happened] = []
    before: Lesson | None = None
    for lesson in lessons:
        on = _day(lesson.starts_at, zone)
        labels = {d.id: d.label for d in rule_set_of(uow, lesson, rules=rules).drills.values()}
        own = [p.label for p in priorities if p.lesson_id == lesson.id]
        known = [p.label for p in priorities if before is not None and p.lesson_id == before.id]
        out += [Happened(on, "priority", tr(label)) for label in own if label not in known]
        names = dict.fromkeys(labels.get(b.drill, "") for b in drills if b.lesson_id == lesson.id)
        out += [Happened(on, "drill", name) for name in names if name]
        if before is not None:
            out += [Happened(on, "school", s) for s in _schools(before.schools, lesson.schools)]
            if before.club != lesson.club:
                out.append(Happened(on, "club", clubs()[lesson.club].label if lesson.club in clubs() else lesson.club))
            sets = [{s for r in worn if r.lesson_id == x.id for s in r.segments} for x in (before, lesson)]
            if sets[0] != sets[1] and sets[1]:
                out.append(Happened(on, "sensors", tr("other sensors")))
        before = lesson
    limits = uow.find(MovementLimit, player_id=player.id)
    out += [
        Happened(x.from_date, "limit", tr("limit: {area} {movement}", area=x.area, movement=x.movement).strip())
        for x in limits
        if x.from_date
    ]
    return sorted(out, key=lambda e: e.on)


def _schools(before: Mapping[str, str] | None, now: Mapping[str, str] | None) -> list[str]:
    """Options that are other than before, in words."""
    known = schools()
    changed = [k for k in known if before and now and k in now and before.get(k) != now[k]]
    return [next((o.label for o in known[k].options if now and o.id == now[k]), "") for k in changed]
