"""What the model played before is the same as playing it again, and is played anew when the model changes."""

from __future__ import annotations

import numpy as np

from finearc.golfer import scenarios
from tests import simulated


def test_a_kept_recording_is_what_the_model_plays(tmp_path, monkeypatch):
    monkeypatch.setenv("FINEARC_SIMULATED", str(tmp_path))
    story = scenarios.scenario("setup-only")
    played = scenarios.play_story(story, 1, sources=("wrist",))
    (kept,) = (tmp_path / "simulated").glob("*.pickle")
    written = kept.stat().st_mtime_ns
    again = scenarios.play_story(story, 1, sources=("wrist",))
    fresh = scenarios.play_story.__wrapped__(story, 1, sources=("wrist",))
    for a, b, c in zip(played.streams, again.streams, fresh.streams, strict=True):
        assert np.array_equal(a.gyr_rad_s, b.gyr_rad_s)
        assert np.array_equal(b.gyr_rad_s, c.gyr_rad_s)
        assert np.array_equal(b.acc_m_s2, c.acc_m_s2)
    assert len(list((tmp_path / "simulated").glob("*.pickle"))) == 1
    scenarios.play_story(story, 2, sources=("wrist",))
    assert len(list((tmp_path / "simulated").glob("*.pickle"))) == 2
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


def test_it_can_be_left_out(tmp_path, monkeypatch):
    monkeypatch.setenv("FINEARC_SIMULATED", "off")
    assert simulated.folder() is None
