"""Captures and exports as tidy tables: finearc.read."""

from __future__ import annotations

import doctest
import io
import json
import zipfile
from pathlib import Path

import numpy as np
import pytest

import finearc
from finearc.core.errors import FineArcError
from finearc.formats.bundle import bundle_files, write_bundle
from finearc.golfer.scenarios import play
from finearc.services.judging.analysis import analyse
from finearc.services.modelled import capture_of
from finearc.services.record.result import result_of

PAGE = Path(__file__).parents[2] / "docs" / "python.md"


@pytest.fixture(scope="module")
def session(tmp_path_factory):
    """A bundle as a zip, and its capture."""
    data = capture_of(play("over-extended", 3, sources=("wrist", "club")))
    path = tmp_path_factory.mktemp("tidy") / "session.zip"
    write_bundle(data, path)
    return path, data


def test_the_worked_page_runs_as_it_stands(session, monkeypatch):
    monkeypatch.chdir(session[0].parent)
    found = doctest.testfile(str(PAGE), module_relative=False, optionflags=doctest.NORMALIZE_WHITESPACE)
    assert found.attempted >= 15
    assert found.failed == 0


def test_a_bundle_has_what_analyze_prints(session):
    path, data = session
    tables, result = finearc.read(path), result_of(analyse(data), traces=True)
    kept = tables.values.to_pylist()
    told = [(n, m) for n, s in enumerate(result.swings, 1) for m in s.metrics]
    assert len(kept) == len(told)
    for row, (number, m) in zip(kept, told, strict=True):
        assert (row["swing"], row["metric"], row["event"], row["unit"]) == (number, m.metric, m.event, m.unit)
        assert row["value"] == pytest.approx(m.value, abs=1e-3)
        assert row["verdict"] == m.verdict
    assert {e["event"] for e in tables.events.to_pylist()} == {k for s in result.swings for k in s.events}
    traces = tables.traces.to_pandas()
    first = traces[traces.swing == 1]
    wanted = result.swings[0].traces["lead_wrist_extension"]
    assert len(first) == len(wanted)
    known = [k for k, v in enumerate(wanted) if v is not None]
    np.testing.assert_allclose(first.lead_wrist_extension.iloc[known], [wanted[k] for k in known], atol=0.01)


def test_traces_can_be_left_out_and_a_folder_reads_as_its_zip(session, tmp_path):
    path, data = session
    for name, content in bundle_files(data).items():
        (tmp_path / name).write_bytes(content)
    short = finearc.read(tmp_path, traces=False)
    assert short.traces.num_rows == 0
    both = [t.values.drop_columns(["source"]).to_pylist() for t in (short, finearc.read(path, traces=False))]
    assert both[0] == both[1]


def test_every_table_names_whose_and_which_swing_it_is(session):
    tables = finearc.read(session[0], traces=False)
    for name in ("swings", "events", "values", "findings"):
        assert getattr(tables, name).column_names[:4] == ["source", "player", "lesson", "swing"]


def export(files, name="export.zip", folder=None):
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w") as archive:
        for file, text in files.items():
            archive.writestr(file, text)
    path = folder / name
    path.write_bytes(content.getvalue())
    return path


MANIFEST = {"format": "finearc-archive", "version": 2}


@pytest.mark.parametrize(
    ("files", "said"),
    [
        ({"manifest.json": json.dumps({**MANIFEST, "version": 9})}, "newer Fine Arc"),
        ({"manifest.json": json.dumps({"format": "something"})}, "no export of Fine Arc"),
        ({"manifest.json": "{"}, "no JSON"),
        ({"manifest.json": json.dumps(MANIFEST), "lesson.json": '{"lesson": '}, "cut off"),
        ({"readme.txt": "hello"}, "capture.json is missing"),
    ],
)
def test_what_cannot_be_read_says_what_and_what_to_do(files, said, tmp_path):
    with pytest.raises(FineArcError, match=said):
        finearc.read(export(files, folder=tmp_path))


def test_half_a_zip_and_nothing_at_all(session, tmp_path):
    half = tmp_path / "half.zip"
    half.write_bytes(session[0].read_bytes()[:5000])
    for path in (half, tmp_path / "nowhere"):
        with pytest.raises(FineArcError):
            finearc.read(path)
