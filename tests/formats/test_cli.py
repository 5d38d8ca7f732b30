"""The command line, as formats and contract say."""

from __future__ import annotations

import json

import numpy as np
import pytest
from pyarrow import parquet

from finearc.cli.main import main
from finearc.formats.tables import csv_table, safe_cell
from finearc.services.record.result import Result


@pytest.fixture(scope="module")
def bundle(tmp_path_factory):
    out = tmp_path_factory.mktemp("cli") / "session"
    assert main(["simulate", "--scenario", "over-extended", "--sources", "wrist,club", "--seed", "11", str(out)]) == 0
    return out


def run(capsys, *args):
    code = main([str(a) for a in args])
    captured = capsys.readouterr()
    return code, captured.out, captured.err


def test_simulate_writes_a_bundle_and_its_truth_deterministically(bundle, tmp_path, capsys):
    assert {p.name for p in bundle.iterdir()} == {
        "capture.json",
        "lead_forearm.csv",
        "lead_hand.csv",
        "club.csv",
        "truth.json",
    }
    again = tmp_path / "again"
    run(capsys, "simulate", "--scenario", "over-extended", "--sources", "wrist,club", "--seed", 11, again)
    assert all((again / p.name).read_bytes() == p.read_bytes() for p in bundle.iterdir())


def test_analyze_prints_a_table_for_people(bundle, capsys):
    code, out, _ = run(capsys, "analyze", bundle)
    assert code == 0
    assert "Over-extended at the top: finding, 5 of 5 swings" in out
    assert "swing 1" in out


def test_analyze_json_is_the_contract(bundle, capsys):
    code, out, _ = run(capsys, "analyze", bundle, "--json")
    assert code == 0
    result = json.loads(out)
    Result.model_validate({**result, "swings": [{**s, "traces": None} for s in result["swings"]]})
    assert (result["format"], result["version"], result["benchmarks"]) == ("finearc-result", 1, "builtin-5")
    assert 0 < result["calibration"]["quality"] <= 1
    swing = result["swings"][0]
    assert "traces" not in swing
    assert set(swing["events"]["top"]) == {"time_s", "uncertainty_s", "method", "confidence", "others"}
    top = next(m for m in swing["metrics"] if (m["metric"], m["event"]) == ("lead_wrist_extension", "top"))
    assert top["unit"] == "deg"
    assert top["range_id"] == "W3a"
    assert top["verdict"] == "high"
    assert {"metric": "pelvis_sway", "reason": "needs pelvis markers"} in swing["missing"]
    finding = next(f for f in swing["findings"] if f["finding"] == "over_extended_top")
    assert (finding["role"], finding["status"]) == ("root", "finding")
    assert "band" in finding["evidence"][0]


def test_values_agree_with_the_truth_beside_the_bundle(bundle, capsys):
    truth = json.loads((bundle / "truth.json").read_text())
    result = json.loads(run(capsys, "analyze", bundle, "--json", "--traces")[1])
    for swing, true in zip(result["swings"], truth["swings"], strict=True):
        for key in ("address", "top", "impact"):
            m = next(m for m in swing["metrics"] if (m["metric"], m["event"]) == ("lead_wrist_extension", key))
            expected = np.interp(true["events"][key], truth["time_s"], truth["lead_wrist_extension"])
            assert abs(m["value"] - expected) < 3.5 * m["uncertainty"]
        assert len(swing["traces"]["time_s"]) == len(swing["traces"]["lead_wrist_extension"])


def test_a_school_changes_verdicts_and_no_measurement(bundle, capsys):
    hold = json.loads(run(capsys, "analyze", bundle, "--json")[1])
    flat = json.loads(run(capsys, "analyze", bundle, "--json", "--school", "lead_wrist=flat")[1])
    for a, b in zip(hold["swings"], flat["swings"], strict=True):
        assert [m["value"] for m in a["metrics"]] == [m["value"] for m in b["metrics"]]
        ids = [{m["range_id"] for m in s["metrics"]} for s in (a, b)]
        assert "W3a" in ids[0] - ids[1]
        assert "W3b" in ids[1] - ids[0]


def test_an_academys_own_ranges(bundle, tmp_path, capsys):
    own = tmp_path / "own.toml"
    own.write_text(
        'version = "harbour-3"\n[[range]]\nid = "H1"\nmetric = "tempo"\nevent = "swing"\nlow = 5.0\nhigh = 6.0\n'
        'provenance = "ACADEMY"\n'
    )
    result = json.loads(run(capsys, "analyze", bundle, "--json", "--benchmarks", own)[1])
    assert result["benchmarks"] == "harbour-3"
    assert {m["verdict"] for m in result["swings"][0]["metrics"]} == {"low", "not_judged"}


@pytest.mark.parametrize(
    ("args", "words"),
    [
        (["analyze", "nowhere"], "nowhere: no such file"),
        (["analyze", "{bundle}", "--school", "lead_wrist"], "axis=option"),
        (["analyze", "{bundle}", "--school", "lead_wrist=flatt"], "known: hold, flat, early_flex"),
        (["analyze", "{bundle}", "--benchmarks", "nowhere.toml"], "no such file"),
        (["simulate", "--scenario", "flp", "out"], 'did you mean "flip"'),
        (["simulate", "--sources", "wrist,mat", "out"], "cannot be simulated"),
        (["convert", "{bundle}", "angles.xyz"], "is not known"),
        (["convert", "{bundle}", "angles.c3d"], "needs markers"),
        (["convert", "{bundle}", "angles.trc"], "needs markers"),
    ],
)
def test_unusable_input_ends_with_2_and_one_clear_line(bundle, args, words, capsys):
    code, out, err = run(capsys, *(str(bundle) if a == "{bundle}" else a for a in args))
    assert (code, out) == (2, "")
    assert err.startswith("finearc: ")
    assert err.count("\n") == 1
    assert words in err


def test_poses_too_close_give_no_values(tmp_path, capsys):
    out = tmp_path / "close"
    run(capsys, "simulate", "--scenario", "poses-too-close", "--seed", 4, out)
    code, printed, err = run(capsys, "analyze", out, "--json")
    assert (code, printed) == (2, "")
    assert "at least 30° is needed" in err


def test_convert_to_csv_parquet_and_mot_says_the_same(bundle, tmp_path, capsys):
    for ending in ("csv", "parquet", "mot"):
        assert run(capsys, "convert", bundle, tmp_path / f"angles.{ending}")[0] == 0
    table = parquet.read_table(tmp_path / "angles.parquet")
    extension = table.column("lead_wrist_extension").to_numpy()
    csv = np.genfromtxt(tmp_path / "angles.csv", delimiter=",", names=True)
    assert csv["lead_wrist_extension"] == pytest.approx(extension)
    lines = (tmp_path / "angles.mot").read_text().splitlines()
    head = lines.index("endheader")
    assert f"nRows={len(extension)}" in lines[:head]
    column = lines[head + 1].split("\t").index("lead_wrist_extension")
    mot = [float(row.split("\t")[column]) for row in lines[head + 2 :]]
    assert mot == pytest.approx(extension, rel=1e-6)


def test_left_handed_twin_prints_the_same_numbers(tmp_path, capsys):
    out = []
    for hand in ("right", "left"):
        run(capsys, "simulate", "--scenario", "dip", "--seed", 8, "--hand", hand, tmp_path / hand)
        out.append(json.loads(run(capsys, "analyze", tmp_path / hand, "--json")[1])["swings"])
    for a, b in zip(*out, strict=True):
        for x, y in zip(a["metrics"], b["metrics"], strict=True):
            assert x["value"] == pytest.approx(y["value"], abs=1e-4)
            assert x["verdict"] == y["verdict"]


@pytest.mark.parametrize("what", ["manifest", "result"])
def test_schemas_are_json_schema(what, capsys):
    code, out, _ = run(capsys, "schema", what)
    assert code == 0
    assert json.loads(out)["properties"]["format"]["const"].startswith("finearc-")


@pytest.mark.parametrize("start", ["=", "+", "-", "@"])
def test_cells_a_spreadsheet_would_run_are_escaped(start):
    assert safe_cell(f"{start}1+1") == f"'{start}1+1"
    assert safe_cell(-3.5) == -3.5
    assert csv_table(["a"], [[f"{start}x"]]) == f"a\n'{start}x\n"
