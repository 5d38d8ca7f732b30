"""What the services need from the outside."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar, NamedTuple, Protocol, TypeVar
from uuid import UUID

from finearc.core.metrics.definition import Measured
from finearc.core.sources.kind import Columns as Columns, Kind
from finearc.services.records import Academy, AcademyRules, Instructor, Lesson, MovementLimit, Player, Recording, Swing

Record = TypeVar("Record")
Answer = TypeVar("Answer")


class ValueRow(NamedTuple):
    """One stored value (SI)."""

    swing_id: UUID
    metric: str
    moment: str
    value: float
    uncertainty: float
    calibration_part: float


@dataclass(frozen=True)
class MeasuredRows:
    """What is stored of a swing's measuring: the record's bytes, its values, its blocks by kind."""

    record: bytes
    values: Sequence[Measured]
    blocks: Mapping[str, bytes]


@dataclass(frozen=True)
class JudgedRows:
    """What is stored of a swing's judging: the judgement's bytes, the verdicts that changed, keys (metric, moment)
    that lost theirs, and its findings, None when they are the same as before."""

    swing: Swing
    document: bytes
    verdicts: Sequence[Mapping[str, Any]]
    unjudged: Sequence[tuple[str, str]]
    findings: Sequence[Mapping[str, Any]] | None


class CourseRow(NamedTuple):
    """A stored value (SI) of a counting swing, with the limits it was judged by, where a range judged it, and the
    swing's kind, block and shot, and from how far it was putted."""

    lesson_id: UUID
    value: float
    low: float | None
    high: float | None
    uncertainty: float
    calibration_part: float
    kind: str
    block_id: UUID | None
    captured_at: datetime
    shot: str = ""
    distance_m: float | None = None


class PlayerTold(NamedTuple):
    """What a list says of a player: when the last lesson that is closed and the next planned one are, the first
    priority of the last, and whether limits are noted."""

    player_id: UUID
    last: datetime | None
    next: datetime | None
    priority: str | None
    limits: bool


class SwingRows(Protocol):
    """Documents, rows and blocks of the academy's swings. Ids that are not there are left out of what is returned."""

    def records(self, ids: Collection[UUID]) -> dict[UUID, bytes]: ...

    def course(self, player_id: UUID, club: str, metric: str, moment: str) -> list[CourseRow]:
        """One value of all counting swings of a player with a club."""
        ...

    def judgements(self, ids: Collection[UUID]) -> dict[UUID, bytes]: ...

    def blocks(self, ids: Collection[UUID], kind: str) -> dict[UUID, bytes]: ...

    def values(self, ids: Collection[UUID], keys: Collection[tuple[str, str]]) -> list[ValueRow]: ...

    def measure(self, swing: Swing, rows: MeasuredRows, *, again: bool) -> None:
        """Keep what was measured; ``again`` takes the place of what was kept."""
        ...

    def judge(self, judged: Sequence[JudgedRows]) -> None:
        """Keep how swings were judged, in a bounded number of statements."""
        ...

    def club_changed(self, swing: Swing) -> None: ...

    def summaries(self, lesson_ids: Collection[UUID]) -> dict[tuple[UUID, str], str]:
        """Summaries as JSON, by lesson and club."""
        ...

    def summarise(self, documents: Mapping[tuple[UUID, str], str]) -> None: ...


@dataclass(frozen=True)
class Offer:
    """What was measured again in a swing and waits to be accepted: its ``parts`` are the record, blocks by kind, and
    with a recording's first swing its calibration. ``measuring``: which measuring of the swing it was made beside."""

    RECORD: ClassVar = "record"
    CALIBRATION: ClassVar = "calibration"
    measuring: int
    parts: Mapping[str, bytes]


class Offers(Protocol):
    """Swings measured again, beside what is kept of them."""

    def put(self, job_id: UUID, swing_id: UUID, measuring: int, parts: Mapping[str, bytes]) -> None: ...

    def swings(self, job_id: UUID) -> list[UUID]: ...

    def of(self, job_id: UUID, swing_ids: Collection[UUID]) -> dict[UUID, Offer]: ...

    def drop(self, job_id: UUID, swing_ids: Collection[UUID]) -> None: ...


class LessonHead(NamedTuple):
    """A lesson with what surrounds it, in one query. ``undo``, ``redo``: labels of the changes that would be taken back
    or done again; ``last_closed``: the player's last closed lesson before it."""

    lesson: Lesson
    player: Player
    instructor: str
    rules: AcademyRules
    limits: tuple[MovementLimit, ...]
    undo: str | None
    redo: str | None
    last_closed: UUID | None


class SwingHead(NamedTuple):
    """A swing with what surrounds it and its documents, in one query; ``summary``: JSON of its club's summary."""

    swing: Swing
    lesson: Lesson
    player: Player
    recording: Recording
    rules: AcademyRules
    record: bytes
    judgement: bytes
    summary: str | None


class SwingBrief(NamedTuple):
    """What a summary needs of a swing, beside how it was judged."""

    id: UUID
    kind: str
    club: str
    sensor_moved: bool
    ball_start: str
    ball_curve: str
    strike: str
    judgement: bytes


class LessonEdit(NamedTuple):
    """All that a change of a lesson's swings rests on, in one query, the lesson held against other writers: its swings
    with their judgements in their order; ``undo``: label of the newest change; ``undone``: whether changes were taken
    back that could be done again; ``sequence`` of the newest entry."""

    lesson: Lesson
    player: Player
    rules: AcademyRules
    limits: tuple[MovementLimit, ...]
    swings: list[tuple[Swing, bytes | None]]
    undo: str | None
    undone: bool
    sequence: int


class DiaryRow(NamedTuple):
    """A lesson in the diary; ``last_closed``: the player's last closed lesson before it."""

    lesson: Lesson
    player: Player
    instructor: Instructor
    last_closed: UUID | None


class Beyond(NamedTuple):
    """A value of a measure at a moment above or below a number, SI."""

    metric: str
    moment: str
    above: bool
    value: float


@dataclass(frozen=True)
class Wanted:
    """Which counting swings are looked for: all of it holds at once, of several clubs, tags, players or segments any.
    ``since`` to before ``until``."""

    clubs: Collection[str] = ()
    findings: Collection[str] = ()
    tags: Collection[str] = ()
    players: Collection[UUID] = ()
    segments: Collection[str] = ()
    beyond: Collection[Beyond] = ()
    since: datetime | None = None
    until: datetime | None = None


class FoundRow(NamedTuple):
    """A swing that was looked for, with its lesson and player."""

    swing: Swing
    lesson: Lesson
    player: Player


class Reads(Protocol):
    """What screens ask for, each in one query."""

    def find_swings(self, wanted: Wanted, most: int) -> list[FoundRow]:
        """The newest first, so many at most."""
        ...

    def findings_of(self, swing_ids: Collection[UUID]) -> dict[UUID, list[str]]:
        """Ids of the findings that swings show, the most severe first."""
        ...

    def tags(self) -> list[str]:
        """All tags that the academy's swings carry."""
        ...

    def players_named(self, words: Collection[str]) -> list[tuple[UUID, str]]:
        """Ids and names of the players whose names hold any of some words, by name."""
        ...

    def players(self) -> list[PlayerTold]:
        """What a list says of each of the academy's players."""
        ...

    def lesson(self, lesson_id: UUID) -> LessonHead:
        """Raises ``NotFound``."""
        ...

    def swing(self, swing_id: UUID) -> SwingHead:
        """Raises ``NotFound``."""
        ...

    def hold_lesson_of(self, swing_id: UUID) -> Lesson:
        """Hold a swing's lesson against other writers, as the first thing in a unit of work: what is read after it is
        what the last writer left. Raises ``NotFound``."""
        ...

    def edit(self, swing_id: UUID) -> LessonEdit:
        """The swing's lesson, to be changed. Raises ``NotFound``."""
        ...

    def swings(self, lesson_id: UUID) -> list[tuple[Swing, bytes | None]]:
        """A lesson's swings in their order, each with its judgement."""
        ...

    def briefs(self, lesson_id: UUID, clubs: Collection[str]) -> list[SwingBrief]:
        """The judged swings of some clubs of a lesson in their order."""
        ...

    def diary(self, start: datetime, end: datetime) -> list[DiaryRow]:
        """Lessons that start from ``start`` on and before ``end``, by time."""
        ...


class Bounded(Protocol):
    """Reads what somebody sent, with limits on memory, time and what comes out."""

    def read(self, work: Callable[..., Answer], name: str, content: bytes, *more: Any) -> Answer:
        """``work(name, content, *more)``, which can be sent to another process, as can what it gives and raises."""
        ...


class UnitOfWork(Protocol):
    """A unit of work bound to one academy: no query leaves it."""

    @property
    def academy_id(self) -> UUID: ...

    @property
    def by(self) -> UUID | None:
        """The instructor whose changes these are; None for the application's own."""
        ...

    @property
    def swings(self) -> SwingRows: ...

    @property
    def reads(self) -> Reads: ...

    @property
    def offers(self) -> Offers: ...

    def hold_academy(self) -> Academy:
        """The academy, held against other writers."""
        ...

    def academy(self) -> Academy:
        """The academy itself."""
        ...

    def get(self, kind: type[Record], key: UUID) -> Record:
        """The record, or ``NotFound``."""
        ...

    def find(self, kind: type[Record], /, *, order: str = "", most: int = 0, **equals: Any) -> list[Record]:
        """Records whose fields equal the given values, or lie among them where a list is given, in order of a field
        (``-field`` descending), the first ``most`` where that is not 0. ``starts_at__from`` and ``starts_at__until``:
        from the value on, and before it."""
        ...

    def find_aside(self, kind: type[Record], /, **equals: Any) -> list[Record]:
        """Recordings, swings or rounds that were set aside: no other question sees them."""
        ...

    def count(self, kind: type[Any], by: str, among: Collection[UUID]) -> dict[UUID, int]:
        """How many records have each of the given values in a field, in one query."""
        ...

    def greatest(self, kind: type[Any], field: str, **equals: Any) -> Any:
        """The greatest value of a field among the records whose fields equal the given values; None without one."""
        ...

    def add(self, record: object) -> None: ...

    def remove(self, record: object) -> None: ...

    def flush(self) -> None: ...

    def commit(self) -> None: ...

    def hold(self, kind: type[Record], key: UUID) -> Record:
        """The record as it is now, held against other writers until the end of the unit. Raises ``NotFound``."""
        ...


class RawCodec(Protocol):
    """Compresses named columns into bytes and back, without loss; knows the kinds of source that columns belong to."""

    def kind_of(self, group: str) -> Kind | None:
        """The kind that a stored group of columns belongs to."""
        ...

    def pack(self, columns: Columns) -> bytes: ...

    def unpack(self, content: bytes) -> Columns: ...


class PageMaker(Protocol):
    """Makes the one page that goes home. ``policy``: its Content-Security-Policy."""

    @property
    def policy(self) -> str: ...

    def html(self, page: Mapping[str, Any]) -> str: ...

    def pdf(self, page: Mapping[str, Any]) -> bytes: ...


class Hasher(Protocol):
    """Password hashes."""

    def hash(self, password: str) -> str: ...

    def verify(self, password: str, hashed: str) -> bool: ...


def one(items: Sequence[Record]) -> Record | None:
    """The only item, or None."""
    return items[0] if items else None
