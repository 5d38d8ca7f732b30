"""A new kind of source is one module and one line: from its file through the database to the numbers on the screen."""

from __future__ import annotations

import json
import zipfile
from io import BytesIO

import numpy as np
import pytest
from pydantic import ValidationError

from finearc.cli.main import main
from finearc.core.sources.inertial import INERTIAL
from finearc.formats import kinds
from finearc.formats.bundle import bundle_files, read_zip, zip_bytes
from finearc.formats.manifest import manifest_type
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of
from tests.api.conftest import drop, measure_again, new_lesson
from tests.toy.shaft_clip import LOOSE, REGISTERED, SECOND, SECOND_CLIP, ClipStream


@pytest.fixture(autouse=True)
def registered(monkeypatch):
    monkeypatch.setattr(kinds, "KINDS", (*kinds.KINDS, REGISTERED))


@pytest.fixture(scope="module")
def recording():
    return play("over-extended", 11, sources=("wrist", "club"))


def with_clip(recording, *, loose=False):
    clip = ClipStream(recording.truth.time_s[::4], recording.truth.shaft_elevation[::4], loose)
    return capture_of(recording).with_stream(SECOND, clip)


def second(metrics, moment="top"):
    return next(v for v in metrics if (v["metric"], v["moment"]) == ("shaft_elevation", moment))


def test_it_is_read_stored_shown_and_measured_again(browser, recording):
    content = zip_bytes(bundle_files(with_clip(recording)))
    lesson_id = new_lesson(browser)
    assert drop(browser, lesson_id, content).status_code == 201
    lesson = browser.lesson(lesson_id)
    assert "second_clip" in lesson["recordings"][0]["segments"]
    swing = browser.swing(lesson["swings"][2]["id"])
    at_top = second(swing["metrics"])
    assert at_top["source"] == SECOND_CLIP, "it is the most certain"
    assert [o["source"] for o in at_top["others"]] == ["club clip"]
    true = np.rad2deg(
        np.interp(recording.truth.swings[2].times_s["top"], recording.truth.time_s, recording.truth.shaft_elevation)
    )
    assert at_top["value"] == pytest.approx(true, abs=1.0)

    measure_again(browser)
    assert browser.swing(swing["id"])["metrics"] == swing["metrics"]

    export = browser.get(f"/lessons/{lesson_id}/export").content
    with zipfile.ZipFile(BytesIO(export)) as archive:
        inner = next(n for n in archive.namelist() if n.endswith("capture.json"))
        listed = {s["kind"] for s in json.loads(archive.read(inner))["streams"]}
    assert listed == {"imu", "second_clip"}


def test_alone_it_gives_what_it_can_and_says_what_is_missing(recording):
    data = with_clip(recording).with_stream(INERTIAL, None)
    reading = an.read(data)
    assert reading.present == (SECOND_CLIP,)
    assert set(reading.swings[0].traces) == {"shaft_elevation", "shaft_elevation_rate"}


def test_unusable_it_says_why_where_nothing_else_measures_that(recording):
    data = with_clip(recording, loose=True)
    assert any(LOOSE in note for note in an.read(data).notes)
    swing = an.read(
        data.with_stream(INERTIAL, [s for s in data.streams[INERTIAL] if s.segment.value != "club"])
    ).swings[0]
    assert LOOSE in {k.id: why for k, why in swing.lacking.items()}["shaft_elevation"]


def test_its_entry_is_part_of_the_manifest_while_it_is_registered(recording, monkeypatch, capsys):
    content = zip_bytes(bundle_files(with_clip(recording)))
    assert read_zip(content).streams[SECOND].elevation_rad == pytest.approx(
        recording.truth.shaft_elevation[::4], abs=1e-6
    )
    assert main(["schema", "manifest"]) == 0
    assert "ClipEntry" in json.loads(capsys.readouterr().out)["$defs"]
    with zipfile.ZipFile(BytesIO(content)) as archive:
        manifest = json.loads(archive.read("capture.json"))
    monkeypatch.undo()
    with pytest.raises(ValidationError, match="second_clip"):
        manifest_type().model_validate(manifest)
