"""Keeps what the golfer model played on disk between runs: playing takes most of the tests' time, and plays the same again.

A recording is found by all that it follows from: the story, seed, sources, hand and height, and the source of the
golfer model with everything it imports of the application. Change one of these and it is played anew. The folder is
``FINEARC_SIMULATED``, else in the user's cache; ``FINEARC_SIMULATED=off`` plays everything. It stays below ``MOST_GB``
and is not written to when the disk is nearly full, nor with ``FINEARC_SIMULATED_READ_ONLY``."""

from __future__ import annotations

import ast
import contextlib
import functools
import hashlib
import os
import pickle
import shutil
import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import scipy
from validation import simulated as sessions

from finearc.golfer import scenarios
from finearc.golfer.course import motion, round as rounds

SRC = Path(__file__).parents[1] / "src"
MOST_GB = 14.0
LEAST_FREE_GB = 8.0
GB = 1e9
PACKER = pa.Codec("zstd", compression_level=1)


def _imports(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("finearc"):
            yield node.module
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from (a.name for a in node.names if a.name.startswith("finearc"))


def _file(module: str) -> Path | None:
    base = SRC / Path(*module.split("."))
    return next((p for p in (base.with_suffix(".py"), base / "__init__.py") if p.exists()), None)


def model_files() -> list[Path]:
    """The golfer model's files and all of the application's that they import, directly or not."""
    found: set[Path] = set()
    todo = sorted((SRC / "finearc" / "golfer").glob("*.py"))
    while todo:
        path = todo.pop()
        if path not in found:
            found.add(path)
            todo += [f for m in _imports(path) if (f := _file(m)) is not None]
    return sorted(found)


@functools.cache
def source_key() -> bytes:
    """Changes with the model's source and with the libraries it computes with."""
    digest = hashlib.sha256(f"{sys.version} {np.__version__} {scipy.__version__}".encode())
    for path in model_files():
        digest.update(str(path.relative_to(SRC)).encode() + path.read_bytes())
    return digest.digest()


def folder() -> Path | None:
    """Where recordings are kept, or None when they are not."""
    chosen = os.environ.get("FINEARC_SIMULATED", "")
    if chosen == "off":
        return None
    base = Path(chosen) if chosen else Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "finearc"
    place = base / "simulated"
    try:
        place.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return place


def _used(place: Path) -> Iterator[tuple[float, int, Path]]:
    """When each recording was last used, its size and its file; another worker may remove some meanwhile."""
    for path in place.iterdir():
        with contextlib.suppress(FileNotFoundError):
            found = path.stat()
            yield found.st_atime, found.st_size, path


def _make_room(place: Path) -> bool:
    """Whether another recording may be written; what was used longest ago goes first."""
    if os.environ.get("FINEARC_SIMULATED_READ_ONLY") or shutil.disk_usage(place).free < LEAST_FREE_GB * GB:
        return False
    kept = sorted(_used(place))
    size = sum(s for _, s, _ in kept)
    for _, s, path in kept:
        if size < MOST_GB * GB:
            break
        path.unlink(missing_ok=True)
        size -= s
    return True


def written(recording: Any) -> bytes:
    """A recording as bytes, to a third of its size: most of it are smooth columns of numbers, whose like bytes (of
    eight, the first of all, then the second …) stand side by side before they are packed."""
    columns: list[pickle.PickleBuffer] = []
    head = pickle.dumps(recording, 5, buffer_callback=columns.append)
    packed = []
    for column in columns:
        raw = np.frombuffer(column.raw(), np.uint8)
        width = 8 if len(raw) % 8 == 0 else 1
        side_by_side = np.ascontiguousarray(raw.reshape(-1, width).T)
        packed.append((PACKER.compress(side_by_side, asbytes=True), len(raw), width))
    return pickle.dumps((head, packed), 5)


def read(block: bytes) -> Any:
    """A recording from its bytes."""
    head, packed = pickle.loads(block)
    columns = []
    for content, size, width in packed:
        raw = np.frombuffer(PACKER.decompress(content, size, asbytes=True), np.uint8)
        whole = np.ascontiguousarray(raw.reshape(width, -1).T).reshape(-1)
        columns.append(whole if whole.flags.writeable else whole.copy())
    return pickle.loads(head, buffers=columns)


def kept(play: Callable[..., Any], more: bytes = b"") -> Callable[..., Any]:
    """The same function, which plays only what it has not played before; ``more``: what else the result follows from."""

    @functools.wraps(play)
    def remembered(*args: Any, **options: Any) -> Any:
        place = folder()
        if place is None:
            return play(*args, **options)
        asked = pickle.dumps((play.__name__, args, sorted(options.items())), 5)
        path = place / f"{hashlib.sha256(source_key() + more + asked).hexdigest()[:40]}.recording"
        try:
            recording = read(path.read_bytes())
            os.utime(path)
            return recording
        except (OSError, pickle.PickleError, EOFError, pa.ArrowException):
            pass
        recording = play(*args, **options)
        if _make_room(place):
            with tempfile.NamedTemporaryFile(dir=place, delete=False) as part:
                part.write(written(recording))
            os.replace(part.name, path)
        return recording

    return remembered


def keep_between_runs() -> None:
    """From here on what the model plays is kept."""
    scenarios.play_story = kept(scenarios.play_story)
    rounds.play_round = kept(rounds.play_round, Path(rounds.__file__).read_bytes() + Path(motion.__file__).read_bytes())
    sessions.session = kept(sessions.session, Path(sessions.__file__).read_bytes())
