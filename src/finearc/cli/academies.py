"""``finearc academy``: an academy with its first instructor, on a running database."""

from __future__ import annotations

from collections.abc import Callable

from finearc.services.errors import Refused
from finearc.services.people.accounts import account_key
from finearc.services.people.passwords import as_typed, refuse_weak
from finearc.services.people.roles import Role
from finearc.services.records import Academy, Instructor
from finearc.store.migrate import refuse_unless_current
from finearc.store.passwords import Argon2Passwords
from finearc.store.unit_of_work import Store, engine_for


def new_academy(url: str, name: str, person: str, email: str, password: str, say: Callable[[str], None] = print) -> int:
    """Make it. Raises ``Refused`` for a weak password, an account that is there, or an empty name."""
    name, person, email = (" ".join(x.split()) for x in (name, person, email))
    if not name or not person or "@" not in email:
        raise Refused("an academy, a person and an e-mail address are needed")
    refuse_weak(password, (email, person, name))
    engine = engine_for(url)
    refuse_unless_current(engine)
    with Store(engine).front_door() as door:
        if door.instructor_by_email(account_key(email)) is not None:
            raise Refused("there is an account with this e-mail address", "Sign in, or take another address")
        academy = Academy(name)
        door.add(academy)
        door.add(Instructor(academy.id, person, email, Argon2Passwords().hash(as_typed(password)), role=Role.OWNER))
    engine.dispose()
    say(f"{name}: {person} can sign in as {email}")
    return 0
