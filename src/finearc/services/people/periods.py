"""How long an academy keeps what: raw samples and videos, lessons with all that was measured, walk-ins without a name.

A period begins a day after it was chosen, so that what was chosen in error can be taken back before anything goes. What
goes, goes as if it had been erased by hand."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import partial
from uuid import UUID

from dateutil.relativedelta import relativedelta

from finearc.services.capture.prepared import KEPT
from finearc.services.errors import Refused
from finearc.services.people.erasing import erase_lesson, erase_player
from finearc.services.people.records import KeepingPeriods
from finearc.services.ports import UnitOfWork
from finearc.services.records import Chunk, Clip, ClipPart, Lesson, Player, Recording, now
from finearc.wording import tr

GRACE = timedelta(hours=24)
"""Between choosing a rule and its first work (house value)."""
SHOWN = 20
"""So many players are named in a preview."""


@dataclass(frozen=True)
class Periods:
    """Months after a lesson's end, days for walk-ins; 0 keeps for ever."""

    raw_months: int = 0
    lessons_months: int = 0
    walk_ins_days: int = 0

    @property
    def any(self) -> bool:
        return bool(self.raw_months or self.lessons_months or self.walk_ins_days)


@dataclass(frozen=True)
class Due:
    """What a set of periods lets go: ``raw`` of these recordings, ``lessons``, ``players`` left without a lesson, and
    ``walk_ins`` that were never named."""

    raw: Sequence[UUID] = ()
    lessons: Sequence[Lesson] = ()
    players: Sequence[Player] = ()
    walk_ins: Sequence[Player] = ()
    names: Sequence[str] = ()
    oldest: datetime | None = None
    newest: datetime | None = None

    @property
    def count(self) -> int:
        return len(self.raw) + len(self.lessons) + len(self.players) + len(self.walk_ins)


def periods_of(uow: UnitOfWork) -> tuple[Periods, datetime | None]:
    """What an academy has chosen, and since when it holds; nothing goes where nothing was chosen."""
    found = uow.find(KeepingPeriods)
    if not found:
        return Periods(), None
    kept = found[0]
    return Periods(kept.raw_months, kept.lessons_months, kept.walk_ins_days), kept.changed_at + GRACE


def due(uow: UnitOfWork, periods: Periods, at: datetime | None = None) -> Due:
    """What would go by some periods. ``at``: now, or another moment."""
    at = at or now()
    if not periods.any:
        return Due()
    lessons = uow.find(Lesson, order="starts_at")
    by_player: dict[UUID, list[Lesson]] = {}
    for lesson in lessons:
        by_player.setdefault(lesson.player_id, []).append(lesson)
    players = {p.id: p for p in uow.find(Player)}
    walk_ins = _walk_ins(players.values(), by_player, periods, at)
    gone = {p.id for p in walk_ins}
    old = _before(lessons, periods.lessons_months, at, gone)
    left = {x.player_id for x in lessons} - gone
    left = {k for k in left if all(x in old for x in by_player[k])}
    raw = _raw(uow, _before(lessons, periods.raw_months, at, gone), old)
    told = [*old, *(x for p in walk_ins for x in by_player.get(p.id, []))]
    names = sorted({players[x.player_id].name or tr("Walk-in") for x in told})
    days = [x.starts_at for x in told]
    return Due(
        raw, old, [players[k] for k in left], walk_ins, names[:SHOWN], min(days, default=None), max(days, default=None)
    )


def _walk_ins(
    players: Iterable[Player], lessons: dict[UUID, list[Lesson]], periods: Periods, at: datetime
) -> list[Player]:
    """Walk-ins that nobody gave a name, whose last lesson is long over."""
    if not periods.walk_ins_days:
        return []
    until = at - timedelta(days=periods.walk_ins_days)
    never = [p for p in players if p.walk_in and not p.name.strip()]
    return [p for p in never if max([x.ends_at for x in lessons.get(p.id, [])], default=p.created_at) < until]


def _before(lessons: Sequence[Lesson], months: int, at: datetime, gone: set[UUID]) -> list[Lesson]:
    """Lessons that ended so many months ago; a running one stays until somebody ends it."""
    if not months:
        return []
    until = at.astimezone(UTC) - relativedelta(months=months)
    return [x for x in lessons if x.ends_at < until and x.status != "running" and x.player_id not in gone]


def _raw(uow: UnitOfWork, lessons: Sequence[Lesson], old: Sequence[Lesson]) -> list[UUID]:
    ids = [x.id for x in lessons if x not in old]
    return [r.id for r in uow.find(Recording, lesson_id=ids, raw_gone_at=None) if r.segments] if ids else []


def choose(uow: UnitOfWork, periods: Periods, seen: int) -> KeepingPeriods:
    """Keep other periods; ``seen``: how much would go, as the preview said. Raises ``Refused`` where it is otherwise
    now."""
    if periods.lessons_months and periods.raw_months > periods.lessons_months:
        raise Refused(tr("raw samples would be kept longer than their lessons"), tr("Choose as long, or shorter"))
    if due(uow, periods).count != seen:
        raise Refused(tr("what would go is otherwise now than it was shown"), tr("Look at it once more"))
    uow.hold_academy()
    found = uow.find(KeepingPeriods)
    kept = found[0] if found else KeepingPeriods(uow.academy_id)
    if not found:
        uow.add(kept)
    kept.raw_months, kept.lessons_months = periods.raw_months, periods.lessons_months
    kept.walk_ins_days, kept.changed_at = periods.walk_ins_days, now()
    uow.flush()
    return kept


def let_go(uow: UnitOfWork, most: int) -> int:
    """What the academy's periods let go now, at most so many things; how many went."""
    periods, since = periods_of(uow)
    if since is None or since > now():
        return 0
    found = due(uow, periods)
    whole = {p.id for p in found.players}
    work: list[Callable[[], None]] = [partial(erase_player, uow, p) for p in (*found.walk_ins, *found.players)]
    work += [partial(erase_lesson, uow, x) for x in found.lessons if x.player_id not in whole]
    work += [partial(let_go_raw, uow, recording_id) for recording_id in found.raw]
    for one in work[:most]:
        one()
    return len(work[:most])


def let_go_raw(uow: UnitOfWork, recording_id: UUID) -> None:
    """A recording's samples and its swings' videos go; what was measured stays, and can never be measured again."""
    recording = uow.get(Recording, recording_id)
    for chunk in uow.find(Chunk, recording_id=recording_id):
        uow.remove(chunk)
    for clip in uow.find(Clip, lesson_id=recording.lesson_id):
        for part in uow.find(ClipPart, clip_id=clip.id):
            uow.remove(part)
        uow.remove(clip)
    recording.raw_gone_at = now()
    KEPT.forget(recording_id)
    uow.flush()
