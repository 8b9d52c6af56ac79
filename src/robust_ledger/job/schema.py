"""The published schema of the job file, made of the document's own types."""

from __future__ import annotations

from typing import Any

from msgspec.json import decode, encode, schema_components

from robust_ledger.job.job import Job
from robust_ledger.job.keys import MOST_LETTERS, CircuitKey
from robust_ledger.job.parts.base import UNKNOWN
from robust_ledger.ledger.editions import EDITIONS


def job_schema() -> dict[str, Any]:
    """The JSON Schema of a job. Fields that it does not name are allowed everywhere, and kept."""
    (root,), parts = schema_components([Job], schema_hook=_custom, ref_template="#/$defs/{name}")
    for part in parts.values():
        part.get("properties", {}).pop(UNKNOWN, None)
    parts["Job"]["properties"]["edition"] = {
        "enum": list(EDITIONS),
        "default": parts["Job"]["properties"]["edition"]["default"],
    }
    whole = {"$schema": "https://json-schema.org/draft/2020-12/schema", **root, "$defs": parts}
    return dict(decode(encode(whole)))


def _custom(kind: type) -> dict[str, Any]:
    return {"type": "string", "maxLength": MOST_LETTERS} if kind is CircuitKey else {"type": "object"}
