"""What is kept of a secret that somebody else holds."""

from __future__ import annotations

import hashlib


def hash_token(token: str) -> str:
    """What is kept of a session's, a link's or a device's token. They are random, so one round is enough."""
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()
