"""Marker presets: what an academy's laboratory calls its markers, remembered."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence

from finearc.services.ports import UnitOfWork
from finearc.services.records import MadeOf, MarkerPreset, Player, now


def label_key(labels: Sequence[str]) -> str:
    """The same for the same set of labels, whatever their order."""
    return hashlib.sha256("\n".join(sorted(labels)).encode()).hexdigest()


def preset_for(uow: UnitOfWork, labels: Sequence[str], handedness: str) -> MarkerPreset | None:
    """The mapping last used for files with these labels and a player of this hand."""
    found = uow.find(MarkerPreset, label_key=label_key(labels), handedness=handedness, order="-used_at")
    return found[0] if found else None


def remember(
    uow: UnitOfWork,
    labels: Sequence[str],
    handedness: str,
    names: Mapping[str, str],
    axes: Mapping[str, str],
    name: str,
    player: Player,
) -> MarkerPreset:
    """Keep a mapping that worked on a file of this player; a newer one for the same labels takes its place."""
    preset = preset_for(uow, labels, handedness)
    if preset is None:
        preset = MarkerPreset(uow.academy_id, name, label_key(labels), handedness)
        uow.add(preset)
    if not uow.find(MadeOf, of_id=preset.id, player_id=player.id):
        uow.add(MadeOf(uow.academy_id, "preset", preset.id, player.id))
    preset.name, preset.names, preset.axes, preset.used_at = name, dict(names), dict(axes), now()
    uow.flush()
    return preset
