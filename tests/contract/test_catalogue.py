"""Completeness: every metric has words, every contract key is there, docs are what the catalogue says."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import pytest

from finearc.catalogue import library, schemas
from finearc.catalogue.docs import measures_page
from finearc.catalogue.spoken import spoken_page
from finearc.cli.main import main
from finearc.core.metrics.registry import ALL, BY_ID

ROOT = Path(__file__).parents[2]
CONTRACT = """
lead_wrist_extension, lead_wrist_radial_deviation, trail_wrist_extension, trail_wrist_radial_deviation, wrist_twist,
hand_roll, forearm_pronation, pelvis_turn, pelvis_forward_bend, pelvis_side_bend, pelvis_sway, pelvis_thrust,
pelvis_lift, thorax_turn, thorax_forward_bend, thorax_side_bend, thorax_sway, thorax_thrust, thorax_lift,
shoulder_line_turn, separation, spine_lean, posture_from_ground, head_sway, head_lift, lead_knee_flexion,
trail_knee_flexion, lead_elbow_flexion, trail_elbow_flexion, lead_hip_overhang, shaft_elevation, face_elevation,
shaft_heading, club_path, attack_angle, lag, hinge_held, hips_over_ankles, lead_foot_flare, trail_foot_flare,
hands_out, hands_lift, trail_hip_depth, lead_hip_depth, elbow_gap, knee_gap, lead_share, stance_position,
lead_heel_toe, trail_heel_toe
""".replace("\n", " ")


def test_every_key_of_the_contract_is_a_metric():
    assert {k.strip() for k in CONTRACT.split(",")} <= set(BY_ID)


@pytest.mark.parametrize("metric", ALL, ids=lambda m: m.id)
def test_every_metric_is_explained_in_words(metric):
    assert metric.label
    assert metric.plain_label
    assert metric.explained.endswith(".")
    assert metric.definition.endswith(".")
    assert metric.needs
    if metric.unit.value in ("deg", "cm"):
        assert metric.positive
        assert metric.negative


def test_ids_are_unique():
    assert len(BY_ID) == len(ALL)
    ids = [r.id for r in library.ranges().ranges]
    assert len(ids) == len(set(ids))


def test_findings_name_only_ranges_drills_and_findings_that_exist():
    known_findings = library.known_ids(library.findings())
    ranges = {r.id for r in library.ranges().ranges}
    for rule in library.findings():
        assert set(rule.drills) <= set(library.drills())
        assert set(rule.may_cause) <= known_findings
        assert _ranges_of(rule.when) <= ranges


def _ranges_of(condition):
    if hasattr(condition, "ranges"):
        return set(condition.ranges)
    return set().union(*(_ranges_of(p) for p in getattr(condition, "parts", ())), set())


def test_the_player_never_reads_a_harsh_word():
    """A fault is a difference: no weak, poor, sag, flip, thrown, arms only."""
    for rule in library.findings():
        told = f"{rule.player_says} {rule.plain_label} {rule.tends}".lower()
        for word in ("weak", "poor", "sag", "flip", "thrown", "arms only", "fault", "wrong"):
            assert word not in told, rule.id


def test_the_generated_page_of_measures_is_up_to_date():
    assert (ROOT / "docs" / "measures.md").read_text(encoding="utf-8") == measures_page()


@pytest.mark.parametrize("what", ["manifest", "result", "round", "round-manifest"])
def test_the_published_schemas_are_up_to_date(what, capsys):
    main(["schema", what])
    assert (ROOT / "docs" / "generated" / f"{what}.schema.json").read_text(encoding="utf-8") == capsys.readouterr().out


def test_the_page_of_sentences_is_what_findings_say():
    """Whoever changes a sentence prints all of them again (``python -m finearc.catalogue.spoken``) and reads them."""
    page = Path(__file__).parents[2] / "docs" / "generated" / "sentences.md"
    assert page.read_text(encoding="utf-8") == spoken_page()


def test_no_sentence_says_a_thing_twice_or_leaves_a_blank():
    for line in spoken_page().splitlines():
        if " ± " in line:  # evidence: a label, a value, its band
            continue
        assert "{" not in line, line
        assert "  " not in line, line
        words = re.findall(r"[a-z]+", line.lower())
        assert not [a for a, b in itertools.pairwise(words) if a == b], line
        assert not line.startswith("- ") or line.rstrip("”").endswith("."), line


@pytest.mark.parametrize(
    "says", ["{foo} is far.", "{value.__class__} is far.", "{value!r} is far.", "{over:>9} is far.", "{", "{}"]
)
def test_a_sentence_that_cannot_be_filled_is_refused(says):
    entry = library.finding_entries()[0].model_dump()
    with pytest.raises(ValueError, match="sentence can"):
        schemas.FindingEntry.model_validate({**entry, "says": says})
