"""A round of the golfer model: eighteen holes, fourteen clips that sleep and wake, four hours."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from finearc.core.signals.streams import GRAVITY_M_S2, ImuStream, Segment
from finearc.core.typing import Array
from finearc.golfer.arm import STEP_S
from finearc.golfer.course.motion import DISTURBANCES, Moved
from finearc.golfer.poses import SessionPlan
from finearc.golfer.putting.session import PuttingPlan, perform_putting
from finearc.golfer.putting.style import PuttStyle
from finearc.golfer.sensors import HAND_LEVER_M, Sensed, SensorQuirks, log_of
from finearc.golfer.session import TrueEvents, TrueSession, perform
from finearc.golfer.shots import skilled_style
from finearc.golfer.style import SwingStyle

PUTTER = "putter"
BAG: Mapping[str, str] = {
    "driver": "driver",
    "3-wood": "fairway-wood",
    "hybrid": "fairway-wood",
    "4-iron": "mid-iron",
    "5-iron": "mid-iron",
    "6-iron": "mid-iron",
    "7-iron": "mid-iron",
    "8-iron": "mid-iron",
    "9-iron": "mid-iron",
    "pitching-wedge": "wedge",
    "gap-wedge": "wedge",
    "sand-wedge": "wedge",
    "lob-wedge": "wedge",
    PUTTER: "",
}
"""Fourteen clubs and how each is swung: names of ``golfer.shots.KINDS``."""
HOLES, HOURS = 18, 4.0
CLIP_M = HAND_LEVER_M[Segment.CLUB]
STRIKE_M_S2 = {"": 45.0, "chip": 120.0, "pitch": 180.0}
FULL_STRIKE_M_S2 = 260.0
"""What a strike does to the clip (house values, as in the bay)."""
ASLEEP_S = 1.0
"""A clip goes to sleep so long after the last motion, and has what was before it woke from this long on (house
values)."""
RING_S, RING_FADES_S, RING_HZ = 0.04, 0.007, 95.0
"""How a knock rings in the shaft (house values, as in the bay)."""
BETWEEN_CLIPS_S = 0.25
"""Cut away where two pieces of motion are put together: the clip sleeps there."""


@dataclass(frozen=True)
class RoundStory:
    """Who plays how: under pressure (2 or 3) the shaft stops ``short_deg`` earlier at the top and the backswing takes
    ``quicker_s`` less; from the tenth hole on the top is ``tired_deg`` shorter. ``mishit``: share of bad results."""

    about: str
    short_deg: float = 0.0
    quicker_s: float = 0.0
    tired_deg: float = 0.0
    mishit: float = 0.25
    scatter: float = 1.0


STORIES: Mapping[str, RoundStory] = {
    "round-steady": RoundStory("A round as in the bay: nothing changes under pressure or late."),
    "round-short-under-pressure": RoundStory(
        "Under pressure the backswing gets shorter and quicker.", short_deg=9.0, quicker_s=0.11
    ),
    "round-tired": RoundStory("From the tenth hole on the backswing gets shorter.", tired_deg=7.0),
}


@dataclass(frozen=True)
class TrueMotion:
    """One motion of a club on the round's clock, s: ``kind`` shot, practice, putt or other, ``stroke`` what exactly;
    the rest for swings alone: the instants, shaft elevation at the top, what the shaft swept to it (rad), its peak rate
    of turning, rad/s."""

    club: str
    kind: str
    stroke: str
    start_s: float
    end_s: float
    takeaway_s: float | None = None
    top_s: float | None = None
    impact_s: float | None = None
    elevation_rad: float | None = None
    swept_rad: float | None = None
    peak_rad_s: float | None = None


@dataclass(frozen=True)
class PlayedShot:
    """What the player wrote down of a shot."""

    time_s: float
    hole: int
    shot: int
    club: str
    lie: str
    result: str
    pressure: int


@dataclass(frozen=True)
class RoundRecording:
    """The clips' logs by club, the truth in order of time, and the player's card."""

    logs: Mapping[str, ImuStream]
    truth: tuple[TrueMotion, ...]
    card: tuple[PlayedShot, ...]
    story: str
    seed: int


@dataclass(frozen=True)
class RoundPlan:
    """How much happens."""

    shots: int = 80
    practice: int = 60
    putts: int = 40
    disturbances: int = 300
    tap_ins: int = 12


@dataclass(frozen=True)
class _Wish:
    """A swing that is to be made: what it is and, of shots, the line of the card that it makes."""

    club: str
    kind: str
    stroke: str
    style: SwingStyle | PuttStyle
    time_s: float
    card: PlayedShot | None = None


@dataclass
class _Piece:
    """One waking of a clip: its motion (n), which begins at ``time_s`` of the round, and the truth within it, s from
    the piece's beginning; ``knocks`` likewise."""

    time_s: float
    moved: Moved
    truth: TrueMotion
    strike_m_s2: float | None = None


def play_round(
    name: str, seed: int, plan: RoundPlan | None = None, quirks: SensorQuirks | None = None
) -> RoundRecording:
    """A story of ``STORIES``. Deterministic for a seed."""
    rng = np.random.default_rng([seed, 0xC11B])
    plan = plan or RoundPlan()
    wishes = _wished(STORIES[name], plan, rng)
    logs, truth = {}, []
    others = _disturbances(plan, rng)
    for club in BAG:
        pieces = _pieces(club, [w for w in wishes if w.club == club], rng)
        pieces += others.get(club, [])
        pieces = _apart(sorted(pieces, key=lambda p: p.time_s))
        if pieces:
            logs[club] = _log(club, pieces, quirks or SensorQuirks(), rng)
            truth += [_on_clock(p) for p in pieces]
    card = tuple(w.card for w in wishes if w.card is not None)
    return RoundRecording(logs, tuple(sorted(truth, key=lambda t: t.start_s)), card, name, seed)


def _wished(story: RoundStory, plan: RoundPlan, rng: np.random.Generator) -> list[_Wish]:
    """All swings of the round, hole by hole."""
    per_hole = _shared_out(plan.shots, HOLES, rng)
    practice = set(rng.choice(plan.shots, min(plan.practice, plan.shots), replace=False).tolist())
    putts, taps = _shared_out(plan.putts, HOLES, rng), _shared_out(plan.tap_ins, HOLES, rng)
    out: list[_Wish] = []
    number = 0
    for hole in range(1, HOLES + 1):
        at = (hole - 1) * HOURS * 3600.0 / HOLES + 30.0
        for k in range(per_hole[hole - 1]):
            wishes, at = _shot(story, (hole, k, per_hole[hole - 1]), at, number in practice, rng)
            out += wishes
            number += 1
        out += _on_green(putts[hole - 1], taps[hole - 1], at, rng)
    return out


def _shot(
    story: RoundStory, place: tuple[int, int, int], at: float, practised: bool, rng: np.random.Generator
) -> tuple[list[_Wish], float]:
    """The ``k``-th of so many shots of a hole (``place``), after a practice swing where one is made; and when the next
    thing happens, s."""
    hole, k, of = place
    club, stroke = _club_for(k, of, [c for c in BAG if c != PUTTER], rng)
    pressure = int(rng.choice(4, p=[0.35, 0.3, 0.2, 0.15]))
    style = _style(story, stroke, pressure, hole, rng)
    out = []
    if practised:
        loose = replace(style, ball=False, speed=float(rng.uniform(0.7, 0.95)))
        out.append(_Wish(club, "practice", stroke, loose, at + rng.uniform(0, 3)))
        at += rng.uniform(14.0, 30.0)
    result = "bad" if rng.random() < story.mishit else "good"
    line = PlayedShot(at, hole, k + 1, club, "tee" if k == 0 else "fairway", result, pressure)
    out.append(_Wish(club, "shot", stroke, style, at, line))
    return out, at + rng.uniform(60.0, 110.0)


def _on_green(putts: int, taps: int, at: float, rng: np.random.Generator) -> list[_Wish]:
    """Putts, some after a practice stroke, then tap-ins."""
    out = []
    for _ in range(putts):
        if rng.random() < 0.3:
            out.append(_Wish(PUTTER, "practice", "putt", replace(_putt(rng), ball=False), at))
            at += rng.uniform(12.0, 20.0)
        out.append(_Wish(PUTTER, "putt", "putt", _putt(rng), at))
        at += rng.uniform(20.0, 40.0)
    for _ in range(taps):
        tap = replace(_putt(rng), distance_m=0.25, amplitude_deg=float(rng.uniform(1.2, 2.2)), back_s=0.45)
        out.append(_Wish(PUTTER, "other", "tap_in", tap, at))
        at += 15.0
    return out


def _shared_out(total: int, among: int, rng: np.random.Generator) -> list[int]:
    """So many things over so many places, nearly evenly."""
    base = np.full(among, total // among)
    base[rng.choice(among, total % among, replace=False)] += 1
    return [int(n) for n in base]


def _club_for(k: int, of: int, swung: Sequence[str], rng: np.random.Generator) -> tuple[str, str]:
    """A club and a kind of stroke for the ``k``-th shot of a hole."""
    if k == 0:
        club = str(rng.choice(["driver", "driver", "3-wood", "7-iron"]))
        return club, BAG[club]
    if k == of - 1 and of > 2:
        return str(rng.choice(["pitching-wedge", "gap-wedge", "sand-wedge", "lob-wedge"])), str(
            rng.choice(["pitch", "chip", "wedge"])
        )
    club = str(rng.choice([c for c in swung if c not in ("driver",)]))
    return club, BAG[club]


def _style(story: RoundStory, stroke: str, pressure: int, hole: int, rng: np.random.Generator) -> SwingStyle:
    style = skilled_style(stroke)
    short = story.short_deg * (pressure >= 2) + story.tired_deg * (hole > HOLES // 2)
    length = style.length
    if length < 1.0:
        length = float(length * (1 - 0.006 * short + rng.normal(0, 0.02)))
    quicker = story.quicker_s * (pressure >= 2)
    return replace(
        style, shaft_top_deg=style.shaft_top_deg + short, backswing_s=style.backswing_s - quicker, length=length
    ).scattered(rng, story.scatter)


def _putt(rng: np.random.Generator) -> PuttStyle:
    return PuttStyle(distance_m=float(rng.choice([1.5, 3.0, 6.0, 9.0, 12.0])), back_s=float(rng.uniform(0.62, 0.75)))


def _pieces(club: str, wishes: Sequence[_Wish], rng: np.random.Generator) -> list[_Piece]:
    if not wishes:
        return []
    if club == PUTTER:
        putting = perform_putting(PuttingPlan([w.style for w in wishes if isinstance(w.style, PuttStyle)]), rng)
        r, grip = putting.putter.r_bay_from_putter, putting.putter.grip_end_m
        place = grip + CLIP_M * r[:, :, 0]
        return [
            _piece(w, putt, "transition", r, place, STRIKE_M_S2[""] if w.kind != "practice" else None)
            for w, putt in zip(wishes, putting.swings, strict=True)
        ]
    styles = [w.style for w in wishes if isinstance(w.style, SwingStyle)]
    session = perform(SessionPlan(styles), rng)
    r, place = session.r_bay_from_club, _clip_place(session)
    return [
        _piece(w, swing, "top_club", r, place, _strike(w) if w.kind == "shot" else None)
        for w, swing in zip(wishes, session.swings, strict=True)
    ]


def _clip_place(session: TrueSession) -> Array:
    wrist = session.elbow_m + session.anatomy.forearm * session.r_bay_from_forearm[:, :, 0]
    return np.asarray(wrist + CLIP_M * session.r_bay_from_hand[:, :, 0])


def _strike(wish: _Wish) -> float:
    return STRIKE_M_S2.get(wish.stroke, FULL_STRIKE_M_S2)


def _piece(wish: _Wish, swing: TrueEvents, top: str, r: Array, place: Array, strike: float | None) -> _Piece:
    """One swing cut out of a session: from the way to the address until it rests."""
    a, b = round((swing.times_s["address"] - ASLEEP_S) / STEP_S), round((swing.end_s + 0.3) / STEP_S)
    a, b = max(0, a), min(len(r), b)
    at = {k: v - a * STEP_S for k, v in swing.times_s.items()}
    shaft = r[a:b, :, 0]
    takeaway, turn, hit = (round(at[k] / STEP_S) for k in ("takeaway", top, "impact"))
    steps = np.linalg.norm(np.diff(shaft, axis=0), axis=1)
    truth = TrueMotion(
        wish.club,
        wish.kind,
        wish.stroke,
        0.0,
        (b - a) * STEP_S,
        at["takeaway"],
        at[top],
        None if strike is None else at["impact"],
        float(np.arcsin(shaft[turn, 2])),
        float(steps[takeaway:turn].sum()),
        float(steps[takeaway : hit + 60].max() / STEP_S),
    )
    return _Piece(wish.time_s - at["impact"], Moved(r[a:b], place[a:b]), truth, strike)


def _disturbances(plan: RoundPlan, rng: np.random.Generator) -> dict[str, list[_Piece]]:
    """By club: what happens to it besides."""
    out: dict[str, list[_Piece]] = {}
    names = list(DISTURBANCES)
    for _ in range(plan.disturbances):
        name, club = str(rng.choice(names)), str(rng.choice(list(BAG)))
        moved = DISTURBANCES[name](rng)
        truth = TrueMotion(club, "other", name, 0.0, len(moved.place_m) * STEP_S)
        out.setdefault(club, []).append(_Piece(float(rng.uniform(5.0, HOURS * 3600.0 - 60.0)), moved, truth))
    return out


def _apart(pieces: list[_Piece]) -> list[_Piece]:
    """One club cannot be in two places: who comes later waits."""
    free = 0.0
    for piece in pieces:
        piece.time_s = max(piece.time_s, free)
        free = piece.time_s + piece.truth.end_s + 1.5
    return pieces


def _on_clock(piece: _Piece) -> TrueMotion:
    t, by = piece.truth, piece.time_s

    def later(at: float | None) -> float | None:
        return None if at is None else at + by

    return replace(
        t,
        start_s=t.start_s + by,
        end_s=t.end_s + by,
        takeaway_s=later(t.takeaway_s),
        top_s=later(t.top_s),
        impact_s=later(t.impact_s),
    )


def _log(club: str, pieces: Sequence[_Piece], quirks: SensorQuirks, rng: np.random.Generator) -> ImuStream:
    """One clip's whole log: all it feels, one waking after the other, with its one mounting and bias."""
    begins = np.concatenate([[0], np.cumsum([len(p.moved.place_m) for p in pieces])])
    r = np.concatenate([p.moved.r_bay_from_club for p in pieces])
    place = np.concatenate([p.moved.place_m for p in pieces])
    time_s = STEP_S * np.arange(len(place), dtype=np.float64)
    segment = Segment.PUTTER if club == PUTTER else Segment.CLUB
    knocks = [
        (begins[k] * STEP_S + at, hard)
        for k, p in enumerate(pieces)
        for at, hard in (
            *p.moved.knocks,
            *(((p.truth.impact_s, p.strike_m_s2),) if p.strike_m_s2 is not None and p.truth.impact_s else ()),
        )
    ]
    log = _knocked(log_of(Sensed(time_s, lambda _: (r, place), [], {}), segment, quirks, rng), knocks, quirks, rng)
    out_t, out_a, out_g = [], [], []
    for k, piece in enumerate(pieces):
        start, end = begins[k] * STEP_S, begins[k + 1] * STEP_S
        part = log.between(start + BETWEEN_CLIPS_S, end - BETWEEN_CLIPS_S)
        out_t.append(part.time_s - start + piece.time_s)
        out_a.append(part.acc_m_s2)
        out_g.append(part.gyr_rad_s)
    return ImuStream(Segment.CLUB, np.concatenate(out_t), np.concatenate(out_a), np.concatenate(out_g), f"{club}.csv")


def _knocked(
    log: ImuStream, knocks: Sequence[tuple[float, float]], quirks: SensorQuirks, rng: np.random.Generator
) -> ImuStream:
    """With what each knock does to the accelerometer: a ring, mostly across the shaft, that dies away."""
    acc = log.acc_m_s2.copy()
    for at_s, hard in knocks:
        direction = rng.normal(size=3) * np.array([0.4, 1.0, 1.0])
        a, b = np.searchsorted(log.time_s, [at_s, at_s + RING_S])
        t = log.time_s[a:b] - at_s
        ring = hard * np.exp(-t / RING_FADES_S) * np.cos(2 * np.pi * RING_HZ * t)
        acc[a:b] += ring[:, None] * direction / np.linalg.norm(direction)
    limit = quirks.acc_range_g * GRAVITY_M_S2
    return ImuStream(log.segment, log.time_s, np.clip(acc, -limit, limit), log.gyr_rad_s, log.source)
