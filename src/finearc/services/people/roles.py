"""What the people of an academy may do: a right for each kind of work, and the rights of each role."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from finearc.core.errors import FineArcError
from finearc.wording import mark, tr


class Right(StrEnum):
    """One's own account is everybody's. ``FIT``: sensors on, swings captured; ``TEACH``: what is judged, planned,
    trained and sent home; ``RULES``: by what the academy judges; ``OWN``: its people, its clock, its words, erasing."""

    ACCOUNT = "account"
    WATCH = "watch"
    DIARY = "diary"
    FIT = "fit"
    TEACH = "teach"
    RULES = "rules"
    OWN = "own"


class Role(StrEnum):
    """An assistant sees no plan and no notes on pain; a viewer the bays' screens only."""

    OWNER = "owner"
    INSTRUCTOR = "instructor"
    ASSISTANT = "assistant"
    VIEWER = "viewer"


_EVERYBODY = {Right.ACCOUNT, Right.WATCH}
MAY: dict[Role, frozenset[Right]] = {
    Role.OWNER: frozenset(Right),
    Role.INSTRUCTOR: frozenset(Right) - {Right.OWN},
    Role.ASSISTANT: frozenset({*_EVERYBODY, Right.DIARY, Right.FIT}),
    Role.VIEWER: frozenset(_EVERYBODY),
}
NAMES = {
    Role.OWNER: mark("owner"),
    Role.INSTRUCTOR: mark("instructor"),
    Role.ASSISTANT: mark("assistant"),
    Role.VIEWER: mark("viewer"),
}


@dataclass
class NotAllowed(FineArcError):
    """Somebody asks for what their role may not do."""

    role: Role
    code = "not_allowed"

    def __str__(self) -> str:
        return tr(
            "This is not part of your role ({role}). An owner of the academy can change that.", role=NAMES[self.role]
        )


def refuse_unless(role: Role, right: Right) -> None:
    """Raises ``NotAllowed``."""
    if right not in MAY[role]:
        raise NotAllowed(role)
