"""What is named must be known: nothing unknown is kept, and nothing stands in for it."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from difflib import get_close_matches
from uuid import UUID

from finearc.catalogue import library
from finearc.catalogue.interface import moment_ids
from finearc.catalogue.rule_set import RuleSet
from finearc.services.errors import NotFound, Refused
from finearc.services.ports import UnitOfWork
from finearc.services.records import BenchmarkVersion, Player
from finearc.wording import tr

PUTTER = "putter"
"""The club that putts are made with."""


def _refuse(what: str, name: str, known: Collection[str]) -> None:
    near = get_close_matches(name, known, 1)
    advice = tr('Did you mean "{near}"?', near=near[0]) if near else tr("Choose one of those that are there")
    raise Refused(tr('there is no {what} "{name}"', what=what, name=name[:60]), advice)


def refuse_unknown_club(club: str) -> None:
    """Raises ``Refused``."""
    if club not in library.clubs():
        _refuse("club", club, library.clubs())


def refuse_unknown_findings(rule_set: RuleSet, findings: Iterable[str]) -> None:
    """Empty is none. Raises ``Refused``."""
    known = {rule.id for rule in rule_set.rules}
    for finding in findings:
        if finding and finding not in known:
            _refuse("finding", finding, known)


def refuse_unknown_drills(rule_set: RuleSet, drills: Iterable[str]) -> None:
    """Empty is none. Raises ``Refused``."""
    for drill in drills:
        if drill and drill not in rule_set.drills:
            _refuse("drill", drill, rule_set.drills)


def refuse_unknown_place(rule_set: RuleSet, metric: str, moment: str) -> None:
    """A metric, and a moment that anything is read at, in the catalogue or in a range of the academy's. Raises
    ``DataFileError``, ``Refused``."""
    library.metric_of(metric)
    known = {*moment_ids(), *(r.moment.key for r in rule_set.ranges.ranges)}
    if moment not in known:
        _refuse("moment", moment, known)


def refuse_unknown_version(uow: UnitOfWork, label: str) -> None:
    """Empty is the one in use. Raises ``NotFound``."""
    if label and label != library.ranges().version:
        known = {v.label for v in uow.find(BenchmarkVersion)}
        if label not in known:
            raise NotFound(tr('benchmarks "{label}"', label=label[:120]))


def refuse_unknown_players(uow: UnitOfWork, players: Collection[UUID]) -> None:
    """Raises ``NotFound``."""
    if players and len(uow.find(Player, id=list(players))) < len(set(players)):
        raise NotFound(tr("one of the players"))
