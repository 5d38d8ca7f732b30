"""What a lesson's swings say together: findings, spread, good things, change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median, pstdev

from finearc.catalogue import library
from finearc.core.comparing.change import Change, compare
from finearc.core.judging.findings import Finding, NotAssessed
from finearc.core.judging.priorities import Limit, Proposal, propose
from finearc.core.judging.ranges import Verdict
from finearc.core.judging.words import at_moment
from finearc.services import analysis as an
from finearc.services.changes import COUNTING
from finearc.services.ports import Unit
from finearc.services.records import Block, Lesson, MovementLimit, Player, Swing, now
from finearc.services.stored import evidence_of, uncertainty_of, value_of

BALL_WORDS = {
    ("start", "trail"): "push",
    ("start", "lead"): "pull",
    ("curve", "trail"): "slice",
    ("curve", "lead"): "hook",
}
GOOD = (
    ("lead_wrist_extension", "address"),
    ("lead_wrist_extension", "top"),
    ("lead_wrist_extension", "impact"),
    ("hinge_held", "swing"),
    ("thorax_turn", "top"),
    ("pelvis_turn", "impact"),
    ("pelvis_sway", "top"),
    ("posture_from_ground", "address..impact"),
    ("tempo", "swing"),
    ("lead_share", "address"),
    ("peak_trail_share", "swing"),
    ("stance_position", "impact"),
)
"""What is said to be good, and whose scatter is shown, where it is measured."""


@dataclass(frozen=True)
class Good:
    """Something to keep, in standard and in plain words."""

    standard: str
    plain: str


@dataclass(frozen=True)
class Together:
    """Findings over the counting swings of one club."""

    club: str
    counting: tuple[Swing, ...]
    findings: tuple[Finding, ...]
    not_assessed: tuple[NotAssessed, ...]
    proposals: tuple[Proposal, ...]
    good: tuple[Good, ...]


def counting_swings(swings: Sequence[Swing], club: str) -> list[Swing]:
    """Normal and test swings of one club whose sensors had not moved: findings rest on these only."""
    return [s for s in swings if s.kind in COUNTING and s.club == club and not s.sensor_moved and s.result]


def limits_of(unit: Unit, player: Player) -> list[Limit]:
    """The player's limits that hold today."""
    today = now().date()
    held = [r for r in unit.find(MovementLimit, player_id=player.id) if r.holds_on(today)]
    return [Limit(r.area, r.movement, r.side) for r in held]


def ball_words(swings: Sequence[Swing]) -> list[str]:
    """The trade's words for where the balls went, most frequent first."""
    words: list[str] = []
    for s in swings:
        for part, side in (("start", s.ball_start), ("curve", s.ball_curve)):
            word = BALL_WORDS.get((part, side))
            if word:
                words.append(word)
        if s.strike in ("thin", "fat"):
            words.append(s.strike)
    frequent = [w for w in set(words) if words.count(w) >= max(1, len(swings) // 3)]
    return sorted(frequent, key=lambda w: -words.count(w))


def together(unit: Unit, lesson: Lesson, swings: Sequence[Swing], club: str) -> Together:
    """All that the counting swings of a club say."""
    player = unit.get(Player, lesson.player_id)
    counting = counting_swings(swings, club)
    evidence = [evidence_of(s.result, library.ranges()) for s in counting]
    findings, open_questions = an.find(evidence, library.ranges())
    proposals = propose(findings, library.drills(), ball_words(counting), limits_of(unit, player))
    return Together(
        club, tuple(counting), tuple(findings), tuple(open_questions), tuple(proposals), tuple(_good(counting))
    )


def _good(swings: Sequence[Swing]) -> list[Good]:
    """What is in range in most swings and must not be touched."""
    out = []
    for metric, event in GOOD:
        verdicts = [e for s in swings for e in s.result["metrics"] if e["metric"] == metric and e["event"] == event]
        inside = [e for e in verdicts if e["verdict"] == Verdict.IN_RANGE.value]
        if len(verdicts) >= 2 and len(inside) >= 0.8 * len(verdicts):
            m = library.metric_of(metric)
            middle = median(float(e["value"]) for e in inside)
            place = "" if event == "swing" else f" at {event.replace('_', ' ')}"
            value = middle / m.at_edge(1.0)
            out.append(
                Good(
                    f"{m.label}{place}: {at_moment(m, event, value)}",
                    f"{m.plain_label}{place}: {at_moment(m, event, value, plain=True)}",
                )
            )
    return out


@dataclass(frozen=True)
class Spread:
    """A value over swings, in the metric's own unit."""

    n: int
    median: float
    spread: float


def spread_of(swings: Sequence[Swing], metric: str, event: str) -> Spread | None:
    """Median and spread of a value over the given swings."""
    values = [v for s in swings if (v := value_of(s.result, metric, event)) is not None]
    return Spread(len(values), median(values), pstdev(values)) if values else None


@dataclass(frozen=True)
class BlockChange:
    """Before against after, with what it rests on."""

    change: Change | None
    sentence: str
    before: tuple[int, ...]
    after: tuple[int, ...]


def compare_swings(before: Sequence[Swing], after: Sequence[Swing], metric: str, event: str) -> BlockChange:
    """Two groups of swings compared on one value. Across calibrations the poses' uncertainty enters."""
    a = [(s, v) for s in before if not s.sensor_moved and (v := value_of(s.result, metric, event)) is not None]
    b = [(s, v) for s in after if not s.sensor_moved and (v := value_of(s.result, metric, event)) is not None]
    across = {s.take_id for s, _ in a} != {s.take_id for s, _ in b}
    pose = max((_pose_part(s, metric, event) for s, _ in [*a, *b]), default=0.0) if across else 0.0
    floor = max((_own_part(s, metric, event) for s, _ in [*a, *b]), default=0.0)
    change = compare([v for _, v in a], [v for _, v in b], pose, floor)
    return BlockChange(
        change,
        change_sentence(change, len(a), len(b)),
        tuple(s.number for s, _ in a),
        tuple(s.number for s, _ in b),
    )


def _pose_part(swing: Swing, metric: str, event: str) -> float:
    for entry in swing.result["metrics"]:
        if entry["metric"] == metric and entry["event"] == event:
            return float(entry.get("calibration_part", 0.0))
    return 0.0


def _own_part(swing: Swing, metric: str, event: str) -> float:
    """A value's own measuring error within one calibration."""
    total, pose = uncertainty_of(swing.result, metric, event), _pose_part(swing, metric, event)
    return float(max(0.0, total**2 - pose**2) ** 0.5)


def change_sentence(change: Change | None, before: int, after: int) -> str:
    """``Changed`` or ``too early to tell``, and about how many more swings."""
    if change is None:
        need = max(0, 2 - before), max(0, 2 - after)
        if need[0]:
            return "Too early to tell: there are no two swings to compare with. Pin some swings as before."
        return f"Too early to tell: {need[1]} more test swing{'s' if need[1] != 1 else ''} needed at least."
    if change.changed:
        note = " It was compared across two calibrations." if change.across_calibrations else ""
        return f"Changed.{note}"
    if change.more_swings:
        more = change.more_swings
        return f"Too early to tell; about {more} more swing{'s' if more != 1 else ''}."
    return "Not yet distinguishable from scatter."


def before_group(lesson: Lesson, swings: Sequence[Swing], drill: Block) -> list[Swing]:
    """The pinned swings, else the counting swings of the block's club before the drill began."""
    if lesson.pinned:
        pinned = [s for s in swings if str(s.id) in lesson.pinned]
        if pinned:
            return pinned
    earlier = [s for s in counting_swings(swings, drill.club) if s.captured_at <= drill.started_at]
    return [s for s in earlier if s.kind == "normal"]
