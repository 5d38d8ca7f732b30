"""A lesson's putts as they are told."""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping
from typing import Any
from uuid import UUID

import numpy as np

from finearc.api import models as m
from finearc.core.judging.putt_row import Said, StepRead
from finearc.core.judging.putt_steps import in_plain_words
from finearc.services.capture.putter_notes import PutterNotes
from finearc.services.lesson.marks import PUTT
from finearc.services.putting.pieces import Piece
from finearc.services.putting.plan import PuttPlan
from finearc.services.putting.reading import PuttingRead, PuttShown, RowShown, values_shown
from finearc.services.records import Recording

MAGIC = b"FAP1"


def putting_out(read: PuttingRead) -> m.PuttingOut:
    """All of it."""
    return m.PuttingOut(
        plan=plan_out(read.plan),
        school="quiet" if read.school == "quiet" else "transition",
        noted=None if read.recording is None else notes_out(read.recording),
        putts=[_putt(p) for p in read.putts],
        rows=[_row(r) for r in read.rows],
        across=_step(read.across),
        scales_deg={name: round(float(np.rad2deg(s)), 3) for name, s in read.scales.items()},
        growth=[
            m.GrowthOut(
                metric=metric.id,
                **{k: round(float(np.rad2deg(getattr(line, k))), 6) for k in ("slope", "low", "high", "at_zero")},
                putts=line.putts,
            )
            for metric, line in read.growth.items()
        ],
        notes=list(read.notes),
        next_m=read.next_m,
        can_undo=read.head.undo,
        can_redo=read.head.redo,
    )


def plan_out(plan: PuttPlan) -> m.PuttPlanOut:
    """The plan of distances."""
    return m.PuttPlanOut(
        distances_m=list(plan.distances_m), each=plan.each, unit="ft" if plan.feet else "m", next_m=plan.next_m
    )


def notes_out(recording: Recording) -> m.PuttingNotesOut:
    """What is noted of a fitting's putts."""
    return m.PuttingNotesOut(
        recording_id=recording.id,
        green_speed_ft=recording.green_speed_ft,
        putter_grip=recording.putter_grip,
        face_grip_bias_deg=recording.face_grip_bias_deg,
        putter=PutterNotes.model_validate(recording.putter or {}),
    )


def _said(said: Said) -> m.WordsOut:
    return m.WordsOut(text=said.text, plain=said.plain)


def _step(step: StepRead) -> m.StepOut:
    facts = [m.StepFactOut(name=_said(f.name), words=_said(f.words), told=f.told) for f in step.facts]
    return m.StepOut(step=step.step, tone=step.tone, said=_said(step.said), facts=facts, over=step.over, note=step.note)


def _piece(piece: Piece) -> m.PieceOut:
    e = piece.entry
    return m.PieceOut(
        id=e.id,
        label=e.label,
        plain_label=e.plain_label,
        now=_said(piece.now),
        asks=e.asks,
        left=e.left,
        drills=list(e.drills),
    )


def _row(row: RowShown) -> m.PuttRowOut:
    return m.PuttRowOut(
        distance_m=row.distance_m,
        putts=list(row.putts),
        counting=row.counting,
        owed=row.owed,
        steps=[_step(s) for s in row.steps],
        pieces=[_piece(p) for p in row.pieces],
    )


def _putt(putt: PuttShown) -> m.PuttShownOut:
    swing, measured, strike = putt.swing, putt.measured, putt.measured.strike
    noted: dict[str, Any] = {name: getattr(swing, name) for name in PUTT}
    return m.PuttShownOut(
        id=swing.id,
        number=swing.number,
        measuring=swing.measuring,
        kind=swing.kind,
        what=putt.kind,
        counts=putt.counts,
        putt=m.PuttOut(**noted),
        at_s={k: round(t, 4) for k, t in measured.at_s.items()},
        phases=[
            m.PhaseOut(phase=s.phase.value, start_s=round(s.start_s, 4), end_s=round(s.end_s, 4))
            for s in measured.phases
        ],
        order=m.WordsOut(text=measured.order, plain=in_plain_words(measured.order)),
        strike=None if strike is None else strike.side,
        strike_hint=strike is not None and strike.is_hint,
        values=values_shown(putt),
    )


def courses_block(courses: Mapping[UUID, bytes]) -> bytes:
    """``FAP1``, length of a JSON header (uint32), the header ``{"putts": [{"id", "bytes"}]}`` padded to four bytes,
    then each putt's block as it is kept (``FAT1``), padded likewise."""
    padded = {key: block + b" " * (-len(block) % 4) for key, block in courses.items()}
    told = [{"id": str(key), "bytes": len(block)} for key, block in padded.items()]
    header = json.dumps({"putts": told}).encode()
    header += b" " * (-len(header) % 4)
    return MAGIC + struct.pack("<I", len(header)) + header + b"".join(padded.values())
