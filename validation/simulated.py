"""The whole path from sensor logs to values against the golfer model's truth."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.metrics.registry import LEAD_WRIST_DEVIATION, LEAD_WRIST_EXTENSION
from finearc.core.signals.streams import Segment
from finearc.core.sources.capture import Capture, CaptureReading, read_capture
from finearc.core.typing import Array
from finearc.golfer import style as st
from finearc.golfer.poses import PoseErrors, SessionPlan
from finearc.golfer.scenarios import Recording
from finearc.golfer.sensors import SensorQuirks, record
from finearc.golfer.session import TrueSession, perform
from finearc.services.modelled import capture_of

WRIST = (Segment.LEAD_FOREARM, Segment.LEAD_HAND)
CONSUMER = SensorQuirks(rate_hz=200.0, gyro_noise_deg_s=0.1, gyro_bias_deg_s=0.6)
ANGLES = {LEAD_WRIST_EXTENSION: "extension", LEAD_WRIST_DEVIATION: "deviation"}


def session(
    seed: int,
    *,
    swings: int = 5,
    between_s: float = 9.5,
    poses: PoseErrors | None = None,
    club: bool = False,
    pairs: int = 1,
    style: st.SwingStyle = st.HOLD,
    quirks: SensorQuirks = CONSUMER,
    twist_deg: float | None = None,
) -> Recording:
    """A session of the golfer model. Poses are held exactly unless ``poses`` says otherwise."""
    rng = np.random.default_rng(seed)
    twist = float(rng.uniform(-3, 3)) if twist_deg is None else twist_deg
    plan = SessionPlan(
        [style.scattered(rng) for _ in range(swings)],
        poses or PoseErrors(),
        raise_deg=float(rng.uniform(50, 72)) if poses else 62.0,
        between_s=between_s,
        pairs=pairs,
        twist_rest_deg=twist,
    )
    truth = perform(plan, rng)
    logs = record(truth, WRIST + ((Segment.CLUB,) if club else ()), quirks, rng)
    return Recording(logs, truth, Hand.RIGHT, [(s.start_s, s.end_s) for s in truth.swings])


def read(recording: Recording) -> CaptureReading:
    """Through the same path as anybody's capture."""
    data = capture_of(recording)
    return read_capture(
        Capture(data.handedness, calibration=data.calibration, swings=data.swings, streams=data.streams)
    )


def angle_errors(recording: Recording, reading: CaptureReading) -> dict[str, Array]:
    """Errors, deg, of extension and deviation between takeaway and impact + 0.2 s, all swings joined."""
    truth = recording.truth
    errors: dict[str, list[Array]] = {m.id: [] for m in ANGLES}
    for swing, true in zip(reading.swings, truth.swings, strict=True):
        span = (swing.time_s >= true.times_s["takeaway"]) & (swing.time_s <= true.times_s["impact"] + 0.2)
        for metric, name in ANGLES.items():
            expected = np.interp(swing.time_s[span], truth.time_s, getattr(truth, name))
            errors[metric.id].append(np.rad2deg(swing.traces[metric.id][span] - expected))
    return {k: np.concatenate(v) for k, v in errors.items()}


def rms(values: Array) -> float:
    """Root mean square."""
    return float(np.sqrt(np.mean(np.square(values))))


def angle_rmse_deg(seeds: range, **options: object) -> dict[str, float]:
    """RMSE, deg, over several sessions."""
    joined: dict[str, list[Array]] = {}
    for seed in seeds:
        recording = session(seed, **options)  # type: ignore[arg-type]
        for key, errors in angle_errors(recording, read(recording)).items():
            joined.setdefault(key, []).append(errors)
    return {k: rms(np.concatenate(v)) for k, v in joined.items()}


def event_errors_ms(seeds: range, *, club: bool) -> dict[str, Array]:
    """Timing errors, ms, of every checkpoint with a true instant; the top against its own source's reversal."""
    out: dict[str, list[float]] = {}
    for seed in seeds:
        recording = session(seed, club=club)
        for swing, true in zip(read(recording).swings, recording.truth.swings, strict=True):
            for name, found in swing.events.items():
                expected = true.times_s.get("top_club" if club and name == "top" else str(name))
                if expected is not None:
                    out.setdefault(str(name), []).append(1000 * (found.time_s - expected))
    return {k: np.array(v) for k, v in out.items()}


@dataclass
class Honesty:
    """How stated uncertainties compare with real errors."""

    within: list[bool] = field(default_factory=list)
    errors: list[float] = field(default_factory=list)
    stated: list[float] = field(default_factory=list)

    @property
    def share(self) -> float:
        return float(np.mean(self.within))


def _true_value(truth: TrueSession, name: str, times_s: dict[str, float], key: str) -> float | None:
    if key not in times_s:
        return None
    return float(np.interp(times_s[key], truth.time_s, getattr(truth, name)))


def value_errors(recording: Recording, reading: CaptureReading) -> Iterator[tuple[float, float]]:
    """Error and stated uncertainty, deg, of each extension and deviation value at a checkpoint."""
    for swing, true in zip(reading.swings, recording.truth.swings, strict=True):
        for m in swing.measured:
            name = ANGLES.get(m.metric)
            if name is None or m.moment.is_change:
                continue
            expected = _true_value(recording.truth, name, true.times_s, m.moment.key)
            if expected is not None:
                yield float(np.rad2deg(m.value - expected)), float(np.rad2deg(m.uncertainty))


STYLES = (st.HOLD, st.FLAT, st.FLIP, st.EARLY_FLEX)


def honesty(calibrations: int, *, pairs: int = 1, first_seed: int = 1000) -> Honesty:
    """Stated uncertainty against error over many calibrations whose poses are held imperfectly: wrist bent by
    2° SD about each axis, forearm 2.5° SD from level."""
    out = Honesty()
    for k in range(calibrations):
        recording = session(
            first_seed + k, swings=1, poses=PoseErrors(2.0, 2.5), pairs=pairs, style=STYLES[k % len(STYLES)]
        )
        for error, stated in value_errors(recording, read(recording)):
            out.within.append(abs(error) <= stated)
            out.errors.append(error)
            out.stated.append(stated)
    return out


def mirrored_difference_deg(seed: int) -> float:
    """Largest difference, deg, between a right-handed capture and its mirrored twin."""
    recording = session(seed, swings=2)
    twin = replace(recording, streams=[s.mirrored() for s in recording.streams], hand=Hand.LEFT)
    worst = 0.0
    for a, b in zip(read(recording).swings, read(twin).swings, strict=True):
        for key in a.traces:
            worst = max(worst, float(np.nanmax(np.abs(a.traces[key] - b.traces[key]))))
    return float(np.rad2deg(worst))
