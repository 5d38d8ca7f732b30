"""Every text of the catalogue that is said to somebody: what translators are given beside the texts of the code."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from finearc.catalogue import library, rule_set
from finearc.catalogue.markers import meanings
from finearc.catalogue.pictures import pictures
from finearc.core.judging.flight import TOLD
from finearc.core.metrics.definition import WHOLE_SWING, Chart, Moment, Source
from finearc.core.metrics.groups import GROUPS, SEQUENCE
from finearc.core.metrics.registry import ALL
from finearc.core.metrics.words import moment_parts
from finearc.core.signals.streams import Segment
from finearc.wording import texts_of


def data_texts() -> Mapping[str, str]:
    """Each text, and of what it is."""
    found: dict[str, str] = {}
    for of, text in _all():
        found.setdefault(text, of)
    return found


def _all() -> Iterator[tuple[str, str]]:
    yield from _measures()
    yield from _judging()
    for name, school in library.schools().items():
        yield from ((f"school {name}", t) for one in (school, *school.options) for t in texts_of(one))
    yield from (("clubs", t) for club in library.clubs().values() for t in texts_of(club))
    yield from (("pieces of a putt", t) for piece in library.putting_pieces() for t in texts_of(piece))
    yield from (("pictures", p.label) for p in pictures().values())
    yield from (("markers", text) for text in meanings().values())
    yield from (("parts", segment.value.replace("_", " ")) for segment in Segment)
    for area in library.limit_areas():
        yield from (("limits", t) for t in (area.area, *area.movements))


def _measures() -> Iterator[tuple[str, str]]:
    for metric in ALL:
        yield from ((f"measure {metric.id}", t) for t in texts_of(metric))
        if isinstance(metric.shown, Chart):
            yield from ((f"measure {metric.id}", t) for t in texts_of(metric.shown))
    yield from (("measures", t) for one in (*GROUPS, *SEQUENCE) for t in texts_of(one))
    yield from (("sources", str(s)) for s in vars(Source).values() if isinstance(s, Source))
    moments = {WHOLE_SWING.key, *(Moment(k).key for k in library.MOMENTS)}
    yield from (("moments", part) for key in sorted(moments) for part in moment_parts(key))


def _judging() -> Iterator[tuple[str, str]]:
    rules = rule_set.built_in()
    for finding in rules.rules:
        yield from ((f"finding {finding.id}", t) for t in (*texts_of(finding), *finding.ball))
    for drill in rules.drills.values():
        yield from ((f"drill {drill.id}", t) for t in (*texts_of(drill), drill.equipment) if t)
    yield from ((f"matched set {one.id}", t) for one in rules.matched for t in texts_of(one))
    yield from ((f"range {r.id}", t) for r in rules.ranges.ranges for t in texts_of(r))
    yield from (("ball flight", t) for t in TOLD)
