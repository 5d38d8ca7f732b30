"""Verdicts against W1–W12, C1, C2 in the three lead-wrist schools, findings' own examples, patterns, bands,
priorities. The ranges' figures are common practice of instructors (CP) or house values, as the library says."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st

from finearc.catalogue import library
from finearc.catalogue.toml_file import DataFileError
from finearc.core.events.model import Checkpoint, event
from finearc.core.judging.bands import band_along
from finearc.core.judging.conditions import Evidence, Not, ValueBeyond
from finearc.core.judging.drills import band_in_force
from finearc.core.judging.findings import over_swings
from finearc.core.judging.flight import Flight
from finearc.core.judging.limits import Limit
from finearc.core.judging.patterns import Pattern, classify
from finearc.core.judging.priorities import Circumstances, Rule, propose
from finearc.core.judging.ranges import CAP, Verdict, in_force, judge, verdict_of
from finearc.core.judging.words import evidence_sentence, fill, limits_in_words, trainer_band_words
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import PER_SI, Measured, Moment, Unit
from finearc.core.metrics.words import change_in_words, in_words

RANGES = library.ranges()
EXT, DEV = m.LEAD_WRIST_EXTENSION, m.LEAD_WRIST_DEVIATION


PER_STEP = {Unit.SECONDS: 0.01, Unit.RATIO: 0.02}
"""Uncertainties are given as for degrees; a second and a ratio are far coarser units."""


def measured(values, uncertainty=1.0):
    """``{"metric@event": value}`` in the metric's own unit."""
    out = []
    for key, value in values.items():
        metric = library.metric_of(key.split("@")[0])
        per = PER_SI[metric.unit]
        sd = uncertainty * PER_STEP.get(metric.unit, 1.0)
        out.append(Measured(metric, Moment(key.split("@")[1]), value / per, sd / per))
    return out


def verdicts(values, club="7-iron", population="adult", uncertainty=0.5, shot="full", **schools):
    situation = library.situation(club, shot, population, schools)
    judged = judge(measured(values, uncertainty), RANGES.ranges, situation)
    return {f"{j.measured.metric.id}@{j.measured.moment.key}": j for j in judged}


def one(metric, moment, value, **options):
    context = options.pop("given", {})
    return verdicts({**context, f"{metric}@{moment}": value}, **options)[f"{metric}@{moment}"].verdict.value


E, D = "lead_wrist_extension", "lead_wrist_radial_deviation"


@pytest.mark.parametrize(
    ("metric", "moment", "value", "schools", "context", "expected"),
    [
        (E, "address", 20, {}, {}, "in_range"),  # W1 10…30
        (E, "address", 8, {}, {}, "edge_low"),
        (E, "address", 4, {}, {}, "low"),
        (E, "address", 38, {}, {}, "high"),
        (E, "address..shaft_level_back", -5, {}, {}, "in_range"),  # W2 ±5, edge 8
        (E, "address..shaft_level_back", -7.5, {}, {}, "edge_low"),
        (E, "address..shaft_level_back", 9, {}, {}, "high"),
        (E, "top", 25, {}, {f"{E}@address": 23}, "in_range"),  # W3a to min(30, address + 3)
        (E, "top", 28, {}, {f"{E}@address": 23}, "edge_high"),
        (E, "top", 36, {}, {f"{E}@address": 30}, "high"),  # ≥ 36 clearly open
        (E, "top", 33, {}, {f"{E}@address": 40}, "edge_high"),  # never above 30 + edge
        (E, "top", 9, {"lead_wrist": "flat"}, {}, "edge_high"),  # W3b ±5, edge to ±10
        (E, "top", -6, {"lead_wrist": "flat"}, {}, "edge_low"),
        (E, "top", 12, {"lead_wrist": "flat"}, {}, "high"),
        (E, "top", -15, {"lead_wrist": "early_flex"}, {}, "in_range"),  # W3c −25…−5
        (E, "top..impact", -30, {}, {}, "in_range"),  # W4a −45…−15
        (E, "top..impact", 1, {}, {}, "high"),
        (E, "top..impact", -10, {"lead_wrist": "flat"}, {}, "in_range"),  # W4b −20…0
        (E, "top..impact", 15, {"lead_wrist": "early_flex"}, {}, "in_range"),  # W4c −10…+20
        (E, "impact", -10, {}, {}, "in_range"),  # W5 −15…−5, edge −20…0
        (E, "impact", -1, {}, {}, "edge_high"),
        (E, "impact", 10, {}, {}, "high"),
        (E, "impact", -19, {}, {}, "edge_low"),
        (E, "impact..impact+0.1s", 6, {}, {}, "in_range"),  # W6 higher than at impact
        (E, "impact..impact+0.1s", -6, {}, {}, "low"),
        ("takeaway_dip", "swing", 4, {}, {}, "in_range"),  # W7 under 10
        ("takeaway_dip", "swing", 14, {}, {}, "high"),
        (D, "address", -23, {}, {}, "in_range"),  # W8 −35…−15
        (D, "address", -45, {}, {}, "low"),
        (D, "address..shaft_level_back", 23, {}, {}, "in_range"),  # W9 20…27, edge 6
        (D, "address..shaft_level_back", 16, {}, {}, "edge_low"),
        (D, "address..shaft_level_back", 5, {}, {}, "low"),
        (D, "top", 12, {}, {}, "in_range"),  # W10 −5…20, edge to 25
        (D, "top", 24, {}, {}, "edge_high"),
        (D, "top", 30, {}, {}, "high"),
        (D, "impact", -27, {}, {f"{D}@address": -23}, "in_range"),  # W11 address −8…+2, not below −38
        (D, "impact", -15, {}, {f"{D}@address": -23}, "high"),
        (D, "impact", -40, {}, {f"{D}@address": -34}, "edge_low"),
        ("hinge_held", "swing", 92, {}, {}, "in_range"),  # W12 ≥ 80 %
        ("hinge_held", "swing", 40, {}, {}, "low"),
        ("shaft_elevation", "top", 14, {}, {}, "in_range"),  # C1 +5…+28
        ("shaft_elevation", "top", -6, {}, {}, "low"),
        ("shaft_elevation", "top", 36, {}, {}, "high"),
        ("tempo", "swing", 3.0, {}, {}, "in_range"),  # C2 2.6…3.4 (Grober & Cholewicki 2006, from memory)
        ("tempo", "swing", 2.0, {}, {}, "low"),
    ],
)
def test_reference_facts(metric, moment, value, schools, context, expected):
    assert one(metric, moment, value, given=context, uncertainty=0.1, **schools) == expected


def test_example_triples():
    """23, 23, −12 as skilled players; 30, 30, +31 the late cupping (common practice)."""
    skilled = {f"{E}@address": 23, f"{E}@top": 23, f"{E}@impact": -12, f"{E}@top..impact": -35}
    assert {j.verdict for j in verdicts(skilled).values()} == {Verdict.IN_RANGE}
    weak = verdicts({f"{E}@address": 30, f"{E}@top": 30, f"{E}@impact": 31, f"{E}@top..impact": 1})
    assert weak[f"{E}@impact"].verdict is Verdict.HIGH


@given(st.floats(-60, 60), st.floats(0.1, 8.0))
def test_a_verdict_is_an_edge_within_the_larger_of_margin_and_uncertainty(value, uncertainty):
    verdict = verdict_of(value, uncertainty, -10.0, 10.0, (3.0, 5.0))
    beyond = max(-10.0 - value, value - 10.0)
    margin = max(uncertainty, 3.0 if value < 0 else 5.0)
    if beyond <= 0:
        assert verdict is Verdict.IN_RANGE
    elif beyond <= margin:
        assert verdict in (Verdict.EDGE_LOW, Verdict.EDGE_HIGH)
    else:
        assert verdict in (Verdict.LOW, Verdict.HIGH)


def test_no_range_for_juniors_other_shots_or_other_clubs_and_it_says_why():
    value = {f"{E}@top": 45, f"{E}@address": 20}
    for options, reason in (({"population": "junior"}, "junior"), ({"club": "driver"}, "club")):
        judged = verdicts(value, **options)[f"{E}@top"]
        assert judged.verdict is Verdict.NOT_JUDGED
        assert reason in judged.reason
    situation = library.situation("7-iron", "pitch", "adult", {})
    assert "kind of shot" in judge(measured(value), RANGES.ranges, situation)[0].reason


def test_a_range_that_leans_on_an_absent_value_does_not_judge():
    judged = verdicts({f"{E}@top": 45})[f"{E}@top"]
    assert judged.verdict is Verdict.NOT_JUDGED
    assert "not found" in judged.reason


def test_severity_is_in_half_widths_capped_and_an_edge_counts_a_third():
    judged = verdicts({f"{E}@impact": 5, f"{E}@address": 60}, uncertainty=0.1)
    assert judged[f"{E}@impact"].severity == pytest.approx(10 / 5)
    assert judged[f"{E}@address"].severity == CAP
    edge = verdicts({f"{E}@impact": -2}, uncertainty=0.1)[f"{E}@impact"]
    assert edge.severity == pytest.approx((3 / 5) / 3)


EXAMPLES = [(f.id, k, e) for f in library.finding_entries() for k, e in enumerate(f.example)]


@pytest.mark.parametrize(("name", "k", "example"), EXAMPLES, ids=[f"{n}-{k}" for n, k, _ in EXAMPLES])
def test_every_findings_own_examples(name, k, example):
    rule = next(r for r in library.findings() if r.id == name)
    about = {"club": example.club, "shot": example.shot, **example.schools}
    judged = list(verdicts(example.values, uncertainty=0.5, **about).values())
    outcome = rule.when.decide(Evidence.of(judged, {}), RANGES.places)
    assert bool(outcome.fires) is example.fires
    if outcome.fires:
        sentence = fill(rule.says, outcome.evidence[0], plain=True)
        assert "{" not in sentence


@pytest.mark.parametrize(
    ("drill", "schools", "said"),
    [
        (
            "peg_pointer",
            {"lead_wrist": "hold"},
            "Wrist cup 0° to 30° cupped and at most 3° more cupped than at address, arm level back to top"
            " (relative to address)",
        ),
        ("peg_pointer", {"lead_wrist": "flat"}, "Wrist cup 5° bowed to 5° cupped, arm level back to top"),
        ("peg_pointer", {"lead_wrist": "early_flex"}, "Wrist cup 25° to 5° bowed, arm level back to top"),
        ("heel_up", {"pelvis": "restrained"}, "Pelvis turn 30° to 42° closed, arm level back to top"),
        ("square_feet", {}, "Pelvis turn 5° open to 5° closed at address"),
        ("wall_behind", {}, None),
    ],
)
def test_a_trainer_band_is_the_range_in_force_where_it_ends(drill, schools, said):
    band = library.drills()[drill].band
    held = {**library.default_schools(), **schools}
    found = band_in_force(band, in_force(RANGES.ranges, library.situation("7-iron", "full", "adult", held)))
    if said is None:  # no range holds at impact itself: the drill's own band stays, told from the address as travel is
        assert found == band
        assert trainer_band_words(found, plain=True).endswith("(relative to address)")
    else:
        assert trainer_band_words(found, plain=True) == said


def test_how_far_beyond_is_never_said_to_be_nothing():
    rule = next(r for r in library.findings() if r.id == "takeaway_extension")
    for beyond, said in ((5.3, "less than 1° more cupped"), (17.0, "12° more cupped")):
        (judged,) = verdicts({f"{E}@address..shaft_level_back": beyond}, uncertainty=0.5).values()
        assert said in fill(rule.says, judged, plain=True)


def test_every_finding_has_an_example_that_fires_and_one_that_does_not():
    for finding in library.finding_entries():
        assert {e.fires for e in finding.example} == {True, False}, finding.id


def test_the_contracts_wrist_findings_are_there():
    known = library.known_ids(library.findings())
    assert {
        "palm_grip",
        "takeaway_dip",
        "takeaway_extension",
        "over_extended_top",
        "over_flexed_top",
        "over_extended_and_hinged_top",
        "long_backswing",
        "short_backswing",
        "early_release",
        "flip",
        "face_open_top",
        "face_shut_top",
    } <= known


def swings(values_list, **schools):
    return [Evidence.of(list(verdicts(v, **schools).values()), {}) for v in values_list]


TOO_CUPPED = {f"{E}@address": 24, f"{E}@top": 40, f"{E}@impact": -8, f"{E}@top..impact": -48}
FINE = {f"{E}@address": 24, f"{E}@top": 22, f"{E}@impact": -8, f"{E}@top..impact": -30}


def test_one_swing_is_a_hint_several_are_a_finding():
    rules = library.findings()
    hint, _ = over_swings(rules, swings([TOO_CUPPED]), RANGES.places)
    assert (hint[0].rule.id, hint[0].status) == ("over_extended_top", "hint")
    found, _ = over_swings(rules, swings([TOO_CUPPED] * 4 + [FINE]), RANGES.places)
    assert (found[0].status, found[0].shown, found[0].assessed) == ("finding", 4, 5)


def test_missing_sources_are_not_assessable_which_is_not_absent():
    evidence = [Evidence.of(list(verdicts(FINE).values()), {"face_elevation": "needs 3D markers"})]
    _, open_questions = over_swings(library.findings(), evidence, RANGES.places)
    reasons = {n.rule.id: n.reason for n in open_questions}
    assert reasons["face_open_top"] == "needs 3D markers"


def test_nothing_is_found_for_whom_no_range_stands():
    both = {**TOO_CUPPED, f"{D}@top": 33}
    found, _ = over_swings(library.findings(), swings([both] * 5, population="junior"), RANGES.places)
    assert found == []


def test_an_upstream_cause_explains_what_follows():
    values = {
        f"{E}@address": 20,
        f"{E}@address..shaft_level_back": 15,
        f"{E}@top": 42,
        f"{E}@impact": 12,
        f"{E}@top..impact": -2,
    }
    found, _ = over_swings(library.findings(), swings([values] * 4), RANGES.places)
    roles = {f.rule.id: (f.role, f.explained_by) for f in found}
    assert roles["takeaway_extension"] == ("root", None)
    assert roles["over_extended_top"] == ("explained", "takeaway_extension")
    assert roles["flip"] == ("explained", "over_extended_top")


def proposals(values, ball=(), limits=()):
    found, _ = over_swings(library.findings(), swings([values] * 4), RANGES.places)
    return propose(found, library.drills(), Circumstances(Flight(tuple(ball)), tuple(limits)))


def test_at_most_two_priorities_earlier_phase_first():
    values = {
        f"{E}@address": 3,
        f"{E}@address..shaft_level_back": -14,
        "hinge_held@swing": 30,
        "tempo@swing": 1.8,
        "shaft_elevation@top": -20,
    }
    chosen = proposals(values)
    assert [p.finding.rule.id for p in chosen] == ["palm_grip", "takeaway_dip"]
    assert "because the setup comes before the takeaway" in chosen[0].why


def test_the_players_own_ball_flight_is_named():
    values = {**TOO_CUPPED, "face_elevation@top": 66}
    first, second = proposals(values, ball=("hook",))
    assert first.rule is Rule.LEVEL  # hands before face, whatever the ball does
    assert first.contradiction.startswith("This usually goes with a slice, but the balls show a hook.")
    assert second.contradiction == ""


def test_a_drill_that_asks_for_more_than_a_limit_is_withheld_with_its_reason():
    (proposal,) = proposals(TOO_CUPPED, limits=(Limit("wrist", "flexion", "lead"),))
    assert proposal.drills == ()
    assert proposal.withheld[0][0].id == "peg_pointer"
    assert "wrist flexion" in proposal.withheld[0][1]
    (free,) = proposals(TOO_CUPPED, limits=(Limit("wrist", "flexion", "trail"),))
    assert [d.id for d in free.drills] == ["peg_pointer"]


def test_not_turns_a_condition_round_and_keeps_undecided():
    condition = Not(ValueBeyond(EXT, Moment("top"), np.deg2rad(30.0), True, 0.1))
    decided = condition.decide(swings([FINE])[0], RANGES.places)
    undecided = condition.decide(Evidence.of([], {}), RANGES.places)
    assert decided.fires is True
    assert undecided.fires is None


@pytest.mark.parametrize(
    ("triple", "expected"),
    [
        ((23, 23, -12), Pattern.HOLD_THEN_FLEX),
        ((30, 30, 31), Pattern.HOLD),
        ((20, 0, -10), Pattern.FLAT),
        ((18, -15, -11), Pattern.EARLY_FLEX),
        ((22, 41, 5), Pattern.EXTEND_MORE),
    ],
)
def test_patterns(triple, expected):
    values = dict(zip((f"{E}@address", f"{E}@top", f"{E}@impact"), triple, strict=True))
    found = classify({(x.metric.id, x.moment.key): x for x in measured({**values, "takeaway_dip@swing": 12})})
    assert found is not None
    assert (found.pattern, found.dip) == (expected, True)
    assert classify({}) is None


def test_the_band_meets_the_ranges_at_their_moments():
    events = {
        Checkpoint(k): event(t, 0.01, "test")
        for k, t in (
            ("address", 0.0),
            ("takeaway", 0.3),
            ("shaft_level_back", 0.7),
            ("top", 1.1),
            ("arm_level_down", 1.28),
            ("impact", 1.4),
        )
    }
    values = {(x.metric.id, x.moment.key): x for x in measured({f"{E}@address": 22})}
    time_s = np.array([-0.1, 0.0, 0.3, 0.7, 1.1, 1.28, 1.4, 1.5])
    page = in_force(RANGES.ranges, library.situation("7-iron", "full", "adult", {}))
    band = band_along(EXT, page, values, events, time_s)
    assert band is not None
    low, high = np.rad2deg(band[0]), np.rad2deg(band[1])
    assert np.isnan([low[0], high[-1]]).all()
    assert (low[1], high[1]) == pytest.approx((10, 30))  # W1
    assert (low[2], high[2]) == pytest.approx((10, 30))  # until the takeaway
    assert (low[3], high[3]) == pytest.approx((17, 27))  # W2 from the address value
    assert (low[4], high[4]) == pytest.approx((0, 25))  # W3a
    assert high[5] == pytest.approx(25)  # held until the arm is level
    assert (low[6], high[6]) == pytest.approx((-15, -5))  # W5


def test_values_speak_in_directions_never_in_signs():
    assert in_words(EXT, np.deg2rad(12.3)) == "12° extended"
    assert in_words(EXT, np.deg2rad(-12.3), plain=True) == "12° bowed"
    assert in_words(m.SHAFT_ELEVATION, np.deg2rad(9)) == "9° above level"
    assert in_words(m.TEMPO, 2.97) == "3.0 to 1"
    assert change_in_words(DEV, np.deg2rad(-4), plain=True) == "4° more unhinged"
    assert limits_in_words(EXT, np.deg2rad(-15), np.deg2rad(-5), plain=True) == "15° to 5° bowed"
    assert limits_in_words(EXT, np.deg2rad(-5), np.deg2rad(5)) == "5° flexed to 5° extended"
    assert limits_in_words(m.HINGE_HELD, 0.8, None) == "at least 80 % held"


def test_evidence_names_value_uncertainty_band_and_range():
    judged = verdicts({f"{E}@impact": 31})[f"{E}@impact"]
    assert evidence_sentence(judged) == "Lead wrist extension · impact: 31° extended ± 0.5°, band 15° to 5° flexed (W5)"


def test_a_misspelt_key_or_metric_is_refused_with_the_near_name(tmp_path):
    good = 'version = "x"\n[[range]]\nid = "X"\nmetric = "tempo"\nevent = "swing"\nlow = 1.0\nhigh = 2.0\nprovenance = "CP"\n'
    path = tmp_path / "ranges.toml"
    for change, hint in (
        (("event =", "evnt ="), 'did you mean "event"'),
        (('"tempo"', '"tempoo"'), 'did you mean "tempo"'),
        (("high = 2.0", "high = 0.5"), "is above high"),
        (("high = 2.0\n", ""), "needs a scale"),
    ):
        path.write_text(good.replace(*change))
        library.ranges.cache_clear()
        with pytest.raises(DataFileError, match=hint):
            library.ranges(path)
    path.write_text(good)
    library.ranges.cache_clear()
    assert library.ranges(path).version == "x"
