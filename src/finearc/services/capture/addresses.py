"""What the addresses of a recording say: a grip that changed is asked about once, and what is answered holds until the
next calibration."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict

from finearc.core.sources.address_check import GripChange
from finearc.services.ports import UnitOfWork
from finearc.services.record.codec import unpack_to_judge
from finearc.services.record.document import SwingRecord
from finearc.services.records import Recording, Swing

GRIP, SENSOR = "grip", "sensor"
ANSWERS = (GRIP, SENSOR, "")


def grip_change_of(swing: Swing) -> GripChange | None:
    """What is asked about a swing's address, or None."""
    return None if swing.grip_change is None else GripChange(**swing.grip_change)


def keep_address(swing: Swing, record: SwingRecord, among: Iterable[Swing]) -> None:
    """Write down what a swing's address says, in the light of what was answered ``among`` the recording's swings."""
    swing.grip_change = None if record.grip is None else asdict(record.grip)
    if record.grip is None:
        swing.grip_answer = ""
    swing.sensor_moved = record.sensor_moved or barred(swing, among)


def follow_answers(uow: UnitOfWork, recording: Recording) -> list[Swing]:
    """The swings of a recording that may be judged now and were not before, or the other way round, after an answer."""
    swings = uow.find(Swing, recording_id=recording.id, order="number")
    records = uow.swings.records([s.id for s in swings])
    changed = []
    for swing in swings:
        if swing.id not in records:
            continue
        moved = unpack_to_judge(records[swing.id], frozenset()).sensor_moved or barred(swing, swings)
        if moved != swing.sensor_moved:
            swing.sensor_moved = moved
            changed.append(swing)
    uow.flush()
    return changed


def barred(swing: Swing, among: Iterable[Swing]) -> bool:
    """Whether *the sensor* was answered for this swing or for one before it."""
    return any(s.number <= swing.number and s.grip_answer == SENSOR for s in among)
