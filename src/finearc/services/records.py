"""What is kept. Plain objects; the store maps them to tables. Everything belongs to an academy."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID, uuid4

from finearc.services.people.accounts import account_key


def now() -> datetime:
    """The present, aware."""
    return datetime.now(UTC)


@dataclass(eq=False)
class Academy:
    """``time_zone`` (IANA): by whose clock its days begin and end. How its screens speak: ``language``, ``lengths``
    (cm or in), ``distances`` (m or ft), ``clock`` (24 or 12 hours). ``owners_second_factor``: owners need one;
    ``own_players``: an instructor opens only the players that are theirs."""

    name: str
    time_zone: str = "UTC"
    language: str = "en"
    lengths: str = "cm"
    distances: str = "m"
    clock: str = "24"
    owners_second_factor: bool = False
    own_players: bool = False
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Bay:
    """A place where lessons are given; ``place`` is its order in lists."""

    academy_id: UUID
    name: str
    place: int
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class BayToken:
    """With which devices send into a bay, or (``purpose`` follow) a screen follows it; only its hash is kept.
    ``made_at``; ``used_at``: when somebody last came with it."""

    academy_id: UUID
    bay_id: UUID
    name: str
    token_hash: str
    made_at: datetime = field(default_factory=now)
    used_at: datetime | None = None
    purpose: str = "send"
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class ShareLink:
    """With which a player opens what was shown of a lesson (``purpose`` page) or practises (practice), without an
    account; only its hash is kept. ``opened``: how often it was, the last time at ``opened_at``."""

    academy_id: UUID
    lesson_id: UUID
    token_hash: str
    expires_at: datetime
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    revoked_at: datetime | None = None
    opened: int = 0
    opened_at: datetime | None = None
    purpose: str = "page"
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class SavedSearch:
    """A question to the academy's swings that is asked again: ``query`` as it stands in an address."""

    academy_id: UUID
    name: str
    query: str
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Instructor:
    """``email_key``: the one form of ``email`` under which the account is found. ``role``: what they may do
    (``people.roles``); ``left_at``: since when they may not come in any more."""

    academy_id: UUID
    name: str
    email: str
    password_hash: str
    email_key: str = ""
    role: str = "instructor"
    left_at: datetime | None = None
    id: UUID = field(default_factory=uuid4)

    def __post_init__(self) -> None:
        self.email_key = account_key(self.email)


@dataclass(eq=False)
class SignIn:
    """A signed-in browser; only the token's hash is kept. ``agent``: what kind of browser it says to be;
    ``seen_at``: when it was used last, to a few minutes."""

    academy_id: UUID
    instructor_id: UUID
    token_hash: str
    csrf: str
    expires_at: datetime
    made_at: datetime = field(default_factory=now)
    seen_at: datetime = field(default_factory=now)
    agent: str = ""
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Invitation:
    """A link that works once: for somebody new (``email`` and ``role``), or, of an ``instructor_id``, for another
    password. Only its hash is kept."""

    academy_id: UUID
    token_hash: str
    expires_at: datetime
    name: str = ""
    email: str = ""
    role: str = "instructor"
    instructor_id: UUID | None = None
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    used_at: datetime | None = None
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Player:
    """``name`` is empty for a walk-in not named yet. ``schools``: axis to option. ``words`` (plain or standard) and
    ``language``, ``lengths``, ``distances``, ``clock`` (empty: the academy's): what goes home is written in."""

    academy_id: UUID
    name: str
    handedness: str
    height_m: float | None = None
    population: str = "adult"
    goals: str = ""
    usual_miss: str = ""
    schools: dict[str, str] = field(default_factory=dict)
    consent_at: datetime | None = None
    consent_by: str = ""
    walk_in: bool = False
    words: str = "plain"
    language: str = ""
    lengths: str = ""
    distances: str = ""
    clock: str = ""
    created_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Consent:
    """That somebody agreed that a player's data are kept, or took it back (``given`` False); never changed. ``as_``:
    player or guardian; ``noted_by``: the instructor who wrote it down."""

    academy_id: UUID
    player_id: UUID
    given: bool
    by: str
    as_: str = "player"
    purpose: str = "lessons"
    noted_by: str = ""
    at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Author:
    """Who changed a record, and which of its fields: never what stood in them. ``how``: made, changed or removed."""

    academy_id: UUID
    instructor_id: UUID
    what: str
    of_id: UUID
    how: str
    fields: str = ""
    at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class MadeOf:
    """A player whose swings went into something kept: a ``reference``, ``benchmarks`` or a ``preset``."""

    academy_id: UUID
    what: str
    of_id: UUID
    player_id: UUID


@dataclass(eq=False)
class MovementLimit:
    """A limit of movement: ``area`` (wrist, forearm, back …), ``side`` (lead, trail, both or empty); ``comfortable``:
    how far it goes in comfort (deg), where that is known."""

    academy_id: UUID
    player_id: UUID
    area: str
    side: str
    movement: str
    from_date: date | None = None
    until_date: date | None = None
    note: str = ""
    comfortable: float | None = None
    id: UUID = field(default_factory=uuid4)

    def holds_on(self, day: date) -> bool:
        return (self.from_date is None or self.from_date <= day) and (self.until_date is None or day <= self.until_date)


@dataclass(eq=False)
class Lesson:
    """``status``: planned, running, closed, cancelled (``cancel_reason``), no_show. ``sensor_set``: a mobile one by
    name; ``markers``: cameras are set up for it; ``series_id``: of which row it is one, ``package_id`` of which
    course. ``pain``: empty until asked, then yes or no. ``kind`` is what new swings are tagged with; ``block_id``
    the running drill or test block; ``pinned`` swings are the *before*. ``benchmarks``: the version its swings are
    judged by, empty until the first; ``planned``: the instructor has made the priorities their own, also when that
    is none. ``schools`` and ``rules_revision`` (of the academy's own findings and drills) are kept when the lesson
    is closed; until then they are None and today's hold. ``putt_plan``: from where putts are made
    (``services.putting.plan``), None where the usual distances hold."""

    academy_id: UUID
    player_id: UUID
    instructor_id: UUID
    bay: str
    starts_at: datetime
    ends_at: datetime
    status: str = "planned"
    club: str = "7-iron"
    kind: str = "normal"
    block_id: UUID | None = None
    pain: str = ""
    pain_note: str = ""
    pinned: list[str] = field(default_factory=list)
    note: str = ""
    next_date: date | None = None
    closed_at: datetime | None = None
    benchmarks: str = ""
    planned: bool = False
    schools: dict[str, str] | None = None
    rules_revision: int | None = None
    putt_plan: dict[str, Any] | None = None
    sensor_set: str = ""
    markers: bool = False
    series_id: UUID | None = None
    package_id: UUID | None = None
    cancel_reason: str = ""
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Recording:
    """One fit of the devices with one calibration; a lesson holds several. ``poses``, ``functional``, ``uprights`` and
    ``bow`` are windows (s) on the recording's own clock. ``described``: what the columns of each kind of source mean,
    by its key (labels of markers, where cells and plates lie); ``mat_shift_s``: the mat's clock as the instructor
    shifted it. ``calibration`` (a ``CalibrationOut``) is
    the reading's quality, empty until calibrated; ``setup`` (a ``SetupOut``) what a still address said.
    ``shot``: what is looked for in it. ``green_speed_ft``, ``putter_grip`` (in words) and ``face_grip_bias_deg`` (+
    the face open against the hands): noted of putts; ``putter``: its measures and its pendulum's pivot
    (``capture.putter_notes``). ``live``: the ``sources`` of a device that still sends, None
    when it has ended. ``aside``: its import was undone; it is nowhere to be seen until that is done again.
    ``raw_gone_at``: its samples were let go then; what was measured stays."""

    academy_id: UUID
    lesson_id: UUID
    number: int
    source: str
    handedness: str
    glove: bool = False
    segments: list[str] = field(default_factory=list)
    poses: list[list[Any]] = field(default_factory=list)
    functional: dict[str, Any] | None = None
    uprights: list[list[float]] = field(default_factory=list)
    bow: list[float] | None = None
    described: dict[str, Any] = field(default_factory=dict)
    mat_shift_s: float | None = None
    calibration: dict[str, Any] | None = None
    setup: dict[str, Any] | None = None
    warnings: list[str] = field(default_factory=list)
    scenario: str = ""
    seed: int = 0
    shot: str = "full"
    green_speed_ft: float | None = None
    putter_grip: str = ""
    face_grip_bias_deg: float | None = None
    putter: dict[str, Any] | None = None
    live: dict[str, Any] | None = None
    aside: bool = False
    raw_gone_at: datetime | None = None
    created_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Chunk:
    """Raw columns of one sensor for a stretch of a recording, compressed; never a row a sample. ``key`` makes a
    repeated batch harmless."""

    academy_id: UUID
    recording_id: UUID
    segment: str
    sequence: int
    key: str
    columns: bytes
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class MarkerPreset:
    """How an academy's files name the markers: ``names`` from our label to theirs, ``axes`` of the bay."""

    academy_id: UUID
    name: str
    label_key: str
    handedness: str
    names: dict[str, str] = field(default_factory=dict)
    axes: dict[str, str] = field(default_factory=dict)
    used_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


COUNTING = ("normal", "test")
"""Kinds of swing that findings and courses rest on."""


@dataclass(eq=False)
class Swing:
    """``kind``: warm_up, normal, drill, no_ball, test, discard. ``ball_start``/``ball_curve``: lead, straight,
    trail or empty. ``checkpoints_corrected``: instants (s) the instructor has set; ``split_m``: the instructor's line
    between the feet; ``guess``: where the player felt the pressure. ``tags``: words by which swings are found again.
    ``sensor_moved``: nothing of it is judged, as measured or as somebody said. ``grip_change``: how the wrist stands
    otherwise at this address (rad) where that is asked, and ``grip_answer``: grip, sensor or empty.
    ``distance_m``, ``outcome``, ``rolled_past_m``, ``slope`` and ``breaks`` (as ``core.putting.notes``, empty where it
    is not noted): of a putt. ``measuring`` counts how often it was measured: with it a block's address never changes
    its content. ``aside``: as its recording. What was measured and how it was judged stand apart
    (``services.record``)."""

    academy_id: UUID
    lesson_id: UUID
    recording_id: UUID
    player_id: UUID
    number: int
    start_s: float
    end_s: float
    kind: str
    club: str
    shot: str = "full"
    discard_reason: str = ""
    ball_start: str = ""
    ball_curve: str = ""
    strike: str = ""
    block_id: UUID | None = None
    checkpoints_corrected: dict[str, float] = field(default_factory=dict)
    tags: list[str] = field(default_factory=list)
    split_m: float | None = None
    guess: dict[str, Any] | None = None
    sensor_moved: bool = False
    grip_change: dict[str, float] | None = None
    grip_answer: str = ""
    distance_m: float | None = None
    outcome: str = ""
    rolled_past_m: float | None = None
    slope: str = ""
    breaks: str = ""
    measuring: int = 1
    aside: bool = False
    captured_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Clip:
    """A video of a swing. ``view``: front or line, as the player is seen; ``kind``: its media type; ``impact_s``: where
    in it the ball is struck, None until that is known, ``aligned_by``: sound, click or empty; ``slower``: how many
    times slower than real it plays; ``removed``: taken away, and still there to be brought back."""

    academy_id: UUID
    lesson_id: UUID
    swing_id: UUID
    view: str
    kind: str
    seconds: float
    rate_hz: float
    width: int
    height: int
    size: int
    sound: bool
    impact_s: float | None = None
    aligned_by: str = ""
    slower: int = 1
    removed: bool = False
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class ClipPart:
    """A piece of a clip's file."""

    academy_id: UUID
    clip_id: UUID
    sequence: int
    content: bytes
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Block:
    """A drill or test block for one finding's measure. ``training``: what was trained with live feedback, None
    without."""

    academy_id: UUID
    lesson_id: UUID
    kind: str
    finding: str
    metric: str
    moment: str
    drill: str = ""
    club: str = "7-iron"
    started_at: datetime = field(default_factory=now)
    ended_at: datetime | None = None
    training: dict[str, Any] | None = None
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Priority:
    """One of at most two priorities of a lesson. ``finding`` is empty for one of the instructor's own, without a
    measurement."""

    academy_id: UUID
    lesson_id: UUID
    rank: int
    finding: str
    label: str
    drill: str
    why: str = ""
    override_reason: str = ""
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class AcademyRules:
    """What an academy has chosen for itself, one a row: default ``schools``, the ``benchmarks`` in use (a version's
    label, empty for the built-in), its own ``findings`` and ``drills`` as written. ``revision`` counts the saves."""

    academy_id: UUID
    schools: dict[str, str] = field(default_factory=dict)
    benchmarks: str = ""
    findings: list[dict[str, Any]] = field(default_factory=list)
    drills: list[dict[str, Any]] = field(default_factory=list)
    revision: int = 0
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class OwnRules:
    """An academy's own findings and drills as they stood at one revision; never changed once saved, so that a closed
    lesson keeps those of its day."""

    academy_id: UUID
    revision: int
    findings: list[dict[str, Any]] = field(default_factory=list)
    drills: list[dict[str, Any]] = field(default_factory=list)
    saved_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class BenchmarkVersion:
    """One version of an academy's ranges; never changed once saved. ``entries`` as a range file has them."""

    academy_id: UUID
    name: str
    number: int
    based_on: str
    entries: list[dict[str, Any]]
    note: str = ""
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    retired_at: datetime | None = None
    id: UUID = field(default_factory=uuid4)

    @property
    def label(self) -> str:
        """How results name it."""
        return f"{self.name} {self.number}"


@dataclass(eq=False)
class Reference:
    """A course to lay over a swing: ``form`` swing (one skilled swing), mean (of many) or best (a player's own, whose
    ``best`` values ranges may lean on). ``traces``: a block at the places of a swing's own clock."""

    academy_id: UUID
    name: str
    form: str
    club: str
    swings: int
    players: int
    traces: bytes
    player_id: UUID | None = None
    best: dict[str, float] = field(default_factory=dict)
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class ChangeEntry:
    """One thing an instructor (``made_by``) did to a record, so that it can be undone."""

    academy_id: UUID
    lesson_id: UUID
    sequence: int
    label: str
    entity: str
    entity_id: UUID
    before: dict[str, Any]
    after: dict[str, Any]
    undone: bool = False
    made_by: UUID | None = None
    at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)
