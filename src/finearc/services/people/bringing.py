"""An exported player or lesson brought into an academy: all that was noted, marked, planned and measured, as it was."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar
from uuid import UUID

from pydantic import ValidationError

from finearc.catalogue import library
from finearc.services.capture.clips import PIECE
from finearc.services.course.records import OwnRange, Round, RoundCorrection, RoundLog
from finearc.services.diary.records import Package
from finearc.services.errors import Refused
from finearc.services.judging.judge import judge_record
from finearc.services.judging.rejudge import keep_judgement
from finearc.services.judging.terms import Terms, terms_of
from finearc.services.known import refuse_unknown_club
from finearc.services.lesson.documents import SummaryOut
from finearc.services.lesson.summary import refresh
from finearc.services.people.reviving import AGAIN, revived
from finearc.services.ports import JudgedRows, MeasuredRows, UnitOfWork
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.record.codec import unpack_record
from finearc.services.record.document import SwingJudgement
from finearc.services.record.judgements import unpack_judgement
from finearc.services.records import (
    Block,
    ChangeEntry,
    Chunk,
    Clip,
    ClipPart,
    Consent,
    Lesson,
    MadeOf,
    MovementLimit,
    Player,
    Priority,
    Recording,
    Reference,
    Swing,
)
from finearc.wording import tr

Record = TypeVar("Record")
Tell = Callable[[int, int, str], None]


@dataclass(frozen=True)
class BroughtLesson:
    """A lesson's record as an export has it, with new ids, and by these: raw columns, what is kept of swings (record,
    judgement, blocks) and videos."""

    record: Mapping[str, Any]
    chunks: Mapping[str, bytes]
    kept: Mapping[str, Mapping[str, bytes]]
    clips: Mapping[str, bytes]


@dataclass(frozen=True)
class Brought:
    """``player``: the record of an exported player, None of a lesson's; ``references``: their courses by new id;
    ``round_logs``: columns of the clips' logs by new id."""

    player: Mapping[str, Any] | None
    lessons: Sequence[BroughtLesson]
    references: Mapping[str, bytes]
    round_logs: Mapping[str, bytes] = field(default_factory=dict)


def bring(uow: UnitOfWork, brought: Brought, by: UUID, tell: Tell = lambda *_: None) -> Player:
    """Keep an export as a new player of this academy; lessons become those of the instructor who brings it (``by``).
    What was judged by the built-in ranges keeps its judgement; what was judged by another academy's own is judged by
    this one's. Raises ``Refused``."""
    if not brought.lessons and brought.player is None:
        raise Refused(tr("there is no player and no lesson in it"), tr("Choose the export of a lesson or of a player"))
    raw = brought.player["player"] if brought.player is not None else brought.lessons[0].record["player"]
    player = revived(uow, Player, raw)
    uow.add(player)
    uow.flush()
    if brought.player is not None:
        _about(uow, brought.player, brought.references)
        _rounds(uow, player, brought.player, brought.round_logs)
    elif player.consent_at is not None:
        uow.add(Consent(uow.academy_id, player.id, True, player.consent_by, "player", noted_by=""))
    for k, lesson in enumerate(brought.lessons):
        tell(k, len(brought.lessons), tr("Lesson {value} of {lessons}", value=k + 1, lessons=len(brought.lessons)))
        _lesson(uow, player, lesson, by)
    tell(len(brought.lessons), len(brought.lessons), tr("Keeping it"))
    return player


def _about(uow: UnitOfWork, record: Mapping[str, Any], references: Mapping[str, bytes]) -> None:
    """Limits, consents, and what was made of the player's swings alone."""
    _all(uow, MovementLimit, record["limits"])
    _all(uow, Consent, record["consents"])
    _all(uow, Package, record.get("courses", []))
    _all(uow, OwnRange, record.get("own_ranges", []))
    for raw in record["references"]:
        if raw["players"] == 1 and raw["id"] in references:
            made = revived(uow, Reference, {**raw, "traces": references[raw["id"]]})
            uow.add(made)
            uow.flush()
            uow.add(MadeOf(uow.academy_id, "reference", made.id, UUID(record["player"]["id"])))


def _rounds(uow: UnitOfWork, player: Player, record: Mapping[str, Any], logs: Mapping[str, bytes]) -> None:
    """The player's rounds; exports before version 4 have none."""
    own = {"player_id": str(player.id)}
    rounds = {str(r.id) for r in _all(uow, Round, ({**r, **own} for r in record.get("rounds", [])))}
    for kind, raw in (
        (RoundLog, [{**x, "columns": logs[x["id"]]} for x in record.get("round_logs", [])]),
        (RoundCorrection, record.get("round_corrections", [])),
    ):
        if any(x["round_id"] not in rounds for x in raw):
            raise Refused(tr("something of a round that is not in it cannot be brought"), tr(AGAIN))
        _all(uow, kind, raw)


def _lesson(uow: UnitOfWork, player: Player, brought: BroughtLesson, by: UUID) -> None:
    record = brought.record
    own = {"instructor_id": str(by), "player_id": str(player.id)}
    lesson = revived(uow, Lesson, {**record["lesson"], **own})
    if lesson.package_id is not None and not uow.find(Package, id=lesson.package_id):
        lesson.package_id = None  # an export of a lesson has no courses
    foreign = lesson.benchmarks not in ("", library.ranges().version) or bool(lesson.rules_revision)
    if foreign:
        lesson.benchmarks, lesson.rules_revision = "", None  # another academy's rules are not known here
    uow.add(lesson)
    uow.flush()
    _all(uow, Recording, ({**r, "live": None} for r in record["recordings"]))
    _all(uow, Chunk, ({**c, "columns": brought.chunks[c["id"]]} for c in record["chunks"]))
    swings = _all(uow, Swing, ({**s, "player_id": str(player.id)} for s in record["swings"]))
    _all(uow, Block, record["blocks"])
    _all(uow, Priority, record["priorities"])
    _all(uow, PracticePlan, ({**p, "player_id": str(player.id)} for p in record.get("practice", [])[:1]))
    _all(uow, PracticeAnswer, ({**a, "player_id": str(player.id)} for a in record.get("practice_answers", [])))
    _all(uow, ChangeEntry, ({**c, "made_by": str(by)} for c in record["changes"]))
    for clip in _all(uow, Clip, record["clips"]):
        content = brought.clips[str(clip.id)]
        for k, start in enumerate(range(0, len(content), PIECE)):
            uow.add(ClipPart(uow.academy_id, clip.id, k, content[start : start + PIECE]))
    terms = terms_of(uow, lesson, player)
    judged = [j for s in swings if (j := _measured(uow, s, brought.kept.get(str(s.id), {}), terms)) is not None]
    if judged:
        uow.swings.judge(judged)
    if foreign and swings:
        refresh(uow, lesson, player, {s.club for s in swings}, terms)
    else:
        uow.swings.summarise({(lesson.id, club): _summary(club, said) for club, said in record["summaries"].items()})


def _summary(club: str, said: Any) -> str:
    """As it was shown when the lesson was closed. Raises ``Refused``."""
    refuse_unknown_club(club)
    try:
        return SummaryOut.model_validate(said).model_dump_json()
    except ValidationError:
        raise Refused(tr("a summary is not as an export has it"), tr(AGAIN)) from None


def _measured(uow: UnitOfWork, swing: Swing, parts: Mapping[str, bytes], terms: Terms) -> JudgedRows | None:
    """Measured as it was, byte for byte; judged as it was where that was by rules that are known here."""
    if "record" not in parts:
        return None
    record = unpack_record(parts["record"])
    blocks = {part.removeprefix("block "): content for part, content in parts.items() if part.startswith("block ")}
    rows = MeasuredRows(parts["record"], list(record.values.values()), blocks)
    uow.swings.measure(swing, rows, again=False)
    judgement = _judgement(parts.get("judgement")) or judge_record(
        record, terms, swing.club, swing.shot, moved=swing.sensor_moved
    )
    return keep_judgement(swing, judgement, terms, None)


def _judgement(document: bytes | None) -> SwingJudgement | None:
    """As it was, where it was by the built-in rules of this release."""
    found = unpack_judgement(document, library.ranges()) if document is not None else None
    known = found is not None and not found.revision and found.benchmarks == library.ranges().version
    return found if known else None


def _all(uow: UnitOfWork, kind: type[Record], raw: Iterable[Mapping[str, Any]]) -> list[Record]:
    made = [revived(uow, kind, r) for r in raw]
    for record in made:
        uow.add(record)
    uow.flush()
    return made
