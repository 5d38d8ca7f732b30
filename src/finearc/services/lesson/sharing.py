"""Links with which a player opens what was shown of a lesson, without an account."""

from __future__ import annotations

import secrets
from datetime import timedelta
from uuid import UUID

from finearc.services.errors import Refused
from finearc.services.people.consent import refuse_withdrawn
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, Player, ShareLink, now
from finearc.wording import tr

MOST_LINKS = 20
"""Of one lesson (house value)."""
BYTES = 32
"""Of a token: 256 bits, which nobody guesses."""


PAGE, PRACTICE = "page", "practice"
"""What a link opens: what was shown of a lesson, or what is practised until the next."""


def make_link(uow: UnitOfWork, lesson_id: UUID, days: int, purpose: str = PAGE) -> tuple[str, ShareLink]:
    """A token that opens the lesson's page, or its practice, for so many days: shown this once, kept as a hash. Raises
    ``NotFound``, ``Refused``."""
    lesson = uow.get(Lesson, lesson_id)
    player = uow.get(Player, lesson.player_id)
    refuse_withdrawn(uow, player)
    if player.consent_at is None:
        raise Refused(tr("nothing is shared of a player without consent"), tr("Note who agreed first"))
    if len(uow.find(ShareLink, lesson_id=lesson_id)) >= MOST_LINKS:
        raise Refused(
            tr("this lesson has {most_links} links", most_links=MOST_LINKS), tr("Revoke those that are not used")
        )
    token = secrets.token_urlsafe(BYTES)
    people = uow.find(Instructor, id=uow.by) if uow.by is not None else []
    until = now() + timedelta(days=days)
    link = ShareLink(
        uow.academy_id, lesson_id, hash_token(token), until, people[0].name if people else "", purpose=purpose
    )
    uow.add(link)
    uow.flush()
    return token, link


def links_of(uow: UnitOfWork, lesson_id: UUID) -> list[ShareLink]:
    """The newest first. Raises ``NotFound``."""
    uow.get(Lesson, lesson_id)
    return uow.find(ShareLink, lesson_id=lesson_id, order="-made_at")


def revoke_link(uow: UnitOfWork, link_id: UUID) -> ShareLink:
    """It opens nothing any more. Raises ``NotFound``."""
    link = uow.get(ShareLink, link_id)
    link.revoked_at = link.revoked_at or now()
    return link
