"""A bay fills by itself: devices over the network, on the screen of the bays, in the real application."""

from __future__ import annotations

import re
import signal
import subprocess
import sys

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import PACE

pytestmark = pytest.mark.browser
CLUB = ["--kit", "wrist,club", "--pace", str(PACE), "--faults", "battery=0.1"]


def bay(page: Page, name: str) -> Locator:
    page.get_by_role("link", name="Bays", exact=True).click()
    return page.get_by_role("region", name=name, exact=True)


def test_a_bay_fills_its_devices_vanish_and_come_back(page, address, tmp_path):
    """From a revoked token to a new one, a battery that is low, a plug that is pulled and put in again."""
    third = bay(page, "Bay 3")
    expect(third.get_by_text("2 devices send.")).to_be_visible(timeout=60_000)
    third.get_by_role("button", name="simulated devices").click()
    third.get_by_role("button", name="Revoke it").click()
    expect(third.get_by_text("Nothing sends now.")).to_be_visible()
    third.get_by_role("button", name="New token").click()
    page.get_by_label("What will send with it").fill("club clip")
    page.get_by_role("button", name="Make the token").click()
    token = page.get_by_text(re.compile("^bay_")).inner_text()
    page.get_by_role("button", name="Close").click()

    def devices() -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "tests.browser.serve", "devices", "--url", address, "--token", token, *CLUB]
        return subprocess.Popen([*command, "--plays", str(tmp_path)], stderr=subprocess.DEVNULL)

    running = devices()
    try:
        expect(third.get_by_text(re.compile("^3 devices send"))).to_be_visible(timeout=60_000)
        line = third.get_by_role("listitem").filter(has_text="Club clip")
        expect(line).to_contain_text("battery at 10 %: charge it")
        expect(line.get_by_role("img", name="Battery 10 percent")).to_be_visible()
        running.send_signal(signal.SIGKILL)
        running.wait()
        expect(line).to_contain_text("gone, last heard", timeout=20_000)
        running = devices()
        expect(third.get_by_text(re.compile("^3 devices send"))).to_be_visible(timeout=60_000)
        expect(line).not_to_contain_text("gone")
    finally:
        running.kill()
        running.wait()
