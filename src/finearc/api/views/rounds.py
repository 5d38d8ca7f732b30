"""Rounds as responses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import timedelta

import numpy as np

from finearc.api import models as m
from finearc.core.course.kinds import MotionKind
from finearc.services.course.lengthening import WAYS
from finearc.services.course.records import Round
from finearc.services.course.round_result import compared_result
from finearc.services.course.rounds import MotionRead, RoundPage


def brief_out(kept: Round, counts: Mapping[str, int]) -> m.RoundBrief:
    """A round in a list."""
    return m.RoundBrief(
        id=kept.id,
        played_at=kept.played_at,
        name=kept.name,
        shots=counts["shot"],
        practice=counts["practice"],
        putts=counts["putt"],
        other=counts["other"],
    )


def rounds_out(found: Sequence[tuple[Round, Mapping[str, int]]]) -> list[m.RoundBrief]:
    """A player's rounds."""
    return [brief_out(kept, counts) for kept, counts in found]


def round_out(page: RoundPage) -> m.RoundOut:
    """One round."""
    kinds = [x.kind for x in page.motions]
    first_s = page.motions[0].motion.at_s if page.motions else 0.0
    return m.RoundOut(
        brief=brief_out(page.round, {k.value: kinds.count(k) for k in MotionKind}),
        player_id=page.player.id,
        player_name=page.player.name,
        handedness="left" if page.player.handedness == "left" else "right",
        motions=_motions(page, first_s),
        compared=[compared_result(c) for c in page.compared],
        bands=[
            m.OwnBandOut(
                club=b.club,
                low_deg=_deg(b.low),
                middle_deg=_deg(b.middle),
                high_deg=_deg(b.high),
                n=b.n,
                kept_at=b.kept_at,
            )
            for b in page.bands
        ],
        ways=[m.LengthenOut(way=w.way, what=w.what, caution=w.caution) for w in WAYS],
        notes=list(page.notes),
    )


def _deg(rad: float) -> float:
    return round(float(np.rad2deg(rad)), 2)


def _motions(page: RoundPage, first_s: float) -> list[m.MotionOut]:
    out = []
    practised: float | None = None
    for read in page.motions:
        at = read.motion.at_s
        out.append(_motion(page, read, first_s, None if practised is None or read.kind != "shot" else at - practised))
        practised = at if read.kind is MotionKind.PRACTICE else practised
    return out


def _motion(page: RoundPage, read: MotionRead, first_s: float, since: float | None) -> m.MotionOut:
    swing, line = read.motion.swing, read.line
    meant = swing is not None and read.kind is not MotionKind.OTHER
    shown = swing if meant else None
    return m.MotionOut(
        number=read.number,
        club=read.motion.club,
        at=page.round.played_at + timedelta(seconds=read.motion.at_s - first_s),
        kind=read.kind.value,
        found=read.motion.named.kind.value,
        confidence=round(read.motion.named.confidence, 3),
        stroke=read.motion.named.stroke.value if read.motion.named.stroke is not None else None,
        struck=swing is not None and swing.impact_s is not None,
        length_deg=None if shown is None else _deg(shown.elevation),
        uncertainty_deg=None if shown is None else _deg(shown.elevation_sd),
        swept_deg=None if shown is None else _deg(shown.swept),
        back_s=None if shown is None else round(shown.back_s, 3),
        down_s=None if shown is None else round(shown.down_s, 3),
        tempo=None if shown is None else round(shown.tempo, 2),
        peak_deg_s=None if shown is None else _deg(shown.peak_rad_s),
        smoothness=None if shown is None or shown.smoothness is None else round(shown.smoothness, 2),
        since_practice_s=None if since is None else round(since, 1),
        hole=None if line is None else line.hole,
        pressure=None if line is None else line.pressure,
        result="" if line is None else line.result,
        sides={what.value: second for what, second in page.sides.get(read.number, {}).items()},
    )
