"""The application as ``./start`` runs it; what the golfer model plays for demo and devices is kept between runs."""

from __future__ import annotations

import sys

from tests.simulated import keep_between_runs

if __name__ == "__main__":
    keep_between_runs()  # before anything takes the model's functions by name
    from finearc.main import main

    sys.exit(main())
