"""A practice plan as a response."""

from __future__ import annotations

from finearc.api import models as m
from finearc.core.practice.plan import Block
from finearc.core.practice.words import reasons
from finearc.services.practice.plans import PlanRead


def practice_out(found: PlanRead) -> m.PracticeOut:
    """One plan."""
    wishes, plan = found.document.wishes, found.document.plan
    return m.PracticeOut(
        first=wishes.first,
        last=wishes.last,
        minutes=wishes.minutes,
        place=wishes.place,
        equipment=wishes.equipment,
        blocks=[_block(b, found) for b in plan.blocks],
        withheld=[f"{_label(k, found)} is not offered: {why}." for k, why in plan.withheld.items()],
        broken=[m.BrokenOut(rule=b.rule.value, day=b.day, words=b.words) for b in found.broken],
        stopped=plan.stopped,
        dropped=plan.dropped,
        room=plan.room,
        today=found.today,
    )


def _label(drill_id: str, found: PlanRead) -> str:
    return found.drills[drill_id].label if drill_id in found.drills else drill_id


def _block(block: Block, found: PlanRead) -> m.PracticeBlockOut:
    drills = [found.drills[k] for _, k in block.drills if k in found.drills]
    return m.PracticeBlockOut(
        number=block.number,
        day=block.day,
        minutes=block.minutes,
        drills=[
            m.PracticeDrillOut(id=d.id, label=d.label, how=d.how, feel=d.feel, caution=d.caution, dose=d.dose)
            for d in drills
        ],
        feedback=block.feedback,
        why=reasons(block),
        done=block.done,
    )
