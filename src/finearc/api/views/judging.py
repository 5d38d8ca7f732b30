"""Ranges, cohorts, references and what-ifs as responses."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from finearc.api import models as m
from finearc.catalogue import library
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.schemas import FindingEntry
from finearc.catalogue.wording import provenance_words
from finearc.core.comparing.cohort import small_sample_warning
from finearc.core.events.model import Checkpoint
from finearc.core.judging.findings import Finding
from finearc.core.judging.ranges import Range
from finearc.core.judging.schools import Closest, Fit
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.metrics.words import at_moment, moment_words, place_words, spread_in_words
from finearc.services.judging import cohorts, own_forms
from finearc.services.judging.beside import Ranges
from finearc.services.judging.what_if import VERDICT_WORDS, WhatIf
from finearc.services.lesson.summary_words import proposal_out
from finearc.services.records import BenchmarkVersion, Reference
from finearc.wording import tr, trn


def built_in_version(current: str) -> m.VersionOut:
    ranges = library.ranges()
    return m.VersionOut(
        label=ranges.version,
        name="builtin",
        number=0,
        built_in=True,
        in_use=current == ranges.version,
        retired=False,
        based_on="",
        note=tr("Ships with Fine Arc: common practice, published figures and house values, each marked."),
        made_by="",
        made_at=None,
        ranges=len(ranges.ranges),
    )


def version_out(version: BenchmarkVersion, current: str) -> m.VersionOut:
    return m.VersionOut(
        label=version.label,
        name=version.name,
        number=version.number,
        built_in=False,
        in_use=current == version.label,
        retired=version.retired_at is not None,
        based_on=version.based_on,
        note=version.note,
        made_by=version.made_by,
        made_at=version.made_at,
        ranges=len(version.entries),
    )


def versions_out(versions: Sequence[BenchmarkVersion], current: str) -> list[m.VersionOut]:
    """All versions: the built-in first, then the academy's, newest first; ``current``: label of the one in use."""
    return [built_in_version(current), *(version_out(v, current) for v in versions)]


def range_out(r: Range, ranges: RangeLibrary) -> m.RangeOut:
    per = PER_SI[r.metric.unit]
    entry = next(e for e in ranges.entries if e.id == r.id)
    return m.RangeOut(
        id=r.id,
        metric=r.metric.id,
        label=r.metric.label,
        family=r.metric.family.value,
        moment=moment_words(r.moment.key),
        moment_id=r.moment.key,
        place=_place(r),
        change=r.moment.is_change,
        club_class=(r.club_class or "").replace("_", " "),
        shot=r.shot,
        school=_school(r),
        population=r.population,
        low=None if r.low is None else round(r.low * per, 4),
        high=None if r.high is None else round(r.high * per, 4),
        soft_low=round(r.soft_low * per, 4),
        soft_high=round(r.soft_high * per, 4),
        scale=None if r.scale is None else round(r.scale * per, 4),
        unit=r.metric.unit.value,
        ways=_ways(r),
        words=range_words(r),
        leans=_leans(r),
        provenance=provenance_words(r.provenance, r.source),
        note=r.note,
        synthetic=entry.synthetic,
    )


def _place(r: Range) -> str:
    """The checkpoint by which its value is complete: the last it is read at; what comes after impact stands there."""
    last = r.moment.parts[-1]
    return next((c.value for c in Checkpoint if last.startswith(c.value)), "")


def ranges_beside_out(found: Ranges) -> m.RangesBeside:
    """Ranges beside what was measured."""
    return m.RangesBeside(
        rows=[
            m.RangeBeside(id=r.range.id, skilled=_at_edge(r.range, r.skilled), own=_at_edge(r.range, r.own))
            for r in found.rows
        ],
        synthetic=found.synthetic,
        own=found.own,
    )


def own_finding_out(entry: FindingEntry, ranges: RangeLibrary) -> m.OwnFindingOut:
    """One of the academy's own findings, as a screen asks for it."""
    condition = own_forms.condition_of(entry, ranges)
    return m.OwnFindingOut(
        **entry.model_dump(include=set(m.OwnFindingOut.model_fields) - {"shown", "together", "examples"}),
        shown=[s._asdict() for s in condition.shown] if condition else [],
        together=condition.together if condition else "all",
        examples=own_forms.examples_told(entry),
    )


def _at_edge(r: Range, values: Sequence[float]) -> list[float]:
    return [round(r.metric.at_edge(v), r.metric.decimals + 1) for v in values]


def _ways(r: Range) -> str:
    """What plus and minus stand for where limits are typed as numbers."""
    metric = r.metric
    if r.moment.is_change and metric.changes is not None:
        return f"+ {metric.changes[0]}, − {metric.changes[1]}"
    if not metric.positive or metric.positive == metric.negative:
        return ""
    more = tr("more ") if r.moment.is_change else ""
    return f"+ {more}{metric.positive}, − {more}{metric.negative}"


def _school(r: Range) -> str:
    if r.school is None:
        return ""
    return next(o.label for o in library.schools()[r.school[0]].options if o.id == r.school[1])


def range_words(r: Range) -> str:
    """The limits in words; only an open range that leans on another value has none of its own."""
    if r.low is None and r.high is None:
        return _leans(r)
    return limits_in_words(r.metric, r.low, r.high, change=r.moment.is_change)


def _leans(r: Range) -> str:
    if r.own_best:
        base = tr("the player's own best")
    elif r.relative_to is not None:
        base = tr("the value at {moment_words}", moment_words=moment_words(r.relative_to.key))
    else:
        return ""
    said = []
    if r.low_offset is not None:
        said.append(tr("not below {base}{by}", base=base, by=_by(r, r.low_offset)))
    if r.low_share is not None:
        said.append(tr("at least {value:.0f} % of {base}", value=100 * r.low_share, base=base))
    if r.high_offset is not None:
        said.append(tr("not above {base}{by}", base=base, by=_by(r, r.high_offset)))
    return "; ".join(said)


def _by(r: Range, offset: float) -> str:
    size = spread_in_words(r.metric, offset)
    return "" if offset == 0 else f" {tr('plus') if offset > 0 else tr('minus')} {size}"


def ranges_out(version: m.VersionOut, ranges: RangeLibrary) -> m.RangesOut:
    """One version with its ranges, and the facts that are no ranges."""
    facts = [
        m.FactOut(id=f.id, about=f.about, says=f.says, provenance=provenance_words(f.provenance, f.source))
        for f in library.facts()
    ]
    return m.RangesOut(version=version, ranges=[range_out(r, ranges) for r in ranges.ranges], facts=facts)


def differences(before: RangeLibrary, after: RangeLibrary) -> list[m.EntryChange]:
    """The ranges that differ between two versions, in words."""
    ids = list(dict.fromkeys([*before.by_id, *after.by_id]))
    out = []
    for key in ids:
        a, b = before.by_id.get(key), after.by_id.get(key)
        if a == b:
            continue
        known = a or b
        assert known is not None
        label = f"{known.metric.label}{place_words(known.moment.key)}"
        out.append(m.EntryChange(id=key, label=label, before=_or_none(a), after=_or_none(b)))
    return out


def _or_none(r: Range | None) -> str:
    return tr("none") if r is None else f"{range_words(r)} ({provenance_words(r.provenance)})"


MOST_DOTS = 200
"""So many swings are drawn of a range; of more, every so many-eth in the order of size (house value)."""


def _thinned(values: Sequence[float]) -> list[float]:
    step = max(1, -(-len(values) // MOST_DOTS))
    return list(values) if step == 1 else sorted(values)[::step]


def cohort_row(row: cohorts.Row) -> m.CohortRow:
    metric, moment = row.range.metric, row.range.moment
    f = row.figures

    def edge(value: float | None) -> float | None:
        return None if value is None else round(metric.at_edge(value), metric.decimals + 1)

    return m.CohortRow(
        id=row.range.id,
        label=metric.label,
        moment=moment_words(moment.key),
        school=_school(row.range),
        swings=f.swings,
        players=f.players,
        centre=at_moment(metric, moment.key, f.centre),
        spread=spread_in_words(metric, f.spread),
        made=limits_in_words(metric, row.low, row.high, change=moment.is_change),
        now=range_words(row.range),
        warning=f.warning,
        outliers=[f"{o.swing}: {at_moment(metric, moment.key, o.value)}" for o in f.outliers],
        values=_at_edge(row.range, _thinned(row.values)),
        made_low=edge(row.low),
        made_high=edge(row.high),
        now_low=edge(row.range.low),
        now_high=edge(row.range.high),
    )


def cohort_players(found: cohorts.Found) -> list[m.CohortPlayer]:
    """The players of these swings, whether chosen or not."""
    players = {p.id: p for p, _ in found}
    counts = Counter(p.id for p, _ in found)
    return [m.CohortPlayer(id=k, name=p.name or "Walk-in", swings=counts[k]) for k, p in players.items()]


def reference_out(r: Reference) -> m.ReferenceOut:
    return m.ReferenceOut(
        id=str(r.id),
        name=r.name,
        form=r.form,
        club=r.club,
        swings=r.swings,
        players=r.players,
        synthetic=False,
        player_id=r.player_id,
        made_by=r.made_by,
        warning=small_sample_warning(r.players, r.swings) if r.form == "mean" else "",
    )


def synthetic_reference() -> m.ReferenceOut:
    swings = cohorts.synthetic()
    return m.ReferenceOut(
        id=cohorts.SYNTHETIC,
        name=cohorts.SYNTHETIC_NAME,
        form="mean",
        club="7-iron",
        swings=len(swings),
        players=len({s.player for s in swings}),
        synthetic=True,
        player_id=None,
        made_by="",
        warning=tr("Drawn by the golfer model, not measured on people."),
    )


def what_if_out(w: WhatIf) -> m.WhatIfOut:
    before, after = ({f.rule.id: f for f in t.findings} for t in (w.before, w.after))
    return m.WhatIfOut(
        nothing=w.nothing,
        counting=w.before.counting,
        verdicts=[
            m.VerdictChangeOut(
                label=BY_ID[c.metric].label,
                plain_label=BY_ID[c.metric].plain_label,
                moment=moment_words(c.moment),
                swings=c.swings,
                of=c.of,
                before=tr(VERDICT_WORDS[c.before]),
                after=tr(VERDICT_WORDS[c.after]),
                because=c.because,
            )
            for c in w.verdicts
        ],
        gone=[_brief(f) for k, f in before.items() if k not in after],
        new=[_brief(f) for k, f in after.items() if k not in before],
        before=[proposal_out(p) for p in w.before.proposals],
        after=[proposal_out(p) for p in w.after.proposals],
        versions=list(w.labels),
    )


def _brief(f: Finding) -> m.FindingBrief:
    return m.FindingBrief(finding=f.rule.id, label=f.rule.label, plain_label=f.rule.plain_label)


def closest_out(c: Closest) -> m.ClosestOut:
    school = library.schools()[c.axis]
    labels = {o.id: o.label for o in school.options}
    return m.ClosestOut(
        axis=c.axis,
        label=school.label,
        option=c.option,
        sentence=_closest_words(c, labels),
        swings=c.swings,
        options=[
            m.SchoolFitOut(
                option=option, label=labels[option], distance=distance, evidence=[_fit(f) for f in c.evidence[option]]
            )
            for option, distance in c.options
        ],
    )


def _closest_words(c: Closest, labels: dict[str, str]) -> str:
    if not c.options:
        return tr("These sensors cannot tell.")
    near: Sequence[str] = [labels[o] for o, _ in c.options[:2]]
    swings = trn("{count} swing", "{count} swings", c.swings)
    hint = tr(" Few swings: a hint only.") if c.swings < 3 else ""
    if c.option is None:
        return tr(
            "Between {value} and {value2}, over {swings}.{hint}",
            value=near[0].lower(),
            value2=near[1].lower(),
            swings=swings,
            hint=hint,
        )
    return tr("Closest to {value}, over {swings}.{hint}", value=near[0].lower(), swings=swings, hint=hint)


def _fit(f: Fit) -> str:
    metric, moment = f.range.metric, f.range.moment
    value = at_moment(metric, moment.key, f.value)
    band = limits_in_words(metric, f.low, f.high, change=moment.is_change)
    inside = tr("inside") if f.low <= f.value <= f.high else tr("outside")
    return f"{metric.label}{place_words(moment.key)}: {value}, {inside} {band} ({f.range.id})"
