"""The application as ``./start`` runs it; what the golfer model plays for demo and devices is kept between runs."""

from __future__ import annotations

import sys

from tests.simulated import keep_between_runs

if __name__ == "__main__":
    if "--socket" in sys.argv:  # one of the supervisor's processes
        keep_between_runs()  # before anything takes the model's functions by name
        from finearc.main import main

        sys.exit(main())
    if sys.argv[1:2] == ["devices"]:
        keep_between_runs()
        from finearc.cli.main import main as command

        sys.exit(command())
    from finearc.launch.__main__ import main as supervise

    sys.exit(supervise("tests.browser.serve", "tests.browser.serve"))
