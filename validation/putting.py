"""How exactly the putting laboratory measures, against the golfer model's truth. The definitions are worked out here
once more, on noise-free points and angles, by other code. Run with ``python -m validation.putting [--sessions 12]
[--poses exact]``; *typical* poses are held as people hold them.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import curve_fit, least_squares
from scipy.spatial.transform import Rotation

from finearc.core.events.model import Checkpoint
from finearc.core.metrics.definition import Measured
from finearc.core.metrics.families import putting as pm
from finearc.core.putting.growth import growth
from finearc.core.putting.notes import order_of, strike_of, value_of
from finearc.core.sources.putt_view import InertialPuttView
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array
from finearc.golfer.poses import PoseErrors
from finearc.golfer.putting.logs import true_points
from finearc.golfer.putting.scenarios import PUTTING, PuttingRecording, PuttingStory, play_putting, session_of
from finearc.golfer.putting.session import TruePutt, TruePutting
from finearc.golfer.putting.style import PuttStyle, Step, quiet
from finearc.services.judging import analysis as an
from finearc.services.modelled import putting_capture_of

STORIES = (
    "putt-quiet",
    "putt-transition",
    "putt-wristy",
    "putt-lifted-handle",
    "putt-quiet-arc",
    "putt-transition-low",
)
SOURCES = ("wrist", "markers")
Play = Callable[..., PuttingRecording]


@dataclass(frozen=True)
class Read:
    """One putt as it was and as it was read."""

    truth: TruePutting
    putt: TruePutt
    reading: SwingReading

    @property
    def values(self) -> dict[tuple[str, str], Measured]:
        return {(v.metric.id, v.moment.key): v for v in self.reading.measured}

    def angle(self, name: str) -> tuple[Array, Array]:
        """Times (s) and an angle of the lead wrist less its address, deg, takeaway to impact, without trembling."""
        t = self.truth.time_s
        values = np.rad2deg(getattr(self.truth.arms["lead"], name))
        inside = (t >= self.putt.times_s["takeaway"]) & (t <= self.putt.times_s["impact"])
        return t[inside], values[inside] - values[inside][0]


def reads(story: PuttingStory, seed: int, sources: Sequence[str] = SOURCES, play: Play = play_putting) -> list[Read]:
    """A session's putts."""
    recording = play(story, seed, sources=sources)
    swings = an.read(putting_capture_of(recording)).swings
    return [Read(recording.truth, p, r) for p, r in zip(recording.truth.swings, swings, strict=True)]


def wrist_errors(read: Read) -> dict[str, float]:
    """RMSE of the angles over a putt (deg), errors of ranges (deg), of the hand's reversal and of impact (ms)."""
    view = read.reading.view(InertialPuttView)
    assert view is not None
    out: dict[str, float] = {}
    assert view.frames is not None
    for name, trace in (("extension", "lead_wrist_extension"), ("deviation", "lead_wrist_radial_deviation")):
        t, true = read.angle(name)
        seen = np.rad2deg(read.reading.traces[trace])
        address = np.median(seen[view.address])
        out[f"{name} rmse"] = float(np.sqrt(np.mean((np.interp(t, read.reading.time_s, seen) - address - true) ** 2)))
        metric = pm.LEAD.ranges[name]
        found = value_of(read.values, metric, pm.STROKE)
        assert found is not None
        out[f"{name} range"] = float(np.rad2deg(found.value)) - float(np.ptp(true))
        out[f"{name} range, in stated uncertainties"] = out[f"{name} range"] / float(np.rad2deg(found.uncertainty))
    own = view.found.events
    out["transition, hand"] = 1000.0 * (own[Checkpoint.TRANSITION].time_s - _hand_reversal(read))
    out["impact, wrist"] = 1000.0 * (own[Checkpoint.IMPACT].time_s - read.putt.times_s["impact"])
    best = read.reading.events
    out["transition, head"] = 1000.0 * (best[Checkpoint.TRANSITION].time_s - read.putt.times_s["transition"])
    out["impact, markers"] = 1000.0 * (best[Checkpoint.IMPACT].time_s - read.putt.times_s["impact"])
    return out


def _hand_reversal(read: Read) -> float:
    """When the true hand turns about its mean axis over the 150 ms before impact, s: no trembling is in it."""
    t, impact = read.truth.time_s, read.putt.times_s["impact"]
    a, b = np.searchsorted(t, [read.putt.times_s["takeaway"], impact])
    r = Rotation.from_matrix(read.truth.arms["lead"].r_bay_from_hand[a : b + 1])
    omega = (r[1:] * r[:-1].inv()).as_rotvec() / (t[1] - t[0])
    axis = omega[-150:].mean(axis=0)
    along = omega @ axis
    k = int(np.flatnonzero((along[:-80] < 0) & (along[1:-79] >= 0))[-1])
    return float(t[a + k] + 0.0005 + 0.001 * along[k] / (along[k] - along[k + 1]))


@dataclass(frozen=True)
class Defined:
    """The definition worked out on noise-free points: places less the pendulum's (2 points, 2 instants, 3) and their
    root mean squares (2), m; the pivot's height, m."""

    apart: Array
    deviation: Array
    height_m: float


def _pendulum_angle(t: Array, a: float, t0: float, back: float, through: float) -> Array:
    t1 = t0 + back
    return np.piecewise(
        t,
        [t < t0, (t >= t0) & (t < t1), t >= t1],
        [
            0.0,
            lambda x: -a * (1 - np.cos(np.pi * (x - t0) / back)) / 2,
            lambda x: -a * np.cos(np.pi * (x - t1) / (2 * through)),
        ],
    )


def defined(read: Read) -> Defined:
    """The free pendulum of a putt, from its true points at 1 kHz."""
    t, times = read.truth.time_s, read.putt.times_s
    points = true_points(read.truth)
    head, grip = (points["CHEL"] + points["CTOE"]) / 2, points["CGRP"]
    k = int(np.searchsorted(t, times["address"]))
    home = {"head": head[k], "grip": grip[k]}
    near = (t > times["transition"]) & (t < times["finish"]) & (np.linalg.norm((head - head[k])[:, :2], axis=1) <= 0.1)
    slope = np.polyfit(head[near, 1], head[near, 0], 1)[0]
    along = np.array([slope, 1.0, 0.0]) / np.hypot(slope, 1.0)
    axis = np.cross(along, [0.0, 0.0, 1.0])
    span = (t >= times["takeaway"]) & (t <= times["impact"] + 0.1)
    shaft = (head - grip)[span]
    turn = np.arctan2(shaft @ along, -shaft[:, 2])
    turn -= np.arctan2((head - grip)[k] @ along, -(head - grip)[k, 2])
    guess = (-turn.min(), times["takeaway"], *np.diff([times[n] for n in ("takeaway", "transition", "impact")]))
    fit, _ = curve_fit(_pendulum_angle, t[span], turn, p0=guess, xtol=1e-12, ftol=1e-12, maxfev=20000)
    angle = _pendulum_angle(t, *fit)

    def swung(place: Array, pivot: Array, which: Array) -> Array:
        return np.asarray(pivot + Rotation.from_rotvec(angle[which][:, None] * axis).apply(place - pivot))

    across = home["grip"] - (home["grip"] @ along) * along

    def at(x: Array) -> Array:
        return np.asarray(x[0] * along + np.array([across[0], across[1], x[1]]))

    found = least_squares(
        lambda x: np.concatenate(
            [(p[span] - swung(home[n], at(x), span)).ravel() for n, p in (("grip", grip), ("head", head))]
        ),
        [0.0, 1.2],
    )
    pivot = at(found.x)
    inside = (t >= times["takeaway"]) & (t <= times["impact"])
    apart, deviation = [], []
    for name, place in (("head", head), ("grip", grip)):
        off = place - swung(home[name], pivot, np.ones(len(t), dtype=bool))
        apart.append(
            [[np.interp(times[key], t, off[:, axis_of]) for axis_of in (1, 0, 2)] for key in ("transition", "impact")]
        )
        deviation.append(np.sqrt(np.mean(np.sum(off[inside] ** 2, axis=1))))
    return Defined(np.array(apart), np.array(deviation), float(pivot[2]))


SEEN = (
    (pm.SWEET_SPOT_ALONG, pm.SWEET_SPOT_OUT, pm.SWEET_SPOT_UP),
    (pm.GRIP_END_ALONG, pm.GRIP_END_OUT, pm.GRIP_END_UP),
)


def putter_errors(read: Read) -> dict[str, float]:
    """Errors of the putter's points against the definition, mm, and of the pivot's height, cm."""
    truth, values = defined(read), read.values
    seen = np.array(
        [[[values[(metric.id, key)].value for metric in three] for key in ("transition", "impact")] for three in SEEN]
    )
    rms = [values[(metric.id, pm.STROKE)].value for metric in (pm.SWEET_SPOT_DEVIATION, pm.GRIP_END_DEVIATION)]
    return {
        "points": 1000.0 * float(np.sqrt(np.mean((seen - truth.apart) ** 2))),
        "points, worst": 1000.0 * float(np.abs(seen - truth.apart).max()),
        "deviation": 1000.0 * float(np.abs(np.array(rms) - truth.deviation).max()),
        "pivot height": 100.0 * (values[(pm.PIVOT_HEIGHT.id, pm.STROKE)].value - truth.height_m),
    }


def true_onset(read: Read, name: str) -> float | None:
    """By the definition, on the true angle at 1 kHz: beyond 0.5° for 50 ms, s."""
    t, values = read.angle(name)
    beyond = np.abs(values) > 0.5
    for k in np.flatnonzero(beyond):
        if len(beyond) - k >= 50 and beyond[k : k + 50].all():
            return float(t[k])
    return None


def pairs_in_order(read: Read, least_s: float = 0.06) -> Iterator[bool]:
    """Of extension and deviation, where their onsets differ by ``least_s`` or more: whether their order is right."""
    true = {n: at for n in ("extension", "deviation") if (at := true_onset(read, n)) is not None}
    if len(true) < 2 or abs(true["extension"] - true["deviation"]) < least_s:
        return
    groups = order_of(read.values, read.reading.events.get(Checkpoint.TAKEAWAY))
    place = {one.name: k for k, group in enumerate(groups) for one in group}
    if {"extension", "deviation"} <= set(place):
        first = min(true, key=lambda n: true[n])
        other = "deviation" if first == "extension" else "extension"
        yield place[first] < place[other]
    else:
        yield False


def struck(out_cm: float) -> PuttingStory:
    """Putts struck off centre by so much."""

    def way(distance_m: float) -> PuttStyle:
        return replace(quiet(distance_m), head_out=(Step("transition", -0.05, 0.33, out_cm),))

    return PuttingStory(session_of(way), "Struck off centre.")


def sides(sessions: int, play: Play = play_putting, source: str = "markers") -> Iterator[bool]:
    """Whether the side is told right, where it is off by 0.8 cm or more by the definition."""
    for seed in range(sessions):
        size = (0.9, 1.1, 1.5)[seed % 3] * (1 if seed % 2 else -1)
        for read in reads(struck(size), 700 + seed, (source,), play):
            out = float(defined(read).apart[0, 1, 1])
            if abs(out) >= 0.008:
                told = strike_of(read.values)
                yield told is not None and told.side == ("heel" if out > 0 else "toe")


def covered(sessions: int, seed: int = 11, slope: float = 0.8, sd: float = 0.6) -> float:
    """In what share of sessions, five putts each of 3, 6 and 9 m, the growth's interval holds the true slope."""
    rng = np.random.default_rng(seed)
    at = np.repeat([3.0, 6.0, 9.0], 5)
    hits = 0
    for _ in range(sessions):
        line = growth(at.tolist(), (1.0 + slope * at + rng.normal(0.0, sd, len(at))).tolist())
        hits += line is not None and line.low <= slope <= line.high
    return hits / sessions


def rms(values: Sequence[float]) -> float:
    """Root mean square."""
    return float(np.sqrt(np.mean(np.square(values))))


def lines(sessions: int, *, exact: bool) -> Iterator[tuple[str, str, str]]:
    """What is asked, what was found, and the goal."""
    stories = [PUTTING[STORIES[k % len(STORIES)]] for k in range(sessions)]
    if exact:
        stories = [replace(s, poses=PoseErrors()) for s in stories]
    every = [r for k, story in enumerate(stories) for r in reads(story, 100 + k)]
    wrist = [wrist_errors(r) for r in every]
    for name, goal in (("extension", "0.12"), ("deviation", "0.12")):
        yield f"{name}, RMSE over a putt, °", f"{rms([w[f'{name} rmse'] for w in wrist]):.3f}", f"≤ {goal}"
        yield f"{name} range, RMSE, °", f"{rms([w[f'{name} range'] for w in wrist]):.3f}", "≤ 0.15"
        honest = np.mean([abs(w[f"{name} range, in stated uncertainties"]) <= 2.0 for w in wrist])
        yield f"{name} range within two stated uncertainties, %", f"{100 * honest:.0f}", "about 95"
    for name, goal in (
        ("transition, hand", "8"),
        ("impact, wrist", "5"),
        ("transition, head", "8"),
        ("impact, markers", "1"),
    ):
        yield f"{name}, RMSE, ms", f"{rms([w[name] for w in wrist]):.2f}", f"≤ {goal}"
    putter = [putter_errors(r) for r in every]
    yield "putter points, RMSE, mm", f"{rms([p['points'] for p in putter]):.2f}", "≤ 0.3"
    yield (
        "putter points, 95th percentile of the worst of twelve, mm",
        f"{np.percentile([p['points, worst'] for p in putter], 95):.2f}",
        "",
    )
    yield "deviation from the pendulum, RMSE, mm", f"{rms([p['deviation'] for p in putter]):.2f}", ""
    true = [p for p, r in zip(putter, every, strict=True) if not r.putt.style.both_up]
    yield "pivot height of a true pendulum, RMSE, cm", f"{rms([p['pivot height'] for p in true]):.2f}", "≤ 0.5"
    right = [ok for r in every for ok in pairs_in_order(r)]
    yield f"order of {len(right)} pairs 60 ms or more apart, %", f"{100 * np.mean(right):.1f}", "≥ 95"
    yield from by_sensor(stories, max(2, sessions))
    side = list(sides(max(2, sessions)))
    yield f"strike side of {len(side)} putts beyond 0.8 cm, %", f"{100 * np.mean(side):.1f}", "≥ 97"
    yield "growth's interval holds the slope, % of 500 sessions", f"{100 * covered(500):.1f}", "92.5 to 97.5"


def by_sensor(stories: Sequence[PuttingStory], sessions: int) -> Iterator[tuple[str, str, str]]:
    """The putter's places by a sensor on its shaft alone, its measures noted; no goal is set for them."""
    every = [r for k, story in enumerate(stories) for r in reads(story, 100 + k, ("putter",))]
    placed = [putter_errors(r) for r in every if (pm.PIVOT_HEIGHT.id, pm.STROKE) in r.values]
    yield "putts whose putter a sensor alone placed, %", f"{100 * len(placed) / len(every):.0f}", ""
    yield "putter points by a sensor alone, RMSE, mm", f"{rms([p['points'] for p in placed]):.2f}", ""
    yield "deviation by a sensor alone, RMSE, mm", f"{rms([p['deviation'] for p in placed]):.2f}", ""
    height = rms([p["pivot height"] for p in placed])
    yield "pivot height by a sensor alone, RMSE, cm", f"{height:.2f}", ""
    turn = [1000.0 * (r.reading.events[Checkpoint.TRANSITION].time_s - r.putt.times_s["transition"]) for r in every]
    yield "transition by a sensor alone, RMSE, ms", f"{rms(turn):.2f}", "≤ 8"
    side = list(sides(sessions, source="putter"))
    yield f"strike side by a sensor alone, {len(side)} putts, %", f"{100 * np.mean(side):.1f}", "≥ 97"


def main() -> None:
    """Prints a line for each goal."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--sessions", type=int, default=12)
    parser.add_argument("--poses", choices=("exact", "typical"), default="typical")
    args = parser.parse_args()
    for what, found, goal in lines(args.sessions, exact=args.poses == "exact"):
        print(f"{what:62s} {found:>8s}   goal {goal}", flush=True)


if __name__ == "__main__":
    main()
