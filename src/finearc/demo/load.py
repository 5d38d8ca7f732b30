"""Loads the demo through the same path as anybody's capture."""

from __future__ import annotations

import zlib
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

import numpy as np

from finearc.catalogue import library
from finearc.core.frames.handedness import Hand
from finearc.demo.diary import fill_diary
from finearc.demo.people import ACADEMY, INSTRUCTORS, OTHERS, PASSWORD, STORIES, Story
from finearc.formats.film import film
from finearc.formats.video import read_clip
from finearc.golfer import style as st
from finearc.golfer.course import round as round_model
from finearc.golfer.course.round import RoundPlan
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.golfer.scenarios import COLD, Scenario, play_story
from finearc.services.capture import recordings
from finearc.services.capture.clips import VIEWS, attach
from finearc.services.course.round_reading import read_round
from finearc.services.course.rounds import keep_round
from finearc.services.judging import academy_rules
from finearc.services.judging.analysis import CaptureData
from finearc.services.lesson import lessons
from finearc.services.lesson.summary import refresh
from finearc.services.modelled import capture_of, putting_capture_of, round_of
from finearc.services.people.roles import Role
from finearc.services.ports import Hasher, RawCodec, UnitOfWork
from finearc.services.records import Academy, ChangeEntry, Consent, Instructor, Lesson, MovementLimit, Player, Swing
from finearc.store.unit_of_work import Store

WEEKS = 10
LESSON_MINUTES = 45
TODAY = (
    ("Ilse Marrow", 9, 0, 0, "Bay 1"),
    ("Wenna Larkspur", 10, 0, 1, "Bay 2"),
    ("Halle Brandreth", 11, 30, 0, "Bay 1"),
    ("Corin Hale", 14, 0, 0, "Bay 1"),
    ("Tobin Askew", 15, 0, 1, "Bay 3"),
)
SHOWCASE = "Ilse Marrow"
ROUND = ("round-short-under-pressure", 4)
"""The showcase player's round: its story and seed."""
FILMED = (SHOWCASE, "Wenna Larkspur")


@dataclass(frozen=True)
class Visit:
    """One lesson to be played by the golfer model."""

    story: Story
    week: int
    share: float
    swings: int
    cold: int
    seed: int


def visits() -> list[Visit]:
    """All lessons of the clinic, in order of time; seeds depend on name and week only."""
    out = []
    for story in STORIES:
        for week, share in story.path:
            seed = zlib.crc32(f"{story.name}/{week}".encode()) % 100_000
            showcase = story.name == SHOWCASE and week == story.path[-1][0]
            out.append(Visit(story, week, share, 5, 2 if showcase or week == story.path[0][0] else 0, seed))
    return sorted(out, key=lambda v: (v.week, v.story.name))


def note_of(visit: Visit) -> str:
    """What the instructor wrote: another sentence each lesson, what came of it in the last."""
    story, weeks = visit.story, [week for week, _ in visit.story.path]
    number = weeks.index(visit.week)
    if number == len(weeks) - 1:
        return story.about
    drills = [library.drills()[drill].label.lower() for _, drill in story.closing] or ["setup check"]
    notes = (
        f"First measured lesson. Wants: {story.goals[:1].lower()}{story.goals[1:]}",
        f"Slow repetitions of the {drills[0]}, then half swings; the feel came before the figures.",
        f"Full swings again, the {drills[-1]} only between them. Same feel asked for, no second one.",
    )
    return notes[min(number, len(notes) - 1)]


@dataclass(frozen=True)
class Played:
    """A visit's capture; ``films``: videos of its last swing by view, of those who are filmed."""

    data: CaptureData
    films: Mapping[str, bytes]


def played(visit: Visit) -> Played:
    """What the golfer model makes of a visit."""
    story = visit.story
    if story.putts:
        lesson = [week for week, _ in story.path].index(visit.week)
        putts = play_putting(PUTTING[story.putts[lesson]], visit.seed, sources=story.sources, hand=Hand(story.hand))
        return Played(putting_capture_of(putts), {})
    style = story.first.blend(story.last, visit.share)
    cold = COLD if story.first is st.OVER_EXTENDED else story.first.blend(COLD, 0.5)
    styles = (cold,) * visit.cold + (style,) * visit.swings
    scenario = Scenario(styles, story.about, plan={"functional": True} if story.functional else {})
    recording = play_story(scenario, visit.seed, sources=story.sources, hand=Hand(story.hand), height_m=story.height_m)
    data = capture_of(recording, club=story.club, height_m=story.height_m)
    filmed = story.name in FILMED and visit.week == story.path[-1][0]
    return Played(data, {view: film(recording, len(styles) - 1, view) for view in VIEWS} if filmed else {})


def load(store: Store, codec: RawCodec, hasher: Hasher, progress: Callable[[str, float], None]) -> None:
    """Fill an empty database. ``progress`` is told what is done and how far (0 to 1)."""
    academy = Academy(ACADEMY)
    with store.front_door() as door:
        door.add(academy)
    with store.unit_of_work(academy.id) as uow:
        staff = [Instructor(academy.id, name, email, hasher.hash(PASSWORD)) for name, email in INSTRUCTORS]
        staff[0].role = Role.OWNER
        others = [Instructor(academy.id, name, email, hasher.hash(PASSWORD), role=role) for name, email, role in OTHERS]
        for person in (*staff, *others):
            uow.add(person)
        uow.flush()
        players: dict[str, Player] = {}
        for story in STORIES:
            if story.name not in players:
                players[story.name] = _player(uow, story)
        uow.flush()
        planned = visits()
        monday = _monday()
        with ProcessPoolExecutor(2) as pool:
            for number, (visit, made) in enumerate(zip(planned, pool.map(played, planned), strict=True), 1):
                lesson = _lesson(uow, codec, players[visit.story.name], staff, visit, made.data, monday)
                _film(uow, lesson, made.films)
                progress(f"{visit.story.name}, week {visit.week}", number / len(planned))
        progress(f"{SHOWCASE}, a round", 1.0)
        _round(uow, codec, players[SHOWCASE], staff[0], monday)
        _today(uow, players, staff)
        fill_diary(uow, players, staff)
        _own_ranges(uow, staff[0])


def _round(uow: UnitOfWork, codec: RawCodec, player: Player, who: Instructor, monday: datetime) -> None:
    """What the clips on a player's clubs logged last Saturday, by the same path as anybody's."""
    played_round = round_model.play_round(
        *ROUND, RoundPlan(shots=36, practice=14, putts=18, disturbances=50, tap_ins=6)
    )
    data = round_of(played_round, monday + timedelta(days=-2, hours=8))
    keep_round(uow, codec, player, data, read_round(data), "saturday.zip", who.name)


def _own_ranges(uow: UnitOfWork, who: Instructor) -> None:
    """The academy's first version: the tempo a little wider; saved, not in use."""
    entries = [e.model_dump(mode="json", exclude_defaults=True) for e in library.ranges().entries]
    for entry in entries:
        if entry["id"] == "C2":
            entry |= {"low": 2.4, "high": 3.6, "provenance": "ACADEMY", "note": "Wider for our winter clinic."}
    academy_rules.save_version(
        uow, "Harbour", library.ranges().version, entries, "Tempo wider for the winter clinic.", who.name
    )


def _monday() -> datetime:
    """Monday of the clinic's first week, so that the tenth week is the present one."""
    today = datetime.now(UTC).replace(hour=0, minute=0, second=0, microsecond=0)
    return today - timedelta(days=today.weekday(), weeks=WEEKS - 1)


def _player(uow: UnitOfWork, story: Story) -> Player:
    as_ = "guardian" if story.guardian else "player"
    consent_by = f"Rosa {story.name.split()[-1]}" if story.guardian else story.name
    player = Player(
        uow.academy_id,
        story.name,
        story.hand,
        story.height_m,
        story.population,
        story.goals,
        story.usual_miss,
        {"lead_wrist": story.school},
        datetime(2026, 1, 5, 9, 0, tzinfo=UTC),
        consent_by,
    )
    uow.add(player)
    uow.add(Consent(uow.academy_id, player.id, True, consent_by, as_, at=datetime(2026, 1, 5, 9, 0, tzinfo=UTC)))
    for area, side, movement, note in story.limits:
        uow.add(
            MovementLimit(uow.academy_id, player.id, area, side, movement, note=note, comfortable=story.comfortable)
        )
    return player


def _lesson(
    uow: UnitOfWork,
    codec: RawCodec,
    player: Player,
    staff: Sequence[Instructor],
    visit: Visit,
    data: CaptureData,
    monday: datetime,
) -> Lesson:
    story = visit.story
    day = zlib.crc32(story.name.encode()) % 5
    starts = monday + timedelta(weeks=visit.week - 1, days=day, hours=9 + zlib.crc32(story.name.encode()) % 7)
    if starts > datetime.now(UTC):
        starts -= timedelta(weeks=1)
    lesson = Lesson(
        uow.academy_id,
        player.id,
        staff[story.instructor].id,
        f"Bay {1 + story.instructor}",
        starts,
        starts + timedelta(minutes=LESSON_MINUTES),
        "running",
        story.club,
        pain="no",
    )
    uow.add(lesson)
    uow.flush()
    of_putts = len(data.swings or ()) if story.putts else 0
    kinds = ["normal"] * of_putts or ["warm_up"] * visit.cold + ["normal"] * visit.swings
    made_at = [starts + timedelta(minutes=8, seconds=40 * k) for k in range(len(kinds))]
    recording = recordings.import_capture(
        uow, codec, lesson, data, source="stand-in", kinds=kinds, key=f"demo-{visit.seed}", glove=True, made_at=made_at
    )
    recording.created_at = starts
    _after(uow, recording.id, story, visit)
    refresh(uow, lesson, player, {lesson.club})
    chosen = [
        lessons.Chosen(finding, next(f.label for f in library.findings() if f.id == finding), drill)
        for finding, drill in story.closing
    ]
    lessons.close(uow, lesson, chosen, note_of(visit), (starts + timedelta(weeks=3)).date())
    lesson.closed_at = lesson.ends_at
    return lesson


def _film(uow: UnitOfWork, lesson: Lesson, films: Mapping[str, bytes]) -> None:
    """Videos of the lesson's last swing; there is nothing to undo in a demo."""
    for view, content in films.items():
        last = uow.find(Swing, lesson_id=lesson.id, order="-number")[0]
        clip = attach(uow, last.id, view, read_clip(f"{view}.mp4", content))
        for entry in uow.find(ChangeEntry, lesson_id=lesson.id, entity_id=clip.id):
            uow.remove(entry)


def _after(uow: UnitOfWork, recording_id: object, story: Story, visit: Visit) -> None:
    """Ball flights and strikes that fit the story."""
    rng = np.random.default_rng(visit.seed)
    for swing in uow.find(Swing, recording_id=recording_id, order="number"):
        if swing.kind == "warm_up":
            continue
        if story.putts:
            _where_it_went(swing, visit.share, rng)
            continue
        swing.tags = [story.tag] if story.tag else []
        usual = rng.random() < 0.75 - 0.6 * visit.share
        swing.ball_start, swing.ball_curve = story.ball if usual else ("straight", "straight")
        swing.strike = str(rng.choice(["centre", "centre", "toe", "thin"]))


def _where_it_went(putt: Swing, share: float, rng: np.random.Generator) -> None:
    """Short putts drop more often once the wrist is quiet."""
    drops = (0.45 + 0.4 * share) * min(1.0, 3.0 / (putt.distance_m or 3.0))
    putt.outcome = "holed" if rng.random() < drops else str(rng.choice(["left", "left", "short", "long", "right"]))
    if putt.outcome == "long":
        putt.rolled_past_m = round(float(rng.uniform(0.2, 0.9)), 1)


def _today(uow: UnitOfWork, players: dict[str, Player], staff: Sequence[Instructor]) -> None:
    """Today's diary: five lessons; the first reopens where the clinic stands."""
    today = datetime.now(UTC).replace(hour=0, minute=0, second=0, microsecond=0)
    for name, hour, minute, who, bay in TODAY:
        player = players[name]
        starts = today + timedelta(hours=hour, minutes=minute)
        previous = uow.find(Lesson, player_id=player.id, order="-starts_at")
        uow.add(
            Lesson(
                uow.academy_id,
                player.id,
                staff[who].id,
                bay,
                starts,
                starts + timedelta(minutes=LESSON_MINUTES),
                "planned",
                previous[0].club if previous else "7-iron",
            )
        )
    uow.flush()
