"""What a swing or a lesson can be compared with."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal
from uuid import UUID

from finearc.core.comparing.change import LEAST
from finearc.services.comparing.models import model_swings
from finearc.services.judging.academy_rules import lesson_schools
from finearc.services.judging.cohorts import SYNTHETIC, SYNTHETIC_NAME
from finearc.services.lesson.summary import counting_swings
from finearc.services.ports import UnitOfWork
from finearc.services.records import Block, Lesson, Player, Reference, Swing
from finearc.wording import tr

LESSONS = 12
"""So many earlier lessons are offered, the newest first (house value)."""
ChoiceKind = Literal[
    "previous", "swing", "lesson", "last_lesson", "block", "before", "tag", "reference", "model", "band"
]


@dataclass(frozen=True)
class Choice:
    """``key`` as it is asked for; ``name``: of a block's measure, its moment, or a reference; ``swings``: how many."""

    key: str
    kind: ChoiceKind
    name: str = ""
    moment: str = ""
    number: int | None = None
    on: date | None = None
    swings: int = 1


def choices(uow: UnitOfWork, lesson_id: UUID, swing_id: UUID | None = None) -> list[Choice]:
    """Within reach of a lesson, or of one of its swings, the likeliest first. Raises ``NotFound``."""
    lesson = uow.get(Lesson, lesson_id)
    swings = uow.find(Swing, lesson_id=lesson_id, order="number")
    here = next((s for s in swings if s.id == swing_id), None)
    club = here.club if here is not None else lesson.club
    found = _previous(counting_swings(swings, club), here) if here is not None else []
    found += _lessons(uow, lesson, club)
    found += _blocks(uow, lesson, swings, club)
    counting = counting_swings(swings, club)
    if here is not None and len(counting) > 1:
        found.append(
            Choice(
                f"lesson:{lesson_id}",
                "lesson",
                on=lesson.starts_at.date(),
                swings=len(counting),
            )
        )
    found += [Choice(f"swing:{s.id}", "swing", number=s.number) for s in counting if here is None or s.id != here.id]
    found += _tags(uow, here or (counting[-1] if counting else None))
    like = here or (counting[-1] if counting else None)
    shot = like.shot if like is not None else "full"
    if shot == "full":
        found.append(Choice("band:here", "band"))
    references = [r for r in uow.find(Reference, order="name") if r.club == club]
    found += [Choice(f"reference:{r.id}", "reference", r.name, swings=r.swings) for r in references]
    found.append(Choice(f"reference:{SYNTHETIC}", "reference", tr(SYNTHETIC_NAME)))
    held = lesson_schools(uow, lesson, uow.get(Player, lesson.player_id))
    return found + [Choice(f"model:{x.key}", "model", x.label) for x in model_swings(club, shot, held)]


def _previous(counting: Sequence[Swing], here: Swing) -> list[Choice]:
    before = [s for s in counting if s.number < here.number]
    return [Choice(f"swing:{before[-1].id}", "previous", number=before[-1].number)] if before else []


def _lessons(uow: UnitOfWork, lesson: Lesson, club: str) -> list[Choice]:
    """The player's earlier lessons with this club, the newest first."""
    earlier = [
        x
        for x in uow.find(Lesson, player_id=lesson.player_id, order="-starts_at")
        if x.id != lesson.id and x.starts_at < lesson.starts_at
    ][: 3 * LESSONS]
    swings: dict[UUID, list[Swing]] = {}
    for s in uow.find(Swing, lesson_id=[x.id for x in earlier]) if earlier else []:
        swings.setdefault(s.lesson_id, []).append(s)
    counted = [(x, len(counting_swings(swings.get(x.id, []), club))) for x in earlier]
    known = [(x, n) for x, n in counted if n > 0][:LESSONS]
    return [
        Choice(f"lesson:{x.id}", "lesson" if k else "last_lesson", on=x.starts_at.date(), swings=n)
        for k, (x, n) in enumerate(known)
    ]


def _tags(uow: UnitOfWork, like: Swing | None) -> list[Choice]:
    """Groups by the tags of the player's swings with this club."""
    if like is None:
        return []
    own = counting_swings(uow.find(Swing, player_id=like.player_id, club=like.club, order="captured_at"), like.club)
    counts = Counter(tag for s in own for tag in s.tags)
    return [Choice(f"tag:{like.id}:{tag}", "tag", tag, swings=n) for tag, n in sorted(counts.items())]


def _blocks(uow: UnitOfWork, lesson: Lesson, swings: Sequence[Swing], club: str) -> list[Choice]:
    """Drills and tests of the lesson, and what tests are compared with."""
    found = []
    for block in uow.find(Block, lesson_id=lesson.id, club=club, order="started_at"):
        own = [s for s in swings if s.block_id == block.id and not s.sensor_moved]
        if len(own) >= LEAST:
            about = (block.metric, block.moment)
            found.append(Choice(f"block:{block.id}", "block", *about, on=None, swings=len(own)))
            if block.kind == "test":
                found.append(Choice(f"before:{block.id}", "before", *about, on=None, swings=0))
    return found
