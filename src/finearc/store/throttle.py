"""Counting tries in the database: together for all processes, and kept over a restart."""

from __future__ import annotations

import hashlib
import time

from limits import RateLimitItem, RateLimitItemPerSecond
from limits.storage import Storage
from limits.strategies import FixedWindowRateLimiter
from sqlalchemy import Engine, case, delete, func, select
from sqlalchemy.dialects.mysql import insert as upsert
from sqlalchemy.exc import DBAPIError

from finearc.services.people.sessions import TooManyTries
from finearc.store.tables import throttle


class Counters(Storage):
    """Counters for the ``limits`` library in a table: whoever counts sees every count before, however many come at
    once, because the row stays locked until it is read."""

    STORAGE_SCHEME = ["finearc"]  # noqa: RUF012 - the library's own shape

    def __init__(self, engine: Engine) -> None:
        super().__init__()
        self._engine = engine

    @property
    def base_exceptions(self) -> type[Exception]:
        return DBAPIError

    def incr(self, key: str, expiry: int, amount: int = 1) -> int:
        now = time.time()
        row = {"name": _hashed(key), "hits": amount, "ends_s": now + expiry}
        put = upsert(throttle).values(row)
        over = throttle.c.ends_s <= now
        # in this order: the second assignment sees what the first one wrote
        put = put.on_duplicate_key_update(
            [
                ("hits", case((over, amount), else_=throttle.c.hits + amount)),
                ("ends_s", case((over, now + expiry), else_=throttle.c.ends_s)),
            ]
        )
        with self._engine.begin() as connection:
            connection.execute(put)
            found = connection.scalar(select(throttle.c.hits).where(throttle.c.name == row["name"]))
        return int(found or 0)

    def get(self, key: str) -> int:
        now = time.time()
        query = select(throttle.c.hits).where(throttle.c.name == _hashed(key), throttle.c.ends_s > now)
        with self._engine.begin() as connection:
            return int(connection.scalar(query) or 0)

    def get_expiry(self, key: str) -> float:
        query = select(throttle.c.ends_s).where(throttle.c.name == _hashed(key))
        with self._engine.begin() as connection:
            return float(connection.scalar(query) or time.time())

    def check(self) -> bool:
        with self._engine.begin() as connection:
            return connection.scalar(select(func.count()).select_from(throttle)) is not None

    def reset(self) -> int | None:
        with self._engine.begin() as connection:
            return connection.execute(delete(throttle)).rowcount

    def clear(self, key: str) -> None:
        with self._engine.begin() as connection:
            connection.execute(delete(throttle).where(throttle.c.name == _hashed(key)))


def _hashed(key: str) -> str:
    """Neither an account nor an address stands in the table."""
    return hashlib.sha256(key.encode("utf-8", "surrogatepass")).hexdigest()


TRIES = {"account-here": 6, "account": 18, "address": 40}
"""In ``window_s`` (house values): of an account from one address; of an account, so that a person can still sign in
elsewhere while somebody tries; of an address, behind which a whole academy may sit."""


class SqlThrottle:
    """Implements ``Throttle``: so many tries of an account from one address, of an account, and of an address."""

    def __init__(self, engine: Engine, window_s: int = 300) -> None:
        self._engine = engine
        self._counters = Counters(engine)
        self._limiter = FixedWindowRateLimiter(self._counters)
        self._here, self._account, self._address = (
            RateLimitItemPerSecond(tries, window_s, namespace) for namespace, tries in TRIES.items()
        )

    def attempt(self, account: str, address: str) -> None:
        for item, keys in self._limits(account, address):
            if not self._limiter.hit(item, *keys):
                ends = self._limiter.get_window_stats(item, *keys).reset_time
                raise TooManyTries(max(1, int(ends - time.time()) + 1))

    def passed(self, account: str, address: str) -> None:
        for item, keys in self._limits(account, address):
            self._limiter.clear(item, *keys)

    def _limits(self, account: str, address: str) -> list[tuple[RateLimitItem, tuple[str, ...]]]:
        return [(self._here, (account, address)), (self._account, (account,)), (self._address, (address,))]

    def purge(self) -> int:
        """Forget the counts whose time is over; how many there were."""
        with self._engine.begin() as connection:
            return connection.execute(delete(throttle).where(throttle.c.ends_s <= time.time())).rowcount
