"""A measure on the page as what it is: the hand, the body, the feet, with its band, before and after. The shapes are
the interface's own (``web/src/shared/figure``), written to ``gauges`` and compared there; here they are moved."""

from __future__ import annotations

import copy
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from xml.etree import ElementTree as ET

from finearc.core.metrics.definition import Drawing, Metric
from finearc.reports.drill_picture import COLOURS
from finearc.wording import tr

FOLDER = Path(__file__).parent / "gauges"
BEFORE = {"stroke": "#565b58", "stroke-width": "3", "stroke-dasharray": "7 6", "fill": "none"}
BAND = {"fill": COLOURS["var(--band)"], "stroke": COLOURS["var(--sea)"], "stroke-width": "2"}
INK = COLOURS["var(--ink)"]
WHOLE, HAND, ABOVE = "-170 -150 340 310", "-158 -112 312 190", "-132 -142 264 196"
SPINE, SOLES = "-150 -108 270 202", "-140 -122 280 250"
FARTHEST = 12.0
"""A rule reaches at least so far to either side, cm (house value)."""


_FEET = {"lead_share": Drawing.FEET}
"""Drawn as the course is that it is shown as."""


@dataclass(frozen=True)
class Shape:
    """``view``: the part of the drawing that is shown. ``turned``: by how much the moving part turns clockwise for a
    value in the measure's unit, deg. ``from_deg``: where a value lies, clockwise from straight up; the band is a sector
    between ``inner`` and ``outer``."""

    file: str
    view: str
    turned: Callable[[float], float]
    from_deg: Callable[[float], float]
    inner: float
    outer: float


def gauge(metric: Metric, values: tuple[float | None, float], band: tuple[float | None, float | None]) -> str:
    """An SVG of a measure (its own unit) before (None: not drawn) and after, with the band where both its ends are
    known; empty for a measure that is not drawn."""
    drawing = metric.chart.drawing if metric.chart is not None else _FEET.get(metric.id)
    if drawing is Drawing.DISTANCE:
        return _rule(values, band, upright=metric.id.endswith("lift"))
    if drawing is Drawing.FEET:
        return _feet(metric.id, values, band)
    shape = _shape(metric, drawing)
    return _turned(shape, values, band) if shape is not None else ""


def _shape(metric: Metric, drawing: Drawing | None) -> Shape | None:
    def same(v: float) -> float:
        return v

    def back(v: float) -> float:
        return -v

    def from_straight(v: float) -> float:
        return 90.0 - v

    if drawing in (Drawing.CUP, Drawing.HINGE):
        return Shape(str(drawing.value), HAND, back, from_straight, 104.0, 138.0)
    if drawing is Drawing.ROLL:
        return Shape("roll", WHOLE, same, from_straight, 104.0, 138.0)
    if drawing is Drawing.SHAFT:
        return Shape("shaft", WHOLE, back, from_straight, 40.0, 128.0)
    if drawing is Drawing.TURN:
        return Shape("pelvis" if metric.id == "pelvis_turn" else tr("shoulders"), ABOVE, same, same, 92.0, 128.0)
    if drawing is Drawing.TILT:
        lean = _lean(metric.id)
        return Shape("spine", SPINE, lean, lean, 128.0, 168.0)
    if drawing is Drawing.JOINT:
        return Shape("joint", WHOLE, back, lambda v: 180.0 - v, 92.0, 124.0)
    return None


def _lean(metric: str) -> Callable[[float], float]:
    """How far a spine leans to the right of its drawing: seen from in front, away from the target is to the left."""
    if metric == "spine_lean" or metric.endswith("side_bend"):
        return lambda v: -v
    if metric == "posture_from_ground":
        return lambda v: 90.0 - v
    return lambda v: v


@lru_cache(maxsize=32)
def _file(name: str) -> str:
    text = (FOLDER / f"{name}.svg").read_text(encoding="utf-8")
    for variable, colour in COLOURS.items():
        text = text.replace(variable, colour)
    return text


def _drawn(name: str) -> tuple[ET.Element, ET.Element, ET.Element]:
    """A fresh drawing, its moving part, and what that stands in."""
    root = ET.fromstring(_file(name))
    parents = {child: parent for parent in root.iter() for child in parent}
    moving = next(e for e in root.iter() if "data-moves" in e.attrib)
    return root, moving, parents[moving]


def _ghost(moving: ET.Element) -> ET.Element:
    """The moving part as it was before: dashed, seen through."""
    ghost = copy.deepcopy(moving)
    for part in ghost.iter():
        part.attrib.pop("stroke-width", None)
        part.attrib.pop("fill", None)
    ghost.attrib.update(BEFORE)
    return ghost


def _turned(shape: Shape, values: tuple[float | None, float], band: tuple[float | None, float | None]) -> str:
    root, moving, parent = _drawn(shape.file)
    before, after = values
    moving.set("transform", f"rotate({shape.turned(after):.1f})")
    if before is not None:
        ghost = _ghost(moving)
        ghost.set("transform", f"rotate({shape.turned(before):.1f})")
        parent.append(ghost)
    root.set("viewBox", shape.view)
    low, high = band
    if low is not None and high is not None:
        parent.insert(0, ET.Element("path", {"d": _sector(shape, low, high), **BAND}))
    return _text(root)


def _sector(shape: Shape, low: float, high: float) -> str:
    a, b = sorted((shape.from_deg(low), shape.from_deg(high)))

    def at(deg: float, r: float) -> str:
        return f"{r * math.sin(math.radians(deg)):.1f},{-r * math.cos(math.radians(deg)):.1f}"

    large = 1 if b - a > 180.0 else 0
    r, s = shape.inner, shape.outer
    return (
        f"M{at(a, r)} L{at(a, s)} A{s:g},{s:g} 0 {large} 1 {at(b, s)} L{at(b, r)} A{r:g},{r:g} 0 {large} 0 {at(a, r)} Z"
    )


def _feet(metric: str, values: tuple[float | None, float], band: tuple[float | None, float | None]) -> str:
    """Where the pressure is between the feet, the lead one on the left, or along one of them."""
    along = metric.endswith("heel_toe")
    own = 82.0 if metric.startswith("trail") else -82.0
    root, moving, parent = _drawn("between_feet" if not along else f"along_{'trail' if own > 0 else 'lead'}")

    def place(v: float) -> tuple[float, float]:
        return (own, 110.0 - 2.2 * v) if along else (82.0 - 1.64 * v, 0.0)

    def put(part: ET.Element, v: float) -> None:
        part.set("cx", f"{place(v)[0]:.1f}")
        part.set("cy", f"{place(v)[1]:.1f}")

    root.set("viewBox", SOLES)
    before, after = values
    put(moving, after)
    if before is not None:
        ghost = ET.Element("circle", {"r": "17", **BEFORE})
        put(ghost, before)
        parent.append(ghost)
    low, high = band
    if low is not None and high is not None:
        (x0, y0), (x1, y1) = place(low), place(high)
        size = (30.0, max(3.0, y0 - y1)) if along else (max(3.0, x0 - x1), 64.0)
        corner = (own - 15.0, y1) if along else (x1, -32.0)
        at = {"x": f"{corner[0]:.1f}", "y": f"{corner[1]:.1f}", "width": f"{size[0]:.1f}", "height": f"{size[1]:.1f}"}
        parent.insert(list(parent).index(moving), ET.Element("rect", {**at, **BAND}))
    return _text(root)


def _rule(values: tuple[float | None, float], band: tuple[float | None, float | None], *, upright: bool) -> str:
    """How far something went, on a rule in centimetres."""
    known = [abs(v) + 3.0 for v in (*values, *band) if v is not None]
    far = max(FARTHEST, *known)

    def x(v: float) -> float:
        return 140.0 * v / far

    root = ET.Element("svg", {"viewBox": WHOLE if upright else "-160 -72 320 150"})
    turned = ET.SubElement(root, "g", {"transform": "rotate(-90)" if upright else "rotate(0)"})
    inner = ET.SubElement(turned, "g", {"transform": "translate(0,20)"})
    low, high = band
    if low is not None and high is not None:
        at = {"x": f"{x(low):.1f}", "y": "-34", "width": f"{max(3.0, x(high) - x(low)):.1f}", "height": "54"}
        ET.SubElement(inner, "rect", {**at, **BAND})
    ET.SubElement(inner, "path", {"d": "M-150,20 H150", "stroke": INK, "stroke-width": "3"})
    for k in range(-int(far // 5), int(far // 5) + 1):
        end, width = ("42", "4") if k == 0 else ("32", "2")
        ET.SubElement(inner, "path", {"d": f"M{x(5 * k):.1f},20 V{end}", "stroke": INK, "stroke-width": width})
    before, after = values
    solid = {"fill": "#ffffff", "stroke": INK, "stroke-width": "4.5"}
    for v, look in ((before, BEFORE), (after, solid)):
        if v is not None:
            ET.SubElement(inner, "circle", {"cx": f"{x(v):.1f}", "cy": "-14", "r": "24", **look})
    return _text(root)


def _text(root: ET.Element) -> str:
    for part in root.iter():
        part.attrib.pop("data-moves", None)
    return ET.tostring(root, encoding="unicode")
