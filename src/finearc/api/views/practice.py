"""A practice plan as a response."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import asdict

from finearc.api import models as m
from finearc.core.practice.changed import Rule, elsewhere
from finearc.core.practice.plan import NO_LICENCE, Block
from finearc.core.practice.words import reasons
from finearc.services.practice.answers import PageRead
from finearc.services.practice.document import written
from finearc.services.practice.plans import PlanRead
from finearc.services.revisions import revision_of
from finearc.wording import manner, tr

Say = Callable[[str], str]


def practice_out(found: PlanRead, say: Say = str) -> m.PracticeOut:
    """One plan; ``say`` puts what a drill asks for as it goes to the player."""
    wishes, plan = found.document.wishes, found.document.plan
    return m.PracticeOut(
        id=found.id,
        revision=revision_of(json.loads(written(found.document))),
        first=wishes.first,
        last=wishes.last,
        minutes=wishes.minutes,
        place=wishes.place,
        equipment=wishes.equipment,
        blocks=[_block(b, found, say) for b in plan.blocks],
        withheld=[
            tr("{label} is not offered: {why}.", label=_label(k, found), why=why) for k, why in plan.withheld.items()
        ],
        broken=[m.BrokenOut(rule=b.rule.value, day=b.day, words=b.words) for b in found.broken],
        stopped=plan.stopped,
        dropped=plan.dropped,
        room=plan.room,
        today=found.today,
    )


def player_page_out(found: PageRead, say: Say) -> m.PlayerPracticeOut:
    """What the player's own page shows."""
    read = found.plan
    plan = None if read is None else practice_out(read, say)
    if read is not None and plan is not None:
        plan = _for_player(plan, read)
    return m.PlayerPracticeOut(
        player=next(iter(found.player.name.split()), ""),
        manner=m.MannerFields(**asdict(manner())),
        plan=plan,
        days={} if read is None or read.document.plan.stopped else _days(read),
        when_it_hurts=tr("The plan stops here. {no_licence}", no_licence=NO_LICENCE),
        not_done=[m.NotDoneOut(key=x.key, why=x.why) for x in found.not_done],
    )


def _for_player(plan: m.PracticeOut, read: PlanRead) -> m.PracticeOut:
    """As whoever has the link sees it: no drill that a limit or pain noted since withholds, and nothing that tells of
    them."""
    blocks = [b.model_copy(update={"drills": [d for d in b.drills if d.id in read.suited]}) for b in plan.blocks]
    broken = [b for b in plan.broken if b.rule != Rule.DRILL.value]
    return plan.model_copy(update={"withheld": [], "broken": broken, "blocks": blocks})


def _days(read: PlanRead) -> dict[int, list[m.ElsewhereOut]]:
    plan = read.document.plan
    return {
        b.number: [
            m.ElsewhereOut(day=e.day, breaks=list(e.breaks)) for e in elsewhere(plan, read.asked, b.number, read.today)
        ]
        for b in plan.blocks
        if not b.done
    }


def _label(drill_id: str, found: PlanRead) -> str:
    return found.drills[drill_id].label if drill_id in found.drills else drill_id


def _block(block: Block, found: PlanRead, say: Say) -> m.PracticeBlockOut:
    drills = [found.drills[k] for _, k in block.drills if k in found.drills]
    return m.PracticeBlockOut(
        number=block.number,
        day=block.day,
        minutes=block.minutes,
        drills=[
            m.PracticeDrillOut(
                id=d.id, label=d.label, how=say(d.how), feel=say(d.feel), caution=say(d.caution), dose=d.dose
            )
            for d in drills
        ],
        feedback=block.feedback,
        why=reasons(block),
        done=block.done,
        feel=found.felt.get(block.number),
        pain_free=block.number in found.pain_free,
    )
