"""What stands on the one page: two priorities, drill, picture, numbers before and after."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet
from finearc.core.comparing.change import ChangeVerdict
from finearc.core.judging.drills import Drill
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import place_words
from finearc.reports.before_after import before_after
from finearc.reports.drill_picture import drill_picture
from finearc.reports.picture import picture
from finearc.reports.putt_picture import putt_picture
from finearc.reports.voice import Voice
from finearc.services.known import PUTTER
from finearc.services.lesson.documents import FindingOut, SummaryOut
from finearc.services.lesson.pages import BlockRead, LessonRead, lesson_page
from finearc.services.lesson.summary import counts
from finearc.services.people.clock import clock_of
from finearc.services.ports import UnitOfWork
from finearc.wording import day_words, mark, tr

SAFETY = mark(
    "Stop if anything hurts, and see a licensed health professional. This page measures movement; it is no diagnosis."
)
MOST_GOOD = 4
"""The player takes home a few things to keep, not a list."""


def page_of(uow: UnitOfWork, lesson_id: UUID, *, shared: bool = False) -> dict[str, Any]:
    """The content of the page; pain notes and confidence figures stay out. ``shared``: for a link that anybody may come
    to hold, so without limits, dates to come and the instructor's name too."""
    read = lesson_page(uow, lesson_id)
    lesson, player = read.head.lesson, read.head.player
    voice = Voice.of(player)
    counting = [r for r in read.swings if r.swing.club == lesson.club and counts(r.swing)]
    said = next(s for s in read.summaries if s.club == lesson.club)
    chosen = _chosen(read, said)
    by_id = {f.finding: f for f in said.findings}
    lead = next((by_id[c[0]] for c in chosen if c[0] in by_id), None)
    good = said.plain_good if voice.plain else said.good
    putt = putt_picture(uow, counting, lead, voice) if lesson.club == PUTTER else None
    return {
        "kind": "page",
        "player": player.name or tr("Player"),
        "instructor": "" if shared else read.head.instructor,
        "day": day_words(lesson.starts_at.astimezone(clock_of(uow)), "full"),
        "club": library.clubs()[lesson.club].label,
        "swings": len(counting),
        "priorities": [_priority(read.rule_set, *c, by_id.get(c[0]), voice) for c in chosen],
        "good": [voice.say(g) for g in good[:MOST_GOOD]],
        "note": lesson.note,
        "next": day_words(lesson.next_date, "full") if lesson.next_date and not shared else "",
        "gauge": before_after(uow, read, counting, lead, voice),
        "putt": putt,
        "trace": picture(uow, counting, lead, voice) if putt is None else None,
        "matched": [voice.say(m.player_says) for m in said.matched],
        "held": [] if shared else [voice.say(h) for h in said.held],
        "pain": lesson.pain == "yes" and not shared,
        "changes": _changes(read.blocks, voice),
        "mirrored": "mirrored" if voice.left_handed else "",
        "safety": tr(SAFETY),
    }


def _chosen(read: LessonRead, said: SummaryOut) -> list[tuple[str, str, str]]:
    """Finding, label and drill: as the instructor made the plan, else as proposed."""
    lesson = read.head.lesson
    if lesson.planned or lesson.status == "closed":
        return [(p.priority.finding, p.priority.label, p.priority.drill) for p in read.priorities]
    return [(p.finding, p.plain_label, p.drills[0] if p.drills else "") for p in said.proposals]


def _priority(
    rule_set: RuleSet, finding: str, label: str, drill: str, found: FindingOut | None, voice: Voice
) -> dict[str, str]:
    rule, chosen = rule_set.rule(finding), rule_set.drills.get(drill)
    say = voice.say
    cautions = dict.fromkeys(c for c in (rule.caution if rule else "", chosen.caution if chosen else "") if c)
    target = found.target if found is not None else None
    return {
        "label": voice.pick(rule.label, rule.plain_label) if rule else say(label),
        "says": say(rule.player_says) if rule else "",
        "tends": say(rule.tends) if rule else "",
        "drill": say(chosen.label) if chosen else "",
        "how": say(chosen.how) if chosen else "",
        "picture": drill_picture(chosen.picture) if chosen else "",
        "feel": say(chosen.feel) if chosen else "",
        "dose": " ".join(
            t
            for t in (chosen.dose, tr("You need {equipment}.", equipment=chosen.equipment) if _needs(chosen) else "")
            if t
        )
        if chosen
        else "",
        "caution": " ".join(cautions),
        "target": voice.pick(target.sentence, target.plain_sentence) if target is not None else "",
    }


def _needs(drill: Drill) -> bool:
    return drill.equipment not in ("", "none", "a club", "balls")


def _changes(blocks: Sequence[BlockRead], voice: Voice) -> list[dict[str, str]]:
    out = []
    for read in blocks:
        block, result = read.block, read.change
        if result is None or result.change.verdict is ChangeVerdict.TOO_FEW:
            continue
        metric = BY_ID[block.metric]
        per = PER_SI[metric.unit]
        before, after = (
            voice.value(metric, block.moment, g.median / per) for g in (result.change.before, result.change.after)
        )
        out.append(
            {
                "what": f"{voice.label(metric)}{place_words(block.moment)}",
                "before": before,
                "after": after,
                "sentence": voice.say(result.sentence),
            }
        )
    return out
