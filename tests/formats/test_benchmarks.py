"""Ranges, findings and drills as files: out and in again, and what is said of a file that is not right."""

from __future__ import annotations

import pytest

from finearc.catalogue import library, schemas
from finearc.catalogue.rule_set import built_in, compose, read_academy_rules
from finearc.catalogue.toml_file import DataFileError, line_of
from finearc.cli.main import main
from finearc.formats.benchmarks import academy_rules_toml, ranges_csv, ranges_toml, read_ranges

RANGE = """version = "ours"

[[range]]
id = "A"
metric = "tempo"
event = "swing"
low = 2.0
high = 3.0
provenance = "CP"

[[range]]
id = "B"
metric = "thorax_turn"
event = "top"
low = 80.0
high = 95.0
provenance = "HOUSE"
"""
OWN = """
[[finding]]
id = "hurried"
label = "Hurried"
plain_label = "A hurried beat"
phase = "transition"
level = "hands"
weight = 0.5
when = { kind = "below", ranges = ["C2"], strict = true }
says = "The tempo is {value}."
player_says = "The beat is quicker than the band."
tends = "That tends to hurry the strike."
may_cause = ["early_release"]
drills = ["metronome"]
[[finding.example]]
values = { "tempo@swing" = 1.9 }
fires = true
[[finding.example]]
values = { "tempo@swing" = 3.0 }
fires = false

[[drill]]
id = "metronome"
label = "Metronome"
how = "Swing to a beat."
feel = "The same beat every time."
"""
NONE = schemas.AcademyRulesFile()


def refusal(text, name="ours.toml"):
    with pytest.raises(DataFileError) as error:
        read_ranges(text.encode(), name)
    return str(error.value)


def test_toml_and_csv_come_back_as_they_went_out():
    ours = library.ranges()
    assert read_ranges(ranges_toml(ours).encode(), "x.toml").ranges == ours.ranges
    again = read_ranges(ranges_csv(ours).encode(), "builtin.csv")
    assert again.ranges == ours.ranges
    assert again.version == "builtin"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (("low = 80.0", "low = 99.0"), "line 15: range.1: range B: low 99.0 is above high 95.0"),
        (
            ('"thorax_turn"', '"thorax_trn"'),
            'line 12: range B: there is no metric "thorax_trn", did you mean "thorax_turn"?',
        ),
        (('event = "top"', 'event = "topp"'), 'line 12: range B: there is no moment "topp", did you mean "top"?'),
        (('id = "B"', 'id = "A"'), "range A stands twice"),
        (
            ("low = 80.0\nhigh = 95.0", "lo = 80.0\nhigh = 95.0"),
            'line 15: range.1: unknown key "lo", did you mean "low"?',
        ),
        (("high = 95.0", "high = "), "line 16: not valid TOML"),
        (("high = 95.0\n", ""), "needs a scale"),
        (('provenance = "HOUSE"', 'provenance = "HOUSE"\nsoft_low = -1.0'), "line 18: range.1.soft_low"),
        (
            ('provenance = "HOUSE"', 'provenance = "HOUSE"\nschool = { pelvis = "loose" }'),
            'school pelvis has no "loose"',
        ),
        (('provenance = "HOUSE"', 'provenance = "HOUSE"\nschool = { hips = "free" }'), 'there is no school "hips"'),
        (('provenance = "HOUSE"', 'provenance = "GUESS"'), "line 17: range.1.provenance"),
    ],
)
def test_a_wrong_range_is_refused_with_file_and_line(change, said):
    message = refusal(RANGE.replace(*change))
    assert message.startswith("ours.toml")
    assert said in message


def test_two_ranges_that_would_judge_the_same_swings_are_refused():
    twin = RANGE + RANGE.split("\n\n", 1)[1].split("\n\n")[1].replace('id = "B"', 'id = "C"').replace("80.0", "70.0")
    message = refusal(twin)
    assert "ranges B and C overlap" in message
    assert "line 19" in message
    apart = twin.replace('id = "C"', 'id = "C"\nclub_class = "driver"')
    assert len(read_ranges(apart.encode(), "ours.toml").ranges) == 3
    met = apart.replace('id = "B"', 'id = "B"\nclub_class = "wood"')
    assert "overlap" in refusal(met)  # a driver is a wood


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("id,metric,event,provenance,low,hihg\n", "line 1: unknown column"),
        ("id,metric\n", "line 1: needs the columns"),
        ("id,metric,event,provenance,low,high\nA,tempo,swing,CP,2,three\n", 'line 2: high: "three" is no number'),
        (
            "id,metric,event,provenance,low,high\nA,tempo,swing,CP,3,2\n",
            "line 2: file: range A: low 3.0 is above high 2.0",
        ),
        ("id,metric,event,provenance,low,high\nA,tempoo,swing,CP,2,3\n", "line 2: range A: there is no metric"),
        ("id,metric,event,provenance,low,high\nA,tempo,swing,CP,2\n", "line 2: as many cells"),
        (
            "id,metric,event,provenance,low,high\nA,tempo,swing,CP,2,3\nA,tempo,swing,CP,2,3\n",
            "line 3: range A stands twice",
        ),
    ],
)
def test_a_wrong_table_is_refused_with_its_line(text, said):
    assert said in refusal(text, "ours.csv")


def test_a_cell_that_a_spreadsheet_would_run_is_escaped_and_read_back():
    entry = library.ranges().entries[0].model_copy(update={"note": "=1+1", "id": "X"})
    library_of_one = library.range_library(schemas.RangeFile(version="v", range=[entry]), "v")
    table = ranges_csv(library_of_one)
    assert "'=1+1" in table
    assert read_ranges(table.encode(), "v.csv").entries[0].note == "=1+1"


def test_not_a_text_file_is_said():
    with pytest.raises(DataFileError, match="not a text file"):
        read_ranges(b"\xff\xfe\x00", "x.toml")


def test_an_academys_findings_and_drills_join_the_built_in_ones():
    own = read_academy_rules(OWN, "own.toml", library.ranges(), NONE)
    rule_set = compose(library.ranges(), own)
    assert rule_set.rule("hurried").own
    assert rule_set.drills["metronome"].own
    assert len(rule_set.rules) == len(built_in().rules) + 1
    assert read_academy_rules(academy_rules_toml(own), "own.toml", library.ranges(), NONE) == own


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (('may_cause = ["early_release"]', 'may_cause = ["hurried"]'), 'line 3: finding "hurried" is its own cause'),
        (
            ('may_cause = ["early_release"]', 'may_cause = ["early_relese"]'),
            'there is no finding "early_relese", did you mean',
        ),
        (
            ('drills = ["metronome"]', 'drills = ["metronom"]'),
            'there is no drill "metronom", did you mean "metronome"?',
        ),
        (('ranges = ["C2"]', 'ranges = ["C22"]'), 'there is no range "C22", did you mean "C2"?'),
        (('id = "hurried"', 'id = "flip"'), 'line 3: finding "flip" is built in'),
        (('"tempo@swing" = 1.9', '"tempo@swing" = 3.1'), "its example 1 does not fire"),
        (("The beat is quicker than the band.", "A weak, lazy beat."), 'a player would read "weak"'),
        (("weight = 0.5", "wieght = 0.5"), 'line 8: finding.0: unknown key "wieght", did you mean "weight"?'),
        (("fires = false", "fires = true"), "an example that fires and one that does not"),
        (('phase = "transition"', 'phase = "later"'), "line 6: finding.0.phase"),
    ],
)
def test_a_wrong_finding_is_refused_with_file_and_line(change, said):
    with pytest.raises(DataFileError) as error:
        read_academy_rules(OWN.replace(*change), "own.toml", library.ranges(), NONE)
    assert str(error.value).startswith("own.toml")
    assert said in str(error.value)


def test_a_cycle_through_a_built_in_finding_is_refused():
    ring = (
        OWN.replace('may_cause = ["early_release"]', 'may_cause = ["second"]')
        + OWN.replace('id = "hurried"', 'id = "second"')
        .replace('may_cause = ["early_release"]', 'may_cause = ["hurried"]')
        .split("[[drill]]")[0]
    )
    with pytest.raises(DataFileError, match="cycle of causes"):
        read_academy_rules(ring, "own.toml", library.ranges(), NONE)


def test_the_line_is_that_of_the_key():
    assert line_of(RANGE, ("range", 1, "high")) == 16
    assert line_of(RANGE, ("version",)) == 1
    assert line_of(RANGE, ("range", 0)) == 3


def test_the_command_line_judges_by_a_file_and_refuses_a_wrong_one(tmp_path, capsys):
    file = tmp_path / "ours.toml"
    file.write_text(RANGE.replace("low = 80.0", "low = 99.0"))
    assert main(["analyze", str(tmp_path), "--benchmarks", str(file)]) == 2
    assert "ours.toml, line 15" in capsys.readouterr().err
