"""Two instructors and a dozen invented players, each with a story that the data really shows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from finearc.golfer import bodies as bd, style as st
from finearc.golfer.style import SwingStyle
from finearc.services.people.roles import Role

ACADEMY = "Harbour Loft Golf"
PASSWORD = "arc-demo"
INSTRUCTORS = (("Mara Tidewell", "mara@harbour.example"), ("Jonas Quill", "jonas@harbour.example"))
OTHERS = (
    ("Edda Moorfield", "edda@harbour.example", Role.ASSISTANT),
    ("Big screen", "screen@harbour.example", Role.VIEWER),
)
"""Who works there beside them; the first instructor owns the academy."""


@dataclass(frozen=True)
class Story:
    """A player's ten weeks, or another part of them: in which weeks they came, and how their swing moved between two
    styles.

    ``path``: one (week, share of the way from ``first`` to ``last``) a lesson. ``limits``: (area, side, movement,
    note), going ``comfortable`` degrees in comfort. ``tag`` marks the swings. ``ball``: (start, curve) that goes with
    the fault. ``closing``: (finding, drill) chosen. ``putts``: the golfer model's putting story of each lesson, of a
    player who comes for putting.
    """

    name: str
    hand: str
    first: SwingStyle
    last: SwingStyle
    path: tuple[tuple[int, float], ...]
    about: str
    goals: str
    usual_miss: str
    population: str = "adult"
    height_m: float = 1.76
    school: str = "hold"
    club: str = "7-iron"
    instructor: int = 0
    limits: tuple[tuple[str, str, str, str], ...] = ()
    comfortable: float | None = None
    ball: tuple[str, str] = ("straight", "straight")
    closing: Sequence[tuple[str, str]] = field(default_factory=tuple)
    functional: bool = False
    guardian: bool = False
    sources: tuple[str, ...] = ("wrist", "club")
    tag: str = ""
    putts: tuple[str, ...] = ()


STORIES: tuple[Story, ...] = (
    Story(
        "Ilse Marrow",
        "right",
        st.OVER_EXTENDED,
        st.HOLD,
        ((1, 0.0), (3, 0.14), (6, 0.28), (9, 0.42)),
        "Improves: the wrist cups less at the top, lesson by lesson.",
        "Start lines that hold with the irons.",
        "Starts to the right, stays there.",
        height_m=1.71,
        ball=("trail", "straight"),
        closing=(("over_extended_top", "peg_pointer"),),
    ),
    Story(
        "Tobin Askew",
        "right",
        replace(st.FLIP, body=bd.LATE_RETURN),
        replace(st.FLIP, body=bd.LATE_RETURN),
        ((2, 0.0), (5, 0.0), (8, 0.0)),
        "Does not improve yet: the strike stays cupped, and the pressure comes back late.",
        "More distance with the mid-irons.",
        "High and weak.",
        ball=("straight", "trail"),
        closing=(("late_pressure_return", "step_drill"), ("early_release", "pump")),
        instructor=1,
        sources=("wrist", "club", "pressure"),
    ),
    Story(
        "Corin Hale",
        "right",
        st.TAKEAWAY_EXTENSION,
        st.HOLD,
        ((4, 0.50), (7, 0.55)),
        "Within noise: the change cannot be told from scatter.",
        "A steadier takeaway.",
        "Now and then a slice.",
        ball=("straight", "trail"),
        closing=(("takeaway_extension", "slow_takeaway"),),
    ),
    Story(
        "Wenna Larkspur",
        "left",
        st.DIP,
        st.HOLD,
        ((2, 0.0), (6, 0.4)),
        "Left-handed, with the dip in the takeaway.",
        "One ball flight instead of two.",
        "Both sides.",
        ball=("lead", "straight"),
        closing=(("takeaway_dip", "slow_takeaway"),),
        instructor=1,
        sources=("wrist", "club", "markers", "pressure"),
    ),
    Story(
        "Pip Fennimore",
        "right",
        st.OVER_HINGED,
        st.HOLD,
        ((3, 0.1),),
        "A junior: patterns are shown, nothing is judged.",
        "Enjoy it, and hit the far net.",
        "All over.",
        population="junior",
        height_m=1.42,
        guardian=True,
        instructor=1,
    ),
    Story(
        "Osric Venn",
        "right",
        st.HOLD,
        st.HOLD,
        ((5, 0.0), (8, 0.0)),
        "A stiff forearm: calibrated by movement.",
        "Keep playing without soreness.",
        "None in particular.",
        functional=True,
        limits=(("forearm", "lead", "pronation", "Old break; the forearm cannot lie palm down."),),
    ),
    Story(
        "Halle Brandreth",
        "right",
        replace(st.SHORT, body=bd.SHORT_EARLY_TURN, path_deg=-6.0),
        replace(st.SHORT, body=bd.SHORT_EARLY_TURN, path_deg=-6.0),
        ((4, 0.0), (9, 0.0)),
        "A tight back: no drill asks for more turn.",
        "Comfortable eighteen holes.",
        "A slice, short.",
        height_m=1.68,
        limits=(("back", "", "turn", "Comfortable turn is 61°; we work inside it."),),
        comfortable=61.0,
        ball=("straight", "trail"),
        closing=(("short_early_turn", "trail_foot_out"),),
        sources=("wrist", "club", "body", "pressure"),
    ),
    Story(
        "Dario Penhollow",
        "right",
        st.EARLY_FLEX,
        st.EARLY_FLEX,
        ((3, 0.0),),
        "Plays the early-flex school well: nothing to change.",
        "Keep what works.",
        "None.",
        school="early_flex",
        height_m=1.85,
        tag="skilled",
    ),
    Story(
        "Signe Varley",
        "right",
        st.PALM_GRIP,
        st.HOLD,
        ((6, 0.0),),
        "The grip may sit in the palm.",
        "A stronger strike.",
        "Pushes.",
        ball=("trail", "straight"),
        closing=(("palm_grip", "regrip_fingers"),),
        instructor=1,
    ),
    Story(
        "Bram Oakhollow",
        "right",
        bd.with_body(bd.EARLY_EXTENSION),
        bd.with_body(bd.SKILLED),
        ((7, 0.0), (9, 0.15)),
        "The pelvis moves toward the ball coming down; seen by cameras.",
        "More club speed.",
        "Pushes, now and then a hook.",
        ball=("trail", "straight"),
        closing=(("early_extension", "wall_behind"),),
        height_m=1.82,
        sources=("markers",),
    ),
    Story(
        "Edda Thistlewood",
        "right",
        st.LONG,
        st.HOLD,
        ((8, 0.1),),
        "A senior with a long backswing: pattern shown, not judged.",
        "Less effort.",
        "Thin ones.",
        population="senior",
        height_m=1.63,
    ),
    Story(
        "Rufus Callender-Finch",
        "right",
        st.FLAT,
        st.FLAT,
        ((5, 0.0),),
        "Plays flat at the top.",
        "Control the trajectory.",
        "None.",
        school="flat",
        height_m=1.79,
        tag="skilled",
        instructor=1,
    ),
    Story(
        "Signe Varley",
        "right",
        st.HOLD,
        st.HOLD,
        ((4, 0.0), (9, 1.0)),
        "Putting: the wrist that worked at three metres has become quiet.",
        "Hole the short ones.",
        "Short putts to the left.",
        club="putter",
        instructor=1,
        closing=(("putt_wristy_short", "putt_one_handed"),),
        sources=("wrist", "markers"),
        putts=("putt-wristy", "putt-quiet"),
    ),
)
