"""How a swing is made: angles at the moments that matter, in degrees, and how long it takes, in seconds."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace

import numpy as np

from finearc.golfer.trunk import BodyStyle

MOMENTS = ("address", "shaft_level_back", "arm_level_back", "top", "arm_level_down", "impact", "after", "finish")
"""``after`` is 0.1 s past impact."""


@dataclass(frozen=True)
class SwingStyle:
    """Lead-wrist extension and radial deviation (deg) at the eight ``MOMENTS``; ``shaft_top_deg`` shaft
    elevation at the top (+ short of level); ``dip_deg`` a fall toward flexion between takeaway and shaft level;
    ``hitch_deg`` how far the arm goes to and fro on the way back, an extreme picture of a stop-and-go takeaway;
    ``ball`` whether there is a strike; ``face_top_deg`` face elevation at the top; ``takeaway_in_deg`` how far the
    arm's plane tips and ``takeaway_roll_deg`` how far the forearm rolls by shaft level; ``length`` and ``through``: how
    far the arm goes back and through, of a full swing's, 1; ``body`` pelvis and thorax."""

    extension: tuple[float, ...] = (22, 22, 22, 21, 13, -10, 0, 14)
    deviation: tuple[float, ...] = (-23, 1, 8, 12, 13.5, -29, -20, 4)
    shaft_top_deg: float = 14.0
    backswing_s: float = 0.84
    downswing_s: float = 0.27
    dip_deg: float = 0.0
    hitch_deg: float = 0.0
    speed: float = 1.0
    ball: bool = True
    face_top_deg: float = 45.0
    face_impact_deg: float = 0.0
    path_deg: float = 2.5
    takeaway_in_deg: float = 44.0
    takeaway_roll_deg: float = 30.0
    length: float = 1.0
    through: float = 1.0
    body: BodyStyle = field(default_factory=BodyStyle)

    def scattered(
        self, rng: np.random.Generator, scale: float = 1.0, body_rng: np.random.Generator | None = None
    ) -> SwingStyle:
        """The same player's next swing: 1.5° scatter at each moment, a common part included."""
        extension = np.array(self.extension) + scale * (rng.normal(0, 1.0) + rng.normal(0, 1.1, 8))
        deviation = np.array(self.deviation) + scale * (rng.normal(0, 0.7) + rng.normal(0, 0.9, 8))
        return replace(
            self,
            extension=tuple(extension),
            deviation=tuple(deviation),
            shaft_top_deg=self.shaft_top_deg + scale * rng.normal(0, 2.0),
            backswing_s=self.backswing_s * (1 + scale * rng.normal(0, 0.015)),
            downswing_s=self.downswing_s * (1 + scale * rng.normal(0, 0.015)),
            body=self.body if body_rng is None else self.body.scattered(body_rng, scale),
        )

    def blend(self, other: SwingStyle, share: float) -> SwingStyle:
        """Between this style (0) and another (1): how a player who improves moves."""
        mixed: dict[str, object] = {}
        for f in fields(self):
            a, b = getattr(self, f.name), getattr(other, f.name)
            if isinstance(a, BodyStyle):
                mixed[f.name] = a.blend(b, share)
            elif isinstance(a, tuple):
                mixed[f.name] = tuple((1 - share) * x + share * y for x, y in zip(a, b, strict=True))
            elif isinstance(a, bool):
                mixed[f.name] = a
            else:
                mixed[f.name] = (1 - share) * a + share * b
        return replace(self, **mixed)  # type: ignore[arg-type]


HOLD = SwingStyle()
REGRIPPED = SwingStyle(extension=(37, 37, 37, 36, 28, 5, 15, 29))
FLAT = SwingStyle(extension=(20, 19, 12, 0, -3, -10, -1, 12))
EARLY_FLEX = SwingStyle(extension=(18, 17, 4, -15, -14, -11, -3, 10))
FLIP = SwingStyle(extension=(30, 30, 30, 30, 30, 31, 38, 30), deviation=(-22, 0, 6, 10, -4, -22, -14, 4))
OVER_EXTENDED = SwingStyle(extension=(24, 25, 30, 40, 32, 2, 12, 20))
OVER_HINGED = SwingStyle(
    extension=(24, 26, 33, 41, 36, 8, 16, 22), deviation=(-22, 4, 18, 31, 25, -23, -15, 5), shaft_top_deg=-4.0
)
DIP = SwingStyle(extension=(23, 8, 10, 22, 14, -9, 1, 14), dip_deg=4.0)
TAKEAWAY_EXTENSION = SwingStyle(extension=(20, 34, 36, 38, 28, 0, 8, 18))
PALM_GRIP = SwingStyle(extension=(3, 4, 3, 2, -2, -10, -2, 8), deviation=(-14, 6, 12, 14, 12, -16, -10, 4))
OVER_FLEXED = SwingStyle(extension=(20, 14, 2, -14, -16, -17, -9, 6))
EARLY_RELEASE = SwingStyle(extension=(22, 22, 22, 22, 18, 6, 12, 18), deviation=(-23, 0, 7, 11, -13, -23, -16, 4))
SHORT = SwingStyle(shaft_top_deg=40.0, backswing_s=0.66, downswing_s=0.28)
LONG = SwingStyle(shaft_top_deg=-9.0, backswing_s=0.95)
HALF_SPEED = SwingStyle(speed=0.5)
ROUGH = SwingStyle(hitch_deg=20.0)
