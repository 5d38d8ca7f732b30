"""The same screens in another language, other units and by another clock; nothing is left in English."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Page, expect

from finearc.wording import Manner
from finearc.wording.texts import catalogue
from tests.browser.layout import SIZES, wrong

pytestmark = pytest.mark.browser
SAY = """async (how) => {
  const me = await (await fetch("/api/me")).json();
  const academy = await (await fetch("/api/academy")).json();
  const headers = {"content-type": "application/json", "x-csrf-token": me.csrf, "if-match": academy.revision};
  const said = await fetch("/api/academy/manner", {method: "PUT", headers, body: JSON.stringify(how)});
  if (!said.ok) throw new Error(await said.text());
}"""
TEXTS = """() => {
  const found = new Set();
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) found.add(walk.currentNode.textContent.trim());
  for (const one of document.querySelectorAll("[aria-label], [title], [placeholder]"))
    for (const name of ["aria-label", "title", "placeholder"]) found.add((one.getAttribute(name) ?? "").trim());
  return [...found].filter(Boolean);
}"""
ENGLISH = {
    *(
        "the",
        "of",
        "and",
        "your",
        "are",
        "than",
        "shorter",
        "longer",
        "quicker",
        "slower",
        "with",
        "from",
        "at",
        "after",
    ),
    *(
        "before",
        "less",
        "this",
        "that",
        "it",
        "was",
        "were",
        "not",
        "but",
        "by",
        "when",
        "what",
        "came",
        "turned",
        "on",
    ),
    *("earlier", "later", "to", "between", "under", "same", "each", "in"),
}
"""Words that no Spanish sentence has: one of them and a sentence was put together from pieces that stayed English."""
WRITTEN = {"goals", "usual_miss", "note", "pain_note", "name", "about"}
"""What people wrote, in their own language."""
ASKED = "async (path) => (await fetch('/api' + path)).json()"
NAMES = {"Forearm", "Hand", "Club", "Mat", "Pelvis", "Upper back", "Club clip", "Putter clip", "Upper arm"}
"""What the stand-ins call themselves: a device's own name is nobody's to translate."""


def say(page: Page, how: Manner) -> None:
    page.evaluate(
        SAY, {"language": how.language, "lengths": how.lengths, "distances": how.distances, "clock": how.clock}
    )


@pytest.fixture
def speaking(new_page: Callable[..., Page]) -> Iterator[Callable[[Manner], Page]]:
    """A page of the academy that speaks in a manner; afterwards it speaks as before."""
    page = new_page()

    def speak(how: Manner) -> Page:
        say(page, how)
        with page.expect_event("framenavigated", predicate=lambda frame: frame == page.main_frame):
            page.reload()
        page.wait_for_function("(language) => document.documentElement?.lang === language", arg=how.language)
        return page

    yield speak
    say(page, Manner())


@pytest.fixture(scope="module")
def english() -> set[str]:
    """Texts that Spanish says otherwise."""
    out = set()
    for m in catalogue("es"):
        ids, said = (m.id, m.string) if isinstance(m.id, tuple) else ((m.id,), (m.string,))
        out |= {i.strip() for i in ids if i and i not in said and len(i.strip()) > 2}
    return out - NAMES


def written(answer: object) -> set[str]:
    """What people wrote, wherever in an answer it stands."""
    if isinstance(answer, list):
        return set().union(*map(written, answer))
    if not isinstance(answer, dict):
        return set()
    own = {v for k, v in answer.items() if k in WRITTEN and isinstance(v, str) and v}
    return own.union(*(written(v) for v in answer.values()))


SIZED = ("laptop", "tablet upright", "phone")
STILL = ("/swings/", "/compare", "/capture", "/show/")


@pytest.mark.parametrize("size", SIZED)
def test_longer_words_fit_too(speaking, address, size):
    """Spanish is a fifth longer: nothing over anything, nothing cut off, nothing sideways, thumbs hit."""
    page = speaking(Manner("es"))
    page.set_viewport_size(dict(zip(("width", "height"), SIZES[size], strict=True)))
    players = {p["name"]: p["id"] for p in page.evaluate(ASKED, "/players")}
    paths = ["/", "/diary?who=all", "/diary?by=people", "/players", "/search?q=7-iron", "/benchmarks", "/bays"]
    for name in ("Ilse Marrow", "Tobin Askew", "Bram Oakhollow"):
        lesson = next(x["id"] for x in page.evaluate(ASKED, f"/players/{players[name]}")["lessons"] if x["swings"])
        swing = page.evaluate(ASKED, f"/lessons/{lesson}")["swings"][-1]["id"]
        paths += [f"/lessons/{lesson}/{v}" for v in ("setup", "capture", "plan", f"swings/{swing}", f"show/{swing}")]
        paths += [f"/players/{players[name]}", f"/lessons/{lesson}", f"/lessons/{lesson}/compare?a=swing:{swing}"]
    paths += [f"/rounds/{r['id']}" for r in page.evaluate(ASKED, f"/players/{players['Ilse Marrow']}/rounds")]
    found = {}
    for path in paths:
        page.goto(f"{address}{path}")
        expect(page.locator("#root > *").first).to_be_visible()
        page.wait_for_timeout(1000)
        bad = wrong(page, still=any(part in path for part in STILL))
        if bad:
            found[path] = bad
    assert found == {}


def test_no_view_is_left_in_english(speaking, english, address):
    page = speaking(Manner("es"))
    players = {p["name"]: p["id"] for p in page.evaluate(ASKED, "/players")}

    def newest(name: str) -> str:
        lessons = page.evaluate(ASKED, f"/players/{players[name]}")["lessons"]
        return next(x["id"] for x in lessons if x["swings"])

    lesson, putts = newest("Ilse Marrow"), newest("Signe Varley")
    swing = page.evaluate(ASKED, f"/lessons/{lesson}")["swings"][-1]["id"]
    paths = ["/", "/diary", "/players", "/search", "/benchmarks", "/bays", f"/players/{players['Ilse Marrow']}"]
    paths += [f"/lessons/{lesson}/{view}" for view in ("capture", "plan", "compare", "table", "train", "live")]
    paths += [f"/lessons/{lesson}/swings/{swing}", f"/lessons/{putts}/putting", f"/lessons/{putts}/plan"]
    left: dict[str, set[str]] = {}
    people = written(page.evaluate(ASKED, f"/players/{players['Ilse Marrow']}")) | written(
        [page.evaluate(ASKED, path) for path in (f"/lessons/{lesson}", f"/lessons/{putts}", "/diary", "/players")]
    )
    for path in paths:
        page.goto(f"{address}{path}")
        expect(page.locator("#root > *").first).to_be_visible()
        page.wait_for_timeout(1500)  # a view that hears the bay is never idle
        texts = set(page.evaluate(TEXTS))
        pieces = {t for t in texts if set(re.findall(r"[^\W\d_]+", t.lower())) & ENGLISH}
        found = (texts & english) | {t for t in pieces if not any(p in t for p in people)}
        if found:
            left[path] = found
    assert left == {}
    page.goto(f"{address}/")
    page.get_by_role("heading", name="Hoy", exact=True).wait_for()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Teclas")
    assert set(page.evaluate(TEXTS)) & english == set()


def test_a_clock_of_twelve_hours_and_inches(speaking, address):
    page = speaking(Manner("en", "in", "ft", "12"))
    expect(page.get_by_text(re.compile(r"\b\d{1,2}:\d\d\s(am|pm)\b")).first).to_be_visible()
    players = {p["name"]: p["id"] for p in page.evaluate(ASKED, "/players")}
    page.goto(f"{address}/players/{players['Halle Brandreth']}")
    expect(page.get_by_text(re.compile(r"\d ft \d+ in"))).to_be_visible()


def test_what_goes_home_is_in_the_players_own_language(speaking, address):
    """The academy speaks English, one of its players reads Spanish."""
    page = speaking(Manner())
    players = {p["name"]: p["id"] for p in page.evaluate(ASKED, "/players")}
    player = page.evaluate(ASKED, f"/players/{players['Ilse Marrow']}")
    lesson = next(x["id"] for x in player["lessons"] if x["swings"])
    change = """async ([player, language]) => {
      const me = await (await fetch("/api/me")).json();
      const p = await (await fetch("/api/players/" + player)).json();
      const keys = ["name", "handedness", "height_m", "population", "goals", "usual_miss", "words", "consent_by"];
      const body = {...Object.fromEntries(keys.map((k) => [k, p[k]])), schools: p.own_schools, language};
      const headers = {"content-type": "application/json", "x-csrf-token": me.csrf, "if-match": p.revision};
      const said = await fetch("/api/players/" + player, {method: "PUT", headers, body: JSON.stringify(body)});
      if (!said.ok) throw new Error(await said.text());
    }"""
    page.evaluate(change, [player["id"], "es"])
    try:
        page.goto(f"{address}/api/lessons/{lesson}/page")
        expect(page.locator("html")).to_have_attribute("lang", "es")
        expect(page.locator("footer")).to_contain_text("no es un diagnóstico")
        page.goto(f"{address}/api/lessons/{lesson}/record")
        expect(page.locator("html")).to_have_attribute("lang", "en")
    finally:
        page.goto(address)
        page.evaluate(change, [player["id"], ""])
