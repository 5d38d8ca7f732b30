"""At most two priorities, and why."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from finearc.core.judging.findings import FINDING_MIN_SEVERITY, LEVELS, PHASES, Ask, Drill, Finding

MOST = 2


@dataclass(frozen=True)
class Limit:
    """A limit of movement: no finding or drill asks for more of it."""

    area: str
    movement: str
    side: str = ""


@dataclass(frozen=True)
class Proposal:
    """A proposed priority: the finding, why it ranks here, the drills that suit and those withheld with why."""

    finding: Finding
    why: str
    drills: tuple[Drill, ...]
    withheld: tuple[tuple[Drill, str], ...]


def asks_too_much(ask: Ask, limits: Sequence[Limit]) -> Limit | None:
    """The limit that this ask would run into, or None."""
    for limit in limits:
        if limit.area == ask.area and limit.movement in (ask.movement, "any") and limit.side in ("", "lead", "both"):
            return limit
    return None


def _rank(finding: Finding, ball: Sequence[str]) -> tuple[int, int, float, int]:
    fits = len(set(finding.rule.ball) & set(ball))
    return (
        PHASES.index(finding.rule.phase),
        LEVELS.index(finding.rule.level),
        -finding.severity * finding.confidence,
        -fits,
    )


def propose(
    findings: Sequence[Finding], drills: Mapping[str, Drill], ball: Sequence[str], limits: Sequence[Limit]
) -> list[Proposal]:
    """Among the root findings, in order: phase, body before hands before shaft before face, severity times
    confidence, the player's own ball flight. Hints come after findings that rest on several swings. What
    nothing suitable can be done about within the player's limits comes last."""
    roots = [f for f in findings if f.role == "root" and f.severity >= FINDING_MIN_SEVERITY]
    proposals = [_proposal(f, findings, drills, ball, limits) for f in roots]
    ordered = sorted(
        proposals,
        key=lambda p: (p.finding.status != "finding", not p.drills, _rank(p.finding, ball)),
    )
    return ordered[:MOST]


def _proposal(
    finding: Finding,
    findings: Sequence[Finding],
    drills: Mapping[str, Drill],
    ball: Sequence[str],
    limits: Sequence[Limit],
) -> Proposal:
    suits, withheld = [], []
    for name in finding.rule.drills:
        drill = drills[name]
        hit = next((limit for ask in drill.asks if (limit := asks_too_much(ask, limits)) is not None), None)
        if hit is None:
            suits.append(drill)
        else:
            withheld.append((drill, f"it asks for more {hit.area} {hit.movement} than the player's limit"))
    below = [f.rule.label.lower() for f in findings if f.explained_by == finding.rule.id]
    parts = [f"it comes first in the swing ({finding.rule.phase})"]
    parts.append(f"{finding.shown} of {finding.assessed} swings show it")
    if below:
        parts.append(f"it may bring {', '.join(below)} with it")
    fits = sorted(set(finding.rule.ball) & set(ball))
    if fits:
        parts.append(f"it fits with the ball flight ({', '.join(fits)})")
    return Proposal(finding, "; ".join(parts), tuple(suits), tuple(withheld))
