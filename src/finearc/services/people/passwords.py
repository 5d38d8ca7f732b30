"""What a password must be."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence

from finearc.services.errors import Refused
from finearc.wording import tr

SHORTEST, LONGEST = 12, 128
STRONG_ENOUGH = 3
"""Of 0 to 4: more than 10⁸ guesses, by the estimate of Wheeler 2016 (zxcvbn: Low-Budget Password Strength Estimation,
USENIX Security; its scale from memory), which knows the commonest passwords, names, words, keyboard runs, dates and
repeats."""
LOOKED_AT = 72


def as_typed(password: str) -> str:
    """One form for the same characters typed on different keyboards (NFKC; NIST SP 800-63B 5.1.1.2, from memory)."""
    return unicodedata.normalize("NFKC", password)


def refuse_weak(password: str, about: Sequence[str]) -> None:
    """Raises ``Refused`` for one that is too short, too long or easily guessed; ``about``: words of the person and the
    academy, which are guessed first."""
    if len(password) < SHORTEST:
        raise Refused(tr("a password has at least {n} characters", n=SHORTEST), tr("Several words make a good one"))
    if len(password) > LONGEST:
        raise Refused(tr("a password has at most {n} characters", n=LONGEST), tr("Shorten it"))
    from zxcvbn import zxcvbn  # type: ignore[import-untyped]  # its lists are large: read when somebody changes a password

    known = [w for text in about for w in (text, *text.replace("@", " ").replace(".", " ").split()) if len(w) > 2]
    found = zxcvbn(password[:LOOKED_AT], user_inputs=["fine arc", "finearc", "arc-demo", *known])
    if found["score"] < STRONG_ENOUGH:
        why = found["feedback"]["warning"].rstrip(".") or tr("it is among those that are guessed first")
        raise Refused(
            tr("this password is easily guessed ({why})", why=why[0].lower() + why[1:]),
            tr("Take several unrelated words"),
        )
