"""What a database's error means: try again, away, or a value that does not fit."""

from __future__ import annotations

from sqlalchemy.exc import DataError, DBAPIError, IntegrityError
from sqlalchemy.orm.exc import StaleDataError

CLASHES = frozenset({1020, 1205, 1213})
"""Changed since read, lock wait timeout, deadlock (MariaDB error codes): the same again can succeed at once."""
AWAY = frozenset({0, 1040, 1053, 1077, 1927, 2002, 2003, 2006, 2013, 2055})
"""Too many connections, shutting down, connection killed, refused, gone away or lost."""
UNFIT = frozenset({1264, 1292, 1366, 1406, 1690, 4025})
"""Out of range, wrong value, unknown character, too long, a check that fails."""
FULL = frozenset({1021, 1114})
"""The disk or a table is full."""


def code_of(error: BaseException) -> int | None:
    """MariaDB's code of an error, None where it is none of the database's."""
    args = getattr(getattr(error, "orig", None), "args", ())
    return args[0] if args and isinstance(args[0], int) else None


def is_clash(error: BaseException) -> bool:
    """Two transactions stood in each other's way, and this one was rolled back."""
    return isinstance(error, StaleDataError) or (isinstance(error, DBAPIError) and code_of(error) in CLASHES)


def is_away(error: BaseException) -> bool:
    """The database does not answer, or stopped answering; it is not known whether the last commit arrived."""
    return isinstance(error, DBAPIError) and (error.connection_invalidated or code_of(error) in AWAY)


def is_unfit(error: BaseException) -> bool:
    """A value does not fit where it should go."""
    if isinstance(error, IntegrityError):
        return False
    return isinstance(error, DataError) or (isinstance(error, DBAPIError) and code_of(error) in UNFIT)


def is_full(error: BaseException) -> bool:
    """There is no space left."""
    return isinstance(error, DBAPIError) and code_of(error) in FULL


def is_passing(error: BaseException) -> bool:
    """The same again can succeed: a clash, a number or key that another took first, a database that is away."""
    return is_clash(error) or is_away(error) or isinstance(error, IntegrityError)
