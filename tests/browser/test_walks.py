"""The acceptance walks, in the real interface."""

from __future__ import annotations

import io
import json
import re
import time
from contextlib import suppress

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, TimeoutError as PlaywrightTimeout, expect

from finearc.cli.main import main
from finearc.core.frames.handedness import Hand
from tests.browser.hands import more

pytestmark = pytest.mark.browser


def new_player(page: Page, name: str, hand: str = "Right-handed") -> None:
    page.get_by_role("link", name="Players").click()
    page.get_by_role("button", name="New player").click()
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_role("radio", name=hand).click()
    page.get_by_label("Consent given by", exact=True).fill(name)
    page.get_by_role("button", name="Add player").click()
    page.get_by_role("heading", name=name).wait_for()


def lesson_now(page: Page, name: str, hand: str = "Right-handed") -> None:
    """A new player's lesson. Earlier walks' lessons end first, so that nobody is booked twice."""
    page.get_by_role("button", name="Start now", exact=True).click()
    page.get_by_role("dialog").get_by_role("radio", name=hand).click()
    page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
    page.get_by_role("button", name="name this player").click()
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_role("checkbox").check()
    page.get_by_role("button", name="Save").click()
    page.get_by_role("heading", name=name).wait_for()


def drop(page: Page, path) -> None:
    page.get_by_role("link", name="Capture", exact=True).first.click()
    page.get_by_label("Capture bundle").set_input_files(str(path))
    page.get_by_role("slider", name="Position in the swing").wait_for(timeout=120_000)


def headline(page: Page):
    return page.get_by_role("heading", level=2).first


def test_walk_1_newcomer_sees_a_finding_within_a_minute(page, bundle_file, capsys):
    path = bundle_file("over-extended", 90210, sources=("wrist", "club"))
    main(["analyze", str(path), "--json"])
    printed = json.loads(capsys.readouterr().out)["swings"][4]
    begun = time.monotonic()
    new_player(page, "Nora Newcomer")
    page.get_by_role("button", name="Lesson now").click()
    page.get_by_role("heading", name="Fit the wrist pair").wait_for()
    drop(page, path)
    expect(headline(page)).to_contain_text("more cupped than your band at the top")
    assert time.monotonic() - begun < 60
    more(page, "Numbers")
    top = next(m["value"] for m in printed["metrics"] if (m["metric"], m["event"]) == ("lead_wrist_extension", "top"))
    row = page.get_by_role("dialog").get_by_role("row").filter(has_text=re.compile(r"^top")).first
    expect(row).to_contain_text(f"{top:.0f}° cupped")


def test_walk_2_walk_in_gets_a_setup_answer_before_any_swing_and_is_erased(page):
    page.get_by_role("button", name="Start now", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
    page.get_by_label("Stand-in device").select_option("palm-grip")
    page.get_by_role("button", name="Start the poses").click()
    page.get_by_text("How does the grip show in the wrist?").wait_for(timeout=120_000)
    expect(page.get_by_text("may sit more in the palm")).to_be_visible()
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("button", name="End the lesson").click()
    page.get_by_role("button", name="End and erase").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    expect(page.get_by_text("Walk-in")).to_have_count(0)


def test_walk_3_poses_too_close_are_refused_and_nothing_leaks(page):
    lesson_now(page, "Close Poses")
    page.get_by_label("Stand-in device").select_option("poses-too-close")
    page.get_by_role("button", name="Start the poses").click()
    page.get_by_role("heading", name="Not calibrated.").wait_for(timeout=120_000)
    expect(page.get_by_text("at least 30° is needed")).to_be_visible()
    expect(page.get_by_role("button", name="Hold both poses again")).to_be_visible()
    page.get_by_role("link", name="Setup", exact=True).click()
    expect(page.get_by_text("No calibration yet.")).to_be_visible()
    assert not re.search(r"\d+° (cupped|bowed)", page.inner_text("body"))


def test_walk_4_a_slip_is_said_and_breaks_the_strip(page, bundle_file):
    lesson_now(page, "Sam Slipper")
    drop(page, bundle_file("turned-sensor", 21))
    expect(headline(page)).to_have_text("The sensor may have moved: calibrate again.")
    expect(page.get_by_text("2 swings")).to_be_visible()
    page.get_by_role("link", name="Fit", exact=True).click()  # one action
    page.get_by_label("Stand-in device").select_option("hold-then-flex")
    page.get_by_role("button", name="Calibrate again").click()  # two
    page.get_by_role("link", name="Capture swings").click(timeout=120_000)
    page.get_by_role("button", name="Stand-in: swing").click()
    expect(page.get_by_role("link", name="Look at swing 6")).to_be_visible(timeout=30_000)
    page.get_by_role("link", name="Look at swing 6").click()
    expect(page.get_by_role("listitem").filter(has=page.get_by_label("Swing 6, normal"))).to_have_attribute(
        "title", "Calibrated again here"
    )
    expect(page.get_by_text("3 swings")).to_be_visible()


def test_walk_16_a_changed_grip_is_asked_about_once(page, bundle_file, capsys):
    path = bundle_file("grip-changed", 3)
    main(["analyze", str(path)])
    assert capsys.readouterr().out.count("14° more cupped at address than before: the grip, or the sensor?") == 1
    lesson_now(page, "Gil Gripper")
    drop(page, path)
    asked = page.get_by_role("region", name="Grip or sensor")
    expect(asked).to_contain_text("Swing 3: 14° more cupped at address than before: the grip, or the sensor?")
    expect(page.get_by_text(re.compile(r"^(\d of )?5 swings$"))).to_be_visible()
    asked.get_by_role("button", name="The sensor").click()
    expect(headline(page)).to_have_text("The sensor may have moved: calibrate again.")
    expect(asked).to_be_hidden()
    expect(page.get_by_text(re.compile(r"^(\d of )?2 swings$"))).to_be_visible()
    page.keyboard.press("z")
    expect(asked).to_be_visible()
    expect(page.get_by_text(re.compile(r"^(\d of )?5 swings$"))).to_be_visible()
    page.keyboard.press("y")  # the grip
    expect(asked).to_be_hidden()
    expect(page.get_by_role("listitem").filter(has=page.get_by_label("Swing 3, normal"))).to_have_attribute(
        "title", "The grip changed here"
    )
    page.get_by_label("Swing 3, normal").click()
    expect(page.get_by_role("button", name="Swing 3, normal")).to_have_attribute("aria-current", "true")
    more(page, "Before")
    expect(page.get_by_text("swing 2, other grip")).to_be_visible()


def test_walk_5_twins_show_the_same_numbers_mirrored(page, bundle_file):
    values, sides = [], []
    for hand, name in ((Hand.RIGHT, "Twin Right"), (Hand.LEFT, "Twin Left")):
        page.get_by_role("link", name="Today", exact=True).click()
        lesson_now(page, name, f"{hand.value.capitalize()}-handed")
        drop(page, bundle_file("dip", 8, hand=hand))
        values.append(headline(page).inner_text())
        slider = page.get_by_role("slider", name="Position in the swing")
        box = slider.bounding_box()
        checkpoint = slider.get_by_text("shaft level", exact=True).bounding_box()
        sides.append(checkpoint["x"] + checkpoint["width"] / 2 < box["x"] + box["width"] / 2)
    assert values[0] == values[1]
    assert sides == [True, False]


def test_walk_6_marks_change_what_counts_and_undo_restores(page, bundle_file):
    lesson_now(page, "Wanda Warmup")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    count = page.get_by_text(re.compile(r"^\d of \d swings$"))
    expect(count).to_have_text("5 of 5 swings")
    for number, kind in ((1, "warm-up"), (2, "warm-up"), (3, "drill")):
        page.get_by_label(re.compile(f"^Swing {number},")).click()
        more(page, "Mark")
        page.get_by_role("dialog", name=f"Swing {number} is").get_by_role("button", name=kind).click()
        expect(page.get_by_label(f"Swing {number}, {kind}")).to_be_visible()
    expect(count).to_have_text("2 of 2 swings")
    page.keyboard.press("z")
    expect(count).to_have_text("3 of 3 swings")
    page.keyboard.press("z")
    page.keyboard.press("z")
    expect(count).to_have_text("5 of 5 swings")


def test_walk_7_dragging_the_top_changes_value_and_finding_and_reload_keeps_it(page, bundle_file):
    lesson_now(page, "Dora Drag")
    drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
    before = headline(page).inner_text()
    chart = page.get_by_label("Trace over the swing with the reference band")
    label = chart.get_by_text("top", exact=True).bounding_box()
    x, y = label["x"] + label["width"] / 2, label["y"] - 12
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 90, y, steps=6)
    page.mouse.up()
    page.get_by_text("top moved by you").wait_for()
    expect(headline(page)).not_to_have_text(before)
    after = headline(page).inner_text()
    page.reload()
    expect(page.get_by_text("top moved by you")).to_be_visible()
    expect(headline(page)).to_have_text(after)
    page.get_by_role("button", name="top moved by you").click()
    expect(headline(page)).to_have_text(before)


def test_walk_8_touch_alone_and_an_arriving_swing_does_not_move_the_screen(new_page, bundle_file):
    page = new_page(has_touch=True)
    lesson_now(page, "Tess Touch")
    page.get_by_label("Stand-in device").select_option("flip")
    page.get_by_role("button", name="Start the poses").tap()
    page.get_by_role("link", name="Capture swings").tap(timeout=120_000)
    page.get_by_role("button", name="Three swings").tap()
    expect(page.get_by_role("link", name="Look at swing 3")).to_be_visible(timeout=40_000)
    page.get_by_role("button", name="Stand-in: swing").tap()
    page.get_by_role("link", name="Look at swing 3").tap()
    url, told = page.url, headline(page).inner_text()
    expect(page.get_by_label("Swing 4, normal")).to_be_visible(timeout=30_000)
    assert (page.url, headline(page).inner_text()) == (url, told)
    page.get_by_role("button", name="Ball", exact=True).tap()
    page.get_by_label("starts right, curves right").tap()
    page.get_by_role("button", name="Fat").tap()
    expect(page.get_by_role("button", name="Fat")).to_have_class(re.compile("bg-ink"))
    page.get_by_role("button", name="Close").tap()
    more(page, "Club", tap=True)
    page.get_by_role("button", name="8-iron").tap()
    page.get_by_role("button", name="Previous swing").tap()
    expect(page.get_by_label("Swing 2, normal")).to_have_attribute("aria-current", "true")
    more(page, "Before", tap=True)
    expect(page.get_by_text(re.compile(r"^swing 1: \d+° "))).to_be_visible()
    for target in page.locator("footer button").all():
        box = target.bounding_box()
        assert box["width"] >= 56
        assert box["height"] >= 56


def group(page: Page, name: str) -> None:
    """Choose a group of measures."""
    page.get_by_label(re.compile("^Group: ")).click()
    page.get_by_role("button", name=re.compile(f"^{name}")).last.click()


def test_walk_9_wrist_sensors_say_what_they_cannot_see(page, bundle_file):
    lesson_now(page, "Una Unseen")
    drop(page, bundle_file("hold-then-flex", 3))
    for name, words in (
        ("Turn", "Add body sensors"),
        ("Posture", "Add body sensors"),
        ("Travel", "Positions need markers"),
        ("Ground", "Add a pressure mat"),
    ):
        group(page, name)
        expect(page.get_by_role("heading", name="These sensors cannot see this.")).to_be_visible()
        expect(page.get_by_text(words)).to_be_visible()
    page.get_by_role("button", name="Back to what is seen").click()
    expect(page.get_by_role("button", name="Cup", exact=True)).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="Why?").click()
    told = page.get_by_role("dialog").inner_text()
    findings, open_questions = told.split("Not assessable here")
    assert not re.search(r"pelvis|sway|early extension|pressure", findings)
    assert "needs" in open_questions


FIGURE = "Figure of the player"


def overlay(page: Page, name: str):
    return page.get_by_role("group", name="Drawn over the figure").get_by_role("button", name=name, exact=True)


def drag_until(page: Page, canvas, seen) -> None:
    """Drag over the figure; again where a busy machine had not drawn it yet."""
    for _ in range(3):
        box = canvas.bounding_box()
        page.mouse.move(box["x"] + 200, box["y"] + 200)
        page.mouse.down()
        page.mouse.move(box["x"] + 300, box["y"] + 150, steps=4)
        page.mouse.up()
        with suppress(PlaywrightTimeout):
            seen.wait_for(timeout=15_000)
            return
    expect(seen).to_be_visible()


def drawn(page: Page) -> bytes:
    """The picture of the figure, once it stands still."""
    canvas = page.get_by_role("img", name=FIGURE)
    previous = canvas.screenshot()
    for _ in range(20):
        page.wait_for_timeout(120)
        now = canvas.screenshot()
        if now == previous:
            return now
        previous = now
    return previous


def test_walk_10_a_c3d_moves_arc_figure_and_trace_together(page, foreign_c3d):
    lesson_now(page, "Cam Fielding")
    page.get_by_role("link", name="Capture", exact=True).first.click()
    page.get_by_label("Capture bundle").set_input_files(str(foreign_c3d))
    expect(page.get_by_role("heading", name="39 of 41 markers are known.")).to_be_visible()
    expect(page.get_by_label("LASI, pelvis, front, left")).to_have_value("LASIS")
    expect(page.get_by_label("To the target")).to_have_value("+x")
    page.get_by_label("Remember these names as").fill("camera bay")
    page.get_by_role("button", name="Import and measure").click()
    slider = page.get_by_role("slider", name="Position in the swing")
    slider.wait_for()
    more(page, "Figure")
    canvas = page.get_by_role("img", name=FIGURE)
    expect(canvas).to_have_attribute("data-faint", "lead hand")
    seen = {}
    for eye in ("In front", "Target line", "Above", "Behind"):
        page.get_by_role("radio", name=eye, exact=True).click()
        seen[eye] = drawn(page)
    assert len(set(seen.values())) == 4
    value = page.locator("p.figure").first
    trace = page.get_by_role("img", name="Trace over the swing with the reference band")
    before = (value.inner_text(), trace.screenshot(), drawn(page))
    page.keyboard.press("ArrowLeft")
    expect(value).not_to_have_text(before[0])
    after = (value.inner_text(), trace.screenshot(), drawn(page))
    assert all(a != b for a, b in zip(before, after, strict=True))
    page.get_by_role("radio", name="Above").click()
    plain = drawn(page)
    overlay(page, "Turn").click()
    assert drawn(page) != plain
    expect(page.get_by_text(re.compile(r"pelvis \d+° (closed|open)"))).to_be_visible()
    drag_until(page, canvas, page.get_by_text("free view"))
    page.reload()
    expect(page.get_by_role("img", name=FIGURE)).to_be_visible()
    page.get_by_role("link", name="Capture", exact=True).first.click()
    page.get_by_label("Capture bundle").set_input_files(str(foreign_c3d))
    expect(page.get_by_text("camera bay")).to_be_visible()


def test_no_overlay_rests_on_what_was_not_measured(page, bundle_file):
    lesson_now(page, "Fay Nearly")
    drop(page, bundle_file("free-pelvis", 6, sources=("wrist", "body")))
    more(page, "Figure")
    expect(page.get_by_text("default limb lengths")).to_be_visible()
    for name in ("Spine", "Pelvis path", "Lead hip", "Club path"):
        expect(overlay(page, name)).to_be_disabled()
    expect(overlay(page, "Turn")).to_be_enabled()


def test_a_left_handers_figure_is_drawn_as_the_player_lives(page, bundle_file):
    pictures = []
    for hand in (Hand.RIGHT, Hand.LEFT):
        page.get_by_role("link", name="Today", exact=True).click()
        lesson_now(page, f"Figure {hand.value}", f"{hand.value.capitalize()}-handed")
        drop(page, bundle_file("free-pelvis", 6, sources=("markers",), hand=hand))
        more(page, "Figure")
        page.get_by_role("img", name=FIGURE).wait_for()
        page.get_by_role("radio", name="In front").click()
        for _ in range(12):
            page.keyboard.press("ArrowLeft")
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        pictures.append(np.asarray(Image.open(io.BytesIO(drawn(page))).convert("L"), dtype=float))
    right, left = pictures
    cropped = right[50:-40], left[50:-40]  # the choice of eyes lies over the picture's upper edge
    plain = np.abs(cropped[0] - cropped[1]).mean()
    mirrored = np.abs(cropped[0] - cropped[1][:, ::-1]).mean()
    assert mirrored < 0.5 * plain


def test_the_upper_arm_is_calibrated_by_one_pose_more(page):
    lesson_now(page, "Una Upper")
    page.get_by_role("link", name="Fit", exact=True).click()
    page.get_by_role("radio", name="Upper arm", exact=True).click()
    expect(
        page.get_by_role("heading", name="Fit the wrist pair and the upper arm, then hold three poses.")
    ).to_be_visible()
    expect(page.get_by_role("img", name="Elbow lifted straight ahead, forearm pointing up")).to_be_visible()
    page.get_by_label("Stand-in device").select_option("hold-then-flex")
    page.get_by_role("button", name="Start the poses").click()
    page.get_by_role("link", name="Capture swings").click(timeout=120_000)
    page.get_by_role("button", name="Stand-in: swing").click()
    page.get_by_role("link", name="Look at swing 1").click(timeout=30_000)
    page.get_by_role("button", name="Forearm", exact=True).click()
    expect(page.get_by_role("region", name="Swings of this lesson")).to_contain_text("Forearm, this lesson")
    expect(page.get_by_role("slider")).to_contain_text(re.compile(r"\d+°\s*palm down"))


def test_the_body_pack_is_calibrated_by_square_and_bow(page):
    lesson_now(page, "Bo Packer")
    page.get_by_role("link", name="Fit", exact=True).click()
    page.get_by_role("radio", name="Body pack", exact=True).click()
    page.get_by_label("Stand-in device").select_option("open-at-address")
    page.get_by_role("button", name="Start the poses").click()
    # which of the two stands out more differs from one stand-in to the next
    expect(page.get_by_text(re.compile("Where do the (hips|shoulders) aim"))).to_be_visible(timeout=120_000)
    expect(page.get_by_text(re.compile(r"The (pelvis|upper body) is \d+° open at address"))).to_be_visible()


def test_the_order_of_the_parts_is_told(page, bundle_file):
    lesson_now(page, "Orla Order")
    drop(page, bundle_file("out-of-sequence", 4, sources=("markers",)))
    group(page, "Sequence")
    expect(page.get_by_text("Out of order:")).to_be_visible()
    expect(page.get_by_text("Side to side")).to_be_visible()
