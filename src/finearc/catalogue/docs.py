"""The page of measures, generated from the catalogue: ``python -m finearc.catalogue.docs``."""

from __future__ import annotations

from pathlib import Path

from finearc.catalogue import library
from finearc.core.judging.drills import Drill
from finearc.core.judging.ranges import Range
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import Metric, Moment
from finearc.core.metrics.registry import MEASURED

HEAD = """# Measures

Generated from the catalogue by `python -m finearc.catalogue.docs`; do not edit by hand.

Symbols: `d` distal along the segment, `o` toward the back of the hand, `r = d × o` toward the thumb (lead arm). Bay axes:
`x` to the ball, `y` to the target, `z` up. Left-handed players are mirrored once at the boundary and computed as
right-handed. Inside: SI units and radians; here and in results: the unit named.
"""


def _row(metric: Metric) -> str:
    way = f"+ {metric.positive}, − {metric.negative}" if metric.positive and metric.positive != metric.negative else ""
    return f"| `{metric.id}` | {metric.label} | {metric.unit.value} | {way} | {metric.definition} |"


def _where(moment: Moment) -> str:
    return moment.key.replace("..", " → ").replace("_", " ")


def _limits(r: Range) -> str:
    text = (
        limits_in_words(r.metric, r.low, r.high, change=r.moment.is_change)
        if (r.low is not None or r.high is not None)
        else ""
    )
    offsets = [
        f"{name} at {r.relative_to.key if r.relative_to else ''} {r.metric.at_edge(value):+.0f}"
        for name, value in (("not below the value", r.low_offset), ("not above the value", r.high_offset))
        if value is not None
    ]
    return "; ".join([t for t in [text, *offsets] if t])


def measures_page() -> str:
    """The whole page as Markdown."""
    lines = [HEAD, "## Measured", "", "| Id | Name | Unit | Direction | Definition |", "|---|---|---|---|---|"]
    lines += [_row(m) for m in MEASURED]
    library_of_ranges = library.ranges()
    lines += [
        "",
        f"## Ranges ({library_of_ranges.version})",
        "",
        "Provenance: CP common practice of instructors · PUB published · MEM figure from memory · HOUSE starting value.",
        "",
        "| Id | Metric | Where | School | Club | Range | By | Note |",
        "|---|---|---|---|---|---|---|---|",
    ]
    for r in library_of_ranges.ranges:
        school = r.school[1].replace("_", " ") if r.school else ""
        club = (r.club_class or "any").replace("_", "-")
        note = f"{r.note} {r.source}".strip()
        lines.append(
            f"| {r.id} | `{r.metric.id}` | {_where(r.moment)} | {school} | {club} | {_limits(r)} | {r.provenance} | {note} |"
        )
    lines += [
        "",
        "## Findings",
        "",
        "| Id | Seen as | Phase | Level | May cause | Drills |",
        "|---|---|---|---|---|---|",
    ]
    for f in library.findings():
        cause = ", ".join(f"`{c}`" for c in f.may_cause)
        drills = ", ".join(library.drills()[d].label for d in f.drills)
        lines.append(f"| `{f.id}` | {f.label} | {f.phase} | {f.level} | {cause} | {drills} |")
    lines += ["", "## Matched sets", "", "Two things that offset each other: change both or neither.", ""]
    lines += [f"- **{m.label}.** {m.says}" for m in library.matched_sets()]
    lines += ["", "## Drills", "", "| Drill | Aim | Dose | Loads | Asks for |", "|---|---|---|---|---|"]
    lines += [_drill(d) for d in library.drills().values()]
    lines += ["", "## Rules of thumb", "", "| Id | About | Fact | By |", "|---|---|---|---|"]
    lines += [f"| {f.id} | {f.about} | {f.says} | {f.provenance} {f.source} |" for f in library.facts()]
    return "\n".join(lines) + "\n"


def _drill(d: Drill) -> str:
    asks = ", ".join(f"{a.side} {a.area} {a.movement}".strip() for a in d.asks)
    return f"| {d.label} | {d.aim} | {d.dose} | {', '.join(d.loads)} | {asks} |"


if __name__ == "__main__":
    Path("docs").mkdir(exist_ok=True)
    Path("docs/measures.md").write_text(measures_page(), encoding="utf-8")
