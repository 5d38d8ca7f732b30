"""``finearc compare`` and ``finearc change``: two captures laid over each other, and whether anything changed."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

import orjson
from pydantic import BaseModel, ValidationError

from finearc.catalogue.toml_file import DataFileError
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import SYMBOL
from finearc.formats.bundle import read_bundle
from finearc.services.comparing import comparison as c
from finearc.services.judging.analysis import Options, analyse


def _side(path: str, options: Options, number: int | None = None) -> c.Side:
    data = read_bundle(Path(path))
    return c.side_of(Path(path).name, data, analyse(data, options), number)


def _same(args: argparse.Namespace) -> bool:
    return Path(args.first).resolve() == Path(args.second).resolve()


def compare_bundles(args: argparse.Namespace, options: Options) -> int:
    """Two captures, or a swing of each."""
    metrics = c.known_metrics(args.metric or ())
    first, second = _side(args.first, options, args.swing_a), _side(args.second, options, args.swing_b)
    found = c.comparison(first, second, metrics, same=_same(args))
    if args.json:
        return _print(found)
    lines = [f"{first.name} against {second.name}", *(f"! {n}" for n in found.notes)]
    for metric in found.metrics:
        lines += [f"\n{BY_ID[metric.metric].label}", *(f"  {s}" for s in metric.sentences)]
        lines += [_value(metric, v) for v in metric.values]
    print("\n".join(lines))
    return 0


def _value(metric: c.MetricComparison, v: c.ValueResult) -> str:
    unit, where = SYMBOL[BY_ID[metric.metric].unit], v.event.replace("_", " ")
    return f"  {where:34} {v.a:8.1f} {v.b:8.1f} {v.difference:+8.1f}{unit} ± {v.uncertainty:.1f}"


def _cases(path: Path) -> c.ChangeCases:
    try:
        return c.ChangeCases.model_validate_json(path.read_bytes())
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "file"
        raise DataFileError(path.name, f"{where}: {first['msg'].removeprefix('Value error, ')}") from None


def change(args: argparse.Namespace, options: Options) -> int:
    """Between two captures, or of each case in a file."""
    if args.second is None:
        found = c.changes(_cases(Path(args.first)))
    else:
        if not args.metric or not args.event:
            raise c.Incomparable("Two captures are given", "Say of what: --metric M --event E")
        (metric,) = c.known_metrics([args.metric])
        before, after = _side(args.first, options), _side(args.second, options)
        found = c.Changes(cases=[c.change_between(before, after, metric, args.event, same=_same(args))])
    if args.json:
        return _print(found)
    print("\n".join(_case(k, case) for k, case in enumerate(found.cases, 1)))
    return 0


def _case(number: int, case: c.ChangeResult) -> str:
    interval = "" if case.ci95 is None else f", 95 % interval {case.ci95[0]:.3g} to {case.ci95[1]:.3g}"
    more = "" if case.more_swings is None else f"; {'more than 30' if case.more_swings > 30 else case.more_swings} more"
    off = "nothing to compare" if case.difference is None else f"{case.difference:+.3g}{interval}"
    return f"{number}: {case.verdict.replace('_', ' ')}: {off}{more}"


def _print(found: BaseModel) -> int:
    told = found.model_dump(mode="json", by_alias=True)
    sys.stdout.write(orjson.dumps(told, option=orjson.OPT_INDENT_2).decode() + "\n")
    return 0
