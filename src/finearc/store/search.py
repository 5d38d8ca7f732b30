"""The query of a search: it begins with what narrows most, in order of time by an index, and asks of each swing the
rest, until enough are found. The order of joins is ours: what is found last is as quick as the store is large."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, Select, Table, exists, func, or_, select

from finearc.services.ports import Beyond, Wanted
from finearc.services.records import COUNTING, Lesson, Player, Swing
from finearc.store import tables as t


def search_query(academy_id: UUID, wanted: Wanted) -> Select[Swing, Lesson, Player]:
    """Swing, lesson and player of the swings that are looked for, the newest first."""
    leading, conditions = _leading(wanted)
    table: Table = leading if leading is not None else t.swing
    s = t.swing.c
    query = select(Swing, Lesson, Player).prefix_with("STRAIGHT_JOIN")
    source: Any = table if leading is None else table.join(t.swing, s.id == table.c.swing_id)
    source = source.join(t.lesson, t.lesson.c.id == s.lesson_id).join(t.player, t.player.c.id == s.player_id)
    query = query.select_from(source).where(table.c.academy_id == academy_id, s.academy_id == academy_id, *conditions)
    query = query.where(s.aside.is_(False), s.kind.in_(COUNTING), s.sensor_moved.is_(False))
    if wanted.since is not None:
        query = query.where(table.c.captured_at >= wanted.since)
    if wanted.until is not None:
        query = query.where(table.c.captured_at < wanted.until)
    if wanted.clubs:
        query = query.where(*(c.club.in_(list(wanted.clubs)) for c in (s, table.c) if "club" in c))
    if wanted.players:
        query = query.where(*(c.player_id.in_(list(wanted.players)) for c in (s, table.c) if "player_id" in c))
    query = query.where(*_rest(wanted, leading))
    key = table.c.id if leading is None else table.c.swing_id
    return query.order_by(table.c.captured_at.desc(), key.desc())


def _leading(wanted: Wanted) -> tuple[Table | None, list[ColumnElement[bool]]]:
    """The table that the search begins in: of a finding, of a value, of a tag, else the swings' own."""
    if wanted.findings:
        return t.swing_finding, [t.swing_finding.c.finding == next(iter(wanted.findings))]
    if wanted.beyond:
        return t.swing_value, _is_beyond(next(iter(wanted.beyond)), t.swing_value)
    if len(wanted.tags) == 1 and not wanted.players:
        return t.swing_tag, [t.swing_tag.c.tag == next(iter(wanted.tags))]
    return None, []


def _is_beyond(b: Beyond, of: Any) -> list[ColumnElement[bool]]:
    c = of.c
    return [c.metric == b.metric, c.moment == b.moment, c.value > b.value if b.above else c.value < b.value]


def _rest(wanted: Wanted, leading: Table | None) -> list[ColumnElement[bool]]:
    """What is asked of each swing that the beginning found."""
    s, out = t.swing.c, list[ColumnElement[bool]]()
    findings = list(wanted.findings)[1 if leading is t.swing_finding else 0 :]
    for finding in findings:
        f = t.swing_finding.alias()
        out.append(exists().where(f.c.swing_id == s.id, f.c.finding == finding).correlate(t.swing))
    for beyond in list(wanted.beyond)[1 if leading is t.swing_value else 0 :]:
        v = t.swing_value.alias()
        out.append(exists().where(v.c.swing_id == s.id, *_is_beyond(beyond, v)).correlate(t.swing))
    if wanted.tags and leading is not t.swing_tag:
        tag = t.swing_tag.alias()
        out.append(exists().where(tag.c.swing_id == s.id, tag.c.tag.in_(list(wanted.tags))).correlate(t.swing))
    if wanted.segments:
        r = t.recording.alias()
        named = [func.json_contains(r.c.segments, f'"{x}"') == 1 for x in wanted.segments]
        out.append(exists().where(r.c.id == s.recording_id, or_(*named)).correlate(t.swing))
    return out
