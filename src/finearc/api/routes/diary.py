"""The diary: who is where when; booking, moving, waiting; hours; other calendars; courses of lessons."""

from __future__ import annotations

import json
from datetime import date, datetime, timedelta
from typing import Annotated
from uuid import UUID
from zoneinfo import ZoneInfo

from fastapi import APIRouter, Path, Query, Request, Response, UploadFile

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.importing import uploaded
from finearc.api.revisions import SeenRevision
from finearc.api.views import diary as views, people
from finearc.catalogue.reason import YEARS
from finearc.formats.calendar import lessons_calendar, read_busy
from finearc.services.diary import booking, busy, packages, pages, waiting
from finearc.services.diary.document import DiaryDocument, Holiday, read, refuse_unfit, written
from finearc.services.diary.hours import held_rules, rules_of
from finearc.services.diary.places import Around, apart, places_around, suggest
from finearc.services.diary.records import BusyCalendar, CalendarFeed, Package, Waiting
from finearc.services.errors import NotFound
from finearc.services.people import clock, pages as player_pages
from finearc.services.people.staff import teachers
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, now
from finearc.services.revisions import refuse_overtaken
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["diary"])
fed = APIRouter(route_class=DoorRoute, tags=["diary"])
Day = Annotated[date, Query(ge=date(YEARS[0], 1, 1), le=date(YEARS[1], 12, 31))]
Days = Annotated[int, Query(ge=1, le=42)]
Token = Annotated[str, Path(max_length=100)]
LARGEST_CALENDAR = 4_000_000


@router.get("/diary")
def diary(uow: UnitOfWorkDep, day: Day | None = None) -> m.Diary:
    """The lessons of a day, by time, with what to know before each; those that were cancelled are not among them."""
    zone = clock.clock_of(uow)
    today = clock.today(zone)
    found = player_pages.diary_page(uow, *clock.day_span(day or today, zone))
    standing = [x for x in found if x.row.lesson.status != booking.CANCELLED]
    before = pages.before_of(uow, [x.row for x in standing])
    courses = pages.courses_of(uow, [x.row for x in standing])
    is_today = day in (None, today)
    return m.Diary(
        day=day or today,
        today=today,
        time_zone=zone.key,
        lessons=[people.diary_entry(x, zone, before.get(x.row.lesson.id), courses) for x in standing],
        instructors=[m.InstructorBrief(id=i.id, name=i.name) for i in teachers(uow)],
        bays=player_pages.bays(uow),
        free=_free_today(uow, today, zone) if is_today else [],
        left_open=[
            m.LeftOpenOut(
                id=r.lesson.id,
                starts_at=r.lesson.starts_at.astimezone(zone),
                player=r.player.name or "Walk-in",
                status=r.lesson.status,
            )
            for r in (pages.left_open(uow, today, zone) if is_today else [])
        ],
    )


def _free_today(uow: UnitOfWork, today: date, zone: ZoneInfo) -> list[m.PlaceOut]:
    """The places that are left of today, none where no hours are noted: nobody knows then when the day ends."""
    rules = rules_of(uow)
    if rules.hours is None and not rules.own_hours:
        return []
    left = clock.day_span(today, zone)[1] - now()
    found = places_around(uow, Around(None, None, None, "", rules.lesson_minutes), now(), most=40, far=left)
    return views.places_out(apart(found), teachers(uow), zone)


@router.get("/diary/span")
def diary_span(uow: UnitOfWorkDep, first: Day | None = None, days: Days = 7) -> m.DiarySpanOut:
    """Some days from ``first`` on; else from the present week's Monday."""
    zone = clock.clock_of(uow)
    today = clock.today(zone)
    begins = first or today - timedelta(days=today.weekday())
    last = begins + timedelta(days=days - 1)
    return views.span_out(pages.span_page(uow, begins, last), zone, begins, last, today)


@router.get("/diary/places")
def free_places(
    uow: UnitOfWorkDep,
    minutes: Annotated[int, Query(ge=10, le=240)] = 45,
    after: datetime | None = None,
    instructor_id: UUID | None = None,
    player_id: UUID | None = None,
    bay: Annotated[str | None, Query(max_length=60)] = None,
) -> list[m.PlaceOut]:
    """The next free places; a time without a zone is by the academy's clock."""
    zone = clock.clock_of(uow)
    begins = now() if after is None else clock.instant_of(after, zone)
    found = places_around(uow, Around(instructor_id, bay, player_id, "", minutes), begins)
    return views.places_out(found, teachers(uow), zone)


@router.get("/diary/rules")
def diary_rules(uow: UnitOfWorkDep) -> m.DiaryRulesOut:
    """Working hours, holidays, sensor sets."""
    return views.rules_out(rules_of(uow))


@router.put("/diary/rules")
def set_diary_rules(body: m.DiaryRulesIn, seen: SeenRevision, uow: UnitOfWorkDep) -> m.DiaryRulesOut:
    """Change them. Lessons that are booked stay where they are."""
    held = held_rules(uow)
    refuse_overtaken(uow, seen, tr("the diary's hours"), held.id, json.loads(held.document))
    for own in body.own_hours:
        uow.get(Instructor, own.instructor_id)
    document = DiaryDocument(
        body.hours,
        {own.instructor_id: own.hours for own in body.own_hours},
        [Holiday(h.first, h.last, h.name, h.instructor_id) for h in body.holidays],
        [" ".join(s.split()) for s in body.sensor_sets],
        body.setup_minutes,
        body.lesson_minutes,
    )
    refuse_unfit(document)
    held.document = written(document)
    uow.flush()
    return views.rules_out(read(held.document))


def _asked(body: m.BookIn, starts_at: datetime) -> booking.Asked:
    return booking.Asked(
        body.player_id,
        body.instructor_id,
        body.bay,
        starts_at,
        body.minutes,
        body.club,
        body.sensor_set,
        body.markers,
        body.anyway,
    )


def _entry(uow: UnitOfWork, lesson: Lesson, zone: ZoneInfo) -> m.DiaryEntry:
    found = player_pages.diary_entry(uow, lesson)
    courses = pages.courses_of(uow, [found.row])
    return people.diary_entry(found, zone, pages.before_of(uow, [found.row]).get(lesson.id), courses)


@router.post("/lessons", status_code=201)
def book(body: m.BookIn, uow: UnitOfWorkDep) -> m.DiaryEntry:
    """Book a lesson: no instructor, bay, sensor set or player is in two places. What clashes is said, with the next
    free places (``places``). Whoever waited for one waits no longer."""
    zone = clock.clock_of(uow)
    lesson = booking.book(uow, _asked(body, clock.instant_of(body.starts_at, zone)))
    waiting.served(uow, lesson.player_id)
    return _entry(uow, lesson, zone)


@router.post("/lessons/rows", status_code=201)
def book_row(body: m.RowIn, uow: UnitOfWorkDep) -> m.RowOut:
    """Book a lesson every so many weeks at the same time on the wall; those that have no place are not booked, and it
    is said why."""
    zone = clock.clock_of(uow)
    wall = body.starts_at if body.starts_at.tzinfo is None else body.starts_at.astimezone(zone).replace(tzinfo=None)
    first = clock.instant_of(wall, zone)
    made = booking.book_row(uow, _asked(body, first), wall, body.every_weeks, body.until)
    if made.booked:
        waiting.served(uow, body.player_id)
    found = [player_pages.diary_entry(uow, x).row for x in made.booked]
    courses = pages.courses_of(uow, found)
    return m.RowOut(
        booked=[views.slot_out(r, courses, zone) for r in found],
        not_booked=[m.NotBookedOut(at=x.wall.replace(tzinfo=zone), why=x.why) for x in made.not_booked],
    )


@router.post("/lessons/{lesson_id}/moved")
def move_lesson(lesson_id: UUID, body: m.MoveIn, uow: UnitOfWorkDep) -> m.DiaryEntry:
    """Put a lesson at another time, with another instructor, in another bay, with another sensor set."""
    zone = clock.clock_of(uow)
    at = None if body.starts_at is None else clock.instant_of(body.starts_at, zone)
    to = booking.Move(at, body.minutes, body.instructor_id, body.bay, body.sensor_set, body.markers, body.anyway)
    return _entry(uow, booking.move(uow, lesson_id, to), zone)


@router.post("/lessons/{lesson_id}/cancelled")
def cancel_lesson(lesson_id: UUID, body: m.CancelIn, uow: UnitOfWorkDep) -> m.DiaryEntry:
    """It does not take place, with the reason; its place is offered to those who wait."""
    return _entry(uow, booking.cancel(uow, lesson_id, body.reason), clock.clock_of(uow))


@router.post("/lessons/{lesson_id}/no-show")
def no_show(lesson_id: UUID, uow: UnitOfWorkDep) -> m.DiaryEntry:
    """The player did not come."""
    return _entry(uow, booking.note_no_show(uow, lesson_id), clock.clock_of(uow))


@router.post("/lessons/{lesson_id}/reinstated")
def reinstate(lesson_id: UUID, uow: UnitOfWorkDep) -> m.DiaryEntry:
    """A cancelled lesson, or one not come to, is planned again where its place is still free."""
    return _entry(uow, booking.reinstate(uow, lesson_id), clock.clock_of(uow))


@router.get("/waiting")
def who_waits(uow: UnitOfWorkDep) -> list[m.WaitingOut]:
    """Who waits, the first to come first, each with the free places that would suit."""
    return _waiting(uow)


def _waiting(uow: UnitOfWork) -> list[m.WaitingOut]:
    zone, staff = clock.clock_of(uow), teachers(uow)
    return [views.waiting_out(w, staff, zone) for w in waiting.waiting_list(uow)]


@router.post("/waiting", status_code=201)
def wait(body: m.WaitingIn, uow: UnitOfWorkDep, who: WhoDep) -> list[m.WaitingOut]:
    """Somebody who would take a place that becomes free."""
    by = uow.get(Instructor, who.instructor_id).name
    waiting.add_waiting(uow, Waiting(uow.academy_id, **body.model_dump(), made_by=by))
    return _waiting(uow)


@router.delete("/waiting/{waiting_id}")
def wait_no_more(waiting_id: UUID, uow: UnitOfWorkDep) -> list[m.WaitingOut]:
    """They wait no longer."""
    uow.remove(uow.get(Waiting, waiting_id))
    return _waiting(uow)


@router.get("/calendars")
def calendars(uow: UnitOfWorkDep) -> m.CalendarsOut:
    """What comes in from other calendars, and the links with which others follow."""
    return _calendars(uow)


def _calendars(uow: UnitOfWork) -> m.CalendarsOut:
    zone = clock.clock_of(uow)
    return m.CalendarsOut(
        busy=[views.calendar_out(c, zone) for c in uow.find(BusyCalendar, order="name")],
        feeds=[views.feed_out(f) for f in uow.find(CalendarFeed, order="made_at")],
    )


@router.post("/instructors/{instructor_id}/busy", status_code=201, max_body_size=LARGEST_CALENDAR)
def bring_busy(instructor_id: UUID, file: UploadFile, uow: UnitOfWorkDep) -> m.CalendarsOut:
    """The times of a calendar file (RFC 5545) as times the instructor is busy; nothing else of it is kept."""
    name, content = uploaded(file, "calendar.ics")
    found = read_busy(name, content, clock.clock_of(uow), busy.horizon())
    busy.keep_busy(uow, instructor_id, name.removesuffix(".ics"), found)
    return _calendars(uow)


@router.delete("/calendars/{calendar_id}")
def drop_busy(calendar_id: UUID, uow: UnitOfWorkDep) -> m.CalendarsOut:
    """Busy no longer by this calendar."""
    uow.remove(uow.get(BusyCalendar, calendar_id))
    return _calendars(uow)


@router.post("/instructors/{instructor_id}/feeds", status_code=201)
def make_feed(instructor_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.FeedMade:
    """A private link with which a calendar follows the instructor's lessons. It is shown this once."""
    token, made = busy.make_feed(uow, instructor_id)
    s.seen.security("calendar_feed", what="made", id=str(made.id), person=str(who.instructor_id))
    return m.FeedMade(**views.feed_out(made).model_dump(), path=f"/api/calendars/{token}/lessons.ics")


@router.delete("/feeds/{feed_id}")
def drop_feed(feed_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.CalendarsOut:
    """Take a link back: it opens nothing any more."""
    uow.remove(uow.get(CalendarFeed, feed_id))
    s.seen.security("calendar_feed", what="revoked", id=str(feed_id), person=str(who.instructor_id))
    return _calendars(uow)


@fed.get("/calendars/{feed_token}/lessons.ics", response_class=Response)
def lessons_calendar_feed(feed_token: Token, request: Request, s: ServicesDep) -> Response:
    """An instructor's lessons as a calendar (RFC 5545), for whoever has the link."""
    s.reads.count_heavy(f"calendar {s.address(request)}")
    with s.store.front_door() as door:
        found = door.feed(hash_token(feed_token))
    if found is None:
        raise NotFound(tr("what this link opened"))
    with s.store.unit_of_work(found[0]) as uow:
        name = uow.get(Instructor, found[1]).name
        content = lessons_calendar(tr("Lessons of {name}", name=name), busy.fed_lessons(uow, found[1]), now())
    return Response(content, media_type="text/calendar; charset=utf-8")


@router.get("/players/{player_id}/next")
def next_lesson(player_id: UUID, uow: UnitOfWorkDep, who: WhoDep) -> m.NextOut:
    """When the next lesson is due, why, and where there is a place, the player's usual time first."""
    zone = clock.clock_of(uow)
    found = suggest(uow, player_id, who.instructor_id)
    return m.NextOut(
        due=found.due,
        why=found.why,
        minutes=found.minutes,
        places=views.places_out(found.places, teachers(uow), zone),
        courses=_courses(uow, player_id),
    )


def _courses(uow: UnitOfWork, player_id: UUID) -> list[m.CourseOut]:
    return [views.course_out(p) for p in packages.packages_of(uow, [player_id])]


@router.post("/players/{player_id}/courses", status_code=201)
def add_course(player_id: UUID, body: m.CourseIn, uow: UnitOfWorkDep, who: WhoDep) -> list[m.CourseOut]:
    """A course of so many lessons; those that are booked from now on are of it."""
    by = uow.get(Instructor, who.instructor_id).name
    packages.add_package(uow, player_id, body.name, body.lessons, by)
    return _courses(uow, player_id)


@router.delete("/courses/{course_id}")
def drop_course(course_id: UUID, uow: UnitOfWorkDep) -> list[m.CourseOut]:
    """No course any more; its lessons stay."""
    found = uow.get(Package, course_id)
    packages.drop_package(uow, found)
    return _courses(uow, found.player_id)
