"""What a screen waits for while much is going on: ``python -m bench.app_load``.

Live: the swing that a live recording of two sources completes first, second … 200th. Readers: twenty of them opening a
swing, alone and while a bundle of 200 swings is imported by the same application. Ratios within one run."""

from __future__ import annotations

import argparse
import threading
import time
from statistics import median
from typing import Any
from uuid import UUID

import numpy as np

from bench.app import Client, application, fill, timed
from finearc.api.context import Services
from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.formats.simulated import capture_of
from finearc.golfer.population import INJECTED
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.capture import calibrating, live, raw, recordings
from finearc.services.records import Lesson, Player, Recording

STYLE = INJECTED["over_extended_top"]
READERS, WATCHERS, SECONDS = 20, 40, 12.0


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


def read_on(url: str, path: str, stop: threading.Event, taken: list[float]) -> None:
    """One reader."""
    client = Client(url)
    while not stop.is_set():
        taken.append(timed(lambda: client.ask("GET", path)))
        time.sleep(0.05)


def readers(url: str, path: str, until: threading.Event) -> float:
    """99th percentile, s, of what twenty readers wait for until the event."""
    taken: list[float] = []
    threads = [threading.Thread(target=read_on, args=(url, path, until, taken)) for _ in range(READERS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return float(np.percentile(taken[READERS:], 99))


def idle_watchers(url: str, lesson: UUID) -> float:
    """The share of a core that is used while so many screens watch a lesson in which nothing happens."""
    stop = threading.Event()

    def watch() -> None:
        client = Client(url)
        with client.http.stream("GET", f"/api/lessons/{lesson}/live") as stream:
            for _ in stream.iter_raw():
                if stop.is_set():
                    return

    threads = [threading.Thread(target=watch, daemon=True) for _ in range(WATCHERS)]
    for thread in threads:
        thread.start()
    time.sleep(0.25 * WATCHERS)  # until all have signed in
    before, begun = time.process_time(), time.perf_counter()
    time.sleep(SECONDS)
    share = (time.process_time() - before) / (time.perf_counter() - begun)
    stop.set()
    return share


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
        swing = client.ask("GET", f"/lessons/{lesson}").json()["swings"][0]
        path, content = f"/swings/{swing['id']}", zip_bytes(bundle_files(capture_of(recording)))
        quiet = threading.Event()
        threading.Timer(SECONDS, quiet.set).start()
        alone = readers(url, path, quiet)
        done = threading.Event()

        def bring() -> None:
            files = {"file": ("long.zip", content, "application/zip")}
            client.http.post(f"/api/lessons/{lesson}/bundle", files=files).raise_for_status()
            done.set()

        by_itself = timed(bring)
        done.clear()
        importing = threading.Thread(target=bring)
        begun = time.perf_counter()
        importing.start()
        meanwhile = readers(url, path, done)
        importing.join()
        took = time.perf_counter() - begun
        waits = f"alone {1000 * alone:.0f} ms, during an import {1000 * meanwhile:.0f} ms"
        print(f"20 readers, 99th percentile: {waits} (goal 400)")
        print(f"  while {args.swings} swings are imported: {meanwhile / alone:.1f} × of alone (goal 4)")
        print(f"  that import: {took:.0f} s, {took / by_itself:.1f} × of its time by itself (goal 2)", flush=True)
        share = idle_watchers(url, lesson)
        print(f"{WATCHERS} idle watchers: {100 * share:.1f} % of a core for application and watchers together")
        services.jobs.pool.close()


if __name__ == "__main__":
    main()
