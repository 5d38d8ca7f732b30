"""``finearc devices``: players with simulated devices, each sending into its bay over the network.
``finearc bridge``: a sensor that streams otherwise, sent on."""

from __future__ import annotations

import argparse
import asyncio
import sys
import tempfile
import time
from collections.abc import Collection, Sequence
from contextlib import suppress
from pathlib import Path

from finearc.core.errors import FineArcError
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import Segment
from finearc.devices.bridges.lab_streaming import Bridged, run_bridge
from finearc.devices.simulated.client import Refused
from finearc.devices.simulated.dock import Dock, hand_over
from finearc.devices.simulated.faults import read_faults
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.simulated.rig import Rig, run_rigs
from finearc.golfer.course.round import STORIES, play_round
from finearc.golfer.played import refuse_unknown, sources_of
from finearc.launch.supervisor import end_with_parent
from finearc.store.columns import ParquetColumns

CALLED = {"mat": "pressure"}
"""What a source of a kit is also called."""


class NoDevices(FineArcError):
    """The stand-ins cannot be started."""

    code = "devices"

    def __init__(self, words: str) -> None:
        super().__init__(words)
        self.words = words

    def __str__(self) -> str:
        return self.words


def run_devices(args: argparse.Namespace) -> int:
    """Until Ctrl-C. Raises ``NoDevices``, ``UnknownFault``, ``UnknownScenario``."""
    if args.scenario in STORIES:
        return _hand_over(args)
    refuse_unknown(args.scenario)
    if args.rigs:
        end_with_parent()
        _await(Path(args.rigs))
    kit = _kit(args.kit, sources_of(args.scenario))
    faults = read_faults(args.faults)
    with tempfile.TemporaryDirectory(prefix="finearc-plays-") as own:
        plays = Plays(args.plays or Path(own), ParquetColumns())
        rigs = [
            Rig(
                link_of(args.url),
                token,
                plays,
                Score(args.scenario, args.seed, Hand(args.hand), kit),
                faults,
                args.pace,
                args.every,
                name=f"stand-in-{k + 1}",
            )
            for k, token in enumerate(_tokens(args))
        ]
        if not args.rigs:
            print(f"A player with {args.kit}; Ctrl-C ends it.", file=sys.stderr)
        with suppress(KeyboardInterrupt):
            try:
                asyncio.run(run_rigs(rigs))
            except Refused as refused:
                raise NoDevices(f"refused: {refused}") from None
    return 0


def _hand_over(args: argparse.Namespace) -> int:
    """A round of 14 clips, from the dock they are put into. Raises ``NoDevices``."""
    played = play_round(args.scenario, args.seed)
    print(f"A round of {len(played.logs)} clips is handed over …", file=sys.stderr)
    for k, token in enumerate(_tokens(args), 1):
        dock = Dock(link_of(args.url), token, played.logs, name=f"dock-{k}", boot=1 + args.seed)
        try:
            asyncio.run(hand_over(dock))
        except Refused as refused:
            raise NoDevices(f"refused: {refused}") from None
        except TimeoutError as late:
            raise NoDevices(f"{late}. Start the application, then again.") from None
    print("Done. It waits on the players' pages: Bring a round.", file=sys.stderr)
    return 0


def run_lab_streaming(args: argparse.Namespace) -> int:
    """Until Ctrl-C. Raises ``NoDevices``, ``NoSuchStream``."""
    if args.segment not in list(Segment):
        raise NoDevices(f'--segment: "{args.segment}" is none of {", ".join(Segment)}.')
    bridged = Bridged(args.stream, Segment(args.segment), args.acc_unit, args.gyr_unit)
    with suppress(KeyboardInterrupt):
        try:
            asyncio.run(run_bridge(link_of(args.url), args.token, bridged, lambda words: print(words, file=sys.stderr)))
        except Refused as refused:
            raise NoDevices(f"refused: {refused}") from None
    return 0


def _kit(text: str, sources: Collection[str]) -> tuple[str, ...]:
    """Sources beside the wrist pair, which is always worn."""
    names = [CALLED.get(k.strip(), k.strip()) for k in text.split(",") if k.strip()]
    unknown = [k for k in names if k not in sources]
    if unknown or not names:
        raise NoDevices(f'--kit: "{", ".join(unknown) or text}" is none of {", ".join(sources)}.')
    return tuple(k for k in names if k != "wrist")


def _await(file: Path) -> None:
    """The application makes the tokens when its database is there."""
    while not file.exists():
        time.sleep(0.5)


def _tokens(args: argparse.Namespace) -> Sequence[str]:
    if not args.rigs:
        if not args.token:
            raise NoDevices("--token: make one on the screen of the bays, or name a file of them with --rigs.")
        return [args.token]
    return [line.strip() for line in Path(args.rigs).read_text(encoding="utf-8").splitlines() if line.strip()]


def link_of(url: str) -> str:
    """The link's address from the application's. Raises ``NoDevices``."""
    for web, socket in (("http://", "ws://"), ("https://", "wss://"), ("ws://", "ws://"), ("wss://", "wss://")):
        if url.startswith(web):
            base = socket + url.removeprefix(web).rstrip("/")
            return base if base.endswith("/api/link") else f"{base}/api/link"
    raise NoDevices(f'--url: "{url}" is no address; write it like http://127.0.0.1:8420.')
