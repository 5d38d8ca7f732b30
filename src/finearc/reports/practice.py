"""Practice on paper and in a calendar: the days with their blocks, in the player's words."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby
from typing import Any

from finearc.core.practice.plan import NO_LICENCE, Block
from finearc.core.practice.words import reasons
from finearc.formats.calendar import DayEntry, days_calendar
from finearc.reports.voice import Voice
from finearc.services.ports import UnitOfWork
from finearc.services.practice.plans import PlanRead
from finearc.services.records import Lesson, Player, now
from finearc.wording import day_words, mark, tr

WAITS = mark("Wait: your instructor looks at it again first")
"""In the place of a block that no drill suits any more."""


def feedback_words(share: float) -> str:
    """How much feedback a block has."""
    if share in (0.0, 1.0):
        return tr("feedback each time") if share else tr("no feedback")
    return tr("feedback on {value:.0f} %", value=100 * share)


def practice_page(uow: UnitOfWork, lesson: Lesson, read: PlanRead) -> dict[str, Any]:
    """The content of the page. A link may open it, so nothing of limits and pain but what stopped the plan."""
    plan, player = read.document.plan, uow.get(Player, lesson.player_id)
    voice = Voice.of(player)
    used = dict.fromkeys(k for b in plan.blocks for _, k in b.drills)
    return {
        "kind": "practice",
        "player": player.name or tr("Player"),
        "span": tr(
            "{first} to {last}",
            first=day_words(read.document.wishes.first),
            last=day_words(read.document.wishes.last, "full"),
        ),
        "stopped": plan.stopped,
        "room": plan.room,
        "safety": tr(NO_LICENCE),
        "days": [
            {"day": day_words(day, "weekday_day"), "blocks": [_block(b, read) for b in blocks]}
            for day, blocks in groupby(plan.blocks, key=lambda b: b.day)
        ],
        "drills": [
            {"label": d.label, "how": voice.say(d.how), "feel": voice.say(d.feel), "dose": d.dose, "caution": d.caution}
            for d in (read.suited[k] for k in used if k in read.suited)
        ],
    }


def _block(block: Block, read: PlanRead) -> dict[str, Any]:
    return {
        "minutes": block.minutes,
        "title": _title(block, read),
        "feedback": feedback_words(block.feedback),
        "why": " ".join(reasons(block)),
        "done": block.done,
    }


def _title(block: Block, read: PlanRead) -> str:
    return tr(", then ").join(read.suited[k].label for _, k in block.drills if k in read.suited) or tr(WAITS)


def practice_calendar(read: PlanRead) -> bytes:
    """The blocks that are still to come, one a day and block."""
    return days_calendar(tr("Golf practice"), _entries(read), now())


def _entries(read: PlanRead) -> Iterator[DayEntry]:
    for block in read.document.plan.blocks:
        if block.done:
            continue
        drills = [read.suited[k] for _, k in block.drills if k in read.suited]
        said = [f"{d.label}: {d.how} {d.dose} {d.caution}".strip() for d in drills]
        words = "\n".join([*said, feedback_words(block.feedback).capitalize() + ".", tr(NO_LICENCE)])
        yield DayEntry(
            f"{read.id}-{block.number}",
            block.day,
            tr("Practice {minutes} min: {title}", minutes=block.minutes, title=_title(block, read)),
            words,
        )
