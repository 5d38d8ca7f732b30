"""Errors of the core. Each is a type that carries its values; the message says what was expected,
what was found and what to do. Nobody matches on the text."""

from __future__ import annotations

from dataclasses import dataclass

from finearc.wording import tr


class FineArcError(Exception):
    """Base of all errors that a person can do something about."""

    code = "unusable"

    def __str__(self) -> str:  # pragma: no cover - every subclass says its own
        return self.__class__.__name__


@dataclass
class StreamError(FineArcError):
    """A sensor stream cannot be used."""

    source: str
    problem: str
    place: str = ""
    advice: str = ""
    code = "stream"

    def __str__(self) -> str:
        place = f", {self.place}" if self.place else ""
        advice = f". {self.advice}" if self.advice else ""
        return f"{self.source}{place}: {self.problem}{advice}"


@dataclass
class MissingStream(FineArcError):
    """The sources needed for any measurement are not there."""

    needed: str
    present: str
    code = "missing_stream"

    def __str__(self) -> str:
        return tr(
            "streams: {needed} needed, only {value} present. Add the missing sensor's stream to the capture.",
            needed=self.needed,
            value=self.present or tr("none"),
        )


@dataclass
class CalibrationRefused(FineArcError):
    """The poses cannot give trustworthy angles, so no angle is given."""

    reason: str
    advice: str
    pose: str = "calibration"
    code = "calibration_refused"

    def __str__(self) -> str:
        return f"{self.pose}: {self.reason}. {self.advice}"


@dataclass
class NoSwingFound(FineArcError):
    """The capture holds no movement that is a golf swing."""

    fastest_deg_s: float
    needed_deg_s: float
    what: str = "hand"
    code = "no_swing"

    def __str__(self) -> str:
        return tr(
            "no swing found: the {what} turned at most {fastest_deg_s:.0f} deg/s, a swing needs {needed_deg_s:.0f}. "
            'Capture at least one swing, or name it under "swings" in capture.json.',
            what=self.what,
            fastest_deg_s=self.fastest_deg_s,
            needed_deg_s=self.needed_deg_s,
        )
