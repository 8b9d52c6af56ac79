"""Fields of the job as cells of a spreadsheet and back: what is by default is empty, formula text is neutralized, every field that is a plain value,
a list of words or a part of such fields has a column."""

from __future__ import annotations

import types
from collections.abc import Iterator
from datetime import date, datetime
from enum import EnumType
from functools import cache
from typing import Annotated, Any, Union, get_args, get_origin

from msgspec import NODEFAULT, ValidationError, convert
from msgspec.structs import fields

from robust_ledger.job.fields import fields_of
from robust_ledger.job.parts.base import Model
from robust_ledger.ledger.text import guarded, unguarded

UNKNOWN = "?"
YES, NO = ("yes", "y", "true", "x", "1"), ("no", "n", "false", "0")
MORE = "; "  # between the words of a list


@cache
def columns_of(kind: type[Model]) -> dict[str, Any]:
    """The columns of a part: its fields by name, those of a part within it as "nameplate.amount", with their types."""
    made: dict[str, Any] = {}
    for name, field in fields_of(kind).items():
        if field.is_part and not field.many and not field.optional:
            made |= {f"{name}.{inner}": hint for inner, hint in columns_of(field.kind).items()}
        else:
            made[name] = field.type
    return made


def _bare(hint: Any) -> Any:
    return _bare(get_args(hint)[0]) if get_origin(hint) is Annotated else hint


@cache
def _usual(kind: type[Model]) -> dict[str, Any]:
    """What each field is by default; NODEFAULT for one that is always said, or has a part of its own."""
    return {field.name: field.default for field in fields(kind)}


def cell(one: Model, column: str) -> str:
    """A field as a cell; one that is by default is empty, one that is not known and could be is "?"."""
    first, _, rest = column.partition(".")
    value = getattr(one, first)
    if rest:
        return cell(value, rest)
    default = _usual(type(one))[first]
    if default is not NODEFAULT and value == default:
        return ""
    if value is None:
        return UNKNOWN
    return guarded(value_text(value))


def value_text(value: Any) -> str:
    """A value as a cell has it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return repr(value) if value != int(value) else str(int(value))
    if isinstance(value, tuple):
        return MORE.join(str(part) for part in value)
    return str(value)


def read(text: str, hint: Any) -> Any:
    """A cell as a value of a type. Raises ValueError with what is expected."""
    text = unguarded(text)
    if text.strip() == UNKNOWN and _optional(hint):
        return None
    kinds = [kind for kind in _kinds(hint) if kind is not type(None)]
    for kind in kinds:
        try:
            return _as(text, kind)
        except (ValueError, ValidationError):
            continue
    raise ValueError(f'"{text[:40]}" is not {_expected(kinds)}')


def _optional(hint: Any) -> bool:
    return type(None) in list(_kinds(hint))


def _kinds(hint: Any) -> Iterator[Any]:
    hint = _bare(hint)
    if get_origin(hint) in (Union, types.UnionType):  # a choice of words or nothing is the former
        for one in get_args(hint):
            yield from _kinds(one)
    else:
        yield hint


def _as(text: str, kind: Any) -> Any:
    if kind is bool:
        word = text.strip().lower()
        if word not in (*YES, *NO):
            raise ValueError
        return word in YES
    if kind is int:
        return int(float(text.replace(",", ""))) if float(text.replace(",", "")).is_integer() else _refuse()
    if kind is float:
        return float(text.replace(",", "").strip())
    if get_origin(kind) is tuple:
        parts = tuple(part.strip() for part in text.split(MORE.strip()) if part.strip())
        inner = get_args(kind)[0]
        return tuple(read(part, inner) for part in parts)
    if isinstance(kind, EnumType) or get_args(kind):
        return convert(_literal(text.strip(), kind), kind)
    return convert(text, kind)


def _literal(text: str, kind: Any) -> Any:
    """One of the choices as it is kept: numbers as numbers."""
    return next((one for one in get_args(kind) if str(one) == text), text)


def _refuse() -> int:
    raise ValueError


def _expected(kinds: list[Any]) -> str:
    kind = kinds[0]
    if kind is bool:
        return "yes or no"
    if kind in (int, float):
        return "a whole number" if kind is int else "a number"
    if get_origin(kind) is tuple:
        return f"words with semicolons between, each {_expected([get_args(kind)[0]])}"
    if isinstance(kind, EnumType):
        return f"one of {', '.join(map(str, kind.__members__.values()))}"[:160]
    return (
        f"one of {', '.join(str(one) or 'nothing' for one in get_args(kind))}"[:160] if get_args(kind) else "such text"
    )


def text_of(value: Any) -> str:
    """A cell of a workbook as text: dates as 2026-12-08, whole numbers without a point."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime | date):
        return value.isoformat()[:10]
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    return str(value)
