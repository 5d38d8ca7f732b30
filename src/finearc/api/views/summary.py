"""The summary of a lesson's swings as a response: findings, causes, priorities, ball flight."""

from __future__ import annotations

from finearc.api import models as m
from finearc.api.views.values import finding_out, not_assessed_out
from finearc.catalogue.library import RangeLibrary
from finearc.core.judging.graph import Node
from finearc.core.judging.priorities import Proposal, strength
from finearc.core.judging.words import at_moment
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.services.lesson import summary


def summary_out(t: summary.LessonSummary, ranges: RangeLibrary, *, left_handed: bool) -> m.SummaryOut:
    return m.SummaryOut(
        club=t.club,
        counting=len(t.counting),
        findings=[finding_out(f, ranges, t.flight.words, left_handed=left_handed) for f in t.findings],
        not_assessed=[not_assessed_out(n) for n in t.not_assessed],
        proposals=[proposal_out(p) for p in t.proposals],
        good=[g.standard for g in t.good],
        plain_good=[g.plain for g in t.good],
        spreads=_spreads(t),
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


def _spreads(t: summary.LessonSummary) -> list[m.SpreadOut]:
    spreads = []
    for metric, event in summary.GOOD:
        s = summary.spread_of(t.counting, metric, event)
        if s is not None:
            known = BY_ID[metric]
            words = at_moment(known, event, s.median / PER_SI[known.unit])
            spreads.append(
                m.SpreadOut(metric=metric, moment=event, n=s.n, median=s.median, spread=s.spread, words=words)
            )
    return spreads
