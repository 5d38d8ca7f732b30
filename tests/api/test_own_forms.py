"""An academy's own findings and drills, made and changed on a screen; the file form stays what is exchanged."""

import tomllib

import pytest

from tests.api.conftest import new_lesson
from tests.api.test_judging import bundle, drop

CUPPED = {"metric": "lead_wrist_extension", "moment": "top", "way": "above"}
FINDING = {
    "label": "Late cup",
    "plain_label": "Cups late",
    "phase": "top",
    "level": "hands",
    "shown": [CUPPED],
    "says": "The wrist is {value}, {over} {more} than the band.",
    "player_says": "The wrist cups late.",
    "tends": "That tends to open the face.",
    "drills": ["peg_pointer"],
}
DRILL = {
    "label": "Towel under the arms",
    "how": "Swing to arm level without dropping it.",
    "feel": "The arms stay with the chest.",
    "loads": ["shoulder"],
    "asks": [{"area": "shoulder", "movement": "turn", "side": "lead", "amount": 40.0}],
    "band": {
        "metric": "pelvis_turn",
        "start": "arm_level_back",
        "end": "top",
        "low": 30.0,
        "high": 45.0,
        "relative": False,
    },
    "picture": "three_quarters",
}


def rules(browser):
    return browser.get("/academy-rules").json()


@pytest.fixture(autouse=True)
def nothing_of_their_own(browser):
    """One academy serves all tests of a module."""
    yield
    for finding in rules(browser)["findings"]:
        browser.send("DELETE", f"/academy-rules/findings/{finding['id']}")
    for drill in rules(browser)["drills"]:
        browser.send("DELETE", f"/academy-rules/drills/{drill['id']}")


def put(browser, what, body, **more):
    return browser.put(f"/academy-rules/{what}", {**body, "revision": rules(browser)["revision"], **more})


def test_a_finding_made_on_a_screen_speaks_in_the_lesson_and_goes_out_as_a_file(browser):
    lesson = new_lesson(browser)
    assert drop(browser, lesson, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    made = put(browser, "findings", FINDING).json()
    own = made["findings"][0]
    assert (own["id"], own["shown"], own["together"]) == ("late_cup", [CUPPED], "all")
    assert own["examples"] == [
        "speaks at lead wrist extension at address 15° extended, lead wrist extension at top 60° extended",
        "is silent at lead wrist extension at address 15° extended, lead wrist extension at top 15° extended",
    ]
    seen = {f["finding"]: f for f in browser.lesson(lesson)["summaries"][0]["findings"]}
    assert seen["late_cup"]["shown"] == seen["late_cup"]["assessed"] == 5
    file = tomllib.loads(browser.get("/academy-rules/export.toml").text)
    when = file["finding"][0]["when"]
    assert when == {"kind": "above", "ranges": ["W3a", "W3b", "W3c"]}  # of every school
    assert [e["fires"] for e in file["finding"][0]["example"]] == [True, False]


def test_a_change_keeps_its_id_and_another_of_the_same_name_gets_its_own(browser):
    put(browser, "findings", FINDING)
    changed = put(browser, "findings", {**FINDING, "label": "Later cup"}, id="late_cup").json()
    assert [(f["id"], f["label"]) for f in changed["findings"]] == [("late_cup", "Later cup")]
    second = put(browser, "findings", FINDING).json()
    assert [f["id"] for f in second["findings"]] == ["late_cup", "late_cup_2"]
    clash = put(browser, "findings", {**FINDING, "label": "Early release"}).json()
    assert clash["findings"][-1]["id"] == "early_release_2"  # a built-in one has that name


def test_several_measures_together_or_any_of_them(browser):
    both = [CUPPED, {"metric": "tempo", "moment": "swing", "way": "outside"}]
    for together in ("all", "any"):
        made = put(browser, "findings", {**FINDING, "label": f"Both {together}", "shown": both, "together": together})
        assert made.status_code == 200, made.text
        own = made.json()["findings"][-1]
        assert (own["shown"], own["together"]) == (both, together)
        assert "tempo" in own["examples"][0]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"shown": []}, "a finding needs a measure"),
        ({"shown": [{**CUPPED, "moment": "finish"}]}, "there is no range for lead_wrist_extension at finish"),
        ({"shown": [{"metric": "hinge_held", "moment": "swing", "way": "above"}]}, "has no upper limit there"),
        ({"says": "It is {foo}."}, "its sentence can"),
        ({"player_says": "A weak wrist."}, 'a player would read "weak"'),
        ({"drills": ["peg_pionter"]}, 'did you mean "peg_pointer"'),
    ],
)
def test_what_cannot_be_is_refused_in_words_and_nothing_is_kept(browser, change, said):
    answer = put(browser, "findings", {**FINDING, **change})
    assert answer.status_code == 409
    assert said in answer.json()["message"]
    assert rules(browser)["findings"] == []


def test_a_condition_that_says_more_than_a_screen_can_stays_as_the_file_has_it(browser):
    text = """
[[finding]]
id = "ours"
label = "Ours"
plain_label = "Ours"
phase = "top"
level = "hands"
weight = 0.5
when = { kind = "below", ranges = ["W1"], strict = true }
says = "Much {value}."
player_says = "Much."
tends = "That tends to open the face."
example = [
  { values = { "lead_wrist_extension@address" = 2.0 }, fires = true },
  { values = { "lead_wrist_extension@address" = 22.0 }, fires = false },
]
"""
    answer = browser.send("POST", "/academy-rules/import", files={"file": ("own.toml", text.encode(), "text/plain")})
    assert answer.status_code == 201, answer.text
    assert rules(browser)["findings"][0]["shown"] == []
    assert put(browser, "findings", {**FINDING, "label": "Renamed", "shown": []}, id="ours").status_code == 200
    kept = tomllib.loads(browser.get("/academy-rules/export.toml").text)["finding"][0]
    assert (kept["label"], kept["weight"], kept["when"]["strict"]) == ("Renamed", 0.5, True)


def test_a_drill_made_on_a_screen_is_offered_and_taken_out_again(browser):
    answer = put(browser, "drills", DRILL)
    assert answer.status_code == 200, answer.text
    made = answer.json()
    own = made["drills"][0]
    assert own["id"] == "towel_under_the_arms"
    assert {k: own[k] for k in DRILL} == DRILL
    shown = next(d for d in browser.get("/catalogue").json()["drills"] if d["id"] == own["id"])
    assert (shown["picture"], shown["own"], shown["band"]) == (
        "three_quarters",
        True,
        "Pelvis turn 30° to 45° closed, arm level back to top",
    )
    put(browser, "findings", {**FINDING, "drills": [own["id"]]})
    refused = browser.send("DELETE", f"/academy-rules/drills/{own['id']}")
    assert refused.status_code == 409
    assert "Late cup offers it" in refused.json()["message"]
    browser.send("DELETE", "/academy-rules/findings/late_cup")
    assert browser.send("DELETE", f"/academy-rules/drills/{own['id']}").json()["drills"] == []
    assert browser.send("DELETE", "/academy-rules/drills/pump").status_code == 404  # built in


def test_a_band_counted_from_address_is_kept_and_said(browser):
    band = {"metric": "lead_wrist_extension", "start": "takeaway", "end": "impact", "low": -2.0, "high": 2.0}
    made = put(browser, "drills", {**DRILL, "band": {**band, "relative": True}})
    assert made.status_code == 200, made.text
    assert made.json()["drills"][0]["band"] == {**band, "relative": True}
    shown = next(d for d in browser.get("/catalogue").json()["drills"] if d["id"] == made.json()["drills"][0]["id"])
    assert "relative to address" in shown["band"]
    kept = tomllib.loads(browser.get("/academy-rules/export.toml").text)["drill"][0]
    assert kept["band"]["relative"] is True


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"picture": "wal"}, "there is no picture"),
        ({"band": {**DRILL["band"], "low": 50.0}}, "low 50.0 is not below high 45.0"),
        ({"band": {**DRILL["band"], "start": "tee"}}, 'there is no moment "tee"'),
        ({"loads": ["pride"]}, "loads"),
    ],
)
def test_a_drill_that_cannot_be_is_refused(browser, change, said):
    answer = put(browser, "drills", {**DRILL, **change})
    assert answer.status_code == 409
    assert said in answer.json()["message"]


def test_whoever_saves_second_is_told(browser):
    revision = rules(browser)["revision"]
    assert browser.put("/academy-rules/findings", {**FINDING, "revision": revision}).status_code == 200
    late = browser.put("/academy-rules/drills", {**DRILL, "revision": revision})
    assert (late.status_code, late.json()["code"]) == (409, "overtaken")
