"""``python -m finearc.launch``: starts everything and keeps it alive; what ``./start`` runs."""

from __future__ import annotations

import errno
import shutil
import sys
import time
from pathlib import Path

from finearc.core.errors import FineArcError
from finearc.launch.mariadb import MariaDb
from finearc.launch.options import ROOT, Parser
from finearc.launch.supervisor import Kept, Supervisor, listening, python


def say(text: str) -> None:
    """Progress for the person at the terminal."""
    print(f"  {text}", flush=True)


def main(module: str = "finearc.main") -> int:
    """``module`` is run as each web process. The exit code: 2 with words where it cannot start."""
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
    try:
        return Supervisor(MariaDb(args.data, args.db_port), web, say).run()
    except FineArcError as error:
        return refuse(str(error))
    except OSError as error:
        free = shutil.disk_usage(ROOT if ROOT.exists() else Path("/")).free // 1_000_000
        return refuse(f"{error.strerror or error} ({error.filename or 'system'}); {free} MB are free.")


def refuse(words: str) -> int:
    """Say why it does not start."""
    print(f"\n  {words}\n", file=sys.stderr)
    return 2


if __name__ == "__main__":
    sys.exit(main())
