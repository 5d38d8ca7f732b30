"""Videos of swings as they are answered."""

from __future__ import annotations

from finearc.api import models as m
from finearc.services.capture.clips import SwingClips


def clips_out(found: SwingClips) -> m.ClipsOut:
    """A swing's videos with the instant that ties them to it."""
    return m.ClipsOut(
        clips=[m.ClipOut.model_validate({**vars(c), "swing_impact_s": found.impact_s}) for c in found.clips]
    )
