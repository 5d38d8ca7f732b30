"""How long a session of putts takes to open: ``python -m bench.putting``.

Two lessons in one real MariaDB, one of 10 putts and one of 60, wrist pair and putter markers. Asked for in turns in one
run, with a unit of work of its own each time as a request has: what the screen asks first (the reading with all
sentences and values, as JSON), what its pictures are drawn from, and the lesson around them. Medians and their ratio
are printed; once as the application stands after a while, once after it has forgotten what it read.

``python -m bench.putting --url http://127.0.0.1:8420`` beside a running demo: what an instructor waits for, from the
address until the sentence and the first pictures are there, in headless Chromium, in turns too (goal 1.5).
"""

from __future__ import annotations

import argparse
import shutil
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from uuid import UUID

from finearc.api.views.lesson import lesson_out
from finearc.api.views.putting import courses_block, putting_out
from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.golfer.putting.scenarios import DISTANCES_M, PuttingStory, play_putting, session_of
from finearc.golfer.putting.style import quiet
from finearc.launch.mariadb import MariaDb
from finearc.services.capture.recordings import import_capture
from finearc.services.lesson.pages import lesson_page
from finearc.services.modelled import putting_capture_of
from finearc.services.ports import UnitOfWork
from finearc.services.putting import reading
from finearc.services.record.judgements import judgement_in_brief
from finearc.services.records import Academy, Instructor, Lesson, Player
from finearc.store.columns import ParquetColumns
from finearc.store.migrate import upgrade
from finearc.store.unit_of_work import Store, engine_for

from bench.app import free_port  # isort: skip

ROUNDS = 25
FEW, MANY = 10, 60
Ask = Callable[[UnitOfWork, UUID], object]
ASKED: dict[str, Ask] = {
    "the reading": lambda uow, key: putting_out(reading.putting_page(uow, key)).model_dump_json(),
    "its courses": lambda uow, key: courses_block(reading.courses_of(uow, key)),
    "the lesson": lambda uow, key: lesson_out(lesson_page(uow, key)).model_dump_json(),
}


def session(putts: int) -> PuttingStory:
    """So many quiet putts, as evenly over the three distances as can be."""
    every = session_of(quiet, -(-putts // len(DISTANCES_M)))
    return PuttingStory(sorted(every, key=lambda p: p.distance_m)[:putts], "")


def filled(store: Store, academy_id: UUID, instructor_id: UUID, putts: int) -> UUID:
    """A lesson with so many putts."""
    data = putting_capture_of(play_putting(session(putts), 5, sources=("wrist", "markers")))
    with store.unit_of_work(academy_id, instructor_id) as uow:
        player = Player(academy_id, f"Of {putts}", "right", consent_by="x", consent_at=datetime.now(UTC))
        uow.add(player)
        at = datetime.now(UTC)
        lesson = Lesson(academy_id, player.id, instructor_id, "Bay 1", at, at + timedelta(hours=1), club="putter")
        uow.add(lesson)
        uow.flush()
        import_capture(uow, ParquetColumns(), lesson, data)
        return lesson.id


def in_browser(url: str) -> None:
    """Both sessions opened in turns at the step with most to draw."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(url)
        page.get_by_label("E-mail", exact=True).fill("mara@harbour.example")
        page.get_by_label("Password").fill("arc-demo")
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Today", exact=True).wait_for()
        token = page.evaluate("fetch('/api/me').then((r) => r.json()).then((m) => m.csrf)")
        headers = {"x-csrf-token": token, "if-match": "*"}
        lessons = {}
        for n in (FEW, MANY):
            at = {"handedness": "right", "club": "putter", "bay": "Bay 3"}
            made = page.request.post(f"{url}/api/lessons/start-now", headers=headers, data=at).json()
            data = putting_capture_of(play_putting(session(n), 5, sources=("wrist", "markers")))
            file = {"name": "p.zip", "mimeType": "application/zip", "buffer": zip_bytes(bundle_files(data))}
            path = f"{url}/api/lessons/{made['id']}/bundle"
            answer = page.request.post(path, headers=headers, multipart={"file": file}, timeout=300_000)  # type: ignore[dict-item]
            assert answer.status == 201, answer.text()
            lessons[n] = made["id"]
        took: dict[int, list[float]] = {n: [] for n in lessons}
        for _ in range(ROUNDS):
            for n, key in lessons.items():
                start = time.perf_counter()
                page.goto(f"{url}/lessons/{key}/putting?step=extension")
                page.get_by_role("heading", level=2).first.wait_for()
                page.locator("svg path").first.wait_for(state="attached")
                took[n].append(1000.0 * (time.perf_counter() - start))
        browser.close()
    _row("opened in the browser", median(took[FEW]), median(took[MANY]))


def main() -> None:
    """Fill, then ask in turns."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--url", default="")
    args = parser.parse_args()
    if args.url:
        in_browser(args.url)
        return
    folder = Path(tempfile.mkdtemp(prefix="finearc-bench-"))
    server = MariaDb(folder / "db", free_port())
    server.start()
    try:
        engine = engine_for(server.create("finearc_putting"))
        upgrade(engine)
        store = Store(engine)
        academy = Academy("Putting")
        with store.front_door() as door:
            door.add(academy)
            instructor = Instructor(academy.id, "I", "i@example.test", "x")
            door.add(instructor)
        lessons = {n: filled(store, academy.id, instructor.id, n) for n in (FEW, MANY)}
        print(f"{'':28}{FEW} putts  {MANY} putts   ratio")
        for how, forgets in (("as it stands", False), ("having read nothing", True)):
            took: dict[tuple[str, int], list[float]] = {}
            for _ in range(ROUNDS):
                for n, key in lessons.items():
                    if forgets:
                        reading.forget()
                        judgement_in_brief.cache_clear()
                    for what, ask in ASKED.items():
                        start = time.perf_counter()
                        with store.unit_of_work(academy.id, instructor.id) as uow:
                            ask(uow, key)
                        took.setdefault((what, n), []).append(1000.0 * (time.perf_counter() - start))
            told = {k: median(v) for k, v in took.items()}
            for what in ASKED:
                _row(f"{what}, {how}", told[what, FEW], told[what, MANY])
            few, many = (sum(told[what, n] for what in ASKED) for n in (FEW, MANY))
            _row(f"together, {how}", few, many)
    finally:
        server.stop()
        shutil.rmtree(folder, ignore_errors=True)


def _row(what: str, few: float, many: float) -> None:
    print(f"{what:34}{few:6.1f} ms {many:6.1f} ms  {many / few:5.2f}")


if __name__ == "__main__":
    main()
