"""What the last lesson's test had shown, and what is left of it in the first swings of this one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from finearc.core.comparing.retention import FIRST, Left, Retention, retention
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import at_moment, place_words
from finearc.services.lesson.pages import BlockRead, LessonRead, block_reads
from finearc.services.lesson.summary import counting_swings
from finearc.services.ports import UnitOfWork
from finearc.services.records import Block, Lesson, Swing
from finearc.wording import tr, trn


@dataclass(frozen=True)
class Retained:
    """``block``: the last test of the last lesson, which showed a change from ``before`` to ``after`` (the metric's
    unit); what is ``found`` of it now."""

    block: Block
    on: date
    before: float
    after: float
    found: Retention

    def line(self, *, plain: bool) -> str:
        """All of it in one sentence."""
        metric = BY_ID[self.block.metric]
        per = PER_SI[metric.unit]

        def said(value: float) -> str:
            return at_moment(metric, self.block.moment, value / per, plain=plain)

        place = place_words(self.block.moment).replace(" top", tr(" the top"))
        name = (metric.plain_label if plain else metric.label).lower()
        then = tr(
            "Last time {name}{place} went from {said} to {said2}",
            name=name,
            place=place,
            said=said(self.before),
            said2=said(self.after),
        )
        now = self.found.now
        if now is None:
            left = FIRST - self.found.swings
            return trn(
                "{then}. Kept? Too early to tell; {count} more swing.",
                "{then}. Kept? Too early to tell; {count} more swings.",
                left,
                then=then,
            )
        what = {
            Left.KEPT: tr("kept"),
            Left.PART: tr("kept in part"),
            Left.LOST: tr("lost again"),
            Left.UNCERTAIN: tr("not told apart across two calibrations"),
        }[self.found.left]
        return tr(
            "{then}; the first {first} swings today: {said}. {upper}{what}.",
            then=then,
            first=FIRST,
            said=said(now),
            upper=what[0].upper(),
            what=what[1:],
        )


def retained(uow: UnitOfWork, read: LessonRead) -> Retained | None:
    """What the player's last lesson changed with the club in hand, as its last test showed; None where none did."""
    lesson, last_id = read.head.lesson, read.head.last_closed
    if last_id is None:
        return None
    last = uow.get(Lesson, last_id)
    tested = _last_test(uow, last_id, last, lesson.club)
    if tested is None or tested.change is None:
        return None
    change, block = tested.change.change, tested.block
    now = counting_swings([s.swing for s in read.swings], lesson.club)[:FIRST]
    rows = {r.swing_id: r for r in uow.swings.values([s.id for s in now], [(block.metric, block.moment)])}
    per = PER_SI[BY_ID[block.metric].unit]
    at = [rows[s.id] for s in now if s.id in rows]
    pose = per * max((r.calibration_part for r in at), default=0.0)
    values = [per * r.value for r in at]
    before, after = change.before.median, change.after.median
    return Retained(block, last.starts_at.date(), before, after, retention(before, after, values, pose))


def _last_test(uow: UnitOfWork, lesson_id: UUID, lesson: Lesson, club: str) -> BlockRead | None:
    """The newest test that showed a real change."""
    blocks = uow.find(Block, lesson_id=lesson_id, order="started_at")
    if not any(b.kind == "test" and b.club == club for b in blocks):
        return None
    swings = uow.find(Swing, lesson_id=lesson_id, order="number")
    told = [b for b in block_reads(uow, lesson, blocks, swings) if b.block.club == club and b.change is not None]
    real = [b for b in told if b.change is not None and b.change.change.changed]
    return real[-1] if real else None
