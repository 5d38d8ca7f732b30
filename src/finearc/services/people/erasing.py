"""Erasing: a player with all that was captured, said or made of them; a lesson; what nobody consented to."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import timedelta
from typing import Any
from uuid import UUID

from finearc.services.capture import live
from finearc.services.capture.prepared import KEPT
from finearc.services.course.records import Round
from finearc.services.jobs.records import ROUND, Job, JobInput
from finearc.services.people.records import OwnPlayer
from finearc.services.ports import UnitOfWork
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.records import (
    Author,
    BenchmarkVersion,
    Block,
    ChangeEntry,
    Chunk,
    Clip,
    Consent,
    Lesson,
    MadeOf,
    MarkerPreset,
    MovementLimit,
    Player,
    Priority,
    Recording,
    Reference,
    Swing,
    now,
)
from finearc.wording import mark

UNNAMED_FOR = timedelta(hours=24)
"""So long after its end a lesson that nobody closed is kept without anybody's consent (house
value)."""
SOMEBODY = mark("a player who was erased")
NAMED: Mapping[type[Any], tuple[str, ...]] = {
    BenchmarkVersion: ("note",),
    Job: ("message", "step"),
    MarkerPreset: ("name",),
    Reference: ("name",),
}
"""What an academy keeps beside its players, in which a player may be named."""
MADE: Mapping[str, type[Any]] = {"reference": Reference, "preset": MarkerPreset}


def bring_all_back(uow: UnitOfWork, lesson_id: UUID) -> None:
    """What was set aside in a lesson is there again: it goes with the rest."""
    kinds: tuple[type[Any], ...] = (Recording, Swing)
    for kind in kinds:
        for record in uow.find_aside(kind, lesson_id=lesson_id):
            record.aside = False
    uow.flush()


def erase_lesson(uow: UnitOfWork, lesson: Lesson) -> None:
    """Remove a lesson and everything captured in it, whatever was to be imported into it, and who changed it."""
    bring_all_back(uow, lesson.id)
    for recording in uow.find(Recording, lesson_id=lesson.id):
        live.forget(recording.id)
        KEPT.forget(recording.id)
        for chunk in uow.find(Chunk, recording_id=recording.id):
            uow.remove(chunk)
    for job in uow.find(Job, lesson_id=lesson.id):
        for piece in uow.find(JobInput, job_id=job.id):
            uow.remove(piece)
        uow.remove(job)
    for kind in (Clip, Swing, Block, Priority, PracticePlan, PracticeAnswer, ChangeEntry, Recording):
        for record in uow.find(kind, lesson_id=lesson.id):
            uow.remove(record)
    _forget_authors(uow, lesson.id)
    uow.remove(lesson)


def erase_player(uow: UnitOfWork, player: Player) -> None:
    """Remove a player and everything about them. What was made of their swings alone goes; what was made of several
    players' (a mean, a version of the ranges) stays as figures of several and loses the person."""
    _erase_made(uow, player)
    for lesson in uow.find(Lesson, player_id=player.id):
        erase_lesson(uow, lesson)
    _erase_uploads(uow, player)
    owned: tuple[type[Any], ...] = (MovementLimit, Consent, MadeOf, OwnPlayer, Round)
    for kind in owned:
        found: list[Any] = uow.find(kind, player_id=player.id)
        for one in found:
            uow.remove(one)
    _forget_name(uow, player.name)
    _forget_authors(uow, player.id)
    uow.remove(player)
    uow.flush()


def _erase_uploads(uow: UnitOfWork, player: Player) -> None:
    """Files of the player's rounds that were brought and not kept."""
    for job in uow.find(Job, kind=ROUND):
        if job.subject.get("player_id") == str(player.id):
            for piece in uow.find(JobInput, job_id=job.id):
                uow.remove(piece)
            uow.remove(job)


def _erase_made(uow: UnitOfWork, player: Player) -> None:
    mine = uow.find(MadeOf, player_id=player.id)
    others = {x.of_id for x in uow.find(MadeOf, of_id=[x.of_id for x in mine]) if x.player_id != player.id}
    for made in mine:
        if made.what in MADE and made.of_id not in others:
            found: list[Any] = uow.find(MADE[made.what], id=made.of_id)
            for one in found:
                _forget_authors(uow, made.of_id)
                uow.remove(one)
    for reference in uow.find(Reference, player_id=player.id):
        uow.remove(reference)


def _forget_name(uow: UnitOfWork, name: str) -> None:
    if not name.strip():
        return
    there = re.compile(re.escape(name.strip()), re.IGNORECASE)
    for kind, fields in NAMED.items():
        for record in uow.find(kind):
            for field in fields:
                if there.search(getattr(record, field)):
                    setattr(record, field, there.sub(SOMEBODY, getattr(record, field)))


def _forget_authors(uow: UnitOfWork, of_id: Any) -> None:
    for told in uow.find(Author, of_id=of_id):
        uow.remove(told)


def erase_without_consent(uow: UnitOfWork) -> int:
    """Remove what nobody consented to and nobody closed: lessons that ended a day ago, and walk-ins without a name
    with them. Returns how many lessons went."""
    until = now() - UNNAMED_FOR
    gone = 0
    for lesson in uow.find(Lesson, ends_at__until=until, status="running"):
        player = uow.get(Player, lesson.player_id)
        if player.consent_at is None:
            erase_without(uow, lesson, player)
            gone += 1
    return gone


def erase_without(uow: UnitOfWork, lesson: Lesson, player: Player) -> None:
    """A lesson of somebody who did not consent; of a walk-in the player too."""
    if player.walk_in and len(uow.find(Lesson, player_id=player.id)) == 1:
        erase_player(uow, player)
    else:
        erase_lesson(uow, lesson)
    uow.flush()
