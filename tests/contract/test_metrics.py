"""A metric carries everything of it; what is forgotten fails here."""

from __future__ import annotations

import ast
import json
import re
from collections import Counter
from pathlib import Path

import pytest
from scipy import constants

from finearc.catalogue import interface
from finearc.core.metrics import registry
from finearc.core.metrics.body import NEEDED
from finearc.core.metrics.definition import PER_SI, Chart, Family, Source, Unit, any_of
from finearc.core.metrics.groups import GROUPS, SEQUENCE
from finearc.core.metrics.registry import ALL, BY_ID
from finearc.core.metrics.swing import missing_reason

TRUTH = Path(__file__).parents[1] / "core"
NAMES = {id(v): k for k, v in vars(registry).items() if isinstance(v, registry.Metric)}
SOURCES = (
    Source.WRIST,
    Source.CLUB,
    Source.BODY,
    Source.MARKERS,
    Source.MAT,
    Source.PLATES,
    Source.TRAIL_WRIST,
    Source.PUTTER,
    Source.NOTED,
)


def test_every_chart_is_in_one_group():
    placed = Counter(m.id for g in GROUPS for m in g.charts)
    assert placed == Counter(m.id for m in ALL if m.chart is not None)


@pytest.mark.parametrize("metric", ALL, ids=lambda m: m.id)
def test_every_metric_is_looked_at_somewhere(metric):
    groups = {g.family.value for g in GROUPS}
    assert metric.shown_as in groups or BY_ID[metric.shown_as].chart is not None
    if isinstance(metric.shown, Family):
        assert metric.shown is Family.SEQUENCE


@pytest.mark.parametrize("metric", ALL, ids=lambda m: m.id)
def test_every_metric_says_what_gives_it(metric):
    assert metric.givers
    assert not metric.can_be_given([])
    assert metric.can_be_given(SOURCES)
    for needed in metric.givers:
        assert metric.can_be_given(needed)
        assert not any(other < needed for other in metric.givers), "an alternative that asks for more says nothing"
    assert missing_reason(metric, [], "", "") == f"needs {metric.needs}"


@pytest.mark.parametrize("metric", [m for m in ALL if m.trained], ids=lambda m: m.id)
def test_what_is_trained_has_a_chart_for_its_feedback(metric):
    assert isinstance(metric.shown, Chart)


@pytest.mark.parametrize("metric", ALL, ids=lambda m: m.id)
def test_moments_that_are_read_are_known(metric):
    known = set(interface.moment_ids())
    assert {"..".join(pair) for pair in metric.changes_read} <= known
    for pair in metric.changes_read:
        assert set(pair) <= known


@pytest.mark.parametrize(
    "metric", [m for m in ALL if frozenset({Source.MARKERS}) in m.givers and not m.of_putts], ids=lambda m: m.id
)
def test_what_markers_give_says_which_markers(metric):
    made_of_others = {
        "smoothness",
        "hand_smoothness",
        "upper_body_smoothness",
        "tempo",
        "backswing_time",
        "downswing_time",
        "sequence_gap",
        "thorax_gain",
        "lead_arm_gain",
        "club_gain",
    }
    assert metric in NEEDED or metric.id in made_of_others


def _named(path: Path) -> set[str]:
    """Metrics that a test file names, by symbol or by a pattern of ids."""
    text = path.read_text(encoding="utf-8")
    tree = ast.parse(text)
    found = {n.attr for n in ast.walk(tree) if isinstance(n, ast.Attribute)} | {
        n.id for n in ast.walk(tree) if isinstance(n, ast.Name)
    }
    if 'BY_ID[f"{part}_{way}"]' in text:
        found |= {f"{p}_{w}".upper() for p in ("pelvis", "thorax", "head") for w in ("sway", "thrust", "lift")}
    return found


TRUTH_FILES = sorted(
    p
    for p in TRUTH.glob("test_*.py")
    if re.search(r"truth|accuracy|timing|sequence|ground|feet|body_pack|mat|plates|posturo|wrist", p.name)
)


@pytest.fixture(scope="module")
def with_truth():
    return set().union(*(_named(p) for p in TRUTH_FILES))


@pytest.mark.parametrize("metric", ALL, ids=lambda m: m.id)
def test_every_metric_has_a_truth_case(metric, with_truth):
    assert NAMES[id(metric)] in with_truth


def test_alternatives_are_any_with_all_of_each():
    givers = any_of(Source.WRIST, (Source.MAT, Source.BODY))
    assert givers == (frozenset({Source.WRIST}), frozenset({Source.MAT, Source.BODY}))


def test_the_interface_is_built_from_the_catalogue():
    text = interface.measures_module()
    groups, sequence, shown = (
        json.loads(re.sub(r'tr\((".*?")\)', r"\1", x))
        for x in re.findall(r"export const \w+ = (.*?) as const;", text, re.S)
    )
    assert [g["id"] for g in groups] == [g.family.value for g in GROUPS]
    assert {m["id"] for g in groups for m in g["measures"]} == {m.id for m in ALL if m.chart is not None}
    assert [s["rate"] for s in sequence] == [p.rate.id for p in SEQUENCE]
    assert set(shown) == set(BY_ID)


DIGITS = {
    Unit.DEG: 0,
    Unit.DEG_PER_S: 0,
    Unit.PERCENT: 0,
    Unit.CM: 1,
    Unit.CM_PER_S: 0,
    Unit.CM2: 1,
    Unit.SECONDS: 2,
    Unit.RATIO: 1,
    Unit.M: 1,
}
"""Decimals with which a quantity is told: no finer than it is known (house values; degrees come with 1 to 3 of them)."""
FINER = {
    registry.CLUB_PATH: 1,
    registry.ATTACK_ANGLE: 1,
    registry.SMOOTHNESS: 2,
    registry.HAND_SMOOTHNESS: 2,
    registry.UPPER_BODY_SMOOTHNESS: 2,
    registry.ELBOW_GAP: 2,
    registry.SEQUENCE_GAP: 3,
    registry.BALANCE_SPEED: 1,
}
COARSER = {registry.STANCE_WIDTH: 0, registry.PRESSURE_PATH: 0, registry.PIVOT_HEIGHT: 0}


@pytest.mark.parametrize("metric", ALL, ids=lambda metric: metric.id)
def test_a_value_is_told_with_the_digits_of_its_quantity(metric):
    small = metric.of_putts and metric.unit is Unit.DEG  # a putt moves by a few degrees
    assert metric.decimals == (FINER | COARSER).get(metric, 1 if small else DIGITS[metric.unit])


def test_units_at_the_edge_are_those_of_the_si():
    """Against SciPy's constants (CODATA and the SI prefixes)."""
    per = {
        Unit.DEG: 1 / constants.degree,
        Unit.DEG_PER_S: 1 / constants.degree,
        Unit.CM: 1 / constants.centi,
        Unit.CM_PER_S: 1 / constants.centi,
        Unit.CM2: 1 / constants.centi**2,
        Unit.PERCENT: 1 / constants.centi,
        Unit.SECONDS: 1.0,
        Unit.RATIO: 1.0,
        Unit.M: 1.0,
    }
    assert set(per) == set(Unit) == set(PER_SI)
    assert {u: PER_SI[u] for u in Unit} == pytest.approx(per)
