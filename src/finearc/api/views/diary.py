"""The diary as responses; all times by the academy's clock."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from datetime import date
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.api import models as m
from finearc.core.diary.places import Place
from finearc.services.diary.document import DiaryDocument, written
from finearc.services.diary.packages import PackageRead
from finearc.services.diary.pages import DiaryRow, DiarySpan
from finearc.services.diary.records import BusyCalendar, CalendarFeed
from finearc.services.diary.waiting import WaitingRead
from finearc.services.records import Instructor
from finearc.services.revisions import revision_of


def course_out(read: PackageRead) -> m.CourseOut:
    """A course of lessons."""
    p = read.package
    return m.CourseOut(id=p.id, name=p.name, lessons=p.lessons, used=read.used, booked=read.booked, left=read.left)


def slot_out(row: DiaryRow, courses: Mapping[UUID, PackageRead], zone: ZoneInfo) -> m.SlotOut:
    """A lesson in its place."""
    lesson = row.lesson
    course = courses.get(lesson.package_id) if lesson.package_id is not None else None
    return m.SlotOut(
        id=lesson.id,
        starts_at=lesson.starts_at.astimezone(zone),
        ends_at=lesson.ends_at.astimezone(zone),
        status=lesson.status,
        bay=lesson.bay,
        instructor_id=row.instructor.id,
        instructor=row.instructor.name,
        player_id=row.player.id,
        player=row.player.name or "Walk-in",
        sensor_set=lesson.sensor_set,
        markers=lesson.markers,
        in_row=lesson.series_id is not None,
        cancel_reason=lesson.cancel_reason,
        course=None if course is None else course_out(course),
    )


def places_out(places: Iterable[Place], people: Iterable[Instructor], zone: ZoneInfo) -> list[m.PlaceOut]:
    """Free places."""
    names = {str(i.id): i.name for i in people}
    return [
        m.PlaceOut(
            starts_at=p.span.begins.astimezone(zone),
            ends_at=p.span.ends.astimezone(zone),
            instructor_id=UUID(p.instructor),
            instructor=names.get(p.instructor, ""),
            bay=p.bay,
        )
        for p in places
    ]


def holidays_out(rules: DiaryDocument) -> list[m.HolidayIn]:
    """Holidays as they were said."""
    return [m.HolidayIn(first=h.first, last=h.last, name=h.name, instructor_id=h.instructor_id) for h in rules.holidays]


def rules_out(rules: DiaryDocument) -> m.DiaryRulesOut:
    """Hours, holidays, sensor sets."""
    return m.DiaryRulesOut(
        hours=rules.hours,
        own_hours=[m.OwnHours(instructor_id=k, hours=hours) for k, hours in rules.own_hours.items()],
        holidays=holidays_out(rules),
        sensor_sets=rules.sensor_sets,
        setup_minutes=rules.setup_minutes,
        lesson_minutes=rules.lesson_minutes,
        revision=revision_of(json.loads(written(rules))),
    )


def span_out(read: DiarySpan, zone: ZoneInfo, first: date, last: date, today: date) -> m.DiarySpanOut:
    """Some days of the diary."""
    return m.DiarySpanOut(
        first=first,
        last=last,
        today=today,
        time_zone=zone.key,
        lessons=[slot_out(r, read.courses, zone) for r in read.rows],
        busy=[
            m.BusyOut(
                instructor_id=b.instructor_id,
                begins=b.span.begins.astimezone(zone),
                ends=b.span.ends.astimezone(zone),
                calendar=b.calendar,
            )
            for b in read.busy
        ],
        open=[
            m.StretchOut(instructor_id=k, begins=s.begins.astimezone(zone), ends=s.ends.astimezone(zone))
            for k, spans in read.open.items()
            for s in spans
        ],
        holidays=holidays_out(read.rules),
        instructors=[m.PersonOut(id=i.id, name=i.name) for i in read.instructors],
        bays=list(read.bays),
        sensor_sets=read.rules.sensor_sets,
        lesson_minutes=read.rules.lesson_minutes,
    )


def waiting_out(read: WaitingRead, people: Iterable[Instructor], zone: ZoneInfo) -> m.WaitingOut:
    """Who waits."""
    w = read.waiting
    return m.WaitingOut(
        id=w.id,
        player_id=w.player_id,
        player=read.player.name or "Walk-in",
        instructor_id=w.instructor_id,
        first=w.first,
        last=w.last,
        weekdays=w.weekdays,
        from_minute=w.from_minute,
        until_minute=w.until_minute,
        minutes=w.minutes,
        note=w.note,
        made_at=w.made_at,
        places=places_out(read.places, people, zone),
    )


def calendar_out(c: BusyCalendar, zone: ZoneInfo) -> m.CalendarOut:
    """A calendar file that was brought."""
    return m.CalendarOut(
        id=c.id,
        instructor_id=c.instructor_id,
        name=c.name,
        times=len(c.spans),
        until=c.until.astimezone(zone),
        remarks=c.remarks,
    )


def feed_out(f: CalendarFeed) -> m.FeedOut:
    """A link with which a calendar follows."""
    return m.FeedOut(id=f.id, instructor_id=f.instructor_id, made_at=f.made_at, used_at=f.used_at)
