"""What a field of a part is: its words, its unit, its type, its choices and how it is typed, all from its annotation."""

from __future__ import annotations

import types
from collections.abc import Mapping
from enum import EnumType
from functools import cache
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from msgspec import Meta, Struct

from robust_ledger.job.parts.said import Said

UNITS = {
    "a": "A", "in": "in", "ft": "ft", "va": "VA", "c": "°C", "min": "min", "hp": "hp", "kva": "kVA", "deg": "°", "ohms": "Ω", "z": "%",
}  # fmt: skip
_SHORT = ("ahj", "aic", "ev", "gec", "mca", "mocp", "qr", "spd")  # written in capitals
_LEGS = {"leg_a": "leg A", "leg_b": "leg B"}
_NOTHING = Said()
# How a value is typed, by the unit in its name.
_READS = {"a": "amps", "in": "inches", "ft": "feet", "c": "temperature"}


class Field(Struct, frozen=True):
    """A field: the part that has it, its name, its words in a sentence and its unit; its type without notes, that of its value (a list's is that
    of its items), and whether it may be not known. `said` is what its annotation says."""

    part: type[Struct]
    name: str
    words: str
    unit: str
    type: Any
    kind: Any
    many: bool
    optional: bool
    said: Said

    @property
    def is_part(self) -> bool:
        """Whether it is a part of its own, with fields."""
        return isinstance(self.kind, type) and issubclass(self.kind, Struct)

    @property
    def label(self) -> str:
        """Its words on a form, with the unit where it is not told otherwise."""
        return self.said.label or self.words[:1].upper() + self.words[1:]

    @property
    def choices(self) -> Mapping[Any, str]:
        """What each of its values is called, in their order; empty where it is no choice."""
        return self.said.choices or {value: str(value) for value in self.values}

    @property
    def values(self) -> tuple[Any, ...]:
        """The values that a choice may have; none where it is no choice."""
        if get_origin(self.kind) is Literal:
            return get_args(self.kind)
        return tuple(self.kind) if isinstance(self.kind, EnumType) else ()

    @property
    def reads(self) -> str:
        """How it is typed or chosen: "amps", "inches", "choice", "tick"."""
        if self.said.reads:
            return self.said.reads
        if self.said.choices:
            return "choice"
        if self.kind is bool:
            return "looked" if self.optional else "tick"
        if self.many:
            return "names"
        if self.choices:
            return "choice"
        if self.kind is int:
            return "places" if self.optional else "count"
        if self.kind is float:
            return "aic" if self.name.endswith("aic_a") else _READS.get(self.name.rpartition("_")[2], "number")
        return "line"


@cache
def fields_of(part: type[Struct]) -> Mapping[str, Field]:
    """The fields of a part by their names, in their order."""
    kinds: dict[str, Any] = {}
    for base in reversed(part.__mro__):
        kinds |= getattr(base, "__annotations__", {})
    return {name: _field(part, name, kinds[name]) for name in part.__struct_fields__ if name != "unknown"}


def _field(part: type[Struct], name: str, kind: Any) -> Field:
    whole, said = _parted(kind)
    many = get_origin(whole) in (tuple, dict)
    item = _parted([one for one in get_args(whole) if one is not Ellipsis][-1])[0] if many else whole
    options = get_args(item) if get_origin(item) in (types.UnionType, Union) else (item,)
    known = [option for option in options if option is not type(None)]
    words, unit = name_in_words(name)
    kind = _parted(known[0])[0]
    return Field(part, name, said.words or words, unit, whole, kind, many, len(known) < len(options), said)


def _parted(kind: Any) -> tuple[Any, Said]:
    """A type without its notes, and what they say."""
    said = _NOTHING
    while get_origin(kind) is Annotated:
        kind, *notes = get_args(kind)
        said = next((n.extra["said"] for n in notes if isinstance(n, Meta) and n.extra and "said" in n.extra), said)
    return kind, said


def name_in_words(name: str) -> tuple[str, str]:
    """A name as words, and the unit it ends in: ("disconnect AIC", "A")."""
    if name in _LEGS:
        return _LEGS[name], ""
    stem, _, tail = name.rpartition("_")
    unit = UNITS.get(tail, "") if stem else ""
    words = (stem if unit else name).split("_")
    return " ".join(word.upper() if word in _SHORT else word for word in words), unit
