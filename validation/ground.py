"""The ground against the golfer model's truth, and force plates against an independent library.

Mats of 32 by 56 cells at 100 Hz, 0.15 kPa of noise a cell, 2 % dead cells in new places each time, five swings each.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

import ezc3d
import numpy as np

from finearc.core.pressure.plates import centre_of_pressure
from finearc.core.pressure.timing import WITHIN
from finearc.core.sources.ground_view import GroundView
from finearc.formats.plates_c3d import read_plates
from finearc.golfer.scenarios import Recording, play
from finearc.golfer.session import TrueEvents
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

NAMES = ("good-load", "late-return", "no-load", "reverse-pressure", "on-heels", "sway-outside")
WALK = Path(__file__).resolve().parents[1] / "tests" / "data" / "gait-c3d" / "walk.c3d"


@dataclass
class GroundErrors:
    """Errors of all swings: places of the centre of pressure, m; lead share, share; instants, s; heel to toe, share."""

    place_m: list[float] = field(default_factory=list)
    share: list[float] = field(default_factory=list)
    moments_s: dict[str, list[float]] = field(default_factory=dict)
    heel_toe: list[float] = field(default_factory=list)
    flare_rad: list[float] = field(default_factory=list)
    impact_s: list[float] = field(default_factory=list)


def true_moments(recording: Recording, swing: TrueEvents) -> dict[str, float]:
    """Return and even, s, by their definitions, on the noise-free course."""
    assert recording.ground is not None
    share = recording.ground.lead_share
    a, b = (round(1000 * swing.times_s[k]) for k in ("address", "impact"))
    peak = a + int(np.argmin(share[a : b + 1]))
    even = peak + int(np.flatnonzero(share[peak:] >= 0.5)[0])
    back = peak + int(np.flatnonzero(share[peak:even] <= share[peak] + WITHIN)[-1])
    return {"return": back / 1000, "even": even / 1000}


def ground_errors(seeds: Iterable[int], sources: tuple[str, ...] = ("wrist", "pressure")) -> GroundErrors:
    """Errors over all pressure scenarios."""
    out = GroundErrors()
    for seed in seeds:
        recording = play(NAMES[seed % len(NAMES)], seed, sources=sources)
        truth = recording.ground
        assert truth is not None
        for swing, true in zip(an.read(capture_of(recording)).swings, recording.truth.swings, strict=True):
            view = swing.view(GroundView)
            assert view is not None
            assert swing.view(GroundView).moments is not None
            rows = np.round(1000 * view.loads.time_s).astype(int)
            out.place_m += np.linalg.norm(view.loads.both_m - truth.pressure_m[rows], axis=1).tolist()
            out.share += (view.loads.lead_share - truth.lead_share[rows]).tolist()
            for name, at in true_moments(recording, true).items():
                out.moments_s.setdefault(name, []).append(swing.view(GroundView).moments.events[name].time_s - at)
            assert view.feet is not None
            assert view.feet.both is not None
            for k, foot in enumerate(view.feet.both):
                heavy = truth.force_n[rows, k] > 0.15 * truth.weight_n
                off = foot.along(view.loads.feet_m[:, k]) - truth.along[rows, k]
                out.heel_toe += off[heavy].tolist()
                sole = truth.soles[k]
                out.flare_rad.append(foot.heading() - float(np.arctan2(sole.ahead[1], sole.ahead[0])))
    return out


def push_errors_s(seeds: Iterable[int]) -> list[float]:
    """Impact as the mat alone takes it from the push, against the strike, s."""
    out = []
    for seed in seeds:
        recording = play(NAMES[seed % len(NAMES)], seed, sources=("pressure",))
        for swing, true in zip(an.read(capture_of(recording)).swings, recording.truth.swings, strict=True):
            out += [e.time_s - true.times_s["impact"] for k, e in swing.events.items() if k == "impact"]
    return out


def clock_errors_s(seeds: Iterable[int], name: str, sources: tuple[str, ...]) -> list[tuple[float, float]]:
    """Estimated minus true offset of a mat's own clock, and its stated uncertainty, s."""
    out = []
    for seed in seeds:
        recording = play(name, seed, sources=sources)
        offset = an.read(capture_of(recording)).offset
        assert offset is not None
        assert recording.mat is not None
        out.append((offset.shift_s - recording.mat.quirks.clock_s, offset.sd_s))
    return out


def plates_apart_mm() -> float:
    """Largest distance between our centres of pressure and ezc3d's in the walking recording, mm."""
    ours = read_plates(WALK.name, WALK.read_bytes())
    assert ours is not None
    theirs = ezc3d.c3d(str(WALK), extract_forceplat_data=True)["data"]["platform"]
    apart = [
        np.nanmax(np.abs(1000.0 * centre_of_pressure(plate) - other["center_of_pressure"].T))
        for plate, other in zip(ours.plates, theirs, strict=True)
    ]
    return float(max(apart))


def report() -> None:
    """Prints the ground's figures of docs/validation.md."""
    errors = ground_errors(range(300, 330))
    place, share = np.array(errors.place_m), np.array(errors.share)
    print(f"Centre of pressure, RMS (mm): {1000 * np.sqrt(np.mean(place**2)):.2f}, largest {1000 * place.max():.1f}")
    print(f"Lead share, RMS (%): {100 * np.sqrt(np.mean(share**2)):.2f}, largest {100 * np.abs(share).max():.1f}")
    for name, off in errors.moments_s.items():
        ms = 1000 * np.array(off)
        near = 100 * np.mean(np.abs(ms) <= 15)
        print(
            f"Time of {name} at 100 Hz (ms): median {np.median(np.abs(ms)):.1f}, RMS {np.sqrt(np.mean(ms**2)):.1f}, "
            f"largest {np.abs(ms).max():.0f}; within 15 ms: {near:.1f} %"
        )
    print(f"Heel to toe, RMS (%): {100 * np.sqrt(np.mean(np.square(errors.heel_toe))):.1f}")
    print(f"Foot flare, RMS (deg): {np.rad2deg(np.sqrt(np.mean(np.square(errors.flare_rad)))):.1f}")
    push = 1000 * np.array(push_errors_s(range(300, 312)))
    print(f"Impact from the push, mat alone (ms): RMS {np.sqrt(np.mean(push**2)):.0f}, stated 60")
    for name, sources in (("own-clock", ("wrist", "body", "pressure")), ("own-clock-no-tap", ("wrist", "pressure"))):
        found = 1000 * np.array(clock_errors_s(range(300, 310), name, sources))
        rms = np.sqrt(np.mean(found[:, 0] ** 2))
        print(f"Clock offset, {name} (ms): RMS {rms:.1f}, stated {found[:, 1].mean():.0f}")
    print(f"Force plates against ezc3d, largest (mm): {plates_apart_mm():.1e}")
