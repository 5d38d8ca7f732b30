"""Prints every figure of docs/validation.md. About six minutes."""

from __future__ import annotations

import numpy as np

from validation.recordings import foot_errors_deg, knee_range_deg
from validation.simulated import angle_rmse_deg, event_errors_ms, honesty, mirrored_difference_deg, rms


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
    print("Two-foot recording, RMS (deg):", _round(foot_errors_deg()))
    print("Knee recording, range (deg) and main frequency (Hz):", knee_range_deg())


def _round(values: dict[str, float]) -> dict[str, float]:
    return {k: round(v, 2) for k, v in values.items()}


if __name__ == "__main__":
    main()
