"""Long questions: what is computed from what is kept, changes nothing, and is asked again when its worker dies."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from finearc.services.jobs.ports import Tools
from finearc.services.judging import academy_rules, cohorts
from finearc.services.judging.beside import Ranges, ranges_beside
from finearc.services.judging.terms import Terms
from finearc.services.ports import UnitOfWork


@dataclass(frozen=True)
class CohortAsked:
    """Which swings, laid into which version of the ranges (``base``, empty for the one in use), and how much of the
    cohort a range takes in."""

    choice: cohorts.Choice
    base: str
    share: str


@dataclass(frozen=True)
class CohortSeen:
    """``found``: counting swings of the club with their players; ``players`` and ``swings`` of the choice; ``rows``:
    the ranges they would make."""

    found: cohorts.Found
    players: int
    swings: int
    rows: list[cohorts.Row]


def cohort_of(tools: Tools, academy_id: UUID, asked: CohortAsked) -> CohortSeen:
    """What the chosen swings would make of the ranges."""
    with tools.open(academy_id) as uow:
        return see_cohort(uow, asked)


def see_cohort(uow: UnitOfWork, asked: CohortAsked) -> CohortSeen:
    """The same within a unit of work."""
    found = cohorts.counting_of(uow, asked.choice.club)
    swings = cohorts.collected(uow, found, asked.choice)
    rule_set = academy_rules.rule_set_of(uow, label=asked.base)
    terms = Terms(rule_set, academy_rules.schools_of(uow, {}), "adult")
    rows = cohorts.rows(rule_set.ranges, terms, asked.choice.club, swings, asked.share)
    return CohortSeen(found, len({s.player for s in swings}), len(swings), rows)


@dataclass(frozen=True)
class BesideAsked:
    """Which version of the ranges (empty for the one in use), and which club."""

    label: str
    club: str


def beside_of(tools: Tools, academy_id: UUID, asked: BesideAsked) -> Ranges:
    """The ranges beside what was measured."""
    with tools.open(academy_id) as uow:
        return ranges_beside(uow, asked.label, asked.club)


@dataclass(frozen=True)
class FileAsked:
    """A file, and what reads it."""

    work: Callable[[str, bytes], Any]
    name: str
    content: bytes


def read_file(tools: Tools, _: UUID, asked: FileAsked) -> Any:
    """What a reader makes of a file, within its limits."""
    return tools.bounded.read(asked.work, asked.name, asked.content)


def page_as_pdf(tools: Tools, academy_id: UUID, page: Mapping[str, Any]) -> bytes:
    """The page that goes home."""
    return tools.render(page)
