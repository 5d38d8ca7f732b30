"""Other laboratories' names of the same landmarks."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from functools import lru_cache

from finearc.catalogue.library import DATA
from finearc.core.markers.labels import Marker
from finearc.wording import tr


@lru_cache(maxsize=1)
def other_names() -> Mapping[str, tuple[str, ...]]:
    """Our label to the names it goes by elsewhere, right side included."""
    raw = tomllib.loads((DATA / "markers.toml").read_text(encoding="utf-8"))["names"]
    out: dict[str, tuple[str, ...]] = {}
    for ours, names in raw.items():
        out[ours] = tuple(names)
        if ours[0] == "L" and "R" + ours[1:] in set(Marker):
            out["R" + ours[1:]] = tuple(_right(n) for n in names)
    return out


def _right(name: str) -> str:
    if name.startswith("Left"):
        return "Right" + name[4:]
    return "R" + name[1:]


def _plain(label: str) -> str:
    return label.split(":")[-1].strip().upper().replace(".", "").replace("_", "").replace(" ", "")


def suggest(ours: str, labels: Sequence[str], taken: set[str]) -> str | None:
    """The file's label that seems to be ours, or None. A label under our own name comes first."""
    plain: dict[str, str] = {}
    for label in labels:
        if label not in taken:
            plain.setdefault(_plain(label), label)
    for name in (ours, *other_names().get(ours, ())):
        if _plain(name) in plain:
            return plain[_plain(name)]
    return None


@lru_cache(maxsize=1)
def _meanings() -> Mapping[str, str]:
    raw: dict[str, str] = tomllib.loads((DATA / "markers.toml").read_text(encoding="utf-8"))["meaning"]
    return raw


def meanings() -> Mapping[str, str]:
    """What our labels stand for, as it is kept."""
    return _meanings()


def meaning(label: str) -> str:
    """What one of our labels stands for, in words."""
    known = _meanings()
    if label in known:
        return tr(known[label], side=tr("left"))
    return tr(known["L" + label[1:]], side=tr("right"))
