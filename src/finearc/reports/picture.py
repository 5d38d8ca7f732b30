"""The picture on the page: the course of the measure that the first priority rests on, and what of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from finearc.core.metrics.definition import Metric
from finearc.core.metrics.registry import BY_ID, HINGE_HELD, LEAD_WRIST_EXTENSION, RETURN_TIME
from finearc.core.metrics.words import at_moment, in_words, moment_words, place_words
from finearc.core.typing import Array
from finearc.reports.voice import Voice
from finearc.services.lesson.documents import FindingOut
from finearc.services.lesson.pages import SwingRead, traces_with_bands
from finearc.services.ports import UnitOfWork
from finearc.wording import tr

WIDTH, HEIGHT = 520.0, 170.0
CHECKPOINTS = ("address", "shaft_level_back", "top", "impact")


@dataclass(frozen=True)
class RestsOn:
    """Instants (s) between which the priority's value is told, the same twice where it stands for itself; and the value
    in words. ``band_s``: instants between which a time should lie."""

    from_s: float
    to_s: float
    words: str
    band_s: tuple[float, float] | None = None


def picture(
    uow: UnitOfWork, swings: Sequence[SwingRead], lead: FindingOut | None, voice: Voice
) -> dict[str, Any] | None:
    """The latest of the counting ``swings`` that shows the lead finding: the trace it is seen in with its band, and
    what it rests on, as SVG points. Without a finding the lead wrist; None where nothing is drawn over time."""
    shown = shown_swing(swings, lead)
    if shown is None:
        return None
    number, columns = traces_with_bands(uow, shown.swing.id)
    metric = BY_ID[lead.metric] if lead is not None else LEAD_WRIST_EXTENSION
    key = metric.id if metric.id in columns else metric.shown_as
    if key not in columns or "takeaway" not in shown.checkpoints or "impact" not in shown.checkpoints:
        return None
    rests = None if lead is None else rests_on(shown, metric, lead.moment, columns, key, voice)
    made = drawn(columns, key, shown.checkpoints, rests, voice)
    told = {k: voice.say(made[k]) for k in ("what", "ways", "rests_words")}
    says = tr(
        "Course of {value} from takeaway to impact{value2}",
        value=told["what"].lower(),
        value2=tr(" with its band") if made["band"] else "",
    )
    return {"number": number, **made, **told, "says": f"{says}. {told['rests_words']}".strip()}


def shown_swing(swings: Sequence[SwingRead], lead: FindingOut | None) -> SwingRead | None:
    """The latest of the swings that shows the lead finding, or the latest; None without any."""
    shows = [s for s in swings if lead is not None and _fires(s, lead)] or list(swings)
    return shows[-1] if shows else None


def _fires(read: SwingRead, lead: FindingOut) -> bool:
    outcome = read.judgement.outcomes.get(lead.finding) if read.judgement is not None else None
    return outcome is not None and bool(outcome.fires)


def rests_on(
    read: SwingRead, metric: Metric, moment: str, columns: Mapping[str, Array], key: str, voice: Voice
) -> RestsOn | None:
    """Where in the swing the value lies; None for one of the whole swing, and where it was not measured."""
    judged = None if read.judgement is None else read.judgement.judged.get((metric.id, moment))
    times = read.checkpoints
    start, _, end = moment.partition("..")
    if judged is None:
        return None
    value = judged.measured.value
    words = f"{voice.label(metric)}{place_words(moment)}: {at_moment(metric, moment, value, plain=voice.plain)}"
    if metric is HINGE_HELD and "arm_level_down" in times:
        return RestsOn(_highest(columns, key, times), times["arm_level_down"], words)
    if start not in times or (end and end not in times):
        return None
    if metric is RETURN_TIME:
        said = in_words(metric, value, plain=voice.plain).removesuffix(" it")
        limits = (judged.low, judged.high)
        band = None if None in limits else tuple(times[start] + limit for limit in limits if limit is not None)
        words = f"{voice.label(metric)}: {said} {moment_words(moment)}"
        return RestsOn(times[start], times[start] + value, words, band)  # type: ignore[arg-type]
    return RestsOn(times[start], times[end or start], words)


def _highest(columns: Mapping[str, Array], key: str, times: Mapping[str, float]) -> float:
    """When most of the hinge was there, s."""
    pairs = zip(columns["time_s"], columns[key], strict=True)
    inside = [(v, t) for t, v in pairs if times["takeaway"] <= t <= times["arm_level_down"] and v == v]
    return float(max(inside)[1]) if inside else times["arm_level_down"]


def drawn(
    columns: Mapping[str, Array], key: str, events: Mapping[str, float], rests: RestsOn | None, voice: Voice
) -> dict[str, Any]:
    """The trace ``key`` from takeaway to impact as SVG points, with its band, checkpoints and what is rested on."""
    shown = BY_ID[key]
    start, end = events["takeaway"] - 0.1, events["impact"] + 0.12
    times, trace = columns["time_s"], columns[key]
    values = [v for t, v in zip(times, trace, strict=True) if start <= t <= end and v == v]
    limits = [v for edge in ("low", "high") for v in columns.get(f"{key}_band_{edge}", ()) if v == v]
    reach = [0.0, *values, *limits]
    margin = 0.08 * (max(reach) - min(reach)) or 1.0
    low, high = min(reach) - margin, max(reach) + margin

    def x(t: float) -> float:
        return float(round(WIDTH * (t - start) / (end - start), 1))

    def y(v: float) -> float:
        return float(round(HEIGHT * (high - v) / (high - low), 1))

    def line(name: str) -> list[tuple[float, float]]:
        return [(x(t), y(v)) for t, v in zip(times, columns[name], strict=True) if start <= t <= end and v == v]

    def place(t: float) -> tuple[float, float] | None:
        near = min(range(len(times)), key=lambda k: abs(times[k] - t))
        return (x(t), y(trace[near])) if trace[near] == trace[near] else None

    band: list[tuple[float, float]] = []
    if f"{key}_band_low" in columns:
        band = line(f"{key}_band_high") + line(f"{key}_band_low")[::-1]
    instants = [] if rests is None else list(dict.fromkeys((rests.from_s, rests.to_s)))
    ends = [p for t in instants if (p := place(t)) is not None]
    return {
        "width": WIDTH,
        "height": HEIGHT,
        "what": voice.label(shown),
        "ways": _ways(shown, plain=voice.plain),
        "line": _points(line(key)),
        "band": _points(band),
        "flat": y(0.0),
        "rests": ends,
        "span": [x(max(start, t)) for t in rests.band_s] if rests is not None and rests.band_s is not None else [],
        "rests_words": rests.words if rests is not None and ends else "",
        "marks": [{"x": x(events[name]), "label": moment_words(name)} for name in CHECKPOINTS if name in events],
    }


def _ways(metric: Metric, *, plain: bool) -> str:
    """What up and down mean."""
    beside = metric.chart.beside if metric.chart is not None else None
    own = (metric.plain_positive, metric.plain_negative) if plain else (metric.positive, metric.negative)
    up, down = beside or own
    return " · ".join(
        f"{word} {way}" for word, way in ((up, "↑"), (down, "↓")) if word and not (way == "↓" and up == down)
    )


def _points(points: Sequence[tuple[float, float]]) -> str:
    return " ".join(f"{a},{b}" for a, b in points)
