"""The catalogue as a response."""

from __future__ import annotations

from finearc.api import models as m
from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.drills import Drill
from finearc.core.judging.words import trainer_band_words
from finearc.core.metrics.registry import ALL
from finearc.golfer.putting.scenarios import PUTTING
from finearc.golfer.scenarios import SCENARIOS
from finearc.services.judging.analysis import ENGINE
from finearc.services.lesson.wording import leading
from finearc.wording import tr


def measures() -> list[m.MetricInfo]:
    """Every measure with its names and its unit."""
    return [
        m.MetricInfo(
            id=x.id,
            label=x.label,
            plain_label=x.plain_label,
            unit=x.unit.value,
            family=x.family.value,
            positive=x.positive,
            negative=x.negative,
            plain_positive=x.plain_positive,
            plain_negative=x.plain_negative,
            explained=x.explained,
            decimals=x.decimals,
            told_to=x.told_to,
            needs=x.needs,
            shown_as=x.shown_as,
            trained=x.trained,
        )
        for x in ALL
    ]


def catalogue(rule_set: RuleSet) -> m.Catalogue:
    """All that the interface needs to speak: one source, with the academy's own findings and drills."""
    return m.Catalogue(
        metrics=measures(),
        clubs=[m.ClubInfo(id=k, label=c.label) for k, c in library.clubs().items()],
        schools=[
            m.SchoolInfo(
                axis=axis,
                label=s.label,
                seen_by=s.seen_by,
                noun=s.noun,
                shot=s.shot,
                options=[m.SchoolOptionInfo(id=o.id, label=o.label, explained=o.explained) for o in s.options],
            )
            for axis, s in library.schools().items()
        ],
        findings=[
            m.FindingInfo(
                id=f.id,
                label=f.label,
                plain_label=f.plain_label,
                phase=f.phase,
                tends=f.tends,
                note=f.note,
                drills=list(f.drills),
                metric=leading(f.when, rule_set.ranges)[0],
                moment=leading(f.when, rule_set.ranges)[1],
                own=f.own,
            )
            for f in rule_set.rules
        ],
        drills=[drill_info(d) for d in rule_set.drills.values()],
        scenarios=[
            *(_scenario(k, s.about, putts=False) for k, s in SCENARIOS.items() if s.styles),
            *(_scenario(k, s.about, putts=True) for k, s in PUTTING.items()),
        ],
        limit_areas=[
            m.LimitArea(area=a.area, movements=[*a.movements, "any"], sided=a.sided) for a in library.limit_areas()
        ],
        benchmarks=rule_set.ranges.version,
        engine=ENGINE,
    )


def drill_info(d: Drill) -> m.DrillInfo:
    return m.DrillInfo(
        id=d.id,
        label=d.label,
        aim=d.aim,
        how=d.how,
        feel=d.feel,
        equipment=d.equipment,
        dose=d.dose,
        caution=d.caution,
        band=trainer_band_words(d.band) if d.band else "",
        plain_band=trainer_band_words(d.band, plain=True) if d.band else "",
        picture=d.picture,
        own=d.own,
    )


def _scenario(key: str, about: str, *, putts: bool) -> m.ScenarioInfo:
    return m.ScenarioInfo(id=key, label=tr(key.replace("-", " ")), about=tr(about), putts=putts)
