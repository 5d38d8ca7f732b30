"""Is each sensor where it says it is? Told before the first swing."""

from __future__ import annotations

import numpy as np
from scipy.signal import savgol_filter

from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.typing import Array
from finearc.wording import mark, tr

EXCHANGED = mark(
    "The forearm and hand sensors seem to be exchanged: the one called hand moves less than the one called forearm "
    "when the arm is raised. Swap them, then calibrate again."
)
OTHER_ARM = mark(
    "At address the thumb side points down: the sensors sit on the other arm, or the palm was up in the flat pose. "
    "Check the arm, then calibrate again."
)
ARM_UP = mark(
    "At address the arm seems to point up: the raised pose was probably lowered instead. Calibrate again with the "
    "fingers above the elbow."
)
CLIP_REVERSED = mark("The club clip sits upside down: its arrow must point to the club head. Turn it round.")


def lever_difference_m(
    forearm: SensorMotion,
    hand: SensorMotion,
    r_forearm: Array,
    r_hand: Array,
    heading_rad: float,
    start_s: float,
    end_s: float,
) -> tuple[float, float]:
    """How much farther from the elbow the hand sensor is than the forearm sensor, m, and its standard error.

    While the straight arm is raised both sensors belong to one rigid body, so the difference of their
    accelerations is ``alpha x l + omega x (omega x l)`` with ``l`` along the arm; what the elbow does cancels.
    """
    a, b = np.searchsorted(forearm.time_s, [start_s, end_s])
    step = forearm.step_s
    window = min(31, 2 * ((b - a) // 4) + 1)
    if b - a < 20 or window < 7:
        return 0.0, np.inf
    omega = savgol_filter(forearm.gyr_rad_s[a:b] @ r_forearm, window, 3, axis=0)
    alpha = savgol_filter(forearm.gyr_rad_s[a:b] @ r_forearm, window, 3, deriv=1, delta=step, axis=0)
    to_forearm = matrices_from_quaternions(forearm.q_up_from_sensor[a:b]) @ r_forearm
    to_hand = about_z(heading_rad) @ matrices_from_quaternions(hand.q_up_from_sensor[a:b]) @ r_hand
    in_up = np.einsum("nij,nj->ni", to_hand, hand.acc_m_s2[a:b] @ r_hand)
    felt_hand = np.einsum("nji,nj->ni", to_forearm, in_up)
    difference = savgol_filter(felt_hand - forearm.acc_m_s2[a:b] @ r_forearm, window, 3, axis=0)
    along = -(omega[:, 1] ** 2 + omega[:, 2] ** 2)
    aside = alpha[:, 2] + omega[:, 0] * omega[:, 1]
    ones = np.ones(b - a)
    zeros = np.zeros(b - a)
    design = np.column_stack(
        [np.concatenate([along, aside]), np.concatenate([ones, zeros]), np.concatenate([zeros, ones])]
    )
    target = np.concatenate([difference[:, 0], difference[:, 1]])
    solution, *_ = np.linalg.lstsq(design, target, rcond=None)
    residual = target - design @ solution
    effective = max(4.0, 2 * (b - a) / window)
    spread = float(np.sqrt(residual @ residual / len(target)))
    power = float(np.sqrt(np.mean(design[:, 0] ** 2)))
    return float(solution[0]), spread / max(power, 1e-6) / float(np.sqrt(effective))


def exchanged_warning(
    forearm: SensorMotion,
    hand: SensorMotion,
    r_forearm: Array,
    r_hand: Array,
    heading_rad: float,
    start_s: float,
    end_s: float,
) -> list[str]:
    """The warning that the two sensors are exchanged, or nothing: the hand's lies nearer to the elbow by 3 cm and 2.5
    standard uncertainties at least (house values). Arguments as of ``lever_difference_m``."""
    lever, error = lever_difference_m(forearm, hand, r_forearm, r_hand, heading_rad, start_s, end_s)
    return [tr(EXCHANGED)] if lever < -0.03 and lever < -2.5 * error else []


def address_warnings(
    r_bay_from_forearm: Array, r_bay_from_hand: Array, shaft_up: float | None, deviation_rad: float = 0.0
) -> list[str]:
    """Warnings from one still address: segment orientations (3, 3), columns ``d, o, r``, z up; vertical part
    of the shaft direction or None; radial deviation. At address the arm hangs, the thumb side of the lead arm
    does not face down, and every hand is bent toward the little finger (ulnar): hinged toward the thumb there
    means that the axes are turned over."""
    if r_bay_from_forearm[2, 0] > 0.2:
        return [tr(ARM_UP)]
    warnings = []
    face_down = r_bay_from_forearm[2, 2] < -0.25 and r_bay_from_hand[2, 2] < -0.25
    if face_down or deviation_rad > np.deg2rad(8.0):
        warnings.append(tr(OTHER_ARM))
    if shaft_up is not None and shaft_up > 0.2:
        warnings.append(tr(CLIP_REVERSED))
    return warnings
