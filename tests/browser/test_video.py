"""Videos beside swings, in the real application: from a file and from the browser's camera."""

from __future__ import annotations

from functools import lru_cache

import pytest
from playwright.sync_api import Page, expect

from finearc.formats.film import BEFORE_S, film
from finearc.golfer.scenarios import play
from tests.browser.test_live_bay import lesson_id as lesson_id
from tests.browser.test_phone import call
from tests.browser.test_walks import drop, lesson_now

pytestmark = pytest.mark.browser


@lru_cache(maxsize=4)
def filmed(**how) -> bytes:
    return film(play("over-extended", 11), **how)


def attach(page: Page, content: bytes, name: str = "swing.mp4", view: str = "from in front") -> None:
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name=f"Attach one {view}").click()
    chosen.value.set_files({"name": name, "mimeType": "video/mp4", "buffer": content})


def shown_s(page: Page, view: str = "front") -> float:
    """Where the video stands, once it stands still."""
    video = page.get_by_test_id(f"clip-{view}").locator("video")
    return video.evaluate(
        """v => new Promise((done) => {
          const look = () => (v.readyState >= 2 && !v.seeking ? done(v.currentTime) : setTimeout(look, 30));
          setTimeout(look, 200);
        })"""
    )


@pytest.fixture
def swing(page: Page, bundle_file) -> Page:
    """The first swing of a fresh lesson, its video pane open."""
    lesson_now(page, "Filmed Person")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    page.get_by_role("slider", name="Position in the swing").wait_for()
    page.get_by_role("button", name="Swing 1").first.click()
    page.keyboard.press("o")
    page.get_by_text("No video of this swing.").wait_for()
    return page


def at_checkpoint(page: Page, name: str) -> None:
    """Along the checkpoints to one of them, by the keyboard."""
    slider = page.get_by_role("slider", name="Position in the swing")
    for _ in range(12):
        page.keyboard.press("ArrowRight")
        if (slider.get_attribute("aria-valuetext") or "").startswith(name):
            return
    for _ in range(12):
        page.keyboard.press("ArrowLeft")
        if (slider.get_attribute("aria-valuetext") or "").startswith(name):
            return
    raise AssertionError(f"no {name}")


def test_a_video_of_a_file_moves_with_the_arc_and_is_taken_back(swing):
    attach(swing, filmed())
    expect(swing.get_by_test_id("clip-front")).to_be_visible()
    at_checkpoint(swing, "impact")
    assert shown_s(swing) == pytest.approx(BEFORE_S, abs=0.03)
    truth = play("over-extended", 11).truth.swings[0].times_s
    at_checkpoint(swing, "top")
    assert shown_s(swing) == pytest.approx(BEFORE_S - (truth["impact"] - truth["top"]), abs=0.03)

    swing.keyboard.press(" ")
    swing.get_by_role("button", name="Hold").click()
    at_checkpoint(swing, "top")
    swing.get_by_role("radio", name="quarter").click()
    swing.get_by_role("button", name="Play").click()
    swing.wait_for_timeout(600)
    swing.get_by_role("button", name="Hold").click()
    assert shown_s(swing) > BEFORE_S - (truth["impact"] - truth["top"]) + 0.05
    swing.keyboard.press("z")
    expect(swing.get_by_text("No video of this swing.")).to_be_visible()
    swing.keyboard.press("Shift+Z")
    expect(swing.get_by_test_id("clip-front")).to_be_visible()


def test_without_sound_it_is_laid_by_hand_and_a_second_view_stands_beside(swing):
    attach(swing, filmed(sound=False))
    expect(swing.get_by_text("Its sound does not tell. Go to where the ball is struck:")).to_be_visible()
    place = swing.get_by_role("slider", name="Place in the video from in front")
    place.fill(str(round(BEFORE_S * 60) / 60))
    swing.get_by_role("button", name="One picture on").click()
    swing.get_by_role("button", name="One picture back").click()
    swing.get_by_role("button", name="Struck here").click()
    expect(place).to_have_count(0)
    at_checkpoint(swing, "impact")
    assert shown_s(swing) == pytest.approx(BEFORE_S, abs=0.03)
    swing.get_by_role("button", name="Videos").click()
    expect(swing.get_by_text("Laid on the swing by hand, to about 8 ms.")).to_be_visible()
    attach(swing, filmed(view="line"), view="along the target line")
    expect(swing.get_by_test_id("clip-line")).to_be_visible()
    swing.get_by_role("region", name="Video from in front").get_by_role("button", name="Take away").click()
    expect(swing.get_by_test_id("clip-front")).to_have_count(0)


def test_what_is_no_video_is_said_and_what_to_do(swing):
    attach(swing, b"time,x\n1,2\n" * 50, "table.mp4")
    expect(swing.get_by_role("alert")).to_contain_text("table.mp4: not a video that can be read")
    expect(swing.get_by_text("No video of this swing.")).to_be_visible()


@pytest.mark.live
def test_the_browsers_camera_gives_a_swing_its_video(page, lesson_id):
    page.context.grant_permissions(["camera", "microphone"])
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="Camera").click()
    page.get_by_role("button", name="Switch it on").click()
    expect(page.get_by_label("What the camera sees")).to_be_visible()
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    expect(page.get_by_role("button", name="Camera on")).to_be_visible()
    page.wait_for_timeout(3000)
    page.get_by_role("button", name="Stand-in: swing").click()
    page.get_by_role("main").get_by_text("Captured", exact=True).wait_for()
    page.get_by_role("button", name="Camera on").click()
    expect(page.get_by_text("The last swing has its video.")).to_be_visible()
    swing = call(page, "GET", f"/lessons/{lesson_id}")["swings"][-1]["id"]
    (clip,) = call(page, "GET", f"/swings/{swing}/clips")["clips"]
    assert (clip["view"], clip["kind"]) == ("front", "video/webm")
    assert clip["seconds"] > 2.5
    page.get_by_role("button", name="Switch it off").click()
    expect(page.get_by_role("button", name="Camera on")).to_have_count(0)


@pytest.mark.live
def test_a_camera_that_is_not_allowed_is_said(page, lesson_id):
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="Camera").click()
    page.get_by_role("button", name="Switch it on").click()
    expect(page.get_by_role("alert")).to_contain_text("The browser does not allow the camera.")
