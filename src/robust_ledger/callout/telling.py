"""Facts told back in the words of the trade: "drop attached at: 15 ft", "gas pipe: not bonded"."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any

from robust_ledger.callout.frame_nodes import PREFIX
from robust_ledger.callout.phrases import words_of
from robust_ledger.job.fields import Field, field_at
from robust_ledger.job.parts.base import plain
from robust_ledger.ledger.text import number_text


@cache
def _worded(stage: str) -> dict[str, str]:
    """What choices are called: "rmc" → "rigid"."""
    choices = words_of(stage).get("choices", {})
    return {value: words[0] for values in choices.values() for value, words in values.items()}


def chip(path: str, value: Any, grammar: str) -> str:
    """A field in words, as a chip: "meter label: 150 A", "garage panel breaker: 60 A"."""
    if path.startswith(PREFIX):
        node, _, own = path.removeprefix(PREFIX).partition(".")
        known, figure = field_at(f"panels.{own}"), isinstance(value, float | int) and not isinstance(value, bool)
        text = f"{_as_text(value, grammar, known)} {known.unit if figure else ''}".strip().replace("_", " ")
        return f"{node.replace('-', ' ')} panel, {known.words}: {text}"
    if (told := _told().get(path)) is not None:
        return f"{told}: {_as_told(path, value, grammar)}"
    part, _, name = path.partition(".")
    ways = [path.rsplit(".", n)[0] for n in reversed(range(path.count(".")))] or [path]
    known = field_at(path)
    words, unit = " ".join(field_at(way).words for way in ways), known.unit
    figure = isinstance(value, float | int) and not isinstance(value, bool)
    lead = "" if part in _PLAIN or not name else f"{part.replace('_', ' ')} "
    text = f"{_as_text(value, grammar, known)} {unit if figure else ''}".strip().removeprefix("+").replace("_", " ")
    return f"{lead}{words}: {text}"


@cache
def _told() -> Mapping[str, str]:
    """How fields are told back, where their name alone would not be said by anybody."""
    told: dict[str, str] = words_of("fields")["told"]
    for path in told:
        field_at(path)
    return told


def _as_told(path: str, value: Any, grammar: str) -> str:
    """A value with its unit, temperatures as people say them."""
    known = field_at(path)
    if known.unit == "°C" and isinstance(value, float | int):
        return f"{value * 9 / 5 + 32:.0f} °F"
    figure = isinstance(value, float | int) and not isinstance(value, bool)
    return (
        f"{_as_text(value, grammar, known)} {known.unit if figure else ''}".strip().removeprefix("+").replace("_", " ")
    )


def _as_text(value: Any, grammar: str, known: Field) -> str:
    """A value as the trade says it: a choice as a form has it, never as it is kept."""
    if known.said.choices and value in known.choices and not isinstance(value, bool):
        return str(known.choices[value])
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int):
        return number_text(value, 3)
    return _worded(grammar).get(str(value), str(plain(value)))


_PLAIN = frozenset(
    ("existing", "fit", "overhead", "decisions", "equipment", "scope", "heading", "day")
)  # their fields speak for themselves
