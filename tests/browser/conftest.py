"""The application as ./start runs it, with the demo, and headless Chromium."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, StorageState, expect, sync_playwright

from finearc.formats.bundle import write_bundle
from finearc.formats.c3d_file import write_c3d
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.golfer.scenarios import play
from finearc.services.modelled import capture_of, putting_capture_of
from tests.browser.held_together import FILE, Shared
from tests.conftest import free_port

ROOT = Path(__file__).parents[2]
PACE = 5
"""How much faster than real time the application's devices live, while the machine keeps up."""
PATIENCE_MS = 90_000
"""A machine that is busy is no failure."""
expect.set_options(timeout=45_000)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--use-fake-device-for-media-stream",
]


@pytest.fixture(scope="session")
def address() -> Iterator[str]:
    """A running application with the demo, its devices playing fast."""
    folder, port = Path(tempfile.mkdtemp(prefix="finearc-browser-")), free_port()
    log = (folder / "start.log").open("w+")
    Shared.make(folder / "clock")
    os.environ[FILE] = str(folder / "clock")
    process = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "tests.browser.serve",
            "--port",
            str(port),
            "--db-port",
            str(free_port()),
            "--data",
            str(folder / "data"),
            "--pace",
            str(PACE),
        ],
        cwd=ROOT,
        stdout=log,
        stderr=subprocess.STDOUT,
        env={**os.environ, "PYTHONUNBUFFERED": "1"},
    )
    url = f"http://127.0.0.1:{port}"
    try:
        for _ in range(600):
            if process.poll() is not None:
                raise AssertionError((folder / "start.log").read_text())
            try:
                urllib.request.urlopen(f"{url}/api/health", timeout=1)
                break
            except OSError:
                time.sleep(0.25)
        yield url
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(40)
        log.close()
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def signed_in(address: str, chromium: Browser) -> StorageState:
    """What a browser keeps of a sign-in by the form."""
    context = chromium.new_context()
    context.set_default_timeout(PATIENCE_MS)
    page = context.new_page()
    page.goto(address)
    page.get_by_label("E-mail", exact=True).fill("mara@harbour.example")
    page.get_by_label("Password").fill("arc-demo")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    kept = context.storage_state()
    context.close()
    return kept


@pytest.fixture
def new_page(address: str, chromium: Browser, signed_in: StorageState) -> Iterator[Callable[..., Page]]:
    """Signed-in pages at 1280×800; a script error or a refused resource fails the test."""
    contexts: list[BrowserContext] = []
    trouble: list[str] = []

    def make(**options: object) -> Page:
        context = chromium.new_context(viewport={"width": 1280, "height": 800}, storage_state=signed_in, **options)  # type: ignore[arg-type]
        contexts.append(context)
        context.set_default_timeout(PATIENCE_MS)
        page = context.new_page()
        page.on("pageerror", lambda error: trouble.append(str(error)))
        page.on("console", lambda m: trouble.append(m.text) if "Content Security Policy" in m.text else None)
        page.goto(address)
        page.get_by_role("heading", name="Today", exact=True).wait_for()
        return page

    yield make
    for context in contexts:
        context.close()
    assert trouble == []


@pytest.fixture
def page(new_page: Callable[..., Page]) -> Page:
    return new_page()


@pytest.fixture(scope="session")
def bundle_file(tmp_path_factory: pytest.TempPathFactory) -> Callable[..., Path]:
    """A simulated bundle as a zip on disk."""

    def make(name: str, seed: int, **options: object) -> Path:
        path = tmp_path_factory.mktemp("bundles") / f"{name}-{seed}.zip"
        if name in PUTTING:
            write_bundle(putting_capture_of(play_putting(PUTTING[name], seed, **options)), path)  # type: ignore[arg-type]
        else:
            write_bundle(capture_of(play(name, seed, **options)), path)  # type: ignore[arg-type]
        return path

    return make


@pytest.fixture(scope="session")
def foreign_c3d(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Another laboratory's marker file: its own labels and axes, two markers short."""
    from validation.foreign import foreign

    labels, points = foreign(left_out=("LFIN", "CFAC"))
    path = tmp_path_factory.mktemp("c3d") / "other-lab.c3d"
    write_c3d(path, labels, points, 240.0)
    return path
