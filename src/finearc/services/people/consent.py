"""Consent: who agreed that a player's data are kept, and who took it back. Without it nothing is kept past the
lesson."""

from __future__ import annotations

from typing import Literal

from finearc.services.errors import Refused
from finearc.services.ports import UnitOfWork
from finearc.services.records import Consent, Instructor, Player, now
from finearc.wording import mark, tr

As = Literal["player", "guardian", ""]
WITHDRAWN = mark("consent was withdrawn")
WHAT_NOW = mark("Export what there is, erase it, or note a new consent")


def give(uow: UnitOfWork, player: Player, by: str, as_: As) -> None:
    """Note that ``by`` agreed, as the player or a guardian. A junior's data need a guardian's. Raises ``Refused``."""
    by = " ".join(by.split())
    if not by:
        raise Refused(tr("a consent needs the name of whoever gave it"))
    if player.population == "junior" and as_ != "guardian":
        raise Refused(
            tr("a junior's data are kept with a parent's or guardian's consent"), tr("Say which of them agreed")
        )
    player.consent_by, player.consent_at = by, now()
    uow.flush()
    uow.add(Consent(uow.academy_id, player.id, True, by, as_ or "player", noted_by=_noted_by(uow)))


def say(uow: UnitOfWork, player: Player, by: str, as_: As) -> None:
    """What a form says of consent: a new name is a new consent, none takes it back. Raises ``Refused``."""
    by = " ".join(by.split())
    if not by:
        if player.consent_at is not None:
            withdraw(uow, player)
        return
    told = history(uow, player)
    enough = player.population != "junior" or (bool(told) and told[0].as_ == "guardian")
    if player.consent_at is None or by != player.consent_by or not enough:
        give(uow, player, by, as_)


def withdraw(uow: UnitOfWork, player: Player) -> None:
    """Note that it was taken back: from now on nothing of the player's is captured, measured or compared; it can be
    exported and erased. Raises ``Refused``."""
    if player.consent_at is None:
        raise Refused(tr("there is no consent to take back"))
    by = player.consent_by
    player.consent_by, player.consent_at = "", None
    uow.flush()
    uow.add(Consent(uow.academy_id, player.id, False, by, "player", noted_by=_noted_by(uow)))


def history(uow: UnitOfWork, player: Player) -> list[Consent]:
    """What was given and taken back, the latest first."""
    return uow.find(Consent, player_id=player.id, order="-at")


def is_withdrawn(uow: UnitOfWork, player: Player) -> bool:
    """Whether the last word was that it is taken back."""
    if player.consent_at is not None:
        return False
    told = history(uow, player)
    return bool(told) and not told[0].given


def refuse_withdrawn(uow: UnitOfWork, player: Player) -> None:
    """Raises ``Refused`` where nothing more may be done with a player's data."""
    if is_withdrawn(uow, player):
        raise Refused(tr(WITHDRAWN), tr(WHAT_NOW))


def _noted_by(uow: UnitOfWork) -> str:
    people = uow.find(Instructor, id=uow.by) if uow.by is not None else []
    return people[0].name if people else ""
