"""Views map and nothing else: a view that could reach the database would not be one."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

VIEWS = Path(__file__).parents[2] / "src" / "finearc" / "api" / "views"
FORBIDDEN = (
    "finearc.store",
    "finearc.services.ports",
    "finearc.api.context",
    "sqlalchemy",
    "finearc.core.sources.capture",
)
READS = {"uow", "store", "session", "unit_of_work"}


def imported(tree):
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom):
            yield node.module or ""
        elif isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


@pytest.mark.parametrize("path", sorted(VIEWS.glob("*.py")), ids=lambda p: p.stem)
def test_no_view_can_reach_the_database_or_judge(path):
    tree = ast.parse(path.read_text(encoding="utf-8"))
    assert not [m for m in imported(tree) if m.startswith(FORBIDDEN)]
    names = {n.id for n in ast.walk(tree) if isinstance(n, ast.Name)} | {
        a.arg for n in ast.walk(tree) if isinstance(n, ast.arguments) for a in n.args
    }
    assert not names & READS
    calls = {n.func.attr for n in ast.walk(tree) if isinstance(n, ast.Call) and isinstance(n.func, ast.Attribute)}
    assert not calls & {"find", "judge", "decide", "flush"}


def test_the_check_would_notice(tmp_path):
    (tmp_path / "bad.py").write_text(
        "from finearc.services.ports import UnitOfWork\n\n\ndef out(uow):\n    return uow.find(int)\n"
    )
    with pytest.raises(AssertionError):
        test_no_view_can_reach_the_database_or_judge(tmp_path / "bad.py")
