"""The table of all fields of the document: what each is called, what it may be and how it is said. Made of the annotations of the parts,
when it is first asked for; nothing else lists fields."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.errors import NoFieldError
from robust_ledger.job.parts.field import Field, fields_of, name_in_words

__all__ = ["Field", "choices_at", "every_path", "field_at", "fields_of", "name_in_words"]


@lru_cache(maxsize=2048)
def field_at(path: str) -> Field:
    """The field at a path from the job down: "location.room", "fit.old.width_in", "panels.breaker_a". Raises NoFieldError."""
    part: Any = Job
    found: Field | None = None
    for name in path.replace(":", ".").split("."):
        if not (isinstance(part, type) and issubclass(part, Model)) or name not in fields_of(part):
            raise NoFieldError(getattr(part, "__name__", str(part)), [path])
        found = fields_of(part)[name]
        part = found.kind
    assert found is not None
    return found


def choices_at(path: str) -> dict[Any, str]:
    """What the values of a choice are called, in their order. Raises NoFieldError."""
    return dict(field_at(path).choices)


def every_path(part: type[Model] = Job, before: str = "") -> Iterator[str]:
    """Every path of the document, those of items of lists by the list's name."""
    for name, field in fields_of(part).items():
        yield f"{before}{name}"
        if field.is_part:
            yield from every_path(field.kind, f"{before}{name}.")
