"""What is taken, from the lessons and busy times that are kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.core.diary.places import Clashing, Kind, Resource, Taken
from finearc.core.diary.spans import Span
from finearc.services.diary.records import BusyCalendar
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, Player
from finearc.wording import time_words, tr

LONGEST = timedelta(minutes=240)
STANDING = ("planned", "running")
"""Lessons that keep their place: one that is closed, cancelled or not come to gives it back."""


def resources_of(instructor_id: UUID, bay: str, player_id: UUID, sensor_set: str) -> frozenset[Resource]:
    """What a lesson takes."""
    out = {
        Resource(Kind.INSTRUCTOR, str(instructor_id)),
        Resource(Kind.BAY, bay),
        Resource(Kind.PLAYER, str(player_id)),
    }
    return frozenset(out | ({Resource(Kind.SENSORS, sensor_set)} if sensor_set else set()))


def taken_between(uow: UnitOfWork, span: Span, but: Sequence[UUID] = ()) -> list[Taken]:
    """What is taken within a stretch and a little around it, but for some lessons."""
    near = uow.find(
        Lesson, starts_at__from=span.begins - 2 * LONGEST, starts_at__until=span.ends + LONGEST, status=list(STANDING)
    )
    out = [taken_by(x) for x in near if x.id not in but]
    for calendar in uow.find(BusyCalendar):
        who = frozenset({Resource(Kind.INSTRUCTOR, str(calendar.instructor_id))})
        for begins, ends in calendar.spans:
            busy = Span(datetime.fromisoformat(begins), datetime.fromisoformat(ends))
            if busy.meets(span.wider(LONGEST)):
                out.append(Taken(busy, who))
    return out


def taken_by(lesson: Lesson) -> Taken:
    """What a lesson takes, and when."""
    resources = resources_of(lesson.instructor_id, lesson.bay, lesson.player_id, lesson.sensor_set)
    return Taken(
        Span(lesson.starts_at.astimezone(UTC), lesson.ends_at.astimezone(UTC)),
        resources,
        str(lesson.id),
        lesson.markers,
    )


@dataclass(frozen=True)
class Names:
    """Names of people, for what is said of them."""

    instructors: dict[str, str]
    players: dict[str, str]

    @staticmethod
    def of(uow: UnitOfWork, players: Sequence[UUID]) -> Names:
        people = {str(i.id): i.name for i in uow.find(Instructor)}
        return Names(people, {str(p.id): p.name or "Walk-in" for p in uow.find(Player, id=list(players))})

    def say(self, resource: Resource) -> str:
        """One that is taken, by name."""
        known = {Kind.INSTRUCTOR: self.instructors, Kind.PLAYER: self.players}.get(resource.kind, {})
        return known.get(resource.key, resource.key)


def clash_words(found: Clashing, names: Names, zone: ZoneInfo, setup_minutes: int) -> tuple[str, str]:
    """What is taken, and when."""
    begins, ends = (t.astimezone(zone) for t in found.taken.span)
    when = tr("from {begins} to {ends}", begins=time_words(begins), ends=time_words(ends))
    if not found.shared:
        return tr("The bay"), tr(
            "with markers {when}, and needs {setup_minutes} minutes to be set up",
            when=when,
            setup_minutes=setup_minutes,
        )
    order = list(Kind)
    said = tr(" and ").join(names.say(r) for r in sorted(found.shared, key=lambda r: order.index(r.kind)))
    return said, when
