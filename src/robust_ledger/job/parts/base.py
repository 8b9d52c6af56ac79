"""What every part of the document has in common: immutable, unknown fields kept, finite numbers, printable text.

A part is read with `Model.read` and changed with `Model.changed`: both check what they are given. Making one directly, or with
`replace`, is for values that are known to be good. The parts do without postponed annotations: reading each of those anew from text
would cost the desk's start ten milliseconds.
"""

import math
from collections.abc import Mapping
from functools import cache
from typing import Annotated, Any, Self, cast

from msgspec import NODEFAULT, Meta, Struct, ValidationError, convert, field
from msgspec.structs import fields, replace

from robust_ledger.job.keys import MOST_LETTERS, CircuitKey
from robust_ledger.job.parts.errors import ModelError, NoFieldError

Text = Annotated[str, Meta(max_length=2000)]
Line = Annotated[str, Meta(max_length=200)]

MOST_ENTRIES = 2000  # of any list; those that have less say so
LARGEST = 1e9  # of any figure: beyond it sums and products are none any more
UNKNOWN = "fields of another version"


class AsGiven(dict[str, Any]):
    """A JSON object that is none of ours: kept and written back exactly as it was given."""

    def __hash__(self) -> int:  # type: ignore[override]
        return hash(frozenset(self))


class Model(Struct, frozen=True, kw_only=True):
    """Base of every part of the document. `unknown`: fields that this version does not know."""

    unknown: AsGiven = field(default_factory=AsGiven, name=UNKNOWN)

    @classmethod
    def read(cls, data: Mapping[str, Any]) -> Self:
        """A part from its JSON object, or from values by field, checked. Raises ModelError."""
        try:
            made = convert(data, cls, dec_hook=_custom)
        except UnicodeEncodeError:
            raise ModelError("holds a letter that is none") from None
        except ValidationError as fault:
            from robust_ledger.job.parts.faults import in_words  # only when something is wrong

            raise in_words(fault, cls) from None
        return cast(Self, _finished(made, data, ()))

    def changed(self, **values: Any) -> Self:
        """This part with some fields changed, checked. Raises ModelError, and NoFieldError for a name that is none of its fields."""
        if odd := values.keys() - set(self.__struct_fields__):
            raise NoFieldError(type(self).__name__, odd)
        kept = {name: getattr(self, name) for name in self.__struct_fields__ if name != "unknown"}
        return replace(type(self).read({**kept, **values}), unknown=self.unknown)

    def as_data(self) -> dict[str, Any]:
        """As the job file has it: plain JSON values, fields in their order, unknown ones at the end."""
        made = {name: plain(getattr(self, name)) for name in self.__struct_fields__ if name != "unknown"}
        return {**made, **self.unknown}


def read_news(after: Any, before: Any) -> Any:
    """A part made of another by an edit, with what is not the very same object read as from a file: so an edit of a long record or of many
    circuits costs what it changes. Raises ModelError."""
    kind: type[Model] = type(after)
    if kind is not type(before) or after.unknown is not before.unknown or not _may_be_empty(cast(Any, kind)):
        return kind.read(plain(after))
    made: dict[str, Any] = {}
    for name in kind.__struct_fields__:
        new, old = getattr(after, name), getattr(before, name)
        if new is old:
            continue
        if isinstance(new, Model) and isinstance(old, Model):
            try:
                made[name] = read_news(new, old)
            except ModelError as fault:
                raise ModelError(str(fault), (name, *fault.place)) from None
        elif type(new) is type(old) and isinstance(new, (tuple, dict)):
            made[name] = _read_items(kind, name, new, old)
        else:
            made[name] = getattr(kind.read({name: plain(new)}), name)
    return replace(after, **made) if made else after


def _read_items(kind: type[Model], name: str, new: Any, old: Any) -> Any:
    """A list, or what is known by a key, with the items read that were not there before."""
    if isinstance(new, dict):
        fresh = {str(key): plain(one) for key, one in new.items() if old.get(key) is not one}
        read = getattr(kind.read({name: fresh}), name)
        made: Any = {key: read.get(key, one) for key, one in new.items()}
    else:
        known = set(map(id, old)) if old and isinstance(old[0], Model) else set()
        places = [number for number, mark in enumerate(map(id, new)) if mark not in known]
        made = list(new)
        for number, one in zip(places, _read_at(kind, name, new, places), strict=True):
            made[number] = one
        made = tuple(made)
    if len(made) > (most := _most_of(kind, name)):
        raise ModelError(f"has more than {most:,} entries", (name,))
    return made


def _read_at(kind: type[Model], name: str, items: tuple[Any, ...], places: list[int]) -> Any:
    """Some items of a list, read. Raises ModelError that says which of the whole list it is."""
    try:
        return getattr(kind.read({name: [plain(items[number]) for number in places]}), name)
    except ModelError as fault:
        place = fault.place
        if len(place) > 1 and isinstance(place[1], int):
            place = (name, places[place[1]], *place[2:])
        raise ModelError(str(fault), place) from None


@cache
def _may_be_empty(kind: Any) -> bool:
    """Whether each of its fields has a default."""
    return all(one.default is not NODEFAULT or one.default_factory is not NODEFAULT for one in fields(kind))


@cache
def _most_of(kind: type[Model], name: str) -> int:
    """How many items a list of a part holds."""
    said = (getattr(one, "max_length", None) for one in getattr(kind.__annotations__[name], "__metadata__", ()))
    return next((most for most in said if most is not None), MOST_ENTRIES)


def as_key(text: str) -> CircuitKey:
    """A circuit's key as text, of a length that a job can hold. Raises ValueError."""
    if len(text) > MOST_LETTERS:
        raise ValueError(f"Expected `str` of length <= {MOST_LETTERS}")
    return CircuitKey(text)


def _custom(kind: type, value: Any) -> Any:
    if kind is CircuitKey and isinstance(value, str):
        return as_key(value)
    if kind is AsGiven and isinstance(value, dict):
        return AsGiven(value)
    raise ValueError(f"Expected `{'str' if kind is CircuitKey else 'object'}`, got another")


def plain(value: Any) -> Any:
    """Any value of a part as the job file has it."""
    if isinstance(value, Model):
        return value.as_data()
    if isinstance(value, AsGiven):
        return dict(value)
    if isinstance(value, tuple):
        return [plain(one) for one in value]
    if isinstance(value, dict):
        return {str(key): plain(one) for key, one in value.items()}
    return str(value) if isinstance(value, str) else value


def _finished(made: Any, data: Any, place: tuple[str | int, ...]) -> Any:
    """What was read, with what reading alone does not do: unknown fields kept, control characters taken out (a line may end up
    on a printed sheet), numbers finite."""
    if made is None or (made is data and isinstance(made, Model)):
        return made
    if isinstance(made, Model):
        names = type(made).__struct_fields__
        changes = {}
        for name in names:
            held = getattr(made, name)
            if held is None or type(held) is bool or name not in data:
                continue
            if (done := _finished(held, data[name], (*place, name))) is not held:
                changes[name] = done
        if unknown := {name: value for name, value in data.items() if name not in names or name == "unknown"}:
            changes["unknown"] = AsGiven(unknown)
        return replace(made, **changes) if changes else made
    if type(made) is str:
        return made if made.isprintable() else "".join(c for c in made if c.isprintable() or c == "\n")
    if type(made) in (tuple, dict) and len(made) > MOST_ENTRIES:
        raise ModelError(f"has more than {MOST_ENTRIES:,} entries", place)
    if type(made) is tuple:
        done_all = tuple(
            _finished(one, from_, (*place, n)) for n, (one, from_) in enumerate(zip(made, data, strict=True))
        )
        return made if all(one is was for one, was in zip(done_all, made, strict=True)) else done_all
    if type(made) is dict:
        return {key: _finished(one, data[str(key)], (*place, key)) for key, one in made.items()}
    if type(made) in (float, int) and not abs(made) <= LARGEST:
        raise ModelError(
            "a number that is finite is expected here"
            if made in (math.inf, -math.inf)
            else "no house has a number so large",
            place,
        )
    return made
