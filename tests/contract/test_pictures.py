"""Pictures of drills: every drill has one, what they are drawn from is the golfer model's, and the page shows them."""

import json
import re

import pytest
from tools.poses import MOMENTS, TARGET, poses

from finearc.catalogue import library, schemas
from finearc.catalogue.interface import HEAD, pictures_module
from finearc.catalogue.pictures import known_picture, pictures
from finearc.catalogue.toml_file import DataFileError
from finearc.reports.drill_picture import FOLDER, drill_picture


def test_every_drill_has_a_picture_and_every_picture_a_drill():
    used = {d.id: d.picture for d in library.drill_entries()}
    assert [d for d, p in used.items() if not p] == []
    assert set(used.values()) == set(pictures())


def test_the_page_has_every_picture_in_its_own_colours():
    assert {f.stem for f in FOLDER.glob("*.svg")} == set(pictures())
    for name in pictures():
        drawn = drill_picture(name)
        assert drawn.startswith("<svg")
        assert "var(" not in drawn
        assert "aria-label=" in drawn
    assert drill_picture("") == drill_picture("nothing-of-the-kind") == ""


def test_a_picture_that_is_not_known_is_refused_with_those_that_are():
    entry = schemas.DrillEntry(id="x", label="X", how="So.", feel="Thus.", picture="wal")
    with pytest.raises(DataFileError, match='no picture "wal"; known: fingers'):
        library.drill_of(entry, "own.toml")
    assert known_picture("", "own.toml") == ""


def test_the_interface_draws_from_the_same_names():
    text = pictures_module()
    assert text.startswith(HEAD)
    plain = re.sub(r'tr\((".*?")\)', r"\1", text)
    shown = json.loads(plain.removeprefix(f"{HEAD}export const PICTURES = ").removesuffix(" as const;\n"))
    assert shown["wall_at_impact"] == {
        "label": "the seat by a wall, at the strike",
        "shows": "figure",
        "pose": "impact",
        "eye": "line",
        "things": ["wall"],
        "arrows": [],
    }


@pytest.mark.slow
def test_the_poses_are_the_golfer_models_swing():
    kept, made = json.loads(TARGET.read_text()), poses()
    assert tuple(kept) == tuple(made) == MOMENTS
    for moment in MOMENTS:
        assert set(kept[moment]) == set(made[moment])
        for joint, place in made[moment].items():
            assert kept[moment][joint] == pytest.approx(place, abs=3), (moment, joint)
