"""An academy's hours, holidays and sensor sets: one typed document, one codec."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Literal
from uuid import UUID

from pydantic import TypeAdapter

from finearc.services.errors import Refused
from finearc.wording import tr

DAY_MINUTES = 24 * 60
OFFERED = (8 * 60, 20 * 60)
"""Where no hours are noted, free places are offered within these minutes of the day (house value)."""
MOST_SPANS, MOST_HOLIDAYS, MOST_SETS = 6, 200, 40
Hours = dict[int, list[tuple[int, int]]]
"""By weekday (Monday 0): stretches of minutes of the day; what lies between two is a break."""


@dataclass(frozen=True)
class Holiday:
    """Days, both included, on which nobody works, or one instructor does not."""

    first: date
    last: date
    name: str = ""
    instructor_id: UUID | None = None


@dataclass(frozen=True)
class DiaryDocument:
    """``hours`` of the academy, None where none are noted: then nothing is outside them; ``own_hours`` of instructors
    that keep others; ``setup_minutes`` between two lessons with markers in one bay."""

    hours: Hours | None = None
    own_hours: dict[UUID, Hours] = field(default_factory=dict)
    holidays: list[Holiday] = field(default_factory=list)
    sensor_sets: list[str] = field(default_factory=list)
    setup_minutes: int = 15
    lesson_minutes: int = 45
    version: Literal[1] = field(default=1)

    def hours_of(self, instructor_id: UUID | None) -> Hours | None:
        """An instructor's own hours, or the academy's."""
        return self.hours if instructor_id is None else self.own_hours.get(instructor_id, self.hours)


_SHAPE = TypeAdapter(DiaryDocument)


def written(document: DiaryDocument) -> str:
    """As it is kept."""
    return _SHAPE.dump_json(document).decode()


def read(kept: str) -> DiaryDocument:
    """As it was said."""
    return _SHAPE.validate_json(kept)


def refuse_unfit(document: DiaryDocument) -> None:
    """Raises ``Refused``: what is wrong, and what to do."""
    for hours in filter(None, (document.hours, *document.own_hours.values())):
        for day, spans in hours.items():
            _refuse_spans(day, spans)
    if len(document.holidays) > MOST_HOLIDAYS or len(document.sensor_sets) > MOST_SETS:
        raise Refused(tr("there are more holidays or sensor sets than an academy has"), tr("Take out what is over"))
    for holiday in document.holidays:
        if holiday.last < holiday.first:
            raise Refused(
                tr("the holiday {value} ends before it begins", value=holiday.name or holiday.first),
                tr("Turn its days round"),
            )
    if len(set(document.sensor_sets)) < len(document.sensor_sets):
        raise Refused(tr("two sensor sets have one name"), tr("Name each of them otherwise"))


def _refuse_spans(day: int, spans: list[tuple[int, int]]) -> None:
    if not 0 <= day <= 6 or len(spans) > MOST_SPANS:
        raise Refused(tr("hours are given by weekday, Monday 0 to Sunday 6, in at most six stretches"))
    last = 0
    for begins, ends in sorted(spans):
        if not last <= begins < ends <= DAY_MINUTES:
            raise Refused(
                tr("hours of one day overlap, or end before they begin"), tr("Give them in order, with breaks between")
            )
        last = ends
