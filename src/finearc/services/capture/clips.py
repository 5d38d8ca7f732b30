"""Videos of swings: attached, laid on the swing's time, taken away, read in pieces. No pixel is looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple
from uuid import UUID

from finearc.core.events.model import Checkpoint
from finearc.core.signals.strike_sound import Strike
from finearc.services.errors import Refused
from finearc.services.lesson.changes import CLIP, remember, swing_to_change
from finearc.services.people.consent import refuse_withdrawn
from finearc.services.ports import UnitOfWork
from finearc.services.record.codec import unpack_record
from finearc.services.records import ChangeEntry, Clip, ClipPart, Player, Swing, now
from finearc.wording import mark, tr

MOST_BYTES = 100_000_000
"""Of one clip: ten seconds of a phone's sharpest slow motion (house value)."""
MOST_S, LEAST_S = 60.0, 0.3
MOST_PIXELS = 4096 * 2304
PIECE = 1 << 20
VIEWS = {"front": mark("from in front"), "line": mark("along the target line")}
SLOWER = (1, 2, 4, 8)
BY_SOUND, BY_CLICK = "sound", "click"
KEPT_REMOVED = timedelta(days=1)
"""So long a clip that was taken away can be brought back (house value)."""


@dataclass(frozen=True)
class ClipRead:
    """A clip as it is kept: ``content`` in its container anew, with nothing of where and by whom it was recorded;
    ``strike``: what its sound tells, None without."""

    kind: str
    content: bytes
    seconds: float
    rate_hz: float
    width: int
    height: int
    sound: bool
    strike: Strike | None


def clips_of(uow: UnitOfWork, swing_ids: Sequence[UUID]) -> list[Clip]:
    """The clips of swings, the first attached first."""
    return uow.find(Clip, swing_id=list(swing_ids), removed=False, order="made_at")


class SwingClips(NamedTuple):
    """A swing's clips, and when it has its ball struck, s on its recording's clock; None where it has no impact."""

    clips: list[Clip]
    impact_s: float | None


def seen_of(uow: UnitOfWork, swing: Swing) -> SwingClips:
    """What a screen shows of a swing's clips."""
    uow.flush()
    record = uow.swings.records([swing.id]).get(swing.id)
    impact = unpack_record(record).checkpoints.get(Checkpoint.IMPACT) if record is not None else None
    return SwingClips(clips_of(uow, [swing.id]), None if impact is None else impact.time_s)


def attach(uow: UnitOfWork, swing_id: UUID, view: str, read: ClipRead) -> Clip:
    """Keep a clip with its swing; one of the same view steps aside, and undoing brings it back. Raises ``Refused``
    where the player's consent was withdrawn."""
    swing = swing_to_change(uow, swing_id)
    refuse_withdrawn(uow, uow.get(Player, swing.player_id))
    for before in uow.find(Clip, swing_id=swing_id, view=view, removed=False):
        _change(uow, before, {"removed": True}, _label(swing, tr("taken away"), view))
    clear = read.strike is not None and read.strike.clear
    clip = Clip(
        uow.academy_id,
        swing.lesson_id,
        swing_id,
        view,
        read.kind,
        read.seconds,
        read.rate_hz,
        read.width,
        read.height,
        len(read.content),
        read.sound,
        impact_s=read.strike.time_s if read.strike is not None and clear else None,
        aligned_by=BY_SOUND if clear else "",
        removed=True,
    )
    uow.add(clip)
    for k, start in enumerate(range(0, len(read.content), PIECE)):
        uow.add(ClipPart(uow.academy_id, clip.id, k, read.content[start : start + PIECE]))
    _change(uow, clip, {"removed": False}, _label(swing, "attached", view))
    return clip


def align(uow: UnitOfWork, clip_id: UUID, impact_s: float | None, slower: int | None) -> Clip:
    """Say where in a clip the ball is struck, or how much slower than real it plays. Raises ``Refused``."""
    clip = _there(uow, clip_id)
    swing = swing_to_change(uow, clip.swing_id)
    fields: dict[str, object] = {}
    if impact_s is not None:
        if not 0.0 <= impact_s <= clip.seconds:
            raise Refused(
                tr(
                    "{impact_s:.2f} s is not in the video, which lasts {seconds:.2f} s",
                    impact_s=impact_s,
                    seconds=clip.seconds,
                )
            )
        fields = {"impact_s": round(impact_s, 4), "aligned_by": BY_CLICK}
    if slower is not None and slower != clip.slower:
        fields["slower"] = slower
        if clip.aligned_by == BY_SOUND and slower > 1:
            fields |= {"impact_s": None, "aligned_by": ""}  # a slowed sound is not looked through
    if fields:
        _change(uow, clip, fields, _label(swing, tr("laid on the swing"), clip.view))
    return clip


def remove(uow: UnitOfWork, clip_id: UUID) -> UUID:
    """Take a clip away from its swing, which is returned; undoing brings it back."""
    clip = _there(uow, clip_id)
    swing = swing_to_change(uow, clip.swing_id)
    _change(uow, clip, {"removed": True}, _label(swing, tr("taken away"), clip.view))
    return swing.id


def _there(uow: UnitOfWork, clip_id: UUID) -> Clip:
    clip = uow.get(Clip, clip_id)
    if clip.removed:
        raise Refused(tr("this video was taken away"), tr("Undo brings it back"))
    return clip


def _label(swing: Swing, what: str, view: str) -> str:
    return tr("swing {number}: video {views} {what}", number=swing.number, views=VIEWS[view], what=what)


def _change(uow: UnitOfWork, clip: Clip, fields: dict[str, object], label: str) -> None:
    before = {name: getattr(clip, name) for name in fields}
    remember(uow, clip.lesson_id, (CLIP, clip.id), before, fields, label)
    for name, value in fields.items():
        setattr(clip, name, value)
    uow.flush()


Opens = Callable[[], AbstractContextManager[UnitOfWork]]


def pieces(opens: Opens, clip: Clip, first: int, last: int) -> Iterator[bytes]:
    """Bytes ``first`` to ``last`` of a clip's file, both included; each piece is read in a unit of its own."""
    for k in range(first // PIECE, last // PIECE + 1):
        with opens() as uow:
            (part,) = uow.find(ClipPart, clip_id=clip.id, sequence=k)
            content = part.content
        yield content[max(0, first - k * PIECE) : last - k * PIECE + 1]


def content_of(uow: UnitOfWork, clip: Clip) -> Iterator[bytes]:
    """A clip's whole file, piece by piece."""
    for k in range(-(-clip.size // PIECE)):
        yield from (p.content for p in uow.find(ClipPart, clip_id=clip.id, sequence=k))


def let_go_removed(uow: UnitOfWork, at: datetime | None = None) -> int:
    """Remove what was taken away longer ago than anybody undoes; how many clips went."""
    until = (at or now()) - KEPT_REMOVED
    gone = 0
    for clip in uow.find(Clip, removed=True):
        entries = uow.find(ChangeEntry, lesson_id=clip.lesson_id, entity=CLIP, entity_id=clip.id)
        if all(entry.at < until for entry in entries):
            for entry in entries:
                uow.remove(entry)
            uow.remove(clip)  # with its pieces
            gone += 1
    return gone
