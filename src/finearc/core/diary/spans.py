"""Stretches of time. All instants are aware; a stretch holds its beginning and not its end."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple


class Span(NamedTuple):
    """From ``begins`` until before ``ends``."""

    begins: datetime
    ends: datetime

    def meets(self, other: Span) -> bool:
        """Whether the two share time; touching is none."""
        return self.begins < other.ends and other.begins < self.ends

    def holds(self, other: Span) -> bool:
        """Whether the other lies within."""
        return self.begins <= other.begins and other.ends <= self.ends

    def wider(self, by: timedelta) -> Span:
        """With so much more on both sides."""
        return Span(self.begins - by, self.ends + by)


def joined(spans: Iterable[Span]) -> list[Span]:
    """The same time in as few stretches as it takes, in order."""
    out: list[Span] = []
    for span in sorted(s for s in spans if s.begins < s.ends):
        if out and span.begins <= out[-1].ends:
            out[-1] = Span(out[-1].begins, max(out[-1].ends, span.ends))
        else:
            out.append(span)
    return out


def without(open_: Sequence[Span], taken: Iterable[Span]) -> list[Span]:
    """What is left of ``open_``."""
    out = joined(open_)
    for gap in joined(taken):
        left = []
        for span in out:
            if not span.meets(gap):
                left.append(span)
                continue
            left += [s for s in (Span(span.begins, gap.begins), Span(gap.ends, span.ends)) if s.begins < s.ends]
        out = left
    return out
