"""The application as ``./start`` runs it; what the golfer model plays for demo and devices is kept between runs, and
both live by one clock that waits for a busy machine."""

from __future__ import annotations

import asyncio
import sys
from functools import partial

from tests.browser.held_together import Shared, SharedClock, turning
from tests.simulated import keep_between_runs


def serve() -> int:
    """One of the supervisor's web processes."""
    from finearc import main

    wire = main.wire

    def held(url, pace=1.0, **options):
        services = wire(url, pace, **options)
        clock = services.link.clock = SharedClock(pace, Shared.of_environment())
        services.link.opened.append(lambda *_: clock.turn_with_the_loop())
        return services

    main.wire = held
    return main.main()


def devices() -> int:
    """The stand-ins."""
    from finearc.cli import main, standing_in

    shared = Shared.of_environment()
    run = standing_in.run_rigs

    async def following(rigs):
        follows = asyncio.create_task(turning(shared.follow))
        try:
            await run(rigs)
        finally:
            follows.cancel()

    standing_in.Rig = partial(standing_in.Rig, real_s=shared.real_s)
    standing_in.run_rigs = following
    return main.main()


if __name__ == "__main__":
    if "--socket" in sys.argv:
        keep_between_runs()  # before anything takes the model's functions by name
        sys.exit(serve())
    if sys.argv[1:2] == ["devices"]:
        keep_between_runs()
        sys.exit(devices())
    from finearc.launch.__main__ import main as supervise

    sys.exit(supervise("tests.browser.serve", "tests.browser.serve"))
