"""The one sentence of a swing."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from finearc.core.judging.findings import PHASES
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.judging.words import fill
from finearc.core.metrics.registry import LEAD_WRIST_EXTENSION
from finearc.core.metrics.words import place_words
from finearc.services.lesson import documents as m
from finearc.services.records import Swing
from finearc.wording import mark, tr

STANDS_OUT = 0.12
"""Below this severity a finding is spoken of only when there is nothing stronger (house value)."""
NOTHING = mark("Nothing to change here.")
ONLY_SHOWN = mark("The pattern is shown; no range applies here, so nothing is judged.")
MOVED_SAID = mark("The sensor may have moved: calibrate again.")


def headline_of(swing: Swing, findings: Sequence[m.FindingOut], values: Iterable[Judged]) -> m.Headline:
    """The one sentence of a swing: the first root finding in the order of the swing that stands out."""
    if swing.sensor_moved:
        return m.Headline(
            text=tr(MOVED_SAID),
            plain_text=tr(MOVED_SAID),
            tends=tr("Until then this swing's angles are not judged."),
            player_text=tr(MOVED_SAID),
            finding=None,
            metric=LEAD_WRIST_EXTENSION.id,
            moment="address",
        )
    if findings:
        roots = [f for f in findings if f.role == "root"] or list(findings)
        strong = [f for f in roots if f.severity >= STANDS_OUT]
        f = min(strong or roots, key=lambda x: (PHASES.index(x.phase), -x.severity))
        fits = tr(" It fits with the ball flight: {fits}.", fits=", ".join(f.fits)) if f.fits else ""
        return m.Headline(
            text=f.says,
            plain_text=f.plain_says,
            tends=f.tends + fits,
            player_text=f.player_says,
            finding=f.finding,
            metric=f.metric,
            moment=f.moment.split("..")[-1],
        )
    values = list(values)
    outside = [v for v in values if v.verdict in (Verdict.LOW, Verdict.HIGH)]
    if outside:
        return _outside(max(outside, key=lambda v: v.severity))
    judged = any(v.verdict is not Verdict.NOT_JUDGED for v in values)
    text = tr(NOTHING) if judged else tr(ONLY_SHOWN)
    return m.Headline(
        text=text,
        plain_text=text,
        tends=tr("Keep this.") if judged else "",
        player_text=text,
        finding=None,
        metric=_first_shown(values),
        moment="top",
    )


def _outside(lead: Judged) -> m.Headline:
    """A value outside its band that no finding speaks of: said as it is, neither a fault nor fine."""
    metric, moment = lead.measured.metric, lead.measured.moment.key

    def say(rest: str, *, plain: bool) -> str:
        name = metric.plain_label if plain else metric.label
        return f"{name}{place_words(moment)}: {fill(rest, lead, plain=plain)}"

    told = tr("{value}, {over} {past} than the band.")
    return m.Headline(
        text=say(told, plain=False),
        plain_text=say(told, plain=True),
        tends=tr("No finding goes with it; look whether it matters."),
        player_text=say("{value}.", plain=True),
        finding=None,
        metric=metric.id,
        moment=moment.split("..")[-1],
    )


def _first_shown(values: Iterable[Judged]) -> str:
    """What to look at when nothing stands out: the wrist, else the turn of the upper body, else what there is."""
    known = {v.measured.metric.id for v in values if v.measured.moment.key == "top"}
    wanted = (LEAD_WRIST_EXTENSION.id, "thorax_turn", "pelvis_turn", "shaft_elevation")
    return next((k for k in wanted if k in known), LEAD_WRIST_EXTENSION.id)
