"""``python -m finearc.launch``: starts everything and keeps it alive; what ``./start`` runs."""

from __future__ import annotations

import argparse
import errno
import shutil
import sys
import time
from pathlib import Path

from finearc.core.errors import FineArcError
from finearc.launch.mariadb import MariaDb
from finearc.launch.options import ROOT, STAND_INS, Parser
from finearc.launch.supervisor import Kept, Supervisor, listening, python


def say(text: str) -> None:
    """Progress for the person at the terminal."""
    print(f"  {text}", flush=True)


def main(module: str = "finearc.main", devices: str = "finearc") -> int:
    """``module`` is run as each web process, ``devices`` as the simulated devices. The exit code: 2 with words where it
    cannot start."""
    given = sys.argv[1:]
    args = Parser().parse_args(given)
    try:
        port = listening(args.host, args.port)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            return refuse(f"{args.host} port {args.port}: {error.strerror}. Choose another.")
        words = f"Port {args.port} is taken by another program. Stop it, or choose another"
        return refuse(f"{words}: ./start --port {args.port + 1}")
    handed = port.fileno()
    served = ["--socket", str(handed), "--begun", str(time.monotonic())]
    web = [
        Kept(f"Web process {k + 1}", python(module, *given, *served, "--number", str(k)), [handed])
        for k in range(max(1, args.workers))
    ]
    if not (args.no_demo or args.no_devices):
        web.append(Kept("Simulated devices", python(devices, *_stand_ins(args)), needed=False))
    if args.backup is not None:
        web.append(Kept("Backups", python("finearc", *_backups(args)), needed=False))
    try:
        return Supervisor(MariaDb(args.data, args.db_port), web, say).run()
    except FineArcError as error:
        return refuse(str(error))
    except OSError as error:
        free = shutil.disk_usage(ROOT if ROOT.exists() else Path("/")).free // 1_000_000
        return refuse(f"{error.strerror or error} ({error.filename or 'system'}); {free} MB are free.")


def _backups(args: argparse.Namespace) -> list[str]:
    """``finearc backup`` every night, for as long as the application runs."""
    secret = [] if args.backup_passphrase is None else ["--passphrase-file", str(args.backup_passphrase)]
    return [
        *("backup", str(args.backup), "--nightly", args.backup_at, "--keep-days", str(args.backup_days), *secret),
        *("--data", str(args.data), "--db-port", str(args.db_port)),
    ]


def _stand_ins(args: argparse.Namespace) -> list[str]:
    """``finearc devices`` for the demo's bays: it waits until they have tokens."""
    host = args.host if args.host not in ("0.0.0.0", "::") else "127.0.0.1"
    return [
        "devices",
        *("--url", f"http://{f'[{host}]' if ':' in host else host}:{args.port}"),
        *("--rigs", str(args.data / STAND_INS)),
        *("--plays", str(args.data / "stand-in")),
        *("--pace", str(args.pace)),
    ]


def refuse(words: str) -> int:
    """Say why it does not start."""
    print(f"\n  {words}\n", file=sys.stderr)
    return 2


if __name__ == "__main__":
    sys.exit(main())
