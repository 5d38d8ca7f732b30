"""Loads the data files and turns ids into the core's objects."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from functools import cached_property, lru_cache
from pathlib import Path

import numpy as np

from finearc.catalogue import schemas
from finearc.catalogue.overlap import check_overlaps
from finearc.catalogue.pictures import known_picture
from finearc.catalogue.toml_file import DataFileError, entry_line, read_dict, read_file, read_toml
from finearc.core.events.model import Checkpoint
from finearc.core.judging import graph
from finearc.core.judging.conditions import AllOf, AnyOf, Beyond, Condition, Not, Places, Unseen, ValueBeyond
from finearc.core.judging.drills import Ask, Drill, TrainerBand
from finearc.core.judging.findings import FindingRule, MatchedSet
from finearc.core.judging.limits import Limit, Touch
from finearc.core.judging.ranges import Range, Situation
from finearc.core.metrics.definition import PER_SI, Metric, Moment
from finearc.core.metrics.registry import BY_ID
from finearc.wording import tr

DATA = Path(__file__).parent / "data"
MOMENTS = tuple(c.value for c in Checkpoint)


def metric_of(key: str, file: str = "catalogue") -> Metric:
    """The metric of an id; the error suggests the nearest."""
    if key in BY_ID:
        return BY_ID[key]
    near = get_close_matches(key, BY_ID, 1)
    raise DataFileError(
        file, tr('there is no metric "{key}"', key=key) + (tr(', did you mean "{near}"?', near=near[0]) if near else "")
    )


@dataclass(frozen=True, eq=False)
class RangeLibrary:
    """A versioned set of ranges; a result keeps the version it was judged by."""

    version: str
    ranges: tuple[Range, ...]
    entries: tuple[schemas.RangeEntry, ...] = ()

    @cached_property
    def places(self) -> Places:
        """Which metric and moment each range speaks of."""
        return {r.id: (r.metric.id, r.moment.key) for r in self.ranges}

    @cached_property
    def by_id(self) -> Mapping[str, Range]:
        """The ranges by id."""
        return {r.id: r for r in self.ranges}


def _range(entry: schemas.RangeEntry, file: str) -> Range:
    metric = metric_of(entry.metric, file)
    per = PER_SI[metric.unit]
    known_moment(entry.event, file)

    def si(value: float | None) -> float | None:
        return None if value is None else value / per

    school = next(iter(entry.school.items())) if entry.school else None
    if school is not None:
        known_school(school[0], school[1], file)
    return Range(
        entry.id,
        metric,
        Moment(entry.event),
        si(entry.low),
        si(entry.high),
        entry.soft_low / per,
        entry.soft_high / per,
        entry.provenance,
        entry.note,
        entry.source,
        entry.club_class,
        school,
        entry.population,
        Moment(entry.relative_to) if entry.relative_to else None,
        si(entry.low_offset),
        si(entry.high_offset),
        entry.low_share,
        si(entry.scale),
        entry.shot,
        entry.own_best,
        entry.least_m,
        entry.most_m,
    )


def range_library(file: schemas.RangeFile, name: str, text: str = "") -> RangeLibrary:
    """A library from its entries, checked. ``text``, where there is a file, gives the line of an error. Raises
    ``DataFileError``."""
    made = []
    for entry in file.range:
        try:
            made.append(_range(entry, name))
        except DataFileError as error:
            problem = tr("range {id}: {problem}", id=entry.id, problem=error.problem)
            raise DataFileError(name, problem, entry_line(text, "range", entry.id)) from None
    clash = check_overlaps(made, clubs())
    if clash is not None:
        raise DataFileError(name, clash.problem, entry_line(text, "range", clash.second))
    return RangeLibrary(file.version, tuple(made), tuple(file.range))


def ranges_of_text(text: str, name: str) -> RangeLibrary:
    """The benchmark library of a TOML text. Raises ``DataFileError``."""
    return range_library(read_toml(text, name, schemas.RangeFile), name, text)


def ranges_of_dict(content: Mapping[str, object], name: str) -> RangeLibrary:
    """The same from entries that did not come as a file. Raises ``DataFileError``."""
    return range_library(read_dict(content, name, schemas.RangeFile), name)


def entry_of(content: Mapping[str, object], name: str) -> schemas.RangeEntry:
    """One range's entry. Raises ``DataFileError``."""
    return read_dict(content, name, schemas.RangeEntry)


@lru_cache(maxsize=32)
def ranges(path: Path = DATA / "ranges.toml") -> RangeLibrary:
    """The benchmark library of a file; the built-in one by default. Raises ``DataFileError``."""
    file = read_file(path, schemas.RangeFile)
    return range_library(file, path.name, path.read_text(encoding="utf-8"))


def known_moment(key: str, file: str) -> None:
    """Raises ``DataFileError`` unless the moment is a checkpoint, a change between two, or the whole swing."""
    parts = [p.removesuffix("+0.1s") for p in key.split("..")]
    if key == "swing" or (len(parts) <= 2 and all(p in MOMENTS for p in parts)):
        return
    near = get_close_matches(key, MOMENTS, 1)
    raise DataFileError(
        file, tr('there is no moment "{key}"', key=key) + (tr(', did you mean "{near}"?', near=near[0]) if near else "")
    )


def _condition(entry: schemas.ConditionEntry, file: str) -> Condition:
    if isinstance(entry, schemas.BeyondEntry):
        side = {"above": "high", "below": "low", "outside": "either"}[entry.kind]
        return Beyond(tuple(entry.ranges), side, entry.strict)
    if isinstance(entry, schemas.ValueEntry):
        metric = metric_of(entry.metric, file)
        known_moment(entry.event, file)
        per = PER_SI[metric.unit]
        return ValueBeyond(
            metric, Moment(entry.event), entry.limit / per, entry.kind == "value_above", entry.half_width / per
        )
    if isinstance(entry, schemas.UnseenEntry):
        known_moment(entry.event, file)
        return Unseen(metric_of(entry.metric, file), Moment(entry.event))
    if isinstance(entry, schemas.NotEntry):
        return Not(_condition(entry.of, file))
    parts = tuple(_condition(part, file) for part in entry.of)
    return AllOf(parts) if entry.kind == "all_of" else AnyOf(parts)


@lru_cache(maxsize=1)
def finding_entries() -> tuple[schemas.FindingEntry, ...]:
    """The findings as written, with their examples."""
    return tuple(read_file(DATA / "findings.toml", schemas.FindingFile).finding)


def finding_of(e: schemas.FindingEntry, file: str = "findings.toml", *, own: bool = False) -> FindingRule:
    """An entry as the core's rule. Raises ``DataFileError``."""
    return FindingRule(
        id=e.id,
        label=e.label,
        plain_label=e.plain_label,
        phase=e.phase,
        level=e.level,
        weight=e.weight,
        when=_condition(e.when, file),
        says=e.says,
        player_says=e.player_says,
        tends=e.tends,
        ball=tuple(e.ball),
        may_cause=tuple(e.may_cause),
        drills=tuple(e.drills),
        caution=e.caution,
        note=e.note,
        setup_answer=e.setup_answer,
        of_putts=e.shot == "putt",
        firm_with=tuple(metric_of(k, file).id for k in e.firm_with),
        remark=e.remark,
        own=own,
    )


@lru_cache(maxsize=1)
def findings() -> tuple[FindingRule, ...]:
    """All built-in findings as the core's rules, their causes in order."""
    rules = tuple(finding_of(e) for e in finding_entries())
    graph.check(rules)
    return rules


@lru_cache(maxsize=1)
def matched_entries() -> tuple[schemas.MatchedEntry, ...]:
    """The matched sets as written, with their examples."""
    return tuple(read_file(DATA / "matched.toml", schemas.MatchedFile).matched)


@lru_cache(maxsize=1)
def matched_sets() -> tuple[MatchedSet, ...]:
    """All matched sets."""
    return tuple(
        MatchedSet(e.id, e.label, _condition(e.when, "matched.toml"), e.says, e.player_says, tuple(e.involves))
        for e in matched_entries()
    )


@lru_cache(maxsize=1)
def putting_pieces() -> tuple[schemas.PieceEntry, ...]:
    """What of a putt hangs together. Raises ``DataFileError`` for a drill that does not exist."""
    pieces = tuple(read_file(DATA / "putting_set.toml", schemas.PieceFile).piece)
    for piece in pieces:
        for drill in piece.drills:
            if drill not in drills():
                raise DataFileError(
                    "putting_set.toml", tr('{id}: there is no drill "{drill}"', id=piece.id, drill=drill)
                )
    return pieces


@lru_cache(maxsize=1)
def touches() -> tuple[Touch, ...]:
    """Which values ask for more of which movement."""
    file = read_file(DATA / "limits.toml", schemas.TouchFile)
    return tuple(
        Touch(t.area, t.movement, metric_of(t.metric, "limits.toml"), Moment(t.event), t.side, t.body_side)
        for t in file.touch
    )


@lru_cache(maxsize=1)
def limit_areas() -> tuple[schemas.AreaEntry, ...]:
    """What of the body can be limited."""
    return tuple(read_file(DATA / "limits.toml", schemas.TouchFile).area)


@lru_cache(maxsize=1)
def facts() -> tuple[schemas.FactEntry, ...]:
    """Facts of the trade that are no range of a measured value."""
    return tuple(read_file(DATA / "facts.toml", schemas.FactFile).fact)


def drill_of(d: schemas.DrillEntry, file: str = "drills.toml", *, own: bool = False) -> Drill:
    """An entry as the core's drill. Raises ``DataFileError``."""
    asks = tuple(
        Ask(a.area, a.movement, None if a.amount is None else float(np.deg2rad(a.amount)), a.side) for a in d.asks
    )
    band = None
    if d.band is not None:
        metric = metric_of(d.band.metric, file)
        per = PER_SI[metric.unit]
        low, high = (None if v is None else v / per for v in (d.band.low, d.band.high))
        for moment in (d.band.start, d.band.end):
            known_moment(moment, file)
        band = TrainerBand(metric, d.band.start, d.band.end, low, high, from_address=d.band.relative)
    about = (d.aim, d.equipment, d.dose, tuple(d.loads), band, own, known_picture(d.picture, file))
    return Drill(d.id, d.label, d.how, d.feel, d.caution, asks, *about)


@lru_cache(maxsize=1)
def drill_entries() -> tuple[schemas.DrillEntry, ...]:
    """The drills as written."""
    return tuple(read_file(DATA / "drills.toml", schemas.DrillFile).drill)


@lru_cache(maxsize=1)
def drills() -> Mapping[str, Drill]:
    """All built-in drills by id."""
    return {d.id: drill_of(d) for d in drill_entries()}


@lru_cache(maxsize=1)
def clubs() -> Mapping[str, schemas.Club]:
    """All clubs by id."""
    return read_file(DATA / "clubs.toml", schemas.ClubFile).clubs


@lru_cache(maxsize=1)
def schools() -> Mapping[str, schemas.School]:
    """All schools by axis."""
    raw = tomllib.loads((DATA / "schools.toml").read_text(encoding="utf-8"))
    return {axis: schemas.School.model_validate(entry) for axis, entry in raw.items()}


def known_school(axis: str, option: str, file: str = "--school") -> None:
    """Raises ``DataFileError`` unless the school exists."""
    known = schools()
    if axis not in known:
        raise DataFileError(file, tr('there is no school "{axis}"; known: {known}', axis=axis, known=", ".join(known)))
    options = [o.id for o in known[axis].options]
    if option not in options:
        raise DataFileError(
            file,
            tr(
                'school {axis} has no "{option}"; known: {options}',
                axis=axis,
                option=option,
                options=", ".join(options),
            ),
        )


def default_schools() -> dict[str, str]:
    """The first option of each."""
    return {axis: school.options[0].id for axis, school in schools().items()}


def situation(
    club: str,
    shot: str,
    population: str,
    chosen: Mapping[str, str],
    limits: Sequence[Limit] = (),
    best: Mapping[tuple[str, str], float] | None = None,
) -> Situation:
    """What decides the ranges for one swing."""
    for axis, option in chosen.items():
        known_school(axis, option)
    known = clubs()
    if club not in known:
        near = get_close_matches(club, known, 1)
        raise DataFileError(
            "club",
            tr('there is no club "{club}"', club=club) + (tr(', did you mean "{near}"?', near=near[0]) if near else ""),
        )
    schools_held = {**default_schools(), **chosen}
    classes = frozenset(known[club].classes)
    return Situation(classes, shot, population, schools_held, best or {}, tuple(limits), touches())


def lie_rad(club: str) -> float:
    """Lie angle of a club, rad."""
    return float(np.deg2rad(clubs()[club].lie_deg))


def known_ids(items: Sequence[FindingRule]) -> set[str]:
    """Ids of the given rules."""
    return {rule.id for rule in items}
