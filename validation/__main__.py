"""Prints every figure of docs/validation.md. About six minutes."""

from __future__ import annotations

import numpy as np

from validation import body as vb, ground
from validation.recordings import foot_errors_deg, knee_range_deg
from validation.simulated import angle_rmse_deg, event_errors_ms, honesty, mirrored_difference_deg, rms
from validation.walking import compared


def main() -> None:
    """All figures, a line each."""
    print("Wrist angles, 60 s session, exact poses, RMSE (deg):", _round(angle_rmse_deg(range(20))))
    print(
        "The same, 10 minutes, RMSE (deg):",
        _round(angle_rmse_deg(range(100, 103), swings=30, between_s=21.0)),
    )
    print("Mirrored twin, largest difference (deg):", f"{mirrored_difference_deg(5):.2e}")
    for club in (False, True):
        errors = event_errors_ms(range(40, 60), club=club)
        print(
            "Timing RMS (ms),",
            "club clip:" if club else "wrist only:",
            {k: round(rms(v), 1) for k, v in errors.items()},
        )
    for pairs in (1, 2):
        h = honesty(300, pairs=pairs)
        print(
            f"Uncertainty, 300 calibrations of {pairs} pair(s): {100 * h.share:.1f} % of errors within one standard "
            f"uncertainty; RMS error {rms(np.array(h.errors)):.2f}, mean stated {np.mean(h.stated):.2f} deg"
        )
    _body()
    ground.report()
    print("Two-foot recording, RMS (deg):", _round(foot_errors_deg()))
    print("Knee recording, range (deg) and main frequency (Hz):", knee_range_deg())


def _body() -> None:
    errors: dict[str, list[float]] = {}
    events: dict[str, list[float]] = {}
    for seed in range(3, 9):
        recording = vb.skilled(seed, ("markers",))
        for name, values in vb.marker_errors(recording).items():
            errors.setdefault(name, []).extend(values)
        for name, values in vb.event_errors_ms(recording).items():
            events.setdefault(name, []).extend(values)
    print("Markers, RMSE (deg; mm):", {k: round(rms(np.array(v)), 2) for k, v in errors.items()})
    print("Timing from markers, RMS (ms):", {k: round(rms(np.array(v)), 2) for k, v in events.items()})
    for what, options in (("short", {}), ("ten minutes", {"swings": 30, "between_s": 20.0})):
        recording = vb.skilled(4, ("body", "wrist"), **options)  # type: ignore[arg-type]
        found = vb.body_pack_errors(recording)
        print(f"Body pack, {what}, RMSE (deg):", {k: round(rms(v), 2) for k, v in found.items()})
    print("Walking recording against its laboratory (deg):", _round(compared()))


def _round(values: dict[str, float]) -> dict[str, float]:
    return {k: round(v, 2) for k, v in values.items()}


if __name__ == "__main__":
    main()
