"""The course of a lesson."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from finearc.services.capture.recordings import rejudge_lesson
from finearc.services.errors import NotFound, Refused
from finearc.services.judging.academy_rules import close_rules, reopen_rules, rule_set_of
from finearc.services.known import (
    refuse_unknown_club,
    refuse_unknown_drills,
    refuse_unknown_findings,
    refuse_unknown_place,
)
from finearc.services.lesson.documents import SummaryOut
from finearc.services.lesson.summary import refresh
from finearc.services.people import consent
from finearc.services.people.erasing import erase_without
from finearc.services.ports import UnitOfWork
from finearc.services.records import (
    Bay,
    Block,
    Lesson,
    MovementLimit,
    Player,
    Priority,
    Swing,
    now,
)
from finearc.wording import tr

MOST_PRIORITIES = 2
FIRST_BAYS = ("Bay 1", "Bay 2", "Bay 3")
"""With which an academy begins."""
WALK_IN_MINUTES = 45


def bay_of(uow: UnitOfWork, name: str) -> Bay:
    """The bay of that name; one that is named for the first time is made."""
    name = " ".join(name.split())
    found = uow.find(Bay, name=name)
    if found:
        return found[0]
    known = uow.find(Bay)
    names = list(dict.fromkeys((*(() if known else FIRST_BAYS), name)))
    made = [Bay(uow.academy_id, n, len(known) + k) for k, n in enumerate(names, 1)]
    for bay in made:
        uow.add(bay)
    return next(b for b in made if b.name == name)


def start_now(
    uow: UnitOfWork, instructor_id: UUID, bay: str, handedness: str, club: str, player_id: UUID | None = None
) -> Lesson:
    """A lesson that begins this moment, so it cannot clash with a plan. With a player, theirs; else a walk-in of
    hand and club only: the name comes later, or everything is erased at the close."""
    if handedness not in ("right", "left"):
        raise Refused(tr("the hand is right or left"))
    refuse_unknown_club(club)
    if player_id is None:
        player = Player(uow.academy_id, "", handedness, walk_in=True)
        uow.add(player)
    else:
        player = uow.get(Player, player_id)
    start = now()
    lesson = Lesson(
        uow.academy_id,
        player.id,
        instructor_id,
        bay,
        start,
        start + timedelta(minutes=WALK_IN_MINUTES),
        "running",
        club,
    )
    uow.add(lesson)
    uow.flush()
    return lesson


def name_walk_in(uow: UnitOfWork, player: Player, name: str, consent_by: str, as_: consent.As = "") -> None:
    """Name a walk-in; consent is what keeps the data. Raises ``Refused``."""
    if not name.strip():
        raise Refused(tr("a name is needed"))
    player.name = name.strip()
    if consent_by.strip():
        consent.give(uow, player, consent_by, as_)


def limit_of(uow: UnitOfWork, player: Player, limit_id: UUID) -> MovementLimit:
    """One of the player's limits of movement; another's is not found."""
    limit = uow.get(MovementLimit, limit_id)
    if limit.player_id != player.id:
        raise NotFound(tr("limit of movement"))
    return limit


def answer_pain(uow: UnitOfWork, lesson: Lesson, answer: str, note: str = "") -> list[SummaryOut]:
    """ "Pain today?": yes or no; until then it shows *not asked*. Drills that load what hurts are withheld: returns
    the summaries made anew."""
    if answer not in ("yes", "no", ""):
        raise Refused(tr("the answer is yes or no"))
    lesson.pain, lesson.pain_note = answer, note
    uow.flush()
    clubs = {lesson.club, *(s.club for s in uow.find(Swing, lesson_id=lesson.id))}
    return list(refresh(uow, lesson, uow.get(Player, lesson.player_id), clubs).values())


def set_club(uow: UnitOfWork, lesson: Lesson, club: str) -> list[SummaryOut]:
    """The club of the next swings; returns its summary, made anew."""
    refuse_unknown_club(club)
    lesson.club = club
    uow.flush()
    return list(refresh(uow, lesson, uow.get(Player, lesson.player_id), {club}).values())


def start_block(
    uow: UnitOfWork, lesson: Lesson, kind: str, finding: str, metric: str, moment: str, drill: str = ""
) -> Block:
    """A drill or a test block; new swings are tagged with it."""
    if kind not in ("drill", "test"):
        raise Refused(tr("a block is a drill or a test"))
    rule_set = rule_set_of(uow, lesson)
    refuse_unknown_place(rule_set, metric, moment)
    refuse_unknown_findings(rule_set, [finding])
    refuse_unknown_drills(rule_set, [drill])
    end_block(uow, lesson)
    block = Block(uow.academy_id, lesson.id, kind, finding, metric, moment, drill, lesson.club)
    uow.add(block)
    uow.flush()
    lesson.block_id, lesson.kind = block.id, kind
    return block


def end_block(uow: UnitOfWork, lesson: Lesson) -> None:
    """End the running block, if any; new swings are normal again."""
    if lesson.block_id is not None:
        uow.get(Block, lesson.block_id).ended_at = now()
    lesson.block_id, lesson.kind = None, "normal"


def pin(lesson: Lesson, swings: Sequence[Swing]) -> None:
    """Pin swings as *before*; an empty list unpins."""
    lesson.pinned = [str(s.id) for s in swings]


@dataclass(frozen=True)
class Chosen:
    """A priority the instructor chose; ``finding`` is empty for one of their own, without a measurement."""

    finding: str
    label: str
    drill: str
    why: str = ""
    override_reason: str = ""


def close(uow: UnitOfWork, lesson: Lesson, chosen: Sequence[Chosen], note: str, next_date: date | None) -> bool:
    """End a lesson with at most two priorities, one note and the next date. Without consent it is erased with all that
    was captured, and a walk-in with it. Returns whether the lesson is still there."""
    _refuse_choice(uow, lesson, chosen)
    player = uow.get(Player, lesson.player_id)
    end_block(uow, lesson)
    if player.consent_at is None and not consent.is_withdrawn(uow, player):
        erase_without(uow, lesson, player)
        return False
    keep_plan(uow, lesson, chosen)
    close_rules(uow, lesson, player)
    lesson.status, lesson.note, lesson.next_date, lesson.closed_at = "closed", note, next_date, now()
    uow.flush()
    return True


def _refuse_choice(uow: UnitOfWork, lesson: Lesson, chosen: Sequence[Chosen]) -> None:
    rule_set = rule_set_of(uow, lesson)
    refuse_unknown_findings(rule_set, [c.finding for c in chosen])
    refuse_unknown_drills(rule_set, [c.drill for c in chosen])
    if len(chosen) > MOST_PRIORITIES:
        raise Refused(tr("at most two priorities"), tr("Players who are told more do none"))


def keep_plan(uow: UnitOfWork, lesson: Lesson, chosen: Sequence[Chosen]) -> None:
    """Keep the priorities as they stand, in their order; at most two."""
    _refuse_choice(uow, lesson, chosen)
    for old in uow.find(Priority, lesson_id=lesson.id):
        uow.remove(old)
    for rank, choice in enumerate(chosen, 1):
        uow.add(
            Priority(
                uow.academy_id,
                lesson.id,
                rank,
                choice.finding,
                choice.label,
                choice.drill,
                choice.why,
                choice.override_reason,
            )
        )
    lesson.planned = True
    uow.flush()


def reopen(uow: UnitOfWork, lesson: Lesson) -> None:
    """Take the close back: the lesson goes on, and is judged by what holds today."""
    lesson.status, lesson.closed_at = "running", None
    reopen_rules(lesson)
    uow.flush()
    rejudge_lesson(uow, lesson)
