"""What an academy judges by: versions of its ranges, its own findings and drills, its default schools."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from finearc.catalogue import library, schemas
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.rule_set import RuleSet, built_in, compose, read_academy_rules
from finearc.core.errors import FineArcError
from finearc.services.errors import NotFound, Refused
from finearc.services.ports import UnitOfWork
from finearc.services.records import AcademyRules, BenchmarkVersion, Lesson, OwnRules, Player, now
from finearc.wording import tr


@dataclass
class Overtaken(FineArcError):
    """Somebody saved meanwhile. Nothing is lost: what was to be saved is still with whoever tried."""

    what: str
    newest: str
    who: str
    code = "overtaken"

    def __str__(self) -> str:
        by = tr(" by {who}", who=self.who) if self.who else ""
        return tr(
            "{what}: {newest} was saved{by} in the meantime. Your changes are still on your screen: look at both, "
            "then save yours on top of it.",
            what=self.what,
            newest=self.newest,
            by=by,
        )


def academy_rules_of(uow: UnitOfWork) -> AcademyRules:
    """The academy's choices; a new academy has made none."""
    found = uow.find(AcademyRules)
    return found[0] if found else AcademyRules(uow.academy_id)


def hold_rules(uow: UnitOfWork) -> AcademyRules:
    """The academy's choices as a stored record, held against other writers."""
    if not uow.find(AcademyRules):
        uow.add(AcademyRules(uow.academy_id))
    return uow.hold(AcademyRules, uow.find(AcademyRules)[0].id)


def hold_rules_at(uow: UnitOfWork, revision: int, what: str) -> AcademyRules:
    """The same, unless somebody saved since ``revision``: then ``Overtaken``."""
    rules = hold_rules(uow)
    if revision != rules.revision:
        raise Overtaken(what, tr("revision {revision}", revision=rules.revision), "")
    return rules


def current_label(uow: UnitOfWork) -> str:
    """Label of the version in use."""
    return academy_rules_of(uow).benchmarks or library.ranges().version


def versions(uow: UnitOfWork) -> list[BenchmarkVersion]:
    """All versions of the academy, newest first."""
    return uow.find(BenchmarkVersion, order="-made_at")


def version_of(uow: UnitOfWork, label: str) -> BenchmarkVersion:
    """The academy's version of that label. Raises ``NotFound``."""
    found = next((v for v in versions(uow) if v.label == label), None)
    if found is None:
        raise NotFound(tr('benchmarks "{label}"', label=label))
    return found


def ranges_of(uow: UnitOfWork, label: str = "") -> RangeLibrary:
    """The ranges of a version; of the one in use by default. Results of an older built-in version, whose file no
    longer ships, are read with the present one."""
    label = label or current_label(uow)
    own = next((v for v in versions(uow) if v.label == label), None)
    return library.ranges() if own is None else _library(own)


_MADE: dict[Any, RangeLibrary] = {}


def _library(version: BenchmarkVersion) -> RangeLibrary:
    """A saved version never changes, so it is turned into ranges once."""
    if version.id not in _MADE:
        file = schemas.RangeFile(version=version.label, range=[schemas.RangeEntry(**e) for e in version.entries])
        if len(_MADE) > 32:
            _MADE.clear()
        _MADE[version.id] = library.range_library(file, version.label)
    return _MADE[version.id]


def own_of(uow: UnitOfWork) -> schemas.AcademyRulesFile:
    """The academy's own findings and drills as written."""
    academy_rules = academy_rules_of(uow)
    return schemas.AcademyRulesFile.model_validate({"finding": academy_rules.findings, "drill": academy_rules.drills})


def rule_set_of(
    uow: UnitOfWork, lesson: Lesson | None = None, label: str = "", rules: AcademyRules | None = None
) -> RuleSet:
    """All that a lesson is judged by: its version of the ranges, else the one in use; of a closed lesson the academy's
    findings and drills as they stood when it was closed. ``rules``: the academy's choices, where they are known."""
    kept = lesson.rules_revision if lesson is not None else None
    label = label or (lesson.benchmarks if lesson is not None else "")
    if kept is None or not label:
        rules = rules or academy_rules_of(uow)
        kept = rules.revision if kept is None else kept
        label = label or rules.benchmarks or library.ranges().version
    key = (uow.academy_id, label, kept)
    if key not in _RULE_SETS:
        if len(_RULE_SETS) > 48:
            _RULE_SETS.clear()
        _RULE_SETS[key] = _composed(ranges_of(uow, label), *_own_at(uow, kept))
    return _RULE_SETS[key]


_RULE_SETS: dict[tuple[UUID, str, int], RuleSet] = {}
"""Versions and revisions never change once saved, so each pair is put together once."""


def _own_at(uow: UnitOfWork, revision: int) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    if revision == 0:
        return [], []
    found = uow.find(OwnRules, revision=revision)
    return (found[0].findings, found[0].drills) if found else ([], [])


def _composed(
    ranges: RangeLibrary, findings: Sequence[Mapping[str, Any]], drills: Sequence[Mapping[str, Any]]
) -> RuleSet:
    if not findings and not drills and ranges is library.ranges():
        return built_in()
    return compose(ranges, schemas.AcademyRulesFile.model_validate({"finding": findings, "drill": drills}))


def save_own(uow: UnitOfWork, rules: AcademyRules) -> None:
    """The next revision of the academy's own findings and drills, kept for the lessons that are closed under it."""
    rules.revision += 1
    uow.add(OwnRules(uow.academy_id, rules.revision, list(rules.findings), list(rules.drills)))
    for key in [k for k in _RULE_SETS if k[0] == uow.academy_id and k[2] == rules.revision]:
        del _RULE_SETS[key]  # of a save that was rolled back


def close_rules(uow: UnitOfWork, lesson: Lesson, player: Player) -> None:
    """A lesson that is closed keeps ranges, findings, drills and schools of its day."""
    rules = academy_rules_of(uow)
    lesson.benchmarks = lesson.benchmarks or rules.benchmarks or library.ranges().version
    lesson.rules_revision = rules.revision
    lesson.schools = schools_of(uow, player.schools, rules)


def reopen_rules(lesson: Lesson) -> None:
    """A lesson that goes on is judged by today's findings, drills and schools again."""
    lesson.rules_revision = lesson.schools = None


def fix_version(uow: UnitOfWork, lesson: Lesson) -> None:
    """The version in use when a lesson's first swing comes is kept for the whole lesson."""
    if not lesson.benchmarks:
        lesson.benchmarks = current_label(uow)


def save_version(
    uow: UnitOfWork, name: str, base: str, entries: Sequence[Mapping[str, Any]], note: str, who: str
) -> BenchmarkVersion:
    """Save ranges as the next version of a name. ``base`` is the label that was edited; when a newer one of the same
    name has been saved since, ``Overtaken`` says so and nothing is saved. Raises ``DataFileError`` for ranges that
    cannot be."""
    hold_rules(uow)  # two savers of one name come one after the other
    name = " ".join(name.split())
    if not name:
        raise Refused(tr("the ranges need a name"), tr("Give one, such as the academy's"))
    if name.startswith("builtin"):
        raise Refused(tr("the built-in ranges are not changed"), tr("Save your copy under a name of your own"))
    same = [v for v in versions(uow) if v.name == name]
    newest = max(same, key=lambda v: v.number, default=None)
    if newest is not None and base != newest.label:
        raise Overtaken(name, newest.label, newest.made_by)
    number = 1 if newest is None else newest.number + 1
    text = {"version": f"{name} {number}", "range": list(entries)}
    made = library.ranges_of_dict(text, name)
    kept = [e.model_dump(mode="json", exclude_defaults=True) for e in made.entries]
    version = BenchmarkVersion(uow.academy_id, name, number, base, kept, note, who)
    uow.add(version)
    return version


def use(uow: UnitOfWork, label: str) -> None:
    """Judge by a version from now on; lessons that have begun keep theirs. Empty goes back to the built-in."""
    academy_rules = hold_rules(uow)
    if label and label != library.ranges().version:
        if version_of(uow, label).retired_at is not None:
            raise Refused(tr("{label} is retired", label=label), tr("Take it out of retirement first"))
        academy_rules.benchmarks = label
    else:
        academy_rules.benchmarks = ""


def retire(uow: UnitOfWork, label: str, *, back: bool = False) -> None:
    """Take a version out of the choices, or ``back`` in. What was judged by it stays judged by it."""
    version = version_of(uow, label)
    if not back and current_label(uow) == label:
        raise Refused(tr("{label} is in use", label=label), tr("Use another version first"))
    version.retired_at = None if back else now()


def set_default_schools(uow: UnitOfWork, schools: Mapping[str, str]) -> None:
    """The academy's own defaults. Raises ``DataFileError`` for a school that does not exist."""
    for axis, option in schools.items():
        library.known_school(axis, option, "schools")
    hold_rules(uow).schools = dict(schools)


def schools_of(uow: UnitOfWork, chosen: Mapping[str, str], rules: AcademyRules | None = None) -> dict[str, str]:
    """What holds: the player's choice, else the academy's, else the first of each."""
    rules = rules or academy_rules_of(uow)
    return {**library.default_schools(), **rules.schools, **chosen}


def lesson_schools(
    uow: UnitOfWork, lesson: Lesson, player: Player, rules: AcademyRules | None = None
) -> dict[str, str]:
    """The schools a lesson is judged by: those of its day once it is closed."""
    return dict(lesson.schools) if lesson.schools is not None else schools_of(uow, player.schools, rules)


def import_own(uow: UnitOfWork, text: str, name: str, revision: int | None = None) -> AcademyRules:
    """Add an academy's own findings and drills from TOML; the same id is replaced. Raises ``DataFileError`` with file
    and line, and keeps nothing of a file with an error."""
    academy_rules = hold_rules(uow) if revision is None else hold_rules_at(uow, revision, tr("own findings and drills"))
    put_own(uow, academy_rules, read_academy_rules(text, name, ranges_of(uow), own_of(uow)))
    return academy_rules


def put_own(uow: UnitOfWork, rules: AcademyRules, own: schemas.AcademyRulesFile) -> None:
    """Own findings and drills, checked before, as the academy's next revision."""
    rules.findings = [f.model_dump(mode="json", exclude_defaults=True) for f in own.finding]
    rules.drills = [d.model_dump(mode="json", exclude_defaults=True) for d in own.drill]
    save_own(uow, rules)


def reword_drill(uow: UnitOfWork, drill: str, words: Mapping[str, str], revision: int) -> AcademyRules:
    """The academy's own wording of a drill; empty words go back to the built-in. Raises ``Overtaken`` when somebody
    saved meanwhile."""
    academy_rules = hold_rules_at(uow, revision, tr("own wording"))
    written = {d["id"]: d for d in academy_rules.drills}
    base = next((d for d in library.drill_entries() if d.id == drill), None)
    if base is None and drill not in written:
        raise NotFound(tr('drill "{drill}"', drill=drill))
    if base is not None and not any(words.values()):
        written.pop(drill, None)
    else:
        old = written.get(drill) or (base.model_dump(mode="json", exclude_defaults=True) if base else {})
        entry = schemas.DrillEntry.model_validate({**old, **{k: v for k, v in words.items() if v}})
        written[drill] = entry.model_dump(mode="json", exclude_defaults=True)
    academy_rules.drills = list(written.values())
    save_own(uow, academy_rules)
    return academy_rules


def remove_own(uow: UnitOfWork, finding: str) -> AcademyRules:
    """Take an own finding out. Refused while another of the academy's findings names it as its effect."""
    academy_rules = hold_rules(uow)
    if finding not in {f["id"] for f in academy_rules.findings}:
        raise NotFound(tr('finding "{finding}"', finding=finding))
    users = [f["label"] for f in academy_rules.findings if finding in f.get("may_cause", [])]
    if users:
        raise Refused(tr("{users} may cause it", users=users[0]), tr("Change that finding first"))
    academy_rules.findings = [f for f in academy_rules.findings if f["id"] != finding]
    save_own(uow, academy_rules)
    return academy_rules
