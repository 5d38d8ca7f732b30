"""A lesson's summary in words: the document that is kept and sent."""

from __future__ import annotations

from typing import TYPE_CHECKING

from finearc.catalogue.library import RangeLibrary
from finearc.core.judging.graph import Node
from finearc.core.judging.priorities import Proposal, strength
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.words import at_moment
from finearc.services.lesson import documents as m
from finearc.services.lesson.wording import finding_out, not_assessed_out

if TYPE_CHECKING:
    from finearc.services.lesson.summary import LessonSummary, Spread


def summary_out(t: LessonSummary, ranges: RangeLibrary, *, left_handed: bool) -> m.SummaryOut:
    return m.SummaryOut(
        club=t.club,
        counting=t.counting,
        findings=[finding_out(f, ranges, t.flight.words, left_handed=left_handed) for f in t.findings],
        not_assessed=[not_assessed_out(n) for n in t.not_assessed],
        proposals=[proposal_out(p) for p in t.proposals],
        good=[g.standard for g in t.good],
        plain_good=[g.plain for g in t.good],
        spreads=[_spread(s) for s in t.spreads],
        graph=[node_out(n) for n in t.graph],
        matched=[
            m.MatchedOut(id=x.id, label=x.label, says=x.says, player_says=x.player_says, shown=n) for x, n in t.matched
        ],
        flight=m.FlightOut(
            words=list(t.flight.words),
            seen=t.flight.seen,
            start=t.flight.start,
            curve=t.flight.curve,
            start_count=t.flight.start_count,
            curve_count=t.flight.curve_count,
            told=t.flight.told,
        ),
        held=list(t.held),
        withheld=[m.WithheldOut(drill=d.id, label=d.label, reason=why) for d, why in t.withheld],
    )


def proposal_out(p: Proposal) -> m.ProposalOut:
    return m.ProposalOut(
        finding=p.finding.rule.id,
        label=p.finding.rule.label,
        plain_label=p.finding.rule.plain_label,
        why=p.why,
        plain_why=p.plain_why,
        rule=p.rule.value,
        over=p.over,
        explains=[f.rule.id for f in p.explains],
        drills=[d.id for d in p.drills],
        withheld=[m.WithheldOut(drill=d.id, label=d.label, reason=why) for d, why in p.withheld],
        contradiction=p.contradiction,
        matched=[x.says for x in p.matched],
        caution=p.finding.rule.caution,
    )


def node_out(n: Node) -> m.NodeOut:
    f = n.finding
    return m.NodeOut(
        finding=f.rule.id,
        label=f.rule.label,
        plain_label=f.rule.plain_label,
        layer=n.layer,
        root=n.root,
        explained_by=f.explained_by,
        status="finding" if f.status == "finding" else "hint",
        strength=strength(f),
        shown=f.shown,
        assessed=f.assessed,
    )


def _spread(s: Spread) -> m.SpreadOut:
    per = PER_SI[s.metric.unit]
    return m.SpreadOut(
        metric=s.metric.id,
        moment=s.moment,
        n=s.n,
        median=per * s.median,
        spread=per * s.spread,
        words=at_moment(s.metric, s.moment, s.median),
    )
