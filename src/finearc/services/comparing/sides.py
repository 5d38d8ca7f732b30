"""The sides that can be compared, as the record holds them: a swing, the mean of a lesson's or a block's swings or of
those before it, and references."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal
from uuid import UUID

import numpy as np

from finearc.catalogue.library import schools
from finearc.core.comparing.cohort import KNOTS, Clock, laid_over
from finearc.core.comparing.seen import Side, SwingSeen
from finearc.core.events.model import Checkpoint, Event
from finearc.core.events.swings import Shot
from finearc.core.metrics.definition import PER_SI, Measured
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array
from finearc.services.comparing.around import OUTSIDE, Around
from finearc.services.comparing.banded import edge, nearest_inside
from finearc.services.comparing.by_distance import level_of
from finearc.services.comparing.models import ModelSwing, kind_of_club, model_swing
from finearc.services.errors import Refused
from finearc.services.judging.academy_rules import lesson_schools, rule_set_of
from finearc.services.judging.cohorts import SYNTHETIC, SYNTHETIC_NAME, synthetic_block
from finearc.services.lesson.summary import before_group, counting_swings
from finearc.services.ports import UnitOfWork
from finearc.services.record.blocks import TRACES, unpack_traces
from finearc.services.record.codec import unpack_record
from finearc.services.record.judgements import unpack_judgement
from finearc.services.records import Block, Lesson, Player, Recording, Reference, Swing
from finearc.services.searching.found import search
from finearc.wording import mark, tr

SideKind = Literal["swing", "lesson", "block", "before", "tag", "found", "reference", "model", "band"]
MEAN = mark("Synthetic: a mean of the golfer model's swings, no player's.")
BAND = "here"
STEP_S = 0.005
MOST = 40
"""Of a group so many of its newest swings are laid over one another (house value)."""


@dataclass(frozen=True)
class Asked:
    """What is asked for: ``swing:ID``, ``lesson:ID`` (the counting swings of the club in hand), ``block:ID``,
    ``before:ID`` (what the block is compared with), ``tag:ID:words`` (the counting swings of that swing's player and
    club that carry the tag), ``found:words`` (what a search finds), ``reference:ID``,
    ``model:KIND.WRIST.PELVIS.PRESSURE`` (a skilled swing of the golfer model) or ``band:here`` (what the other side was
    judged by)."""

    kind: SideKind
    key: str

    @classmethod
    def of(cls, text: str) -> Asked:
        """Raises ``Refused``."""
        kind, _, key = text.partition(":")
        if kind == "tag" and _is_id(key.partition(":")[0]) and key.partition(":")[2]:
            return cls("tag", key)
        if kind == "found" and key.strip():
            return cls("found", key)
        if kind == "reference" and key == SYNTHETIC:
            return cls("reference", key)
        if kind == "model" and ModelSwing.of(key) is not None:
            return cls("model", key)
        if kind == "band" and key == BAND:
            return cls("band", key)
        if kind not in ("swing", "lesson", "block", "before", "reference") or not _is_id(key):
            raise Refused(
                tr('"{text_}" is nothing that can be compared', text_=text),
                tr(
                    "Ask for swing:, lesson:, block:, before:, tag: or reference: and an id, found:, a model: or "
                    "band:here"
                ),
            )
        return cls(kind, key)  # type: ignore[arg-type]

    @property
    def id(self) -> UUID:
        return UUID(self.key.partition(":")[0])

    @property
    def made(self) -> bool:
        """Whether it is nobody's swings, and so needs some on the other side."""
        return self.kind in ("reference", "model", "band")

    @property
    def tag(self) -> str:
        """Of ``tag:``."""
        return self.key.partition(":")[2]

    def __str__(self) -> str:
        return f"{self.kind}:{self.key}"


def _is_id(text: str) -> bool:
    try:
        UUID(text)
    except ValueError:
        return False
    return True


@dataclass(frozen=True)
class StoredSide:
    """One side with what it is called. ``number``: of a single swing in its lesson; ``name``: of a block's measure or a
    reference; ``swing_ids``: of ``seen``, in their order; ``left_out``: numbers of swings whose sensors had moved;
    ``edges``: of a band, its lower and upper limits as courses."""

    asked: Asked
    around: Around
    seen: Side
    name: str = ""
    number: int | None = None
    on: date | None = None
    player: Player | None = None
    lesson_id: UUID | None = None
    swing_ids: tuple[UUID, ...] = ()
    left_out: tuple[int, ...] = ()
    about: tuple[str, str] | None = None
    edges: tuple[Side, Side] | None = None


def stored_sides(uow: UnitOfWork, first: str, second: str) -> tuple[StoredSide, StoredSide]:
    """Both sides. Raises ``NotFound``, ``Refused``."""
    asked = [Asked.of(text) for text in (first, second)]
    if all(a.made for a in asked):
        raise Refused(tr("two references have no player between them"), tr("Choose a swing or a lesson for one side"))
    sides: list[StoredSide | None] = [None if a.made else _swings_of(uow, a) for a in asked]
    other = next(s for s in sides if s is not None)
    a, b = (s if s is not None else _made(uow, k, other) for s, k in zip(sides, asked, strict=True))
    return a, b


def _made(uow: UnitOfWork, asked: Asked, other: StoredSide) -> StoredSide:
    if asked.kind == "model":
        return _model(asked, other)
    return _band(uow, asked, other) if asked.kind == "band" else _reference(uow, asked, other)


def _swings_of(uow: UnitOfWork, asked: Asked) -> StoredSide:
    if asked.kind == "swing":
        swing = uow.get(Swing, asked.id)
        lesson = uow.get(Lesson, swing.lesson_id)
        return replace(_side(uow, asked, lesson, [swing]), number=swing.number)
    if asked.kind == "tag":
        swing = uow.get(Swing, asked.id)
        lesson = uow.get(Lesson, swing.lesson_id)
        return replace(_side(uow, asked, lesson, tagged_swings(uow, swing, asked.tag)), name=asked.tag)
    if asked.kind == "found":
        found = search(uow, asked.key)
        rows = [s.row for lesson in reversed(found.lessons) for s in lesson.swings]
        if not rows:
            raise Refused(tr('no swing is found by "{key}"', key=asked.key), tr("Ask for something else"))
        side = _side(uow, asked, rows[-1].lesson, [r.swing for r in rows])
        one = len({r.player.id for r in rows}) == 1
        return replace(side, name=found.text, player=side.player if one else None)
    if asked.kind == "lesson":
        lesson = uow.get(Lesson, asked.id)
        swings = uow.find(Swing, lesson_id=lesson.id, order="number")
        return _side(uow, asked, lesson, counting_swings(swings, _club_of(lesson, swings)))
    block = uow.get(Block, asked.id)
    lesson = uow.get(Lesson, block.lesson_id)
    swings = uow.find(Swing, lesson_id=lesson.id, order="number")
    if asked.kind == "block":
        chosen = [s for s in swings if s.block_id == block.id]
    else:
        drills = uow.find(Block, lesson_id=lesson.id, kind="drill", order="started_at")
        earlier = [d for d in drills if d.started_at <= block.started_at]
        chosen = before_group(lesson, swings, earlier[-1] if earlier else block)
    about = (block.metric, block.moment) if block.metric else None
    return replace(_side(uow, asked, lesson, chosen), name=block.kind, about=about)


def tagged_swings(uow: UnitOfWork, like: Swing, tag: str) -> list[Swing]:
    """The counting swings of a swing's player and club that carry a tag, the newest last."""
    own = uow.find(Swing, player_id=like.player_id, club=like.club, order="captured_at")
    return [s for s in counting_swings(own, like.club) if tag in s.tags]


def _club_of(lesson: Lesson, swings: Sequence[Swing]) -> str:
    """The club in hand, or the last one that was swung."""
    clubs = [s.club for s in swings]
    return lesson.club if lesson.club in clubs or not clubs else clubs[-1]


def _side(uow: UnitOfWork, asked: Asked, lesson: Lesson, swings: Sequence[Swing]) -> StoredSide:
    moved = tuple(s.number for s in swings if s.sensor_moved)
    used = [s for s in swings if not s.sensor_moved][-MOST:]
    if not used:
        why = tr("its sensors may have moved") if moved else tr("there is no swing that counts")
        raise Refused(tr("nothing can be compared there: {why}", why=why), tr("Choose another swing or lesson"))
    player = uow.get(Player, lesson.player_id)
    ids = [s.id for s in used]
    records, blocks = uow.swings.records(ids), uow.swings.blocks(ids, TRACES)
    pairs = [(s.id, seen_of(records[s.id], blocks.get(s.id))) for s in used if s.id in records]
    sources = {v.source.value for _, seen in pairs for v in seen.measured}
    recordings = {s.recording_id for s in used}
    around = Around(
        ", ".join(sorted({s.club for s in used})),
        ", ".join(sorted({s.shot for s in used})),
        uow.get(Recording, used[0].recording_id).handedness,
        frozenset(sources),
        frozenset(recordings),
        _schools(uow, lesson, player),
        distances_m=frozenset(level_of(s) for s in used if s.shot == Shot.PUTT),
    )
    return StoredSide(
        asked,
        around,
        [seen for _, seen in pairs],
        on=lesson.starts_at.date(),
        player=player,
        lesson_id=lesson.id,
        swing_ids=tuple(key for key, _ in pairs),
        left_out=moved,
    )


def _schools(uow: UnitOfWork, lesson: Lesson, player: Player) -> dict[str, str]:
    chosen = lesson_schools(uow, lesson, player)
    labels = {k: {o.id: o.label for o in school.options} for k, school in schools().items()}
    return {k: labels[k][v] for k, v in chosen.items() if v in labels.get(k, {})}


def seen_of(record: bytes, block: bytes | None) -> SwingSeen:
    """A stored swing, with its block of traces where there is one."""
    read = unpack_record(record)
    columns = unpack_traces(block) if block is not None else {"time_s": np.array([read.start_s, read.end_s])}
    traces = {k: v / PER_SI[BY_ID[k].unit] for k, v in columns.items() if k in BY_ID}
    return SwingSeen(columns["time_s"], traces, read.checkpoints, list(read.values.values()))


def _reference(uow: UnitOfWork, asked: Asked, other: StoredSide) -> StoredSide:
    """A kept course at the pace of the other side."""
    kept = None if asked.key == SYNTHETIC else uow.get(Reference, asked.id)
    block = synthetic_block() if kept is None else kept.traces
    seen = at_pace_of(unpack_traces(block), other.seen)
    if seen is None:
        raise Refused(tr("takeaway, top or impact are not known there"), tr("Choose a swing with these checkpoints"))
    club = other.around.club if kept is None else kept.club
    made = tr(MEAN) if kept is None else tr("A kept mean course.")
    around = Around(club, other.around.shot, other.around.hand, frozenset(), made=made, timed=False)
    return StoredSide(asked, around, [seen], tr(SYNTHETIC_NAME) if kept is None else kept.name)


def _model(asked: Asked, other: StoredSide) -> StoredSide:
    model = ModelSwing.of(asked.key)
    assert model is not None
    club = other.around.club if kind_of_club(other.around.club) == model.kind else model.label
    around = Around(club, model.shot, other.around.hand, frozenset(), schools=model.schools, made=model.made_from)
    return StoredSide(asked, around, [model_swing(model)], model.name)


def _band(uow: UnitOfWork, asked: Asked, other: StoredSide) -> StoredSide:
    """The band by which the other side's swings were judged."""
    blocks = uow.swings.judgements(other.swing_ids)
    ranges = rule_set_of(uow, uow.get(Lesson, other.lesson_id) if other.lesson_id is not None else None).ranges
    judged = [unpack_judgement(blocks[i], ranges) if i in blocks else None for i in other.swing_ids]
    pairs = [(s, j) for s, j in zip(other.seen, judged, strict=True) if j is not None]
    nearest = [nearest_inside(s, j) for s, j in pairs]
    if not any(s.measured for s in nearest):
        raise Refused(tr("no band holds there"), tr("Choose a full swing with a club that has ranges"))
    around = replace(other.around, calibrations=frozenset(), made=tr(OUTSIDE), timed=False)
    edges = [edge(s, j, 0) for s, j in pairs], [edge(s, j, 1) for s, j in pairs]
    return StoredSide(asked, around, nearest, tr("The band"), edges=edges)


def at_pace_of(columns: Mapping[str, Array], other: Side) -> SwingSeen | None:
    """A course kept at ``PLACES`` (in the measures' units) with the mean times of other swings, impact at 0; its values
    at the checkpoints where those have some. None where they do not all have takeaway, top and impact."""
    clocks = [
        {k: s.events[Checkpoint(k)].time_s - s.events[Checkpoint.IMPACT].time_s for k in KNOTS if k in s.events}
        for s in other
        if Checkpoint.IMPACT in s.events
    ]
    mean = {k: float(np.mean([c[k] for c in clocks])) for k in KNOTS if clocks and all(k in c for c in clocks)}
    clock = Clock.of(mean)
    if clock is None:
        return None
    time_s = np.arange(clock.knots_s[0], clock.knots_s[-1], STEP_S)
    traces = {
        k: laid / PER_SI[BY_ID[k].unit]
        for k, course in columns.items()
        if k in BY_ID and (laid := laid_over(course, time_s, mean)) is not None
    }
    events = {Checkpoint(k): Event(t, 0.0, "mean", 1.0) for k, t in mean.items()}
    keys = {(v.metric.id, v.moment.key): v for s in other for v in s.measured}
    measured = [
        Measured(v.metric, v.moment, value, 0.0)
        for (metric, moment), v in keys.items()
        if metric in traces and moment in mean
        for value in [float(np.interp(mean[moment], time_s, traces[metric]))]
        if np.isfinite(value)
    ]
    return SwingSeen(time_s, traces, events, measured, timed=False)
