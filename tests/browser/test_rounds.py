"""Walk 27: a round's log on a player's page, two motions corrected on a phone."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from finearc.formats.bundle import write_files
from finearc.formats.round_bundle import round_files
from finearc.golfer.course import round as model
from finearc.services.modelled import round_of
from tests.browser.test_interface import violations
from tests.browser.test_walks import new_player

pytestmark = pytest.mark.browser
PLAN = model.RoundPlan(shots=14, practice=6, putts=6, disturbances=20, tap_ins=2)


@pytest.fixture(scope="module")
def log(tmp_path_factory):
    """A steady round as a zip on disk."""
    path = tmp_path_factory.mktemp("round") / "saturday.zip"
    write_files(round_files(round_of(model.play_round("round-steady", 6, PLAN))), path)
    return path


def motion(page: Page, name: re.Pattern[str]):
    return page.get_by_role("list", name="Motions").get_by_role("button", name=name).first


def test_walk_27_a_round_is_found_and_corrected_on_a_phone(page, new_page, log):
    new_player(page, "Rona Fairway")
    page.get_by_label("Log of a round").set_input_files(str(log))
    page.get_by_role("heading", name="Round, 4 June 2026").wait_for(timeout=120_000)
    expect(page.get_by_text("14 shots, 6 putts")).to_be_visible()
    expect(page.get_by_text(re.compile("Under pressure your backswing: (not yet|too few)"))).to_be_visible()
    assert violations(page) == []

    phone = new_page(has_touch=True, is_mobile=True)
    phone.set_viewport_size({"width": 390, "height": 844})
    phone.goto(page.url)
    for kind, other in (("Practice", "practice swing"), ("Other", "something else")):
        phone.get_by_role("radio", name=re.compile("^Shots")).tap()
        motion(phone, re.compile("hole")).tap()  # one
        phone.get_by_role("button", name=kind, exact=True).tap()  # two
        phone.get_by_role("radio", name="All", exact=True).tap()
        expect(motion(phone, re.compile(f"{other}\\s*found as shot"))).to_be_visible()
    expect(phone.get_by_text("Shots 12")).to_be_visible()

    page.reload()
    expect(page.get_by_text("12 shots, 6 putts")).to_be_visible()
    page.get_by_role("radio", name="All", exact=True).click()
    motion(page, re.compile("something else\\s*found as shot")).click()
    page.get_by_role("button", name="Shot", exact=True).click()
    expect(page.get_by_text("13 shots, 6 putts")).to_be_visible()


def test_a_file_that_is_no_round_is_refused_in_words(page, bundle_file):
    new_player(page, "Nora Noround")
    page.get_by_label("Log of a round").set_input_files(str(bundle_file("hold-then-flex", 5)))
    expect(page.get_by_text("this is a lesson's capture, not a round")).to_be_visible(timeout=120_000)
