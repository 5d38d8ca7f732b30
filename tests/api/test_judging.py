"""Versions of ranges, judging otherwise, plans, cohorts and an academy's own findings, over HTTP."""

from __future__ import annotations

import pytest

from finearc.catalogue import library
from finearc.core.frames.handedness import Hand
from finearc.formats.benchmarks import ranges_toml
from finearc.services.judging.rejudge import judge_stored
from finearc.services.judging.terms import terms_of
from finearc.services.record.judgements import unpack_judgement
from finearc.services.records import Lesson, Player, Swing
from tests.api.conftest import bundle, drop, new_lesson
from tests.formats.test_benchmarks import OWN


@pytest.fixture
def lesson_id(browser):
    made = new_lesson(browser)
    assert drop(browser, made, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
    return made


def upload(browser, path, name, text):
    return browser.send("POST", path, files={"file": (name, text.encode(), "text/plain")})


def save(browser, name, base, *changes, note=""):
    return browser.post("/benchmarks", {"name": name, "base": base, "changes": list(changes), "note": note})


def wide_top(high=60.0):
    return {"id": "W3a", "low": 0.0, "high": high, "soft_low": 5.0, "soft_high": 5.0, "lean": False}


def findings(browser, lesson_id):
    summary = browser.lesson(lesson_id)["summaries"]
    return {f["finding"] for f in summary[0]["findings"]} if summary else set()


def test_every_range_says_where_it_comes_from(browser):
    shown = browser.get("/benchmarks/ranges").json()
    assert shown["version"]["label"] == "builtin-5"
    assert all(r["provenance"] for r in shown["ranges"])
    by_id = {r["id"]: r for r in shown["ranges"]}
    assert by_id["B1"]["provenance"] == "common practice"
    assert by_id["W12"]["provenance"] == "house value"
    assert "Grober" in by_id["C2"]["provenance"]
    assert by_id["W3a"]["leans"] == "not above the value at address plus 3°"
    assert {"P1", "C4", "S-order"} <= {f["id"] for f in shown["facts"]}


def test_a_version_is_saved_used_and_retired(browser):
    made = save(
        browser, "Versions", "builtin-5", {"id": "C2", "low": 2.4, "high": 3.6, "soft_low": 0.2, "soft_high": 0.2}
    )
    assert made.status_code == 201, made.text
    assert made.json()["label"] == "Versions 1"
    shown = browser.get("/benchmarks/ranges", params={"label": "Versions 1"}).json()
    tempo = next(r for r in shown["ranges"] if r["id"] == "C2")
    assert (tempo["low"], tempo["high"], tempo["provenance"]) == (2.4, 3.6, "the academy's own")
    different = browser.get("/benchmarks/differences", params={"before": "builtin-5", "after": "Versions 1"}).json()
    assert [d["id"] for d in different] == ["C2"]
    used = browser.post("/benchmarks/use", {"label": "Versions 1"}).json()
    assert next(v for v in used if v["label"] == "Versions 1")["in_use"]
    assert browser.post("/benchmarks/retire", {"label": "Versions 1"}).status_code == 409
    browser.post("/benchmarks/use", {"label": "builtin-5"})
    assert browser.post("/benchmarks/retire", {"label": "Versions 1"}).status_code == 200
    assert browser.post("/benchmarks/use", {"label": "Versions 1"}).status_code == 409


def test_who_saves_second_is_told_and_loses_nothing(browser):
    first = save(browser, "Twice", "builtin-5", wide_top(31.0)).json()["label"]
    assert save(browser, "Twice", first, wide_top(32.0)).json()["label"] == "Twice 2"
    late = save(browser, "Twice", first, {"id": "C2", "low": 2.0, "high": 4.0})
    assert (late.status_code, late.json()["code"]) == (409, "overtaken")
    assert "Twice 2 was saved by North Instructor" in late.json()["message"]
    on_top = save(browser, "Twice", "Twice 2", {"id": "C2", "low": 2.0, "high": 4.0})
    assert on_top.json()["label"] == "Twice 3"
    different = browser.get("/benchmarks/differences", params={"before": "builtin-5", "after": "Twice 3"}).json()
    assert {d["id"] for d in different} == {"W3a", "C2"}


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"id": "W3a", "low": 40.0, "high": 30.0}, "low 40.0 is above high 30.0"),
        ({"id": "ZZ", "low": 1.0, "high": 2.0}, 'no range "ZZ"'),
    ],
)
def test_limits_that_cannot_be_are_refused(browser, change, said):
    answer = save(browser, "Wrong", "builtin-5", change)
    assert answer.status_code == 422
    assert said in answer.json()["message"]


def test_an_exported_version_imports_again(browser):
    text = browser.get("/benchmarks/export.toml").text
    assert text == ranges_toml(library.ranges())
    made = upload(browser, "/benchmarks/import", "harbour.toml", text.replace('"builtin-5"', '"Bay 7"'))
    assert made.json()["label"] == "Bay 1"
    table = browser.get("/benchmarks/export.csv", params={"label": "Bay 1"}).text
    assert upload(browser, "/benchmarks/import", "again.csv", table).status_code == 201
    wrong = upload(browser, "/benchmarks/import", "wrong.toml", text.replace('metric = "tempo"', 'metric = "tempoo"'))
    assert wrong.status_code == 422
    assert 'did you mean "tempo"' in wrong.json()["message"]


def test_another_academy_does_not_see_the_versions(browser, stranger):
    save(browser, "Ours alone", "builtin-5", wide_top())
    assert "Ours alone 1" not in {v["label"] for v in stranger.get("/benchmarks").json()}
    assert stranger.get("/benchmarks/ranges", params={"label": "Ours alone 1"}).status_code == 404


def test_other_ranges_are_shown_before_they_are_kept_and_can_be_undone(browser, lesson_id):
    label = save(browser, "Wide", "builtin-5", wide_top()).json()["label"]
    asked = browser.post(f"/lessons/{lesson_id}/what-if", {"benchmarks": label}).json()
    assert "over_extended_top" in {f["finding"] for f in asked["gone"]}
    top = next(v for v in asked["verdicts"] if v["label"] == "Lead wrist extension" and v["moment"] == "top")
    assert (top["before"], top["after"]) == ("above the band", "in the band")
    assert "W3a" in top["because"]
    assert "over_extended_top" in findings(browser, lesson_id)  # nothing was kept yet
    kept = browser.post(f"/lessons/{lesson_id}/terms", {"benchmarks": label}).json()
    assert kept["benchmarks"] == label
    assert "over_extended_top" not in findings(browser, lesson_id)
    first = browser.lesson(lesson_id)["swings"][0]["id"]
    assert browser.swing(first)["benchmarks"] == label
    assert browser.post(f"/lessons/{lesson_id}/undo").json()["label"] == f"judged by {label}"
    assert "over_extended_top" in findings(browser, lesson_id)


def test_a_lesson_keeps_the_version_it_began_with(browser, lesson_id):
    label = save(browser, "Later", "builtin-5", wide_top()).json()["label"]
    browser.post("/benchmarks/use", {"label": label})
    try:
        assert browser.lesson(lesson_id)["benchmarks"] == "builtin-5"
        fresh = new_lesson(browser)
        drop(browser, fresh, bundle("over-extended", 11, sources=("wrist", "club")))
        assert browser.lesson(fresh)["benchmarks"] == label
        assert "over_extended_top" not in findings(browser, fresh)
    finally:
        browser.post("/benchmarks/use", {"label": ""})


def test_another_school_is_shown_first_and_becomes_the_players(browser, lesson_id):
    asked = browser.post(f"/lessons/{lesson_id}/what-if", {"schools": {"lead_wrist": "early_flex"}}).json()
    assert not asked["nothing"]
    kept = browser.post(f"/lessons/{lesson_id}/terms", {"schools": {"lead_wrist": "early_flex"}}).json()
    assert kept["schools"]["lead_wrist"] == "early_flex"
    assert kept["player"]["own_schools"] == {"lead_wrist": "early_flex"}
    browser.post(f"/lessons/{lesson_id}/undo")
    assert browser.lesson(lesson_id)["schools"]["lead_wrist"] == "hold"
    wrong = browser.post(f"/lessons/{lesson_id}/what-if", {"schools": {"lead_wrist": "bent"}})
    assert wrong.status_code == 422
    assert 'has no "bent"' in wrong.json()["message"]


def test_the_closest_school_comes_with_its_evidence(browser, lesson_id):
    told = {c["axis"]: c for c in browser.get(f"/lessons/{lesson_id}/schools").json()}
    assert told["lead_wrist"]["sentence"].startswith("Closest to hold")
    assert any("W3a" in e for o in told["lead_wrist"]["options"] for e in o["evidence"])
    assert told["pressure"]["sentence"] == "These sensors cannot tell."


def test_the_academys_default_school_holds_for_who_has_not_chosen(browser, lesson_id):
    schools = browser.get("/academy-rules").json()["schools"]
    browser.put("/academy-rules/schools", {"schools": {**schools, "lead_wrist": "flat"}})
    try:
        assert browser.lesson(lesson_id)["schools"]["lead_wrist"] == "flat"
    finally:
        browser.put("/academy-rules/schools", {"schools": schools})
    assert browser.put("/academy-rules/schools", {"schools": {"lead_wrist": "bent"}}).status_code == 422


def test_judged_again_from_the_block_is_as_judged_from_the_streams(services, browser, lesson_id):
    """The stored values give the verdicts that were given when the swing was measured."""
    with services.store.unit_of_work(browser_academy(services, lesson_id)) as uow:
        lesson = next(x for x in uow.find(Lesson) if str(x.id) == lesson_id)
        terms = terms_of(uow, lesson, uow.get(Player, lesson.player_id))
        for swing in uow.find(Swing, lesson_id=lesson.id):
            again = judge_stored(uow.swings.records([swing.id])[swing.id], swing, terms)
            given = unpack_judgement(uow.swings.judgements([swing.id])[swing.id], terms.rule_set.ranges)
            assert again.judged == {k: j._replace(measured=again.judged[k].measured) for k, j in given.judged.items()}
            assert {k: o.fires for k, o in again.outcomes.items()} == {k: o.fires for k, o in given.outcomes.items()}
            assert (again.bands, again.matched, again.pattern) == (given.bands, given.matched, given.pattern)


def browser_academy(services, lesson_id):
    with services.store.front_door() as door:
        for academy in door.academies():
            with services.store.unit_of_work(academy.id) as uow:
                if any(str(x.id) == lesson_id for x in uow.find(Lesson)):
                    return academy.id
    raise AssertionError


class TestPlan:
    def choice(self, **options):
        return {"finding": "over_extended_top", "label": "Over-extended", "drill": "peg_pointer", "why": "", **options}

    def test_the_instructors_own_comes_first_and_is_kept_with_its_reason(self, browser, lesson_id):
        own = self.choice(finding="", label="Grip pressure", drill="", override_reason="Saw it by eye.")
        kept = browser.put(f"/lessons/{lesson_id}/plan", {"priorities": [own, self.choice()]}).json()
        assert kept["planned"]
        first = kept["priorities"][0]
        assert (first["rank"], first["finding"], first["label"]) == (1, "", "Grip pressure")
        assert kept["priorities"][0]["override_reason"] == "Saw it by eye."
        page = browser.get(f"/lessons/{lesson_id}/page").text
        assert page.index("Grip pressure") < page.index("Cups past the band")
        back = browser.send("DELETE", f"/lessons/{lesson_id}/plan").json()
        assert (back["planned"], back["priorities"]) == (False, [])

    def test_three_priorities_are_refused(self, browser, lesson_id):
        assert browser.put(f"/lessons/{lesson_id}/plan", {"priorities": [self.choice()] * 3}).status_code == 422

    def test_a_closed_lesson_is_not_changed(self, browser, lesson_id):
        browser.post(f"/lessons/{lesson_id}/close", {"priorities": []})
        assert browser.put(f"/lessons/{lesson_id}/plan", {"priorities": []}).status_code == 409

    def test_an_empty_plan_is_a_plan(self, browser, lesson_id):
        assert browser.put(f"/lessons/{lesson_id}/plan", {"priorities": []}).json()["planned"]
        assert "Nothing to change" in browser.get(f"/lessons/{lesson_id}/page").text

    def test_before_anything_is_chosen_the_page_carries_the_proposal(self, browser, lesson_id):
        page = browser.get(f"/lessons/{lesson_id}/page").text
        assert "Cups past the band at the top" in page
        assert "We test:" in page
        assert 'aria-label="a peg under the glove strap"' in page  # the drill's picture

    def test_a_lesson_without_swings_does_not_tell_to_keep_anything(self, browser):
        page = browser.get(f"/lessons/{new_lesson(browser)}/page").text
        assert "No swing was measured" in page
        assert "Keep this" not in page

    def test_pain_withholds_drills_and_refers(self, browser, lesson_id):
        browser.patch(f"/lessons/{lesson_id}", {"pain": "yes", "pain_note": "wrist"})
        proposal = browser.lesson(lesson_id)["summaries"][0]["proposals"][0]
        assert any("pain today" in w["reason"] for w in proposal["withheld"])
        assert "licensed health professional" in browser.get(f"/lessons/{lesson_id}/page").text

    def test_a_limit_takes_back_the_judgement_it_touches(self, browser, lesson_id):
        player = browser.lesson(lesson_id)["player"]["id"]
        limit = {"area": "wrist", "side": "lead", "movement": "flexion"}
        browser.post(f"/players/{player}/limits", limit)
        assert "over_extended_top" not in findings(browser, lesson_id)
        held = browser.lesson(lesson_id)["summaries"][0]["held"]
        assert any("we work inside it" in h for h in held)
        added = browser.get(f"/players/{player}").json()["limits"][0]["id"]
        browser.send("DELETE", f"/players/{player}/limits/{added}")
        assert "over_extended_top" in findings(browser, lesson_id)

    def test_ball_flight_that_contradicts_is_said(self, browser, lesson_id):
        for swing in browser.lesson(lesson_id)["swings"]:
            browser.patch(f"/swings/{swing['id']}", {"ball_start": "lead", "ball_curve": "lead"})
        summary = browser.lesson(lesson_id)["summaries"][0]
        assert "but the balls show a" in summary["proposals"][0]["contradiction"]
        assert (summary["flight"]["start"], summary["flight"]["start_count"]) == ("lead", 5)


def test_trainer_bands_of_a_lesson_follow_its_school(browser, lesson_id):
    bands = browser.lesson(lesson_id)["trainer_bands"]
    assert bands["peg_pointer"]["plain_words"].endswith("than at address, arm level back to top (relative to address)")
    flat = browser.post(f"/lessons/{lesson_id}/terms", {"schools": {"lead_wrist": "flat"}, "benchmarks": ""})
    assert flat.status_code == 200, flat.text
    assert "5° bowed to 5° cupped" in browser.lesson(lesson_id)["trainer_bands"]["peg_pointer"]["plain_words"]


def test_a_value_outside_its_band_is_said_even_where_no_finding_speaks_of_it(browser):
    """The early-flex school has no finding for a wrist that stays cupped: that is neither a fault nor nothing."""
    made = new_lesson(browser, schools={"lead_wrist": "early_flex"})
    assert drop(browser, made, bundle("hold-then-flex", 11, sources=("wrist", "club"))).status_code == 201
    lesson = browser.lesson(made)
    assert not [f for s in lesson["summaries"] for f in s["findings"] if f["finding"] == "over_extended_top"]
    found = browser.swing(lesson["swings"][0]["id"])
    outside = [j for j in found["judged"] if j["verdict"] in ("low", "high")]
    headline = found["headline"]
    assert found["findings"] == []
    assert outside
    assert headline["finding"] is None
    assert "than the band" in headline["plain_text"]
    assert headline["tends"].startswith("No finding goes with it")
    assert "band" not in headline["player_text"]


class TestCohort:
    def test_chosen_swings_make_ranges_with_what_they_rest_on(self, browser, lesson_id):
        first = browser.lesson(lesson_id)["swings"][0]["id"]
        browser.patch(f"/swings/{first}", {"tags": ["Skilled ", "skilled"]})
        assert browser.swing(first)["tags"] == ["skilled"]
        looked = browser.post("/cohorts/look", {"tag": "skilled"}).json()
        assert looked["swings"] == 1
        assert "of 8 players" in looked["warning"]
        made = browser.post("/cohorts/ranges", {"tag": "", "name": "Our swings", "leave_out": ["C2"]})
        assert made.status_code == 201, made.text
        shown = browser.get("/benchmarks/ranges", params={"label": made.json()["label"]}).json()
        by_id = {r["id"]: r for r in shown["ranges"]}
        assert by_id["W1"]["provenance"] == "from captured swings"
        assert "players" in by_id["W1"]["note"]
        assert by_id["C2"]["provenance"].startswith("published")

    def test_the_synthetic_cohort_is_called_so_everywhere(self, browser):
        looked = browser.post("/cohorts/look", {"synthetic": True}).json()
        turn = next(r for r in looked["rows"] if r["id"] == "B5")
        assert len(turn["values"]) == turn["swings"] > 40
        inside = [turn["made_low"] <= v <= turn["made_high"] for v in turn["values"]]
        assert 0.75 <= sum(inside) / len(inside) <= 0.85  # 10th to 90th percentile
        assert turn["now_low"] < turn["now_high"]
        assert (looked["synthetic"], looked["swings"], looked["warning"]) == (True, 60, "")
        made = browser.post("/cohorts/ranges", {"synthetic": True, "name": "Model"}).json()["label"]
        shown = browser.get("/benchmarks/ranges", params={"label": made}).json()
        assert next(r for r in shown["ranges"] if r["id"] == "B5")["synthetic"]
        assert browser.get("/references").json()[0]["synthetic"]

    def test_ranges_stand_at_their_places_beside_skilled_and_own_players(self, browser, lesson_id):
        shown = browser.get("/benchmarks/ranges").json()["ranges"]
        places = {r["id"]: (r["place"], r["change"]) for r in shown}
        assert places["W3a"] == ("top", False)
        assert places["B16b"] == ("impact", True)
        assert places["W6"] == ("impact", True)  # up to 0.1 s after it
        assert places["C2"] == ("", False)
        found = browser.get("/benchmarks/beside").json()
        rows = {r["id"]: r for r in found["rows"]}
        assert found["synthetic"]  # nobody tagged enough skilled swings
        assert len(rows["B5"]["skilled"]) == 12  # of each model player one value, not one of each swing
        assert "S2a" in rows
        assert "S2b" not in rows
        own = [
            v["value"]
            for s in browser.lesson(lesson_id)["swings"]
            for v in browser.swing(s["id"])["metrics"]
            if (v["metric"], v["moment"]) == ("lead_wrist_extension", "address")
        ]
        assert len(rows["W1"]["own"]) == found["own"]
        assert min(own) <= rows["W1"]["own"][0] <= max(own)
        driver = browser.get("/benchmarks/beside", params={"club": "driver"}).json()
        assert not driver["synthetic"]
        assert {r["id"] for r in driver["rows"]} >= {"S2b", "G1d"}
        assert browser.get("/benchmarks/beside", params={"club": "spoon"}).status_code == 409

    def test_enough_tagged_players_are_the_skilled_ones(self, browser, lesson_id):
        def tag_another():
            made = new_lesson(browser)
            assert drop(browser, made, bundle("over-extended", 11, sources=("wrist", "club"))).status_code == 201
            browser.patch(f"/swings/{browser.lesson(made)['swings'][0]['id']}", {"tags": ["skilled"]})
            found = browser.get("/benchmarks/beside").json()
            return found["synthetic"], len(next(r for r in found["rows"] if r["id"] == "W1")["skilled"])

        looked = [tag_another() for _ in range(3)]
        assert looked[0] == (True, 12)
        assert next(n for synthetic, n in looked if not synthetic) == 3

    def test_references_are_laid_over_a_swing_and_own_best_moves_its_ranges(self, browser, lesson_id):
        swings = [s["id"] for s in browser.lesson(lesson_id)["swings"]]
        kept = browser.post("/references", {"form": "swing", "swing_ids": swings[:1]})
        assert kept.status_code == 201, kept.text
        for reference in ("synthetic", kept.json()["id"]):
            block = browser.get(f"/swings/{swings[1]}/reference", params={"reference": reference}).content
            assert block.startswith(b"FAT1")
        best = {"id": "OB", "metric": "lead_wrist_extension", "event": "top", "own_best": True, "provenance": "ACADEMY"}
        text = (
            ranges_toml(library.ranges())
            + "".join(
                f"\n{k} = {str(v).lower() if isinstance(v, bool) else repr(v)}".replace("'", '"')
                if k != "id"
                else f'\n[[range]]\nid = "{v}"'
                for k, v in best.items()
            )
            + "\nlow_offset = -2.0\nhigh_offset = 2.0\n"
        )
        label = upload(browser, "/benchmarks/import", "best.toml", text.replace('"builtin-5"', '"Best 1"')).json()[
            "label"
        ]
        browser.post(f"/lessons/{lesson_id}/terms", {"benchmarks": label})
        top = self.top(browser, swings[0])
        assert top["band"]["range_id"] == "W3a"
        browser.post("/references", {"form": "best", "swing_ids": swings})
        top = self.top(browser, swings[0])
        assert top["band"]["range_id"] == "OB"
        assert top["band"]["high"] - top["band"]["low"] == pytest.approx(4.0, abs=0.01)
        removed = next(r for r in browser.get("/references").json() if r["form"] == "best")
        browser.send("DELETE", f"/references/{removed['id']}")
        assert self.top(browser, swings[0])["band"]["range_id"] == "W3a"

    def top(self, browser, swing_id):
        metrics = browser.swing(swing_id)["metrics"]
        return next(m for m in metrics if (m["metric"], m["moment"]) == ("lead_wrist_extension", "top"))


class TestOwn:
    def test_own_findings_come_as_toml_and_are_judged(self, browser, lesson_id):
        made = upload(browser, "/academy-rules/import", "own.toml", OWN)
        assert made.status_code == 201, made.text
        assert [f["id"] for f in made.json()["findings"]] == ["hurried"]
        known = browser.get("/catalogue").json()
        assert next(f for f in known["findings"] if f["id"] == "hurried")["own"]
        assert any(d["id"] == "metronome" for d in known["drills"])
        assert "hurried" in browser.get("/academy-rules/export.toml").text
        assert browser.send("DELETE", "/academy-rules/findings/hurried").json()["findings"] == []
        assert browser.send("DELETE", "/academy-rules/findings/hurried").status_code == 404

    def test_a_wrong_file_names_its_line_and_keeps_nothing(self, browser):
        wrong = upload(browser, "/academy-rules/import", "own.toml", OWN.replace('["early_release"]', '["hurried"]'))
        assert wrong.status_code == 422
        assert wrong.json()["message"].startswith("own.toml, line 3")
        assert browser.get("/academy-rules").json()["findings"] == []

    def test_a_drill_in_own_words_and_back(self, browser):
        revision = browser.get("/academy-rules").json()["revision"]
        words = {"label": "Peg", "how": "Our way.", "feel": "Ours.", "revision": revision}
        made = browser.put("/academy-rules/drills/peg_pointer", words)
        assert made.json()["worded_drills"] == ["peg_pointer"]
        peg = next(d for d in browser.get("/catalogue").json()["drills"] if d["id"] == "peg_pointer")
        assert (peg["label"], peg["how"]) == ("Peg", "Our way.")
        assert peg["caution"] == next(d.caution for d in library.drills().values() if d.id == "peg_pointer")
        second = browser.put("/academy-rules/drills/peg_pointer", words)
        assert (second.status_code, second.json()["code"]) == (409, "overtaken")
        empty = {"label": "", "how": "", "feel": "", "revision": made.json()["revision"]}
        assert browser.put("/academy-rules/drills/peg_pointer", empty).json()["worded_drills"] == []
        assert browser.put("/academy-rules/drills/nothing", empty).status_code in (404, 409)


def test_looking_at_a_planned_lesson_does_not_fix_its_version(browser):
    """Only the first swing does: the academy may change its ranges until then."""
    waiting = new_lesson(browser)
    browser.get(f"/lessons/{waiting}/schools")
    browser.post(f"/lessons/{waiting}/what-if", {"schools": {"pelvis": "restrained"}})
    label = save(browser, "Until then", "builtin-5", wide_top()).json()["label"]
    browser.post("/benchmarks/use", {"label": label})
    try:
        drop(browser, waiting, bundle("over-extended", 11, sources=("wrist", "club")))
        assert browser.lesson(waiting)["benchmarks"] == label
    finally:
        browser.post("/benchmarks/use", {"label": ""})


def test_a_left_handers_page_speaks_of_left_and_right(browser):
    made = new_lesson(browser, handedness="left")
    content = bundle("late-return", 5, sources=("wrist", "club", "pressure"), hand=Hand.LEFT)
    assert drop(browser, made, content).status_code == 201
    page = browser.get(f"/lessons/{made}/page").text
    assert "right foot" in page
    assert "lead foot" not in page.lower()
    assert "trail foot" not in page.lower()
