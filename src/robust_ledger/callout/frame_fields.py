"""Frames of the fields that are said by their name and a value: made of the table of fields, with the names of `words/fields.toml`. What has a
grammar of its own, and what is never said, is listed there as well, so that every field of the job is one of these."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any

from robust_ledger.callout.phrases import words_of
from robust_ledger.job.fields import field_at

# The kind of value that a field takes, by how it is typed.
_KINDS = {"amps": "amps", "inches": "inches", "feet": "feet", "signed inches": "inches", "count": "count", "places": "count",
          "number": "number", "temperature": "fahrenheit", "aic": "kilo"}  # fmt: skip
_BY_NAME = {"lugs_least": "conductor", "lugs_most": "conductor", "bar_most": "conductor", "found_neutral": "conductor",
            "found_ground": "conductor", "found_gec": "conductor", "mast_least": "trade", "found_size": "trade",
            "lunch_from": "clock_day", "lunch_until": "clock_day", "rain_until": "clock_day", "area": "area"}  # fmt: skip
_ASIDE = re.compile(r"\([^)]*\)|[,;].*")


def table() -> Mapping[str, Any]:
    """The whole of `words/fields.toml`."""
    return words_of("fields")


def plain_concepts() -> dict[str, list[str]]:
    """What each of the fields is called, by its concept."""
    data = table()
    made = {f"plain.{path}": list(names) for path, names in data["plain"].items()}
    return made | {f"plain.panels.{path}": list(names) for path, names in data["plain_node"].items()}


def plain_choices() -> dict[str, dict[Any, Sequence[str]]]:
    """What the choices of the fields are called, by the concept of their field."""
    made: dict[str, dict[Any, Sequence[str]]] = {}
    for path in (*table()["plain"], *(f"panels.{path}" for path in table()["plain_node"])):
        if _is_choice(path):
            called = table()["called"].get(path, {})
            made[f"plain.{path}"] = {
                value: (*_names(value, words), *called.get(str(value), ()))
                for value, words in field_at(path).choices.items()
                if value not in ("", None) and value not in table()["unsaid"].get(path, ())
            }
    return made


def plain_rows() -> list[dict[str, Any]]:
    """The rows of the lexicon for the fields of the job's own parts."""
    on = table()["on"]
    return [_row(path, path, on[path.partition(".")[0]]) for path in table()["plain"]]


def plain_node_rows() -> list[dict[str, Any]]:
    """The same for the fields of a node."""
    return [_row(path, f"panels.{path}", ()) for path in table()["plain_node"]]


def _row(field: str, path: str, on: Sequence[str]) -> dict[str, Any]:
    row: dict[str, Any] = {"field": field, "needs": f"plain.{path}", "may": "amps label percent"} | (
        {"on": on} if on else {}
    )
    if field_at(path).kind is bool:
        return row | {"is": True}
    if _is_choice(path):
        return row | {"value": f"plain.{path}"}
    known = field_at(path)
    return row | {"value": _BY_NAME.get(known.name, _KINDS.get(known.reads, "number"))}


def _is_choice(path: str) -> bool:
    known = field_at(path)
    return bool(known.said.choices or known.values) and known.kind is not bool


def _names(value: Any, words: str) -> list[str]:
    """What a choice is called: as on a form without what is said aside, and its value."""
    made = [_ASIDE.sub("", words).strip().lower(), str(value).replace("_", " ").lower()]
    return [name for name in dict.fromkeys(made) if name]
