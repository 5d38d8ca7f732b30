"""The setup answer of a still player: one question, one answer, one instruction."""

from __future__ import annotations

from collections.abc import Sequence

from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.registry import (
    BY_ID,
    HIPS_OVER_ANKLES,
    LEAD_HEEL_TOE,
    LEAD_SHARE,
    LEAD_WRIST_EXTENSION,
    PELVIS_FORWARD_BEND,
    PELVIS_TURN,
    POSTURE_FROM_GROUND,
    THORAX_TURN,
    TRAIL_HEEL_TOE,
)
from finearc.services.lesson import documents as m
from finearc.services.lesson.wording import finding_out, metric_value
from finearc.wording import mark, tr

QUESTIONS: dict[Metric, str] = {
    THORAX_TURN: mark("Where do the shoulders aim?"),
    PELVIS_TURN: mark("Where do the hips aim?"),
    PELVIS_FORWARD_BEND: mark("How is the pelvis tilted?"),
    POSTURE_FROM_GROUND: mark("How does the player bend to the ball?"),
    LEAD_SHARE: mark("How is the weight on the feet?"),
    LEAD_HEEL_TOE: mark("Where is the weight along the feet?"),
    TRAIL_HEEL_TOE: mark("Where is the weight along the feet?"),
    HIPS_OVER_ANKLES: mark("Where do the hips stand over the feet?"),
    LEAD_WRIST_EXTENSION: mark("How does the grip show in the wrist?"),
}
"""In the order in which they are asked."""
LOW, HIGH = (Verdict.LOW.value, Verdict.EDGE_LOW.value), (Verdict.HIGH.value, Verdict.EDGE_HIGH.value)


def setup_answer(judged: Sequence[Judged], rule_set: RuleSet, warnings: Sequence[str]) -> m.SetupOut | None:
    """The setup answer of a still capture: the first finding about the address, else the first value that is judged;
    None when nothing was measured. ``warnings`` of the recording put it in doubt."""
    if not judged:
        return None
    told = [metric_value(j) for j in judged]
    findings, _ = rule_set.find([Evidence.of(judged, {})])
    about = [finding_out(f, rule_set.ranges) for f in findings if f.rule.phase == "setup" and f.rule.setup_answer]
    if about:
        return _from_finding(about[0], told, rule_set)
    known = {v.metric: v for v in told}
    asked = [known[q.id] for q in QUESTIONS if q.id in known]
    out = [v for v in asked if v.verdict not in (Verdict.IN_RANGE.value, Verdict.NOT_JUDGED.value)]
    wrist = [v for v in asked if v.metric == LEAD_WRIST_EXTENSION.id]
    return _from_value((out or wrist or asked or told)[0], told, warnings)


def _from_finding(finding: m.FindingOut, told: list[m.MetricValue], rule_set: RuleSet) -> m.SetupOut:
    drill = next((rule_set.drills[d] for d in finding.drills if d in rule_set.drills), None)
    return m.SetupOut(
        question=QUESTIONS.get(BY_ID[finding.metric], tr("How does the player stand?")),
        answer=finding.says,
        plain_answer=finding.plain_says,
        instruction=drill.how if drill else finding.tends,
        good=False,
        metric=finding.metric,
        values=told,
    )


def _from_value(value: m.MetricValue, told: list[m.MetricValue], warnings: Sequence[str]) -> m.SetupOut:
    metric = BY_ID[value.metric]
    subject = tr("wrist is") if metric is LEAD_WRIST_EXTENSION else f"{metric.label.lower()}:"
    plain = tr("wrist is") if metric is LEAD_WRIST_EXTENSION else f"{metric.plain_label.lower()}:"
    judged = value.verdict != Verdict.NOT_JUDGED.value
    return m.SetupOut(
        question=QUESTIONS.get(metric, tr("How does the player stand?")),
        answer=tr("The {subject} {words} at address.", subject=subject, words=value.words),
        plain_answer=tr("The {plain} {value} at address.", plain=plain, value=value.plain_words or value.words),
        instruction=_instruction(value, metric) if judged else _unjudged(value, warnings),
        good=value.verdict == Verdict.IN_RANGE.value if judged else not warnings,
        metric=value.metric,
        values=told,
    )


def _unjudged(value: m.MetricValue, warnings: Sequence[str]) -> str:
    if warnings:
        return warnings[0]
    return value.not_judged_reason or tr("No range applies here: look, and go on.")


def _instruction(value: m.MetricValue, metric: Metric) -> str:
    if value.verdict == Verdict.IN_RANGE.value:
        return tr("Keep this. Ready to swing.")
    if metric is LEAD_WRIST_EXTENSION and value.verdict in LOW:
        return tr("The grip may sit more in the palm; look. Hand size moves this value.")
    if metric is LEAD_WRIST_EXTENSION and value.verdict in HIGH:
        return tr("The grip may sit far in the fingers or be turned strong; look.")
    return tr("The band is {value}. Look, and stand again.", value=value.band.words if value.band else "")
