"""How the backups of a data folder stand, for the owner's screen: kept beside the data, renewed by every try."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from pathlib import Path

from finearc.keeping.folder import write_whole
from finearc.keeping.nightly import OVERDUE

FILE = "backup-state.json"


@dataclass(frozen=True)
class BackupState:
    """``made_at``: of the last backup; ``verified_at``: when one was last restored and found equal, of ``swings``;
    ``trouble``: why the last try, at ``tried_at``, failed, else empty. Times in UTC (ISO 8601), empty for never."""

    folder: str = ""
    made_at: str = ""
    verified_at: str = ""
    swings: int = 0
    tried_at: str = ""
    trouble: str = ""


def read_state(data: Path) -> BackupState:
    """How they stand; of never where nothing is known."""
    with suppress(FileNotFoundError, ValueError, TypeError):
        return BackupState(**json.loads((data / FILE).read_text()))
    return BackupState()


def is_late(state: BackupState, now: datetime) -> bool:
    """Whether none was verified for longer than a night takes to come round."""
    return not state.verified_at or now - datetime.fromisoformat(state.verified_at) > OVERDUE


def write_state(data: Path, state: BackupState) -> None:
    """Whole, or as it was."""
    write_whole(data / FILE, json.dumps(asdict(state)).encode())


def failed(data: Path, why: str, at: datetime) -> None:
    """The last try came to nothing; what was made before stays."""
    write_state(data, replace(read_state(data), trouble=why, tried_at=at.isoformat(timespec="seconds")))
