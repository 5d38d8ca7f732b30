"""What hands do on a page."""

from __future__ import annotations

import re

from playwright.sync_api import Page


def more(page: Page, name: str, *, tap: bool = False) -> None:
    """Something that stands behind *More*."""
    button = page.get_by_role("button", name="More", exact=True)
    row = page.get_by_role("dialog").get_by_role("button", name=re.compile(f"^{name} "))
    for target in (button, row):
        if tap:
            target.tap()
        else:
            target.click()
