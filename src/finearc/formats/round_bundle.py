"""A round in a capture bundle: ``"shot": "round"``, one stream for each club's clip, and the player's card."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Mapping, Sequence
from datetime import datetime
from difflib import get_close_matches
from pathlib import Path
from typing import Any, Literal

import numpy as np
from pydantic import Field, field_validator, model_validator

from finearc.core.course.card import CardLine
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import ImuStream, Segment
from finearc.formats.bounds import LONGEST_S, refuse_many
from finearc.formats.bundle import MANIFEST, ROUND, manifest_object, read_path, read_zipped, valid
from finearc.formats.entries import ImuEntry, Open
from finearc.formats.errors import BundleError
from finearc.formats.imu_csv import read_imu, write_imu
from finearc.formats.kinds import Opener
from finearc.formats.manifest import Player, known_club
from finearc.services.course.round_reading import RoundData
from finearc.wording import tr

CARD = "shots.csv"
COLUMNS = ("time_s", "hole", "shot", "club", "lie", "result", "pressure", "note")
MOST_LINES = 2000
MOST_CLIPS = 40
LONGEST_TEXT = 500
FARTHEST_CLOCK_S = 1e11
"""A clock may count from any day."""


class ClipEntry(ImuEntry):
    """The clip of one club."""

    segment: Literal[Segment.CLUB, Segment.PUTTER]
    club: str

    @field_validator("club")
    @classmethod
    def _known(cls, value: str) -> str:
        return known_club(value)


class RoundManifest(Open):
    """``capture.json`` of a round (version 1)."""

    format: Literal["finearc-capture"]
    version: Literal[1]
    captured_at: datetime | None = None
    player: Player
    shot: Literal["round"]
    streams: list[ClipEntry] = Field(min_length=1, max_length=MOST_CLIPS)
    course: str | None = Field(default=None, max_length=300)

    @model_validator(mode="after")
    def _each_club_once(self) -> RoundManifest:
        named = [s.club for s in self.streams]
        again = next((c for c in named if named.count(c) > 1), None)
        if again is not None:
            files = tr(" and ").join(s.file for s in self.streams if s.club == again)
            raise ValueError(f'two clips of "{again}" ({files}): say of which club each is, or leave one out')
        return self


def is_round(opener: Opener) -> bool:
    """Whether a bundle is the log of a round. Raises ``BundleError``."""
    data = manifest_object(opener(MANIFEST))
    return isinstance(data, dict) and data.get("shot") == ROUND


def read_round_bundle(path: Path) -> RoundData:
    """A round from a folder or a zip. Raises ``FineArcError``."""
    return read_path(path, read_opened_round)


def read_round_zip(name: str, content: bytes) -> RoundData:
    """A round from the bytes of a zip. Raises ``FineArcError``."""
    return read_zipped(content, name, read_opened_round)


def read_opened_round(opener: Opener) -> RoundData:
    """The round in a bundle's files. Raises ``FineArcError``."""
    data = manifest_object(opener(MANIFEST))
    if isinstance(data, dict) and data.get("shot") != ROUND:
        raise BundleError(
            MANIFEST,
            tr("this is a lesson's capture, not a round"),
            tr('field "shot"'),
            tr('A round says "shot": "round"'),
        )
    manifest = valid(RoundManifest, data)
    logs = {entry.club: read_imu(entry, opener(entry.file)) for entry in manifest.streams}
    for club, log in logs.items():
        _refuse_too_long(club, log)
    card = read_card(manifest.course, opener(manifest.course)) if manifest.course else ()
    return RoundData(manifest.captured_at, Hand(manifest.player.handedness), logs, card)


def _refuse_too_long(club: str, log: ImuStream) -> None:
    length = float(log.time_s.max() - log.time_s.min())
    if length > 2 * LONGEST_S:
        raise BundleError(
            log.source,
            tr(
                "{value:.0f} hours from its first to its last row, a round has at most {value2:.0f}",
                value=length / 3600,
                value2=2 * LONGEST_S / 3600,
            ),
            tr("column time_s"),
            tr("Export the round of the {club} alone", club=club),
        )


def read_card(file: str, content: bytes) -> list[CardLine]:
    """The player's card. Raises ``BundleError`` naming the row and the column."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BundleError(file, tr("not UTF-8 text"), advice=tr("Save it as UTF-8")) from None
    rows = list(csv.reader(io.StringIO(text)))
    header = [c.strip() for c in rows[0]] if rows else []
    missing = [c for c in ("time_s", "club") if c not in header]
    if missing:
        near = get_close_matches(missing[0], header, 1)
        hint = tr(' ("{near}" looks like it)', near=near[0]) if near else ""
        raise BundleError(
            file,
            tr("column {missing} is missing{hint}", missing=missing[0], hint=hint),
            tr("row 1, header"),
            tr("The header is {columns}", columns=",".join(COLUMNS)),
        )
    refuse_many(file, "lines", len(rows) - 1, MOST_LINES)
    return [_line(file, number, header, row) for number, row in enumerate(rows[1:], 2) if any(c.strip() for c in row)]


def _line(file: str, number: int, header: Sequence[str], row: Sequence[str]) -> CardLine:
    said = {name: cell.strip()[:LONGEST_TEXT] for name, cell in zip(header, row, strict=False)}

    def whole(name: str, low: int, high: int) -> int | None:
        if not said.get(name):
            return None
        try:
            value = int(said[name])
        except ValueError:
            value = low - 1
        if not low <= value <= high:
            raise BundleError(
                file,
                tr('"{said}" is no whole number from {low} to {high}', said=said[name], low=low, high=high),
                tr("row {number}, column {name}", number=number, name=name),
            )
        return value

    try:
        time_s = float(said["time_s"])
    except (KeyError, ValueError):
        time_s = float("nan")
    if not abs(time_s) < FARTHEST_CLOCK_S:
        raise BundleError(
            file,
            tr('"{value}" is no time', value=said.get("time_s", "")),
            tr("row {number}, column time_s", number=number),
            tr("Seconds on the clips' clock"),
        )
    club = said.get("club", "")
    try:
        if club:
            known_club(club)
    except ValueError as error:
        raise BundleError(file, str(error), tr("row {number}, column club", number=number)) from None
    return CardLine(
        time_s,
        whole("hole", 1, 36),
        whole("shot", 1, 30),
        club,
        said.get("lie", ""),
        said.get("result", ""),
        whole("pressure", 0, 3),
        said.get("note", ""),
    )


def log_of(club: str, columns: Mapping[str, Any]) -> ImuStream:
    """A club's log from the columns it is kept in."""
    acc, gyr = (np.column_stack([columns[f"{what}_{a}"] for a in "xyz"]) for what in ("acc", "gyr"))
    return ImuStream(Segment.CLUB, np.asarray(columns["time_s"]), acc, gyr, f"{club}.csv")


def write_card(card: Sequence[CardLine]) -> bytes:
    """The card as CSV, readable back without loss."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for line in card:
        values = [getattr(line, name) for name in COLUMNS]
        writer.writerow(["" if v is None else v for v in values])
    return out.getvalue().encode()


def round_files(data: RoundData, extra: Mapping[str, bytes] | None = None) -> dict[str, bytes]:
    """All files of a round's bundle by name."""
    files = {f"{club}.csv": write_imu(log) for club, log in data.logs.items()}
    manifest = {
        "format": "finearc-capture",
        "version": 1,
        "captured_at": data.captured_at.isoformat() if data.captured_at else None,
        "player": {"handedness": data.handedness.value},
        "shot": ROUND,
        "streams": [{"kind": "imu", "segment": "club", "club": club, "file": f"{club}.csv"} for club in data.logs],
    }
    if data.card:
        manifest["course"] = CARD
        files[CARD] = write_card(data.card)
    return {MANIFEST: (json.dumps(manifest, indent=2) + "\n").encode(), **files, **(extra or {})}
