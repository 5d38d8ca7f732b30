"""Videos of swings, as phones and browsers record them: looked over, their sound listened to, put in a container anew.

The picture is copied, never decoded but for its first frame, which shows that it can be. What else stands in the file
(where, when and by whose device it was recorded) is left out. MP4 is ISO/IEC 14496-14, WebM a profile of Matroska
(RFC 9559)."""

from __future__ import annotations

import io
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import av
import numpy as np
from av.audio.resampler import AudioResampler
from av.error import FFmpegError

from finearc.core.signals.strike_sound import Strike, strike_of
from finearc.core.typing import Array
from finearc.formats.errors import BundleError
from finearc.services.capture.clips import LEAST_S, MOST_BYTES, MOST_PIXELS, MOST_S, ClipRead
from finearc.wording import mark, tr

HEARD_HZ = 48_000
PLAYED = {"h264": "H.264", "vp8": "VP8", "vp9": "VP9", "av1": "AV1"}
"""Pictures that browsers play without anything installed."""
OTHERWISE = mark("Record or export it as MP4 with H.264, which every phone offers (often called *most compatible*)")
NO_VIDEO = mark("not a video that can be read")
FASTSTART = {"movflags": "+faststart"}
CUES_FIRST = {"cues_to_front": "1"}


@dataclass(frozen=True)
class _Container:
    """``name`` for reading, ``made`` for writing, with its media type, and the sounds that it may hold."""

    name: str
    made: str
    kind: str
    options: dict[str, str]
    sounds: tuple[str, ...]


MP4 = _Container("mp4", "mp4", "video/mp4", FASTSTART, ("aac", "mp3", "opus"))
WEBM = _Container("matroska", "webm", "video/webm", CUES_FIRST, ("opus", "vorbis"))
HELD_BY = {"h264": MP4, "vp8": WEBM}
"""Pictures that only one of the two holds."""
EBML = b"\x1a\x45\xdf\xa3"


def read_clip(name: str, content: bytes, near: tuple[float, float] | None = None) -> ClipRead:
    """A clip as it is kept. ``near``: seconds within which the strike is looked for, where that is known. Raises
    ``BundleError``."""
    if len(content) > MOST_BYTES:
        raise too_large(name, len(content))
    container = _container(name, content)
    try:
        with av.open(io.BytesIO(content), format=container.name, metadata_errors="replace") as file:
            return _read(name, file, container, near)
    except (FFmpegError, ValueError, EOFError, OverflowError) as error:
        told = getattr(error, "strerror", None) or tr("its end may be missing")
        raise BundleError(name, f"{NO_VIDEO} ({told})", advice=tr(OTHERWISE)) from None


def too_large(name: str, size: int) -> BundleError:
    """A clip that is not taken in for its size."""
    most = tr("{value:.0f} MB", value=MOST_BYTES / 1000000.0)
    return BundleError(
        name,
        tr("{value:.0f} MB, at most {most} is taken", value=size / 1000000.0, most=most),
        advice=tr("Cut it down to the swing"),
    )


def _container(name: str, content: bytes) -> _Container:
    if content[4:8] in (b"ftyp", b"moov", b"wide", b"mdat"):
        return MP4
    if content[:4] == EBML:
        return WEBM
    raise BundleError(name, tr(NO_VIDEO) if content else tr("an empty file"), advice=tr(OTHERWISE))


def _read(name: str, file: Any, container: _Container, near: tuple[float, float] | None) -> ClipRead:
    if not file.streams.video:
        raise BundleError(name, tr("no picture is in it, only sound"), advice=tr(OTHERWISE))
    video = file.streams.video[0]
    audio = file.streams.audio[0] if file.streams.audio else None
    codec = video.codec_context.name
    codec = {"libdav1d": "av1", "libvpx": "vp8", "libvpx-vp9": "vp9"}.get(codec, codec)
    if codec not in PLAYED:
        raise BundleError(
            name, tr("browsers do not play its kind of picture ({codec})", codec=codec), advice=tr(OTHERWISE)
        )
    width, height = video.codec_context.width, video.codec_context.height
    if not 0 < width * height <= MOST_PIXELS:
        raise BundleError(
            name,
            tr("{width} by {height} pixels are more than is shown", width=width, height=height),
            advice=tr("Record it smaller"),
        )
    packets = [p for p in file.demux(*(s for s in (video, audio) if s is not None)) if p.size and p.pts is not None]
    shown = sorted(float(p.pts * p.time_base) for p in packets if p.stream is video)
    if len(shown) < 2:
        raise BundleError(name, tr("no moving picture is in it"), advice=tr(OTHERWISE))
    rate_hz = 1.0 / float(np.median(np.diff(shown)))
    seconds = shown[-1] - shown[0] + 1.0 / rate_hz
    _refuse_length(name, seconds)
    if not _begins(packets, video):
        raise BundleError(name, tr("{no_video}: its first picture is broken", no_video=NO_VIDEO), advice=tr(OTHERWISE))
    heard = _heard(packets, audio, shown[0]) if audio is not None else None
    container = HELD_BY.get(codec, container)
    made = _made(packets, video, audio, shown[0], container)
    strike = None if heard is None else _strike(heard, seconds, near)
    return ClipRead(container.kind, made, seconds, rate_hz, width, height, heard is not None, strike)


def _refuse_length(name: str, seconds: float) -> None:
    if not np.isfinite(seconds) or seconds < LEAST_S:
        raise BundleError(name, tr("shorter than any swing"), advice=tr("Choose the video of the whole swing"))
    if seconds > MOST_S:
        advice = tr("Cut it down to the swing")
        raise BundleError(
            name,
            tr("{seconds:.0f} s long, at most {most_s:.0f} s are taken", seconds=seconds, most_s=MOST_S),
            advice=advice,
        )


def _begins(packets: Sequence[Any], video: Any) -> bool:
    """Whether a picture can be made of how it begins."""
    return any(packet.decode() for packet in [p for p in packets if p.stream is video][:40])


def _heard(packets: Sequence[Any], audio: Any, from_s: float) -> Array | None:
    """The sound from the first picture on, one channel at ``HEARD_HZ``; None where none can be made of it."""
    resampler = AudioResampler(format="flt", layout="mono", rate=HEARD_HZ)
    pieces: list[tuple[float, Array]] = []
    try:
        for packet in packets:
            if packet.stream is audio:
                for frame in packet.decode():
                    at_s = float(frame.pts * frame.time_base) if frame.pts is not None else np.nan
                    pieces += [
                        (at_s, np.asarray(f.to_ndarray().ravel(), dtype=float)) for f in resampler.resample(frame)
                    ]
    except FFmpegError:
        return None
    if not pieces:
        return None
    start = round((pieces[0][0] - from_s) * HEARD_HZ) if np.isfinite(pieces[0][0]) else 0
    sound = np.concatenate([p for _, p in pieces])
    return np.concatenate([np.zeros(start), sound]) if start > 0 else sound[-start:]


def _strike(heard: Array, seconds: float, near: tuple[float, float] | None) -> Strike | None:
    found = strike_of(heard[: round(seconds * HEARD_HZ)], HEARD_HZ, near)
    return found if found is not None and found.time_s < seconds else None


def _made(packets: Sequence[Any], video: Any, audio: Any, from_s: float, container: _Container) -> bytes:
    """The same pictures and sound in a container of their own that begins with the first picture and can be wound to
    any place."""
    _fill_in_order(packets, video)
    with tempfile.TemporaryDirectory(prefix="finearc-clip-") as folder:  # such a file is written twice over
        path = Path(folder) / "made"
        with av.open(str(path), "w", format=container.made, options=container.options) as made:
            streams = {video.index: made.add_stream_from_template(video)}
            if audio is not None and audio.codec_context.name.removeprefix("lib").split("float")[0] in container.sounds:
                streams[audio.index] = made.add_stream_from_template(audio)
            for named in (made, *streams.values()):
                named.metadata.clear()
            for packet in packets:
                stream = streams.get(packet.stream.index)
                shift = round(from_s / packet.time_base)
                if stream is None or (stream.type == "audio" and packet.pts < shift):
                    continue
                packet.pts, packet.dts = packet.pts - shift, packet.dts - shift
                packet.stream = stream
                made.mux(packet)
        return path.read_bytes()


def _fill_in_order(packets: Sequence[Any], video: Any) -> None:
    """Matroska does not say of the first pictures when they are decoded: one after the other, before the next."""
    pictures = [p for p in packets if p.stream is video]
    known = next((k for k, p in enumerate(pictures) if p.dts is not None), None)
    step = max(1, round(float(np.median(np.diff(sorted(p.pts for p in pictures))))))
    if known is None:
        raise ValueError("no picture says when it is decoded")
    for k in range(known):
        pictures[k].dts = pictures[known].dts - step * (known - k)
    for packet in packets:
        packet.dts = packet.pts if packet.dts is None else packet.dts
