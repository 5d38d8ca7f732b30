"""Small faults put into the core, one at a time: which of them do the tests notice?

``python -m tools.mutants --count 80 --seed 1 --report docs/mutants.md``. A fault is one changed operator, number, truth
value or condition in ``core/judging``, ``core/metrics`` or ``core/events``, drawn at random; it is noticed when a test
that passes on the sound code fails. The sample is the same for the same seed and source."""

from __future__ import annotations

import argparse
import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = ROOT / "src" / "finearc" / "core"
ROOMS = ("judging", "metrics", "events")
QUICK = (
    "tests/core/test_judging.py",
    "tests/core/test_causes.py",
    "tests/core/test_sequence.py",
    "tests/core/test_swing_reader.py",
    "tests/core/test_checkpoint_finders.py",
    "tests/core/test_marker_traces.py",
    "tests/core/test_swing_finding.py",
    "tests/core/test_swings.py",
    "tests/core/test_change.py",
    "tests/contract/test_metrics.py",
    "tests/contract/test_catalogue.py",
)
THEN = (
    "tests/core/test_metric_truth.py",
    "tests/core/test_more_truth.py",
    "tests/core/test_sources.py",
    "tests/core/test_accuracy.py",
    "tests/core/test_ground_findings.py",
    "tests/core/test_ground_truth.py",
    "tests/core/test_body.py",
    "tests/core/test_players_and_findings.py",
    "tests/core/test_segments.py",
    "tests/core/test_wrist.py",
    "tests/core/test_heading.py",
    "tests/formats/test_cli.py",
)
LIMIT_S = 420.0

COMPARE = {
    ast.Lt: ast.GtE,
    ast.LtE: ast.Gt,
    ast.Gt: ast.LtE,
    ast.GtE: ast.Lt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
}
ARITHMETIC = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}


@dataclass(frozen=True)
class Mutant:
    """A fault: in which file, at which line, what became of what."""

    path: Path
    line: int
    before: str
    after: str
    source: str

    @property
    def where(self) -> str:
        return f"{self.path.relative_to(CORE)}:{self.line}"


def _changed(node: ast.AST) -> ast.AST | None:
    """The node with a fault in it, or None where this kind of node takes none."""
    new = copy.deepcopy(node)
    if isinstance(new, ast.Compare) and type(new.ops[0]) in COMPARE:
        new.ops[0] = COMPARE[type(new.ops[0])]()
    elif isinstance(new, ast.BinOp) and type(new.op) in ARITHMETIC:
        new.op = ARITHMETIC[type(new.op)]()
    elif isinstance(new, ast.BoolOp):
        new.op = ast.Or() if isinstance(new.op, ast.And) else ast.And()
    elif isinstance(new, ast.UnaryOp) and isinstance(new.op, ast.USub | ast.Not):
        return new.operand
    elif isinstance(new, ast.Constant) and isinstance(new.value, bool):
        new.value = not new.value
    elif isinstance(new, ast.Constant) and isinstance(new.value, int | float):
        new.value = new.value + 1 if isinstance(new.value, int) else 2.0 * new.value + (new.value == 0.0)
    else:
        return None
    return new


def _places(tree: ast.AST) -> Iterator[tuple[ast.AST, str, int | None, ast.AST]]:
    """Every expression with its parent and place; annotations and decorators are left out."""
    outside = {id(x) for node in ast.walk(tree) for d in getattr(node, "decorator_list", ()) for x in ast.walk(d)}
    for parent in ast.walk(tree):
        if id(parent) in outside:
            continue
        for name, value in ast.iter_fields(parent):
            if name in ("annotation", "returns", "decorator_list", "slice"):
                continue
            items = enumerate(value) if isinstance(value, list) else [(None, value)]
            for k, child in items:
                if isinstance(child, ast.expr):
                    yield parent, name, k, child


def mutants_of(path: Path) -> list[Mutant]:
    """All faults of one file."""
    text = path.read_text(encoding="utf-8")
    tree, out = ast.parse(text), []
    for parent, name, k, child in list(_places(tree)):
        new = _changed(child)
        if new is None:
            continue
        holder = getattr(parent, name)
        if k is None:
            setattr(parent, name, new)
        else:
            holder[k] = new
        out.append(Mutant(path, child.lineno, ast.unparse(child), ast.unparse(new), ast.unparse(tree)))
        if k is None:
            setattr(parent, name, child)
        else:
            holder[k] = child
    return out


def noticed(mutant: Mutant, sound: Path) -> bool:
    """Whether a test fails, or never ends, with the fault in place; ``sound`` holds the source without it."""
    with tempfile.TemporaryDirectory(prefix="mutant-") as place:
        shutil.copytree(sound, Path(place) / "src")  # with what is compiled, which stays valid
        target = Path(place) / "src" / mutant.path.relative_to(ROOT / "src")
        target.write_text(mutant.source, encoding="utf-8")
        return any(_fails(Path(place), files) for files in (QUICK, THEN))


def _fails(place: Path, files: tuple[str, ...]) -> bool:
    paths = {"PYTHONPATH": f"{place / 'src'}:{ROOT}", "FINEARC_SIMULATED_READ_ONLY": "1"}
    environment = {**os.environ, **paths}
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *files]
    try:
        done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, timeout=LIMIT_S, check=False)
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


def _report(survivors: list[Mutant], tried: int, possible: int, asked: str) -> str:
    rows = "\n".join(f"| `{m.where}` | `{m.before}` | `{m.after}` |" for m in survivors)
    noticed = tried - len(survivors)
    return (
        f"# Faults that the tests notice\n\nOf {possible} possible small faults in `core/judging`, `core/metrics` and "
        f"`core/events`, {tried} drawn at random were tried (the first of `python -m tools.mutants {asked}`): "
        f"{noticed} are noticed, {100 * noticed / tried:.0f} %.\n\nNot noticed:\n\n"
        f"| Where | Was | Became |\n|---|---|---|\n{rows}\n"
    )


def main() -> int:
    """Draw a sample, try each, print and write what was found."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--count", type=int, default=80)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--report", type=Path)
    args = parser.parse_args()
    every = [m for room in ROOMS for path in sorted((CORE / room).rglob("*.py")) for m in mutants_of(path)]
    sample = random.Random(args.seed).sample(every, min(args.count, len(every)))
    begun, survivors, asked = time.monotonic(), [], f"--count {args.count} --seed {args.seed}"
    with tempfile.TemporaryDirectory(prefix="sound-") as place, ThreadPoolExecutor(args.workers) as pool:
        sound = Path(place) / "src"
        shutil.copytree(ROOT / "src", sound)  # what is edited meanwhile is no fault of a mutant's
        found = pool.map(partial(noticed, sound=sound), sample)
        for k, (mutant, seen) in enumerate(zip(sample, found, strict=True), 1):
            print(
                f"{k:3} {'noticed ' if seen else 'SURVIVED'} {mutant.where}  {mutant.before}  →  {mutant.after}",
                flush=True,
            )
            if not seen:
                survivors.append(mutant)
            if args.report:  # so far: whoever stops early has the first of the sample, which is one as well
                args.report.write_text(_report(survivors, k, len(every), asked), encoding="utf-8")
    print(f"{len(sample) - len(survivors)} of {len(sample)} noticed, {time.monotonic() - begun:.0f} s")
    return 0


if __name__ == "__main__":
    sys.exit(main())
