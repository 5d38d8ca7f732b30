"""Training with live feedback: what can be trained in a lesson, the block that holds it, and what is kept of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from finearc.core.events.model import Checkpoint
from finearc.core.judging.drills import TrainerBand, band_in_force
from finearc.core.judging.ranges import InForce, Range
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import PER_SI, Family, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.training.bands import Band
from finearc.core.training.parts import Phase
from finearc.core.training.success import FELT, Fading, Width, felt_steps, ladder_of, runs_of
from finearc.core.training.trainer import Repetition, Trainer
from finearc.services.errors import Refused
from finearc.services.judging.terms import Terms, terms_of
from finearc.services.lesson.lessons import start_block
from finearc.services.lesson.pages import LessonRead, trainer_bands
from finearc.services.ports import UnitOfWork
from finearc.services.records import Block, Lesson, Player
from finearc.wording import mark, tr

PHASE_OF = {
    Checkpoint.ADDRESS: Phase.ALWAYS,
    Checkpoint.TAKEAWAY: Phase.TO_SHAFT_LEVEL,
    Checkpoint.SHAFT_LEVEL_BACK: Phase.TO_SHAFT_LEVEL,
    Checkpoint.ARM_LEVEL_BACK: Phase.WAY_BACK,
    Checkpoint.TOP: Phase.AT_TOP,
    Checkpoint.ARM_LEVEL_DOWN: Phase.TRANSITION,
    Checkpoint.SHAFT_LEVEL_DOWN: Phase.TRANSITION,
    Checkpoint.IMPACT: Phase.IMPACT,
}
"""Where a range at a checkpoint is trained."""
MOMENT_OF = {
    Phase.WAY_BACK: Checkpoint.TOP,
    Phase.TO_SHAFT_LEVEL: Checkpoint.SHAFT_LEVEL_BACK,
    Phase.AT_TOP: Checkpoint.TOP,
    Phase.TRANSITION: Checkpoint.ARM_LEVEL_DOWN,
    Phase.IMPACT: Checkpoint.IMPACT,
    Phase.ALWAYS: Checkpoint.ADDRESS,
}
"""Where what was trained is looked at afterwards."""
PHASE_WORDS = {
    Phase.WAY_BACK: mark("the whole way back"),
    Phase.TO_SHAFT_LEVEL: mark("to shaft level"),
    Phase.AT_TOP: mark("at the top"),
    Phase.TRANSITION: mark("in the transition"),
    Phase.IMPACT: mark("at impact"),
    Phase.ALWAYS: "always",
}
MOST_REPETITIONS = 1000


class RepetitionKept(BaseModel):
    """One repetition, in the metric's unit. ``felt``: the player's guess before it was shown, and ``felt_steps`` how
    much more was felt than was there."""

    number: int
    good: bool
    share: float
    value: float
    error: float
    width: float
    seconds: float
    speed: float | None = None
    spoken: bool = True
    felt: str = ""
    felt_steps: int | None = None


class TrainingKept(BaseModel):
    """A band in the metric's unit, how it is trained, how far that has come, and every repetition. ``told_from``: what
    it was chosen from, in words; ``practice_plan``, ``practice_block``: of which practice it is a block."""

    model_config = ConfigDict(extra="ignore")
    metric: str
    low: float | None
    high: float | None
    phase: Phase
    relative: bool = False
    above_address: float | None = None
    told_from: str = ""
    fades: bool = True
    locked: bool = False
    width: float = 1.0
    stage: int = 0
    since: int = 0
    hits: int = 0
    practice_plan: UUID | None = None
    practice_block: int | None = None
    repetitions: list[RepetitionKept] = Field(default_factory=list)


@dataclass(frozen=True)
class Offer:
    """A band that can be trained, SI. ``source``: drill, finding; ``of``: its id."""

    band: Band
    source: Literal["drill", "finding"]
    of: str
    label: str
    drill: str = ""
    finding: str = ""


def phase_of(start: str, end: str) -> Phase:
    """The phase between two checkpoints of a drill's band."""
    if start == end:
        return PHASE_OF.get(Checkpoint(end), Phase.ALWAYS)
    if Checkpoint(end) is Checkpoint.SHAFT_LEVEL_BACK:
        return Phase.TO_SHAFT_LEVEL
    if Checkpoint(end) in (Checkpoint.ARM_LEVEL_BACK, Checkpoint.TOP):
        return Phase.WAY_BACK
    return PHASE_OF.get(Checkpoint(end), Phase.ALWAYS)


def band_of(found: TrainerBand) -> Band:
    """A drill's band as it is trained. Its limits are those of the range where it ends: what turns on the way there is
    within them only there; a wrist is held."""
    relative = found.from_address or found.metric.family is Family.TRAVEL
    start = found.start if found.metric.family is Family.WRIST else found.end
    phase = phase_of(start, found.end)
    return Band(found.metric, found.low, found.high, phase, relative, above_address=found.above_address)


def band_of_range(found: Range) -> Band | None:
    """A range as a band, where it stands at a checkpoint and says something."""
    at, start = found.moment.key, ""
    if ".." in at:
        start, at = at.split("..")
    if at not in set(Checkpoint) or (found.low is None and found.high is None) or found.own_best:
        return None
    phase = PHASE_OF.get(Checkpoint(at))
    if phase is None or start not in ("", Checkpoint.ADDRESS):
        return None
    leans = found.relative_to is not None and found.relative_to.key == Checkpoint.ADDRESS
    return Band(
        found.metric,
        found.low,
        found.high,
        Phase.WAY_BACK if start and phase is Phase.AT_TOP else phase,
        relative=start == Checkpoint.ADDRESS,
        above_address=found.high_offset if leans else None,
    )


def offers(read: LessonRead) -> list[Offer]:
    """What can be trained: the chosen priorities' drills first, then what was found with the club in hand."""
    rule_set, lesson = read.rule_set, read.head.lesson
    page = Terms(rule_set, read.schools, read.head.player.population).page(lesson.club)
    bands = trainer_bands(read)
    chosen = [(p.priority.drill, p.priority.finding) for p in read.priorities]
    found = [f.finding for s in read.summaries if s.club == lesson.club for f in s.findings]
    out = [_of_drill(read, d, f, bands[d]) for d, f in chosen if d in bands]
    for finding in dict.fromkeys([*(f for _, f in chosen if f), *found]):
        rule = next((r for r in rule_set.rules if r.id == finding), None)
        if rule is None:
            continue
        known = [(d, bands[d]) for d in rule.drills if d in bands and d not in {d for d, _ in chosen}]
        out += [_of_drill(read, d, finding, band) for d, band in known[:1]]
        told = next((f for s in read.summaries for f in s.findings if f.finding == finding), None)
        band = None if told is None else _range_at(page, told.metric, told.moment)
        if band is not None:
            out.append(Offer(band, "finding", finding, rule.plain_label, finding=finding))
    return out


def _of_drill(read: LessonRead, drill: str, finding: str, band: TrainerBand) -> Offer:
    return Offer(band_of(band), "drill", drill, read.rule_set.drills[drill].label, drill=drill, finding=finding)


def _range_at(page: InForce, metric: str, moment: str) -> Band | None:
    return next((b for r in page.ranges.get((metric, moment), ()) if (b := band_of_range(r)) is not None), None)


@dataclass(frozen=True)
class BandAt:
    """A range in force as a band at one checkpoint."""

    at: Checkpoint
    band: Band


def bands_in_force(read: LessonRead) -> list[BandAt]:
    """Every range that stands at a checkpoint, with the club in hand."""
    page = Terms(read.rule_set, read.schools, read.head.player.population).page(read.head.lesson.club)
    out = []
    for (_, moment), ranges in page.ranges.items():
        band = next((b for r in ranges if (b := band_of_range(r)) is not None), None)
        if band is not None:
            out.append(BandAt(Checkpoint(moment.rsplit("..", 1)[-1]), band))
    return out


def kept_of(band: Band, told_from: str, *, fades: bool = True, locked: bool = False) -> TrainingKept:
    """A band as it is kept."""
    per = PER_SI[band.metric.unit]

    def shown(value: float | None) -> float | None:
        return None if value is None else round(per * value, 3)

    return TrainingKept(
        metric=band.metric.id,
        low=shown(band.low),
        high=shown(band.high),
        phase=band.phase,
        relative=band.relative,
        above_address=shown(band.above_address),
        told_from=told_from,
        fades=fades,
        locked=locked,
    )


def band_kept(kept: TrainingKept) -> Band:
    """The band of what is kept. Raises ``Refused`` for a measure that is none."""
    metric = BY_ID.get(kept.metric)
    if metric is None:
        raise Refused(tr('there is no measure "{metric}"', metric=kept.metric))
    per = PER_SI[metric.unit]
    low, high, above = (None if v is None else v / per for v in (kept.low, kept.high, kept.above_address))
    return Band(metric, low, high, kept.phase, kept.relative, above)


def trainer_of(kept: TrainingKept, *, test: bool) -> Trainer:
    """The trainer as it goes on from what is kept."""
    return Trainer(
        band_kept(kept),
        fades=kept.fades,
        test=test,
        width=Width(kept.width, kept.locked),
        fading=Fading(kept.stage, kept.since, kept.hits),
        made=len(kept.repetitions),
    )


def start_training(
    uow: UnitOfWork, lesson: Lesson, kept: TrainingKept, *, kind: str, finding: str, drill: str
) -> Block:
    """A drill or a test with live feedback. Raises ``Refused``."""
    band = band_kept(kept)
    if kept.low is None and kept.high is None:
        raise Refused(tr("a band needs a limit on one side at least"))
    if kept.low is not None and kept.high is not None and kept.low >= kept.high:
        raise Refused(tr("the lower limit is not below the upper one"))
    block = start_block(uow, lesson, kind, finding, band.metric.id, MOMENT_OF[band.phase].value, drill)
    block.training = kept.model_dump(mode="json")
    uow.flush()
    return block


def training_of(block: Block) -> TrainingKept | None:
    """What is kept of a block's training; None for one without live feedback."""
    return None if block.training is None else TrainingKept.model_validate(block.training)


def repetition_kept(made: Repetition, metric: Metric) -> RepetitionKept:
    """A repetition in the metric's unit."""
    per = PER_SI[metric.unit]
    return RepetitionKept(
        number=made.number,
        good=made.good,
        share=round(made.share, 3),
        value=round(per * made.value, 2),
        error=round(per * made.error, 2),
        width=round(made.width, 3),
        seconds=round(made.seconds, 2),
        speed=None if made.speed_share is None else round(made.speed_share, 3),
        spoken=made.spoken,
    )


def keep_repetition(uow: UnitOfWork, block_id: UUID, made: Repetition, trainer: tuple[Width, Fading]) -> TrainingKept:
    """Write a repetition down, with how far width and fading have come."""
    block = uow.hold(Block, block_id)
    kept = training_of(block)
    if kept is None:
        raise Refused(tr("this block is no training"))
    width, fading = trainer
    told = repetition_kept(made, BY_ID[kept.metric])
    kept.repetitions = [*(r for r in kept.repetitions if r.number != told.number), told][-MOST_REPETITIONS:]
    kept.width, kept.stage, kept.since, kept.hits = width.share, fading.stage, fading.since, fading.good
    block.training = kept.model_dump(mode="json")
    return kept


def keep_felt(uow: UnitOfWork, block: Block, number: int, guess: str) -> TrainingKept:
    """What the player felt in a repetition, before its value was shown. Raises ``Refused``."""
    kept = training_of(uow.hold(Block, block.id))
    if kept is None:
        raise Refused(tr("this block is no training"))
    found = next((r for r in kept.repetitions if r.number == number), None)
    if found is None:
        raise Refused(tr("there is no repetition {number}", number=number), tr("Guess after it was made"))
    if guess not in FELT:
        raise Refused(tr('nobody feels "{guess}"', guess=guess), tr("Known: {felt}", felt=", ".join(FELT)))
    per = PER_SI[BY_ID[kept.metric].unit]
    found.felt, found.felt_steps = guess, felt_steps(guess, found.error / per, band_kept(kept).width)
    block.training = kept.model_dump(mode="json")
    return kept


def moved_to_club(block: Block, page: InForce) -> bool:
    """Another club: the band becomes the one in force for it, where it was taken from a range; whether it has
    moved."""
    kept = training_of(block)
    if kept is None or not (block.finding or block.drill):
        return False
    band = band_kept(kept)
    told_from = band.relative and band.metric.family is not Family.TRAVEL
    at = TrainerBand(band.metric, block.moment, block.moment, band.low, band.high, band.above_address, told_from)
    moved = band_in_force(at, page)
    if (moved.low, moved.high, moved.above_address) == (band.low, band.high, band.above_address):
        return False
    again = kept_of(
        Band(band.metric, moved.low, moved.high, band.phase, band.relative, moved.above_address), kept.told_from
    )
    kept.low, kept.high, kept.above_address = again.low, again.high, again.above_address
    block.training = kept.model_dump(mode="json")
    return True


def follow_club(uow: UnitOfWork, lesson: Lesson) -> bool:
    """The running training's band becomes that of the lesson's club; whether it has moved."""
    block = None if lesson.block_id is None else uow.hold(Block, lesson.block_id)
    if block is None:
        return False
    page = terms_of(uow, lesson, uow.get(Player, lesson.player_id)).page(lesson.club)
    moved = moved_to_club(block, page)
    block.club = lesson.club if moved else block.club
    uow.flush()
    return moved


def words_of(band: Band, *, plain: bool) -> str:
    """The band in words: what, within which limits, where, and whether it is told from the address."""
    metric: Metric = band.metric
    limits = limits_in_words(metric, band.low, band.high, plain=plain, change=band.relative)
    told = f"{metric.plain_label if plain else metric.label}: {limits}, {tr(PHASE_WORDS[band.phase])}"
    return tr("{told}, relative to address", told=told) if band.relative or band.above_address is not None else told


def one_line(kept: TrainingKept, kind: str) -> str:
    """What a training or a test has come to."""
    runs = runs_of([r.good for r in kept.repetitions])
    if not runs.made:
        return tr("No repetition yet.")
    said = tr("{good} of {made} good", good=runs.good, made=runs.made)
    if kind == "test":
        return tr("{said}, without feedback.", said=said)
    ladder = ladder_of([(r.speed, r.good) for r in kept.repetitions])
    rungs = ", ".join(tr("{name} {good} of {made}", name=r.name, good=r.good, made=r.made) for r in ladder)
    return tr(
        "{said}, best run {best}{value}.", said=said, best=runs.best, value=f"; {rungs}" if len(ladder) > 1 else ""
    )
