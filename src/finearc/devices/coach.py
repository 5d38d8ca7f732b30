"""The trainer of a running block as a take uses it, and what screens are told: values in each measure's own unit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

import numpy as np

from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.sources.figure import Figure
from finearc.core.training.bands import Band
from finearc.core.training.showing import Shown
from finearc.core.training.success import ladder_of, runs_of
from finearc.core.training.trainer import Decision, Repetition, Trainer
from finearc.services.lesson.training import BandAt, TrainingKept, kept_of, repetition_kept, trainer_of

Message = dict[str, Any]


@dataclass
class Coach:
    """``block_id``: of the drill or test that is trained; ``kept``: what is written down of it."""

    block_id: UUID
    kept: TrainingKept
    trainer: Trainer

    @classmethod
    def of(cls, block_id: UUID, kept: TrainingKept, *, test: bool) -> Coach:
        """As it goes on from what is kept."""
        return cls(block_id, kept, trainer_of(kept, test=test))

    def standing(self) -> Message:
        """What holds until the next repetition has ended."""
        trainer = self.trainer
        return {
            "block_id": str(self.block_id),
            "metric": trainer.band.metric.id,
            "phase": trainer.band.phase.value,
            "test": trainer.test,
            "speaks": trainer.speaks,
            "every": 0 if trainer.test else (trainer.fading.every if trainer.fades else 1),
            "width": round(trainer.width.share, 3),
            "locked": trainer.width.locked,
            "relative": trainer.band.relative or trainer.band.above_address is not None,
            "repetitions": [r.model_dump(mode="json") for r in self.kept.repetitions[-40:]],
            **_limits(trainer.now),
            **self._counts(),
        }

    def _counts(self) -> Message:
        runs = runs_of([r.good for r in self.kept.repetitions])
        ladder = ladder_of([(r.speed, r.good) for r in self.kept.repetitions])
        return {
            "made": runs.made,
            "good": runs.good,
            "run": runs.current,
            "best": runs.best,
            "ladder": [{"rung": r.name, "made": r.made, "good": r.good} for r in ladder],
        }

    def told(self, decision: Decision) -> Message:
        """The newest decision."""
        per = PER_SI[self.trainer.band.metric.unit]
        return {
            "at": round(decision.time_s, 4),
            "value": round(per * decision.value, 2),
            "inside": decision.inside,
            "error": round(per * decision.error, 2),
            "speaks": decision.speaks,
            **_limits(self.trainer.now),
        }

    def note(self, made: Repetition) -> Message:
        """A repetition that has ended, as screens are told; what is kept of it is written elsewhere."""
        told = repetition_kept(made, self.trainer.band.metric)
        self.kept.repetitions.append(told)
        return {"type": "repetition", **told.model_dump(mode="json")}


def _limits(band: Band) -> Message:
    per = PER_SI[band.metric.unit]
    return {
        "low": None if band.low is None else round(per * band.low, 2),
        "high": None if band.high is None else round(per * band.high, 2),
    }


def told_of(shown: Shown, phase: str) -> Message:
    """What a screen shows now."""
    return {
        "t": round(shown.time_s, 4),
        "phase": phase,
        "along": round(shown.along, 4),
        "still": shown.still,
        "values": {k.id: [_in_unit(k, v), _in_unit(k, sd)] for k, (v, sd) in shown.values.items()},
        "settled": {k.id: [_in_unit(k, s.value), _in_unit(k, s.spread)] for k, s in shown.settled.items()},
    }


def bands_told(found: Sequence[BandAt]) -> list[Message]:
    """The ranges in force, each at its checkpoint, in their measures' units."""
    out = []
    for one in found:
        kept = kept_of(one.band, "")
        out.append(
            {"metric": kept.metric, "at": one.at.value, "low": kept.low, "high": kept.high, "relative": kept.relative}
        )
    return out


def figure_told(figure: Figure | None) -> Message:
    """The figure as it stands now: places of its joints, m, bay axes of a right-hander, and which parts are
    measured."""
    if figure is None:
        return {}
    points = {k: [round(float(v), 3) for v in p[0]] for k, p in figure.points.items() if np.isfinite(p).all()}
    measured = sorted(part.value for part in figure.measured)
    return {"figure": {"points": points, "measured": measured, "placed": figure.placed}}


def _in_unit(metric: Metric, value: float) -> float:
    return round(PER_SI[metric.unit] * value, 2)
