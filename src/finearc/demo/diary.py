"""The demo's diary: hours, sensor sets, the weeks to come, who waits, courses of lessons, what was practised."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime, time, timedelta
from uuid import uuid4

from finearc.core.diary.spans import Span
from finearc.core.practice.changed import ticked
from finearc.core.practice.plan import Place, make_plan
from finearc.services.diary import booking, packages, waiting
from finearc.services.diary.busy import AHEAD, BusyRead, keep_busy
from finearc.services.diary.document import DiaryDocument, Holiday, written
from finearc.services.diary.hours import held_rules
from finearc.services.diary.records import Waiting
from finearc.services.errors import Clash, Outside
from finearc.services.ports import UnitOfWork
from finearc.services.practice.document import (
    Answer,
    AnswerKind,
    PracticeDocument,
    Wishes,
    answer_written,
    written as practice_written,
)
from finearc.services.practice.plans import asked_of
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.records import Instructor, Lesson, Player, now

WORKDAY = [(8 * 60 + 30, 13 * 60), (14 * 60, 19 * 60)]
SETS = ["Grey case", "Blue case"]
WEEK = (
    # player, instructor, days from Monday, time, bay, sensor set, markers
    ("Ilse Marrow", 0, 0, time(9), "Bay 1", "Grey case", False),
    ("Corin Hale", 0, 0, time(10), "Bay 1", "", True),
    ("Tobin Askew", 1, 0, time(9, 30), "Bay 3", "", False),
    ("Wenna Larkspur", 1, 1, time(15), "Bay 2", "Blue case", False),
    ("Halle Brandreth", 0, 2, time(11, 30), "Bay 1", "", False),
    ("Tobin Askew", 1, 3, time(10), "Bay 3", "", False),
    ("Ilse Marrow", 0, 4, time(16), "Bay 1", "Grey case", False),
)
PRACTISED = ("Ilse Marrow", "Halle Brandreth")
"""With a practice plan that ends before today's lesson: a retest is due."""


def fill_diary(uow: UnitOfWork, players: Mapping[str, Player], staff: Sequence[Instructor]) -> None:
    """What stands in the diary beside today's lessons, by the same path as anybody's."""
    day = now().date()
    monday = day - timedelta(days=day.weekday()) + timedelta(weeks=1)
    hours = {k: WORKDAY for k in range(5)} | {5: [(9 * 60, 13 * 60)]}
    held_rules(uow).document = written(
        DiaryDocument(hours, {}, [Holiday(monday + timedelta(days=5), monday + timedelta(days=5), "Harbour day")], SETS)
    )
    for name in ("Ilse Marrow", "Wenna Larkspur"):
        packages.add_package(uow, players[name].id, "Winter clinic", 6, staff[0].name)
    for name, who, days, at, bay, sensors, markers in WEEK:
        _book(
            uow,
            players[name],
            staff[who],
            datetime.combine(monday + timedelta(days=days), at, UTC),
            bay,
            sensors,
            markers,
        )
    wednesday = datetime.combine(monday + timedelta(days=2), time(14), UTC)
    busy = BusyRead([Span(wednesday, wednesday + timedelta(hours=3))], now() + AHEAD, [])
    keep_busy(uow, staff[1].id, "Choir", busy)
    wish = Waiting(
        uow.academy_id,
        players["Corin Hale"].id,
        staff[0].id,
        monday,
        monday + timedelta(days=13),
        [0, 2],
        9 * 60,
        12 * 60,
        45,
        "Mornings only.",
        staff[0].name,
    )
    waiting.add_waiting(uow, wish)
    for name in PRACTISED:
        _practised(uow, players[name], day)


def _book(
    uow: UnitOfWork, player: Player, who: Instructor, at: datetime, bay: str, sensors: str, markers: bool
) -> None:
    asked = booking.Asked(player.id, who.id, bay, at, 45, "7-iron", sensors, markers, anyway=True)
    try:
        booking.book(uow, asked)
    except (Clash, Outside):  # a lesson of the clinic stands there already
        return


def _practised(uow: UnitOfWork, player: Player, today: date) -> None:
    """A plan from the last lesson until yesterday, most of it ticked."""
    lessons = uow.find(Lesson, player_id=player.id, status="closed", order="-starts_at")
    first = lessons[0].starts_at.date() + timedelta(days=1)
    last = max(today - timedelta(days=1), first + timedelta(days=2))
    wishes = Wishes(first, last, {k: 20 for k in range(7)}, Place.GARAGE)
    plan = make_plan(asked_of(uow, lessons[0], wishes))
    kept = PracticePlan(uow.academy_id, lessons[0].id, player.id, "", "")
    for k, block in enumerate(plan.blocks[:-1]):
        plan = ticked(plan, block.number, done=True)
        at = datetime.combine(block.day, time(18), UTC)
        for kind, feel in ((AnswerKind.DONE, None), (AnswerKind.FELT, 2 + min(k, 2))):
            said = answer_written(Answer(block.number, block.day, block.minutes, feel))
            uow.add(
                PracticeAnswer(uow.academy_id, lessons[0].id, player.id, kept.id, str(uuid4()), kind.value, said, at)
            )
    kept.document = practice_written(PracticeDocument(wishes, plan))
    uow.add(kept)
