"""A player's rounds: keeping, looking, correcting, and the course against the range."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

import numpy as np

from finearc.core.course.card import CardLine
from finearc.core.course.compared import (
    BACK,
    LENGTH,
    TEMPO,
    Compared,
    Shot,
    What,
    comparisons,
    groups_of,
    own_band,
    range_against_course,
)
from finearc.core.course.kinds import MotionKind, Stroke
from finearc.core.course.motions import Motion
from finearc.core.events.model import Checkpoint
from finearc.core.frames.handedness import Hand
from finearc.services.course.document import RoundDocument, document, document_of
from finearc.services.course.records import OwnRange, Round, RoundCorrection, RoundLog
from finearc.services.course.round_reading import RoundData, RoundRead, shots_of
from finearc.services.errors import Refused
from finearc.services.ports import CourseRow, RawCodec, UnitOfWork
from finearc.services.records import Player, now
from finearc.wording import tr

BAY = {LENGTH.id: ("shaft_elevation", "top"), BACK.id: ("backswing_time", "swing"), TEMPO.id: ("tempo", "swing")}
"""Where the bay has what a clip measures on the course."""
FAR = timedelta(days=400)
"""So old swings of the bay still say how a player swings (house value)."""


@dataclass(frozen=True)
class MotionRead:
    """One motion: what was found, and ``kind`` that a person says instead, where one did."""

    number: int
    motion: Motion
    line: CardLine | None
    corrected: MotionKind | None

    @property
    def kind(self) -> MotionKind:
        return self.corrected or self.motion.named.kind


@dataclass(frozen=True)
class OwnBand:
    """A club's backswing in the bay: the player's own middle 80 %, of ``n`` counting swings; rad. ``kept_at``: when it
    was kept; None of one that is not."""

    club: str
    low: float
    middle: float
    high: float
    n: int
    kept_at: datetime | None = None


@dataclass(frozen=True)
class RoundPage:
    """A round as a screen shows it. ``sides``: by a shot's number, on which side of each comparison it is: True for
    late, under pressure, after a bad result."""

    round: Round
    player: Player
    motions: Sequence[MotionRead]
    compared: Sequence[Compared]
    bands: Sequence[OwnBand]
    notes: Sequence[str]
    sides: Mapping[int, Mapping[What, bool]]


def keep_round(
    uow: UnitOfWork, codec: RawCodec, player: Player, data: RoundData, read: RoundRead, name: str, by: str
) -> Round:
    """Keep what was read and the raw logs. ``by``: who brought it."""
    kept = Round(
        uow.academy_id, player.id, data.captured_at or now(), name, document_of(read, data.handedness.value), by
    )
    uow.add(kept)
    for club, log in data.logs.items():
        columns: dict[str, Any] = {"time_s": log.time_s}
        columns |= {f"acc_{a}": v for a, v in zip("xyz", log.acc_m_s2.T, strict=True)}
        columns |= {f"gyr_{a}": v for a, v in zip("xyz", log.gyr_rad_s.T, strict=True)}
        uow.add(RoundLog(uow.academy_id, kept.id, club, codec.pack(columns)))
    return kept


def rounds_of(uow: UnitOfWork, player_id: UUID) -> list[tuple[Round, dict[str, int]]]:
    """A player's rounds, the latest first, with how many of each kind, as corrected. Raises ``NotFound``."""
    uow.get(Player, player_id)
    found = uow.find(Round, player_id=player_id, order="-played_at")
    corrected: dict[UUID, dict[int, MotionKind]] = {}
    for c in uow.find(RoundCorrection, round_id=[r.id for r in found]) if found else []:
        corrected.setdefault(c.round_id, {})[c.number] = MotionKind(c.kind)
    out = []
    for one in found:
        said = corrected.get(one.id, {})
        kinds = [said.get(k, m.named.kind).value for k, m in enumerate(document(one.document).motions)]
        out.append((one, {k.value: kinds.count(k.value) for k in MotionKind}))
    return out


def round_page(uow: UnitOfWork, round_id: UUID) -> RoundPage:
    """All of one round. Raises ``NotFound``."""
    kept = uow.get(Round, round_id)
    player = uow.get(Player, kept.player_id)
    found = document(kept.document)
    said = {c.number: MotionKind(c.kind) for c in uow.find(RoundCorrection, round_id=round_id)}
    motions = [MotionRead(k, m, found.lines.get(k), said.get(k)) for k, m in enumerate(found.motions)]
    shots = _shots(found, [m.kind for m in motions])
    bay = {club: _bay(uow, kept, club) for club in dict.fromkeys(s.club for s in shots)}
    compared = comparisons(shots, [_against(club, rows, _full(shots, club)) for club, rows in bay.items() if rows])
    known = {r.club: r for r in uow.find(OwnRange, player_id=player.id, metric=LENGTH.id, moment=TOP)}
    bands = []
    for club, values in bay.items():
        own = known.get(club)
        if own is not None:
            bands.append(OwnBand(club, own.low, own.middle, own.high, own.n, own.made_at))
        elif (band := own_band([row.value for row in values.get(LENGTH.id, ())])) is not None:
            bands.append(OwnBand(club, *band, len(values[LENGTH.id])))
    return RoundPage(kept, player, motions, compared, bands, found.notes, _sides(shots))


TOP = Checkpoint.TOP.value


def keep_own_ranges(uow: UnitOfWork, round_id: UUID) -> None:
    """Keep the player's own ranges of the clubs of a round as the bay's swings are now, in the place of those before.
    Raises ``NotFound``."""
    kept = uow.get(Round, round_id)
    for club in dict.fromkeys(m.club for m in document(kept.document).motions):
        values = [row.value for row in _bay(uow, kept, club).get(LENGTH.id, ())]
        band = own_band(values)
        if band is None:
            continue
        for old in uow.find(OwnRange, player_id=kept.player_id, club=club, metric=LENGTH.id, moment=TOP):
            uow.remove(old)
        low, middle, high = map(float, band)
        uow.add(OwnRange(uow.academy_id, kept.player_id, club, LENGTH.id, TOP, low, middle, high, len(values)))


def _sides(shots: Sequence[Shot]) -> dict[int, dict[What, bool]]:
    out: dict[int, dict[What, bool]] = {}
    for what in (What.PRESSURE, What.LATE, What.AFTER_BAD):
        for second, group in enumerate(groups_of(what, shots)):
            for shot in group:
                out.setdefault(shot.number, {})[what] = bool(second)
    return out


CLIP_SD = float(np.deg2rad(0.5))
"""What the clip's own rest leaves open of a backswing's length from one fitting to the next (house value)."""


def _against(club: str, bay: Mapping[str, Sequence[CourseRow]], course: Sequence[Shot]) -> Compared:
    parts = [row.calibration_part for row in bay.get(LENGTH.id, ())]
    sd = float(np.hypot(np.median(parts) if parts else 0.0, CLIP_SD))
    return range_against_course(club, {k: [r.value for r in rows] for k, rows in bay.items()}, course, sd)


def _shots(found: RoundDocument, kinds: Sequence[MotionKind]) -> list[Shot]:
    return shots_of(found.motions, kinds, found.lines, frozenset(found.off_clock))


def _full(shots: Sequence[Shot], club: str) -> list[Shot]:
    return [s for s in shots if s.club == club and s.stroke is Stroke.FULL]


def _bay(uow: UnitOfWork, kept: Round, club: str) -> Mapping[str, list[CourseRow]]:
    """The player's counting full swings with a club in the bay before the round's next day, by quantity."""
    until, since = kept.played_at + timedelta(days=1), kept.played_at - FAR
    out = {}
    for quantity, (metric, moment) in BAY.items():
        rows = [
            row
            for row in uow.swings.course(kept.player_id, club, metric, moment)
            if since <= row.captured_at <= until and row.kind == "normal" and row.shot in ("", "full")
        ]
        if rows:
            out[quantity] = rows
    return out


def correct(uow: UnitOfWork, round_id: UUID, number: int, kind: MotionKind | None, by: str) -> None:
    """Say what a motion was; None takes back what was said. Raises ``NotFound``, ``Refused`` for a number that is not
    there, or a shot that nobody could have measured."""
    kept = uow.hold(Round, round_id)
    motions = document(kept.document).motions
    if not 0 <= number < len(motions):
        raise Refused(
            tr("motion {number} is not in this round", number=number),
            tr("It has {motions} motions, counted from 0", motions=len(motions)),
        )
    for earlier in uow.find(RoundCorrection, round_id=round_id, number=number):
        uow.remove(earlier)
    if kind is not None and kind is not motions[number].named.kind:
        uow.add(RoundCorrection(uow.academy_id, round_id, number, kind.value, by))


def data_of(
    uow: UnitOfWork, codec: RawCodec, round_id: UUID, log_of: Callable[[str, Mapping[str, Any]], Any]
) -> RoundData:
    """A round as it was brought: to take it away. ``log_of``: a club's log from its columns. Raises ``NotFound``."""
    kept = uow.get(Round, round_id)
    found = document(kept.document)
    logs = {
        x.club: log_of(x.club, codec.unpack(x.columns)) for x in uow.find(RoundLog, round_id=round_id, order="club")
    }
    return RoundData(kept.played_at, Hand(found.handedness), logs, list(found.lines.values()))


REMOVED_FOR = timedelta(days=1)
"""So long a removed round can be brought back (house value)."""


def remove(uow: UnitOfWork, round_id: UUID) -> None:
    """Set a round aside: nothing sees it any more. Raises ``NotFound``."""
    kept = uow.get(Round, round_id)
    kept.aside, kept.aside_at = True, now()
    uow.flush()


def restore(uow: UnitOfWork, round_id: UUID) -> None:
    """Bring back a round that was removed; one that is there stays. Raises ``NotFound``."""
    for kept in uow.find_aside(Round, id=round_id):
        kept.aside, kept.aside_at = False, None
    uow.flush()
    uow.get(Round, round_id)


def let_go(uow: UnitOfWork) -> None:
    """Rounds that were removed a day ago go for good."""
    for kept in uow.find_aside(Round, aside_at__until=now() - REMOVED_FOR):
        uow.remove(kept)
