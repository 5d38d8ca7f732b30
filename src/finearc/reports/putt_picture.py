"""A putt on the page: the putter against its free pendulum where markers saw it and the page speaks of it, else the
wrist's loop."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from finearc.core.metrics.families import putting as pm
from finearc.core.typing import Array
from finearc.reports.drill_picture import COLOURS
from finearc.reports.picture import shown_swing
from finearc.reports.voice import Voice
from finearc.services.lesson.documents import FindingOut
from finearc.services.lesson.pages import SwingRead
from finearc.services.ports import UnitOfWork
from finearc.services.record.blocks import PUTT, unpack_traces
from finearc.wording import tr

WIDTH, HEIGHT = 520.0, 210.0
INK, SEA, MUTED = (COLOURS[f"var(--{name})"] for name in ("ink", "sea", "muted"))
OF_PUTTER = frozenset(
    m.id
    for m in (
        pm.SWEET_SPOT_ALONG,
        pm.SWEET_SPOT_OUT,
        pm.SWEET_SPOT_UP,
        pm.GRIP_END_ALONG,
        pm.GRIP_END_OUT,
        pm.GRIP_END_UP,
        pm.HANDLE_LIFT,
    )
)
"""Measures of which the putter is shown; of the others the wrist's loop."""
REACHES_DEG = (2.0, 5.0, 10.0, 20.0)
Place = Callable[[float, float], tuple[float, float]]


def putt_picture(
    uow: UnitOfWork, swings: Sequence[SwingRead], lead: FindingOut | None, voice: Voice
) -> dict[str, Any] | None:
    """The latest counting putt that shows the lead finding, as an SVG with its words; None where it was no putt, or
    nothing of it was seen."""
    shown = shown_swing(swings, lead)
    if shown is None or not {"takeaway", "impact"} <= set(shown.checkpoints):
        return None
    block = uow.swings.blocks([shown.swing.id], PUTT).get(shown.swing.id)
    if block is None:
        return None
    courses = unpack_traces(block)
    if "free_grip_along" in courses and (lead is None or lead.metric in OF_PUTTER or "extension" not in courses):
        made = _putter(courses, shown.checkpoints, voice)
    elif "extension" in courses:
        made = _loop(courses, shown.checkpoints, voice)
    else:
        return None
    return {"number": shown.swing.number, **made}


def _putter(courses: Mapping[str, Array], at_s: Mapping[str, float], voice: Voice) -> dict[str, Any]:
    """From in front, takeaway to impact, and the putter as the ball is struck; the pendulum as a broad line."""
    side = -1.0 if voice.left_handed else 1.0
    inside = _between(courses["time_s"], at_s["takeaway"], at_s["impact"])
    names = ("head", "grip", "free_head", "free_grip")
    across = {n: side * courses[f"{n}_along"][inside] for n in names}
    up = {n: courses[f"{n}_up"][inside] for n in names}
    place = _fitted(np.concatenate(list(across.values())), np.concatenate(list(up.values())))
    lines = {n: _line([place(a, u) for a, u in zip(across[n], up[n], strict=True) if a == a]) for n in names}
    head, grip, free_head, free_grip = (place(across[n][-1], up[n][-1]) for n in names)
    point, handle = voice.pick(tr("sweet spot"), tr("putter head")), voice.pick(tr("grip end"), "handle")
    svg = "".join(
        [
            *(_path(lines[n], SEA, 5.0, opacity=' stroke-opacity="0.4"') for n in names[2:]),
            _path(lines["head"], INK, 2.2),
            _path(lines["grip"], INK, 2.2, dash="7 5"),
            _segment(free_grip, free_head, SEA, 2.0, "2 5"),
            _segment(grip, head, INK, 3.4),
            f'<circle cx="{head[0]}" cy="{head[1]}" r="5" fill="{INK}"/>',
            f'<circle cx="{grip[0]}" cy="{grip[1]}" r="5" fill="#ffffff" stroke="{INK}" stroke-width="2.4"/>',
            _word(head[0] + 12, head[1] + 2, point),
            _word(grip[0] + 12, grip[1] + 5, handle),
        ]
    )
    what = voice.pick(tr("The putter against a free pendulum"), tr("Your putter against a free pendulum"))
    says = tr(
        "{what}, seen from in front at impact: the {point} solid, the {handle} dashed, the pendulum broad.",
        what=what,
        point=point,
        handle=handle,
    )
    return {
        "what": what,
        "svg": _whole(svg),
        "says": says,
        "key": tr("broad: a free pendulum · solid and dashed: yours"),
    }


def _loop(courses: Mapping[str, Array], at_s: Mapping[str, float], voice: Voice) -> dict[str, Any]:
    """Deviation against extension from takeaway to impact, on one of a few scales."""
    inside = _between(courses["time_s"], at_s["takeaway"], at_s["impact"])
    extension, deviation = courses["extension"][inside], courses["deviation"][inside]
    most = float(np.nanmax(np.abs(np.concatenate([extension, deviation]))))
    reach = next((r for r in REACHES_DEG if most <= r), REACHES_DEG[-1])
    half = HEIGHT / 2.0 - 22.0

    def place(e: float, d: float) -> tuple[float, float]:
        return _rounded(WIDTH / 2.0 + half * e / reach, HEIGHT / 2.0 - half * d / reach)

    points = [place(e, d) for e, d in zip(extension, deviation, strict=True)]
    middle = _rounded(WIDTH / 2.0, HEIGHT / 2.0)
    marks = [("takeaway", points[0], "#ffffff"), ("impact", points[-1], INK)]
    if "transition" in at_s:
        k = int(np.argmin(np.abs(courses["time_s"][inside] - at_s["transition"])))
        marks.insert(1, ("transition", points[k], "#ffffff"))
    right, left = voice.pick("extended", "cupped"), voice.pick("flexed", "bowed")
    upward, down = voice.pick("radial", "hinged"), voice.pick("ulnar", "unhinged")
    svg = "".join(
        [
            _segment((middle[0] - half, middle[1]), (middle[0] + half, middle[1]), MUTED, 1.0),
            _segment((middle[0], middle[1] - half), (middle[0], middle[1] + half), MUTED, 1.0),
            _path(_line(points), INK, 2.6),
            *(
                f'<circle cx="{p[0]}" cy="{p[1]}" r="5" fill="{fill}" stroke="{INK}" stroke-width="2"/>'
                for _, p, fill in marks
            ),
            _word(middle[0] + half + 6, middle[1] + 5, f"{right} {reach:g}°"),
            _word(middle[0] - half - 6, middle[1] + 5, left, "end"),
            _word(middle[0] + 8, middle[1] - half - 6, f"{upward} {reach:g}°"),
            _word(middle[0] + 8, middle[1] + half + 16, down),
        ]
    )
    what = voice.pick(tr("The wrist from takeaway to impact"), tr("Your wrist from the start to the ball"))
    says = tr(
        "{what}, relative to address: {right} and {left} across, {upward} and {down} up and down.",
        what=what,
        right=right,
        left=left,
        upward=upward,
        down=down,
    )
    return {
        "what": what,
        "svg": _whole(svg),
        "says": says,
        "key": tr("open dots: start and transition · full dot: impact"),
    }


def _between(time_s: Array, start_s: float, end_s: float) -> slice:
    a, b = np.searchsorted(time_s, [start_s, end_s])
    return slice(int(a), int(b))


def _fitted(across: Array, up: Array) -> Place:
    """True to scale, in the middle of the picture."""
    x0, x1, y0, y1 = (float(f(v)) for v in (across, up) for f in (np.nanmin, np.nanmax))
    per = min((WIDTH - 200.0) / max(x1 - x0, 1.0), (HEIGHT - 24.0) / max(y1 - y0, 1.0))

    def place(a: float, u: float) -> tuple[float, float]:
        return _rounded(WIDTH / 2.0 + (a - (x0 + x1) / 2.0) * per, HEIGHT / 2.0 - (u - (y0 + y1) / 2.0) * per)

    return place


def _rounded(x: float, y: float) -> tuple[float, float]:
    return round(float(x), 1), round(float(y), 1)


def _line(points: Sequence[tuple[float, float]]) -> str:
    return " ".join(f"{x},{y}" for x, y in points)


def _path(points: str, stroke: str, width: float, dash: str = "", opacity: str = "") -> str:
    dashed = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<polyline fill="none" stroke="{stroke}"{opacity}{dashed} stroke-width="{width}" points="{points}"/>'


def _segment(a: tuple[float, float], b: tuple[float, float], stroke: str, width: float, dash: str = "") -> str:
    dashed = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<line x1="{a[0]}" y1="{a[1]}" x2="{b[0]}" y2="{b[1]}" stroke="{stroke}" stroke-width="{width}"{dashed}/>'


def _word(x: float, y: float, text: str, anchor: str = "start") -> str:
    return f'<text x="{x:.1f}" y="{y:.1f}" font-size="18" text-anchor="{anchor}" fill="{INK}">{text}</text>'


def _whole(content: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="-6 -6 {WIDTH + 12:g} {HEIGHT + 12:g}" '
        f'font-family="Atkinson Hyperlegible Next">{content}</svg>'
    )
