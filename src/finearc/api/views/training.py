"""Training as it is told to screens."""

from __future__ import annotations

from typing import Any

from finearc.api import models as m
from finearc.core.training.success import EVERY, runs_of
from finearc.services.lesson.retention import Retained
from finearc.services.lesson.training import BandAt, Offer, band_kept, kept_of, one_line, training_of, words_of
from finearc.services.records import Block


def offer_out(o: Offer, practice: str = "") -> m.OfferOut:
    """A band that can be trained."""
    kept = kept_of(o.band, o.label)
    return m.OfferOut(
        source=o.source,
        label=o.label,
        words=words_of(o.band, plain=False),
        plain_words=words_of(o.band, plain=True),
        metric=kept.metric,
        low=kept.low,
        high=kept.high,
        phase=kept.phase,
        relative=kept.relative,
        above_address=kept.above_address,
        finding=o.finding,
        drill=o.drill,
        practice=practice,
    )


def band_at_out(found: BandAt) -> m.BandAtOut:
    """A range in force, in its measure's unit."""
    kept = kept_of(found.band, "")
    return m.BandAtOut(metric=kept.metric, at=found.at.value, low=kept.low, high=kept.high, relative=kept.relative)


def retention_out(found: Retained | None) -> m.RetentionOut | None:
    """What is left of the last lesson's change."""
    if found is None:
        return None
    return m.RetentionOut(left=found.found.left.value, line=found.line(plain=False), plain_line=found.line(plain=True))


def training_out(block: Block, real: str) -> m.TrainingOut:
    """A block's training; ``real``: whether its swings differ from those before, in words."""
    kept = training_of(block)
    assert kept is not None
    band = band_kept(kept)
    kind: Any = block.kind
    runs = runs_of([r.good for r in kept.repetitions])
    return m.TrainingOut(
        block_id=block.id,
        kind=kind,
        running=block.ended_at is None,
        words=words_of(band, plain=False),
        plain_words=words_of(band, plain=True),
        every=0 if kind == "test" else (EVERY[kept.stage] if kept.fades else 1),
        line=one_line(kept, kind),
        real=real,
        made=runs.made,
        good=runs.good,
        run=runs.current,
        best=runs.best,
        drill=block.drill,
        finding=block.finding,
        club=block.club,
        **kept.model_dump(
            include={"metric", "low", "high", "phase", "relative", "told_from", "fades", "locked", "width"}
        ),
        repetitions=kept.repetitions,
    )
