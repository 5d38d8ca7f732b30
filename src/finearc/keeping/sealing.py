"""How a piece is packed (Zstandard, RFC 8878) and named by its content; with a passphrase it is encrypted too.

Encrypted: AES-256-GCM (NIST SP 800-38D) with a random key for each folder, kept wrapped by a key derived from the
passphrase (scrypt, RFC 7914). Names are then keyed (HMAC-SHA-256), so that they tell nothing of the content."""

from __future__ import annotations

import hashlib
import hmac
import secrets
from base64 import b64decode, b64encode
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Protocol

import zstandard
from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.kdf.scrypt import Scrypt

from finearc.keeping.errors import BackupTrouble

LEVEL = 3
NONCE = 12
SCRYPT = {"n": 2**17, "r": 8, "p": 1}
"""128 MiB and some tenths of a second a guess: what OWASP's password storage cheat sheet asks for (from memory)."""


class Sealing(Protocol):
    """Names a piece, packs it, and unpacks it."""

    def name(self, content: bytes) -> str: ...

    def seal(self, content: bytes) -> bytes: ...

    def open(self, sealed: bytes) -> bytes:
        """Raises ``BackupTrouble`` for one that is damaged."""
        ...


def _damaged() -> BackupTrouble:
    return BackupTrouble("a piece of it is damaged", "Restore another backup, or take the folder from another copy")


class Plain:
    """Packed, not encrypted; named by SHA-256."""

    def name(self, content: bytes) -> str:
        return hashlib.sha256(content).hexdigest()

    def seal(self, content: bytes) -> bytes:
        return zstandard.ZstdCompressor(level=LEVEL, write_checksum=True).compress(content)

    def open(self, sealed: bytes) -> bytes:
        try:
            return zstandard.ZstdDecompressor().decompress(sealed)
        except zstandard.ZstdError:
            raise _damaged() from None


@dataclass(frozen=True)
class Encrypted:
    """Packed, then encrypted; named by a keyed hash. ``key``: 64 bytes, half for each."""

    key: bytes

    def name(self, content: bytes) -> str:
        return hmac.new(self.key[32:], content, hashlib.sha256).hexdigest()

    def seal(self, content: bytes) -> bytes:
        nonce = secrets.token_bytes(NONCE)
        return nonce + AESGCM(self.key[:32]).encrypt(nonce, Plain().seal(content), None)

    def open(self, sealed: bytes) -> bytes:
        try:
            packed = AESGCM(self.key[:32]).decrypt(sealed[:NONCE], sealed[NONCE:], None)
        except (InvalidTag, ValueError):
            raise _damaged() from None
        return Plain().open(packed)


def _wrapping(passphrase: str, salt: bytes, cost: Mapping[str, int]) -> AESGCM:
    return AESGCM(Scrypt(salt=salt, length=32, **cost).derive(passphrase.encode()))


def new_key(passphrase: str) -> tuple[Encrypted, dict[str, Any]]:
    """A random key, and what is kept of it: wrapped, useless without the passphrase."""
    key, salt, nonce = secrets.token_bytes(64), secrets.token_bytes(16), secrets.token_bytes(NONCE)
    wrapped = nonce + _wrapping(passphrase, salt, SCRYPT).encrypt(nonce, key, None)
    kept = {"kdf": "scrypt", **SCRYPT, "salt": b64encode(salt).decode(), "key": b64encode(wrapped).decode()}
    return Encrypted(key), kept


def known_key(kept: Mapping[str, Any], passphrase: str) -> Encrypted:
    """The key of a folder. Raises ``BackupTrouble`` for another passphrase."""
    if not passphrase:
        raise BackupTrouble("it is encrypted", "Give the passphrase: --passphrase-file FILE")
    wrapped, cost = b64decode(kept["key"]), {k: int(kept[k]) for k in SCRYPT}
    try:
        unwrapping = _wrapping(passphrase, b64decode(kept["salt"]), cost)
        return Encrypted(unwrapping.decrypt(wrapped[:NONCE], wrapped[NONCE:], None))
    except InvalidTag:
        raise BackupTrouble("the passphrase is another", "Give the one with which the first backup was made") from None
