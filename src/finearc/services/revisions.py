"""Two people at one record: whoever saves says what they saw, and hears when it is not that any more."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.services.ports import UnitOfWork
from finearc.services.records import Academy, AcademyRules, Author, Instructor, Lesson, Player, Priority
from finearc.wording import tr

ANY = "*"
"""Save on top of whatever there is, on purpose (RFC 9110, 13.1.1; from memory)."""


@dataclass
class ChangedMeanwhile(FineArcError):
    """Somebody else saved since. ``theirs``: what stands there now; ``revision``: with which one can save on top."""

    what: str
    by: str
    theirs: Mapping[str, Any]
    revision: str
    code = "changed_meanwhile"

    def __str__(self) -> str:
        who = self.by or tr("Somebody")
        return tr(
            "{who} changed {what} meanwhile. Yours is still on your screen: look at both, then save.",
            who=who,
            what=self.what,
        )

    def details(self) -> dict[str, Any]:
        """What the answer says beside the words."""
        return {"theirs": dict(self.theirs), "revision": self.revision}


@dataclass
class RevisionNeeded(FineArcError):
    """What is saved takes the place of what is there, and nobody said what that was."""

    what: str
    current: str = field(default="")
    code = "revision_needed"

    def __str__(self) -> str:
        return tr(
            'Say which revision of {what} you saw, in the header If-Match: its "revision", or * to save on top of '
            "anything.",
            what=self.what,
        )


def revision_of(written: Mapping[str, Any]) -> str:
    """One and the same for the same content."""
    text = json.dumps(written, sort_keys=True, default=str)
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()[:16]


def academy_written(academy: Academy) -> dict[str, Any]:
    """What is edited of an academy."""
    return {k: getattr(academy, k) for k in ("time_zone", "language", "lengths", "distances", "clock")}


def schools_written(rules: AcademyRules) -> dict[str, Any]:
    """The academy's default schools."""
    return {"schools": dict(rules.schools)}


def player_written(player: Player) -> dict[str, Any]:
    """What is edited of a player, together."""
    return {
        "name": player.name,
        "handedness": player.handedness,
        "height_m": player.height_m,
        "population": player.population,
        "goals": player.goals,
        "usual_miss": player.usual_miss,
        "schools": dict(player.schools),
        "consent_by": player.consent_by,
        "words": player.words,
        **{k: getattr(player, k) for k in ("language", "lengths", "distances", "clock")},
    }


def lesson_written(lesson: Lesson, priorities: Iterable[Priority]) -> dict[str, Any]:
    """What is edited of a lesson, together: its notes and its plan."""
    return {
        "note": lesson.note,
        "pain": lesson.pain,
        "pain_note": lesson.pain_note,
        "next_date": lesson.next_date,
        "planned": lesson.planned,
        "priorities": [
            {k: getattr(p, k) for k in ("finding", "label", "drill", "why", "override_reason")}
            for p in sorted(priorities, key=lambda p: p.rank)
        ],
    }


def refuse_overtaken(uow: UnitOfWork, seen: str | None, what: str, of_id: UUID, written: Mapping[str, Any]) -> None:
    """``seen``: the revision that whoever saves has before them, None where they do not say. The record is held by the
    caller. Raises ``RevisionNeeded`` and ``ChangedMeanwhile``."""
    current = revision_of(written)
    if seen is None:
        raise RevisionNeeded(what)
    if seen not in (ANY, current):
        raise ChangedMeanwhile(what, last_author(uow, of_id), json.loads(json.dumps(written, default=str)), current)


def last_author(uow: UnitOfWork, of_id: UUID) -> str:
    """Who changed a record last, by name; empty where that is not known."""
    found = uow.find(Author, of_id=of_id, order="-at")
    people = uow.find(Instructor, id=found[0].instructor_id) if found else []
    return people[0].name if people else ""
