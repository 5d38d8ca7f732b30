"""A lesson as a table: one row a swing, chosen measures at chosen moments."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from uuid import UUID

from finearc.core.events.model import ORDER
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import moment_words
from finearc.services.errors import Refused
from finearc.services.lesson.pages import SwingRead, lesson_page
from finearc.services.ports import UnitOfWork, ValueRow
from finearc.services.record.codec import unpack_record
from finearc.wording import tr

MOST_COLUMNS = 24
FIRST = 6
"""So many columns a lesson opens with, of those that a range judges (house value)."""


@dataclass(frozen=True)
class Column:
    """A measure at a moment."""

    metric: Metric
    moment: str

    @property
    def key(self) -> str:
        return f"{self.metric.id}@{self.moment}"

    @classmethod
    def of(cls, key: str) -> Column:
        """``lead_wrist_extension@top``. Raises ``Refused``."""
        metric, _, moment = key.partition("@")
        if metric not in BY_ID or not moment:
            raise Refused(
                tr('there is no column "{key}"', key=key),
                tr("Name a measure and a moment, as lead_wrist_extension@top"),
            )
        return cls(BY_ID[metric], moment)


@dataclass(frozen=True)
class Row:
    """A swing with its values in the columns' order, in their units; None where it has none. ``verdicts`` likewise,
    empty where nothing judged."""

    read: SwingRead
    values: Sequence[float | None]
    uncertainties: Sequence[float | None]
    verdicts: Sequence[str]


@dataclass(frozen=True)
class Table:
    """``offered``: every column that any swing of the lesson has a value in; ``undo``, ``redo``: labels of the changes
    that would be taken back or done again."""

    columns: Sequence[Column]
    offered: Sequence[Column]
    rows: Sequence[Row]
    undo: str | None
    redo: str | None


def lesson_table(uow: UnitOfWork, lesson_id: UUID, chosen: Sequence[str] = ()) -> Table:
    """``chosen``: columns by their keys; without any, those that a range judges. Raises ``NotFound``, ``Refused``."""
    if len(chosen) > MOST_COLUMNS:
        raise Refused(tr("a table has at most {most_columns} columns", most_columns=MOST_COLUMNS), tr("Choose fewer"))
    read = lesson_page(uow, lesson_id)
    offered = _offered(uow, [s.swing.id for s in read.swings])
    columns = [Column.of(k) for k in dict.fromkeys(chosen)] or _first(read.swings, offered)
    values = uow.swings.values([s.swing.id for s in read.swings], [(c.metric.id, c.moment) for c in columns])
    at = {(v.swing_id, v.metric, v.moment): v for v in values} if columns else {}
    return Table(columns, offered, [_row(s, columns, at) for s in read.swings], read.head.undo, read.head.redo)


def _row(read: SwingRead, columns: Sequence[Column], at: dict[tuple[UUID, str, str], ValueRow]) -> Row:
    found = [at.get((read.swing.id, c.metric.id, c.moment)) for c in columns]
    judged = {} if read.judgement is None else read.judgement.judged
    verdicts = [j.verdict.value if (j := judged.get((c.metric.id, c.moment))) is not None else "" for c in columns]
    per = [PER_SI[c.metric.unit] for c in columns]
    return Row(
        read,
        [None if v is None else p * v.value for v, p in zip(found, per, strict=True)],
        [None if v is None else p * v.uncertainty for v, p in zip(found, per, strict=True)],
        verdicts,
    )


def _offered(uow: UnitOfWork, swing_ids: Collection[UUID]) -> list[Column]:
    """In the catalogue's order, then in the swing's."""
    records = uow.swings.records(swing_ids)
    keys = {key for block in records.values() for key in unpack_record(block).values}
    order = {metric: k for k, metric in enumerate(BY_ID)}
    places = {c.value: k for k, c in enumerate(ORDER)}
    ordered = sorted(keys, key=lambda k: (order[k[0]], ".." in k[1], places.get(k[1].partition("..")[0], 99), k[1]))
    return [Column(BY_ID[metric], moment) for metric, moment in ordered]


def _first(swings: Sequence[SwingRead], offered: Sequence[Column]) -> list[Column]:
    """What ranges judge most often outside their band, then whatever else they judge."""
    outside: dict[str, int] = {}
    for read in swings:
        for (metric, moment), judged in ({} if read.judgement is None else read.judgement.judged).items():
            key = f"{metric}@{moment}"
            outside[key] = outside.get(key, 0) + (judged.verdict.value in ("low", "high"))
    known = [c for c in offered if c.key in outside]
    leading = sorted(known, key=lambda c: -outside[c.key])[:FIRST]
    return [c for c in known if c in leading] or list(offered[:FIRST])


def header(column: Column) -> str:
    """The head of a column in a file: ``Lead wrist extension at top, deg``."""
    return tr(
        "{label} at {moment_words}, {value}",
        label=column.metric.label,
        moment_words=moment_words(column.moment),
        value=column.metric.unit.value,
    )
