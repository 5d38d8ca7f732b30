"""How often *changed* and *unchanged* are said where it is known what is true: normal values drawn at random, in one
calibration. Run with ``python -m validation.change [--pairs 1000]``.
"""

from __future__ import annotations

import argparse
from collections.abc import Sequence

import numpy as np

from finearc.core.comparing.change import ChangeVerdict, compare

RELEVANT = 2.0
"""Smallest relevant change of an angle, degrees."""
SEED = 5


def share(pairs: int, n: int, difference: float, sd: float, verdict: ChangeVerdict, seed: int = SEED) -> float:
    """In what share of pairs of groups of ``n`` the verdict is given."""
    rng = np.random.default_rng(seed)
    said = [compare(rng.normal(0, sd, n), rng.normal(difference, sd, n), RELEVANT).verdict for _ in range(pairs)]
    return sum(v is verdict for v in said) / pairs


def lines(pairs: int) -> Sequence[tuple[str, float, str]]:
    """What was asked, the share found, and the goal."""
    changed, unchanged = ChangeVerdict.CHANGED, ChangeVerdict.UNCHANGED
    none = [
        (f'Nothing changed, SD {sd:g}°, n = {n}: "changed"', share(pairs, n, 0.0, sd, changed), "≤ 5 %")
        for sd in (1.0, 2.0, 4.0)
        for n in range(3, 13)
    ]
    true = [
        (f'Changed by {3 * sd:g}°, SD {sd:g}°, n = 5: "changed"', share(pairs, 5, 3 * sd, sd, changed), "≥ 95 %")
        for sd in (4 / 3, 2.0, 4.0)
    ]
    same = [
        (
            f'Changed by exactly {RELEVANT:g}°, SD {sd:g}°, n = 8: "unchanged"',
            share(pairs, 8, RELEVANT, sd, unchanged),
            "≤ 2.5 %",
        )
        for sd in (0.5, 1.0, 2.0)
    ]
    quiet = share(pairs, 8, 0.0, 0.25 * RELEVANT, unchanged)
    return [*none, *true, *same, ('Nothing changed, SD 0.5°, n = 8: "unchanged"', quiet, "≥ 95 %")]


def main() -> None:
    """Prints a line for each goal."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--pairs", type=int, default=1000)
    args = parser.parse_args()
    for what, found, goal in lines(args.pairs):
        print(f"{what:62s} {100.0 * found:6.1f} %   goal {goal}")


if __name__ == "__main__":
    main()
