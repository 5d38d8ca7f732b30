"""Reading and writing capture bundles: a folder, or a zip of it."""

from __future__ import annotations

import io
import json
import struct
import zipfile
import zlib
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path, PurePosixPath
from typing import Any, TypeVar

import numpy as np
from pydantic import BaseModel, ValidationError

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.putting.notes import PuttingNotes, PuttNote
from finearc.core.sources.kind import Kind
from finearc.formats.bounds import MOST_MANIFEST_BYTES, check_clocks, refuse_many
from finearc.formats.errors import BundleError
from finearc.formats.kinds import Opener, Written, with_files
from finearc.formats.manifest import CalibrationEntry, Manifest, manifest_type
from finearc.services.capture.putter_notes import PutterNotes
from finearc.services.judging.analysis import CaptureData
from finearc.wording import mark, tr

T = TypeVar("T")
M = TypeVar("M", bound=BaseModel)
MANIFEST = "capture.json"
ROUND = "round"
IS_ROUND = mark("Read it with `finearc round`, or import it on the player's page under Rounds")
MAX_UPLOAD = 512 * 1024 * 1024
MAX_UNPACKED = 1024 * 1024 * 1024
MAX_FILES = 200
DAMAGES = (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, OSError, ValueError)
"""What reading a damaged zip ends in."""
MAX_RATIO = 200


def read_bundle(path: Path) -> CaptureData:
    """A bundle from a folder or a zip file. Raises ``FineArcError``."""
    return read_path(path, read_opened)


def read_path(path: Path, read: Callable[[Opener], T]) -> T:
    """What ``read`` makes of the files of a folder or a zip. Raises ``FineArcError``."""
    if path.is_dir():
        return read(_folder_opener(path))
    if not path.exists():
        raise BundleError(str(path), tr("no such file or folder"))
    if path.name == MANIFEST:
        return read(_folder_opener(path.parent))
    if path.stat().st_size > MAX_UPLOAD:
        raise _too_large(path.name, path.stat().st_size)
    return read_zipped(path.read_bytes(), path.name, read)


def read_files(files: Mapping[str, bytes]) -> CaptureData:
    """A bundle whose files are already in memory. Raises ``FineArcError``."""
    return read_opened(opener_of(files))


def opener_of(files: Mapping[str, bytes]) -> Opener:
    """Opens files that are already in memory."""

    def opener(file: str) -> bytes:
        _check_inside(file)
        if file not in files:
            raise BundleError(
                file, tr("named in {manifest} but not there", manifest=MANIFEST), advice=tr("Add the file")
            )
        return files[file]

    return opener


def _too_large(name: str, size: int) -> BundleError:
    return BundleError(
        name,
        tr("{value:.0f} MB, at most {value2:.0f} MB is taken", value=size / 1000000.0, value2=MAX_UPLOAD / 1000000.0),
        advice=tr("Split the session in two"),
    )


def read_zip(content: bytes, name: str = "bundle.zip") -> CaptureData:
    """A bundle from the bytes of a zip. Raises ``FineArcError``; nothing is written anywhere."""
    return read_zipped(content, name, read_opened)


def read_zipped(content: bytes, name: str, read: Callable[[Opener], T]) -> T:
    """What ``read`` makes of the files of a zip. Raises ``FineArcError``; nothing is written anywhere."""
    if len(content) > MAX_UPLOAD:
        raise _too_large(name, len(content))
    try:
        archive = zipfile.ZipFile(io.BytesIO(content))
    except (zipfile.BadZipFile, NotImplementedError, UnicodeDecodeError, ValueError, OverflowError, struct.error):
        raise BundleError(
            name, tr("not a zip file, or cut off"), advice=tr("Send the folder as a .zip again")
        ) from None
    with archive:
        _check_archive(archive, name)
        prefix = _prefix(archive, name)
        return read(_zip_opener(archive, prefix, name))


def _check_archive(archive: zipfile.ZipFile, name: str) -> None:
    entries = archive.infolist()
    if len(entries) > MAX_FILES:
        raise BundleError(
            name, tr("{entries} files inside, at most {max_files} are taken", entries=len(entries), max_files=MAX_FILES)
        )
    for entry in entries:
        if entry.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
            raise BundleError(
                name,
                tr('"{filename}" is packed in a way that is not taken', filename=entry.filename[:80]),
                advice=tr("Zip it again"),
            )
        path = PurePosixPath(entry.filename.replace("\\", "/"))
        if path.is_absolute() or ".." in path.parts or ":" in entry.filename:
            raise BundleError(name, tr('"{filename}" points outside the bundle', filename=entry.filename[:80]))
    unpacked = sum(e.file_size for e in entries)
    packed = max(1, sum(e.compress_size for e in entries))
    if unpacked > MAX_UNPACKED or (unpacked > 50_000_000 and unpacked / packed > MAX_RATIO):
        raise BundleError(
            name,
            tr(
                "would unpack to {value:.0f} MB from {value2:.1f} MB, which is refused",
                value=unpacked / 1000000.0,
                value2=packed / 1000000.0,
            ),
        )


def _prefix(archive: zipfile.ZipFile, name: str) -> str:
    """The folder inside the zip that holds the manifest."""
    found = [n for n in archive.namelist() if PurePosixPath(n).name == MANIFEST]
    if not found:
        raise BundleError(
            name,
            tr("{manifest} is missing", manifest=MANIFEST),
            advice=tr("A bundle holds {manifest} and the files it names", manifest=MANIFEST),
        )
    shortest = min(found, key=len)
    if archive.getinfo(shortest).file_size > MOST_MANIFEST_BYTES:
        raise BundleError(MANIFEST, tr("larger than {value:.0f} MB", value=MOST_MANIFEST_BYTES / 1000000.0))
    return shortest[: -len(MANIFEST)]


def _zip_opener(archive: zipfile.ZipFile, prefix: str, name: str) -> Opener:
    def opener(file: str) -> bytes:
        _check_inside(file)
        try:
            return archive.read(prefix + file)
        except KeyError:
            raise BundleError(
                file,
                tr("named in {manifest} but not in {name}", manifest=MANIFEST, name=name),
                advice=tr("Add the file"),
            ) from None
        except DAMAGES as error:
            raise BundleError(
                file, tr("damaged inside {name} ({str})", name=name, str=str(error)[:80]), advice=tr("Send it again")
            ) from None

    return opener


def _folder_opener(folder: Path) -> Opener:
    def opener(file: str) -> bytes:
        _check_inside(file)
        path = (folder / file).resolve()
        if not path.is_relative_to(folder.resolve()):
            raise BundleError(file, tr("points outside the bundle"))
        if not path.is_file():
            raise BundleError(file, tr("not found in {value}", value=folder.name or folder), advice=tr("Add the file"))
        if path.stat().st_size > MAX_UPLOAD:
            raise _too_large(file, path.stat().st_size)
        return path.read_bytes()

    return opener


def _check_inside(file: str) -> None:
    path = PurePosixPath(file.replace("\\", "/"))
    if path.is_absolute() or ".." in path.parts or ":" in file:
        raise BundleError(file[:80], tr("points outside the bundle"))


def parse_manifest(content: bytes) -> Manifest:
    """The manifest of a lesson's capture. Raises ``BundleError`` naming the line or the field."""
    data = manifest_object(content)
    if isinstance(data, dict) and data.get("shot") == ROUND:
        raise BundleError(MANIFEST, tr("this is the log of a round"), tr('field "shot"'), tr(IS_ROUND))
    return valid(manifest_type(), data)


def manifest_object(content: bytes) -> Any:
    """What the manifest's JSON holds. Raises ``BundleError`` naming the line."""
    refuse_many(MANIFEST, "bytes", len(content), MOST_MANIFEST_BYTES)
    try:
        return json.loads(content)
    except UnicodeDecodeError:
        raise BundleError(MANIFEST, tr("not UTF-8 text")) from None
    except json.JSONDecodeError as error:
        raise BundleError(
            MANIFEST, tr("not valid JSON ({msg})", msg=error.msg), tr("line {lineno}", lineno=error.lineno)
        ) from None
    except RecursionError:
        raise BundleError(MANIFEST, tr("nested too deep")) from None
    except ValueError:  # a number with more digits than any has
        raise BundleError(MANIFEST, tr("holds a number that is no number anybody measures")) from None


def valid(shape: type[M], data: Any) -> M:
    """A manifest of a shape. Raises ``BundleError`` naming the field."""
    try:
        return shape.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(p) for p in first["loc"]) or "manifest"
        raise BundleError(
            MANIFEST,
            first["msg"].removeprefix("Value error, "),
            tr("field {field}", field=field),
            tr("See `finearc schema manifest`"),
        ) from None


def read_opened(opener: Opener) -> CaptureData:
    """The capture in a bundle's files. Raises ``FineArcError``."""
    manifest = parse_manifest(opener(MANIFEST))
    streams: dict[Kind, Any] = {}
    for key, files in with_files().items():
        entries = [e for e in manifest.streams if e.kind == key]
        if entries:
            streams |= files.read(entries, opener)
    check_clocks(streams)
    return capture_data(manifest, streams)


def capture_data(manifest: Manifest, streams: Mapping[Kind, Any]) -> CaptureData:
    """The manifest and its streams in the core's terms."""
    poses, functional = _calibration(manifest.calibration)
    c = manifest.calibration
    uprights = [] if c is None else [*([c.square_upright] if c.square_upright else []), *c.uprights]
    return CaptureData(
        streams,
        manifest.captured_at,
        Hand(manifest.player.handedness),
        manifest.player.height_m,
        manifest.player.population,
        manifest.club,
        Shot(manifest.shot),
        poses,
        functional,
        None if manifest.swings is None else tuple(manifest.swings),
        tuple(uprights),
        c.bow if c is not None else None,
        c.lifted if c is not None else None,
        _noted(manifest),
    )


def _noted(manifest: Manifest) -> PuttingNotes:
    bias = manifest.face_grip_bias_deg
    putts = {p.swing: PuttNote(p.distance_m, p.outcome, p.rolled_past_m, p.slope, p.breaks) for p in manifest.putts}
    return PuttingNotes(
        putts,
        manifest.green_speed_ft,
        manifest.grip,
        None if bias is None else float(np.deg2rad(bias)),
        (manifest.putter or PutterNotes()).setup(),
    )


def _putts_of(notes: PuttingNotes) -> dict[str, object]:
    """The notes as a manifest has them; the inverse of ``_noted``."""
    out: dict[str, object] = {}
    if notes.putts:
        out["putts"] = [
            {
                "swing": k,
                "distance_m": n.distance_m,
                "outcome": n.outcome,
                "rolled_past_m": n.rolled_past_m,
                "slope": n.slope,
                "break": n.breaks,
            }
            for k, n in sorted(notes.putts.items())
        ]
    if notes.green_speed_ft is not None:
        out["green_speed_ft"] = notes.green_speed_ft
    if notes.grip:
        out["grip"] = notes.grip
    if notes.face_grip_bias_rad is not None:
        out["face_grip_bias_deg"] = round(float(np.rad2deg(notes.face_grip_bias_rad)), 9)
    if (putter := PutterNotes.of(notes.putter).kept()) is not None:
        out["putter"] = putter
    return out


def _calibration(entry: CalibrationEntry | None) -> tuple[tuple[PoseWindow, ...], FunctionalWindows | None]:
    if entry is None:
        return (), None
    if entry.functional is not None:
        f = entry.functional
        return (), FunctionalWindows(f.straight, f.raised, f.flexion, f.deviation)
    pairs = [(entry.flat, entry.raised)] + [(p.flat, p.raised) for p in entry.repeats]
    poses = []
    for flat, raised in pairs:
        if flat is not None:
            poses.append(PoseWindow("flat", *flat))
        if raised is not None:
            poses.append(PoseWindow("raised", *raised))
    return tuple(poses), None


def _written(data: CaptureData) -> list[Written]:
    """All streams of a capture that a bundle holds, in the order of their kinds."""
    files = with_files()
    return [
        w
        for kind in sorted(data.streams, key=lambda k: k.order)
        if kind.key in files
        for w in files[kind.key].write(data.streams[kind])
    ]


def manifest_of(data: CaptureData, written: Sequence[Written]) -> dict[str, object]:
    """The manifest that describes a capture; the inverse of ``capture_data``."""
    flat = [(p.start_s, p.end_s) for p in data.poses if p.kind == "flat"]
    raised = [(p.start_s, p.end_s) for p in data.poses if p.kind == "raised"]
    calibration: dict[str, object] | None = None
    if data.functional is not None:
        f = data.functional
        calibration = {
            "functional": {"straight": f.straight, "raised": f.raised, "flexion": f.flexion, "deviation": f.deviation}
        }
    elif flat or raised or data.uprights or data.bow:
        repeats = [{"flat": a, "raised": b} for a, b in zip(flat[1:], raised[1:], strict=False)]
        calibration = {
            "flat": flat[0] if flat else None,
            "raised": raised[0] if raised else None,
            "square_upright": data.uprights[0] if data.uprights else None,
            "bow": data.bow,
        }
        if data.uprights[1:]:
            calibration["uprights"] = data.uprights[1:]
        if repeats:
            calibration["repeats"] = repeats
    if data.lifted is not None:
        calibration = {**(calibration or {}), "lifted": data.lifted}
    manifest: dict[str, object] = {
        "format": "finearc-capture",
        "version": 1,
        "captured_at": data.captured_at.isoformat() if data.captured_at else None,
        "player": {"handedness": data.handedness.value, "height_m": data.height_m, "population": data.population},
        "club": data.club,
        "shot": data.shot.value,
        "target_distance_m": None,
        "streams": [w.entry for w in written],
        "calibration": calibration,
    }
    if data.swings is not None:
        manifest["swings"] = [list(s) for s in data.swings]
    return manifest | _putts_of(data.putting)


def bundle_files(data: CaptureData, extra: Mapping[str, bytes] | None = None) -> dict[str, bytes]:
    """All files of a bundle by name."""
    written = _written(data)
    files = {MANIFEST: (json.dumps(manifest_of(data, written), indent=2) + "\n").encode()}
    return {**files, **{str(w.entry["file"]): w.content for w in written}, **(extra or {})}


def write_bundle(data: CaptureData, out: Path, extra: Mapping[str, bytes] | None = None) -> None:
    """Write a bundle as a folder, or as a zip when the name ends in ``.zip``."""
    write_files(bundle_files(data, extra), out)


def write_files(files: Mapping[str, bytes], out: Path) -> None:
    """Files of a bundle as a folder, or as a zip when the name ends in ``.zip``."""
    if out.suffix == ".zip":
        out.parent.mkdir(parents=True, exist_ok=True)
        out.write_bytes(zip_bytes(files))
        return
    out.mkdir(parents=True, exist_ok=True)
    for name, content in files.items():
        (out / name).write_bytes(content)


def zip_bytes(files: Mapping[str, bytes]) -> bytes:
    """A deterministic zip of named contents."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, content in files.items():
            archive.writestr(zip_entry(name), content)
    return buffer.getvalue()


COMPRESSED = (".parquet", ".mp4", ".webm")
"""What is compressed already is not compressed again."""


def zip_entry(name: str) -> zipfile.ZipInfo:
    """A file of a zip, always of the same date."""
    entry = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
    entry.compress_type = zipfile.ZIP_STORED if name.endswith(COMPRESSED) else zipfile.ZIP_DEFLATED
    return entry
