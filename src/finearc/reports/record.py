"""The fuller record of a lesson for the instructor: everything that was captured, measured, found and decided."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from statistics import median, stdev
from typing import Any
from uuid import UUID

from finearc.catalogue import library
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import PER_SI, Moment
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import moment_words, place_words, spread_in_words
from finearc.reports.voice import Voice
from finearc.services.lesson.documents import CalibrationOut, SummaryOut
from finearc.services.lesson.pages import BlockRead, LessonRead, SwingRead, lesson_page
from finearc.services.lesson.summary import counts
from finearc.services.people.clock import clock_of
from finearc.services.ports import UnitOfWork
from finearc.services.records import MovementLimit, Recording, Swing
from finearc.wording import day_words, mark, time_words, tr

KINDS = {
    "normal": mark("counts"),
    "test": mark("test"),
    "warm_up": mark("warm-up"),
    "drill": mark("drill"),
    "no_ball": mark("no ball"),
    "discard": mark("discarded"),
}
BALL = {
    "lead": "{lead}",
    "trail": "{trail}",
    "straight": mark("straight"),
    "": "",
}
VERDICTS = {
    Verdict.IN_RANGE: mark("inside"),
    Verdict.EDGE_LOW: mark("at the edge"),
    Verdict.EDGE_HIGH: mark("at the edge"),
    Verdict.LOW: mark("outside"),
    Verdict.HIGH: mark("outside"),
    Verdict.NOT_JUDGED: mark("not judged"),
}


def record_of(uow: UnitOfWork, lesson_id: UUID) -> dict[str, Any]:
    """The content of the record. It names pain and limits: it is the instructor's own. Raises ``NotFound``."""
    read = lesson_page(uow, lesson_id)
    lesson, player = read.head.lesson, read.head.player
    voice, began = Voice.of(player), lesson.starts_at.astimezone(clock_of(uow))
    said = [s for s in read.summaries if s.counting or s.findings]
    return {
        "kind": "record",
        "player": player.name or tr("Player"),
        "instructor": read.head.instructor,
        "day": ", ".join((day_words(began, "full"), time_words(began))),
        "about": [
            f"{player.handedness}-handed",
            player.population,
            *([tr("{value:.0f} cm", value=100 * player.height_m)] if player.height_m else []),
        ],
        "schools": _schools(read.schools),
        "benchmarks": lesson.benchmarks or read.rule_set.ranges.version,
        "limits": [_limit(x) for x in read.head.limits],
        "pain": lesson.pain,
        "pain_note": lesson.pain_note,
        "note": lesson.note,
        "next": day_words(lesson.next_date, "full") if lesson.next_date else "",
        "recordings": [_recording(r) for r in read.recordings],
        "swings": [_swing(r.swing, left_handed=voice.left_handed) for r in read.swings],
        "plan": [
            {
                "label": p.priority.label,
                "drill": p.drill_label,
                "why": p.priority.why,
                "override": p.priority.override_reason,
            }
            for p in read.priorities
        ],
        "clubs": [_club(read, s, voice) for s in said],
        "blocks": [_block(b, read) for b in read.blocks],
    }


def _schools(chosen: Mapping[str, str]) -> list[str]:
    known = library.schools()
    return [
        f"{known[k].label}: {next((o.label for o in known[k].options if o.id == v), v)}"
        for k, v in chosen.items()
        if k in known
    ]


def _limit(x: MovementLimit) -> str:
    size = f" {x.comfortable:.0f}°" if x.comfortable else ""
    return " ".join(t for t in (x.side, x.area, x.movement) if t) + size


def _recording(r: Recording) -> dict[str, Any]:
    c = CalibrationOut.model_validate(r.calibration) if r.calibration else CalibrationOut()
    return {
        "number": r.number,
        "segments": ", ".join(s.replace("_", " ") for s in r.segments),
        "calibration": c.refused or c.sentence,
        "notes": [n for n in (*c.notes, *r.warnings) if n != c.sentence],
    }


def _swing(s: Swing, *, left_handed: bool) -> dict[str, Any]:
    sides = {"lead": "right" if left_handed else "left", "trail": "left" if left_handed else "right"}
    moved = sorted(s.checkpoints_corrected)
    return {
        "number": s.number,
        "kind": s.discard_reason or tr(KINDS.get(s.kind, s.kind)),
        "club": library.clubs()[s.club].label if s.club in library.clubs() else s.club,
        "ball": ", ".join(t for t in (BALL.get(v, v).format(**sides) for v in (s.ball_start, s.ball_curve)) if t),
        "strike": s.strike,
        "noted": ", ".join(
            [
                *s.tags,
                *([tr("sensor moved")] if s.sensor_moved else []),
                *([tr("moved by hand: {value}", value=", ".join(moment_words(k) for k in moved))] if moved else []),
            ]
        ),
    }


def _club(read: LessonRead, said: SummaryOut, voice: Voice) -> dict[str, Any]:
    counting = [r for r in read.swings if r.swing.club == said.club and counts(r.swing)]
    return {
        "label": library.clubs()[said.club].label if said.club in library.clubs() else said.club,
        "counting": said.counting,
        "flight": voice.say(", ".join(said.flight.words)),
        "findings": [
            {
                "label": f.label,
                "status": f.status,
                "role": tr("a cause") if f.role == "root" else tr("follows from another"),
                "shown": tr("{shown} of {assessed}", shown=f.shown, assessed=f.assessed),
                "severity": f"{f.severity:.2f}",
                "confidence": f"{100 * f.confidence:.0f} %",
                "evidence": [voice.say(e.sentence) for e in f.evidence],
            }
            for f in said.findings
        ],
        "not_assessed": [{"label": n.label, "reason": n.reason} for n in said.not_assessed],
        "values": _values(counting, voice),
    }


def _values(counting: Sequence[SwingRead], voice: Voice) -> list[dict[str, str]]:
    """Every judged value over the counting swings: middle, scatter, uncertainty, band, and where it lay."""
    found: dict[tuple[str, str], list[Judged]] = {}
    for r in counting:
        for key, j in (r.judgement.judged if r.judgement is not None else {}).items():
            if j.range is not None:
                found.setdefault(key, []).append(j)
    return [_value(moment, js, voice) for (_, moment), js in found.items()]


def _value(moment: str, judged: Sequence[Judged], voice: Voice) -> dict[str, str]:
    metric, last = judged[0].measured.metric, judged[-1]
    values = [j.measured.value for j in judged]
    places = [tr(VERDICTS[j.verdict]) for j in judged]
    band = limits_in_words(metric, last.low, last.high, plain=False, change=Moment(moment).is_change)
    return {
        "what": f"{metric.label}{place_words(moment)}",
        "median": _standard(voice, judged[0], median(values)),
        "scatter": f"± {spread_in_words(metric, stdev(values))}" if len(values) > 2 else "",
        "uncertainty": f"± {spread_in_words(metric, last.measured.uncertainty)}",
        "band": voice.say(band) if last.low is not None or last.high is not None else "",
        "places": ", ".join(f"{places.count(p)} {p}" for p in dict.fromkeys(places)),
        "source": last.measured.source.value,
        "range": last.range.id if last.range is not None else "",
    }


def _standard(voice: Voice, judged: Judged, value_si: float) -> str:
    """In the trade's words, whatever the player's are."""
    trade = Voice(voice.left_handed, plain=False)
    return trade.value(judged.measured.metric, judged.measured.moment.key, value_si)


def _block(b: BlockRead, read: LessonRead) -> dict[str, Any]:
    drill = read.rule_set.drills.get(b.block.drill)
    change = b.change.change if b.change is not None else None
    interval = ""
    if change is not None and change.ci95 is not None:
        metric = BY_ID[b.block.metric]
        per = PER_SI[metric.unit]
        low, high = (metric.at_edge(v / per) for v in change.ci95)
        interval = tr(
            "{low} to {high} {value}",
            low=f"{low:.{metric.decimals}f}",
            high=f"{high:.{metric.decimals}f}",
            value=metric.unit.value,
        )
    return {
        "kind": b.block.kind,
        "drill": drill.label if drill is not None else "",
        "swings": b.swings,
        "sentence": b.change.sentence if b.change is not None else "",
        "interval": interval,
    }
