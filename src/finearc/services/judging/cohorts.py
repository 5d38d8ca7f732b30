"""Ranges and mean traces from captured swings, and references to lay over a swing."""

from __future__ import annotations

import json
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from statistics import median
from typing import Any
from uuid import UUID

import numpy as np

from finearc.catalogue.library import DATA, RangeLibrary
from finearc.catalogue.schemas import RangeEntry
from finearc.core.comparing.cohort import PLACES, Cohort, MeanTrace, Sample, cohort, laid_over, mean_trace, normalised
from finearc.core.judging.ranges import Range, applies
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array
from finearc.services.errors import Refused
from finearc.services.judging.terms import BEST, Terms
from finearc.services.ports import UnitOfWork
from finearc.services.record.blocks import TRACES, pack_traces, unpack_traces
from finearc.services.record.codec import unpack_record, unpack_values
from finearc.services.record.document import SwingRecord
from finearc.services.record.judgements import told
from finearc.services.records import COUNTING, Lesson, MadeOf, Player, Reference, Swing
from finearc.wording import mark, tr

SYNTHETIC = "synthetic"
SYNTHETIC_NAME = mark("Skilled swings (synthetic)")
SHARES = {"middle": (25.0, 75.0), "most": (10.0, 90.0), "nearly_all": (5.0, 95.0)}
"""How much of the cohort a range takes in."""
ONE_SIDED = 5.0
"""A one-sided range ends at this percentile, or as far from the other end: as smoothness is defined."""


@dataclass(frozen=True)
class Choice:
    """Which swings: of these players (all when empty), with this club, carrying this tag (any when empty);
    ``synthetic`` takes the shipped cohort of the golfer model instead."""

    club: str
    players: tuple[UUID, ...] = ()
    tag: str = ""
    synthetic: bool = False


@dataclass(frozen=True)
class Values:
    """What one swing of a cohort measured: values (SI), schools it was judged in, traces at ``PLACES``."""

    player: str
    swing: str
    values: Mapping[tuple[str, str], float]
    schools: Mapping[str, str]
    traces: Mapping[str, Array]
    population: str = "adult"


@dataclass(frozen=True)
class Row:
    """A range as it would be made: its figures (SI) and the limits that follow; None where too few were measured.
    ``values`` (SI): one of each swing it is made from."""

    range: Range
    figures: Cohort
    low: float | None
    high: float | None
    values: tuple[float, ...] = ()


Found = Sequence[tuple[Player, Swing]]


def counting_of(uow: UnitOfWork, club: str) -> list[tuple[Player, Swing]]:
    """All normal and test swings of a club whose sensors had not moved, with their players."""
    lessons = {x.id: x.player_id for x in uow.find(Lesson)}
    players = {p.id: p for p in uow.find(Player) if p.consent_at is not None}  # a withdrawal acts here too
    return [
        (players[lessons[s.lesson_id]], s)
        for s in uow.find(Swing, club=club, kind=COUNTING, sensor_moved=False, order="captured_at")
        if lessons[s.lesson_id] in players
    ]


def tagged(found: Found, tag: str) -> list[tuple[Player, Swing]]:
    """Those that carry the tag; all without one."""
    return [(p, s) for p, s in found if not tag or tag in s.tags]


def chosen(found: Found, choice: Choice) -> list[tuple[Player, Swing]]:
    """Those of the chosen players and tag."""
    return [(p, s) for p, s in tagged(found, choice.tag) if not choice.players or p.id in choice.players]


def collected(uow: UnitOfWork, found: Found, choice: Choice) -> list[Values]:
    """The values of a choice."""
    if choice.synthetic:
        return list(synthetic())
    return values_of(uow, chosen(found, choice))


def values_of(uow: UnitOfWork, found: Found) -> list[Values]:
    """Stored swings as part of a cohort."""
    ids = [s.id for _, s in found]
    records, judged = uow.swings.records(ids), uow.swings.judgements(ids)
    return [
        Values(
            str(player.id),
            tr("{value}, swing {number}", value=player.name or "Walk-in", number=swing.number),
            {k: m.value for k, m in unpack_values(records[swing.id])[0].items() if not m.not_judged_reason},
            told(judged[swing.id]).head["schools"] if swing.id in judged else {},
            {},
            player.population,
        )
        for player, swing in found
        if swing.id in records
    ]


def traces_of(uow: UnitOfWork, swings: Sequence[Swing]) -> dict[UUID, dict[str, Array]]:
    """Traces at ``PLACES``, by swing."""
    ids = [s.id for s in swings]
    records = uow.swings.records(ids)
    out = {}
    for key, block in uow.swings.blocks(ids, TRACES).items():
        events = times_of(unpack_record(records[key]))
        columns = unpack_traces(block)
        out[key] = {
            metric: at
            for metric, column in columns.items()
            if metric in BY_ID and (at := normalised(columns["time_s"], column, events)) is not None
        }
    return out


def times_of(record: SwingRecord) -> dict[str, float]:
    """Instants of the checkpoints, s."""
    return {k.value: e.time_s for k, e in record.checkpoints.items()}


def rows(ranges: RangeLibrary, terms: Terms, club: str, swings: Sequence[Values], share: str = "most") -> list[Row]:
    """The ranges of a library that speak of this club, as these swings would make them."""
    out = []
    for r in speaking(ranges, terms, club):
        samples = samples_of(r, swings)
        figures = cohort(samples)
        if figures is not None:
            out.append(Row(r, figures, *_limits(r, figures, share), tuple(s.value for s in samples)))
    return out


def speaking(ranges: RangeLibrary, terms: Terms, club: str) -> list[Range]:
    """The ranges that speak of this club, of whatever school."""
    situation = terms.page(club).situation

    def silent(r: Range) -> str:
        school = {r.school[0]: r.school[1]} if r.school else {}
        return applies(r, replace(situation, schools={**situation.schools, **school}))

    return [r for r in ranges.ranges if not silent(r)]


def samples_of(r: Range, swings: Sequence[Values]) -> list[Sample]:
    """The values of those swings that a range speaks of: of its population, and made in its school."""
    key = (r.metric.id, r.moment.key)
    return [
        Sample(v.player, v.swing, v.values[key])
        for v in swings
        if key in v.values
        and v.population == r.population
        and (r.school is None or v.schools.get(r.school[0], r.school[1]) == r.school[1])
    ]


def _limits(r: Range, figures: Cohort, share: str) -> tuple[float | None, float | None]:
    low, high = SHARES[share]
    one_sided_high = r.low is None and r.low_offset is None and r.low_share is None
    one_sided_low = r.high is None and r.high_offset is None
    if one_sided_low:
        return figures.percentiles[ONE_SIDED], None
    if one_sided_high:
        return None, figures.percentiles[100.0 - ONE_SIDED]
    return figures.percentiles[low], figures.percentiles[high]


def entries_with(base: RangeLibrary, made: Sequence[Row], *, synthetic: bool) -> list[dict[str, Any]]:
    """The base version's entries with the made ranges in place of those of the same id."""
    by_id = {row.range.id: row for row in made}
    out = []
    for entry in base.entries:
        row = by_id.get(entry.id)
        out.append((_entry(entry, row, synthetic) if row else entry).model_dump(mode="json", exclude_defaults=True))
    return out


def _entry(entry: RangeEntry, row: Row, synthetic: bool) -> RangeEntry:
    per = PER_SI[row.range.metric.unit]
    digits = row.range.metric.decimals + 1

    def edge(value: float | None) -> float | None:
        return None if value is None else round(value * per, digits)

    margin = round(0.5 * row.figures.spread * per, digits)
    scale = max(entry.scale or 0.0, 2.0 * margin) or 10.0**-digits
    return RangeEntry(
        id=entry.id,
        metric=entry.metric,
        event=entry.event,
        club_class=entry.club_class,
        shot=entry.shot,
        school=entry.school,
        population=entry.population,
        low=edge(row.low),
        high=edge(row.high),
        soft_low=margin if row.low is not None else 0.0,
        soft_high=margin if row.high is not None else 0.0,
        scale=scale if row.low is None or row.high is None else None,
        provenance="COHORT",
        swings=row.figures.swings,
        players=row.figures.players,
        synthetic=synthetic,
        note=_said(row.figures, synthetic),
    )


def _said(figures: Cohort, synthetic: bool) -> str:
    origin = tr("synthetic swings of the golfer model") if synthetic else tr("captured swings")
    base = tr(
        "From {swings} {origin} of {players} players.", swings=figures.swings, origin=origin, players=figures.players
    )
    return f"{base} {figures.warning}".strip()


@lru_cache(maxsize=1)
def synthetic() -> tuple[Values, ...]:
    """The shipped cohort: skilled players drawn by the golfer model, synthetic, with their mean traces."""
    raw = json.loads((DATA / "synthetic-cohort.json").read_text(encoding="utf-8"))
    keys = [tuple(k.split("@", 1)) for k in raw["keys"]]
    return tuple(
        Values(
            s["player"],
            f"{s['player']}, swing {s['swing']}",
            {(a, b): v for (a, b), v in zip(keys, s["values"], strict=True) if v is not None},
            raw["schools"],
            {},
        )
        for s in raw["swings"]
    )


@lru_cache(maxsize=1)
def synthetic_traces() -> dict[str, MeanTrace]:
    """Mean traces of the shipped cohort at ``PLACES``, in the metrics' own units."""
    raw = json.loads((DATA / "synthetic-cohort.json").read_text(encoding="utf-8"))["traces"]
    return {
        k: MeanTrace(*(np.array([np.nan if v is None else v for v in t[part]]) for part in ("middle", "low", "high")))
        for k, t in raw.items()
    }


def mean_traces(swings: Sequence[Values]) -> dict[str, MeanTrace]:
    """Mean traces with bands of all metrics that at least half of the swings carry."""
    keys = sorted({k for s in swings for k in s.traces})
    out = {}
    for key in keys:
        own = [(s.player, s.traces[key]) for s in swings if key in s.traces]
        if 2 * len(own) >= len(swings):
            out[key] = mean_trace(own)
    return out


def traces_block(traces: Mapping[str, MeanTrace]) -> bytes:
    """Traces of a reference as one block at ``PLACES``."""
    columns = {"place": PLACES}
    for key, trace in traces.items():
        columns[key] = trace.middle
        columns[f"{key}_low"], columns[f"{key}_high"] = trace.low, trace.high
    return pack_traces(columns)


def keep_reference(
    uow: UnitOfWork, name: str, form: str, swings: Sequence[Swing], made_by: str, player: Player | None = None
) -> Reference:
    """Keep one swing, the mean of several, or a player's own best (whose values ranges may lean on). Raises
    ``Refused`` when the swings do not go together."""
    if not swings:
        raise Refused(tr("no swing is chosen"), tr("Choose at least one"))
    if len({s.club for s in swings}) > 1:
        raise Refused(tr("the swings were made with different clubs"), tr("Choose swings of one club"))
    lessons = {x.id: x.player_id for x in uow.find(Lesson)}
    players = {p.id: p for p in uow.find(Player)}
    owners = {lessons[s.lesson_id] for s in swings}
    if form == BEST and (player is None or owners != {player.id}):
        raise Refused(tr("a player's own best is made of the player's own swings"))
    found = [(players[lessons[s.lesson_id]], s) for s in swings]
    traces_by = traces_of(uow, swings)
    own = [replace(v, traces=traces_by.get(s.id, {})) for v, s in zip(values_of(uow, found), swings, strict=True)]
    traces = mean_traces(own)
    if not traces:
        raise Refused(tr("these swings lack takeaway, top or impact"), tr("Choose others"))
    reference = Reference(
        uow.academy_id,
        name.strip() or tr("Reference"),
        form,
        swings[0].club,
        len(swings),
        len(owners),
        traces_block(traces),
        player.id if player else None,
        _best(own) if form == BEST else {},
        made_by,
    )
    uow.add(reference)
    note_origin(uow, "reference", reference.id, owners)
    return reference


def note_origin(uow: UnitOfWork, what: str, of_id: UUID, players: Collection[UUID]) -> None:
    """Of whose swings something was made, so that it can be erased with them."""
    for player_id in players:
        uow.add(MadeOf(uow.academy_id, what, of_id, player_id))


def _best(own: Sequence[Values]) -> dict[str, float]:
    keys = sorted({k for s in own for k in s.values})
    return {f"{a}@{b}": median(s.values[a, b] for s in own if (a, b) in s.values) for a, b in keys}


def overlay(uow: UnitOfWork, reference_id: str, swing: Swing) -> bytes:
    """A reference on a swing's own time axis, as a block of traces; empty when the swing lacks the checkpoints."""
    block = synthetic_block() if reference_id == SYNTHETIC else uow.get(Reference, UUID(reference_id)).traces
    columns = unpack_traces(block)
    events = times_of(unpack_record(uow.swings.records([swing.id])[swing.id]))
    time_s = unpack_traces(uow.swings.blocks([swing.id], TRACES)[swing.id])["time_s"]
    laid: dict[str, Array] = {"time_s": time_s}
    for key, middle in columns.items():
        at = None if key == "place" else laid_over(middle, time_s, events)
        if at is not None:
            laid[key] = at
    return pack_traces(laid) if len(laid) > 1 else b""


@lru_cache(maxsize=1)
def synthetic_block() -> bytes:
    """The shipped cohort's mean traces as a block."""
    return traces_block(synthetic_traces())
