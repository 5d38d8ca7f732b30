"""Loads the data files and turns ids into the core's objects."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache
from pathlib import Path
from typing import TypeVar

import numpy as np
from pydantic import BaseModel, ValidationError

from finearc.catalogue import schemas
from finearc.core.errors import FineArcError
from finearc.core.judging.findings import (
    AllOf,
    AnyOf,
    Ask,
    Beyond,
    Condition,
    Drill,
    FindingRule,
    Not,
    ValueBeyond,
)
from finearc.core.judging.ranges import Range, Situation
from finearc.core.metrics.definition import PER_SI, Metric, Moment
from finearc.core.metrics.registry import BY_ID

DATA = Path(__file__).parent / "data"
Shape = TypeVar("Shape", bound=BaseModel)


@dataclass
class DataFileError(FineArcError):
    """A data file (ranges, findings, …) is not as it should be."""

    file: str
    problem: str
    code = "data_file"

    def __str__(self) -> str:
        return f"{self.file}: {self.problem}"


def metric_of(key: str, file: str = "catalogue") -> Metric:
    """The metric of an id; the error suggests the nearest."""
    if key in BY_ID:
        return BY_ID[key]
    near = get_close_matches(key, BY_ID, 1)
    raise DataFileError(file, f'there is no metric "{key}"' + (f', did you mean "{near[0]}"?' if near else ""))


def _read(path: Path, shape: type[Shape]) -> Shape:
    try:
        return shape.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))
    except FileNotFoundError:
        raise DataFileError(str(path), "no such file") from None
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise DataFileError(path.name, f"not valid TOML: {error}") from None
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "file"
        raise DataFileError(path.name, f"{where}: {first['msg'].removeprefix('Value error, ')}") from None


@dataclass(frozen=True)
class RangeLibrary:
    """A versioned set of ranges; a result keeps the version it was judged by."""

    version: str
    ranges: tuple[Range, ...]

    @property
    def metrics(self) -> dict[str, Metric]:
        return {r.id: r.metric for r in self.ranges}


def _range(entry: schemas.RangeEntry, file: str) -> Range:
    metric = metric_of(entry.metric, file)
    per = PER_SI[metric.unit]

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
    )


@lru_cache(maxsize=32)
def ranges(path: Path = DATA / "ranges.toml") -> RangeLibrary:
    """The benchmark library of a file; the built-in one by default. Raises ``DataFileError``."""
    file = _read(path, schemas.RangeFile)
    return RangeLibrary(file.version, tuple(_range(entry, path.name) for entry in file.range))


def _condition(entry: schemas.ConditionEntry, file: str) -> Condition:
    if isinstance(entry, schemas.BeyondEntry):
        side = {"above": "high", "below": "low", "outside": "either"}[entry.kind]
        return Beyond(tuple(entry.ranges), side, entry.strict)
    if isinstance(entry, schemas.ValueEntry):
        metric = metric_of(entry.metric, file)
        per = PER_SI[metric.unit]
        return ValueBeyond(
            metric, Moment(entry.event), entry.limit / per, entry.kind == "value_above", entry.half_width / per
        )
    if isinstance(entry, schemas.NotEntry):
        return Not(_condition(entry.of, file))
    parts = tuple(_condition(part, file) for part in entry.of)
    return AllOf(parts) if entry.kind == "all_of" else AnyOf(parts)


@lru_cache(maxsize=1)
def finding_entries() -> tuple[schemas.FindingEntry, ...]:
    """The findings as written, with their examples."""
    return tuple(_read(DATA / "findings.toml", schemas.FindingFile).finding)


@lru_cache(maxsize=1)
def findings() -> tuple[FindingRule, ...]:
    """All findings as the core's rules."""
    return tuple(
        FindingRule(
            e.id,
            e.label,
            e.plain_label,
            e.phase,
            e.level,
            e.weight,
            _condition(e.when, "findings.toml"),
            e.says,
            e.player_says,
            e.tends,
            tuple(e.ball),
            tuple(e.may_cause),
            tuple(e.drills),
            e.caution,
            e.note,
        )
        for e in finding_entries()
    )


@lru_cache(maxsize=1)
def drills() -> Mapping[str, Drill]:
    """All drills by id."""
    file = _read(DATA / "drills.toml", schemas.DrillFile)
    return {
        d.id: Drill(d.id, d.label, d.how, d.feel, d.caution, tuple(Ask(a.area, a.movement) for a in d.asks))
        for d in file.drill
    }


@lru_cache(maxsize=1)
def clubs() -> Mapping[str, schemas.Club]:
    """All clubs by id."""
    return _read(DATA / "clubs.toml", schemas.ClubFile).clubs


@lru_cache(maxsize=1)
def schools() -> Mapping[str, schemas.School]:
    """All schools by axis."""
    raw = tomllib.loads((DATA / "schools.toml").read_text(encoding="utf-8"))
    return {axis: schemas.School.model_validate(entry) for axis, entry in raw.items()}


def known_school(axis: str, option: str, file: str = "--school") -> None:
    """Raises ``DataFileError`` unless the school exists."""
    known = schools()
    if axis not in known:
        raise DataFileError(file, f'there is no school "{axis}"; known: {", ".join(known)}')
    options = [o.id for o in known[axis].options]
    if option not in options:
        raise DataFileError(file, f'school {axis} has no "{option}"; known: {", ".join(options)}')


def default_schools() -> dict[str, str]:
    """The first option of each."""
    return {axis: school.options[0].id for axis, school in schools().items()}


def situation(club: str, shot: str, population: str, chosen: Mapping[str, str]) -> Situation:
    """What decides the ranges for one swing."""
    for axis, option in chosen.items():
        known_school(axis, option)
    known = clubs()
    if club not in known:
        near = get_close_matches(club, known, 1)
        raise DataFileError("club", f'there is no club "{club}"' + (f', did you mean "{near[0]}"?' if near else ""))
    return Situation(frozenset(known[club].classes), shot == "full", population, {**default_schools(), **chosen})


def lie_rad(club: str) -> float:
    """Lie angle of a club, rad."""
    return float(np.deg2rad(clubs()[club].lie_deg))


def known_ids(items: Sequence[FindingRule]) -> set[str]:
    """Ids of the given rules."""
    return {rule.id for rule in items}
