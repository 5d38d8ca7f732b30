"""Benchmarks, schools, cohorts, references, an academy's own findings and drills."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, UploadFile
from fastapi.responses import Response

from finearc.api import models as m
from finearc.api.context import HEAVY, RULES, ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.importing import read_bounded
from finearc.api.tables import LARGEST_TABLE, download, read_table
from finearc.api.views import judging as views, lesson as lesson_views
from finearc.catalogue import library
from finearc.catalogue.toml_file import DataFileError
from finearc.core.comparing.cohort import small_sample_warning
from finearc.formats.benchmarks import check_ranges, ranges_csv, ranges_toml, read_ranges
from finearc.services.capture.recordings import rejudge_player
from finearc.services.errors import NotFound
from finearc.services.jobs.questions import BesideAsked, CohortAsked, beside_of, cohort_of
from finearc.services.judging import academy_rules, cohorts
from finearc.services.judging.terms import BEST
from finearc.services.judging.what_if import closest_schools, what_if
from finearc.services.known import refuse_unknown_club, refuse_unknown_players, refuse_unknown_version
from finearc.services.lesson import changes
from finearc.services.lesson.pages import lesson_page
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Lesson, Player, Reference, Swing
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["judging"])


def _versions(uow: UnitOfWork) -> list[m.VersionOut]:
    return views.versions_out(academy_rules.versions(uow), academy_rules.current_label(uow))


@router.get("/benchmarks")
def benchmarks(uow: UnitOfWorkDep) -> list[m.VersionOut]:
    """All versions of the ranges."""
    return _versions(uow)


@router.get("/benchmarks/ranges")
def benchmark_ranges(uow: UnitOfWorkDep, label: str = "") -> m.RangesOut:
    """The ranges of a version, of the one in use by default, each with where it comes from."""
    label = label or academy_rules.current_label(uow)
    version = next((v for v in _versions(uow) if v.label == label), None)
    if version is None:
        raise NotFound(tr('benchmarks "{label}"', label=label))
    return views.ranges_out(version, academy_rules.ranges_of(uow, label))


@router.get("/benchmarks/beside", dependencies=HEAVY)
def benchmarks_beside(
    uow: UnitOfWorkDep, who: WhoDep, s: ServicesDep, label: str = "", club: str = "7-iron"
) -> m.RangesBeside:
    """The ranges that speak of a club beside what skilled and own players do with it."""
    refuse_unknown_club(club)
    refuse_unknown_version(uow, label)
    return views.ranges_beside_out(s.jobs.pool.ask(beside_of, who.academy_id, BesideAsked(label, club)).result())


@router.get("/benchmarks/differences")
def benchmark_differences(uow: UnitOfWorkDep, before: str, after: str) -> list[m.EntryChange]:
    """The ranges that differ between two versions."""
    for label in (before, after):
        refuse_unknown_version(uow, label)
    return views.differences(academy_rules.ranges_of(uow, before), academy_rules.ranges_of(uow, after))


@router.post("/benchmarks", status_code=201, dependencies=RULES)
def save_benchmarks(body: m.SaveVersionIn, uow: UnitOfWorkDep, who: WhoDep) -> m.VersionOut:
    """Save changed ranges as the next version; a second saver is told and loses nothing."""
    refuse_unknown_version(uow, body.base)
    ranges = academy_rules.ranges_of(uow, body.base)
    version = academy_rules.save_version(
        uow, body.name, body.base, _changed(ranges, body.changes), body.note, _name(uow, who)
    )
    return views.version_out(version, academy_rules.current_label(uow))


def _name(uow: UnitOfWork, who: WhoDep) -> str:
    return uow.get(Instructor, who.instructor_id).name


def _changed(ranges: library.RangeLibrary, changed: list[m.RangeChange]) -> list[dict[str, object]]:
    by_id = {c.id: c for c in changed}
    unknown = [k for k in by_id if k not in ranges.by_id]
    if unknown:
        raise DataFileError(ranges.version, tr('there is no range "{unknown}"', unknown=unknown[0]))
    out = []
    for entry in ranges.entries:
        written = entry.model_dump(mode="json", exclude_defaults=True)
        change = by_id.get(entry.id)
        if change is None:
            out.append(written)
        elif not change.retire:
            out.append(_own_limits(written, change))
    return out


LEANING = ("relative_to", "low_offset", "high_offset", "low_share", "own_best")
ORIGIN = ("source", "swings", "players", "synthetic")


def _own_limits(written: dict[str, object], change: m.RangeChange) -> dict[str, object]:
    """An entry with the academy's own limits: what it was taken from before is no source of them."""
    dropped = ORIGIN if change.lean else (*ORIGIN, *LEANING)
    limits = change.model_dump(include={"low", "high", "soft_low", "soft_high", "note"})
    told = {k: v for k, v in limits.items() if v is not None or k in ("low", "high")}
    return {**{k: v for k, v in written.items() if k not in dropped}, **told, "provenance": "ACADEMY"}


@router.post("/benchmarks/use", dependencies=RULES)
def use_benchmarks(body: m.LabelIn, uow: UnitOfWorkDep) -> list[m.VersionOut]:
    """Judge by this version from now on; lessons that have begun keep theirs."""
    academy_rules.use(uow, body.label)
    return _versions(uow)


@router.post("/benchmarks/retire", dependencies=RULES)
def retire_benchmarks(body: m.RetireIn, uow: UnitOfWorkDep) -> list[m.VersionOut]:
    """Take a version out of the choices, or back in."""
    academy_rules.retire(uow, body.label, back=body.back)
    return _versions(uow)


@router.post("/benchmarks/import", status_code=201, max_body_size=LARGEST_TABLE, dependencies=RULES)
def import_benchmarks(
    file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep, name: Annotated[str, Query(max_length=60)] = ""
) -> m.VersionOut:
    """A TOML or CSV file of ranges as the next version of a name."""
    content = read_table(file)
    file_name = file.filename or "ranges.toml"
    read_bounded(s, uow, check_ranges, file_name, content)  # what can be read there is read here
    ranges = read_ranges(content, file_name)
    wanted = name.strip() or ranges.version.rstrip("0123456789 ") or tr("Imported")
    wanted = tr("Imported") if wanted.startswith("builtin") else wanted[:60]
    newest = max((v for v in academy_rules.versions(uow) if v.name == wanted), key=lambda v: v.number, default=None)
    entries = [e.model_dump(mode="json", exclude_defaults=True) for e in ranges.entries]
    version = academy_rules.save_version(
        uow,
        wanted,
        newest.label if newest else "",
        entries,
        tr("From {filename}.", filename=file.filename),
        _name(uow, who),
    )
    return views.version_out(version, academy_rules.current_label(uow))


@router.get("/benchmarks/export.toml", response_class=Response)
def export_toml(uow: UnitOfWorkDep, label: str = "") -> Response:
    """A version as TOML."""
    refuse_unknown_version(uow, label)
    ranges = academy_rules.ranges_of(uow, label)
    return download(ranges_toml(ranges), "application/toml", f"{_file_name(ranges.version)}.toml")


@router.get("/benchmarks/export.csv", response_class=Response)
def export_csv(uow: UnitOfWorkDep, label: str = "") -> Response:
    """A version as a table."""
    refuse_unknown_version(uow, label)
    ranges = academy_rules.ranges_of(uow, label)
    return download(ranges_csv(ranges), "text/csv", f"{_file_name(ranges.version)}.csv")


def _file_name(label: str) -> str:
    return "".join(c if c.isascii() and c.isalnum() else "-" for c in label.lower()).strip("-") or "ranges"


@router.post("/cohorts/look", dependencies=HEAVY)
def look_at_cohort(body: m.CohortIn, uow: UnitOfWorkDep, who: WhoDep, s: ServicesDep) -> m.CohortOut:
    """What the chosen swings would make of the ranges; nothing is kept."""
    _known_cohort(uow, body)
    seen = s.jobs.pool.ask(cohort_of, who.academy_id, _cohort_asked(body)).result()
    return m.CohortOut(
        swings=seen.swings,
        players=views.cohort_players(cohorts.tagged(seen.found, body.tag)),
        tags=sorted({t for _, swing in seen.found for t in swing.tags}),
        rows=[views.cohort_row(r) for r in seen.rows],
        warning=small_sample_warning(seen.players, seen.swings),
        synthetic=body.synthetic,
    )


def _known_cohort(uow: UnitOfWork, body: m.CohortIn) -> None:
    refuse_unknown_club(body.club)
    refuse_unknown_version(uow, body.base)
    refuse_unknown_players(uow, body.players)


def _cohort_asked(body: m.CohortIn) -> CohortAsked:
    choice = cohorts.Choice(body.club, tuple(body.players), body.tag, body.synthetic)
    return CohortAsked(choice, body.base, body.share)


@router.post("/cohorts/ranges", status_code=201, dependencies=RULES)
def save_cohort(body: m.CohortSaveIn, uow: UnitOfWorkDep, who: WhoDep, s: ServicesDep) -> m.VersionOut:
    """Save the ranges that the chosen swings make, laid into the base version, as the next version of a name."""
    _known_cohort(uow, body)
    rows = s.jobs.pool.ask(cohort_of, who.academy_id, _cohort_asked(body)).result().rows
    kept = [r for r in rows if r.range.id not in body.leave_out]
    swings = [] if body.synthetic else cohorts.chosen(cohorts.counting_of(uow, body.club), _cohort_asked(body).choice)
    base = academy_rules.ranges_of(uow, body.base)
    entries = cohorts.entries_with(base, kept, synthetic=body.synthetic)
    newest = max((v for v in academy_rules.versions(uow) if v.name == body.name), key=lambda v: v.number, default=None)
    version = academy_rules.save_version(
        uow, body.name, newest.label if newest else base.version, entries, body.note, _name(uow, who)
    )
    cohorts.note_origin(uow, "benchmarks", version.id, {p.id for p, _ in swings})
    return views.version_out(version, academy_rules.current_label(uow))


@router.get("/references")
def list_references(uow: UnitOfWorkDep) -> list[m.ReferenceOut]:
    """Courses to lay over a swing: the synthetic cohort's first, then the academy's."""
    own = uow.find(Reference, order="-made_at")
    return [views.synthetic_reference(), *(views.reference_out(r) for r in own)]


@router.post("/references", status_code=201)
def keep_reference(body: m.ReferenceIn, uow: UnitOfWorkDep, who: WhoDep) -> m.ReferenceOut:
    """Keep one swing, the mean of several, or a player's own best."""
    swings = [uow.get(Swing, k) for k in body.swing_ids]
    player = uow.get(Player, uow.get(Lesson, swings[0].lesson_id).player_id)
    name = body.name or tr("{value}, swing {number}", value=player.name or "Walk-in", number=swings[0].number)
    own = player if body.form == BEST else None
    made = cohorts.keep_reference(uow, name, body.form, swings, _name(uow, who), own)
    if own is not None:
        rejudge_player(uow, own)
    return views.reference_out(made)


@router.post("/cohorts/reference", status_code=201)
def keep_cohort_reference(body: m.CohortReferenceIn, uow: UnitOfWorkDep, who: WhoDep) -> m.ReferenceOut:
    """Keep the mean of the chosen swings as a reference."""
    _known_cohort(uow, body)
    choice = cohorts.Choice(body.club, tuple(body.players), body.tag)
    swings = [s for _, s in cohorts.chosen(cohorts.counting_of(uow, body.club), choice)]
    return views.reference_out(cohorts.keep_reference(uow, body.name, "mean", swings, _name(uow, who)))


@router.delete("/references/{reference_id}")
def remove_reference(reference_id: UUID, uow: UnitOfWorkDep) -> m.Accepted:
    """Remove a reference; ranges that leaned on a player's own best are judged without it from then on."""
    found = uow.get(Reference, reference_id)
    owner = found.player_id
    uow.remove(found)
    if owner is not None:
        rejudge_player(uow, uow.get(Player, owner))
    return m.Accepted()


@router.get("/swings/{swing_id}/reference", response_class=Response)
def overlay(swing_id: UUID, uow: UnitOfWorkDep, reference: str = cohorts.SYNTHETIC) -> Response:
    """A reference on a swing's own time axis, as one binary block of traces; empty when it cannot be laid over."""
    found = uow.get(Swing, swing_id)
    key = reference if reference == cohorts.SYNTHETIC else str(_uuid(reference))
    return Response(cohorts.overlay(uow, key, found), media_type="application/octet-stream")


def _uuid(text: str) -> UUID:
    try:
        return UUID(text)
    except ValueError:
        raise DataFileError("reference", tr('there is no reference "{text_}"', text_=text)) from None


@router.post("/lessons/{lesson_id}/what-if")
def ask_what_if(lesson_id: UUID, body: m.WhatIfIn, uow: UnitOfWorkDep) -> m.WhatIfOut:
    """What another school, or another version of the ranges, would change, before it is kept."""
    found = uow.get(Lesson, lesson_id)
    refuse_unknown_version(uow, body.benchmarks)
    refuse_unknown_club(body.club or found.club)
    swings = uow.find(Swing, lesson_id=found.id, order="number")
    return views.what_if_out(what_if(uow, found, swings, body.club or found.club, body.schools, body.benchmarks))


@router.post("/lessons/{lesson_id}/terms")
def keep_terms(lesson_id: UUID, body: m.WhatIfIn, uow: UnitOfWorkDep) -> m.LessonOut:
    """Judge by other schools (the player's from now on) or another version; can be undone."""
    found = uow.hold(Lesson, lesson_id)
    for axis, option in body.schools.items():
        library.known_school(axis, option, "schools")
    refuse_unknown_version(uow, body.benchmarks)
    changes.change_terms(uow, found, body.schools, body.benchmarks)
    uow.flush()
    return lesson_views.lesson_out(lesson_page(uow, found.id))


@router.get("/lessons/{lesson_id}/schools")
def lesson_schools(lesson_id: UUID, uow: UnitOfWorkDep) -> list[m.ClosestOut]:
    """Which school of each matter the player's swings are closest to, with the evidence."""
    found = uow.get(Lesson, lesson_id)
    swings = uow.find(Swing, lesson_id=found.id, order="number")
    return [views.closest_out(c) for c in closest_schools(uow, found, swings, found.club)]
