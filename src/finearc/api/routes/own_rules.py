"""An academy's own choices: default schools, wording of drills, its own findings and drills."""

from __future__ import annotations

from fastapi import APIRouter, UploadFile
from fastapi.responses import Response

from finearc.api import models as m
from finearc.api.context import RULES, ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.importing import read_bounded
from finearc.api.revisions import SeenRevision
from finearc.api.tables import LARGEST_TABLE, download, read_table
from finearc.api.views import judging as views
from finearc.catalogue.toml_file import DataFileError
from finearc.formats.benchmarks import academy_rules_toml, check_own
from finearc.services.capture.recordings import rejudge_open, rejudge_player
from finearc.services.judging import academy_rules, own_forms
from finearc.services.ports import UnitOfWork
from finearc.services.records import Player
from finearc.services.revisions import refuse_overtaken, revision_of, schools_written
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["judging"])


@router.get("/academy-rules")
def own_choices(uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """What the academy has chosen for itself."""
    return _academy_rules(uow)


def _academy_rules(uow: UnitOfWork) -> m.AcademyRulesOut:
    kept, own = academy_rules.academy_rules_of(uow), academy_rules.own_of(uow)
    ranges = academy_rules.ranges_of(uow)
    drills = own_forms.own_drills(own.drill)
    ours = {d.id for d in drills}
    return m.AcademyRulesOut(
        revision=kept.revision,
        schools=academy_rules.schools_of(uow, {}),
        schools_revision=revision_of(schools_written(kept)),
        benchmarks=academy_rules.current_label(uow),
        findings=[views.own_finding_out(f, ranges) for f in own.finding],
        drills=[m.OwnDrillOut.model_validate(d.model_dump()) for d in drills],
        worded_drills=[d.id for d in own.drill if d.id not in ours],
    )


@router.put("/academy-rules/schools", dependencies=RULES)
def default_schools(body: m.SchoolsIn, seen: SeenRevision, uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """The academy's default school of each matter; players without a choice of their own follow."""
    kept = academy_rules.hold_rules(uow)
    refuse_overtaken(uow, seen, tr("the academy's schools"), kept.id, schools_written(kept))
    academy_rules.set_default_schools(uow, body.schools)
    uow.flush()
    for player in uow.find(Player):
        rejudge_player(uow, player)
    return _academy_rules(uow)


@router.post("/academy-rules/import", status_code=201, max_body_size=LARGEST_TABLE, dependencies=RULES)
def import_own(file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep) -> m.AcademyRulesOut:
    """The academy's own findings and drills from TOML; errors name file and line, and then nothing is kept."""
    content = read_table(file)
    name = file.filename or "own.toml"
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise DataFileError(name, tr("not a text file in UTF-8; export it again")) from None
    read_bounded(s, uow, check_own, name, content)  # what can be read there is read here
    academy_rules.import_own(uow, text, name)
    rejudge_open(uow)
    return _academy_rules(uow)


@router.get("/academy-rules/export.toml", response_class=Response)
def export_own(uow: UnitOfWorkDep) -> Response:
    """The academy's own findings and drills as TOML."""
    return download(academy_rules_toml(academy_rules.own_of(uow)), "application/toml", "own-findings-and-drills.toml")


@router.put("/academy-rules/drills/{drill_id}", dependencies=RULES)
def reword_drill(drill_id: str, body: m.DrillWordsIn, uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """The academy's own wording of a drill; all empty goes back to the built-in one."""
    words = body.model_dump(include={"label", "how", "feel"})
    academy_rules.reword_drill(uow, drill_id, words, body.revision)
    rejudge_open(uow)
    return _academy_rules(uow)


@router.put("/academy-rules/findings", dependencies=RULES)
def save_own_finding(body: m.OwnFindingIn, uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """Make or change one of the academy's own findings."""
    words = body.model_dump(mode="json", exclude={"id", "revision", "shown", "together"})
    shown = tuple(own_forms.Shown(s.metric, s.moment, s.way) for s in body.shown)
    own_forms.save_finding(
        uow, body.revision, body.id, words, own_forms.Condition(shown, body.together) if shown else None
    )
    rejudge_open(uow)
    return _academy_rules(uow)


@router.put("/academy-rules/drills", dependencies=RULES)
def save_own_drill(body: m.OwnDrillIn, uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """Make or change one of the academy's own drills."""
    words = body.model_dump(mode="json", exclude={"id", "revision"})
    own_forms.save_drill(uow, body.revision, body.id, words)
    rejudge_open(uow)
    return _academy_rules(uow)


@router.delete("/academy-rules/drills/{drill_id}", dependencies=RULES)
def remove_own_drill(drill_id: str, uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """Take an own drill out."""
    own_forms.remove_drill(uow, drill_id)
    rejudge_open(uow)
    return _academy_rules(uow)


@router.delete("/academy-rules/findings/{finding_id}", dependencies=RULES)
def remove_own(finding_id: str, uow: UnitOfWorkDep) -> m.AcademyRulesOut:
    """Take an own finding out."""
    academy_rules.remove_own(uow, finding_id)
    rejudge_open(uow)
    return _academy_rules(uow)
