"""What goes home: the page drawn and written for its player, a link that opens it, and the instructor's own record."""

from __future__ import annotations

import re
from datetime import timedelta
from io import BytesIO

import pytest
from pypdf import PdfReader

from finearc.core.frames.handedness import Hand
from finearc.services.people.tokens import hash_token
from finearc.services.records import Lesson, ShareLink, now
from tests.api.conftest import bundle, drop, new_lesson
from tests.api.test_retention import BAND, CUPPED, HELD, captured, next_lesson


@pytest.fixture(scope="module")
def home(browser):
    """A lesson with a trained and tested wrist, its pain and limits noted, closed."""
    lesson_id = new_lesson(browser, "Goes Home")
    captured(browser, lesson_id, CUPPED)
    player = browser.lesson(lesson_id)["player"]["id"]
    browser.post(f"/players/{player}/limits", {"area": "back", "movement": "turn", "comfortable": 61.0})
    assert browser.post(f"/lessons/{lesson_id}/training", BAND).status_code == 201
    assert browser.patch(f"/lessons/{lesson_id}/training", {"test": True}).status_code == 200
    captured(browser, lesson_id, HELD)
    browser.send("DELETE", f"/lessons/{lesson_id}/training")
    browser.patch(f"/lessons/{lesson_id}", {"pain": "yes", "pain_note": "sore elbow"})
    kept = [{"finding": "over_extended_top", "label": "Over-extended at the top", "drill": "peg_pointer"}]
    body = {"priorities": kept, "note": "Half swings only.", "next_date": "2031-03-01"}
    assert browser.post(f"/lessons/{lesson_id}/close", body).status_code == 200
    return lesson_id


def words(html):
    return " ".join(re.sub(r"<style>.*?</style>|<[^>]+>", " ", html, flags=re.S).split())


def test_the_page_draws_the_priority_before_and_after_with_its_words(browser, home):
    html = browser.get(f"/lessons/{home}/page").text
    said = words(html)
    assert "Wrist cup at the top" in said
    before, after = re.search(r"Before the drill: (\d+)° cupped .*?After it: (\d+)° cupped", said).groups()
    change = browser.lesson(home)["blocks"][-1]["change"]
    assert (int(before), int(after)) == (round(change["before_median"]), round(change["after_median"]))
    turned = [float(x) for x in re.findall(r'<g[^>]*transform="rotate\((-?[\d.]+)\)"', html)]
    assert [-change["after_median"], -change["before_median"]] == pytest.approx(turned[-2:], abs=0.06)


def tags(pdf):
    """The document's tags with their alternate texts, as another reader reads them."""
    found = []

    def walk(part):
        part = part.get_object()
        if isinstance(part, list):
            for child in part:
                walk(child)
        elif hasattr(part, "get"):
            if "/S" in part:
                found.append((part["/S"], part.get("/Alt")))
            if "/K" in part:
                walk(part["/K"]) if not isinstance(part["/K"], int) else None

    walk(pdf.trailer["/Root"]["/StructTreeRoot"])
    return found


@pytest.mark.parametrize("kind", ["page", "record"])
def test_the_pdf_is_tagged_titled_and_carries_its_fonts(browser, home, kind):
    """PDF/UA-1 (ISO 14289-1) as far as it can be asked of the file with another reader: marked, language, title shown,
    identified as such, every picture with words, every font embedded. No validator of the registries runs here."""
    pdf = PdfReader(BytesIO(browser.get(f"/lessons/{home}/{kind}.pdf").content))
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"] == "en"
    assert root["/ViewerPreferences"]["/DisplayDocTitle"]
    assert 'pdfuaid:part="1"' in root["/Metadata"].get_object().get_data().decode()
    assert "Goes Home" in pdf.metadata.title
    found = tags(pdf)
    names = [name for name, _ in found]
    assert {"/Document", "/H1", "/P"} <= set(names)
    assert ("/Table" in names) == (kind == "record")
    pictures = [alt for name, alt in found if name == "/Figure"]
    assert all(pictures)
    assert len(pictures) == (3 if kind == "page" else 0)  # the drill, the hand, the course
    for sheet in pdf.pages:
        for font in sheet["/Resources"].get("/Font", {}).values():
            inner = font.get_object()["/DescendantFonts"][0].get_object()
            descriptor = inner["/FontDescriptor"].get_object()
            assert {"/FontFile", "/FontFile2", "/FontFile3"} & set(descriptor), inner["/BaseFont"]
    if kind == "page":
        assert len(pdf.pages) == 1


def test_the_page_is_in_the_players_words_lengths_and_hand(browser):
    lesson_id = new_lesson(browser, "Left And Inches", handedness="left")
    answer = drop(browser, lesson_id, bundle("pelvis-slide", 7, sources=("wrist", "markers"), hand=Hand.LEFT))
    assert answer.status_code == 201
    plain = words(browser.get(f"/lessons/{lesson_id}/page").text)
    assert re.search(r"\d cm\b", plain)
    player = browser.get(f"/players/{browser.lesson(lesson_id)['player']['id']}").json()
    kept = ("name", "handedness", "height_m", "population", "goals", "usual_miss", "consent_by")
    body = {k: player[k] for k in kept} | {"schools": player["own_schools"], "words": "standard", "lengths": "in"}
    changed = browser.put(f"/players/{player['id']}", body)
    assert changed.status_code == 200, changed.text
    assert (changed.json()["words"], changed.json()["lengths"]) == ("standard", "in")
    told = words(browser.get(f"/lessons/{lesson_id}/page").text)
    assert not re.search(r"\d cm\b", told)
    assert re.search(r"\d\.\d in\b", told)
    assert plain != told
    assert "lead foot" not in told.lower()


def test_the_record_is_whole_and_names_what_the_page_leaves_out(browser, home):
    told = words(browser.get(f"/lessons/{home}/record").text)
    for said in ("sore elbow", "back turn 61°", "Half swings only.", "lead hand", "Interval of 95 %", "builtin", "W3a"):
        assert said in told, said
    assert told.count("Lead wrist extension at top") >= 1
    assert "not for handing out" in told


@pytest.fixture(scope="module")
def client(open_browser):
    """Somebody without an account."""
    return open_browser().client


@pytest.fixture
def link(browser, home):
    answer = browser.post(f"/lessons/{home}/links", {"days": 7})
    assert answer.status_code == 201, answer.text
    return answer.json()


def test_a_link_opens_the_page_without_an_account_and_without_what_is_private(browser, client, home, link):
    assert len(link["path"]) > 40
    opened = client.get(link["path"])
    assert opened.status_code == 200
    told = words(opened.text)
    assert "Cups past the band at the top" in told
    assert "Peg in the glove" in told
    for private in ("sore elbow", "Pain", "61°", "1 March 2031", "North"):
        assert private not in told
    instructor = browser.lesson(home)["instructor"]
    assert instructor not in told
    assert opened.headers["cache-control"] == "no-store"
    assert "noindex" in opened.headers["x-robots-tag"]
    assert "default-src 'none'" in opened.headers["content-security-policy"]
    assert "<script" not in opened.text
    (kept,) = [x for x in browser.get(f"/lessons/{home}/links").json() if x["id"] == link["id"]]
    assert (kept["opened"], kept["open"]) == (1, True)
    assert "path" not in kept


def gone(client, path):
    answer = client.get(path)
    assert answer.status_code == 404
    return answer.text


def test_one_that_was_taken_back_has_run_out_or_never_was_says_the_same_and_nothing_else(
    browser, client, services, north, home, link
):
    unknown = gone(client, "/s/never-was")
    assert "This link is not open." in unknown
    assert "Goes Home" not in unknown
    assert browser.send("DELETE", f"/links/{link['id']}").json()["open"] is False
    assert gone(client, link["path"]) == unknown
    other = browser.post(f"/lessons/{home}/links", {"days": 1}).json()
    assert client.get(other["path"]).status_code == 200
    with services.store.unit_of_work(north) as uow:
        uow.get(ShareLink, other["id"]).expires_at = now() - timedelta(seconds=1)
    assert gone(client, other["path"]) == unknown


def test_only_its_hash_is_kept(services, north, home, link):
    token = link["path"].removeprefix("/s/")
    with services.store.unit_of_work(north) as uow:
        kept = [x.token_hash for x in uow.find(ShareLink, lesson_id=uow.get(Lesson, home).id)]
    assert hash_token(token) in kept
    assert all(token not in x for x in kept)


def test_after_consent_is_withdrawn_nothing_opens_and_nothing_is_shared(browser, client):
    lesson_id = new_lesson(browser, "Takes It Back")
    captured(browser, lesson_id, HELD)
    path = browser.post(f"/lessons/{lesson_id}/links", {}).json()["path"]
    assert client.get(path).status_code == 200
    player = browser.lesson(lesson_id)["player"]["id"]
    assert browser.send("DELETE", f"/players/{player}/consents").status_code == 200
    gone(client, path)
    refused = browser.post(f"/lessons/{lesson_id}/links", {})
    assert refused.status_code == 409
    assert "consent" in refused.json()["message"]


def test_a_name_that_tries_to_be_more_is_only_a_name(browser, client):
    name = '<script>alert(1)</script>=HYPERLINK("../../x")'
    lesson_id = new_lesson(browser, name)
    captured(browser, lesson_id, HELD)
    for kind in ("page", "record"):
        html = browser.get(f"/lessons/{lesson_id}/{kind}").text
        assert "<script>" not in html
        assert "&lt;script&gt;" in html
        assert browser.get(f"/lessons/{lesson_id}/{kind}.pdf").status_code == 200
    assert "<script>" not in client.get(browser.post(f"/lessons/{lesson_id}/links", {}).json()["path"]).text


def test_a_lesson_of_another_academy_cannot_be_shared(stranger, home, link):
    assert stranger.post(f"/lessons/{home}/links", {}).status_code == 404
    assert stranger.send("DELETE", f"/links/{link['id']}").status_code == 404
    assert stranger.get(f"/lessons/{home}/record").status_code == 404


def test_since_the_last_lesson_stands_on_the_page_where_nothing_was_tested(browser, home):
    second = next_lesson(browser, home, 12)
    captured(browser, second, CUPPED)
    said = words(browser.get(f"/lessons/{second}/page").text)
    assert re.search(r"Today: \d+° cupped", said)
    assert re.search(r"\d+ \w+: \d+° cupped", said)
