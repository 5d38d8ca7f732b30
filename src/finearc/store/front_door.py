"""Before anyone is signed in there is no academy yet: the few queries of sign-in and of starting."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import delete, exists, select, update
from sqlalchemy.orm import Session

from finearc.services.errors import NotFound
from finearc.services.jobs.records import RUNNING, WAITING, Job
from finearc.services.people.ownership import is_kept_apart
from finearc.services.people.records import SecondFactor
from finearc.services.people.roles import Role
from finearc.services.people.sessions import Entered
from finearc.services.records import Academy, Bay, Instructor, Invitation, SignIn, now
from finearc.store import tables as t
from finearc.store.own_players import refuse_foreign


class SqlFrontDoor:
    """Implements ``FrontDoor``."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def enter(self, token_hash: str, named: Mapping[type[Any], UUID]) -> Entered | None:
        """Raises ``NotYours`` for a record of a player who is another instructor's."""
        owned = []
        for kind, key in named.items():
            table = t.MAPPED[kind]
            own = (table.c.id == key) & (table.c.academy_id == t.sign_in.c.academy_id)
            owned.append(exists().where(own).correlate(t.sign_in))
        factor = t.second_factor.c
        query = select(SignIn, t.instructor.c.role, Academy, factor.confirmed_at, *owned)
        query = query.join(t.instructor, t.instructor.c.id == t.sign_in.c.instructor_id)
        query = query.join(t.academy, t.academy.c.id == t.sign_in.c.academy_id)
        query = query.outerjoin(t.second_factor, factor.instructor_id == t.instructor.c.id)
        known = t.sign_in.c.token_hash == token_hash, t.instructor.c.left_at.is_(None)
        row = self._session.execute(query.where(*known)).one_or_none()
        if row is None:
            return None
        session, role, academy, since, *theirs = row
        role = Role(role)
        bare = academy.owners_second_factor and role is Role.OWNER and since is None
        apart = is_kept_apart(academy, role)
        if apart and all(theirs):
            refuse_foreign(self._session, named, session.instructor_id)
        return Entered(session, all(theirs), role, bare, apart)

    def second_factor(self, instructor_id: UUID) -> SecondFactor | None:
        query = select(SecondFactor).where(t.second_factor.c.instructor_id == instructor_id).with_for_update()
        return self._session.scalars(query).one_or_none()

    def instructor_by_email(self, email: str) -> Instructor | None:
        return self._session.scalars(select(Instructor).where(t.instructor.c.email_key == email)).one_or_none()

    def academy_of(self, instructor: Instructor) -> Academy:
        return self._session.get_one(Academy, instructor.academy_id)

    def get_instructor(self, instructor_id: UUID) -> Instructor:
        found = self._session.get(Instructor, instructor_id)
        if found is None:
            raise NotFound("instructor")
        return found

    def sessions_of(self, instructor_id: UUID) -> Sequence[SignIn]:
        return list(self._session.scalars(select(SignIn).where(t.sign_in.c.instructor_id == instructor_id)))

    def end_sessions(self, ids: Sequence[UUID]) -> None:
        self._session.execute(delete(t.sign_in).where(t.sign_in.c.id.in_(list(ids))))

    def touch(self, session_id: UUID) -> None:
        self._session.execute(update(t.sign_in).where(t.sign_in.c.id == session_id).values(seen_at=now()))

    def purge_sessions(self, unused_since: datetime) -> int:
        """Remove the sessions whose life is over; how many there were."""
        s = t.sign_in.c
        gone = self._session.execute(delete(t.sign_in).where((s.expires_at <= now()) | (s.seen_at <= unused_since)))
        return int(gone.rowcount)  # type: ignore[attr-defined]

    def purge_invitations(self, over_since: datetime) -> int:
        """Remove the links that were over by then, used or not; how many there were."""
        gone = self._session.execute(delete(t.invitation).where(t.invitation.c.expires_at <= over_since))
        return int(gone.rowcount)  # type: ignore[attr-defined]

    def bay_of_token(self, token_hash: str, purpose: str = "send") -> tuple[Bay, UUID] | None:
        """The bay that a token is of, made for this ``purpose``, and the token's id; when it was used is written
        down."""
        query = select(Bay, t.bay_token.c.id).join(t.bay_token, t.bay_token.c.bay_id == t.bay.c.id)
        known = t.bay_token.c.token_hash == token_hash, t.bay_token.c.purpose == purpose
        row = self._session.execute(query.where(*known)).one_or_none()
        if row is None:
            return None
        self._session.execute(update(t.bay_token).where(t.bay_token.c.id == row[1]).values(used_at=now()))
        return row[0], row[1]

    def shared_lesson(self, token_hash: str, purpose: str = "page") -> tuple[UUID, UUID] | None:
        """Academy and lesson that a link made for this ``purpose`` opens, while it is neither over nor revoked and the
        player's consent stands; that it was opened is written down."""
        link, lesson, player = t.share_link.c, t.lesson.c, t.player.c
        joined = t.share_link.join(t.lesson, lesson.id == link.lesson_id).join(t.player, player.id == lesson.player_id)
        query = select(link.id, link.academy_id, link.lesson_id).select_from(joined)
        valid = (
            link.purpose == purpose,
            link.revoked_at.is_(None),
            link.expires_at > now(),
            player.consent_at.is_not(None),
        )
        row = self._session.execute(query.where(link.token_hash == token_hash, *valid)).one_or_none()
        if row is None:
            return None
        opened = update(t.share_link).where(link.id == row[0]).values(opened=link.opened + 1, opened_at=now())
        self._session.execute(opened)
        return row[1], row[2]

    def feed(self, token_hash: str) -> tuple[UUID, UUID] | None:
        """Academy and instructor whose lessons a private link feeds to a calendar; when it was asked is written
        down."""
        f = t.calendar_feed.c
        row = self._session.execute(select(f.id, f.academy_id, f.instructor_id).where(f.token_hash == token_hash))
        found = row.one_or_none()
        if found is None:
            return None
        self._session.execute(update(t.calendar_feed).where(f.id == found[0]).values(used_at=now()))
        return found[1], found[2]

    def invitation(self, token_hash: str) -> Invitation | None:
        """A link that somebody was given, while it was neither used nor is over; held until it is."""
        query = select(Invitation).where(t.invitation.c.token_hash == token_hash).with_for_update()
        found = self._session.scalars(query).one_or_none()
        return found if found is not None and found.used_at is None and found.expires_at > now() else None

    def academy(self, academy_id: UUID) -> Academy:
        return self._session.get_one(Academy, academy_id)

    def academies(self) -> list[Academy]:
        return list(self._session.scalars(select(Academy)))

    def unfinished_jobs(self) -> list[tuple[UUID, UUID]]:
        """Academy and id of the jobs that have not ended, in the order they were made."""
        j = t.MAPPED[Job].c
        query = select(j.academy_id, j.id).where(j.state.in_([WAITING, RUNNING])).order_by(j.created_at)
        return [(academy_id, job_id) for academy_id, job_id in self._session.execute(query)]

    def waiting_jobs(self, since: datetime) -> list[tuple[UUID, UUID]]:
        """Academy and id of the jobs that were written down before ``since`` and that nobody has begun."""
        j = t.MAPPED[Job].c
        query = select(j.academy_id, j.id).where(j.state == WAITING, j.created_at < since).order_by(j.created_at)
        return [(academy_id, job_id) for academy_id, job_id in self._session.execute(query)]

    def live_recordings(self) -> list[tuple[UUID, UUID]]:
        """Academy and id of the recordings whose device had not ended when the application did."""
        r = t.recording.c
        return [(a, k) for a, k in self._session.execute(select(r.academy_id, r.id).where(r.live.is_not(None)))]

    def add(self, record: object) -> None:
        self._session.add(record)
        self._session.flush()
