"""What a screen waits for while much is going on: ``python -m bench.app_load``.

Live: the swing that a live recording of two sources completes first, second … 200th. Readers: twenty of them opening a
swing, alone and while a bundle of 200 swings is imported by the same application. Forty screens that watch a lesson in
which nothing happens. Who asks is a process of its own. Ratios within one run."""

from __future__ import annotations

import argparse
import itertools
import multiprocessing
import threading
import time
from collections.abc import Callable, Iterator
from statistics import median
from typing import Any
from uuid import UUID

import httpx2 as httpx
import numpy as np

from bench.app import Client, application, fill, timed
from finearc.api.context import Services
from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.golfer.population import INJECTED
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.capture import calibrating, live, raw, recordings
from finearc.services.modelled import capture_of
from finearc.services.records import Lesson, Player, Recording

STYLE = INJECTED["over_extended_top"]
READERS, WATCHERS, SECONDS, IN_LESSON = 20, 40, 12.0, 30
THINKING_S = 0.05
"""Between two requests of a reader."""


def session(swings: int) -> Any:
    """One player's long session."""
    return play_story(Scenario((STYLE,) * swings, "long"), 3, sources=("wrist", "club"))


def live_swings(services: Services, academy: UUID, lesson_id: UUID, recording: Any) -> list[float]:
    """Seconds that each swing took from the arrival of its samples to being kept."""
    data = capture_of(recording)
    poses = max(end for spans in recording.truth.windows.values() for _, end in spans) + 1.0
    ends = [s.end_s + 0.05 for s in recording.truth.swings]

    def cut(start_s: float, end_s: float) -> raw.Streams:
        return {k: k.cut(s, start_s, end_s) for k, s in data.streams.items()}

    with services.store.unit_of_work(academy) as uow:
        lesson = uow.get(Lesson, lesson_id)
        kept = recordings.open_recording(uow, lesson, uow.get(Player, lesson.player_id), "stand-in")
        kept.poses = [[p.kind, p.start_s, p.end_s] for p in data.poses]
        raw.append(uow, services.codec, kept, cut(-np.inf, poses), raw.POSES)
        calibrating.calibrate_recording(uow, services.codec, kept)
    taken = []
    for number, (start_s, end_s) in enumerate(zip([poses, *ends], ends, strict=False)):
        begun = time.perf_counter()
        with services.store.unit_of_work(academy) as uow:
            found = uow.get(Recording, kept.id)
            swings = live.extend_recording(uow, services.codec, found, cut(start_s, end_s), f"swing-{number}")
        taken.append(time.perf_counter() - begun)
        assert len(swings) == 1, number
    return taken


def apart(work: Callable[..., None], *args: Any) -> Iterator[Any]:
    """Run ``work(*args, tell, stop)`` in a process of its own, so that who asks takes nothing of the application's
    time; gives what it tells once it has begun, then, when this generator goes on, what it tells at its end."""
    context = multiprocessing.get_context("spawn")
    tell, stop = context.Queue(), context.Event()
    process = context.Process(target=work, args=(*args, tell, stop))
    process.start()
    try:
        yield tell.get()
        stop.set()
        yield tell.get()
    finally:
        stop.set()
        process.join()


def read_on(url: str, headers: dict[str, str], paths: list[str], tell: Any, stop: Any) -> None:
    """Twenty readers, each of whom opens one after the other; tells what each request took, s."""
    taken: list[float] = []

    def read(first: int) -> None:
        turn = itertools.cycle(paths[first % len(paths) :] + paths[: first % len(paths)])
        with httpx.Client(base_url=url, headers=headers, timeout=60) as http:
            while not stop.is_set():
                taken.append(timed(lambda: http.get(f"/api{next(turn)}").raise_for_status()))
                time.sleep(THINKING_S)

    threads = [threading.Thread(target=read, args=(k,)) for k in range(READERS)]
    for thread in threads:
        thread.start()
    tell.put("reading")
    for thread in threads:
        thread.join()
    tell.put(taken)


def watch_on(url: str, headers: dict[str, str], path: str, tell: Any, stop: Any) -> None:
    """Forty screens that watch; tells how many did to the end."""
    here, still = [], []

    def watch() -> None:
        with httpx.Client(base_url=url, headers=headers, timeout=60) as http, http.stream("GET", f"/api{path}") as told:
            for _ in told.iter_raw():
                here.append(1)
                if stop.is_set():
                    still.append(1)
                    return

    threads = [threading.Thread(target=watch, daemon=True) for _ in range(WATCHERS)]
    for thread in threads:
        thread.start()
    while len(here) < WATCHERS:
        time.sleep(0.1)
    tell.put("watching")
    for thread in threads:
        thread.join(30)  # the next heartbeat ends it
    tell.put(len(still))


def readers(url: str, headers: dict[str, str], paths: list[str], meanwhile: Callable[[], Any]) -> tuple[float, float]:
    """Median and 99th percentile, s, of what twenty readers wait while something goes on."""
    reading = apart(read_on, url, headers, paths)
    next(reading)
    meanwhile()
    taken = next(reading)
    return float(np.median(taken)), float(np.percentile(taken, 99))


def idle_watchers(url: str, headers: dict[str, str], lesson: UUID) -> tuple[float, int]:
    """The share of a core that the application uses while so many screens watch a lesson in which nothing happens, and
    how many of them were there to the end."""
    watching = apart(watch_on, url, headers, f"/lessons/{lesson}/live")
    next(watching)
    before, begun = time.process_time(), time.perf_counter()
    time.sleep(SECONDS)
    share = (time.process_time() - before) / (time.perf_counter() - begun)
    return share, next(watching)


def main() -> None:
    """Print both."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--swings", type=int, default=200)
    args = parser.parse_args()
    recording = session(args.swings)
    with application(processes=True) as (services, url):
        academy, _, lesson = fill(services)
        taken = live_swings(services, academy, lesson, recording)
        early, late = median(taken[1:6]), median(taken[-5:])
        print(f"live swing {args.swings} against 2: {late / early:.2f} × (goal 1.2), {1000 * late:.0f} ms", flush=True)

        client = Client(url)
        headers = {"cookie": "; ".join(f"{k}={v}" for k, v in client.http.cookies.items())}
        swings = client.ask("GET", f"/lessons/{lesson}").json()["swings"][:IN_LESSON]
        paths, content = [f"/swings/{s['id']}" for s in swings], zip_bytes(bundle_files(capture_of(recording)))

        def bring() -> None:
            files = {"file": ("long.zip", content, "application/zip")}
            client.http.post(f"/api/lessons/{lesson}/bundle", files=files).raise_for_status()

        one = median(timed(lambda path=path: client.ask("GET", path)) for path in paths)  # type: ignore[misc]
        middle, alone = readers(url, headers, paths, lambda: time.sleep(SECONDS))
        print(f"one reader {1000 * one:.0f} ms; of 20 the middle waits {1000 * middle:.0f} ms")
        by_itself = timed(bring)
        took: list[float] = []
        _, meanwhile = readers(url, headers, paths, lambda: took.append(timed(bring)))
        waits = f"alone {1000 * alone:.0f} ms, during an import {1000 * meanwhile:.0f} ms"
        print(f"20 readers, 99th percentile: {waits} (goal 400)")
        print(f"  while {args.swings} swings are imported: {meanwhile / alone:.1f} × of alone (goal 4)")
        print(f"  that import: {took[0]:.0f} s, {took[0] / by_itself:.1f} × of its time by itself (goal 2)", flush=True)
        share, there = idle_watchers(url, headers, lesson)
        print(f"{there} of {WATCHERS} idle watchers: {100 * share:.1f} % of a core of the application")
        services.jobs.pool.close()


if __name__ == "__main__":
    main()
