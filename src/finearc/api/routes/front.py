"""Academy, catalogue, walk-ins, players."""

from __future__ import annotations

from functools import partial
from uuid import UUID

from fastapi import APIRouter, UploadFile
from fastapi.responses import StreamingResponse

from finearc.api import models as m
from finearc.api.archives import archive_response
from finearc.api.context import HEAVY, ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.importing import LARGEST_UPLOAD, uploaded
from finearc.api.revisions import SeenRevision
from finearc.api.views import catalogue as catalogue_views, lesson as lesson_views, people
from finearc.api.views.jobs import job_out
from finearc.catalogue import library
from finearc.formats.archive import player_archive
from finearc.services.capture.recordings import rejudge_player
from finearc.services.jobs.board import write_down
from finearc.services.jobs.run import BRING
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.lesson import lessons
from finearc.services.lesson.pages import lesson_page
from finearc.services.people import authors, clock, consent, erasing, ownership, pages as player_pages
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, MovementLimit, Player
from finearc.services.revisions import academy_written, player_written, refuse_overtaken, revision_of
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute)


@router.get("/academy", tags=["academy"])
def academy(uow: UnitOfWorkDep) -> m.AcademyOut:
    """The academy, and by whose clock it lives."""
    found = uow.academy()
    return m.AcademyOut(
        name=found.name,
        time_zone=found.time_zone,
        time_zones=list(clock.zone_names()),
        **people.manner_fields(found).model_dump(),
        revision=revision_of(academy_written(found)),
    )


@router.put("/academy/clock", tags=["academy"])
def set_clock(body: m.ClockIn, seen: SeenRevision, uow: UnitOfWorkDep) -> m.AcademyOut:
    """Let the academy live by another time zone."""
    found = uow.hold_academy()
    refuse_overtaken(uow, seen, tr("the academy's clock"), found.id, academy_written(found))
    clock.set_clock(uow, body.time_zone)
    return academy(uow)


@router.put("/academy/manner", tags=["academy"])
def set_manner(body: m.MannerIn, seen: SeenRevision, uow: UnitOfWorkDep) -> m.AcademyOut:
    """In which language, units and clock the academy's screens speak, and what goes home where a player has chosen
    nothing."""
    found = uow.hold_academy()
    refuse_overtaken(uow, seen, tr("how the academy speaks"), found.id, academy_written(found))
    clock.set_manner(uow, body.model_dump())
    return academy(uow)


@router.get("/catalogue", tags=["catalogue"])
def catalogue(uow: UnitOfWorkDep) -> m.Catalogue:
    """Metrics, clubs, schools, findings and drills, from the one catalogue with the academy's own."""
    return catalogue_views.catalogue(rule_set_of(uow))


@router.post("/lessons/start-now", tags=["diary"], status_code=201)
def start_now(body: m.StartNowIn, uow: UnitOfWorkDep, who: WhoDep) -> m.LessonOut:
    """A walk-in with hand and club only, or a known player's lesson, beginning now."""
    lesson = lessons.start_now(
        uow, who.instructor_id, body.bay or player_pages.bays(uow)[0], body.handedness, body.club, body.player_id
    )
    return lesson_views.lesson_out(lesson_page(uow, lesson.id))


@router.get("/players", tags=["players"])
def players(uow: UnitOfWorkDep, q: str = "") -> list[m.PlayerListed]:
    """Players by name, each with the last and the next lesson and the first priority; ``q`` filters."""
    zone = clock.clock_of(uow)
    return [people.player_listed(p, zone) for p in player_pages.players_page(uow, q)]


def _player(uow: UnitOfWork, player: Player) -> m.PlayerOut:
    uow.flush()
    return people.player_out(player_pages.player_page(uow, player))


def _fill(uow: UnitOfWork, player: Player, body: m.PlayerIn) -> None:
    for axis, option in body.schools.items():
        library.known_school(axis, option, "schools")
    player.name, player.handedness, player.height_m = body.name.strip(), body.handedness, body.height_m
    player.population, player.goals, player.usual_miss = body.population, body.goals, body.usual_miss
    player.schools = dict(body.schools)
    player.words = body.words
    for name in ("language", "lengths", "distances", "clock"):
        setattr(player, name, getattr(body, name))
    uow.flush()
    consent.say(uow, player, body.consent_by, body.consent_as)


@router.post("/players", tags=["players"], status_code=201)
def add_player(body: m.PlayerIn, uow: UnitOfWorkDep, who: WhoDep) -> m.PlayerOut:
    """A new player; whoever opens their own players only opens this one too."""
    player = Player(uow.academy_id, "", body.handedness)
    uow.add(player)
    if who.apart:
        ownership.own_from_now(uow, player, who.instructor_id)
    _fill(uow, player, body)
    uow.flush()
    return _player(uow, player)


@router.get("/players/{player_id}", tags=["players"])
def player(player_id: UUID, uow: UnitOfWorkDep) -> m.PlayerOut:
    """One player with limits and lessons."""
    return _player(uow, uow.get(Player, player_id))


@router.put("/players/{player_id}", tags=["players"])
def change_player(player_id: UUID, body: m.PlayerIn, seen: SeenRevision, uow: UnitOfWorkDep) -> m.PlayerOut:
    """Change a player; another school gives new verdicts, never new measurements. Closed lessons keep theirs. A second
    saver is told what stands there now."""
    found = uow.hold(Player, player_id)
    refuse_overtaken(uow, seen, tr("this player"), player_id, player_written(found))
    before = (dict(found.schools), found.population, found.usual_miss)
    _fill(uow, found, body)
    uow.flush()
    if before != (found.schools, found.population, found.usual_miss):
        rejudge_player(uow, found)
    return _player(uow, found)


@router.post("/players/bring", tags=["players"], status_code=202, max_body_size=LARGEST_UPLOAD)
def bring_player(file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.JobOut:
    """Bring the export of a player or a lesson into this academy, as a new player: the job that does it, which answers
    with ``player_id``."""
    name, content = uploaded(file, "player.zip")
    subject = {"name": name, "by": str(who.instructor_id)}
    job = write_down(uow, BRING, subject, content, made_by=uow.get(Instructor, who.instructor_id).name)
    s.seen.security("brought", what="export", id=str(job.id), person=str(who.instructor_id))
    uow.commit()  # the worker sees it
    s.jobs.begin(uow.academy_id, job.id)
    return job_out(job)


@router.delete("/players/{player_id}", tags=["players"])
def erase_player(player_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.Accepted:
    """Erase a player and everything captured, said or made of them. What the storage still holds of it is overwritten
    soon after; that somebody was erased, when and by whom, stays."""
    for lesson in uow.find(Lesson, player_id=player_id):
        s.devices.end(lesson.id)
    erasing.erase_player(uow, uow.get(Player, player_id))
    uow.commit()
    s.seen.security("erased", what="player", id=str(player_id), person=str(who.instructor_id))
    s.scrub()
    return m.Accepted()


@router.get("/players/{player_id}/authors", tags=["players"])
def player_authors(player_id: UUID, uow: UnitOfWorkDep) -> list[m.AuthorOut]:
    """Who changed the player and the limits, the latest first."""
    return [m.AuthorOut(who=a.who, what=a.what, at=a.at) for a in authors.of_player(uow, player_id)]


@router.get("/lessons/{lesson_id}/authors", tags=["lesson"])
def lesson_authors(lesson_id: UUID, uow: UnitOfWorkDep) -> list[m.AuthorOut]:
    """Who changed what in a lesson, the latest first."""
    return [m.AuthorOut(who=a.who, what=a.what, at=a.at) for a in authors.of_lesson(uow, lesson_id)]


@router.get("/players/{player_id}/consents", tags=["players"])
def consents(player_id: UUID, uow: UnitOfWorkDep) -> list[m.ConsentOut]:
    """Who agreed that the player's data are kept, and who took it back, the latest first."""
    found = consent.history(uow, uow.get(Player, player_id))
    return [m.ConsentOut(given=c.given, by=c.by, as_=c.as_, noted_by=c.noted_by, at=c.at) for c in found]


@router.post("/players/{player_id}/consents", tags=["players"], status_code=201)
def give_consent(player_id: UUID, body: m.ConsentIn, uow: UnitOfWorkDep) -> m.PlayerOut:
    """Note a consent: the player's, or a guardian's, whom a junior needs."""
    found = uow.hold(Player, player_id)
    consent.give(uow, found, body.by, body.as_)
    return _player(uow, found)


@router.delete("/players/{player_id}/consents", tags=["players"])
def withdraw_consent(player_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.PlayerOut:
    """Note that the consent was taken back. From now on nothing of the player's is captured, measured or compared."""
    found = uow.hold(Player, player_id)
    consent.withdraw(uow, found)
    for lesson in uow.find(Lesson, player_id=player_id):
        s.devices.end(lesson.id)
    return _player(uow, found)


@router.post("/players/{player_id}/name", tags=["players"])
def name_player(player_id: UUID, body: m.NameIn, uow: UnitOfWorkDep) -> m.PlayerOut:
    """Name a walk-in and note the consent."""
    found = uow.get(Player, player_id)
    lessons.name_walk_in(uow, found, body.name, body.consent_by, body.consent_as)
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


@router.get("/players/{player_id}/export", tags=["players"], response_class=StreamingResponse, dependencies=HEAVY)
def export_player(player_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> StreamingResponse:
    """Everything about a player as a zip of bundles and JSON, with a list of its files and their checksums."""
    found = uow.get(Player, player_id)
    s.seen.security("exported", what="player", id=str(player_id), person=str(who.instructor_id))
    return archive_response(partial(player_archive, uow, s.codec, found), "player.zip")
