"""One long session in one bay: an hour of the player's time with every inertial sensor at full rate and two hundred
swings, over the device link. Prints memory as it goes, and how long swings took to be ready.

``python -m validation.long_session --minutes 60 --swings 200 --pace 3`` (an hour takes twenty minutes). Memory is that
of every process but the database, shared pages counted once. A swing is ready when a lesson lists it; the time counts
from when the player stands again."""

from __future__ import annotations

import argparse
import asyncio
import statistics
import tempfile
import threading
import time
from pathlib import Path

from finearc.core.frames.handedness import Hand
from finearc.devices.simulated import plays
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.simulated.rig import Rig
from finearc.store.columns import ParquetColumns
from validation.attack import Application, Person, make_academy

SOURCES = ("upper-arm", "club", "body")
SCENARIO, SEED = "hold-then-flex", 3
SETTLED_MIN = 10.0
"""After so many of the player's minutes memory is to stay."""
EVERY_MIN = 2.0
MB = 1e6


def main() -> int:
    """0 when memory stayed and the last swings took no longer than the first."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--minutes", type=float, default=60.0)
    parser.add_argument("--swings", type=int, default=200)
    parser.add_argument("--pace", type=float, default=3.0)
    args = parser.parse_args()
    plays.MOST_SWINGS = args.swings + 4
    folder = Path(tempfile.mkdtemp(prefix="finearc-long-"))
    application = Application(folder / "data", pace=f"{args.pace:g}")
    application.start()
    try:
        make_academy(application)
        return _session(application, folder, args.minutes, args.swings, args.pace)
    finally:
        application.stop()


def _session(application: Application, folder: Path, minutes: float, swings: int, pace: float) -> int:
    person = Person.signed_in(application.url)
    made = person.send("POST", "/api/bays/tokens", json={"bay": "Bay 1", "name": "long"}).json()
    link = application.url.replace("http", "ws", 1) + "/api/link"
    score = Score(SCENARIO, SEED, Hand.RIGHT, SOURCES)
    shelf = Plays(folder / "plays", ParquetColumns())
    print("working out what is played …", flush=True)
    shelf.get(score)
    rig = Rig(link, made["token"], shelf, score, pace=pace)
    ended = threading.Event()
    threading.Thread(target=lambda: asyncio.run(_live(rig, ended)), daemon=True).start()
    lesson = person.lesson("Long Session")
    body = {"scenario": SCENARIO, "seed": SEED, "club_clip": True, "body_pack": True, "upper_arm": True}
    person.send("POST", f"/api/lessons/{lesson}/recordings", json=body).raise_for_status()
    took, memory = _swing(application, person, lesson, rig, minutes, swings, pace)
    ended.set()
    time.sleep(1.0)
    return _told(took, memory, swings)


async def _live(rig: Rig, ended: threading.Event) -> None:
    task = asyncio.create_task(rig.run())
    while not ended.is_set() and not task.done():
        await asyncio.sleep(0.2)
    task.cancel()
    await asyncio.gather(task, return_exceptions=True)


def _swing(
    application: Application, person: Person, lesson: str, rig: Rig, minutes: float, swings: int, pace: float
) -> tuple[list[float], list[tuple[float, float]]]:
    """Ask for a swing every so often; how long each took from its end to the lesson, s of the clock, and memory, MB, at
    minutes of the player's."""
    begun, told = time.monotonic(), 0.0
    took: list[float] = []
    memory: list[tuple[float, float]] = []
    for number in range(1, swings + 1):
        due = begun + (number - 1) * 60.0 * minutes / swings / pace
        time.sleep(max(0.0, due - time.monotonic()))
        while person.send("POST", f"/api/lessons/{lesson}/stand-in/swings", json={"count": 1}).status_code != 200:
            time.sleep(0.5)
        over = _until_over(rig, number)
        while _listed(person, lesson, number) == 0:
            time.sleep(0.02)
        took.append(time.monotonic() - over)
        minute = (time.monotonic() - begun) * pace / 60.0
        if minute >= told:
            told = minute + EVERY_MIN
            memory.append((minute, sum(application.memory()) / MB))
            print(
                f"minute {minute:5.1f}: {number} swings, {memory[-1][1]:.0f} MB, ready after {took[-1]:.2f} s",
                flush=True,
            )
    return took, memory


def _until_over(rig: Rig, number: int) -> float:
    """When the player stands again after so many swings."""
    while rig.tape is None or rig.tape.swings_done < number or not rig.tape.is_standing:
        time.sleep(0.01)
    return time.monotonic()


def _listed(person: Person, lesson: str, number: int) -> int:
    """How many swings above the last one the lesson has."""
    answer = person.send("GET", f"/api/lessons/{lesson}/joined", params={"after": number - 1})
    return len(answer.json()["swings"])


def _told(took: list[float], memory: list[tuple[float, float]], swings: int) -> int:
    settled = [mb for minute, mb in memory if minute >= SETTLED_MIN] or [mb for _, mb in memory]
    first, last = settled[0], settled[-1]
    early, late = statistics.median(took[1:11]), statistics.median(took[-10:])
    print(
        f"memory: {first:.0f} MB after {SETTLED_MIN:g} minutes, {last:.0f} MB at the end, from {min(settled):.0f} to "
        f"{max(settled):.0f} MB ({100 * (last / first - 1):+.1f} %)"
    )
    ready = f"swings 2 to 11 {early:.2f} s, the last ten of {swings} {late:.2f} s"
    print(f"ready (medians): {ready}: {late / early:.2f} times")
    return 0 if abs(last / first - 1) <= 0.05 and late <= 1.2 * early else 1


if __name__ == "__main__":
    raise SystemExit(main())
