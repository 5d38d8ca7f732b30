"""What a search found, as it is told."""

from __future__ import annotations

from collections.abc import Sequence

from finearc.api import models as m
from finearc.core.metrics.words import moment_words
from finearc.services.records import SavedSearch
from finearc.services.searching.found import Found, FoundLesson
from finearc.wording import tr

DIGITS = 4


def found_out(f: Found) -> m.FoundOut:
    """Lessons with their swings, the newest first, and how the question was understood."""
    shown = {x for s in f.swings for x in s.findings}
    return m.FoundOut(
        text=f.text,
        said=[m.SaidOut(text=s.text, kind=s.kind, label=s.label, plain_label=s.plain_label) for s in f.terms.said],
        unknown=list(f.terms.unknown),
        columns=[m.FoundColumnOut(metric=metric.id, moment=moment) for metric, moment in f.columns],
        lessons=[_lesson(x) for x in f.lessons],
        labels={k: m.FindingNameOut(label=x, plain_label=y) for k, (x, y) in f.labels.items() if k in shown},
        swings=len(f.swings),
        more=f.more,
        players=[m.FoundPlayerOut(id=key, name=name) for key, name in f.players],
        before=f.before,
    )


def _lesson(x: FoundLesson) -> m.FoundLessonOut:
    return m.FoundLessonOut(
        lesson_id=x.lesson_id,
        on=x.on,
        player_id=x.player.id,
        player=x.player.name or "Walk-in",
        handedness=x.player.handedness,
        swings=[
            m.FoundSwingOut(
                id=s.row.swing.id,
                number=s.row.swing.number,
                club=s.row.swing.club,
                ball_start=s.row.swing.ball_start,
                ball_curve=s.row.swing.ball_curve,
                strike=s.row.swing.strike,
                tags=list(s.row.swing.tags),
                findings=list(s.findings),
                values=_numbers(s.values),
            )
            for s in x.swings
        ],
        medians=_numbers(x.medians),
    )


def _numbers(values: Sequence[float | None]) -> list[float | None]:
    return [None if v is None else round(v, DIGITS) for v in values]


def saved_out(x: SavedSearch) -> m.SavedSearchOut:
    """A question that was kept."""
    return m.SavedSearchOut(id=x.id, name=x.name, query=x.query, made_by=x.made_by, made_at=x.made_at)


def csv_rows(f: Found) -> tuple[list[str], list[list[object]]]:
    """Head and rows of a file, one row a swing."""
    head = ["player", "lesson", "swing", "club", tr("ball start"), tr("ball curve"), "strike", "tags", "findings"]
    head += [
        tr(
            "{label} at {moment_words}, {value}",
            label=metric.label,
            moment_words=moment_words(moment),
            value=metric.unit.value,
        )
        for metric, moment in f.columns
    ]
    rows: list[list[object]] = []
    for x in f.lessons:
        for s in x.swings:
            w = s.row.swing
            row: list[object] = [
                x.player.name,
                x.on.isoformat(),
                w.number,
                w.club,
                w.ball_start,
                w.ball_curve,
                w.strike,
            ]
            row += [" ".join(w.tags), "; ".join(f.labels.get(k, (k, k))[0] for k in s.findings), *_numbers(s.values)]
            rows.append(row)
    return head, rows
