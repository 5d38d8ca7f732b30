"""The options of ``./start``."""

from __future__ import annotations

import argparse
import os
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
LOOPBACK = "127.0.0.1"
DATA = Path(os.environ.get("FINEARC_DATA", ROOT / "var" / "data"))
STAND_INS = "stand-ins"
"""Name of a file in the data folder: the tokens with which the demo's simulated devices send, a line each."""
DB_PORT = int(os.environ.get("FINEARC_DB_PORT", "33420"))


class Parser(argparse.ArgumentParser):
    """Options of the server; each can stand in the environment instead."""

    def __init__(self) -> None:
        super().__init__(prog="start", description="Starts Fine Arc: database, application, demo.")
        told = os.environ.get
        self.add_argument("--port", type=int, default=int(told("FINEARC_PORT", "8420")))
        self.add_argument("--db-port", type=int, default=DB_PORT)
        self.add_argument("--data", type=Path, default=DATA)
        self.add_argument("--no-demo", action="store_true", help="start empty; see finearc academy")
        self.add_argument(
            "--no-devices",
            action="store_true",
            default=told("FINEARC_NO_DEVICES", "") == "1",
            help="without the demo's simulated devices; start your own with finearc devices",
        )
        self.add_argument(
            "--pace", type=float, default=float(told("FINEARC_PACE", "1")), help="of the stand-in devices"
        )
        self.add_argument(
            "--backup",
            type=Path,
            default=Path(told("FINEARC_BACKUP", "")) if told("FINEARC_BACKUP") else None,
            metavar="FOLDER",
            help="a verified backup into this folder every night",
        )
        self.add_argument("--backup-at", default=told("FINEARC_BACKUP_AT", "03:00"), metavar="HH:MM")
        self.add_argument("--backup-days", type=int, default=35, metavar="N", help="so long backups are kept")
        self.add_argument("--backup-passphrase", type=Path, metavar="FILE", help="encrypts them; keep a copy elsewhere")
        self.add_argument("--workers", type=int, default=int(told("FINEARC_WORKERS", "1")), help="web processes")
        self.add_argument("--host", default=told("FINEARC_HOST", LOOPBACK), help="address to listen on")
        self.add_argument(
            "--name",
            action="append",
            metavar="HOST",
            default=[n for n in told("FINEARC_NAMES", "").split(",") if n],
            help="a name under which browsers ask for it, beside localhost; again for more",
        )
        self.add_argument(
            "--tls-proxy",
            action="store_true",
            default=told("FINEARC_TLS_PROXY", "") == "1",
            help="a proxy with TLS stands in front: secure cookies, strict transport, sender from X-Forwarded-For",
        )


def is_loopback(host: str) -> bool:
    """Whether only this machine can ask."""
    return host in (LOOPBACK, "localhost", "::1")
