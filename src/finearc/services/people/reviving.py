"""Records from what an export says of them. Somebody may have written the export by hand: a record is believed only
where this application could have kept it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import fields
from datetime import date, datetime
from functools import lru_cache
from typing import Annotated, Any, TypeVar, get_type_hints
from uuid import UUID

from pydantic import AfterValidator, AllowInfNan, BeforeValidator, TypeAdapter, ValidationError

from finearc.catalogue import library
from finearc.core.course.kinds import MotionKind
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.metrics.registry import BY_ID
from finearc.core.putting.notes import Break, Outcome, Slope
from finearc.services.capture.clips import BY_CLICK, BY_SOUND, SLOWER, VIEWS
from finearc.services.capture.putter_notes import PutterNotes
from finearc.services.course.records import OwnRange, RoundCorrection, RoundLog
from finearc.services.errors import Refused
from finearc.services.lesson import marks
from finearc.services.lesson.changes import CLIP, IMPORTED, SEVERAL
from finearc.services.ports import UnitOfWork
from finearc.services.practice import document as practice
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.putting.plan import plan_from
from finearc.services.records import (
    Block,
    ChangeEntry,
    Clip,
    Consent,
    Lesson,
    MovementLimit,
    Player,
    Recording,
    Reference,
    Swing,
)
from finearc.wording import LANGUAGES, mark, tr

Record = TypeVar("Record")
AGAIN = mark("Export it again, and bring the file as it was made")
OF_THE_RECORD = ("id", "measuring", "live", "status")
"""Fields that no change of an instructor's sets, beside those that say what belongs to what."""
CHANGED: Mapping[str, type] = {
    "swing": Swing,
    "recording": Recording,
    IMPORTED: Recording,
    CLIP: Clip,
    "player": Player,
    "lesson": Lesson,
}
"""What a change is about, by its entity; one about several swings has the fields of each by its id."""


@lru_cache(maxsize=1)
def known_words() -> Mapping[type, Mapping[str, Collection[Any]]]:
    """The closed lists that fields take their words from."""
    club, shot, hand = library.clubs(), tuple(Shot), tuple(Hand)
    side, seen_as = ("", *marks.SIDES), ("player", "guardian")
    return {
        Player: {
            "handedness": hand,
            "population": ("adult", "junior", "senior"),
            "words": ("plain", "standard"),
            "language": ("", *LANGUAGES),
            "lengths": ("", "cm", "in"),
            "distances": ("", "m", "ft"),
            "clock": ("", "24", "12"),
        },
        Consent: {"as_": seen_as},
        MovementLimit: {"area": {a.area for a in library.limit_areas()}, "side": ("lead", "trail", "both", "")},
        Lesson: {
            "status": ("planned", "running", "closed", "cancelled", "no_show"),
            "club": club,
            "kind": marks.KINDS,
            "pain": ("yes", "no", ""),
        },
        Recording: {"handedness": hand, "shot": shot},
        Swing: {
            "kind": marks.KINDS,
            "club": club,
            "shot": shot,
            "ball_start": side,
            "ball_curve": side,
            "strike": ("", *marks.STRIKES),
            "grip_answer": ("grip", "sensor", ""),
            "outcome": ("", *Outcome),
            "slope": ("", *Slope),
            "breaks": ("", *Break),
        },
        Clip: {
            "view": VIEWS,
            "kind": ("video/mp4", "video/webm"),
            "aligned_by": (BY_SOUND, BY_CLICK, ""),
            "slower": SLOWER,
        },
        Block: {"kind": ("drill", "test"), "club": club, "metric": BY_ID},
        RoundLog: {"club": club},
        OwnRange: {"club": club, "metric": BY_ID},
        RoundCorrection: {"kind": tuple(MotionKind)},
        PracticeAnswer: {"kind": tuple(practice.AnswerKind)},
        Reference: {"form": ("swing", "mean", "best"), "club": club},
        ChangeEntry: {"entity": (*CHANGED, SEVERAL)},
    }


def _own_id(value: Any) -> Any:
    """Every id in an export was replaced by a new one as it was read; one written otherwise than we write ids was not,
    and could be somebody else's."""
    if isinstance(value, str) and str(UUID(value)) != value:
        raise ValueError("an id is written otherwise than an export writes it")
    return value


SHAPED: Mapping[tuple[type, str], Callable[[Any], object]] = {
    (Lesson, "putt_plan"): plan_from,
    (Recording, "putter"): PutterNotes.model_validate,
    (PracticePlan, "document"): practice.refuse_unreadable,
    (PracticeAnswer, "document"): practice.answer_read,
}
"""Documents in a field, and what reads them: one that cannot be read is no export's."""


def _kept_so(kind: type, name: str, hint: Any) -> TypeAdapter[Any]:
    """What a field may hold."""
    wanted: Any = hint
    if "UUID" in str(hint):
        wanted = Annotated[hint, BeforeValidator(_own_id)]
    elif hint in (float, float | None):
        wanted = Annotated[hint, AllowInfNan(False)]
    shaped = SHAPED.get((kind, name))
    if shaped is not None:

        def readable(value: Any) -> Any:
            if value is not None:
                shaped(value)
            return value

        wanted = Annotated[wanted, AfterValidator(readable)]
    words = known_words().get(kind, {}).get(name)
    if words is not None:

        def known(value: Any) -> Any:
            if value not in words:
                raise ValueError(f'"{str(value)[:40]}" is not known here')
            return value

        wanted = Annotated[wanted, AfterValidator(known)]
    return TypeAdapter(wanted)


@lru_cache(maxsize=64)
def _adapters(kind: type) -> Mapping[str, TypeAdapter[Any]]:
    named = {"UUID": UUID, "datetime": datetime, "date": date, "Any": Any}
    hints = get_type_hints(kind, localns=named)
    return {f.name: _kept_so(kind, f.name, hints[f.name]) for f in fields(kind)}


def believed(kind: type, name: str, value: Any) -> Any:
    """A field's value as it is kept. Raises ``Refused``."""
    adapter = _adapters(kind).get(name)
    if adapter is None:
        raise Refused(tr("a {value} has no {name}", value=kind.__name__.lower(), name=name[:40]), tr(AGAIN))
    try:
        return adapter.validate_python(value)
    except ValidationError as error:
        problem = error.errors()[0]["msg"].removeprefix("Value error, ")
        raise Refused(
            tr(
                "the {name} of a {value} cannot be brought: {problem}",
                name=name,
                value=kind.__name__.lower(),
                problem=problem,
            ),
            tr(AGAIN),
        ) from None


def revived(uow: UnitOfWork, kind: type[Record], raw: Mapping[str, Any]) -> Record:
    """A record of this academy from what an export says of it; what it says more is left. Raises ``Refused``."""
    of: type = kind
    given = {name: believed(of, name, raw[name]) for name in _adapters(of) if name in raw and name != "academy_id"}
    try:
        record = kind(**given, **{"academy_id": uow.academy_id})
    except TypeError:
        raise Refused(tr("a {value} lacks something", value=kind.__name__.lower()), tr(AGAIN)) from None
    if isinstance(record, ChangeEntry):
        _refuse_other_changes(record)
    return record


def _refuse_other_changes(entry: ChangeEntry) -> None:
    """Undoing sets fields as they are written: only such as an instructor changes. Raises ``Refused``."""
    for said in (entry.before, entry.after):
        if entry.entity == SEVERAL:
            for key, changed in said.items():
                believed(Swing, "id", key)
                _refuse_other_fields(Swing, changed)
        else:
            _refuse_other_fields(CHANGED[entry.entity], said)


def _refuse_other_fields(kind: type, changed: Any) -> None:
    if not isinstance(changed, dict):
        raise Refused(tr("a change says nothing that can be taken back"), tr(AGAIN))
    for name, value in changed.items():
        if name in OF_THE_RECORD or name.endswith("_id"):
            raise Refused(
                tr("a change cannot be about the {name} of a {value}", name=name[:40], value=kind.__name__.lower()),
                tr(AGAIN),
            )
        believed(kind, name, value)
