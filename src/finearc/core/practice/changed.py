"""What becomes of a plan: a day that was missed, a block that somebody moves, pain."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta
from enum import StrEnum

from finearc.core.judging.drills import withheld_because
from finearc.core.practice.plan import (
    NO_LICENCE,
    Asked,
    Because,
    Block,
    NothingToPlan,
    Plan,
    laid_out,
    lengths,
    offered,
    practice_days,
)
from finearc.wording import day_words, tr


class Rule(StrEnum):
    """What a plan keeps."""

    MINUTES = "minutes"
    DAY = "day"
    WEEK = "week"
    DRILL = "drill"
    LUMP = "lump"


@dataclass(frozen=True)
class Broken:
    """A rule that a plan breaks, in words, and the day on which it does."""

    rule: Rule
    day: date
    words: str


def missed(plan: Plan, asked: Asked, day: date) -> Plan:
    """The blocks of a day that was missed, and those after it, move on to the next days, each day keeping its own
    minutes: moved, not doubled. What has no day left is dropped and counted."""
    behind = [b for b in plan.blocks if b.day < day or b.done]
    ahead = [b for b in plan.blocks if b.day >= day and not b.done]
    if not any(b.day == day for b in ahead):
        return plan
    taken = {b.day for b in behind}
    slots = [
        (d, minutes)
        for d in practice_days(asked)
        if d > day and d not in taken
        for minutes in lengths(asked.minutes[d.weekday()])
    ][: len(ahead)]
    aims, withheld = offered(asked)
    if not slots or not aims:
        return replace(plan, blocks=tuple(behind), dropped=plan.dropped + len(ahead))
    late = sum(b.day == day for b in ahead)
    again = laid_out(slots, aims, len(behind), frozenset(range(late)))
    dropped = plan.dropped + len(ahead) - len(again)
    return replace(plan, blocks=(*behind, *again), withheld=withheld, dropped=dropped)


def moved(plan: Plan, number: int, to: date) -> Plan:
    """One block on another day, at its end; whether that keeps the rules says ``broken``. Raises ``NothingToPlan`` for
    a block that is not there or done."""
    block = next((b for b in plan.blocks if b.number == number), None)
    if block is None or block.done:
        raise NothingToPlan(tr("Block {number} cannot be moved", number=number), tr("Choose one that is still to come"))
    rest = [b for b in plan.blocks if b.number != number]
    order = max((b.order for b in rest if b.day == to), default=-1) + 1
    why = tuple(dict.fromkeys((*block.because, Because.MOVED)))
    blocks = sorted([*rest, replace(block, day=to, order=order, because=why)], key=lambda b: (b.day, b.order))
    return replace(plan, blocks=tuple(blocks))


def ticked(plan: Plan, number: int, done: bool) -> Plan:
    """One block practised, or not after all. Raises ``NothingToPlan`` for a block that is not there."""
    if all(b.number != number for b in plan.blocks):
        raise NothingToPlan(
            tr("Block {number} is not in the plan any more", number=number), tr("Look at the plan as it is now")
        )
    return replace(plan, blocks=tuple(replace(b, done=done) if b.number == number else b for b in plan.blocks))


def spoken(day: date) -> str:
    """ "3 December"."""
    return day_words(day)


@dataclass(frozen=True)
class Elsewhere:
    """A day to which a block can go, and which rules that would break, in words."""

    day: date
    breaks: tuple[str, ...]


def elsewhere(plan: Plan, asked: Asked, number: int, since: date) -> list[Elsewhere]:
    """Where one block could stand, from ``since`` to the plan's last day: so that a page can say it without asking."""
    before = {b.words for b in broken(plan, asked)}
    own = next(b.day for b in plan.blocks if b.number == number)
    days = [asked.first + timedelta(days=k) for k in range((asked.last - asked.first).days + 1)]
    out = []
    for day in days:
        if day >= since and day != own:
            wrong = [b.words for b in broken(moved(plan, number, day), asked)]
            out.append(Elsewhere(day, tuple(w for w in wrong if w not in before)))
    return out


def stopped(plan: Plan, day: date, where: str = "") -> Plan:
    """Pain ends the plan: nothing from that day on is left, and the words say whom to see."""
    said = (
        tr("Pain in the {where} on {day}: the plan stops.", where=where, day=spoken(day))
        if where
        else tr("Pain on {day}: the plan stops.", day=spoken(day))
    ) + f" {tr(NO_LICENCE)}"
    return replace(plan, blocks=tuple(b for b in plan.blocks if b.done or b.day < day), stopped=said)


def broken(plan: Plan, asked: Asked) -> list[Broken]:
    """Which rules a plan does not keep, in order of time."""
    out: list[Broken] = []
    allowed = set(practice_days(asked))
    drills = {d.id: d for aim in asked.aims for d in aim.drills}
    by_day: dict[date, list[Block]] = {}
    for block in plan.blocks:
        by_day.setdefault(block.day, []).append(block)
    for day, blocks in by_day.items():
        minutes, most = sum(b.minutes for b in blocks), asked.minutes.get(day.weekday(), 0)
        if day not in allowed:
            out.append(Broken(Rule.DAY, day, tr("{day} is no day for practice.", day=day_words(day, "weekday_day"))))
        elif minutes > most:
            out.append(
                Broken(
                    Rule.MINUTES,
                    day,
                    tr(
                        "{minutes} minutes on {day}, where there are {most}.",
                        minutes=minutes,
                        day=day_words(day, "weekday"),
                        most=most,
                    ),
                )
            )
        for drill_id in dict.fromkeys(d for b in blocks for _, d in b.drills):
            drill = drills.get(drill_id)
            why = "" if drill is None else withheld_because(drill, asked.limits, asked.pain)
            if why:
                out.append(
                    Broken(
                        Rule.DRILL,
                        day,
                        tr("{value} is not offered: {why}.", value=drill.label if drill else drill_id, why=why),
                    )
                )
    weeks: dict[tuple[int, int], list[Block]] = {}
    for block in plan.blocks:
        weeks.setdefault(block.day.isocalendar()[:2], []).append(block)
    for blocks in weeks.values():
        count = sum(b.without_feedback for b in blocks)
        if count != 1:
            words = tr("No block without feedback") if count == 0 else tr("{n} blocks without feedback", n=count)
            out.append(
                Broken(
                    Rule.WEEK,
                    blocks[0].day,
                    tr("{words} in the week of {spoken}; there is one.", words=words, spoken=spoken(blocks[0].day)),
                )
            )
    if any(a.passed for a in asked.aims) and all(a.passed for a in asked.aims[:2]) and len(asked.aims) > 1:
        out += [
            Broken(Rule.LUMP, b.day, tr("One priority alone, although both have passed their first test."))
            for b in plan.blocks
            if len(b.findings) == 1 and len(offered(asked)[0]) > 1
        ]
    return sorted(out, key=lambda x: x.day)
