"""What is wrong with a part of the document, in words with its place: imported only when something is."""

from __future__ import annotations

import re
import types
from enum import EnumType
from typing import Annotated, Any, Literal, get_args, get_origin, get_type_hints

from msgspec import ValidationError

from robust_ledger.job.parts.base import Model, ModelError

_KINDS = {
    "str": "text",
    "int": "a whole number",
    "float": "a number",
    "bool": "true or false",
    "array": "a list",
    "object": "an object",
    "null": "nothing",
}
_LIMITS = (
    (r"Expected `str` of length <= (\d+)", "has more than {} letters"),
    (r"Expected `array` of length <= (\d+)", "has more than {} entries"),
    (r"Expected `array` of length (\d+)", "has not {} entries"),
    (r"Expected `(?:int|float)` >= ([-\d.]+)", "is less than {}"),
    (r"Expected `(?:int|float)` <= ([-\d.]+)", "is more than {}"),
    (r"Object missing required field `(\w+)`", "{} is missing"),
    (r"Number out of range", "a number is larger than can be"),
)


def told(fault: ValidationError, model: type[Model]) -> ModelError:
    """The fault in words, with the way to it from the model down."""
    text, _, path = str(fault).partition(" - at `")
    place = tuple(
        int(number) if number else name or "one of them"
        for name, number in re.findall(r"\.(\w+)|\[(\d+|\.\.\.)\]", path)
        for number in [number if number != "..." else ""]
    )
    return ModelError(_words(text, place, model), place)


def _words(text: str, place: tuple[str | int, ...], model: type[Model]) -> str:
    for pattern, words in _LIMITS:
        if found := re.match(pattern, text):
            return words.format(*(part.removesuffix(".0").replace("_", " ") for part in found.groups()))
    if found := re.match(r"Expected `(.+)`, got `(.+)`", text):
        wanted, got = ([_KINDS.get(kind, kind) for kind in part.split(" | ")] for part in found.groups())
        return f"{' or '.join(wanted)} is expected here, not {' or '.join(got)}"
    if found := re.match(r"Invalid enum value '?(.*?)'?$", text):
        allowed = _allowed(model, place)
        return (
            f'"{found[1][:40]}" is none of {", ".join(allowed)}' if allowed else f'"{found[1][:40]}" is not known here'
        )
    return text[:1].lower() + text[1:]


def _allowed(model: Any, place: tuple[str | int, ...]) -> list[str]:
    """The words that the field at a place may hold."""
    kind: Any = model
    for part in place:
        hints = get_type_hints(kind, include_extras=True) if isinstance(kind, type) and issubclass(kind, Model) else {}
        if part in hints:
            kind = _bare(hints[str(part)])
        else:  # one of a list, or a value by a key
            inner = [one for one in get_args(kind) if one is not Ellipsis]
            kind = _bare(inner[-1]) if inner else kind
    if get_origin(kind) is Literal:
        return [str(word) or "nothing" for word in get_args(kind)]
    return list(map(str, kind.__members__.values())) if isinstance(kind, EnumType) else []


def _bare(kind: Any) -> Any:
    """A kind without its notes, and without the "or nothing"."""
    if get_origin(kind) is Annotated:
        return _bare(get_args(kind)[0])
    if isinstance(kind, types.UnionType):
        return next(_bare(one) for one in get_args(kind) if one is not type(None))
    return kind
