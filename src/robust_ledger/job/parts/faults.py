"""What is wrong with a part of the document, in words with its place: imported only when something is."""

from __future__ import annotations

import re
from typing import Any

from msgspec import Struct, ValidationError

from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.field import fields_of

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


def in_words(fault: ValidationError, model: type[Struct]) -> ModelError:
    """The fault in words, with the way to it from the model down."""
    text, _, path = str(fault).partition(" - at `")
    place = tuple(
        int(number) if number else name or "one of them"
        for name, number in re.findall(r"\.(\w+)|\[(\d+|\.\.\.)\]", path)
        for number in [number if number != "..." else ""]
    )
    return ModelError(_words(text, place, model), place)


def _words(text: str, place: tuple[str | int, ...], model: type[Struct]) -> str:
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


def _allowed(model: type[Struct], place: tuple[str | int, ...]) -> list[str]:
    """The words that the field at a place may hold; a number in the way is one of a list."""
    kind: Any = model
    values: tuple[Any, ...] = ()
    for part in place:
        if isinstance(kind, type) and issubclass(kind, Struct) and part in fields_of(kind):
            field = fields_of(kind)[str(part)]
            kind, values = field.kind, field.values
    return [str(value) or "nothing" for value in values]
