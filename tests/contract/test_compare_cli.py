"""``finearc compare`` and ``finearc change`` from outside: their JSON, and what they refuse."""

from __future__ import annotations

import json

import pytest
from scipy.stats import ttest_ind

from finearc.cli.main import main
from finearc.formats.bundle import write_bundle
from finearc.golfer.scenarios import play
from finearc.services.modelled import capture_of

VALUE = {"event", "a", "b", "difference", "uncertainty"}


@pytest.fixture(scope="module")
def bundles(tmp_path_factory):
    """Two captures of one player: a cupped wrist, and one that is not."""
    folder = tmp_path_factory.mktemp("compared")
    paths = []
    for name in ("over-extended", "hold-then-flex"):
        paths.append(folder / f"{name}.zip")
        write_bundle(capture_of(play(name, 5)), paths[-1], {})
    return [str(p) for p in paths]


def told(capsys, *args):
    assert main([*args, "--json"]) == 0
    return json.loads(capsys.readouterr().out)


def refused(capsys, *args):
    assert main(list(args)) == 2
    said = capsys.readouterr()
    assert said.out == ""
    return said.err


def test_a_comparison_has_the_contracts_shape_and_says_what_differs(capsys, bundles):
    found = told(capsys, "compare", *bundles, "--metric", "lead_wrist_extension")
    assert (found["format"], found["version"]) == ("finearc-comparison", 1)
    assert any("Two calibrations" in n for n in found["notes"])
    (metric,) = found["metrics"]
    assert metric["metric"] == "lead_wrist_extension"
    assert all(v.keys() == VALUE for v in metric["values"])
    top = next(v for v in metric["values"] if v["event"] == "top")
    assert top["a"] - top["b"] == pytest.approx(top["difference"], abs=1e-5)
    assert top["difference"] > 10.0
    assert {"event", "shift_ms", "uncertainty_ms"} >= {k for s in metric["shifts"] for k in s}
    assert {"from", "to", "ratio", "uncertainty"} >= {k for i in metric["intensity"] for k in i}
    assert {"from", "to", "a", "b"} >= {k for s in metric["smoothness"] for k in s}
    assert metric["shape_rms"] > 0.0
    assert any("more extended" in s for s in metric["sentences"])


def test_two_swings_of_one_capture_are_compared_within_its_calibration(capsys, bundles):
    of = ("--metric", "lead_wrist_extension")
    within = told(capsys, "compare", bundles[0], bundles[0], "--swing-a", "1", "--swing-b", "2", *of)
    across = told(capsys, "compare", *bundles, "--swing-a", "1", "--swing-b", "2", *of)
    assert within["notes"] == []
    doubt = [next(v["uncertainty"] for v in f["metrics"][0]["values"] if v["event"] == "top") for f in (within, across)]
    assert doubt[0] < doubt[1]


def test_a_change_between_captures_is_what_its_values_say(capsys, bundles):
    of = ("--metric", "lead_wrist_extension", "--event", "top")
    (case,) = told(capsys, "change", *bundles, *of)["cases"]
    assert case["verdict"] == "changed"
    assert case["ci95"][0] < case["difference"] < case["ci95"][1] < 0.0
    (same,) = told(capsys, "change", bundles[0], bundles[0], *of)["cases"]
    assert (same["difference"], same["verdict"] != "changed") == (0.0, True)
    assert same["ci95"][0] == pytest.approx(-same["ci95"][1])


def test_cases_in_a_file_equal_scipys(capsys, tmp_path):
    before, after = [30.0, 31.5, 29.0, 33.0], [21.0, 20.0, 24.0]
    cases = [
        {"metric": "lead_wrist_extension", "event": "top", "before": before, "after": after},
        {"metric": "pelvis_sway", "event": "top", "before": [1.0, 2.0], "after": [1.0, 2.0, 3.0], "calibration_sd": 0},
        {"metric": "lead_share", "event": "impact", "before": [50.0, 60.0, 70.0], "after": [55.0, 66.0, 50.0]},
    ]
    path = tmp_path / "cases.json"
    path.write_text(json.dumps({"cases": cases}))
    found = told(capsys, "change", str(path))
    assert (found["format"], found["version"]) == ("finearc-change", 1)
    interval = ttest_ind(after, before, equal_var=False).confidence_interval(0.95)
    assert found["cases"][0]["ci95"] == pytest.approx([interval.low, interval.high], abs=1e-9)
    assert [c["verdict"] for c in found["cases"]] == ["changed", "too_few", "not_distinguishable"]
    assert [c["smallest_relevant"] for c in found["cases"]] == [2.0, 1.0, 3.0]
    assert (found["cases"][1]["ci95"], found["cases"][2]["more_swings"]) == (None, 31)


@pytest.mark.parametrize(
    ("args", "says"),
    [
        (["compare", "{0}", "{1}", "--metric", "pelvis_trn"], 'no measure "pelvis_trn"'),
        (["compare", "{0}", "{1}", "--metric", "pelvis_turn"], "pelvis_turn is not measured on both sides"),
        (["compare", "{0}", "{1}", "--swing-a", "9"], "has swings 1 to 5, not 9"),
        (["change", "{0}", "{1}"], "--metric M --event E"),
        (["change", "{0}", "{1}", "--metric", "lead_wrist_extension", "--event", "nowhere"], "It is read at "),
    ],
)
def test_what_cannot_be_compared_is_refused_in_words(capsys, bundles, args, says):
    assert says in refused(capsys, *(a.format(*bundles) for a in args))


@pytest.mark.parametrize(
    ("content", "says"),
    [
        ("{", "Invalid JSON"),
        ('{"cases": [{"metric": "lead_wrist_extension", "before": [1, NaN], "after": [2]}]}', "before.1"),
        ('{"cases": [{"metric": "lead_wrist_extension", "before": ["x"], "after": [2]}]}', "before.0"),
        ('{"cases": [{"metric": "nothing", "before": [1], "after": [2]}]}', 'no measure "nothing"'),
        ('{"cases": [{"metric": "lead_share", "before": [], "after": [], "calibration_sd": -1}]}', "calibration_sd"),
    ],
)
def test_a_file_of_cases_that_is_none_is_refused_in_words(capsys, tmp_path, content, says):
    path = tmp_path / "cases.json"
    path.write_text(content)
    assert says in refused(capsys, "change", str(path))
