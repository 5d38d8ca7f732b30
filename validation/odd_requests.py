"""Requests that no screen makes, generated from the API's own description: every operation with real ids, and bodies,
queries and headers in which something is odd."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

ODD_TEXTS = (
    "",
    " ",
    "\0",
    "\ud800",
    "a\u0300" * 300,
    "x" * 9_000,
    "x" * 300_000,
    "𝒜" * 80,
    "'; drop table swing; --",
    "<script>alert(1)</script>",
    "../../etc/passwd",
    "%00",
    "\r\nSet-Cookie: a=b",
    "0001-01-01",
    "9999-12-31",
    "0001-01-01T00:00:00+14:00",
    "9999-12-31T23:59:59-14:00",
    "2026-03-29T02:30:00",
    "NaN",
    "1e308",
    "00000000-0000-0000-0000-000000000000",
    "not-an-id",
    "builtin-9",
    "9-wood",
    "weak_grip_of_nobody",
)
ODD_NUMBERS = (0, -1, 1, 2**31, 2**63, -(2**63), 10**40, 1e308, -1e308, 1e-320, float("nan"), float("inf"), 0.1)
DEEP = 3_000
MAPPINGS = (b"{}", b'{"names": {}}', b"[", b"\xff", b'{"names": {"LASI": "a"}, "club": "9-wood"}', b"{" * 2000)


@dataclass(frozen=True)
class Request:
    """One request: ``content`` as it goes over the line."""

    method: str
    path: str
    query: Mapping[str, str]
    content: bytes | None
    headers: Mapping[str, str] = field(default_factory=dict)


class Odd:
    """Draws requests. ``ids``: what stands in the paths, by the names that they have there."""

    def __init__(self, description: Mapping[str, Any], ids: Mapping[str, Any], seed: int) -> None:
        self._shapes = description["components"]["schemas"]
        self._ids, self._draw = ids, random.Random(seed)
        self.operations = [
            (method.upper(), path, operation)
            for path, methods in description["paths"].items()
            for method, operation in methods.items()
            if not path.endswith("/live")
        ]

    def renew(self, ids: Mapping[str, Any]) -> None:
        """Other records from now on."""
        self._ids = ids

    def requests(self, count: int, *, leave: frozenset[str] = frozenset()) -> Iterator[Request]:
        """``leave``: ``METHOD path`` of operations that end what the others are about."""
        asked = [o for o in self.operations if f"{o[0]} {o[1]}" not in leave]
        for k in range(count):
            yield self._request(*asked[k % len(asked)])

    def _request(self, method: str, path: str, operation: Mapping[str, Any]) -> Request:
        names = {p["name"]: p for p in operation.get("parameters", []) if p["in"] == "path"}
        ids = {n: self._ids.get(n, "x") if self._draw.random() < 0.9 else self._odd_id() for n in names}
        query = {
            p["name"]: self._text_of(p["schema"])
            for p in operation.get("parameters", [])
            if p["in"] == "query" and self._draw.random() < 0.8
        }
        content, headers = self._body(operation)
        return Request(method, path.format(**ids), query, content, headers)

    def _odd_id(self) -> str:
        return self._draw.choice(
            ["%00", "%0d%0a", "..%2f..", "x" * 3000, "%ff%fe", "00000000-0000-0000-0000-000000000000", "-1", "9" * 400]
        )

    def _text_of(self, shape: Mapping[str, Any]) -> str:
        value = self._value(shape)
        text = value if isinstance(value, str) else json.dumps(value)
        return text.encode("utf-8", "replace").decode()[:4000]

    def _body(self, operation: Mapping[str, Any]) -> tuple[bytes | None, dict[str, str]]:
        content = operation.get("requestBody", {}).get("content", {})
        if "multipart/form-data" in content:
            return self._form()
        if "application/json" not in content:
            return None, {}
        value = self._value(content["application/json"]["schema"])
        if self._draw.random() < 0.6:
            value = self._spoil(value)
        raw = json.dumps(value).encode()
        headers = {"content-type": "application/json"}
        way = self._draw.random()
        if way < 0.04:
            raw = raw[: len(raw) // 2]
        elif way < 0.06:
            raw = b"[" * DEEP + b"]" * DEEP
        elif way < 0.08:
            raw = b'{"a":' * DEEP + b"1" + b"}" * DEEP
        elif way < 0.10:
            raw = b"9" * 5_000
        elif way < 0.12:
            raw = bytes(self._draw.randrange(256) for _ in range(200))
        elif way < 0.14:
            headers = {
                "content-type": self._draw.choice(["text/plain", "multipart/form-data", "a/b/c", "application/xml"])
            }
        return raw, headers

    def _form(self) -> tuple[bytes, dict[str, str]]:
        mark = "odd-mark"
        name = self._draw.choice(["x.zip", "x.c3d", "x.trc", "x.toml", "x.csv", "", "\xff\xfe", "x" * 400, "../x.zip"])
        told = self._draw.choice(
            [b"{}", b'{"names": {}}', b"[", b"\xff", b'{"names": {"LASI": "a"}, "club": "9-wood"}', b"{" * 2000]
        )
        content = bytes(self._draw.randrange(256) for _ in range(self._draw.choice([0, 4, 600])))
        parts = [
            f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode() + content,
            f'--{mark}\r\nContent-Disposition: form-data; name="mapping"\r\n\r\n'.encode() + told,
        ]
        if self._draw.random() < 0.2:
            parts = parts[1:]
        if self._draw.random() < 0.1:
            parts += [f'--{mark}\r\nContent-Disposition: form-data; name="f{k}"\r\n\r\nx'.encode() for k in range(1500)]
        end = b"" if self._draw.random() < 0.1 else f"\r\n--{mark}--\r\n".encode()
        return b"\r\n".join(parts) + end, {"content-type": f"multipart/form-data; boundary={mark}"}

    def _value(self, shape: Mapping[str, Any], depth: int = 0) -> Any:
        """A value of a shape; now and then one that is not."""
        if "$ref" in shape:
            return self._value(self._shapes[shape["$ref"].rsplit("/", 1)[1]], depth)
        if "anyOf" in shape:
            return self._value(self._draw.choice(shape["anyOf"]), depth)
        if "enum" in shape or "const" in shape:
            return self._draw.choice(shape.get("enum") or [shape["const"]])
        kind = shape.get("type", "string")
        if kind == "object":
            return self._object(shape, depth)
        if kind == "array":
            return [self._value(shape.get("items", {}), depth + 1) for _ in range(self._draw.choice([0, 1, 2]))]
        if kind == "boolean":
            return self._draw.random() < 0.5
        if kind in ("integer", "number"):
            return self._draw.choice([0, 1, 2, shape.get("minimum", 1), shape.get("maximum", 3)])
        if kind == "null":
            return None
        return self._string(shape)

    def _object(self, shape: Mapping[str, Any], depth: int) -> dict[str, Any]:
        if "properties" not in shape:
            inner = shape.get("additionalProperties")
            return {"lead_wrist": self._value(inner, depth + 1)} if isinstance(inner, dict) else {}
        needed = shape.get("required", [])
        return {
            name: self._value(inner, depth + 1)
            for name, inner in shape["properties"].items()
            if name in needed or self._draw.random() < 0.5
        }

    def _string(self, shape: Mapping[str, Any]) -> str:
        form = shape.get("format")
        if form == "uuid":
            return str(self._draw.choice(list(self._ids.values())))
        if form == "date":
            return self._draw.choice(["2026-03-29", "2026-10-25"])
        if form == "date-time":
            return self._draw.choice(["2026-03-29T02:30:00", "2026-10-25T02:30:00Z"])
        return self._draw.choice(["", "7-iron", "driver", "hold", "top", "lead_wrist_extension", "a", "Ünder"])

    def _spoil(self, value: Any) -> Any:
        """The same with one place odd."""
        if isinstance(value, dict) and value and self._draw.random() < 0.9:
            key = self._draw.choice(list(value))
            return {**value, key: self._spoil(value[key])}
        if isinstance(value, list) and value and self._draw.random() < 0.7:
            return [self._spoil(value[0]), *value[1:]]
        return self._draw.choice([*ODD_TEXTS, *ODD_NUMBERS, None, True, [], {}, [[]], {"a": {"b": []}}, [1] * 600])
