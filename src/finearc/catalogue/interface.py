"""What the front end takes from the catalogue when it is built: groups, charts, and the closed lists of ids."""

from __future__ import annotations

import json
import re

from finearc.catalogue import library
from finearc.catalogue.pictures import pictures
from finearc.core.events.model import ORDER
from finearc.core.metrics.definition import WHOLE_SWING
from finearc.core.metrics.groups import GROUPS, SEQUENCE
from finearc.core.metrics.registry import ALL
from finearc.core.metrics.swing import AFTER_IMPACT

HEAD = (
    "// Made from the catalogue when the interface is built; never edited by hand.\n"
    'import { tr } from "@/lib/language";\n\n'
)


TEXT = "\u2063"
"""Around what is a text of the catalogue, until it is written as a call (an invisible separator, in no text)."""


def _text(words: str) -> str:
    return f"{TEXT}{words}{TEXT}"


def _written(value: object) -> str:
    """As TypeScript: JSON, its texts asked of the language."""
    json_ = json.dumps(value, indent=1, ensure_ascii=False)
    return re.sub(f'"{TEXT}(.*?){TEXT}"', r'tr("\1")', json_)


def metric_ids() -> list[str]:
    """Every metric's id."""
    return [m.id for m in ALL]


def moment_ids() -> list[str]:
    """Every moment at which anything is read or judged: checkpoints, changes between two, the whole swing."""
    known = [*(str(c) for c in ORDER), AFTER_IMPACT, WHOLE_SWING.key]
    known += ["..".join(pair) for m in ALL for pair in m.changes_read]
    known += [r.moment.key for r in library.ranges().ranges]
    return list(dict.fromkeys(known))


def finding_ids() -> list[str]:
    """Every built-in finding's id; an academy may have its own beside them."""
    return [f.id for f in library.findings()]


def pictures_module() -> str:
    """The TypeScript module of the drills' pictures."""
    shown = {p.id: {"label": _text(p.label), **p.drawn.model_dump()} for p in pictures().values()}
    return f"{HEAD}export const PICTURES = {_written(shown)} as const;\n"


def measures_module() -> str:
    """The TypeScript module of groups and charts."""
    groups = [
        {
            "id": g.family.value,
            "name": _text(g.name),
            "add": _text(g.add),
            "measures": [
                {
                    "id": m.id,
                    "name": _text(m.chart.name),
                    "drawing": m.chart.drawing.value,
                    "zero": None
                    if m.chart.zero is None
                    else dict(zip(("standard", "plain"), map(_text, m.chart.zero), strict=True)),
                    "beside": m.chart.beside and [_text(t) for t in m.chart.beside],
                }
                for m in g.charts
                if m.chart is not None
            ],
        }
        for g in GROUPS
    ]
    sequence = [{"name": _text(p.name), "rate": p.rate.id, "peak": p.peak.id, "time": p.time.id} for p in SEQUENCE]
    shown = {m.id: m.shown_as for m in ALL}
    lines = [
        f"export const {name} = {_written(value)} as const;\n"
        for name, value in (
            ("GROUPS", groups),
            ("SEQUENCE", sequence),
            ("SHOWN_AS", shown),
        )
    ]
    return HEAD + "\n".join(lines)
