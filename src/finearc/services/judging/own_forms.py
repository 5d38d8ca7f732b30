"""An academy's own findings and drills as a screen asks for them: measures beyond their band, in words; the file form
(``catalogue.schemas``) says more and stays what is kept and exchanged."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal, NamedTuple

from pydantic import ValidationError

from finearc.catalogue import library, schemas
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.rule_set import check_academy_rules
from finearc.catalogue.toml_file import DataFileError
from finearc.core.judging.ranges import Range, applies
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.words import at_moment, place_words
from finearc.services.errors import NotFound, Refused
from finearc.services.judging import academy_rules
from finearc.services.ports import UnitOfWork
from finearc.services.records import AcademyRules
from finearc.wording import tr

Way = Literal["above", "below", "outside"]
TELLING_CLUB = "7-iron"
"""The club that examples are judged for."""
WEIGHT = 1.0
"""Of a finding made on a screen: as most built-in ones (house value)."""


class Shown(NamedTuple):
    """A measure at a moment, beyond its band on a side."""

    metric: str
    moment: str
    way: Way


@dataclass(frozen=True)
class Condition:
    """When a finding speaks: all of these, or any."""

    shown: tuple[Shown, ...]
    together: Literal["all", "any"] = "all"


def condition_of(entry: schemas.FindingEntry, ranges: RangeLibrary) -> Condition | None:
    """The condition as a screen can ask for it; None for one that says more than that."""
    when = entry.when
    parts = list(when.of) if isinstance(when, schemas.CombineEntry) else [when]
    found = [_shown(part, ranges) for part in parts]
    if None in found:
        return None
    together: Literal["all", "any"] = "any" if when.kind == "any_of" else "all"
    return Condition(tuple(s for s in found if s is not None), together)


def _shown(part: schemas.ConditionEntry, ranges: RangeLibrary) -> Shown | None:
    if not isinstance(part, schemas.BeyondEntry) or part.strict:
        return None
    places = {ranges.places.get(r) for r in part.ranges}
    place = next(iter(places))
    return Shown(*place, part.kind) if len(places) == 1 and place is not None else None


def save_finding(
    uow: UnitOfWork, revision: int, key: str, words: Mapping[str, Any], condition: Condition | None
) -> AcademyRules:
    """Make (``key`` empty) or change one of the academy's own findings. ``words``: the entry's fields but its id,
    condition and examples; ``condition`` None keeps the one of the file. Raises ``Overtaken``, ``NotFound``, and
    ``Refused`` in words for what cannot be."""
    rules = academy_rules.hold_rules_at(uow, revision, tr("own findings"))
    old = next((f for f in rules.findings if f["id"] == key), None)
    if key and old is None:
        raise NotFound(tr('finding "{key}"', key=key))
    ranges = academy_rules.ranges_of(uow)
    if condition is None and old is None:
        raise Refused(tr("a finding needs a measure that it speaks of"), tr("Choose one"))
    made = {} if condition is None else _when(condition, ranges)
    new_id = key or _free_id(words["label"], {f["id"] for f in rules.findings})
    return _kept(uow, rules, ranges, finding={"weight": WEIGHT, **(old or {}), **words, **made, "id": new_id})


def save_drill(uow: UnitOfWork, revision: int, key: str, words: Mapping[str, Any]) -> AcademyRules:
    """Make (``key`` empty) or change one of the academy's own drills. Raises as ``save_finding`` does."""
    rules = academy_rules.hold_rules_at(uow, revision, tr("own drills"))
    if key and (key in _built_in_drills() or key not in {d["id"] for d in rules.drills}):
        raise NotFound(tr('drill "{key}"', key=key))
    new_id = key or _free_id(words["label"], {d["id"] for d in rules.drills} | _built_in_drills())
    return _kept(uow, rules, academy_rules.ranges_of(uow), drill={**words, "id": new_id})


def remove_drill(uow: UnitOfWork, drill: str) -> AcademyRules:
    """Take an own drill out. Refused while one of the academy's findings offers it."""
    rules = academy_rules.hold_rules(uow)
    if drill in _built_in_drills() or drill not in {d["id"] for d in rules.drills}:
        raise NotFound(tr('drill "{drill}"', drill=drill))
    users = [f["label"] for f in rules.findings if drill in f.get("drills", [])]
    if users:
        raise Refused(tr("{users} offers it", users=users[0]), tr("Change that finding first"))
    rules.drills = [d for d in rules.drills if d["id"] != drill]
    academy_rules.save_own(uow, rules)
    return rules


def _built_in_drills() -> set[str]:
    return {d.id for d in library.drill_entries()}


def _kept(uow: UnitOfWork, rules: AcademyRules, ranges: RangeLibrary, **entries: Mapping[str, Any]) -> AcademyRules:
    try:
        file = schemas.AcademyRulesFile.model_validate({what: [entry] for what, entry in entries.items()})
        merged = check_academy_rules(file, ranges, academy_rules.own_of(uow))
    except ValidationError as error:
        raise Refused(_first(error), tr("Change it and save again")) from None
    except DataFileError as error:
        raise Refused(error.problem, tr("Change it and save again")) from None
    academy_rules.put_own(uow, rules, merged)
    return rules


def _first(error: ValidationError) -> str:
    found = error.errors()[0]
    where = ".".join(str(p) for p in found["loc"][2:] if isinstance(p, str))
    what = str(found["msg"]).removeprefix("Value error, ")
    return f"{where}: {what}" if where else what


def _free_id(label: str, taken: set[str]) -> str:
    """A name for a new entry from its label."""
    base = re.sub(r"[^a-z0-9]+", "_", label.lower()).strip("_")[:50]
    base = base if base[:1].isalpha() else f"own_{base}".rstrip("_")
    known = taken | {f.id for f in library.findings()}
    return next(name for k in range(1, 10_000) if (name := base if k == 1 else f"{base}_{k}") not in known)


def _when(condition: Condition, ranges: RangeLibrary) -> dict[str, Any]:
    """Condition and examples of the file form."""
    if not condition.shown:
        raise Refused(tr("a finding needs a measure that it speaks of"), tr("Choose one"))
    parts = [{"kind": s.way, "ranges": [r.id for r in _ranges_at(s, ranges)]} for s in condition.shown]
    combined = {"kind": f"{condition.together}_of", "of": parts}
    return {"when": parts[0] if len(parts) == 1 else combined, "example": _examples(condition, ranges)}


def _ranges_at(shown: Shown, ranges: RangeLibrary) -> list[Range]:
    found = [r for r in ranges.ranges if (r.metric.id, r.moment.key) == (shown.metric, shown.moment)]
    if not found:
        raise Refused(
            tr("there is no range for {metric} at {moment}", metric=shown.metric, moment=shown.moment),
            tr("Choose a measure that has one"),
        )
    return found


def _examples(condition: Condition, ranges: RangeLibrary) -> list[dict[str, Any]]:
    """One set of values that fires and one that does not."""
    told = [(s, _telling(s, ranges)) for s in condition.shown]
    schools: dict[str, str] = {}
    for _, r in told:
        if r.school is not None and schools.setdefault(*r.school) != r.school[1]:
            raise Refused(tr("these measures belong to two schools of one matter"), tr("Choose others"))
    leant_on = {f"{s.metric}@{r.relative_to.key}": _within(r) for s, r in told if r.relative_to is not None}
    beyond = {f"{s.metric}@{s.moment}": _beyond(s, r) for s, r in told}
    within = {f"{s.metric}@{s.moment}": _within(r) for s, r in told}
    return [
        {"values": {**leant_on, **values}, "schools": schools, "fires": fires}
        for values, fires in ((beyond, True), (within, False))
    ]


def _telling(shown: Shown, ranges: RangeLibrary) -> Range:
    """The range of a measure that speaks of an adult's full swing with ``TELLING_CLUB``."""
    found = _ranges_at(shown, ranges)
    for r in found:
        held = {r.school[0]: r.school[1]} if r.school else {}
        situation = library.situation(TELLING_CLUB, "full", "adult", {**library.default_schools(), **held})
        wanted = {"above": r.high is not None, "below": r.low is not None}
        if not applies(r, situation) and wanted.get(shown.way, r.high is not None or r.low is not None):
            return r
    side = {"above": tr("upper limit"), "below": tr("lower limit")}.get(shown.way, "limit")
    raise Refused(
        tr(
            "{label} has no {side} there for a {telling_club}",
            label=found[0].metric.label,
            side=side,
            telling_club=TELLING_CLUB,
        ),
        tr("Choose another side or measure"),
    )


def _span(r: Range) -> float:
    if r.low is not None and r.high is not None:
        return max(r.high - r.low, 2 * r.soft_low, 2 * r.soft_high)
    return max(r.scale or 0.0, 2 * r.soft_low, 2 * r.soft_high, abs(r.high if r.high is not None else r.low or 0.0) / 2)


def _edge(r: Range, value: float) -> float:
    return round(value * PER_SI[r.metric.unit], r.metric.decimals + 2)


def _beyond(shown: Shown, r: Range) -> float:
    up = shown.way == "above" or (shown.way == "outside" and r.high is not None)
    return _edge(r, (r.high or 0.0) + _span(r) if up else (r.low or 0.0) - _span(r))


def _within(r: Range) -> float:
    if r.low is not None and r.high is not None:
        return _edge(r, (r.low + r.high) / 2)
    return _edge(r, r.low + _span(r) if r.low is not None else (r.high or 0.0) - _span(r))


def examples_told(entry: schemas.FindingEntry) -> list[str]:
    """The examples in words, for whoever reads a finding on a screen."""
    return [
        tr(
            "{value} at {value2}",
            value=tr("speaks") if e.fires else tr("is silent"),
            value2=", ".join((_told(k, v) for k, v in e.values.items())),
        )
        for e in entry.example
    ]


def _told(key: str, value: float) -> str:
    name, _, moment = key.partition("@")
    metric = library.metric_of(name)
    return f"{metric.label.lower()}{place_words(moment)} {at_moment(metric, moment, value / PER_SI[metric.unit])}"


def own_drills(entries: Sequence[schemas.DrillEntry]) -> list[schemas.DrillEntry]:
    """Those that are the academy's own, not a built-in one in its wording."""
    known = _built_in_drills()
    return [d for d in entries if d.id not in known]
