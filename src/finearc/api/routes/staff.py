"""The people of an academy: who they are, what they may do, links by which they come in, and what they did."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

import anyio
from fastapi import APIRouter, Query
from pydantic import AwareDatetime

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.keeping.state import BackupState, is_late, read_state
from finearc.services.people import audit, ownership, second_factor, staff
from finearc.services.people.records import SecondFactor
from finearc.services.people.roles import Role
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Player, now

router = APIRouter(route_class=DoorRoute, tags=["people"])
openers = APIRouter(route_class=DoorRoute, tags=["players"])
by_link = APIRouter(route_class=DoorRoute, tags=["sign-in"])


def _told(uow: UnitOfWork, who: WhoDep) -> m.StaffOut:
    found, academy = staff.staff(uow), uow.academy()
    factors = {f.instructor_id for f in uow.find(SecondFactor) if second_factor.is_on(f)}
    return m.StaffOut(
        choices=m.ChoicesOut(owners_second_factor=academy.owners_second_factor, own_players=academy.own_players),
        people=[
            m.StaffPerson(
                id=p.id,
                name=p.name,
                email=p.email,
                role=Role(p.role),
                left_at=p.left_at,
                me=p.id == who.instructor_id,
                second_factor=p.id in factors,
            )
            for p in found.people
        ],
        invited=[
            m.InvitationOut(
                id=i.id,
                name=i.name,
                email=i.email,
                role=Role(i.role),
                again=i.instructor_id is not None,
                made_by=i.made_by,
                expires_at=i.expires_at,
            )
            for i in found.invited
        ],
    )


@router.get("/people")
def staff_of_academy(uow: UnitOfWorkDep, who: WhoDep) -> m.StaffOut:
    """Everybody who works here, and the links that are open."""
    return _told(uow, who)


@router.post("/people/invitations", status_code=201)
def invite(body: m.InvitationIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffLink:
    """A link for somebody new, good for a day and once. It is shown this once."""
    by = uow.get(Instructor, who.instructor_id).name
    token = staff.invite(uow, body.name, body.email, body.role, by)
    s.seen.security("invited", person=str(who.instructor_id), role=body.role)
    return m.StaffLink(path=f"/join/{token}", staff=_told(uow, who))


@router.delete("/people/invitations/{invitation_id}")
def take_invitation_back(invitation_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffOut:
    """The link works no more."""
    staff.take_back(uow, invitation_id)
    s.seen.security("invitation_taken_back", person=str(who.instructor_id))
    return _told(uow, who)


@router.put("/instructors/{instructor_id}/role")
def give_role(instructor_id: UUID, body: m.RoleIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffOut:
    """Another role; what they may do changes with their next click."""
    staff.give_role(uow, instructor_id, body.role)
    s.seen.security("role_given", person=str(who.instructor_id), to=str(instructor_id), role=body.role)
    return _told(uow, who)


@router.post("/instructors/{instructor_id}/reset", status_code=201)
def reset_password(instructor_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffLink:
    """A link with which somebody takes another password, good for a day and once."""
    by = uow.get(Instructor, who.instructor_id).name
    token = staff.reset_link(uow, uow.get(Instructor, instructor_id), by)
    s.seen.security("reset_link", person=str(who.instructor_id), to=str(instructor_id))
    return m.StaffLink(path=f"/join/{token}", staff=_told(uow, who))


@router.post("/instructors/{instructor_id}/lost-phone")
def take_second_factor_off(instructor_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffOut:
    """Somebody who lost their phone, and the paper, signs in by the password alone until they set up another."""
    second_factor.turn_off(uow, uow.get(Instructor, instructor_id))
    uow.flush()
    s.seen.security("second_factor_taken_off", person=str(who.instructor_id), of=str(instructor_id))
    return _told(uow, who)


@router.put("/people/choices")
def academy_choices(body: m.ChoicesIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffOut:
    """Whether owners need a second factor, and whether an instructor opens only the players that are theirs."""
    second_factor.require_of_owners(uow, uow.get(Instructor, who.instructor_id), body.owners_second_factor)
    uow.academy().own_players = body.own_players
    uow.flush()
    s.seen.security("choices_changed", person=str(who.instructor_id), **body.model_dump())
    return _told(uow, who)


@openers.get("/players/{player_id}/openers")
def player_openers(player_id: UUID, uow: UnitOfWorkDep) -> m.OpenersOut:
    """Which instructors open a player, beside the owners."""
    return _openers(uow, uow.get(Player, player_id))


@openers.put("/players/{player_id}/openers")
def share_player(player_id: UUID, body: m.OpenersIn, uow: UnitOfWorkDep, who: WhoDep) -> m.OpenersOut:
    """With which instructors a player is shared: all of them at once. Who teaches the player opens them anyway."""
    player = uow.hold(Player, player_id)
    ownership.share(uow, player, body.shared_with, uow.get(Instructor, who.instructor_id).name)
    uow.flush()
    return _openers(uow, player)


def _openers(uow: UnitOfWork, player: Player) -> m.OpenersOut:
    found = ownership.openers(uow, player)
    told = [m.OpenerOut(id=o.person.id, name=o.person.name, taught=o.taught, shared=o.shared) for o in found]
    return m.OpenersOut(apart=uow.academy().own_players, openers=told)


@router.post("/instructors/{instructor_id}/left")
def shut_out(instructor_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffOut:
    """Somebody leaves: every session of theirs ends now. Their lessons stay."""
    staff.let_go(uow, instructor_id)
    told = _told(uow, who)
    uow.commit()
    s.sessions.end_others(instructor_id, "")
    s.seen.security("shut_out", person=str(who.instructor_id), to=str(instructor_id))
    return told


@router.post("/instructors/{instructor_id}/back")
def bring_back(instructor_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.StaffOut:
    """Somebody who left may come in again."""
    staff.bring_back(uow, instructor_id)
    s.seen.security("brought_back", person=str(who.instructor_id), to=str(instructor_id))
    return _told(uow, who)


@router.get("/people/backup")
def backup_state(s: ServicesDep, who: WhoDep) -> m.BackupOut:
    """How old the last verified backup is, and what came of the last try."""
    del who
    stands = read_state(s.folder) if s.folder is not None else BackupState()
    return m.BackupOut(
        made_at=datetime.fromisoformat(stands.made_at) if stands.made_at else None,
        verified_at=datetime.fromisoformat(stands.verified_at) if stands.verified_at else None,
        swings=stands.swings,
        trouble=stands.trouble,
        late=is_late(stands, now()),
    )


@router.get("/people/log")
def audit_log(
    uow: UnitOfWorkDep,
    before: Annotated[AwareDatetime | None, Query()] = None,
    by: Annotated[UUID | None, Query()] = None,
    player: Annotated[UUID | None, Query()] = None,
) -> list[m.LogLine]:
    """Who changed, opened or took out what of whom, the latest first, a page at a time."""
    return [m.LogLine(**vars(line)) for line in audit.lines(uow, before, by, player)]


@by_link.get("/invitations/{invitation_token}")
async def invitation(invitation_token: str, s: ServicesDep) -> m.InvitedOut:
    """What a link is for; without an account."""
    return m.InvitedOut(**vars(await anyio.to_thread.run_sync(staff.look, s.sessions, invitation_token)))


@by_link.post("/invitations/{invitation_token}", max_body_size=8_000)
async def accept_invitation(invitation_token: str, body: m.AcceptIn, s: ServicesDep) -> m.Accepted:
    """Come in with a password of one's own; the link is used up. Then sign in."""
    person = await anyio.to_thread.run_sync(staff.accept, s.sessions, invitation_token, body.password)
    s.seen.security("came_in", person=str(person.id))
    return m.Accepted()
