"""What the model played before is the same as playing it again, and is played anew when the model changes."""

from __future__ import annotations

import numpy as np

from finearc.golfer import scenarios
from tests import simulated


def test_a_kept_recording_is_what_the_model_plays(tmp_path, monkeypatch):
    monkeypatch.setenv("FINEARC_SIMULATED", str(tmp_path))
    story = scenarios.scenario("setup-only")
    played = scenarios.play_story(story, 1, sources=("wrist",))
    (kept,) = (tmp_path / "simulated").glob("*.recording")
    written = kept.stat().st_mtime_ns
    again = scenarios.play_story(story, 1, sources=("wrist",))
    fresh = scenarios.play_story.__wrapped__(story, 1, sources=("wrist",))
    for a, b, c in zip(played.streams, again.streams, fresh.streams, strict=True):
        assert np.array_equal(a.gyr_rad_s, b.gyr_rad_s)
        assert np.array_equal(b.gyr_rad_s, c.gyr_rad_s)
        assert np.array_equal(b.acc_m_s2, c.acc_m_s2)
    assert len(list((tmp_path / "simulated").glob("*.recording"))) == 1
    scenarios.play_story(story, 2, sources=("wrist",))
    assert len(list((tmp_path / "simulated").glob("*.recording"))) == 2
    kept.write_bytes(b"cut off")
    assert np.array_equal(
        scenarios.play_story(story, 1, sources=("wrist",)).streams[0].gyr_rad_s, fresh.streams[0].gyr_rad_s
    )
    assert kept.stat().st_mtime_ns > written


def test_the_key_changes_with_the_model_and_all_it_imports(monkeypatch):
    files = {str(p.relative_to(simulated.SRC)) for p in simulated.model_files()}
    assert {"finearc/golfer/body.py", "finearc/core/signals/streams.py"} <= files
    assert not any(f.startswith(("finearc/api", "finearc/store", "finearc/services")) for f in files)
    before = simulated.source_key()
    monkeypatch.setattr(simulated, "model_files", lambda: sorted(simulated.SRC.rglob("golfer/ground.py")))
    simulated.source_key.cache_clear()
    try:
        assert simulated.source_key() != before
    finally:
        simulated.source_key.cache_clear()


def test_packed_columns_come_back_to_the_bit_and_can_be_written_to():
    rng = np.random.default_rng(3)
    columns = {
        "smooth": np.sin(np.linspace(0.0, 9.0, 30_000)).reshape(-1, 3),
        "rough": rng.normal(size=(500, 7)),
        "single": rng.normal(size=(33, 5)).astype(np.float32),
        "flags": rng.random(13) > 0.5,
        "gaps": np.array([1.0, np.nan, -0.0]),
        "turned": np.asfortranarray(rng.normal(size=(40, 3))),
        "none": np.empty((0, 3)),
    }
    block = simulated.written(columns)
    back = simulated.read(block)
    assert list(back) == list(columns)
    for name, column in columns.items():
        assert back[name].dtype == column.dtype
        assert np.array_equal(back[name], column, equal_nan=name == "gaps"), name
        assert back[name].tobytes() == column.tobytes(), name
        back[name][...] = 0
    smooth = {"smooth": columns["smooth"]}
    assert len(simulated.written(smooth)) < 0.8 * columns["smooth"].nbytes


def test_it_can_be_read_without_being_written_to(tmp_path, monkeypatch):
    """As while faults are put into the code that the model rests on."""
    monkeypatch.setenv("FINEARC_SIMULATED", str(tmp_path))
    monkeypatch.setenv("FINEARC_SIMULATED_READ_ONLY", "1")
    scenarios.play_story(scenarios.scenario("setup-only"), 1, sources=("wrist",))
    assert not list((tmp_path / "simulated").iterdir())


def test_it_can_be_left_out(tmp_path, monkeypatch):
    monkeypatch.setenv("FINEARC_SIMULATED", "off")
    assert simulated.folder() is None
