"""Sign-in, catalogue, diary, players."""

from __future__ import annotations

from datetime import date
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.responses import Response as PlainResponse

from finearc.api import models as m
from finearc.api.context import (
    COOKIE,
    SESSION_DAYS,
    ServicesDep,
    UnitOfWorkDep,
    WhoDep,
    WrongPassword,
    open_session,
)
from finearc.api.views import catalogue as catalogue_views, lesson as lesson_views, people
from finearc.catalogue import library
from finearc.formats.archive import player_archive
from finearc.services.capture.recordings import rejudge_player
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.lesson import lessons
from finearc.services.lesson.pages import lesson_page
from finearc.services.people import clock, pages as player_pages
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, MovementLimit, Player, now

router = APIRouter()
NOBODY = "$argon2id$v=19$m=65536,t=3,p=4$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"


@router.post("/sign-in", tags=["sign-in"])
def sign_in(body: m.SignInRequest, request: Request, response: Response, s: ServicesDep) -> m.Me:
    """Sign in; the session lives in an HttpOnly cookie."""
    email = body.email.strip().lower()
    key = f"{request.client.host if request.client else ''}|{email}"
    s.limiter.check(key)
    with s.store.front_door() as door:
        instructor = door.instructor_by_email(email)
        academies = {a.id: a.name for a in door.academies()} if instructor else {}
    if not s.hasher.verify(body.password, instructor.password_hash if instructor else NOBODY) or instructor is None:
        s.limiter.failed(key)
        raise WrongPassword
    s.limiter.passed(key)
    token, record = open_session(s, instructor)
    response.set_cookie(
        COOKIE, token, max_age=SESSION_DAYS * 86400, httponly=True, samesite="strict", secure=s.secure_cookie, path="/"
    )
    return m.Me(
        instructor_id=instructor.id,
        instructor=instructor.name,
        academy=academies[instructor.academy_id],
        csrf=record.csrf,
    )


@router.post("/sign-out", tags=["sign-in"])
def sign_out(response: Response, s: ServicesDep, who: WhoDep) -> m.Accepted:
    """End the session on the server and in the browser."""
    with s.store.front_door() as door:
        record = door.sign_in_by_token(who.token_hash)
        if record is not None:
            door.remove(record)
    response.delete_cookie(COOKIE, path="/")
    return m.Accepted()


@router.get("/me", tags=["sign-in"])
def me(uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.Me:
    """Who is signed in."""
    with s.store.front_door() as door:
        names = {a.id: a.name for a in door.academies()}
    return m.Me(
        instructor_id=who.instructor_id,
        instructor=uow.get(Instructor, who.instructor_id).name,
        academy=names[who.academy_id],
        csrf=who.csrf,
    )


@router.get("/academy", tags=["academy"])
def academy(uow: UnitOfWorkDep) -> m.AcademyOut:
    """The academy, and by whose clock it lives."""
    found = uow.academy()
    return m.AcademyOut(name=found.name, time_zone=found.time_zone, time_zones=list(clock.zone_names()))


@router.put("/academy/clock", tags=["academy"])
def set_clock(body: m.ClockIn, uow: UnitOfWorkDep) -> m.AcademyOut:
    """Let the academy live by another time zone."""
    clock.set_clock(uow, body.time_zone)
    return academy(uow)


@router.get("/catalogue", tags=["catalogue"])
def catalogue(uow: UnitOfWorkDep) -> m.Catalogue:
    """Metrics, clubs, schools, findings and drills, from the one catalogue with the academy's own."""
    return catalogue_views.catalogue(rule_set_of(uow))


@router.get("/diary", tags=["diary"])
def diary(uow: UnitOfWorkDep, day: date | None = None) -> m.Diary:
    """The lessons of a day, by time."""
    zone = clock.clock_of(uow)
    today = clock.today(zone)
    found = player_pages.diary_page(uow, *clock.day_span(day or today, zone))
    return m.Diary(
        day=day or today,
        today=today,
        time_zone=zone.key,
        lessons=[people.diary_entry(x, zone) for x in found],
        instructors=[m.InstructorBrief(id=i.id, name=i.name) for i in player_pages.instructors(uow)],
        bays=player_pages.bays(uow),
    )


@router.post("/lessons", tags=["diary"], status_code=201)
def book(body: m.BookIn, uow: UnitOfWorkDep) -> m.DiaryEntry:
    """Book a lesson; bays and instructors are not booked twice. A time without a zone is by the academy's clock."""
    zone = clock.clock_of(uow)
    starts = clock.instant_of(body.starts_at, zone)
    lesson = lessons.book(uow, body.player_id, body.instructor_id, body.bay, starts, body.minutes, body.club)
    return people.diary_entry(player_pages.diary_entry(uow, lesson), zone)


@router.post("/lessons/start-now", tags=["diary"], status_code=201)
def start_now(body: m.StartNowIn, uow: UnitOfWorkDep, who: WhoDep) -> m.LessonOut:
    """A walk-in with hand and club only, or a known player's lesson, beginning now."""
    lesson = lessons.start_now(
        uow, who.instructor_id, body.bay or player_pages.bays(uow)[0], body.handedness, body.club, body.player_id
    )
    return lesson_views.lesson_out(lesson_page(uow, lesson.id))


@router.get("/players", tags=["players"])
def players(uow: UnitOfWorkDep, q: str = "") -> list[m.PlayerBrief]:
    """Players by name; ``q`` filters."""
    needle = q.strip().lower()
    found = [p for p in uow.find(Player, order="name") if p.name and needle in p.name.lower()]
    return [people.player_brief(p) for p in found]


def _player(uow: UnitOfWork, player: Player) -> m.PlayerOut:
    uow.flush()
    return people.player_out(player_pages.player_page(uow, player))


def _fill(player: Player, body: m.PlayerIn) -> None:
    for axis, option in body.schools.items():
        library.known_school(axis, option, "schools")
    player.name, player.handedness, player.height_m = body.name.strip(), body.handedness, body.height_m
    player.population, player.goals, player.usual_miss = body.population, body.goals, body.usual_miss
    player.schools = dict(body.schools)
    if body.consent_by.strip() and player.consent_at is None:
        player.consent_at = now()
    if not body.consent_by.strip():
        player.consent_at = None
    player.consent_by = body.consent_by.strip()


@router.post("/players", tags=["players"], status_code=201)
def add_player(body: m.PlayerIn, uow: UnitOfWorkDep) -> m.PlayerOut:
    """A new player."""
    player = Player(uow.academy_id, "", body.handedness)
    _fill(player, body)
    uow.add(player)
    uow.flush()
    return _player(uow, player)


@router.get("/players/{player_id}", tags=["players"])
def player(player_id: UUID, uow: UnitOfWorkDep) -> m.PlayerOut:
    """One player with limits and lessons."""
    return _player(uow, uow.get(Player, player_id))


@router.put("/players/{player_id}", tags=["players"])
def change_player(player_id: UUID, body: m.PlayerIn, uow: UnitOfWorkDep) -> m.PlayerOut:
    """Change a player; another school gives new verdicts, never new measurements. Closed lessons keep theirs."""
    found = uow.get(Player, player_id)
    before = (dict(found.schools), found.population, found.usual_miss)
    _fill(found, body)
    uow.flush()
    if before != (found.schools, found.population, found.usual_miss):
        rejudge_player(uow, found)
    return _player(uow, found)


@router.delete("/players/{player_id}", tags=["players"])
def erase_player(player_id: UUID, uow: UnitOfWorkDep) -> m.Accepted:
    """Erase a player and everything captured."""
    lessons.erase_player(uow, uow.get(Player, player_id))
    return m.Accepted()


@router.post("/players/{player_id}/name", tags=["players"])
def name_player(player_id: UUID, body: m.NameIn, uow: UnitOfWorkDep) -> m.PlayerOut:
    """Name a walk-in and note the consent."""
    found = uow.get(Player, player_id)
    lessons.name_walk_in(found, body.name, body.consent_by)
    return _player(uow, found)


@router.post("/players/{player_id}/limits", tags=["players"], status_code=201)
def add_limit(player_id: UUID, body: m.LimitIn, uow: UnitOfWorkDep) -> m.PlayerOut:
    """A limit of movement; nothing will ask for more of it."""
    found = uow.get(Player, player_id)
    uow.add(
        MovementLimit(
            uow.academy_id,
            found.id,
            body.area,
            body.side,
            body.movement,
            body.from_date,
            body.until_date,
            body.note,
            body.comfortable,
        )
    )
    uow.flush()
    rejudge_player(uow, found)
    return _player(uow, found)


@router.delete("/players/{player_id}/limits/{limit_id}", tags=["players"])
def remove_limit(player_id: UUID, limit_id: UUID, uow: UnitOfWorkDep) -> m.PlayerOut:
    """Remove a limit; what it held back is judged again."""
    found = uow.get(Player, player_id)
    uow.remove(lessons.limit_of(uow, found, limit_id))
    rejudge_player(uow, found)
    return _player(uow, found)


@router.get("/players/{player_id}/export", tags=["players"], response_class=PlainResponse)
def export_player(player_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> PlainResponse:
    """Everything about a player as a zip of bundles and JSON."""
    found = uow.get(Player, player_id)
    return PlainResponse(
        player_archive(uow, s.codec, found),
        media_type="application/zip",
        headers={"Content-Disposition": 'attachment; filename="player.zip"'},
    )
