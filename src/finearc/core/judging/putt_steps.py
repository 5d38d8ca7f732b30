"""Putts read in a fixed order: face and hands at address, extension, deviation, both together, rotation, the putter,
the distances side by side. One sentence a step, in standard and in plain words; nothing is a fault for being motion."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.events.model import Checkpoint
from finearc.core.judging.putt_distances import jump_of
from finearc.core.judging.putt_row import (
    ReadPutt,
    Row,
    Said,
    Step,
    StepRead,
    Tone,
    same,
    to_player,
)
from finearc.core.judging.ranges import Verdict
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import Metric, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.families.wrist import LEAD_WRIST_DEVIATION, LEAD_WRIST_EXTENSION
from finearc.core.metrics.words import amount, at_moment, direction, in_words
from finearc.core.putting.notes import Strike, strike_of
from finearc.core.putting.putter import TOWARD_HEEL_M, TOWARD_TOE_M, forgiven
from finearc.core.putting.wrists import order_in_words
from finearc.wording import mark, number, tr

ADDRESS, TRANSITION, IMPACT = (k.value for k in (Checkpoint.ADDRESS, Checkpoint.TRANSITION, Checkpoint.IMPACT))
STROKE, HANDLE = pm.STROKE, "address..transition"
SCALES_RAD = tuple(float(np.deg2rad(v)) for v in (5.0, 10.0, 20.0))
"""A graph reaches so far to either side, the same for every putt: the definition's."""
BIAS_RAD, ULNAR_RAD = float(np.deg2rad(3.0)), float(np.deg2rad(35.0))
AT_BALL_RAD_S, LITTLE_SHARE = float(np.deg2rad(12.0)), 0.25
"""A wrist is moving at the ball beyond this rate where less than this share of its motion sits in the transition."""
SQUARE_RAD, LEAST_M = float(np.deg2rad(0.05)), 0.001
"""Less than these is told as square, and as so much at most."""
HANDLE_M, OVER_M = 0.025, 0.01
"""The handle lifts where it rises by more than the one, or by more than the other above the pendulum (house values)."""
LIFTED_RAD, BEHIND_M = float(np.deg2rad(1.5)), -0.025
STILL_RAD = float(np.deg2rad(0.5))
MOST_IN_TRANSITION = 0.5


@dataclass(frozen=True)
class _Angle:
    """How an angle is spoken of: its noun, and what its motion tends to change."""

    noun: Said
    changes: str


ANGLES = {
    "extension": _Angle(Said("Extension", mark("Your wrist's cup")), mark("loft and speed")),
    "deviation": _Angle(
        Said(mark("Radial deviation"), mark("Your wrist's hinge")), mark("path and where the ball meets the face")
    ),
}


def read_row(row: Row) -> list[StepRead]:
    """The first six steps for the putts of one distance."""
    steps: tuple[tuple[Step, Callable[[Row], StepRead]], ...] = (
        (Step.ADDRESS, _address),
        (Step.EXTENSION, lambda r: _angle(r, Step.EXTENSION)),
        (Step.DEVIATION, lambda r: _angle(r, Step.DEVIATION)),
        (Step.TOGETHER, _together),
        (Step.ROTATION, _rotation),
        (Step.PUTTER, _putter),
    )
    if not row.putts:
        nothing = same(tr("No putt counts{at} yet.", at=row.at))
        return [StepRead(step, Tone.UNSEEN, nothing) for step, _ in steps]
    return [read(row) for _, read in steps]


def scale_of(putts: Sequence[ReadPutt], name: str) -> float:
    """How far, rad, the graphs of an angle reach to either side: the least of three that holds every putt."""
    went = [v.value for p in putts if (v := p.values.get((pm.LEAD.ranges[name].id, STROKE))) is not None]
    return next((s for s in SCALES_RAD if not went or max(went) <= s), SCALES_RAD[-1])


def _address(row: Row) -> StepRead:
    facts = (
        *row.fact(pm.PUTTER_FACE, ADDRESS),
        *row.fact(pm.FACE_GRIP_BIAS, ADDRESS, "noted"),
        *row.fact(LEAD_WRIST_EXTENSION, ADDRESS, "absolute"),
        *row.fact(LEAD_WRIST_DEVIATION, ADDRESS, "absolute"),
    )

    def read(tone: Tone, said: Said) -> StepRead:
        return StepRead(Step.ADDRESS, tone, said, facts, len(row.putts))

    bias = row.middle(pm.FACE_GRIP_BIAS, ADDRESS)
    if bias is not None and abs(bias) > BIAS_RAD:
        words = in_words(pm.FACE_GRIP_BIAS, bias)
        return read(
            Tone.LOOK,
            Said(
                tr(
                    "First the grip: the face sits {words} against the hands, so what follows means something else.",
                    words=words,
                ),
                tr(
                    "First the grip: the face sits {words} in your hands, so what follows means something else.",
                    words=words,
                ),
            ),
        )
    down = row.middle(LEAD_WRIST_DEVIATION, ADDRESS)
    if down is not None and -down > ULNAR_RAD:
        angle = amount(LEAD_WRIST_DEVIATION, down)
        return read(
            Tone.LOOK,
            Said(
                tr(
                    "The wrist starts {angle} ulnar; that tends to lock it, to arc the putter and to shut the face.",
                    angle=angle,
                ),
                tr(
                    "Your wrist starts {angle} unhinged; that tends to lock it, to arc the putter and to shut the "
                    "face.",
                    angle=angle,
                ),
            ),
        )
    face = row.middle(pm.PUTTER_FACE, ADDRESS) if _is_absolute(row) else None
    if face is not None:
        return read(*_aimed(row, face))
    if down is None:
        return read(Tone.UNSEEN, same(tr("Nothing here sees face or hands at address: look, and note what you see.")))
    stands = row.middle(LEAD_WRIST_EXTENSION, ADDRESS) or 0.0
    return read(
        Tone.SHOWN,
        Said(
            tr(
                "The hands start {in_words} and {in_words2}; nothing here sees the face.",
                in_words=in_words(LEAD_WRIST_EXTENSION, stands),
                in_words2=in_words(LEAD_WRIST_DEVIATION, down),
            ),
            tr(
                "Your hands start {in_words} and {in_words2}; nothing here sees the face.",
                in_words=in_words(LEAD_WRIST_EXTENSION, stands, plain=True),
                in_words2=in_words(LEAD_WRIST_DEVIATION, down, plain=True),
            ),
        ),
    )


def _is_absolute(row: Row) -> bool:
    return any(v.note == "absolute" for v in row.values(pm.PUTTER_FACE, ADDRESS))


def _aimed(row: Row, face: float) -> tuple[Tone, Said]:
    """The aim of the face beside what the hole forgives at this distance."""
    aim = in_words(pm.PUTTER_FACE, face) if abs(face) > SQUARE_RAD else tr("square")
    if row.distance_m is None:
        return Tone.SHOWN, same(tr("The face aims {aim} at address.", aim=aim))
    hole = forgiven(row.distance_m)
    room = f"{number(float(np.rad2deg(hole)), 1)}°"
    if abs(face) <= hole:
        return Tone.KEEP, same(
            tr(
                "The face aims {aim}, within the {room} either side that the hole forgives{at}.",
                aim=aim,
                room=room,
                at=row.at,
            )
        )
    return Tone.SHOWN, same(
        tr(
            "The face aims {aim}; the hole forgives {room} either side{at}. Look first what brings it back.",
            aim=aim,
            room=room,
            at=row.at,
        )
    )


def _angle(row: Row, step: Step) -> StepRead:
    name = step.value
    words, went_of, rate_of = ANGLES[name], pm.LEAD.ranges[name], pm.LEAD.rates[name]
    went = row.middle(went_of, STROKE)
    if went is None:
        return StepRead(step, Tone.UNSEEN, _unseen_wrist(words), (), len(row.putts))
    facts = (
        *row.fact(went_of, STROKE),
        *row.fact(pm.LEAD.at[name], TRANSITION),
        *row.fact(pm.LEAD.at[name], IMPACT),
        *row.fact(rate_of, IMPACT),
    )
    tone, said = _how_far(row, words, went_of, went)
    rate, share = row.middle(rate_of, IMPACT), row.middle(pm.TRANSITION_SHARE, STROKE)
    if tone is not Tone.LOOK and rate is not None and rate > AT_BALL_RAD_S and (share is None or share < LITTLE_SHARE):
        tone = Tone.LOOK
        said = _both(
            words.noun,
            tr(
                "is still moving at {amount} at the ball; that tends to change {changes}.",
                amount=amount(rate_of, rate),
                changes=words.changes,
            ),
        )
    return StepRead(step, tone, said, facts, len(row.values(went_of, STROKE)))


def _how_far(row: Row, words: _Angle, metric: Metric, went: float) -> tuple[Tone, Said]:
    verdict, judged = row.outside(metric, STROKE)
    told = amount(metric, went)
    if verdict is Verdict.HIGH and judged is not None:
        band = limits_in_words(metric, judged.low, judged.high).removesuffix(tr(" in all"))
        return Tone.LOOK, _both(
            words.noun,
            tr(
                "goes through {told}{at}, the band is {band}; that tends to change {changes}.",
                told=told,
                at=row.at,
                band=band,
                changes=words.changes,
            ),
        )
    if verdict is Verdict.LOW:
        return Tone.SHOWN, _both(
            words.noun,
            tr(
                "goes through {told} only{at}: little of the speed comes from loading the putter.", told=told, at=row.at
            ),
        )
    if went < STILL_RAD:
        return Tone.KEEP, _both(words.noun, tr("stays still{at}: {told} in all.", at=row.at, told=told))
    if verdict is Verdict.IN_RANGE and jump_of(row.putts) is None:
        return Tone.KEEP, _both(words.noun, tr("goes through {told}{at}: keep this.", told=told, at=row.at))
    return Tone.SHOWN, _both(words.noun, tr("goes through {told}{at}.", told=told, at=row.at))


def _both(noun: Said, rest: str) -> Said:
    return Said(f"{noun.text} {rest}", f"{noun.plain} {rest}")


def _unseen_wrist(words: _Angle) -> Said:
    return _both(words.noun, tr("is not seen: forearm and hand sensors on the lead arm would show it."))


def _together(row: Row) -> StepRead:
    orders = Counter(order_in_words(p.order) for p in row.putts)
    share = row.middle(pm.TRANSITION_SHARE, STROKE)
    seen = len(row.values(pm.EXTENSION_RANGE, STROKE))
    if not seen:
        return StepRead(
            Step.TOGETHER,
            Tone.UNSEEN,
            same(tr("What the wrist does first is not seen: forearm and hand sensors on the lead arm would show it.")),
            (),
            len(row.putts),
        )
    facts = (
        *row.fact(pm.TRANSITION_SHARE, STROKE),
        *(f for name in pm.LEAD.onsets for f in row.fact(pm.LEAD.onsets[name], STROKE)),
        *row.fact(pm.HANDLE_LIFT, HANDLE, "absolute"),
    )
    order, times = orders.most_common(1)[0]
    often = "" if times == seen == 1 else tr(" ({times} of {seen})", times=times, seen=seen)
    lifted = _lifted(row)
    if lifted is not None:
        return StepRead(Step.TOGETHER, Tone.LOOK, lifted, facts, seen)
    if not order:
        said = same(tr("Nothing of the wrist begins to move beyond what it varies by at address."))
        return StepRead(Step.TOGETHER, Tone.KEEP, said, facts, seen)
    where, tone = "", Tone.SHOWN
    if share is not None:
        where = tr("; {value:.0f} % of the motion sits in the transition", value=100.0 * share)
        tone = Tone.KEEP if share >= MOST_IN_TRANSITION else Tone.LOOK if _moves_at_ball(row, share) else Tone.SHOWN
    said = Said(
        tr("The {order}{often}{where}.", order=order, often=often, where=where),
        tr("Your {in_plain_words}{often}{where}.", in_plain_words=in_plain_words(order), often=often, where=where),
    )
    return StepRead(Step.TOGETHER, tone, said, facts, seen)


def most_common_order(row: Row) -> Said | None:
    """In which order the wrist's motions begin in most of the putts; None where nothing was seen to begin."""
    orders = Counter(said for p in row.putts if (said := order_in_words(p.order)))
    if not orders:
        return None
    order = orders.most_common(1)[0][0]
    return Said(order, in_plain_words(order))


def _moves_at_ball(row: Row, share: float) -> bool:
    rates = [row.middle(pm.LEAD.rates[name], IMPACT) or 0.0 for name in ("extension", "deviation")]
    return share < LITTLE_SHARE and max(rates) > AT_BALL_RAD_S


def _lifted(row: Row) -> Said | None:
    """Extended and radial going back, with the handle lifted as far as that is seen."""
    bent = [row.middle(pm.LEAD.at[name], TRANSITION) or 0.0 for name in ("extension", "deviation")]
    if min(bent) <= LIFTED_RAD:
        return None
    lift, up = row.middle(pm.HANDLE_LIFT, HANDLE), row.middle(pm.GRIP_END_UP, TRANSITION)
    if lift is not None and lift <= HANDLE_M and (up is None or up <= OVER_M):
        return None
    handle = tr("look whether the handle lifts") if lift is None else tr("with that the handle lifts")
    extended, radial = (
        at_moment(pm.LEAD.at[name], TRANSITION, bent[k]) for k, name in enumerate(("extension", "deviation"))
    )
    cupped, hinged = (
        at_moment(pm.LEAD.at[name], TRANSITION, bent[k], plain=True)
        for k, name in enumerate(("extension", "deviation"))
    )
    return Said(
        tr(
            "Going back the wrist goes {extended} and {radial}: {handle}.",
            extended=extended,
            radial=radial,
            handle=handle,
        ),
        tr("Going back your wrist goes {cupped} and {hinged}: {handle}.", cupped=cupped, hinged=hinged, handle=handle),
    )


PLAIN_ORDER = {
    "extends": mark("cups"),
    "flexes": mark("bows"),
    "goes radial": mark("hinges"),
    "goes ulnar": mark("unhinges"),
    "turns closed": mark("rolls closed"),
    "turns open": mark("rolls open"),
}


def in_plain_words(order: str) -> str:
    """An order of movement (``core.putting.wrists.order_in_words``) in plain words."""
    for standard, plain in PLAIN_ORDER.items():
        order = order.replace(tr(standard), tr(plain))
    return order


def _rotation(row: Row) -> StepRead:
    went = row.middle(pm.ROLL_RANGE, STROKE)
    if went is None:
        said = same(tr("The hand's rotation is not seen: a sensor on the lead hand would show it."))
        return StepRead(Step.ROTATION, Tone.UNSEEN, said, (), len(row.putts))
    facts = (
        *row.fact(pm.ROLL_RANGE, STROKE),
        *row.fact(pm.ROLL_AT, TRANSITION),
        *row.fact(pm.ROLL_AT, IMPACT),
        *row.fact(pm.ROLL_RATE, IMPACT),
        *row.fact(pm.PUTTER_FACE, IMPACT),
    )
    verdict, judged = row.outside(pm.ROLL_RANGE, STROKE)
    told = amount(pm.ROLL_RANGE, went)
    turned = row.middle(pm.ROLL_AT, TRANSITION) or 0.0
    way = direction(pm.ROLL_AT, turned, plain=False)
    way = tr(", {way} going back", way=way) if abs(turned) > STILL_RAD else ""
    tone, rest = Tone.SHOWN, "."
    if judged is not None:
        band = limits_in_words(pm.ROLL_RANGE, judged.low, judged.high).removesuffix(tr(" in all"))
        tone = Tone.KEEP if verdict is Verdict.IN_RANGE else Tone.SHOWN
        rest = (
            tr(": keep this.") if verdict is Verdict.IN_RANGE else tr("; common{at} is {band}.", at=row.at, band=band)
        )
    said = to_player(tr("The hand turns through {told}{at}{way}{rest}", told=told, at=row.at, way=way, rest=rest))
    return StepRead(Step.ROTATION, tone, said, facts, len(row.values(pm.ROLL_RANGE, STROKE)))


def _putter(row: Row) -> StepRead:
    head = row.middle(pm.SWEET_SPOT_DEVIATION, STROKE)
    if head is None:
        return _without_putter(row)
    grip = row.middle(pm.GRIP_END_DEVIATION, STROKE) or 0.0
    facts = (
        *row.fact(pm.SWEET_SPOT_DEVIATION, STROKE),
        *row.fact(pm.GRIP_END_DEVIATION, STROKE),
        *row.fact(pm.PIVOT_HEIGHT, STROKE),
        *row.fact(pm.PUTTER_FACE, IMPACT),
        *row.fact(pm.PUTTER_PATH, IMPACT),
    )
    over, note = len(row.values(pm.SWEET_SPOT_DEVIATION, STROKE)), row.notes(pm.PIVOT_HEIGHT, STROKE)

    def read(tone: Tone, text: str, plain: str) -> StepRead:
        return StepRead(Step.PUTTER, tone, Said(text, plain), facts, over, note)

    behind = row.middle(pm.GRIP_END_ALONG, IMPACT)
    if behind is not None and behind < BEHIND_M:
        told = amount(pm.GRIP_END_ALONG, behind)
        return read(
            Tone.LOOK,
            tr(
                "At the ball the grip end is {told} behind the free pendulum; that tends to move the strike and add "
                "loft.",
                told=told,
            ),
            tr(
                "At the ball the handle is {told} behind a free pendulum; that tends to move the strike and add loft.",
                told=told,
            ),
        )
    out = row.middle(pm.SWEET_SPOT_OUT, IMPACT)
    if out is not None and not TOWARD_TOE_M <= out <= TOWARD_HEEL_M:
        told, side = in_words(pm.SWEET_SPOT_OUT, out), tr("toe") if out < 0 else tr("heel")
        return read(
            Tone.LOOK,
            tr(
                "At the ball the sweet spot is {told} the free pendulum: struck toward the {side}.",
                told=told,
                side=side,
            ),
            tr(
                "At the ball the putter head is {told} a free pendulum: struck toward the {side}.", told=told, side=side
            ),
        )
    apart = amount(pm.SWEET_SPOT_DEVIATION, max(head, grip, LEAST_M))
    return read(
        Tone.KEEP,
        tr(
            "Sweet spot and grip end stay within {apart} of the free pendulum, and the strike is central: keep this.",
            apart=apart,
        ),
        tr(
            "Putter head and handle stay within {apart} of a free pendulum, and the strike is central: keep this.",
            apart=apart,
        ),
    )


UNSEEN_PUTTER = mark("These sensors cannot see the putter against its pendulum: markers on it would show it.")
UNMEASURED = mark(
    "Note the putter's length, and its sensor shows it against its pendulum, where the finish is held still."
)


def _has_sensor(row: Row) -> bool:
    return any(v.source == Source.PUTTER for p in row.putts for v in p.values.values())


def _without_putter(row: Row) -> StepRead:
    """What the wrist hints at, where nothing sees the putter."""
    hints: Counter[str] = Counter(s.side for s in _hints(row))
    side, times = hints.most_common(1)[0] if hints else ("centre", 0)
    if side == "centre" or 2 * times < len(row.putts):
        said = same(tr(UNMEASURED) if _has_sensor(row) else tr(UNSEEN_PUTTER))
        return StepRead(Step.PUTTER, Tone.UNSEEN, said, (), len(row.putts))
    standard, plain = (tr("from ulnar to radial"), "up") if side == "heel" else (tr("from radial to ulnar"), "down")
    hint = tr("a hint of a strike toward the {side}. The putter is not seen.", side=side)
    return StepRead(
        Step.PUTTER,
        Tone.SHOWN,
        Said(
            tr("The wrist goes {standard} through the stroke: {hint}", standard=standard, hint=hint),
            tr("Your wrist hinges {plain} as you putt: {hint}", plain=plain, hint=hint),
        ),
        tuple(row.fact(pm.DEVIATION_AT, TRANSITION) + row.fact(pm.DEVIATION_AT, IMPACT)),
        len(row.putts),
    )


def _hints(row: Row) -> list[Strike]:
    return [s for p in row.putts if (s := strike_of(p.values)) is not None]
