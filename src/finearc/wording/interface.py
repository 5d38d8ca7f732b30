"""What of a language's catalogue the interface takes: the texts of its sources, and of the player's page alone."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

from finearc.wording.manner import LANGUAGES
from finearc.wording.texts import catalogue

PHONE = ("web/src/features/practice/", "web/src/practice.tsx", "web/src/lib/")
"""Where the texts stand that the player's own page says."""
FORMS = {"es": ("one", "many", "other")}
"""The plural forms of a language in the order of its catalogue, by their names in Unicode CLDR."""


def _words(language: str, wanted: Callable[[str], bool]) -> dict[str, str]:
    """Texts with their translations; those with plural forms once a form, as the names of CLDR have it."""
    found: dict[str, str] = {}
    for message in catalogue(language):
        if not message.id or not any(wanted(path) for path, _ in message.locations):
            continue
        if isinstance(message.id, str):
            said = {message.id: str(message.string or "")}
        else:
            said = {
                f"{message.id[0]}_{form}": text
                for form, text in zip(FORMS[language], message.string or (), strict=True)
            }
        found |= {key: text for key, text in said.items() if text}
    return found


def write_words(folder: Path) -> None:
    """The interface's words of each language beside English, which is its own."""
    folder.mkdir(parents=True, exist_ok=True)
    for language in (k for k in LANGUAGES if k != "en"):
        for name, wanted in (
            (language, lambda path: path.startswith("web/")),
            (f"practice.{language}", lambda path: path.startswith(PHONE)),
        ):
            words = json.dumps(_words(language, wanted), ensure_ascii=False, indent=0, sort_keys=True)
            (folder / f"{name}.json").write_text(words, encoding="utf-8")
