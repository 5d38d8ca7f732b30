"""Argon2 password hashes."""

from __future__ import annotations

import threading

from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher

AT_ONCE = 2
"""Each takes 64 MB while it runs."""


class Argon2Passwords:
    """Implements ``Hasher``."""

    def __init__(self) -> None:
        self._hash = PasswordHash((Argon2Hasher(),))
        self._turns = threading.BoundedSemaphore(AT_ONCE)

    def hash(self, password: str) -> str:
        with self._turns:
            return self._hash.hash(password)

    def verify(self, password: str, hashed: str) -> bool:
        with self._turns:
            return self._hash.verify(password, hashed)
