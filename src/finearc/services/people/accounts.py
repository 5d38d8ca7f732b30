"""Under which name an account is found."""

from __future__ import annotations

import unicodedata


def account_key(email: str) -> str:
    """The one form of an e-mail address (Unicode NFKC, case folded; UAX 15; from memory): what looks the same to
    the database is not another account to the throttle."""
    return unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", email.strip()).casefold())
