"""What differs between two jobs, in words: for a choice between them, and for looking back."""

from __future__ import annotations

from collections.abc import Iterator
from enum import Enum
from typing import Any

from robust_ledger.job.fields import name_in_words
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import AsGiven, Model

_ONE = {
    "circuits": "tag",
    "loads": "load",
    "futures": "future",
    "defects": "defect",
    "local_rules": "amendment",
    "cautions": "caution",
}
_NAMED = {
    "tag": "tag",
    "id": "name",
    "key": "key",
    "mark": "mark",
}  # what tells the items of a list apart, and what they are called by


def differences(before: Job, after: Job) -> list[str]:
    """One line for each thing that differs, in the order of the job: 'tag 7: breaker 20 A → 15 A'."""
    return list(_parts(before, after, ""))


def summary(before: Job, after: Job, most: int = 8) -> list[str]:
    """The first differences, and how many more there are."""
    every = differences(before, after)
    if len(every) <= most + 1:
        return every
    return [*every[:most], f"and {len(every) - most} more"]


def _parts(before: Model, after: Model, about: str) -> Iterator[str]:
    for name in before.__struct_fields__:
        old, new = getattr(before, name), getattr(after, name)
        if old is not new and old != new:
            yield from _field(name, old, new, about)


def _field(name: str, old: Any, new: Any, about: str) -> Iterator[str]:
    words, unit = words_and_unit(name)
    if isinstance(old, Model) and isinstance(new, Model):
        yield from _parts(old, new, _within(about, words))
    elif isinstance(old, tuple) and any(isinstance(one, Model) for one in (*old, *new)):
        yield from _items(name, old, new, about)
    elif isinstance(old, dict) and not isinstance(old, AsGiven):
        for key in dict.fromkeys([*old, *new]):
            if old.get(key) != new.get(key):
                yield from _field_of_key(_within(about, f"{words} {key}"), old.get(key), new.get(key))
    else:
        yield f"{_within(about, words)}: {value_text(old, unit)} → {value_text(new, unit)}"


def _field_of_key(about: str, old: Any, new: Any) -> Iterator[str]:
    if isinstance(old, Model) and isinstance(new, Model):
        yield from _parts(old, new, about)
    else:
        yield f"{about}: {value_text(old, '')} → {value_text(new, '')}"


def _items(name: str, old: tuple[Any, ...], new: tuple[Any, ...], about: str) -> Iterator[str]:
    """Lists of things that have a tag or an id: which came, which went, and what changed of the others."""
    key = next((one for one in _NAMED if hasattr((*old, *new)[0], one)), None)
    if key is None or name == "readings":
        yield f"{_within(about, words_and_unit(name)[0])}: {len(old)} → {len(new)}"
        return
    was, now = ({getattr(item, key): item for item in items} for items in (old, new))
    for which in dict.fromkeys([*was, *now]):
        one = now.get(which) or was[which]
        called = f"{_ONE.get(name, words_and_unit(name)[0])} {getattr(one, 'name', '') or which}"
        if which not in now:
            yield f"{called} is not there any more"
        elif which not in was:
            said = getattr(one, "feeds", "") or getattr(one, "what", "")
            yield f"{called} is new" + (f": {said}" if said else "")
        else:
            yield from _parts(was[which], now[which], _within(about, called))
    if list(was) != list(now) and set(was) == set(now):
        yield f"{words_and_unit(name)[0]}: in another order"


def _within(about: str, words: str) -> str:
    return f"{about}: {words}" if about and ":" not in about else f"{about}, {words}" if about else words


def words_and_unit(name: str) -> tuple[str, str]:
    """A field's name in words, and its unit as it stands behind a value: ("breaker", " A")."""
    words, unit = name_in_words(name)
    return words, f" {unit}" if unit else ""


def value_text(value: Any, unit: str) -> str:
    """A value as it is read, with the unit of its field; "nothing" for what is empty."""
    if value is None or value == "" or value == ():
        return "nothing"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Model):
        return "set"
    if isinstance(value, tuple):
        return ", ".join(value_text(one, "") for one in value[:6]) + ("…" if len(value) > 6 else "") + unit
    if isinstance(value, (int, float)):
        return f"{value:,.10g}{unit}"
    text = str(value.value if isinstance(value, Enum) else value).replace("\n", " ")
    text = text.replace("_", " ") if text.islower() and text.isidentifier() else text
    return (text if len(text) <= 60 else f"{text[:58]}…") + unit
