"""Ids as the API describes them: closed lists that come from the catalogue.

Validation stays that of a text: ids that are sent in are looked up where they become objects, and an academy may have
findings, and ranges at moments, of its own. The lists reach the API document as named enums (``named_enums``) and the
front end as union types."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import WithJsonSchema

from finearc.catalogue.interface import finding_ids, metric_ids, moment_ids
from finearc.core.events.model import ORDER

MARK = "x-enum"
MetricId = Annotated[str, WithJsonSchema({MARK: "MetricId"})]
CheckpointId = Annotated[str, WithJsonSchema({MARK: "CheckpointId"})]
MomentId = Annotated[str, WithJsonSchema({MARK: "MomentId", "open": True})]
"""One of the moments that are read, or one that an academy's own range names."""
FindingId = Annotated[str, WithJsonSchema({MARK: "FindingId", "open": True})]
"""A built-in finding, or an academy's own."""


def named_enums(document: dict[str, Any]) -> dict[str, Any]:
    """An API document with the lists as components, and every marked field pointing to its own. It is changed in
    place."""
    document["components"]["schemas"] |= {
        "MetricId": _enum("What is measured.", metric_ids()),
        "CheckpointId": _enum("An instant of the swing.", [str(c) for c in ORDER]),
        "MomentId": _enum("Where a metric is read: a checkpoint, a change between two, the whole swing.", moment_ids()),
        "FindingId": _enum("A difference that Fine Arc looks for.", finding_ids()),
    }
    _point(document)
    return document


def _enum(description: str, values: list[str]) -> dict[str, Any]:
    return {"type": "string", "description": description, "enum": values}


def _point(node: Any) -> None:
    if isinstance(node, list):
        for item in node:
            _point(item)
    elif isinstance(node, dict):
        name = node.pop(MARK, None)
        if name is not None:
            pointer = {"$ref": f"#/components/schemas/{name}"}
            is_open = node.pop("open", False)
            node |= {"anyOf": [pointer, {"type": "string"}]} if is_open else pointer
        for item in node.values():
            _point(item)
