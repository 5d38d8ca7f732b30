"""The strike found in a sound: against invented sounds whose instant is known."""

import numpy as np
import pytest

from finearc.core.signals.strike_sound import AWAY_M, AWAY_SD_M, SOUND_M_S, strike_of

RATE_HZ = 48_000
LATE_S = AWAY_M / SOUND_M_S


def bay(rng, seconds=6.0, *, talk=0.02, hum=0.01):
    """A bay in which somebody talks and something hums: voiced sounds below 1 kHz in syllables, mains with harmonics,
    a little noise."""
    t = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    pitch = 120.0 * (1.0 + 0.1 * np.sin(2 * np.pi * 0.7 * t))
    phase = 2 * np.pi * np.cumsum(pitch) / RATE_HZ
    syllables = np.clip(np.sin(2 * np.pi * 3.5 * t + rng.uniform(0, 6)), 0, None)
    voice = sum(np.sin(k * phase) / k for k in range(1, 9)) * syllables
    mains = sum(np.sin(2 * np.pi * 50.0 * k * t) / k for k in (1, 2, 3))
    return t, talk * voice + hum * mains + 0.002 * rng.standard_normal(len(t))


def burst(t, rng, at_s, loud, *, fades_s=0.006, rises_s=0.0):
    """Noise that begins at once, or within ``rises_s``, and dies away."""
    since = t - at_s
    shape = np.where(since >= 0, np.exp(-since / fades_s), 0.0)
    if rises_s:
        shape *= np.clip(since / rises_s, 0.0, 1.0)
    return loud * shape * rng.standard_normal(len(t))


@pytest.mark.parametrize("seed", range(12))
def test_the_strike_is_found_within_what_is_stated(seed):
    """The microphone stands 1 to 4 m away; a screen sounds later and as loud."""
    rng = np.random.default_rng(seed)
    t, sound = bay(rng)
    struck_s, away_m = rng.uniform(2.0, 4.0), rng.uniform(1.0, 4.0)
    heard_s = struck_s + away_m / SOUND_M_S
    sound = sound + burst(t, rng, heard_s, 0.5)
    sound = sound + burst(t, rng, heard_s + rng.uniform(0.05, 0.15), 0.6, fades_s=0.02, rises_s=0.004)
    found = strike_of(sound, RATE_HZ)
    assert found is not None
    assert found.clear
    assert abs(found.time_s - struck_s) < 2.0 * found.sd_s + 0.001
    assert found.sd_s == pytest.approx(AWAY_SD_M / SOUND_M_S, rel=0.1)


def test_the_sounds_time_less_the_sounds_way_is_the_edge_to_a_thousandth():
    rng = np.random.default_rng(3)
    t, sound = bay(rng)
    found = strike_of(sound + burst(t, rng, 3.0, 0.5), RATE_HZ)
    assert found.time_s + LATE_S == pytest.approx(3.0, abs=0.0015)


@pytest.mark.parametrize("seed", range(6))
def test_talk_hum_music_and_silence_are_no_strike(seed):
    rng = np.random.default_rng(seed)
    t, sound = bay(rng, talk=0.3, hum=0.1)
    assert strike_of(sound, RATE_HZ) is None
    notes = sum(np.sin(2 * np.pi * f * t) * np.clip(np.sin(2 * np.pi * 2 * t), 0, None) for f in (440, 880, 1760))
    assert strike_of(0.2 * notes + sound, RATE_HZ) is None
    assert strike_of(np.zeros(RATE_HZ), RATE_HZ) is None


def test_a_fainter_click_before_is_not_taken_and_a_second_strike_makes_it_unclear():
    rng = np.random.default_rng(5)
    t, sound = bay(rng)
    put_down = burst(t, rng, 1.0, 0.06)  # a club touches the mat at address
    found = strike_of(sound + put_down + burst(t, rng, 3.0, 0.5), RATE_HZ)
    assert found.clear
    assert found.time_s + LATE_S == pytest.approx(3.0, abs=0.002)
    twice = sound + burst(t, rng, 1.5, 0.45) + burst(t, rng, 4.0, 0.5)
    assert not strike_of(twice, RATE_HZ).clear
    told = strike_of(twice, RATE_HZ, near=(1.0, 2.0))
    assert told.clear
    assert told.time_s + LATE_S == pytest.approx(1.5, abs=0.002)


@pytest.mark.parametrize(("length", "rate_hz"), [(0, RATE_HZ), (4000, RATE_HZ), (8000, 4000)])
def test_too_little_sound_says_nothing(length, rate_hz):
    assert strike_of(np.random.default_rng(1).standard_normal(length), rate_hz) is None


def test_values_that_are_no_numbers_say_nothing():
    assert strike_of(np.full(RATE_HZ, np.nan), RATE_HZ) is None
