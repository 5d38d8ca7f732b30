"""Swings across players and lessons, found by words."""

from __future__ import annotations

import csv
import io
from collections import Counter
from datetime import date
from uuid import uuid4

import numpy as np
import pytest
from hypothesis import given, strategies as st

import finearc
from finearc.catalogue.rule_set import built_in
from finearc.core.metrics.registry import ALL
from finearc.services.searching.words import IDLE, earlier, understood, vocabulary, words_of
from tests.api.conftest import bundle, drop, new_lesson
from tests.api.test_retention import CUPPED, HELD, captured, next_lesson

ILSE, RUFUS, ILSA = uuid4(), uuid4(), uuid4()
TODAY = date(2026, 11, 30)  # a Monday
KNOWN = vocabulary(
    built_in(),
    ["skilled", "wet mat"],
    [(ILSE, "Ilse Marrow"), (RUFUS, "Rufus Callender-Finch"), (ILSA, "Ilsa Marrow")],
    TODAY,
)


def asked(text):
    return understood(text, KNOWN)


def test_the_question_of_the_trade_is_understood_in_any_order():
    for text in (
        "driver swings with early extension this month",
        "this month: early extension, Driver!",
        "Early Extension (this month) driver",
    ):
        terms = asked(text.replace("(", "").replace(")", "").replace(":", ","))
        assert (terms.clubs, terms.findings) == (("driver",), ("early_extension",))
        assert (terms.since, terms.until) == (date(2026, 11, 1), date(2026, 12, 1))
        assert terms.unknown == ()


def test_the_longest_phrase_is_taken_and_what_is_not_known_told_back():
    terms = asked("pitching wedge wet mat blorp")
    assert terms.clubs == ("pitching-wedge",)
    assert terms.tags == ("wet mat",)
    assert terms.unknown == ("blorp",)
    assert {"5-iron", "6-iron", "7-iron"} <= set(asked("irons").clubs)


def test_a_part_of_a_name_means_everybody_who_has_it():
    assert asked("Ilse Marrow").players == (ILSE,)
    assert set(asked("marrow").players) == {ILSE, ILSA}
    assert asked("callender-finch").players == (RUFUS,)


@pytest.mark.parametrize(
    ("text", "since", "until"),
    [
        ("today", date(2026, 11, 30), date(2026, 12, 1)),
        ("this week", date(2026, 11, 30), date(2026, 12, 7)),
        ("last week", date(2026, 11, 23), date(2026, 11, 30)),
        ("last month", date(2026, 10, 1), date(2026, 11, 1)),
        ("december", date(2025, 12, 1), date(2026, 1, 1)),  # the last one that was
        ("last 30 days", date(2026, 10, 31), date(2026, 12, 1)),
        ("since 2026-11-05", date(2026, 11, 5), None),
        ("since 2026-11-05 before 2026-11-07", date(2026, 11, 5), date(2026, 11, 7)),
    ],
)
def test_times_are_days_by_the_calendar(text, since, until):
    terms = asked(text)
    assert (terms.since, terms.until) == (since, until)


@pytest.mark.parametrize(
    ("text", "metric", "moment", "above", "value"),
    [
        ("wrist cup at the top above 30", "lead_wrist_extension", "top", True, 30.0),
        ("wrist cup > 30°", "lead_wrist_extension", "top", True, 30.0),
        ("lead wrist extension impact less than -5", "lead_wrist_extension", "impact", False, -5.0),
        ("tempo over 3.5", "tempo", "swing", True, 3.5),
        ("pelvis_sway at impact under 4cm", "pelvis_sway", "impact", False, 4.0),
    ],
)
def test_a_measure_above_or_below_a_number(text, metric, moment, above, value):
    (beyond,) = asked(text).beyond
    assert (beyond.metric.id, beyond.moment, beyond.above, beyond.value) == (metric, moment, above, value)
    assert asked(text).unknown == ()


def test_every_measure_finding_and_club_can_be_asked_for_by_its_name():
    for metric in ALL:
        assert asked(f"{metric.label} above 1").beyond[0].metric.label == metric.label
    for rule in built_in().rules:
        assert asked(rule.label).findings, rule.label
        assert asked(rule.plain_label).findings, rule.plain_label


def test_the_time_before_is_the_same_question():
    assert earlier("driver, This Month") == "driver, last month"
    assert earlier("driver") == ""


PHRASES = st.sampled_from([*KNOWN.phrases, "above 30", "the", "blorp", "since 2031-03-01", "<", "wrist cup"])


@given(st.text(max_size=80) | st.lists(PHRASES, max_size=6).map(", ".join))
def test_any_text_is_understood_or_told_back(text):
    terms, words = asked(text), Counter(words_of(text))
    told = Counter(w for phrase in (*(s.text for s in terms.said), *terms.unknown) for w in phrase.split())
    assert not told - words
    assert set(words - told) <= IDLE


@pytest.fixture(scope="module")
def academy(browser):
    """Two players: one cupped and then held, one held; tags on some."""
    first = new_lesson(browser, "Agna Searchwell")
    captured(browser, first, CUPPED)
    browser.patch(f"/swings/{browser.lesson(first)['swings'][1]['id']}", {"tags": ["skilled"]})
    second = next_lesson(browser, first, 9)
    captured(browser, second, HELD)
    other = new_lesson(browser, "Osbert Findlater")
    assert drop(browser, other, bundle("early-extension", 7, sources=("wrist", "markers"))).status_code == 201
    return first, second, other


def found(browser, q):
    answer = browser.get(f"/search?q={q}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def numbers(told):
    return {x["lesson_id"]: [s["number"] for s in x["swings"]] for x in told["lessons"]}


def test_swings_are_found_by_player_finding_and_club(browser, academy):
    first, second, other = academy
    told = found(browser, "searchwell, cups past the band at the top, 7-iron")
    assert numbers(told)[first] == [1, 2, 3, 4, 5]
    assert set(numbers(told)) <= {first, second}
    assert told["lessons"][0]["player"] == "Agna Searchwell"
    assert told["columns"] == [{"metric": "lead_wrist_extension", "moment": "top"}]
    assert told["lessons"][-1]["medians"][0] == pytest.approx(39.0, abs=2.5)
    names = told["labels"]["over_extended_top"]
    assert names == {"label": "Over-extended at the top", "plain_label": "Cups past the band at the top"}
    assert [(s["label"], s["plain_label"]) for s in told["said"] if s["kind"] == "finding"] == [tuple(names.values())]
    assert set(numbers(found(browser, "early extension"))) == {other}
    assert numbers(found(browser, "searchwell driver")) == {}
    assert set(numbers(found(browser, "searchwell"))) == {first, second}


def test_by_tag_value_source_and_time(browser, academy):
    first, second, other = academy
    assert numbers(found(browser, "skilled searchwell")) == {first: [2]}
    told = found(browser, "searchwell wrist cup at the top above 30")
    assert numbers(told) == {first: [1, 2, 3, 4, 5]}
    assert all(s["values"][0] > 30 for s in told["lessons"][0]["swings"])
    assert numbers(found(browser, "searchwell wrist cup at the top below 30")) == {second: [1, 2, 3, 4, 5]}
    assert set(numbers(found(browser, "markers findlater"))) == {other}
    assert numbers(found(browser, "markers searchwell")) == {}
    assert numbers(found(browser, "searchwell since 2099-01-01")) == {}
    assert numbers(found(browser, "early extension, markers, wrist cup at the top above -90, findlater")) != {}


def test_what_does_not_count_is_not_found(browser, academy):
    first, _, _ = academy
    one = browser.lesson(first)["swings"][4]["id"]
    browser.patch(f"/swings/{one}", {"kind": "warm_up"})
    assert numbers(found(browser, "searchwell cups past the band at the top"))[first] == [1, 2, 3, 4]
    browser.patch(f"/swings/{one}", {"kind": "normal"})
    assert len(numbers(found(browser, "searchwell cups past the band at the top"))[first]) == 5


def test_a_tag_that_was_taken_away_is_not_found_and_undoing_brings_it_back(browser, academy):
    first, _, _ = academy
    swing = browser.lesson(first)["swings"][2]["id"]
    browser.patch(f"/swings/{swing}", {"tags": ["gone soon"]})
    assert numbers(found(browser, "gone soon")) == {first: [3]}
    browser.patch(f"/swings/{swing}", {"tags": []})
    assert found(browser, "gone soon")["unknown"] == ["gone", "soon"]
    browser.post(f"/lessons/{first}/undo")
    assert numbers(found(browser, "gone soon")) == {first: [3]}
    browser.post(f"/lessons/{first}/undo")


def test_nothing_asked_is_nothing_found_and_too_much_is_refused(browser):
    told = found(browser, "")
    assert (told["swings"], told["said"], told["lessons"]) == (0, [], [])
    assert found(browser, "blorp")["unknown"] == ["blorp"]
    assert browser.get(f"/search?q={'x' * 301}").status_code == 409


def test_what_was_found_is_a_table_for_elsewhere(browser, academy):
    text = browser.get("/search.csv?q=searchwell cups past the band at the top").text
    head, *rows = list(csv.reader(io.StringIO(text)))
    assert head[:4] == ["player", "lesson", "swing", "club"]
    assert head[-1] == "Lead wrist extension at top, deg"
    assert len(rows) >= 5
    assert rows[0][0] == "Agna Searchwell"


def test_what_was_found_is_a_group_to_compare(browser, academy):
    first, second, _ = academy
    told = browser.get(
        "/compare?a=found:searchwell wrist cup at the top below 30&b=found:searchwell wrist cup at the top above 30"
        "&metric=lead_wrist_extension&moment=top"
    ).json()
    assert (told["a"]["swings"], told["b"]["swings"]) == (5, 5)
    assert (told["a"]["kind"], told["a"]["lesson_id"], told["b"]["lesson_id"]) == ("found", second, first)
    assert told["question"] == "A real difference."
    nothing = browser.get("/compare?a=found:searchwell driver&b=reference:synthetic")
    assert nothing.status_code == 409
    assert "no swing is found" in nothing.json()["message"]


def test_a_question_is_kept_asked_again_and_removed(browser, academy):
    made = browser.post("/searches", {"name": "  Cupped  ones ", "query": "cups past the band at the top"})
    assert made.status_code == 201
    assert made.json()["name"] == "Cupped ones"
    assert made.json()["id"] in [s["id"] for s in browser.get("/searches").json()]
    assert browser.send("DELETE", f"/searches/{made.json()['id']}").status_code == 200
    assert browser.get("/searches").json() == []
    assert browser.post("/searches", {"name": " ", "query": "x"}).status_code == 409


def test_another_academy_finds_nothing_of_it(browser, stranger, academy):
    told = found(stranger, "searchwell early extension cups past the band at the top")
    assert told["unknown"] == ["searchwell"]
    assert told["lessons"] == []
    kept = browser.post("/searches", {"name": "Ours", "query": "skilled"}).json()["id"]
    assert stranger.send("DELETE", f"/searches/{kept}").status_code == 404
    assert stranger.get("/searches").json() == []
    assert found(stranger, "skilled")["unknown"] == ["skilled"]


def test_an_export_reads_as_tidy_tables_with_what_was_marked(browser, academy, tmp_path):
    first, _, _ = academy
    swing = browser.lesson(first)["swings"][0]
    browser.patch(f"/swings/{swing['id']}", {"strike": "toe"})
    paths = {}
    player = browser.lesson(first)["player"]["id"]
    for name, address in (("lesson", f"/lessons/{first}/export"), ("player", f"/players/{player}/export")):
        paths[name] = tmp_path / f"{name}.zip"
        paths[name].write_bytes(browser.get(address).content)
    tables = finearc.read(paths["lesson"])
    swings = tables.swings.to_pylist()
    assert [s["swing"] for s in swings] == [1, 2, 3, 4, 5]
    assert (swings[0]["strike"], swings[1]["tags"]) == ("toe", ["skilled"])
    told = {(m["metric"], m["moment"]): m["value"] for m in browser.swing(swing["id"])["metrics"]}
    kept = {(v["metric"], v["event"]): v["value"] for v in tables.values.to_pylist() if v["swing"] == 1}
    assert kept.keys() == told.keys()
    assert kept["lead_wrist_extension", "top"] == pytest.approx(told["lead_wrist_extension", "top"], abs=0.01)
    events = {e["event"]: e["time_s"] for e in tables.events.to_pylist() if e["swing"] == 1}
    traces = tables.traces.to_pandas()
    own = traces[traces.swing == 1]
    at_top = np.interp(events["top"], own.time_s, own.lead_wrist_extension)
    assert at_top == pytest.approx(kept["lead_wrist_extension", "top"], abs=0.5)
    whole = finearc.read(paths["player"], traces=False)
    assert set(whole.swings.column("player").to_pylist()) == {"Agna Searchwell"}
    assert whole.swings.num_rows == 10
