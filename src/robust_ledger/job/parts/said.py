"""What a field says of itself, beside its type: the words of its form, what it may be, how it is read. It stands in the field's annotation,
and nowhere else; `robust_ledger.job.fields` reads it."""

from collections.abc import Mapping
from typing import Any

from msgspec import Meta, Struct


class Said(Struct, frozen=True):
    """The words of a field.

    `label`: on a form, where its neighbors tell what it is of; `words`: in a sentence, where its name does not do; `choices`: what each value is
    called, in their order; `hint`: what stands in its place while it is empty; `reads`: how it is typed, where the unit in its name does not tell;
    `least` and `most`: what a form takes; `measured`: what a length or rating is of that is above zero, or not known; `tick`: the words beside
    its box; `head`: over its column in a table.
    """

    label: str = ""
    words: str = ""
    choices: Mapping[Any, str] = {}
    hint: str | None = None
    reads: str = ""
    least: float | None = None
    most: float | None = None
    measured: str = ""
    tick: str = ""
    head: str = ""


_LIMITS = ("max_length", "ge", "gt", "le", "lt")


def said(label: str = "", help: str = "", **more: Any) -> Meta:
    """The note on a field: its label, what it means, what else `Said` holds, and the limits of `Meta` that the job itself keeps."""
    limits = {name: more.pop(name) for name in _LIMITS if name in more}
    return Meta(description=help or None, extra={"said": Said(label, **more)}, **limits)
