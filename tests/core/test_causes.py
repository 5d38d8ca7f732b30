"""Causes, priorities, limits, drills, ball flight, schools and matched sets. Rules of order as in the practice of
instructors: earlier before later, body before hands before shaft before face, at most two (common practice)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, strategies as st

from finearc.catalogue import library
from finearc.catalogue.rule_set import built_in, example_outcome
from finearc.core.judging.drills import Ask, Drill, Pain, withheld_because
from finearc.core.judging.findings import LEVELS, PHASES, Finding, FindingRule
from finearc.core.judging.flight import Flight, Shot, contradicts, fits, usual_flight
from finearc.core.judging.graph import BadGraph, check, explained_through, nodes
from finearc.core.judging.limits import Limit
from finearc.core.judging.priorities import Circumstances, Rule, propose, strength
from finearc.core.judging.ranges import Range, Verdict, in_force, judge
from finearc.core.judging.schools import closest
from finearc.core.judging.words import for_hand
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import PER_SI, Measured, Moment

BOOK = built_in()
ANY = library.findings()[0].when


def rule(name, phase="takeaway", level="body", may_cause=(), ball=(), drills=()):
    return FindingRule(name, name, name, phase, level, 1.0, ANY, "", "", "", ball, may_cause, drills)


def finding(name, severity=0.6, status="finding", role="root", by=None, **options):
    return Finding(rule(name, **options), severity, 1.0, 5, 5, status, (), role, by)


def first_two(*findings, drills=None, **circumstances):
    return propose(findings, drills or {}, Circumstances(**circumstances))


def ids(proposals):
    return [p.finding.rule.id for p in proposals]


class TestGraph:
    def test_a_finding_that_is_its_own_cause_is_refused(self):
        with pytest.raises(BadGraph, match='"a" is its own cause'):
            check([rule("a", may_cause=("a",))])

    def test_a_cycle_is_refused_and_named(self):
        with pytest.raises(BadGraph, match="cycle") as error:
            check([rule("a", may_cause=("b",)), rule("b", may_cause=("c",)), rule("c", may_cause=("a",))])
        assert all(f" {x}" in str(error.value) or f'"{x}"' in str(error.value) for x in "abc")

    def test_an_effect_that_does_not_exist_is_refused(self):
        with pytest.raises(BadGraph, match='"b", which does not exist'):
            check([rule("a", may_cause=("b",))])

    def test_the_built_in_findings_are_in_order(self):
        check(library.findings())

    def test_the_table_of_causes_is_kept(self):
        """Edges that practice names (common practice)."""
        edges = {r.id: set(r.may_cause) for r in library.findings()}
        for cause, effect in (
            ("open_shoulders_at_address", "short_early_turn"),
            ("open_shoulders_at_address", "path_across"),
            ("open_pelvis_at_address", "short_early_turn"),
            ("weight_on_heels", "early_extension"),
            ("short_early_turn", "path_across"),
            ("takeaway_dip", "over_extended_top"),
            ("takeaway_extension", "over_extended_top"),
            ("slide_away", "reverse_lean"),
            ("pelvis_under_turn", "slide_away"),
            ("over_extended_top", "flip"),
            ("reverse_lean", "pelvis_slide"),
            ("no_trail_load", "late_pressure_return"),
            ("late_pressure_return", "pressure_stays_back"),
            ("early_extension", "flip"),
            ("pelvis_closed_at_impact", "flip"),
            ("early_release", "flip"),
            ("lead_leg_sag", "pelvis_slide"),
            ("hands_out", "shaft_off_line"),
        ):
            assert effect in edges[cause], (cause, effect)

    def test_layers_count_from_the_root_through_what_lies_between(self):
        chain = [finding("a"), finding("b", role="explained", by="a"), finding("c", role="explained", by="b")]
        assert {(n.finding.rule.id, n.layer, n.root) for n in nodes(chain)} == {
            ("a", 0, "a"),
            ("b", 1, "a"),
            ("c", 2, "a"),
        }
        assert [f.rule.id for f in explained_through("a", chain)] == ["b", "c"]


class TestOrder:
    def test_at_most_two_and_explained_ones_never(self):
        few = first_two(finding("a"), finding("b"), finding("c"), finding("d", role="explained", by="a"))
        assert len(few) == 2
        assert "d" not in ids(few)

    @given(st.permutations(range(4)), st.sampled_from(PHASES[:-1]))
    def test_the_earlier_phase_comes_first_however_strong_the_later(self, order, phase):
        later = PHASES[PHASES.index(phase) + 1]
        both = [finding("early", 0.2, phase=phase, level="face"), finding("late", 3.0, phase=later, level="body")]
        others = [finding("x", 1.0, phase="impact", level="face"), finding("y", 1.0, phase="impact", level="face")]
        mixed = [(both + others)[k] for k in order]
        assert ids(first_two(*mixed))[0] == "early"

    def test_body_hands_shaft_face_within_a_phase(self):
        all_four = [finding(level, 0.5, level=level) for level in reversed(LEVELS)]
        first, second = first_two(*all_four)
        assert (first.finding.rule.id, second.finding.rule.id) == ("body", "hands")
        assert first.rule is Rule.LEVEL
        assert "because the body comes before the hands" in first.why

    def test_strength_is_asked_before_ball_flight_and_ball_flight_before_finer_differences(self):
        strong, clear = finding("strong", 1.5), finding("clear", 0.6, ball=("slice",))
        assert ids(first_two(clear, strong, flight=Flight(("slice",))))[0] == "strong"
        little_more, fitting = finding("more", 0.7), finding("fitting", 0.6, ball=("slice",))
        without = first_two(little_more, fitting)
        with_ball = first_two(little_more, fitting, flight=Flight(("slice",), 5))
        assert (ids(without)[0], without[0].rule) == ("more", Rule.FINER)
        assert (ids(with_ball)[0], with_ball[0].rule) == ("fitting", Rule.FLIGHT)
        assert "It fits with the ball flight (slice)" in with_ball[0].why

    def test_what_the_limits_permit_is_asked_last(self):
        turn = Drill("t", "T", "", "", asks=(Ask("back", "turn"),))
        free = Drill("f", "F", "", "")
        pair = (finding("a", 0.7, drills=("t",)), finding("b", 0.6, drills=("f",)))
        drills = {"t": turn, "f": free}
        assert ids(first_two(*pair, drills=drills))[0] == "a"
        held = first_two(*pair, drills=drills, limits=(Limit("back", "turn"),))
        assert (ids(held)[0], held[0].rule) == ("b", Rule.LIMITS)

    def test_a_hint_stands_behind_what_rests_on_several_swings(self):
        found = first_two(finding("hint", 2.0, status="hint", phase="setup"), finding("firm", 0.3, phase="impact"))
        assert (ids(found)[0], found[0].rule) == ("firm", Rule.FIRM)

    def test_the_reason_is_two_sentences_and_names_what_may_follow(self):
        (only,) = first_two(finding("a"), finding("b", role="explained", by="a"))
        assert (
            only.why
            == "5 of 5 swings show it, and it may bring “b” with it. It is the only difference that stands out."
        )

    def test_nothing_to_change_is_possible(self):
        assert first_two() == []
        assert first_two(finding("edge", 0.05)) == []

    @pytest.mark.parametrize(("size", "word"), [(0.2, "slight"), (0.5, "clear"), (2.0, "strong")])
    def test_strength_in_words(self, size, word):
        assert strength(finding("a", size)) == word


class TestBall:
    def test_the_usual_flight_is_what_a_third_of_the_balls_show(self):
        shots = [Shot("trail", "trail")] * 3 + [Shot("straight", "straight")] * 2
        flight = usual_flight(shots)
        assert set(flight.words) == {"push", "slice"}
        assert (flight.start, flight.start_count, flight.seen) == ("trail", 3, 5)
        assert usual_flight([Shot("trail", "straight"), *[Shot("straight", "straight")] * 4]).words == ()

    def test_without_balls_the_players_word_counts_and_says_so(self):
        flight = usual_flight([Shot("", "")], "A slice, now and then thin.")
        assert (flight.words, flight.told) == (("slice", "thin"), True)

    def test_only_the_opposite_contradicts(self):
        assert contradicts(("slice", "push"), Flight(("hook",))) == ("slice", "hook")
        assert contradicts(("slice", "hook"), Flight(("hook",))) is None
        assert contradicts(("fat",), Flight(("hook",))) is None
        assert fits(("slice", "push"), Flight(("push", "slice"))) == ["push", "slice"]

    def test_a_contradiction_is_said_with_the_proposal(self):
        (only,) = first_two(finding("a", ball=("slice",)), flight=Flight(("hook",), 4))
        assert only.contradiction.startswith("This usually goes with a slice, but the balls show a hook.")


def turn(value, moment="top", uncertainty=1.0):
    per = PER_SI[m.THORAX_TURN.unit]
    return Measured(m.THORAX_TURN, Moment(moment), value / per, uncertainty / per)


def judged(value, *limits, moment="top", population="adult"):
    situation = library.situation("7-iron", "full", population, {}, limits)
    (one,) = judge([turn(value, moment)], library.ranges().ranges, situation)
    return one


class TestLimits:
    TIGHT = Limit("back", "turn", "", float(np.deg2rad(61)))

    def test_a_range_that_asks_for_more_than_is_comfortable_is_not_judged(self):
        one = judged(58, self.TIGHT)
        assert one.verdict is Verdict.NOT_JUDGED
        assert one.reason == "the comfortable back turn is 61°; we work inside it"

    def test_a_range_inside_what_is_comfortable_still_holds(self):
        assert judged(15, self.TIGHT, moment="shaft_level_back").verdict is Verdict.LOW

    def test_the_other_side_is_judged_as_ever(self):
        assert judged(104, self.TIGHT).verdict is Verdict.HIGH
        assert judged(88, self.TIGHT).verdict is Verdict.IN_RANGE

    def test_without_a_number_all_that_it_touches_is_left(self):
        one = judged(15, Limit("back", "turn"), moment="shaft_level_back")
        assert one.verdict is Verdict.NOT_JUDGED
        assert "limited; we work inside it" in one.reason

    def test_another_area_or_movement_changes_nothing(self):
        assert judged(58, Limit("back", "bend")).verdict is Verdict.LOW
        assert judged(58, Limit("hip", "turn", "both")).verdict is Verdict.LOW

    @pytest.mark.parametrize("population", ["junior", "senior"])
    def test_who_has_no_range_of_their_own_is_not_judged(self, population):
        one = judged(20, population=population)
        assert one.verdict is Verdict.NOT_JUDGED
        assert population in one.reason

    def test_a_finding_that_leans_on_a_held_back_value_says_so(self):
        example = next(e for e in library.finding_entries() if e.id == "short_early_turn")
        situation = library.situation("7-iron", "full", "adult", {}, (Limit("back", "turn"),))
        from finearc.core.judging.conditions import Evidence

        evidence = Evidence.of(judge([turn(15, "shaft_level_back")], library.ranges().ranges, situation), {})
        outcome = BOOK.rule(example.id).when.decide(evidence, BOOK.ranges.places)
        assert outcome.fires is None
        assert "we work inside it" in outcome.reason


class TestDrills:
    @pytest.mark.parametrize("drill", library.drills().values(), ids=lambda d: d.id)
    def test_every_drill_says_what_it_is_for_how_much_and_how_it_feels(self, drill):
        assert drill.aim
        assert drill.how
        assert drill.feel
        assert drill.dose
        areas = {a.area: a.movements for a in library.limit_areas()}
        for ask in drill.asks:
            assert ask.movement in (*areas[ask.area], "any")

    def test_a_drill_that_loads_the_back_or_bends_a_joint_carries_a_caution(self):
        for drill in library.drills().values():
            if any(a.movement in ("side bend", "bend") for a in drill.asks):
                assert drill.caution

    def test_an_amount_within_comfort_is_no_obstacle(self):
        some = Drill("d", "D", "", "", asks=(Ask("back", "turn", float(np.deg2rad(50))),))
        assert withheld_because(some, (TestLimits.TIGHT,), Pain()) == ""
        more = replace(some, asks=(Ask("back", "turn", float(np.deg2rad(80))),))
        assert withheld_because(more, (TestLimits.TIGHT,), Pain()) == (
            "it asks for more back turn than the comfortable 61°"
        )

    def test_the_other_knee_is_no_obstacle(self):
        lead = Drill("d", "D", "", "", asks=(Ask("knee", "extension", None, "lead"),))
        assert withheld_because(lead, (Limit("knee", "extension", "trail"),), Pain()) == ""
        assert "limited" in withheld_because(lead, (Limit("knee", "extension", "lead"),), Pain())

    def test_pain_withholds_what_loads_the_area_and_without_an_area_all_that_loads(self):
        back = Drill("d", "D", "", "", loads=("back",))
        assert "pain today" in withheld_because(back, (), Pain.noted("yes", "Back, since Sunday"))
        assert withheld_because(back, (), Pain.noted("yes", "left wrist")) == ""
        assert "pain today" in withheld_because(back, (), Pain.noted("yes", ""))
        assert withheld_because(back, (), Pain.noted("no", "back")) == ""


class TestSchools:
    def values(self, **given):
        out = {}
        for key, value in given.items():
            name, _, moment = key.partition("__")
            metric = library.metric_of(name)
            out[name, moment.replace("_to_", "..")] = Measured(
                metric, Moment(moment.replace("_to_", "..")), value / PER_SI[metric.unit], 0.01
            )
        return [out] * 4

    def nearest(self, axis, **given):
        return closest(axis, library.ranges().ranges, self.values(**given), frozenset({"iron", "mid_iron"}))

    @pytest.mark.parametrize(
        ("address", "top", "impact", "option"),
        [(22, 22, -10, "hold"), (20, 0, -10, "flat"), (18, -15, -11, "early_flex")],
    )
    def test_the_lead_wrist(self, address, top, impact, option):
        found = self.nearest(
            "lead_wrist",
            lead_wrist_extension__address=address,
            lead_wrist_extension__top=top,
            lead_wrist_extension__top_to_impact=impact - top,
        )
        assert found.option == option
        assert found.swings == 4
        assert len(found.evidence[option]) == 2

    def test_between_two_schools_none_is_named(self):
        assert self.nearest("pelvis", pelvis_turn__top=34).option == "restrained"
        assert self.nearest("pelvis", pelvis_turn__top=40).option is None
        assert self.nearest("pelvis", pelvis_turn__top=46).option == "free"

    def test_what_was_not_measured_tells_nothing(self):
        assert self.nearest("pressure", pelvis_turn__top=40).options == ()
        assert self.nearest("putting_wrist", pelvis_turn__top=40).options == ()


MATCHED = [(e.id, k, x) for e in library.matched_entries() for k, x in enumerate(e.example)]


@pytest.mark.parametrize(("name", "k", "example"), MATCHED, ids=[f"{n}-{k}" for n, k, _ in MATCHED])
def test_every_matched_sets_own_examples(name, k, example):
    one = next(x for x in BOOK.matched if x.id == name)
    assert example_outcome(one.when, example, BOOK.ranges).fires is example.fires
    assert set(one.involves) <= {r.id for r in BOOK.rules}


def test_a_priority_that_is_part_of_a_matched_set_says_so():
    one = replace(BOOK.matched[0], involves=("a",))
    (only,) = first_two(finding("a"), matched=(one,))
    assert [x.id for x in only.matched] == [one.id]


class TestChoosingARange:
    def made(self, key, **options):
        base = dict(low=0.8, high=1.0, soft_low=0.0, soft_high=0.0, provenance="CP", note="")
        return Range(key, m.THORAX_TURN, Moment("top"), **{**base, **options})

    def verdict(self, ranges, value=95, **situation):
        held = replace(library.situation("7-iron", "full", "adult", {}), **situation)
        (one,) = judge([turn(value, uncertainty=0.1)], in_force(ranges, held), held)
        return one

    def test_the_more_specific_range_is_taken(self):
        both = [self.made("any"), self.made("iron", club_class="iron", high=2.0)]
        assert self.verdict(both).range.id == "iron"
        assert self.verdict(both, club_classes=frozenset({"driver"})).range.id == "any"

    def test_the_players_own_best_holds_once_it_is_marked(self):
        best = self.made("best", low=None, high=None, own_best=True, low_offset=-0.05, high_offset=0.05)
        both = [self.made("any"), best]
        assert self.verdict(both).range.id == "any"
        marked = self.verdict(both, value=80, best={("thorax_turn", "top"): float(np.deg2rad(80))})
        assert (marked.range.id, marked.verdict) == ("best", Verdict.IN_RANGE)

    def test_another_shot_has_no_range_of_a_full_swing(self):
        one = self.verdict([self.made("any")], shot="pitch")
        assert (one.verdict, one.reason) == (Verdict.NOT_JUDGED, "there is no range for this kind of shot yet")


@pytest.mark.parametrize(
    ("text", "left", "expected"),
    [
        ("Press the lead foot.", False, "Press the left foot."),
        ("Press the lead foot.", True, "Press the right foot."),
        ("Trail foot out", False, "Right foot out"),
        ("the trail knee and the lead knee", True, "the left knee and the right knee"),
        ("The trail leads on.", False, "The trail leads on."),
    ],
)
def test_players_read_left_and_right(text, left, expected):
    assert for_hand(text, left_handed=left) == expected


def test_a_flight_of_which_a_part_was_never_noted_counts_none_of_it():
    only_curves = usual_flight([Shot("", "trail", ""), Shot("", "trail", "")])
    assert (only_curves.start, only_curves.start_count) == ("", 0)
    assert (only_curves.curve, only_curves.curve_count) == ("trail", 2)
    only_starts = usual_flight([Shot("lead", "", ""), Shot("lead", "", ""), Shot("trail", "", "")])
    assert (only_starts.curve, only_starts.curve_count) == ("", 0)
    assert (only_starts.start, only_starts.start_count) == ("lead", 2)
