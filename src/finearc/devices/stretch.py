"""What has arrived since the last stretch that was handed over."""

from __future__ import annotations

import itertools
from collections.abc import Collection, Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.kind import Kind
from finearc.core.typing import Array
from finearc.devices.link.bay import Arrived
from finearc.devices.plan import Kept
from finearc.services.capture.raw import Streams


@dataclass
class Stretch:
    """``origin_us``: the bay's clock at the recording's time 0; ``following``: by stream the next sequence that was not
    handed over; ``pending``: what has come since."""

    origin_us: int
    following: dict[str, int] = field(default_factory=dict)
    pending: list[Arrived] = field(default_factory=list)

    def has(self, part: Arrived) -> bool:
        """Whether it was handed over already."""
        return part.samples.first < self.following.get(_key(part), 0) and not part.late

    def leave_out(self, streams: Collection[tuple[str, int]]) -> None:
        """Of what is pending, whatever neither is one of these streams (device, number) nor was handed over before."""
        self.pending = [
            p for p in self.pending if (p.device.id, p.declared.stream) in streams or _key(p) in self.following
        ]

    def taken(self) -> tuple[Streams, Kept]:
        """All that is pending, in order, as the core reads it, and how far the recording then reaches."""
        by_stream: dict[str, list[Arrived]] = {}
        for part in sorted(self.pending, key=lambda p: p.samples.first):
            by_stream.setdefault(_key(part), []).append(part)
        self.pending = []
        out: dict[Kind, Any] = {}
        for key, parts in by_stream.items():
            self.following[key] = max(parts[-1].samples.after, self.following.get(key, 0))
            kind, stream = parts[0].declared.source, self._in_core(parts)
            out[kind] = (*out.get(kind, ()), stream) if kind == INERTIAL else stream
        return out, Kept(self.origin_us, dict(self.following))

    def _in_core(self, parts: list[Arrived]) -> Any:
        """A stream in the order of time: what came late lies where it belongs."""
        time_s = np.concatenate([p.time_s for p in parts]) - self.origin_us / 1e6
        values = np.concatenate([p.samples.values for p in parts])
        order = np.argsort(time_s, kind="stable")
        return parts[0].declared.to_core(time_s[order], values[order])


def slices(part: Arrived, time_s: Array, longest_s: float) -> Iterator[tuple[Any, float]]:
    """What arrived at once, ``time_s`` (n,) on the recording's clock, in slices as the core reads it, each with
    its last instant, s."""
    if time_s[-1] - time_s[0] <= longest_s:
        yield part.declared.to_core(time_s, part.samples.values), float(time_s[-1])
        return
    cuts = np.searchsorted(time_s, np.arange(time_s[0] + longest_s, time_s[-1], longest_s))
    for a, b in itertools.pairwise([0, *cuts.tolist(), len(time_s)]):
        if a < b:
            yield part.declared.to_core(time_s[a:b], part.samples.values[a:b]), float(time_s[b - 1])


def _key(part: Arrived) -> str:
    """A stream within one boot of its device."""
    return f"{part.device.id}/{part.device.hello.device.boot}/{part.declared.stream}"
