"""The plan until the next lesson: blocks of 10 to 20 minutes from one or two priorities.

It is arithmetic. Practice is spread over the player's days (spacing). While a movement is new each block is about one
priority; once its first test was passed both are mixed in one block (contextual interference: Shea & Morgan 1979, J Exp
Psychol HLM 5:179). Feedback is full at first and fades to a third of the repetitions (Winstein & Schmidt 1990, J Exp
Psychol LMC 16:677); the last block of each calendar week has none, so that the player learns what stays without it. The
shares and lengths are house values; the citations are from memory."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum

from finearc.core.errors import FineArcError
from finearc.core.judging.drills import Drill, Pain, withheld_because
from finearc.core.judging.limits import Limit
from finearc.wording import mark, tr

SHORTEST_MIN, LONGEST_MIN = 10, 20
LONGEST_PLAN = timedelta(days=120)
FEEDBACK = (1.0, 1.0, 0.66, 0.5, 0.33)
"""Share of repetitions with feedback, block by block of one priority; the last holds from there on (house values)."""
NO_LICENCE = mark("Any pain: stop, and see a licensed health professional.")


NO_PAIN = Pain()


WITHOUT = frozenset({"", "none", mark("a club")})
"""What everybody has who practises."""


class Place(StrEnum):
    """Where the player practises."""

    GARAGE = "garage"
    GARDEN = "garden"
    RANGE = "range"


ROOM = {
    Place.GARAGE: mark("slow and half swings"),
    Place.GARDEN: mark("slow and half swings, no ball"),
    Place.RANGE: mark("any speed"),
}
"""What a place has room for."""


class Because(StrEnum):
    """Why a block stands where it stands, and as it is."""

    FIRST = "first"
    SPACED = "spaced"
    SAME_DAY = "same_day"
    ALONE = "alone"
    MIXED = "mixed"
    FULL_FEEDBACK = "full_feedback"
    FADING = "fading"
    WITHOUT = "without_feedback"
    MOVED = "moved"


@dataclass(frozen=True)
class Aim:
    """A priority with the drills that serve it, the best first; ``passed``: whether its first test was passed."""

    finding: str
    label: str
    drills: Sequence[Drill]
    passed: bool = False


@dataclass(frozen=True)
class Asked:
    """What shapes a plan. ``minutes`` by weekday (Monday 0): how long the player can; days that are not there have
    none. ``first`` to ``last``, both inclusive: days of the plan. ``equipment`` that is there beside a club; None: all
    of it."""

    aims: Sequence[Aim]
    first: date
    last: date
    minutes: Mapping[int, int]
    place: Place = Place.RANGE
    equipment: frozenset[str] | None = None
    limits: Sequence[Limit] = ()
    pain: Pain = NO_PAIN


@dataclass(frozen=True)
class Block:
    """One block: on which day, its place in that day from 0, minutes, the drills in turn (by their aims), the share of
    repetitions with feedback, and why. ``done`` by the player."""

    number: int
    day: date
    order: int
    minutes: int
    drills: tuple[tuple[str, str], ...]
    feedback: float
    because: tuple[Because, ...]
    done: bool = False

    @property
    def without_feedback(self) -> bool:
        return self.feedback == 0.0

    @property
    def findings(self) -> tuple[str, ...]:
        """The aims it serves."""
        return tuple(dict.fromkeys(finding for finding, _ in self.drills))


@dataclass(frozen=True)
class Plan:
    """The blocks in order of time; drills that are ``withheld``, each with its reason; ``stopped``: the words with
    which pain ended it, empty while it goes on; ``dropped``: so many blocks had no day left; ``room``: what the place
    has room for."""

    blocks: tuple[Block, ...]
    withheld: Mapping[str, str] = field(default_factory=dict)
    stopped: str = ""
    dropped: int = 0
    room: str = ""


@dataclass
class NothingToPlan(FineArcError):
    """A plan that cannot be made: why, and what to do."""

    reason: str
    advice: str
    code = "no_plan"

    def __str__(self) -> str:
        return f"{self.reason}. {self.advice}"


def make_plan(asked: Asked) -> Plan:
    """The plan. Raises ``NothingToPlan``."""
    aims, withheld = offered(asked)
    slots = [(day, minutes) for day in practice_days(asked) for minutes in lengths(asked.minutes[day.weekday()])]
    if asked.pain.today and not asked.pain.areas:
        raise NothingToPlan(tr("There is pain today"), tr(NO_LICENCE))
    if not slots:
        raise NothingToPlan(
            tr("No day until the next lesson has {shortest_min} minutes", shortest_min=SHORTEST_MIN),
            tr("Choose days and minutes, or a later lesson"),
        )
    if not aims:
        why = next(iter(withheld.values()), tr("no priority has a drill"))
        raise NothingToPlan(
            tr("Nothing can be practised: {why}", why=why), tr("Choose another drill in the lesson's plan")
        )
    return Plan(laid_out(slots, aims), withheld, room=tr(ROOM[asked.place]))


def offered(asked: Asked) -> tuple[list[Aim], dict[str, str]]:
    """The aims with the drills that suit this player, and why others do not, by drill."""
    withheld: dict[str, str] = {}
    aims = []
    for aim in asked.aims[:2]:
        suited = []
        for drill in aim.drills:
            why = withheld_because(drill, asked.limits, asked.pain) or _not_there(drill, asked)
            if why:
                withheld[drill.id] = why
            else:
                suited.append(drill)
        if suited:
            aims.append(replace(aim, drills=suited))
    return aims, withheld


def _not_there(drill: Drill, asked: Asked) -> str:
    needs = drill.equipment.strip()
    if asked.equipment is None or needs in WITHOUT or needs in asked.equipment:
        return ""
    return tr("it needs {needs}", needs=needs)


def practice_days(asked: Asked) -> list[date]:
    """The days on which there is time for a block."""
    span = min(asked.last - asked.first, LONGEST_PLAN)
    days = [asked.first + timedelta(days=k) for k in range(span.days + 1)] if span.days >= 0 else []
    return [day for day in days if asked.minutes.get(day.weekday(), 0) >= SHORTEST_MIN]


def lengths(minutes: int) -> list[int]:
    """A day's minutes as blocks of 10 to 20, as even as they go; what is left of less than a block is left free."""
    if minutes < SHORTEST_MIN:
        return []
    count = -(-minutes // LONGEST_MIN)
    even = minutes // count
    while even < SHORTEST_MIN:  # such as 21 minutes: two blocks of ten
        count -= 1
        even = min(LONGEST_MIN, minutes // count)
    return [even] * count


def laid_out(
    slots: Sequence[tuple[date, int]], aims: Sequence[Aim], begun: int = 0, moved: frozenset[int] = frozenset()
) -> tuple[Block, ...]:
    """A block for each slot (day, minutes). ``begun``: so many blocks came before; ``moved``: the places in ``slots``
    that take what was missed."""
    last_of_week = {_week(day): k for k, (day, _) in enumerate(slots)}
    mixed = len(aims) > 1 and all(a.passed for a in aims)
    turns: dict[str, int] = {}
    out: list[Block] = []
    for k, (day, minutes) in enumerate(slots):
        mine = list(aims) if mixed else [_whose_turn(aims, begun + k)]
        drills = tuple((a.finding, a.drills[turns.get(a.finding, 0) % len(a.drills)].id) for a in mine)
        without = last_of_week[_week(day)] == k
        times = begun + min(turns.get(a.finding, 0) for a in mine)
        feedback = 0.0 if without else FEEDBACK[min(times, len(FEEDBACK) - 1)]
        for a in mine:
            turns[a.finding] = turns.get(a.finding, 0) + 1
        before = out[-1].day if out else None
        why = [_spacing(before, day), Because.MIXED if mixed else Because.ALONE]
        why.append(Because.WITHOUT if without else Because.FULL_FEEDBACK if feedback == 1.0 else Because.FADING)
        if k in moved:
            why.append(Because.MOVED)
        order = sum(b.day == day for b in out)
        out.append(Block(begun + k, day, order, minutes, drills, feedback, tuple(why)))
    return tuple(out)


def _week(day: date) -> tuple[int, int]:
    """The calendar week, Monday to Sunday."""
    year, week, _ = day.isocalendar()
    return year, week


def _whose_turn(aims: Sequence[Aim], k: int) -> Aim:
    """One aim a block: the first twice as often as the second."""
    return aims[1] if len(aims) > 1 and k % 3 == 2 else aims[0]


def _spacing(before: date | None, day: date) -> Because:
    if before is None:
        return Because.FIRST
    return Because.SAME_DAY if before == day else Because.SPACED
