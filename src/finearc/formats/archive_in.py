"""An export read back: whole, checked against its own list of files, with ids of its own."""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
import zlib
from collections.abc import Mapping
from typing import Annotated, Any
from uuid import uuid4

from pydantic import BaseModel, Field, ValidationError

from finearc.formats.archive import VERSION
from finearc.formats.archive_check import UNREADABLE, check_lesson, check_part, check_rounds
from finearc.formats.errors import BundleError
from finearc.services.people.bringing import Brought, BroughtLesson
from finearc.services.ports import RawCodec
from finearc.wording import mark, tr

OLDEST = 3
MOST_UNPACKED = 800_000_000
"""Bytes: what fits, twice over, into the memory that reading a file is given (house value)."""
MOST_MANIFEST = 50_000_000
CUT = mark("It may have been cut off: export it again, and bring the whole file")
ID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
DAMAGES = (zipfile.BadZipFile, KeyError, NotImplementedError, OSError, EOFError, ValueError, zlib.error)


class _Listed(BaseModel):
    """A file of the export, as its manifest names it."""

    name: str
    bytes: Annotated[int, Field(ge=0)]
    sha256: str


class _Manifest(BaseModel):
    format: str
    version: int
    files: list[_Listed] = []


def read_archive(name: str, content: bytes, codec: RawCodec) -> Brought:
    """The export of a lesson or a player, every id in it replaced by a new one, so that it can stand beside the
    original; what is kept of it was read by ``codec`` and by this release. Raises ``BundleError``; nothing is kept
    anywhere."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(content))
    except DAMAGES:
        raise BundleError(name, tr("not a zip file, or cut off"), advice=tr(CUT)) from None
    with archive:
        manifest = _manifest(archive, name)
        files = _checked(archive, name, manifest)
    fresh: dict[str, str] = {}

    def renamed(text: str) -> str:
        return ID.sub(lambda found: fresh.setdefault(found[0], str(uuid4())), text)

    def document(file: str) -> Any:
        return json.loads(renamed(files[file].decode("utf-8")))

    try:
        lessons = [_lesson(f, files, document, fresh) for f in sorted(files) if f.endswith("lesson.json")]
        player = document("player.json") if "player.json" in files else None
        references = {
            fresh[f.removeprefix("references/").removesuffix(".fat1")]: files[f]
            for f in files
            if f.startswith("references/") and f.removeprefix("references/").removesuffix(".fat1") in fresh
        }
        logs = {fresh[x["id"]]: files[x["file"]] for x in _raw(files).get("round_logs", [])}
        check_rounds(name, player or {}, logs, codec)
        for lesson in lessons:
            check_lesson(name, lesson, codec)
        for block in references.values():
            check_part(name, tr("block traces"), block)
    except UNREADABLE as error:
        raise BundleError(name, tr("not as an export is ({str})", str=str(error)[:80]), advice=tr(CUT)) from None
    return Brought(player, lessons, references, logs)


def _raw(files: Mapping[str, bytes]) -> Mapping[str, Any]:
    """The record of the player with the ids that it came with."""
    found = json.loads(files["player.json"]) if "player.json" in files else {}
    return found if isinstance(found, dict) else {}


def _manifest(archive: zipfile.ZipFile, name: str) -> _Manifest:
    try:
        with archive.open("manifest.json") as entry:
            manifest = _Manifest.model_validate_json(entry.read(MOST_MANIFEST))
    except (*DAMAGES, ValidationError):
        raise BundleError(name, tr("no export of Fine Arc, or cut off"), advice=tr(CUT)) from None
    version = manifest.version
    if manifest.format != "finearc-archive":
        raise BundleError(name, tr("no export of Fine Arc"), advice=tr("Choose the export of a lesson or of a player"))
    if version > VERSION:
        raise BundleError(
            name,
            tr("made by a newer Fine Arc (version {version})", version=version),
            advice=tr("Bring this one up to date first"),
        )
    if version < OLDEST:
        raise BundleError(
            name, tr("of version {version}, which lacks what is kept", version=version), advice=tr("Export it again")
        )
    return manifest


def _checked(archive: zipfile.ZipFile, name: str, manifest: _Manifest) -> dict[str, bytes]:
    """Every file that the export lists, with the checksum that it lists."""
    if sum(f.bytes for f in manifest.files) > MOST_UNPACKED:
        raise BundleError(
            name,
            tr("larger than {value:.0f} MB unpacked", value=MOST_UNPACKED / 1000000.0),
            advice=tr("Bring lesson by lesson"),
        )
    out = {}
    for f in manifest.files:
        try:
            with archive.open(f.name) as entry:
                content = entry.read(f.bytes + 1)
        except DAMAGES:
            raise BundleError(f.name, tr("missing or damaged inside {name}", name=name), advice=tr(CUT)) from None
        if hashlib.sha256(content).hexdigest() != f.sha256:
            raise BundleError(f.name, tr("other than {name} says of it", name=name), advice=tr(CUT))
        out[f.name] = content
    return out


def _lesson(file: str, files: Mapping[str, bytes], document: Any, fresh: Mapping[str, str]) -> BroughtLesson:
    folder = file.removesuffix("lesson.json")
    raw = json.loads(files[file])
    record = document(file)
    return BroughtLesson(
        record,
        {fresh[c["id"]]: files[folder + c["file"]] for c in raw["chunks"]},
        {fresh[k]: {p: files[folder + f] for p, f in parts.items()} for k, parts in raw["kept"].items()},
        {fresh[c["id"]]: files[folder + c["file"]] for c in raw["clips"]},
    )
