"""Videos as they come: their container made anew, their sound listened to, what is none refused in words."""

from __future__ import annotations

import io
from functools import lru_cache

import av
import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.formats.errors import BundleError
from finearc.formats.film import BEFORE_S, film, filmed_impact_s
from finearc.formats.video import read_clip
from finearc.golfer.scenarios import play
from finearc.services.capture.clips import MOST_BYTES


@lru_cache(maxsize=8)
def filmed(**how):
    return film(play("over-extended", 5), **how)


def made(codec, container, *, seconds=1.0, rate=30, size=(64, 64), place=""):
    """A video of a grey square by a codec."""
    out = io.BytesIO()
    with av.open(out, "w", format=container) as file:
        stream = file.add_stream(codec, rate=rate)
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        file.metadata["comment"] = place
        for k in range(round(seconds * rate)):
            grey = np.full((size[1], size[0], 3), 40 + k % 100, np.uint8)
            frame = av.VideoFrame.from_ndarray(grey, format="rgb24")
            frame.pts = k
            file.mux(stream.encode(frame))
        file.mux(stream.encode(None))
    return out.getvalue()


def pictures(content):
    with av.open(io.BytesIO(content)) as file:
        return [(float(f.pts * f.time_base), f.to_ndarray(format="rgb24")) for f in file.decode(video=0)]


@pytest.mark.parametrize("how", [{}, {"kind": "webm"}, {"view": "line"}, {"away_m": 4.0}])
def test_a_filmed_swing_is_laid_on_its_strike(how):
    read = read_clip("swing", filmed(**how))
    truth = filmed_impact_s(play("over-extended", 5))
    assert truth == BEFORE_S
    assert read.sound
    assert read.strike.clear
    assert abs(read.strike.time_s - truth) < 2.0 * read.strike.sd_s + 0.003  # a sound's codec smears its edge
    assert (read.width, read.height) == (404, 720)
    assert read.rate_hz == pytest.approx(60.0, rel=0.03)  # WebM's clock has whole milliseconds


def test_what_is_kept_shows_the_same_pictures_at_the_same_times():
    content = filmed()
    read = read_clip("swing", content)
    before, after = pictures(content), pictures(read.content)
    assert [round(t, 4) for t, _ in after] == [round(t - before[0][0], 4) for t, _ in before]
    assert all(np.array_equal(a, b) for (_, a), (_, b) in zip(before, after, strict=True))
    assert read_clip("again", read.content).strike == read.strike
    assert read.content.index(b"moov") < read.content.index(b"mdat")  # it can be wound before all of it is there


def test_where_and_by_what_it_was_recorded_is_left_out():
    content = made("libx264", "mp4", place="at the harbour, +52.1+004.3/")
    assert b"harbour" in content
    assert b"harbour" not in read_clip("swing", content).content


def test_pictures_keep_to_a_container_that_browsers_play():
    assert read_clip("a", made("libx264", "matroska")).kind == "video/mp4"
    assert read_clip("b", made("libvpx", "matroska")).kind == "video/webm"
    assert read_clip("c", made("libvpx-vp9", "webm")).kind == "video/webm"


def test_a_video_without_sound_is_taken_and_says_nothing_of_the_strike():
    read = read_clip("silent", filmed(sound=False))
    assert (read.sound, read.strike) == (False, None)


def test_a_strike_is_looked_for_where_it_is_expected():
    assert read_clip("swing", filmed(), near=(2.0, 3.0)).strike.clear
    assert read_clip("swing", filmed(), near=(3.0, 4.0)).strike is None


def test_a_left_hander_is_filmed_the_other_way_round():
    right, left = (pictures(film(play("over-extended", 5, hand=h)))[0][1].astype(int) for h in (Hand.RIGHT, Hand.LEFT))
    assert np.abs(right - left[:, ::-1]).mean() < np.abs(right - left).mean() / 2


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "an empty file"),
        (b"time,x\n0,1\n" * 100, "not a video that can be read"),
        (b"\x00\x00\x00\x18ftypmp42" + bytes(2000), "not a video that can be read"),
        (filmed()[:4000], "not a video that can be read"),
        (made("mpeg4", "mp4"), "browsers do not play its kind of picture (mpeg4)"),
        (made("libx265", "mp4"), "browsers do not play its kind of picture (hevc)"),
        (made("libx264", "mp4", seconds=0.1), "shorter than any swing"),
        (made("libx264", "mp4", seconds=61.0, rate=5), "61 s long, at most 60 s are taken"),
        (bytes(MOST_BYTES + 1), "100 MB, at most 100 MB is taken"),
    ],
    ids=["empty", "table", "head", "cut", "mpeg4", "hevc", "short", "long", "large"],
)
def test_what_is_no_video_for_a_browser_is_refused_with_what_to_do(content, words):
    with pytest.raises(BundleError) as refused:
        read_clip("mine.mp4", content)
    assert str(refused.value).startswith("mine.mp4: ")
    assert words in str(refused.value)
    assert refused.value.advice


def test_sound_alone_is_no_video():
    out = io.BytesIO()
    with av.open(out, "w", format="webm") as file:
        stream = file.add_stream("libopus", rate=48_000, layout="mono")
        for k in range(50):
            frame = av.AudioFrame.from_ndarray(np.zeros((1, 960), np.float32), "fltp", "mono")
            frame.sample_rate, frame.pts = 48_000, 960 * k
            file.mux(stream.encode(frame))
        file.mux(stream.encode(None))
    with pytest.raises(BundleError, match="no picture is in it"):
        read_clip("voice.webm", out.getvalue())
