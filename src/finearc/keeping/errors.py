"""What goes wrong with backups, in words."""

from __future__ import annotations

from dataclasses import dataclass

from finearc.core.errors import FineArcError


@dataclass
class BackupTrouble(FineArcError):
    """A backup cannot be made, read or restored: what, and what to do."""

    problem: str
    advice: str
    code = "backup"

    def __str__(self) -> str:
        return f"Backup: {self.problem}. {self.advice}."
