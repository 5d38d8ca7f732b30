"""Errors of the core. Each is a type that carries its values; the message says what was expected,
what was found and what to do. Nobody matches on the text."""

from __future__ import annotations

from dataclasses import dataclass


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
        return (
            f"streams: {self.needed} needed, only {self.present or 'none'} present. "
            "Add the missing sensor's stream to the capture."
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
        return (
            f"no swing found: the {self.what} turned at most {self.fastest_deg_s:.0f} deg/s, "
            f"a swing needs {self.needed_deg_s:.0f}. Capture at least one swing, "
            'or name it under "swings" in capture.json.'
        )
