"""Tables and their mapping onto the services' records."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Table
from sqlalchemy.orm import deferred, registry

from finearc.services import records as r
from finearc.services.course import records as c
from finearc.services.diary import records as d
from finearc.services.jobs import records as j
from finearc.services.people import records as w
from finearc.services.practice import records as p
from finearc.store.tables.academies import (
    academy,
    academy_rules,
    author,
    bay,
    bay_token,
    benchmark_version,
    consent,
    instructor,
    invitation,
    keeping_period,
    made_of,
    marker_preset,
    movement_limit,
    own_player,
    own_rules,
    player,
    reference,
    saved_search,
    second_factor,
    sign_in,
    throttle,
)
from finearc.store.tables.base import Blob, UtcDateTime, metadata
from finearc.store.tables.course import own_range, practice_answer, practice_plan, round_, round_correction, round_log
from finearc.store.tables.diary import busy_calendar, calendar_feed, diary_rules, package, waiting
from finearc.store.tables.jobs import job, job_input, swing_offer
from finearc.store.tables.lessons import (
    block,
    change_entry,
    chunk,
    clip,
    clip_part,
    lesson,
    priority,
    recording,
    share_link,
    swing,
    swing_tag,
)
from finearc.store.tables.swings import (
    lesson_summary,
    swing_block,
    swing_finding,
    swing_judgement,
    swing_record,
    swing_value,
    swing_verdict,
)

__all__ = [
    "MAPPED",
    "Blob",
    "UtcDateTime",
    "academy",
    "academy_rules",
    "author",
    "bay",
    "bay_token",
    "benchmark_version",
    "block",
    "busy_calendar",
    "calendar_feed",
    "change_entry",
    "chunk",
    "clip",
    "clip_part",
    "consent",
    "diary_rules",
    "instructor",
    "invitation",
    "job",
    "job_input",
    "keeping_period",
    "lesson",
    "lesson_summary",
    "made_of",
    "map_records",
    "marker_preset",
    "metadata",
    "movement_limit",
    "own_player",
    "own_range",
    "own_rules",
    "package",
    "player",
    "practice_answer",
    "practice_plan",
    "priority",
    "recording",
    "reference",
    "round_",
    "round_correction",
    "round_log",
    "saved_search",
    "second_factor",
    "share_link",
    "sign_in",
    "swing",
    "swing_block",
    "swing_finding",
    "swing_judgement",
    "swing_offer",
    "swing_record",
    "swing_tag",
    "swing_value",
    "swing_verdict",
    "throttle",
    "waiting",
]

MAPPED: dict[type[Any], Table] = {
    r.Academy: academy,
    r.Bay: bay,
    r.BayToken: bay_token,
    r.Instructor: instructor,
    r.SignIn: sign_in,
    r.Invitation: invitation,
    w.SecondFactor: second_factor,
    w.OwnPlayer: own_player,
    w.KeepingPeriods: keeping_period,
    r.Player: player,
    r.MovementLimit: movement_limit,
    r.Lesson: lesson,
    r.Recording: recording,
    r.Chunk: chunk,
    r.MarkerPreset: marker_preset,
    r.Swing: swing,
    r.Clip: clip,
    r.ClipPart: clip_part,
    r.ShareLink: share_link,
    r.SavedSearch: saved_search,
    r.Block: block,
    r.Priority: priority,
    r.ChangeEntry: change_entry,
    r.AcademyRules: academy_rules,
    r.OwnRules: own_rules,
    r.BenchmarkVersion: benchmark_version,
    r.Reference: reference,
    r.Consent: consent,
    r.Author: author,
    r.MadeOf: made_of,
    c.Round: round_,
    c.RoundLog: round_log,
    c.RoundCorrection: round_correction,
    c.OwnRange: own_range,
    p.PracticePlan: practice_plan,
    d.DiaryRules: diary_rules,
    d.Waiting: waiting,
    d.BusyCalendar: busy_calendar,
    d.CalendarFeed: calendar_feed,
    d.Package: package,
    p.PracticeAnswer: practice_answer,
    j.Job: job,
    j.JobInput: job_input,
}
_mapper = registry(metadata=metadata)
LARGE = {"chunk": ("columns",), "reference": ("traces",), "round_log": ("columns",)}
"""Blocks of bytes that are read only when they are asked for, not with every record of a lesson."""
_done: list[bool] = []


def map_records() -> bool:
    """Tie records and tables together, once; whether it was done now."""
    if _done:
        return False
    for kind, table in MAPPED.items():
        large = {name: deferred(table.c[name]) for name in LARGE.get(table.name, ())}
        _mapper.map_imperatively(kind, table, properties=large)
    _done.append(True)
    return True
