"""The texts of the application and the catalogues of its languages.

``python tools/words.py`` gathers every text of the code, the interface, the reports and the data files, and brings
each language's catalogue, ``catalogues/*.po``, up to date: what it lacks stands there empty, what nobody asks for any
more goes. English needs none: each text is its own key. ``--check`` changes nothing and says what is missing."""

from __future__ import annotations

import ast
import json
import re
import subprocess
import sys
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.pofile import read_po, write_po

from finearc.catalogue.texts import data_texts
from finearc.golfer.putting.scenarios import PUTTING
from finearc.golfer.scenarios import SCENARIOS
from finearc.wording import LANGUAGES
from finearc.wording.texts import CATALOGUES

ROOT = Path(__file__).parent.parent
SRC = ROOT / "src" / "finearc"
ASKED = {"tr", "trn", "mark"}
IN_PAGE = re.compile(r"""\{\{\s*trn?\(\s*("(?:[^"\\]|\\.)*")\s*(?:,\s*("(?:[^"\\]|\\.)*"))?""")
Key = str | tuple[str, str]
BEGUN = datetime(2026, 12, 1, tzinfo=UTC)


def of_python() -> Iterator[tuple[Key, str]]:
    """What the code asks for, written out where it is asked."""
    for path in sorted(SRC.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ASKED:
                texts = [a.value for a in node.args[: 2 if node.func.id == "trn" else 1] if isinstance(a, ast.Constant)]
                if texts and texts[0]:
                    yield (texts[0] if len(texts) == 1 else (texts[0], texts[1])), f"src/{path.relative_to(SRC.parent)}"


def of_pages() -> Iterator[tuple[Key, str]]:
    """What the templates of the reports ask for."""
    for path in sorted((SRC / "reports").glob("*.html")):
        for one, many in IN_PAGE.findall(path.read_text(encoding="utf-8")):
            yield (
                (json.loads(one) if not many else (json.loads(one), json.loads(many))),
                f"src/finearc/reports/{path.name}",
            )


def of_interface() -> Iterator[tuple[Key, str]]:
    """What the screens ask for, as TypeScript's own parser reads it."""
    said = subprocess.run(["node", "scripts/words.mjs"], cwd=ROOT / "web", capture_output=True, text=True, check=True)
    for found in json.loads(said.stdout):
        yield ((found["one"], found["many"]) if found["many"] else found["one"]), f"web/src/{found['file']}"


def of_stand_ins() -> Iterator[tuple[Key, str]]:
    """What the simulated players do."""
    for name, story in ({k: s for k, s in SCENARIOS.items() if s.styles} | dict(PUTTING)).items():
        yield from ((text, f"stand-ins: {name}") for text in (name.replace("-", " "), story.about))


def gathered() -> dict[Key, list[str]]:
    """Every text with where it stands."""
    found: dict[Key, list[str]] = {}
    for source in (
        of_python(),
        of_pages(),
        of_interface(),
        of_stand_ins(),
        ((k, f"catalogue: {of}") for k, of in data_texts().items()),
    ):
        for key, where in source:
            places = found.setdefault(key, [])
            if where not in places:
                places.append(where)
    plural = {key[0] for key in found if isinstance(key, tuple)}
    return {k: v for k, v in found.items() if isinstance(k, tuple) or k not in plural}


def catalogue_of(language: str) -> Catalog:
    """The language's catalogue as it is kept."""
    path = CATALOGUES / f"{language}.po"
    if not path.exists():
        return Catalog(locale=language)
    with path.open("rb") as file:
        return read_po(file, locale=language)


def filled(known: Catalog, texts: dict[Key, list[str]], language: str | None) -> Catalog:
    """The texts, with what is known of them."""
    # dates would change with every run: what matters is in the history
    made = Catalog(locale=language, project="Fine Arc", charset="utf-8", fuzzy=False, creation_date=BEGUN)
    made.revision_date = BEGUN
    made.header_comment = f"# {language}: what Fine Arc says, by the English text."
    made.msgid_bugs_address = made.last_translator = made.language_team = "Fine Arc"
    for key in sorted(texts, key=lambda k: k if isinstance(k, str) else k[0]):
        old = known.get(key[0] if isinstance(key, tuple) else key)
        made.add(
            key,
            old.string if old is not None and isinstance(old.id, str) == isinstance(key, str) else None,
            locations=[(where.replace(" ", "_"), None) for where in sorted(texts[key])],
            flags=["python-brace-format"] if "{" in str(key) else [],
        )
    return made


def lacking(known: Catalog, texts: dict[Key, list[str]]) -> list[Key]:
    """What a catalogue does not say."""
    out = []
    for key in texts:
        message = known.get(key[0] if isinstance(key, tuple) else key)
        strings = [] if message is None else [message.string] if isinstance(message.string, str) else message.string
        if not strings or not all(strings):
            out.append(key)
    return out


def main() -> int:
    texts = gathered()
    code = 0
    for language in LANGUAGES:
        if language == "en":
            continue
        known = catalogue_of(language)
        missing = lacking(known, texts)
        if "--check" not in sys.argv:
            with (CATALOGUES / f"{language}.po").open("wb") as file:
                write_po(file, filled(known, texts, language), width=120, include_previous=False, omit_header=False)
        print(f"{language}: {len(texts)} texts, {len(missing)} missing")
        code |= bool(missing)
    return code if "--check" in sys.argv else 0


if __name__ == "__main__":
    sys.exit(main())
