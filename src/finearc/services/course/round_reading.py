"""Reading a round: from the clips' logs to motions with a name, shots that can be compared, and sentences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from finearc.catalogue.library import clubs
from finearc.core.course.card import CardLine, lines_of
from finearc.core.course.compared import Compared, Shot, comparisons
from finearc.core.course.kinds import MotionKind
from finearc.core.course.motions import Motion, motions_of
from finearc.core.course.swung import SLOW_STEP_S
from finearc.core.errors import FineArcError
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import ImuStream
from finearc.wording import mark, tr

OFF_CLOCK_S = 3 * 3600.0
"""A clip that logged everything so long before or after the others has its clock set wrong (house value)."""
WRONG_CLOCK = mark(
    "The clock of the {} clip is set wrong: it logged {:.0f} hours {} the others. Its swings are kept; when in the "
    "round they were is not known."
)
SLOW = mark(
    "The clips of {} log {} samples a second: a strike can fall between two of them, and a shot look like a practice "
    "swing."
)
UNMATCHED = mark("{} of the card: no shot of that club near that time.")


@dataclass(frozen=True)
class RoundData:
    """A round as it is brought: each clip's log by club, the card."""

    captured_at: datetime | None
    handedness: Hand
    logs: Mapping[str, ImuStream]
    card: Sequence[CardLine] = ()


class NoRound(FineArcError):
    """Nothing in the logs can be read as a round."""

    code = "no_round"

    def __str__(self) -> str:
        return tr("streams: no clip logged anything that lasts. Export the round again, with the clips' files.")


@dataclass(frozen=True)
class RoundRead:
    """Everything that happened, in the order of time; of the motions with these numbers the card's line; clubs whose
    clock is wrong; what a person should know."""

    motions: Sequence[Motion]
    lines: Mapping[int, CardLine]
    off_clock: frozenset[str]
    notes: Sequence[str]

    def shots(self) -> list[Shot]:
        """The shots as they are compared, in the order of the round."""
        return shots_of(self.motions, [m.named.kind for m in self.motions], self.lines, self.off_clock)

    def compared(self) -> list[Compared]:
        """Late against early, under pressure, after a bad result."""
        return comparisons(self.shots())


def read_round(data: RoundData) -> RoundRead:
    """Find, measure and name. Raises ``StreamError`` for a log that cannot be used, ``NoRound``."""
    motions = motions_of(data.logs)
    if not motions:
        raise NoRound
    off = _off_clock(motions)
    lines = lines_of(motions, data.card)
    notes = [
        tr(WRONG_CLOCK).format(clubs()[club].label.lower(), abs(hours), tr("after") if hours > 0 else tr("before"))
        for club, hours in off.items()
    ]
    notes += _slow(data.logs)
    lost = len(data.card) - len(lines)
    if lost:
        notes.append(tr(UNMATCHED).format(f"{lost} {('line' if lost == 1 else 'lines')}"))
    return RoundRead(motions, lines, frozenset(off), notes)


def _slow(logs: Mapping[str, ImuStream]) -> list[str]:
    """What slow clips cannot tell, by how slow they are."""
    rates: dict[int, list[str]] = {}
    for club, log in logs.items():
        step_s = float(np.median(np.diff(log.time_s))) if len(log.time_s) > 1 else 0.0
        if step_s > SLOW_STEP_S:
            rates.setdefault(round(1.0 / step_s), []).append(clubs()[club].label.lower())
    return [tr(SLOW).format(", ".join(names), rate) for rate, names in rates.items()]


def _off_clock(motions: Sequence[Motion]) -> dict[str, float]:
    """Clubs that logged wholly outside of the others' hours, and by how many hours."""
    at = {club: np.array([m.at_s for m in motions if m.club == club]) for club in {m.club for m in motions}}
    if len(at) < 3:
        return {}
    middle = float(np.median([np.median(t) for t in at.values()]))
    out = {}
    for club, times in at.items():
        others = np.concatenate(
            [t for k, t in at.items() if k != club and abs(np.median(t) - middle) < 2 * OFF_CLOCK_S]
        )
        if not len(others):
            continue
        if times.min() > others.max() + OFF_CLOCK_S:
            out[club] = float(times.min() - others.max()) / 3600.0
        elif times.max() < others.min() - OFF_CLOCK_S:
            out[club] = float(times.max() - others.min()) / 3600.0
    return out


def shots_of(
    motions: Sequence[Motion],
    kinds: Sequence[MotionKind],
    lines: Mapping[int, CardLine],
    off_clock: frozenset[str] = frozenset(),
) -> list[Shot]:
    """What is compared of the motions that are shots by ``kinds``: a person may have said otherwise than was found."""
    hit = [k for k, kind in enumerate(kinds) if kind is MotionKind.SHOT and motions[k].swing is not None]
    order = _order(motions, hit, lines, off_clock)
    out, before = [], None
    played = [k for k, kind in enumerate(kinds) if kind in (MotionKind.SHOT, MotionKind.PUTT)]
    earlier: dict[int, CardLine | None] = {}
    for k in played:
        earlier[k], before = before, lines.get(k)
    for k in hit:
        motion, line = motions[k], lines.get(k)
        swing = motion.swing
        if swing is None or motion.named.stroke is None:
            continue
        last = earlier.get(k)
        out.append(
            Shot(
                motion.club,
                motion.named.stroke,
                swing.elevation,
                swing.elevation_sd,
                swing.back_s,
                swing.tempo,
                order.get(k),
                None if line is None else line.pressure,
                None if last is None else last.bad,
                k,
            )
        )
    return out


def _order(
    motions: Sequence[Motion], hit: Sequence[int], lines: Mapping[int, CardLine], off_clock: frozenset[str]
) -> dict[int, float]:
    """Each shot's place in the round from 0 to 1: by its hole where most have one, else by the clock."""
    holes = {k: line.hole for k, line in lines.items() if line.hole is not None and k in set(hit)}
    if hit and len(holes) > len(hit) / 2:
        first, last = min(holes.values()), max(holes.values())
        return {k: (hole - first + 0.5) / (last - first + 1) for k, hole in holes.items()}
    timed = [k for k in hit if motions[k].club not in off_clock]
    if len(timed) < 2:
        return {}
    first_s, last_s = motions[timed[0]].at_s, motions[timed[-1]].at_s
    return {k: (motions[k].at_s - first_s) / max(last_s - first_s, 1e-9) for k in timed}
