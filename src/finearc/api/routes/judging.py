"""Benchmarks, schools, cohorts, references, an academy's own findings and drills."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, UploadFile
from fastapi.responses import Response

from finearc.api import models as m
from finearc.api.context import UnitDep, WhoDep
from finearc.api.views import judging as views, lesson as lesson_views
from finearc.catalogue import library
from finearc.catalogue.toml_file import DataFileError
from finearc.core.comparing.cohort import little
from finearc.formats.benchmarks import house_toml, ranges_csv, ranges_toml, read_ranges
from finearc.services import changes, cohorts, house
from finearc.services.ports import Unit
from finearc.services.records import Instructor, Lesson, Player, Reference, Swing
from finearc.services.takes import rejudge_player
from finearc.services.terms import BEST, Terms
from finearc.services.what_if import closest_schools, what_if

router = APIRouter(tags=["judging"])
MAX_TABLE = 2_000_000


@router.get("/benchmarks")
def benchmarks(unit: UnitDep) -> list[m.VersionOut]:
    """All versions of the ranges."""
    return views.versions_out(unit)


@router.get("/benchmarks/ranges")
def benchmark_ranges(unit: UnitDep, label: str = "") -> m.RangesOut:
    """The ranges of a version, of the one in use by default, each with where it comes from."""
    return views.ranges_out(unit, label or house.current_label(unit))


@router.get("/benchmarks/differences")
def benchmark_differences(unit: UnitDep, before: str, after: str) -> list[m.EntryChange]:
    """The ranges that differ between two versions."""
    known = {v.label for v in views.versions_out(unit)}
    for label in (before, after):
        if label not in known:
            house.version_of(unit, label)
    return views.differences(house.ranges_of(unit, before), house.ranges_of(unit, after))


@router.post("/benchmarks", status_code=201)
def save_benchmarks(body: m.SaveVersionIn, unit: UnitDep, who: WhoDep) -> m.VersionOut:
    """Save changed ranges as the next version; a second saver is told and loses nothing."""
    ranges = house.ranges_of(unit, body.base)
    version = house.save_version(
        unit, body.name, body.base, _changed(ranges, body.changes), body.note, _name(unit, who)
    )
    return views.version_out(version, house.current_label(unit))


def _name(unit: Unit, who: WhoDep) -> str:
    return unit.get(Instructor, who.instructor_id).name


def _changed(ranges: library.RangeLibrary, changed: list[m.RangeChange]) -> list[dict[str, object]]:
    by_id = {c.id: c for c in changed}
    unknown = [k for k in by_id if k not in ranges.by_id]
    if unknown:
        raise DataFileError(ranges.version, f'there is no range "{unknown[0]}"')
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


@router.post("/benchmarks/use")
def use_benchmarks(body: m.LabelIn, unit: UnitDep) -> list[m.VersionOut]:
    """Judge by this version from now on; lessons that have begun keep theirs."""
    house.use(unit, body.label)
    return views.versions_out(unit)


@router.post("/benchmarks/retire")
def retire_benchmarks(body: m.RetireIn, unit: UnitDep) -> list[m.VersionOut]:
    """Take a version out of the choices, or back in."""
    house.retire(unit, body.label, back=body.back)
    return views.versions_out(unit)


@router.post("/benchmarks/import", status_code=201)
def import_benchmarks(file: UploadFile, unit: UnitDep, who: WhoDep, name: str = "") -> m.VersionOut:
    """A TOML or CSV file of ranges as the next version of a name."""
    content = _read(file)
    ranges = read_ranges(content, file.filename or "ranges.toml")
    wanted = name.strip() or ranges.version.rstrip("0123456789 ") or "Imported"
    wanted = "Imported" if wanted.startswith("builtin") else wanted[:60]
    newest = max((v for v in house.versions(unit) if v.name == wanted), key=lambda v: v.number, default=None)
    entries = [e.model_dump(mode="json", exclude_defaults=True) for e in ranges.entries]
    version = house.save_version(
        unit, wanted, newest.label if newest else "", entries, f"From {file.filename}.", _name(unit, who)
    )
    return views.version_out(version, house.current_label(unit))


def _read(file: UploadFile) -> bytes:
    content = file.file.read(MAX_TABLE + 1)
    if len(content) > MAX_TABLE:
        raise DataFileError(file.filename or "file", f"larger than {MAX_TABLE / 1e6:.0f} MB")
    return content


@router.get("/benchmarks/export.toml", response_class=Response)
def export_toml(unit: UnitDep, label: str = "") -> Response:
    """A version as TOML."""
    ranges = house.ranges_of(unit, label)
    return _download(ranges_toml(ranges), "application/toml", f"{_file_name(ranges.version)}.toml")


@router.get("/benchmarks/export.csv", response_class=Response)
def export_csv(unit: UnitDep, label: str = "") -> Response:
    """A version as a table."""
    ranges = house.ranges_of(unit, label)
    return _download(ranges_csv(ranges), "text/csv", f"{_file_name(ranges.version)}.csv")


def _download(text: str, kind: str, name: str) -> Response:
    return Response(text, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


def _file_name(label: str) -> str:
    return "".join(c if c.isascii() and c.isalnum() else "-" for c in label.lower()).strip("-") or "ranges"


@router.post("/cohorts/look")
def look_at_cohort(body: m.CohortIn, unit: UnitDep, who: WhoDep) -> m.CohortOut:
    """What the chosen swings would make of the ranges; nothing is kept."""
    found = cohorts.counting_of(unit, body.club)
    swings, rows = _cohort(body, unit, found)
    return m.CohortOut(
        swings=len(swings),
        players=views.cohort_players(cohorts.tagged(found, body.tag)),
        tags=sorted({t for _, s in found for t in s.tags}),
        rows=[views.cohort_row(r) for r in rows],
        warning=little(len({s.player for s in swings}), len(swings)),
        synthetic=body.synthetic,
    )


def _cohort(body: m.CohortIn, unit: Unit, found: cohorts.Found) -> tuple[list[cohorts.Values], list[cohorts.Row]]:
    choice = cohorts.Choice(body.club, tuple(body.players), body.tag, body.synthetic)
    swings = cohorts.collected(found, choice)
    book = house.book_of(unit, label=body.base)
    terms = Terms(book, house.schools_of(unit, {}), "adult")
    return swings, cohorts.rows(book.ranges, terms, body.club, swings, body.share)


@router.post("/cohorts/ranges", status_code=201)
def save_cohort(body: m.CohortSaveIn, unit: UnitDep, who: WhoDep) -> m.VersionOut:
    """Save the ranges that the chosen swings make, laid into the base version, as the next version of a name."""
    _, rows = _cohort(body, unit, cohorts.counting_of(unit, body.club))
    kept = [r for r in rows if r.range.id not in body.leave_out]
    base = house.ranges_of(unit, body.base)
    entries = cohorts.entries_with(base, kept, synthetic=body.synthetic)
    newest = max((v for v in house.versions(unit) if v.name == body.name), key=lambda v: v.number, default=None)
    version = house.save_version(
        unit, body.name, newest.label if newest else base.version, entries, body.note, _name(unit, who)
    )
    return views.version_out(version, house.current_label(unit))


@router.get("/references")
def list_references(unit: UnitDep) -> list[m.ReferenceOut]:
    """Courses to lay over a swing: the synthetic cohort's first, then the academy's."""
    own = unit.find(Reference, order="-made_at")
    return [views.synthetic_reference(), *(views.reference_out(r) for r in own)]


@router.post("/references", status_code=201)
def keep_reference(body: m.ReferenceIn, unit: UnitDep, who: WhoDep) -> m.ReferenceOut:
    """Keep one swing, the mean of several, or a player's own best."""
    swings = [unit.get(Swing, k) for k in body.swing_ids]
    player = unit.get(Player, unit.get(Lesson, swings[0].lesson_id).player_id)
    name = body.name or f"{player.name or 'Walk-in'}, swing {swings[0].number}"
    own = player if body.form == BEST else None
    made = cohorts.keep_reference(unit, name, body.form, swings, _name(unit, who), own)
    if own is not None:
        rejudge_player(unit, own)
    return views.reference_out(made)


@router.post("/cohorts/reference", status_code=201)
def keep_cohort_reference(body: m.CohortReferenceIn, unit: UnitDep, who: WhoDep) -> m.ReferenceOut:
    """Keep the mean of the chosen swings as a reference."""
    choice = cohorts.Choice(body.club, tuple(body.players), body.tag)
    swings = [s for _, s in cohorts.chosen(cohorts.counting_of(unit, body.club), choice)]
    return views.reference_out(cohorts.keep_reference(unit, body.name, "mean", swings, _name(unit, who)))


@router.delete("/references/{reference_id}")
def remove_reference(reference_id: UUID, unit: UnitDep) -> m.Accepted:
    """Remove a reference; ranges that leaned on a player's own best are judged without it from then on."""
    found = unit.get(Reference, reference_id)
    owner = found.player_id
    unit.remove(found)
    if owner is not None:
        rejudge_player(unit, unit.get(Player, owner))
    return m.Accepted()


@router.get("/swings/{swing_id}/reference", response_class=Response)
def overlay(swing_id: UUID, unit: UnitDep, reference: str = cohorts.SYNTHETIC) -> Response:
    """A reference on a swing's own time axis, as one binary block of traces; empty when it cannot be laid over."""
    found = unit.get(Swing, swing_id)
    key = reference if reference == cohorts.SYNTHETIC else str(_uuid(reference))
    return Response(cohorts.overlay(unit, key, found), media_type="application/octet-stream")


def _uuid(text: str) -> UUID:
    try:
        return UUID(text)
    except ValueError:
        raise DataFileError("reference", f'there is no reference "{text}"') from None


@router.post("/lessons/{lesson_id}/what-if")
def ask_what_if(lesson_id: UUID, body: m.WhatIfIn, unit: UnitDep) -> m.WhatIfOut:
    """What another school, or another version of the ranges, would change, before it is kept."""
    found = unit.get(Lesson, lesson_id)
    if body.benchmarks and body.benchmarks not in {v.label for v in views.versions_out(unit)}:
        house.version_of(unit, body.benchmarks)
    swings = unit.find(Swing, lesson_id=found.id, order="number")
    return views.what_if_out(what_if(unit, found, swings, body.club or found.club, body.schools, body.benchmarks))


@router.post("/lessons/{lesson_id}/terms")
def keep_terms(lesson_id: UUID, body: m.WhatIfIn, unit: UnitDep) -> m.LessonOut:
    """Judge by other schools (the player's from now on) or another version; can be undone."""
    unit.lock_academy()
    found = unit.get(Lesson, lesson_id)
    for axis, option in body.schools.items():
        library.known_school(axis, option, "schools")
    if body.benchmarks and body.benchmarks not in {v.label for v in views.versions_out(unit)}:
        house.version_of(unit, body.benchmarks)
    changes.change_terms(unit, found, body.schools, body.benchmarks)
    return lesson_views.lesson_out(unit, found)


@router.get("/lessons/{lesson_id}/schools")
def lesson_schools(lesson_id: UUID, unit: UnitDep) -> list[m.ClosestOut]:
    """Which school of each matter the player's swings are closest to, with the evidence."""
    found = unit.get(Lesson, lesson_id)
    swings = unit.find(Swing, lesson_id=found.id, order="number")
    return [views.closest_out(c) for c in closest_schools(unit, found, swings, found.club)]


@router.get("/house")
def own_choices(unit: UnitDep) -> m.HouseOut:
    """What the academy has chosen for itself."""
    return _house(unit)


def _house(unit: Unit) -> m.HouseOut:
    kept = house.house_of(unit)
    built_in = {d.id for d in library.drill_entries()}
    return m.HouseOut(
        revision=kept.revision,
        schools=house.schools_of(unit, {}),
        benchmarks=house.current_label(unit),
        findings=[m.OwnFindingOut(id=f["id"], label=f["label"], player_says=f["player_says"]) for f in kept.findings],
        own_drills=[d["id"] for d in kept.drills if d["id"] not in built_in],
        worded_drills=[d["id"] for d in kept.drills if d["id"] in built_in],
    )


@router.put("/house/schools")
def default_schools(body: m.SchoolsIn, unit: UnitDep) -> m.HouseOut:
    """The academy's default school of each matter; players without a choice of their own follow."""
    house.set_default_schools(unit, body.schools)
    unit.flush()
    for player in unit.find(Player):
        rejudge_player(unit, player)
    return _house(unit)


@router.post("/house/import", status_code=201)
def import_own(file: UploadFile, unit: UnitDep) -> m.HouseOut:
    """The academy's own findings and drills from TOML; errors name file and line, and then nothing is kept."""
    content = _read(file)
    name = file.filename or "own.toml"
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise DataFileError(name, "not a text file in UTF-8; export it again") from None
    house.import_own(unit, text, name)
    return _house(unit)


@router.get("/house/export.toml", response_class=Response)
def export_own(unit: UnitDep) -> Response:
    """The academy's own findings and drills as TOML."""
    return _download(house_toml(house.own_of(unit)), "application/toml", "own-findings-and-drills.toml")


@router.put("/house/drills/{drill_id}")
def reword_drill(drill_id: str, body: m.DrillWordsIn, unit: UnitDep) -> m.HouseOut:
    """The academy's own wording of a drill; all empty goes back to the built-in one."""
    words = body.model_dump(include={"label", "how", "feel"})
    house.reword_drill(unit, drill_id, words, body.revision)
    return _house(unit)


@router.delete("/house/findings/{finding_id}")
def remove_own(finding_id: str, unit: UnitDep) -> m.HouseOut:
    """Take an own finding out."""
    house.remove_own(unit, finding_id)
    return _house(unit)
