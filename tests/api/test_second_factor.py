"""A second factor: set up with a phone, asked for at sign-in, each code once; and players kept apart."""

from __future__ import annotations

import base64
import time
from uuid import UUID

import pyotp
import pytest

from finearc.services.people import second_factor
from finearc.services.people.records import SecondFactor
from finearc.services.people.second_factor import STEP_S, CodeNeeded, WrongCode, spend
from finearc.services.records import Swing
from tests.api.conftest import PASSWORD, bundle, drop, new_lesson
from tests.api.test_staff import NEW, come_in

RFC_SECRET = base64.b32encode(b"12345678901234567890").decode()
RFC_6238_B = {59: "287082", 1111111109: "081804", 1111111111: "050471", 1234567890: "005924", 2000000000: "279037"}
"""RFC 6238, appendix B, SHA-1: seconds to the last six of its eight digits (values from memory)."""


def factor(uow_academy=None) -> SecondFactor:
    return SecondFactor(uow_academy, None, RFC_SECRET)


def at(monkeypatch, seconds: float) -> None:
    monkeypatch.setattr(time, "time", lambda: seconds)


@pytest.mark.parametrize(("seconds", "code"), RFC_6238_B.items())
def test_a_phone_counts_as_the_standard_says(monkeypatch, seconds, code):
    at(monkeypatch, seconds)
    mine = factor()
    spend(mine, code)
    assert mine.last_step == seconds // STEP_S


def test_a_code_counts_once_and_a_clock_may_be_one_step_off_either_way(monkeypatch):
    code = RFC_6238_B[1234567890]
    for off, fits in ((-60, False), (-30, True), (0, True), (30, True), (60, False)):
        at(monkeypatch, 1234567890 + off)
        mine = factor()
        if not fits:
            with pytest.raises(WrongCode):
                spend(mine, code)
            continue
        spend(mine, f" {code[:3]} {code[3:]} ")
        with pytest.raises(WrongCode):
            spend(mine, code)
    with pytest.raises(CodeNeeded):
        spend(factor(), "  ")
    for odd in ("12345", "²²²²²²", "0059240", "abcdef"):
        with pytest.raises(WrongCode):
            spend(factor(), odd)


def test_a_code_of_the_paper_counts_once_however_it_is_typed():
    mine = factor()
    codes = second_factor.paper(mine)
    assert len(set(codes)) == 10
    assert not any(code in str(mine.paper) for code in codes)
    spend(mine, codes[3].upper().replace("-", " "))
    with pytest.raises(WrongCode):
        spend(mine, codes[3])
    assert len(mine.paper) == 9
    spend(mine, codes[4])


@pytest.fixture
def owner(browser, open_browser):
    """A second owner, so that North's own keeps none; the academy's choices are put back."""
    theirs, me = come_in(browser, open_browser, "owner", "Orla Quist")
    email = next(p["email"] for p in browser.get("/people").json()["people"] if p["id"] == me["instructor_id"])
    yield theirs, email
    apart = {"owners_second_factor": False, "own_players": False}
    assert browser.put("/people/choices", apart).status_code == 200


def set_up(theirs, password=NEW):
    """The phone's counter, and the paper's codes."""
    offered = theirs.post("/me/second-factor/offer", {"password": password})
    assert offered.status_code == 200, offered.text
    phone = pyotp.TOTP(offered.json()["secret"])
    made = theirs.post("/me/second-factor/confirm", {"code": phone.now()})
    assert made.status_code == 200, made.text
    return phone, made.json()


def sign_in(open_browser, email, code=""):
    return open_browser().client.post("/api/sign-in", json={"email": email, "password": NEW, "code": code})


def test_set_up_asked_for_used_once_and_taken_off(browser, open_browser, owner):
    theirs, email = owner
    other = open_browser()
    other.sign_in(email, NEW)
    assert theirs.post("/me/second-factor/offer", {"password": "not the password"}).status_code == 401
    assert theirs.post("/me/second-factor/confirm", {"code": "123456"}).status_code == 409
    offered = theirs.post("/me/second-factor/offer", {"password": NEW}).json()
    assert offered["uri"].startswith("otpauth://totp/Fine%20Arc:")
    assert set("".join(offered["rows"])) == {"0", "1"}
    assert len(offered["rows"]) == len(offered["rows"][0]) >= 21
    assert sign_in(open_browser, email).status_code == 200, "not in force before a code was typed"
    phone = pyotp.TOTP(offered["secret"])
    wrong = theirs.post("/me/second-factor/confirm", {"code": f"{(int(phone.now()) + 1) % 1000000:06d}"})
    assert (wrong.status_code, wrong.json()["code"]) == (401, "wrong_code")
    typed = phone.now()
    made = theirs.post("/me/second-factor/confirm", {"code": typed}).json()
    assert (len(made["codes"]), made["factor"]["paper_left"]) == (10, 10)
    assert other.get("/me").status_code == 401, "signed in before: signed out"
    asked = sign_in(open_browser, email)
    assert (asked.status_code, asked.json()["code"]) == (401, "code_needed")
    assert sign_in(open_browser, email, typed).json()["code"] == "wrong_code", "it confirmed already"
    assert sign_in(open_browser, email, made["codes"][0]).status_code == 200
    assert sign_in(open_browser, email, made["codes"][0]).status_code == 401
    assert theirs.get("/me/second-factor").json()["paper_left"] == 9
    fresh = theirs.post("/me/second-factor/paper", {"password": NEW}).json()["codes"]
    assert sign_in(open_browser, email, made["codes"][1]).status_code == 401
    assert sign_in(open_browser, email, fresh[1]).status_code == 200
    assert theirs.post("/me/second-factor/offer", {"password": NEW}).status_code == 409, "one phone at a time"
    assert theirs.post("/me/second-factor/off", {"password": NEW}).json()["since"] is None
    assert sign_in(open_browser, email).status_code == 200


def test_wrong_codes_are_throttled_like_wrong_passwords(open_browser, owner):
    theirs, email = owner
    set_up(theirs)
    seen = [sign_in(open_browser, email, f"{k:06d}").json()["code"] for k in range(8)]
    assert seen[0] == "wrong_code"
    assert seen[-1] == "too_many_tries"


def test_an_academy_that_asks_its_owners_for_one_opens_nothing_to_those_without(browser, open_browser, owner):
    theirs, email = owner
    required = {"owners_second_factor": True, "own_players": False}
    refused = theirs.put("/people/choices", required)
    assert (refused.status_code, refused.json()["code"]) == (409, "refused"), "whoever asks has one: nobody is shut out"
    set_up(theirs)
    assert theirs.put("/people/choices", required).json()["choices"]["owners_second_factor"] is True
    people = {p["email"]: p["second_factor"] for p in theirs.get("/people").json()["people"]}
    assert (people[email], people["north@example.test"]) == (True, False)
    for path in ("/players", "/people", "/diary?day=2026-05-01"):
        answer = browser.get(path)
        assert (answer.status_code, answer.json()["code"]) == (403, "second_factor_missing")
    assert browser.get("/me").json()["bare"] is True
    assert browser.get("/me/second-factor").json()["asked"] is True
    phone, _ = set_up(browser, PASSWORD)
    assert browser.get("/me").json()["bare"] is False
    assert browser.get("/players").status_code == 200
    assert len(phone.now()) == 6
    mine = browser.get("/me").json()["instructor_id"]
    assert theirs.post(f"/instructors/{mine}/lost-phone").status_code == 200
    assert browser.get("/players").status_code == 403, "asked again until another phone is set up"
    assert theirs.put("/people/choices", {**required, "owners_second_factor": False}).status_code == 200


def test_swings_of_others_are_found_nowhere_where_players_are_kept_apart(browser, open_browser, services):
    """Also where a request names them in its body: no query of such a session sees them."""
    _, me = come_in(browser, open_browser, "instructor", "Nell Pike")
    lesson_id = new_lesson(browser)
    drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club")))
    swing_id = UUID(browser.lesson(lesson_id)["swings"][0]["id"])
    with services.store.front_door() as door:
        person = door.get_instructor(UUID(me["instructor_id"]))
    found = {}
    for apart in (False, True):
        with services.store.unit_of_work(person.academy_id, person.id, apart=apart) as uow:
            found[apart] = [s.id for s in uow.find(Swing, id=[swing_id])]
    assert found == {False: [swing_id], True: []}


def test_an_instructor_opens_only_their_own_and_shared_players_where_the_academy_says_so(browser, open_browser, owner):
    del owner  # puts the academy's choices back
    nell, me = come_in(browser, open_browser, "instructor", "Nell Pike")
    fits, _ = come_in(browser, open_browser, "assistant", "Fay Ito")
    lesson_id = new_lesson(browser, name="Ada Kept Apart")
    player_id = browser.lesson(lesson_id)["player"]["id"]
    assert nell.get(f"/players/{player_id}").status_code == 200
    browser.put("/people/choices", {"owners_second_factor": False, "own_players": True})
    paths = (f"/players/{player_id}", f"/players/{player_id}/progress", f"/lessons/{lesson_id}")
    for path in paths:
        answer = nell.get(path)
        assert (answer.status_code, answer.json()["code"]) == (403, "not_yours"), path
    assert "Ada Kept Apart" not in {p["name"] for p in nell.get("/players").json()}
    assert "Ada Kept Apart" not in nell.get("/search?q=kept").text
    assert nell.get("/me").json()["apart"] is True
    assert fits.get(f"/lessons/{lesson_id}").status_code == 200, "whoever fits sensors, fits them on everybody"
    mine = nell.post("/players", {"name": "Nell's own", "handedness": "right", "consent_by": "Nell's own"}).json()
    assert nell.get(f"/players/{mine['id']}").status_code == 200
    body = {"player_id": player_id, "instructor_id": me["instructor_id"], "bay": "Bay 2", "minutes": 45}
    booked = nell.post("/lessons", {**body, "starts_at": "2031-05-01T09:00:00Z"})
    assert (booked.status_code, booked.json()["code"]) == (403, "not_yours"), "nobody takes a player by booking them"
    told = browser.get(f"/players/{player_id}/openers").json()
    assert told["apart"] is True
    assert {o["id"]: (o["taught"], o["shared"]) for o in told["openers"]}[me["instructor_id"]] == (False, False)
    shared = browser.put(f"/players/{player_id}/openers", {"shared_with": [me["instructor_id"]]})
    assert {o["id"]: o["shared"] for o in shared.json()["openers"]}[me["instructor_id"]] is True
    assert all(nell.get(path).status_code == 200 for path in paths)
    assert "Ada Kept Apart" in {p["name"] for p in nell.get("/players").json()}
    assert browser.put(f"/players/{player_id}/openers", {"shared_with": [player_id]}).status_code == 409
    browser.put(f"/players/{player_id}/openers", {"shared_with": []})
    assert nell.get(paths[0]).status_code == 403
