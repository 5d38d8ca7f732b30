"""What is noted of putts, as it is kept and as the core takes it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from finearc.core.putting.notes import Break, Outcome, PuttingNotes, PuttKind, PuttNote, Slope
from finearc.core.sources.putts import kind_in
from finearc.core.sources.reading import SwingReading
from finearc.services.capture.putter_notes import PutterNotes
from finearc.services.records import Recording, Swing

TAP_IN = "tap-in"


def notes_of(recording: Recording, swings: Sequence[Swing] | None) -> PuttingNotes:
    """The notes of a recording and of its swings, in their order."""
    bias = recording.face_grip_bias_deg
    noted = {k: n for k, s in enumerate(swings or ()) if (n := note_of(s)) != PuttNote()}
    return PuttingNotes(
        noted,
        recording.green_speed_ft,
        recording.putter_grip,
        None if bias is None else float(np.deg2rad(bias)),
        PutterNotes.model_validate(recording.putter or {}).setup(),
    )


def note_of(swing: Swing) -> PuttNote:
    """What is noted of one putt."""
    return PuttNote(
        swing.distance_m,
        Outcome(swing.outcome) if swing.outcome else None,
        swing.rolled_past_m,
        Slope(swing.slope) if swing.slope else None,
        Break(swing.breaks) if swing.breaks else None,
    )


def keep_note(swing: Swing, note: PuttNote) -> None:
    """Write down what is noted of one putt."""
    swing.distance_m, swing.rolled_past_m = note.distance_m, note.rolled_past_m
    swing.outcome, swing.slope, swing.breaks = (w.value if w else "" for w in (note.outcome, note.slope, note.breaks))


def keep_session(recording: Recording, notes: PuttingNotes) -> None:
    """Write down what is noted of the session."""
    bias = notes.face_grip_bias_rad
    recording.green_speed_ft, recording.putter_grip = notes.green_speed_ft, notes.grip
    recording.face_grip_bias_deg = None if bias is None else round(float(np.rad2deg(bias)), 9)
    recording.putter = PutterNotes.of(notes.putter).kept()


def mark_by_kind(swing: Swing, reading: SwingReading) -> None:
    """A stroke that strikes no ball is kept as one without, a tap-in is set aside; a person can change either."""
    kind = kind_in(reading) if reading.of_putt else PuttKind.UNKNOWN
    if kind is PuttKind.PRACTICE:
        swing.kind = "no_ball"
    elif kind is PuttKind.TAP_IN:
        swing.kind, swing.discard_reason = "discard", TAP_IN
