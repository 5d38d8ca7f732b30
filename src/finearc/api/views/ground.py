"""The ground of a swing as a response."""

from __future__ import annotations

from collections.abc import Mapping

from finearc.api.models import ground as g
from finearc.catalogue import library
from finearc.catalogue.wording import provenance_words
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import STANCE_POSITION
from finearc.services.capture.raw import has_own_clock
from finearc.services.comparing.ground_reference import references
from finearc.services.record.document import SwingJudgement, SwingRecord
from finearc.services.records import Recording, Swing
from finearc.wording import anew


def ground_out(
    swing: Swing, record: SwingRecord, judgement: SwingJudgement, recording: Recording
) -> g.GroundOut | None:
    """What is known about the ground, or None when it was not recorded."""
    known = record.ground
    if known is None:
        return None
    real, offset = known.real, known.offset
    return g.GroundOut(
        source=known.source,
        feet=[
            g.FootOut(
                side="lead" if f.side == "lead" else "trail",
                heel=list(f.heel),
                toe=list(f.toe),
                width=f.width,
                partly_off=f.partly_off,
            )
            for f in known.feet
        ],
        split_m=known.split_m,
        split_by_hand=known.split_by_hand,
        moments=[g.MomentOut(name=k, time_s=v.time_s, uncertainty_s=v.uncertainty_s) for k, v in known.moments.items()],
        sentence=anew(known.sentence),
        no_sentence=anew(known.no_sentence),
        guess=None if not swing.guess else g.GuessOut(side=swing.guess["side"], foot=swing.guess["foot"]),
        real=None if real is None else g.RealOut.model_validate(vars(real)),
        offset=None if offset is None else g.OffsetOut(shift_s=offset.shift_s, sd_s=offset.sd_s),
        alone=known.alone,
        recording_shift_s=recording.mat_shift_s,
        has_own_clock=has_own_clock(recording),
        bands=_bands(judgement.schools),
    )


def _bands(schools: Mapping[str, str]) -> list[g.SchoolBand]:
    labels = {o.id: o.label for o in library.schools()["pressure"].options}
    chosen = schools.get("pressure", next(iter(labels)))
    per = PER_SI[STANCE_POSITION.unit]
    return [
        g.SchoolBand(
            school=r.school[1],
            label=labels[r.school[1]],
            low=per * (r.low or 0.0),
            high=per * (r.high or 0.0),
            chosen=r.school[1] == chosen,
            provenance=provenance_words(r.provenance, r.source),
            note=r.note,
        )
        for r in library.ranges().ranges
        if r.metric is STANCE_POSITION and r.school is not None
    ]


def references_out() -> list[g.GroundReference]:
    """Skilled courses, one for each school."""
    labels = {o.id: o.label for o in library.schools()["pressure"].options}

    def rounded(values: object) -> list[float]:
        return [round(float(v), 2) for v in values]  # type: ignore[attr-defined]

    return [
        g.GroundReference(
            school=r.school,
            label=labels[r.school],
            phase=rounded(r.phase),
            **{name: rounded(course) for name, course in r.courses.items()},
        )
        for r in references()
    ]
