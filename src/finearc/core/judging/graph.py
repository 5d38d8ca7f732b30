"""The cause graph: which finding may bring which with it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from finearc.core.errors import FineArcError
from finearc.core.judging.findings import LEVELS, PHASES, Finding, FindingRule


@dataclass
class BadGraph(FineArcError):
    """The findings cannot be put in an order of causes."""

    finding: str
    problem: str
    code = "cause_graph"

    def __str__(self) -> str:
        return f'finding "{self.finding}" {self.problem}'


def check(rules: Sequence[FindingRule]) -> None:
    """Raises ``BadGraph`` for a finding that is its own cause, causes one that does not exist, or lies on a cycle."""
    known = {r.id for r in rules}
    for rule in rules:
        for effect in rule.may_cause:
            if effect == rule.id:
                raise BadGraph(rule.id, "is its own cause; take it out of its may_cause")
            if effect not in known:
                raise BadGraph(rule.id, f'may cause "{effect}", which does not exist')
    try:
        TopologicalSorter({r.id: r.may_cause for r in rules}).prepare()
    except CycleError as error:
        ring = list(reversed(error.args[1]))
        raise BadGraph(ring[0], f"is on a cycle of causes: {' → '.join(ring)}; take one of these out") from None


@dataclass(frozen=True)
class Node:
    """A finding in the drawing: ``layer`` counts from the roots, ``root`` is the one it all goes back to."""

    finding: Finding
    layer: int
    root: str


def nodes(findings: Sequence[Finding]) -> list[Node]:
    """The findings in layers from the roots on, in the order of the swing and of body, hands, shaft and face."""
    by_id = {f.rule.id: f for f in findings}
    ordered = sorted(findings, key=lambda f: (PHASES.index(f.rule.phase), LEVELS.index(f.rule.level)))
    return [Node(f, *_depth(f, by_id)) for f in ordered]


def _depth(finding: Finding, by_id: Mapping[str, Finding]) -> tuple[int, str]:
    layer, at = 0, finding
    while at.explained_by is not None and at.explained_by in by_id:
        layer, at = layer + 1, by_id[at.explained_by]
    return layer, at.rule.id


def explained_through(root: str, findings: Sequence[Finding]) -> list[Finding]:
    """All that goes back to a root, nearest first."""
    below = [n for n in nodes(findings) if n.root == root and n.layer > 0]
    return [n.finding for n in sorted(below, key=lambda n: n.layer)]
