"""Who waits for a place, and which free places they would take: a place that becomes free is among them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from finearc.core.diary.places import Place
from finearc.services.diary.booking import LONGEST_MIN, SHORTEST_MIN
from finearc.services.diary.document import DAY_MINUTES
from finearc.services.diary.places import places_for
from finearc.services.diary.records import Waiting
from finearc.services.errors import Refused
from finearc.services.people.clock import clock_of, today
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Player
from finearc.wording import tr

MOST_WAITING = 100


@dataclass(frozen=True)
class WaitingRead:
    """Who waits, the first to come first, with the places they would take."""

    waiting: Waiting
    player: Player
    places: Sequence[Place]


def add_waiting(uow: UnitOfWork, waiting: Waiting) -> Waiting:
    """Raises ``NotFound``, ``Refused``."""
    uow.get(Player, waiting.player_id)
    if waiting.instructor_id is not None:
        uow.get(Instructor, waiting.instructor_id)
    if waiting.last < waiting.first:
        raise Refused(tr("the last day lies before the first"), tr("Turn them round"))
    if not 0 <= waiting.from_minute < waiting.until_minute <= DAY_MINUTES:
        raise Refused(tr("the time of day ends before it begins"), tr("Turn it round"))
    if not SHORTEST_MIN <= waiting.minutes <= min(LONGEST_MIN, waiting.until_minute - waiting.from_minute):
        raise Refused(
            tr("the lesson does not fit into that time of day"), tr("Choose a longer time, or a shorter lesson")
        )
    if len(uow.find(Waiting)) >= MOST_WAITING:
        raise Refused(
            tr("{most_waiting} wait already", most_waiting=MOST_WAITING), tr("Take out those whose days are over")
        )
    uow.add(waiting)
    return waiting


def waiting_list(uow: UnitOfWork) -> list[WaitingRead]:
    """Those whose days are not over."""
    day = today(clock_of(uow))
    found = [w for w in uow.find(Waiting, order="made_at") if w.last >= day]
    players = {p.id: p for p in uow.find(Player, id=[w.player_id for w in found])}
    return [WaitingRead(w, players[w.player_id], places_for(uow, w)) for w in found]


def served(uow: UnitOfWork, player_id: object) -> None:
    """Whoever got a place waits no longer."""
    for waiting in uow.find(Waiting, player_id=player_id):
        uow.remove(waiting)
