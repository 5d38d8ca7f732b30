"""Files made to do harm: small ones that would take much, damaged ones, and such as no device writes."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping

import numpy as np
import pyarrow as pa
from pyarrow import parquet

from finearc.formats.bundle import MANIFEST

IMU = "time_s,acc_x,acc_y,acc_z,gyr_x,gyr_y,gyr_z"


def zipped(files: Mapping[str, bytes], kind: int = zipfile.ZIP_DEFLATED) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", kind) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return buffer.getvalue()


def unzipped(content: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def manifest(streams: list[dict[str, object]], **more: object) -> bytes:
    head = {"format": "finearc-capture", "version": 1, "player": {"handedness": "right"}}
    return json.dumps({**head, "streams": streams, **more}).encode()


def mat_entry(file: str, rows: int, columns: int) -> dict[str, object]:
    return {"kind": "pressure", "file": file, "rows": rows, "columns": columns, "cell_mm": [10.0, 10.0]}


def wide_trc(labels: int = 10_000, rows: int = 400) -> bytes:
    """Few bytes, many labels: every line is filled up to their number."""
    names = "\t\t\t".join(f"m{k}" for k in range(labels))
    head = ["PathFileType\t4\t(X/Y/Z)\tx.trc", "DataRate\tUnits", "100\tmm", f"Frame#\tTime\t{names}", ""]
    return "\n".join([*head, *(f"{k}\t{k / 100}\t1" for k in range(rows))]).encode()


def wide_csv(columns: int = 100_000) -> bytes:
    header = "time_s," + ",".join(f"r0c{k}" for k in range(columns - 1))
    return (header + "\n" + ",".join(["0"] * columns) + "\n").encode()


def wide_parquet(columns: int = 2_000, name: str = "c") -> bytes:
    out = io.BytesIO()
    parquet.write_table(pa.table({f"{name}{k}": [0.0] for k in range(columns)}), out)
    return out.getvalue()


def long_parquet(names: list[str], rows: int = 20_000_000) -> bytes:
    """Runs of one value: kilobytes that unpack to gigabytes."""
    column = pa.array(np.zeros(rows, dtype=np.float32))
    out = io.BytesIO()
    parquet.write_table(pa.table(dict.fromkeys(names, column)), out, compression="zstd")
    return out.getvalue()


def imu_csv(rows: list[str]) -> bytes:
    return "\n".join([IMU, *rows, ""]).encode()


def imu_bundle(content: bytes, **more: object) -> bytes:
    entries = [{"kind": "imu", "segment": s, "file": f"{s}.csv"} for s in ("lead_hand", "lead_forearm")]
    return zipped({MANIFEST: manifest(entries, **more), "lead_hand.csv": content, "lead_forearm.csv": content})


def dotted_toml(parts: int = 20_000) -> bytes:
    return (".".join(["a"] * parts) + " = 1\n").encode()


def bundles() -> dict[str, bytes]:
    """Bundles by what is wrong with them."""
    still = [f"{k / 200},0,0,9.81,0,0,0" for k in range(800)]
    huge = "9" * 5000
    return {
        "no zip": b"PK\x03\x04" + bytes(200),
        "empty": zipped({}),
        "manifest nested deep": zipped({MANIFEST: b"[" * 100_000}),
        "manifest with long digits": zipped({MANIFEST: b'{"version": ' + huge.encode() + b"}"}),
        "manifest of a lone surrogate": zipped(
            {MANIFEST: manifest([{"kind": "imu", "file": "\ud800", "segment": "lead_hand"}])}
        ),
        "manifest with NaN": zipped(
            {MANIFEST: b'{"format": "finearc-capture", "version": 1, "target_distance_m": NaN}'}
        ),
        "year 1": imu_bundle(imu_csv(still), captured_at="0001-01-01T00:00:00+14:00"),
        "year 9999": imu_bundle(imu_csv(still), captured_at="9999-12-31T23:59:59-14:00"),
        "windows of 1e308": imu_bundle(imu_csv(still), swings=[[1e308, 1.1e308]]),
        "windows backward": imu_bundle(imu_csv(still), swings=[[5.0, 1.0]]),
        "a constant sensor": imu_bundle(imu_csv([f"{k / 200},1,1,1,1,1,1" for k in range(800)])),
        "equal times": imu_bundle(imu_csv(["1,0,0,9.81,0,0,0"] * 800)),
        "backward times": imu_bundle(imu_csv(still[::-1])),
        "not a number": imu_bundle(imu_csv(["nan,0,0,9.81,0,0,0", *still])),
        "infinity": imu_bundle(imu_csv([*still, "inf,0,0,9.81,0,0,0"])),
        "1e308": imu_bundle(imu_csv([s.replace("9.81", "1e308") for s in still])),
        "times of 1e308": imu_bundle(imu_csv([*still, "1e308,0,0,9.81,0,0,0"])),
        "a hole of years": imu_bundle(imu_csv([*still, "90000000,0,0,9.81,0,0,0"])),
        "one row": imu_bundle(imu_csv(still[:1])),
        "bare carriage returns": imu_bundle(imu_csv(still).replace(b"\n", b"\r")),
        "binary": imu_bundle(bytes(range(256)) * 40),
        "a header without end": imu_bundle(b"time_s," * 20_000),
        "wide csv": zipped({MANIFEST: manifest([mat_entry("m.csv", 300, 333)]), "m.csv": wide_csv()}),
        "narrow words, wide csv": zipped({MANIFEST: manifest([mat_entry("m.csv", 10, 10)]), "m.csv": wide_csv()}),
        "wide parquet": zipped({MANIFEST: manifest([mat_entry("m.parquet", 40, 50)]), "m.parquet": wide_parquet()}),
        "long parquet": zipped(
            {MANIFEST: manifest([mat_entry("m.parquet", 1, 2)]), "m.parquet": long_parquet(["time_s", "r0c0", "r0c1"])}
        ),
        "wide trc": zipped({MANIFEST: manifest([{"kind": "markers", "file": "m.trc"}]), "m.trc": wide_trc()}),
        "damaged data": damaged(),
        "packed otherwise": zipped({MANIFEST: manifest([])}, zipfile.ZIP_BZIP2),
        "a zip of zeros": zipped(
            {MANIFEST: manifest([{"kind": "markers", "file": "m.trc"}]), "m.trc": bytes(300_000_000)}
        ),
        "two of everything": imu_bundle(imu_csv(still), calibration={"flat": [0, 1], "raised": [0, 1]}),
    }


def damaged() -> bytes:
    """A zip whose compressed data are broken, its directory whole."""
    whole = bytearray(zipped({MANIFEST: manifest([]) * 50}))
    start = 30 + len(MANIFEST)
    whole[start + 4 : start + 24] = bytes(20)
    return bytes(whole)
