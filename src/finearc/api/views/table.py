"""A lesson as a table, as it is told."""

from __future__ import annotations

from finearc.api import models as m
from finearc.services.lesson.table import Column, Table, header
from finearc.wording import tr

DIGITS = 4


def table_out(table: Table) -> m.TableOut:
    """Columns and rows."""
    return m.TableOut(
        columns=[_column(c) for c in table.columns],
        offered=[_column(c) for c in table.offered],
        rows=[
            m.TableRowOut(
                swing_id=r.read.swing.id,
                number=r.read.swing.number,
                kind=r.read.swing.kind,
                club=r.read.swing.club,
                ball_start=r.read.swing.ball_start,
                ball_curve=r.read.swing.ball_curve,
                strike=r.read.swing.strike,
                tags=list(r.read.swing.tags),
                sensor_moved=r.read.swing.sensor_moved,
                values=[_number(v) for v in r.values],
                uncertainties=[_number(v) for v in r.uncertainties],
                verdicts=list(r.verdicts),
            )
            for r in table.rows
        ],
        can_undo=table.undo,
        can_redo=table.redo,
    )


def _number(value: float | None) -> float | None:
    return None if value is None else round(value, DIGITS)


def _column(column: Column) -> m.TableColumnOut:
    return m.TableColumnOut(key=column.key, metric=column.metric.id, moment=column.moment)


def csv_rows(table: Table) -> tuple[list[str], list[list[object]]]:
    """Head and rows of a file; each value with its uncertainty beside it."""
    head = ["swing", "kind", "club", tr("ball start"), tr("ball curve"), "strike", "tags", tr("sensor moved")]
    for column in table.columns:
        head += [header(column), tr("standard uncertainty")]
    rows: list[list[object]] = []
    for r in table.rows:
        s = r.read.swing
        row: list[object] = [s.number, s.kind, s.club, s.ball_start, s.ball_curve, s.strike, " ".join(s.tags)]
        row.append("yes" if s.sensor_moved else "")
        for value, uncertainty in zip(r.values, r.uncertainties, strict=True):
            row += [_number(value), _number(uncertainty)]
        rows.append(row)
    return head, rows
