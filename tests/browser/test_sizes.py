"""Every view on every screen of a lesson: nothing over anything, nothing cut off, nothing sideways, thumbs hit."""

from __future__ import annotations

import re
from contextlib import contextmanager
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.layout import SIZES, wrong
from tests.browser.test_interface import violations
from tests.browser.test_walks import drop, lesson_now

pytestmark = pytest.mark.browser
LONG = "Bartholomew-Maximilian Featherstonehaugh"
ASKED = "Gilbert Changed-Grip"
TESTED = "Training Tested"
WORDY = {
    "label": "Cupped at the top far beyond what this player's own release can take back again",
    "plain_label": "Cups at the top far beyond what the hands can take back on the way down",
    "phase": "setup",
    "level": "body",
    "shown": [{"metric": "lead_wrist_extension", "moment": "top", "way": "above"}],
    "says": "At the top the lead wrist is {value}, {over} {past} than the band, which leaves the hands very little time to "
    "take it back before the strike.",
    "player_says": "At the top the wrist cups more than your hands can take back again on the way down to the ball.",
    "tends": "That tends to open the face, to send the ball to the side of the trail hand, and to ask for a rescue.",
    "drills": ["peg_pointer"],
}
"""A finding of an academy's own with long sentences, before all others."""
PARTS = ("Build from swings", "References", "Schools, drills, findings", "Rules of thumb", "Measure again")
"""Of Benchmarks, beside the ranges."""
CUP = "metric=lead_wrist_extension&moment=top"
STILL = (
    "swing",
    "body",
    "filmed",
    "videos",
    "videos and figure",
    "no video",
    "figure",
    "ground",
    "feet",
    "show",
    "show ground",
    "capture",
    "tested",
    "asked",
    "asked at capture",
    "compare",
    "compared with a band",
    "compared with a model",
    "compared mats",
    "ways over each other",
    "compared groups",
    "compared bodies",
    "compared figures",
)
"""Views that never scroll."""
READY = {
    "swing": "slider",
    "body": "slider",
    "filmed": "slider",
    "tested": "slider",
    "asked": "slider",
    "benchmarks": "slider",
    "feet": "slider",
    "show": "main",
    "show ground": "main",
}


def asked(page: Page, path: str) -> Any:
    """What the application answers."""
    return page.evaluate("path => fetch(`/api${path}`).then((r) => r.json())", path)


def sent(page: Page, method: str, path: str, body: object = None) -> Any:
    """The answer to something that is changed."""
    return page.evaluate(
        """async ([method, path, body]) => {
          const { csrf } = await (await fetch("/api/me")).json();
          const headers = { "x-csrf-token": csrf, "content-type": "application/json" };
          return (await fetch(`/api${path}`, { method, headers, body: body && JSON.stringify(body) })).json();
        }""",
        [method, path, body],
    )


@contextmanager
def long_sentences(page: Page):
    """While it lasts the wordy finding leads wherever a wrist is cupped."""
    rules = sent(
        page, "PUT", "/academy-rules/findings", {**WORDY, "revision": asked(page, "/academy-rules")["revision"]}
    )
    made = next(f["id"] for f in rules["findings"] if f["label"] == WORDY["label"])
    try:
        yield
    finally:
        sent(page, "DELETE", f"/academy-rules/findings/{made}")


def newest(page: Page, name: str) -> tuple[str, str, str]:
    """A player, their newest lesson with swings, and its last swing."""
    player = next(p for p in asked(page, "/players") if p["name"] == name)
    lessons = asked(page, f"/players/{player['id']}")["lessons"]
    lesson = next(x for x in lessons if x["swings"])["id"]
    return player["id"], lesson, asked(page, f"/lessons/{lesson}")["swings"][-1]["id"]


@pytest.fixture(scope="module")
def long_name() -> list[str]:
    """Whether the player with the long name is there already, and the lesson."""
    return []


def views(page: Page, bundle_file, known: list[str]) -> dict[str, str]:
    """Every view's address, of a player with a long name and three of the demo's."""
    if not known:
        lesson_now(page, LONG)
        drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
        page.get_by_role("link", name="Today", exact=True).click()
        lesson_now(page, ASKED)
        drop(page, bundle_file("grip-changed", 3))
        page.get_by_role("link", name="Today", exact=True).click()
        lesson_now(page, TESTED)
        drop(page, bundle_file("over-extended", 11, sources=("wrist", "club")))
        tested = newest(page, TESTED)[1]
        block = {"finding": "over_extended_top", "metric": "lead_wrist_extension", "moment": "top"}
        for kind in ("drill", "test"):
            sent(page, "POST", f"/lessons/{tested}/blocks", {**block, "kind": kind})
        drop(page, bundle_file("hold-then-flex", 32))
        known.append(LONG)
    player, lesson, swing = newest(page, LONG)
    _, asked_in, asked_about = newest(page, ASKED)
    _, tested_in, tested = newest(page, TESTED)
    filmed = newest(page, "Wenna Larkspur")
    of_body, of_ground = newest(page, "Bram Oakhollow"), newest(page, "Tobin Askew")
    return {
        "today": "/",
        "players": "/players",
        "player": f"/players/{player}",
        "benchmarks": "/benchmarks",
        "bays": "/bays",
        "people": "/people",
        "search": "/search",
        "found": "/search?q=7-iron, cups past the band at the top",
        "found as a table": "/search?q=7-iron, wrist cup at the top above 20, tempo&as=table",
        "fit": f"/lessons/{lesson}",
        "setup": f"/lessons/{lesson}/setup",
        "capture": f"/lessons/{lesson}/capture",
        "markers": f"/lessons/{lesson}/markers",
        "plan": f"/lessons/{lesson}/plan",
        "swing": f"/lessons/{lesson}/swings/{swing}",
        "show": f"/lessons/{lesson}/show/{swing}",
        "tested": f"/lessons/{tested_in}/swings/{tested}",
        "compare": f"/lessons/{lesson}/compare?a=swing:{swing}",
        "table": f"/lessons/{lesson}/table",
        "compared with a band": f"/lessons/{lesson}/compare?a=swing:{swing}&b=band:here&{CUP}",
        "compared with a model": f"/lessons/{lesson}/compare?a=swing:{swing}&b=model:chip.flat.restrained.reverse&{CUP}",
        "compared mats": f"/lessons/{of_ground[1]}/compare?a=swing:{of_ground[2]}&{CUP}",
        "compared groups": _test_against_before(page, tested_in),
        "compared bodies": f"/lessons/{of_body[1]}/compare?a=swing:{of_body[2]}",
        "asked": f"/lessons/{asked_in}/swings/{asked_about}",
        "asked at capture": f"/lessons/{asked_in}/capture",
        "filmed": f"/lessons/{filmed[1]}/swings/{filmed[2]}",
        "body": f"/lessons/{of_body[1]}/swings/{of_body[2]}",
        "ground": f"/lessons/{of_ground[1]}/swings/{of_ground[2]}",
        "show ground": f"/lessons/{of_ground[1]}/show/{of_ground[2]}",
        "round": f"/rounds/{_round_of(page, 'Ilse Marrow')}",
        "diary": "/diary?who=all",
        "diary of a day": "/diary?by=people",
    }


def _round_of(page: Page, name: str) -> str:
    player = next(p["id"] for p in asked(page, "/players") if p["name"] == name)
    return str(asked(page, f"/players/{player}/rounds")[0]["id"])


def _test_against_before(page: Page, lesson: str) -> str:
    test = next(b["id"] for b in asked(page, f"/lessons/{lesson}")["blocks"] if b["kind"] == "test")
    return f"/lessons/{lesson}/compare?a=block:{test}&b=before:{test}"


def settled(page: Page, view: str) -> None:
    page.wait_for_load_state("networkidle")
    if READY.get(view) == "slider":
        page.get_by_role("slider", name="Position in the swing").wait_for()
    if view.startswith("compare"):
        page.get_by_role("img", name=re.compile("and the difference beneath$")).wait_for()
    if view == "ground":  # opens on the feet where the pressure comes first, and a phone has no room for the arc there
        page.get_by_label(re.compile("^Group: ")).wait_for()
    expect(page.get_by_role("status").filter(has_text=re.compile("…$"))).to_have_count(0)
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(150)  # what measures itself draws once more


def looked_at(page: Page, view: str, found: dict[str, list[str]]) -> None:
    """What is wrong with what is shown, and what its users could not use."""
    found[view] = [*wrong(page, still=view in STILL), *violations(page)]


def sheets_of_a_swing(page: Page, found: dict[str, list[str]]) -> None:
    for name in ("Why?", "More"):
        page.get_by_role("button", name=name, exact=True).click()
        looked_at(page, name, found)
        page.get_by_role("dialog").get_by_role("button", name="Close").click()
    page.keyboard.press("n")
    looked_at(page, "numbers", found)
    page.get_by_role("dialog").get_by_role("button", name="Close").click()


def feet(page: Page, found: dict[str, list[str]]) -> None:
    page.get_by_label(re.compile("^Group: ")).click()
    page.get_by_role("button", name=re.compile("^Ground")).last.click()
    guess = page.get_by_role("button", name="Show without a guess")
    if guess.is_visible():
        found["guess"] = wrong(page, still=True)
        guess.click()
    page.get_by_test_id("ground-sentence").wait_for()
    page.wait_for_timeout(150)
    looked_at(page, "feet", found)


def parts_of_benchmarks(page: Page, found: dict[str, list[str]]) -> None:
    page.get_by_role("radio", name="List").click()
    page.get_by_role("textbox", name="Search ranges").wait_for()
    looked_at(page, "ranges as a list", found)
    for part in PARTS:
        page.get_by_role("radio", name=part).click()
        settled(page, part)
        looked_at(page, part, found)
        for new in ("New finding", "New drill") if "findings" in part else ():
            page.get_by_role("button", name=new).click()
            looked_at(page, new, found)
            page.get_by_role("dialog").get_by_role("button", name="Close").click()


def videos(page: Page, found: dict[str, list[str]]) -> None:
    """Beside the arc, then with the figure between, then what can be done with them."""
    for key, view in (("o", "videos"), ("x", "videos and figure")):
        page.keyboard.press(key)
        page.get_by_test_id("clip-line").wait_for()
        page.wait_for_timeout(400)
        looked_at(page, view, found)
    page.get_by_role("button", name="Videos").click()
    looked_at(page, "what is done with videos", found)
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    page.keyboard.press("o")
    looked_at(page, "figure", found)
    page.keyboard.press("x")


def without_video(page: Page, found: dict[str, list[str]]) -> None:
    page.keyboard.press("o")
    page.get_by_text("No video of this swing.").wait_for()
    looked_at(page, "no video", found)
    page.keyboard.press("o")
    sheets_of_a_swing(page, found)


def sheets_of_a_comparison(page: Page, found: dict[str, list[str]]) -> None:
    for name in ("With…", "Values"):
        page.get_by_role("button", name=name, exact=True).click()
        looked_at(page, name, found)
        page.get_by_role("dialog").get_by_role("button", name="Close").click()


def both_figures(page: Page, found: dict[str, list[str]]) -> None:
    page.keyboard.press("x")
    expect(page.get_by_role("img", name=re.compile("^Figure of the player"))).to_have_count(2)
    page.wait_for_timeout(300)
    looked_at(page, "compared figures", found)


def both_mats(page: Page, found: dict[str, list[str]]) -> None:
    page.keyboard.press("x")
    for name, view in (("Mats", "two mats"), ("Ways", "ways over each other")):
        page.get_by_role("radio", name=name, exact=True).click()
        page.get_by_role("img", name=re.compile("^The mat from above")).first.wait_for()
        page.wait_for_timeout(300)
        looked_at(page, view, found)


def how_steady(page: Page, found: dict[str, list[str]]) -> None:
    page.get_by_role("radio", name="How steady").click()
    page.get_by_text(re.compile("^Standard deviation within a lesson")).wait_for()
    looked_at(page, "how steady", found)


def a_link(page: Page, found: dict[str, list[str]]) -> None:
    page.keyboard.press("n")
    page.get_by_role("button", name="Make the link").click()
    page.get_by_role("button", name="Copy").wait_for()
    looked_at(page, "a link for the player", found)
    page.get_by_role("dialog").get_by_role("button", name="Close").click()


def sheets_of_a_table(page: Page, found: dict[str, list[str]]) -> None:
    page.get_by_role("checkbox").first.click()
    looked_at(page, "table with one chosen", found)
    for name in ("Mark", "Columns"):
        page.get_by_role("button", name=name, exact=True).click()
        looked_at(page, name, found)
        page.get_by_role("dialog").get_by_role("button", name="Close").click()


def the_log(page: Page, found: dict[str, list[str]]) -> None:
    page.get_by_role("button", name="Invite somebody").click()
    looked_at(page, "an invitation", found)
    page.get_by_role("dialog").get_by_role("button", name="Close").click()
    page.get_by_role("radio", name="The log").click()
    page.get_by_text(re.compile("opened$")).first.wait_for()
    looked_at(page, "the log", found)


FURTHER = {
    "people": the_log,
    "table": sheets_of_a_table,
    "swing": without_video,
    "filmed": videos,
    "ground": feet,
    "benchmarks": parts_of_benchmarks,
    "compare": sheets_of_a_comparison,
    "compared mats": both_mats,
    "player": how_steady,
    "plan": a_link,
    "compared bodies": both_figures,
}


@pytest.mark.parametrize("size", list(SIZES))
def test_every_view_fits_and_can_be_used_by_everybody(page, bundle_file, long_name, size):
    """By turns in light and dark, so that over the sizes every view is seen in both."""
    found: dict[str, list[str]] = {}
    paths = views(page, bundle_file, long_name)
    page.set_viewport_size(dict(zip(("width", "height"), SIZES[size], strict=True)))
    if list(SIZES).index(size) % 2:
        page.keyboard.press("d")
    with long_sentences(page):
        for view, path in paths.items():
            page.goto(f"{page.url.split('/')[0]}//{page.url.split('/')[2]}{path}")
            settled(page, view)
            page.keyboard.press("d")
            looked_at(page, view, found)
            FURTHER.get(view, lambda *_: None)(page, found)
    assert {view: bad for view, bad in found.items() if bad} == {}


def test_a_phone_has_a_menu_for_everywhere_else(page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("button", name="Menu").click()
    page.get_by_role("dialog").get_by_role("link", name="Players").click()
    expect(page.get_by_role("heading", name="Players", exact=True)).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_what_is_wrong_is_found(chromium):
    """The measure itself: each fault that it looks for is seen on a page that has it."""
    faults = {
        "text over text": "<p style='position:absolute;top:9px'>One</p><p style='position:absolute;top:12px'>Two</p>",
        "the page is": "<div style='width:2000px;height:9px'></div>",
        "cut off": "<div style='width:40px;overflow:hidden;white-space:nowrap'>A long sentence</div>",
        "shortened": "<div style='width:60px;overflow:hidden;white-space:nowrap;text-overflow:ellipsis'>Very long</div>",
        "a target of": "<button style='width:30px;height:30px'>x</button>",
        "does not fit": "<div style='height:40px;overflow:auto'><div style='height:90px'>a</div></div>",
        "scrolls sideways": "<div style='width:40px;overflow:auto'><div style='width:90px'>a</div></div>",
    }
    page = chromium.new_page(viewport={"width": 800, "height": 600})
    for said, html in faults.items():
        page.set_content(html)
        assert any(w.startswith(said) for w in wrong(page, still=True)), said
    page.set_content("<p>One</p><p>Two</p><button style='width:80px;height:60px'>x</button>")
    assert wrong(page, still=True) == []
    page.close()
