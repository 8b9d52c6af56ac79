"""Fields by their place ("fit:old.height_in"): the annotation of the field says its words, its choices and how it is read."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from msgspec import Struct

from robust_ledger.changeover.clock import clock_text, read_clock, read_date, zone_of
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField, TickField
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import change_record, with_part
from robust_ledger.job.fields import Field, field_at
from robust_ledger.job.job import Job
from robust_ledger.job.readers.numbers import (
    fault_table_text,
    names_text,
    read_aic,
    read_amps,
    read_band,
    read_count,
    read_fault_table,
    read_names,
    read_number,
    read_temperature,
    temperature_text,
)
from robust_ledger.job.readers.quantity import length_text, read_feet, read_inches, read_signed_inches
from robust_ledger.job.tree import record_of
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text

Ends = tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]

LOOKED = ((None, "not checked"), (True, "yes"), (False, "no"))


def of_place(place: str) -> Ends:
    """How the field of a place is read and written: "grounding:rods", "fit:old.height_in"."""
    part, path = Place(place).kind, Place(place).name
    first, _, inner = path.partition(".")

    def get(job: Job) -> Any:
        value = getattr(getattr(job, part), first)
        return getattr(value, inner) if inner else value

    def put(job: Job, value: Any) -> Job:
        if inner:
            held = getattr(getattr(job, part), first)
            value = held.changed(**{inner: value})
        return with_part(job, part, **{first: value})

    return get, put


def of_panel_in_view(store: JobStore, place: str) -> Ends:
    """How a field of a panel's record ("panel:spaces") is read and written: of the panel in view."""
    first, _, inner = Place(place).name.partition(".")

    def get(job: Job) -> Any:
        value = getattr(record_of(job, store.panel_id), first)
        return getattr(value, inner) if inner else value

    def put(job: Job, value: Any) -> Job:
        if inner:
            value = getattr(record_of(job, store.panel_id), first).changed(**{inner: value})
        return change_record(job, store.panel_id, **{first: value})

    return get, put


class Typed(Struct, frozen=True):
    """How a kind of value is typed: what reads it between two limits, what writes it, what stands in its place, and its most."""

    read: Callable[[float, float], Callable[[str], Any]]
    write: Callable[[Any], str]
    hint: str = ""
    most: float = 0


def _or_nothing(read: Callable[[str], Any]) -> Callable[[str], Any]:
    return lambda text: read(text) if text.strip() else None


def _or_zero(least: float, most: float) -> Callable[[str], float]:
    """A number; none is zero."""
    read = read_number(least, most)
    return lambda text: read(text) or 0.0


def _zone(text: str) -> str:
    if text.strip():
        zone_of(text.strip())
    return text.strip()


def _clock(text: str) -> str:
    return clock_text(read_clock(text)) if text.strip() else ""


TYPED: Mapping[str, Typed] = {
    "inches": Typed(lambda _least, most: lambda text: read_inches(text, most), length_text, "in", 400),
    "signed inches": Typed(lambda _least, most: lambda text: read_signed_inches(text, most), length_text, "in", 400),
    "feet": Typed(lambda _least, most: lambda text: read_feet(text, most), length_text, "ft", 2000),
    "amps": Typed(lambda _least, _most: read_amps, number_text, "not known"),
    "aic": Typed(lambda _least, _most: read_aic, number_text, "not read"),
    "number": Typed(read_number, number_text, "not known"),
    "temperature": Typed(lambda _least, _most: read_temperature, temperature_text),
    "count": Typed(lambda least, most: read_count(int(least), int(most)), str),
    "places": Typed(lambda _least, most: _or_nothing(read_count(0, int(most))), str, "not checked"),
    "line": Typed(lambda _least, _most: str.strip, str),
    "names": Typed(lambda _least, _most: read_names, names_text),
    "fault table": Typed(lambda _least, _most: read_fault_table, fault_table_text),
    "clock": Typed(lambda _least, _most: _clock, str),
    "date": Typed(lambda _least, _most: read_date, str),
    "zone": Typed(lambda _least, _most: _zone, str),
    "degrees": Typed(read_number, lambda value: number_text(value, 4)),
    "share": Typed(_or_zero, number_text),
    "band": Typed(lambda _least, _most: read_band, number_text),
}


def widget_of(store: JobStore, field: Field, ends: Ends, **own: Any) -> Any:
    """The widget for a field. `own`: what is said of it in this one place: label, tick, choices, hint, least, most, read, write."""
    said, label, reads = field.said, own.get("label") or field.label, own.get("reads") or field.reads
    if reads == "tick":
        return TickField(store, label, *ends, own.get("tick") or said.tick or label)
    if "choices" in own or reads in ("choice", "looked"):
        choices = own.get("choices", LOOKED if reads == "looked" else tuple(field.choices.items()))
        return ChoiceField(store, label, *ends, choices)
    typed = TYPED[reads]

    def limit(name: str, otherwise: float) -> float:
        value = own.get(name, getattr(said, name))
        return otherwise if value is None else float(value)

    read = own.get("read") or typed.read(limit("least", 0), limit("most", typed.most))
    hint = own.get("hint", said.hint)
    return TextField(store, label, *ends, read, own.get("write") or typed.write, typed.hint if hint is None else hint)


class Fields:
    """Makes fields for one store, each with its place; `in_view`: those of a panel's record are of the panel in view, not of the main one."""

    def __init__(self, store: JobStore, in_view: bool = False) -> None:
        self.store, self.in_view = store, in_view

    def of(self, place: str) -> Ends:
        """How the field of a place is read and written."""
        if self.in_view and Place(place).kind == "panel":
            return of_panel_in_view(self.store, place)
        return of_place(place)

    def __call__(self, place: str, **own: Any) -> tuple[str, Any]:
        """The field of a place, in its annotation's words; `own` as `widget_of` has it."""
        return place, widget_of(self.store, field_at(place), self.of(place), **own)


class ItemFields:
    """Makes fields of the chosen one of a list: "panels", and the field's name in it."""

    def __init__(self, store: JobStore, part: str, ends: Callable[[str], Ends]) -> None:
        self.store, self.part, self.ends = store, part, ends

    def __call__(self, name: str, **own: Any) -> tuple[str, Any]:
        """The field of a name, in its annotation's words."""
        return name, widget_of(self.store, field_at(f"{self.part}.{name}"), self.ends(name), **own)


def lay_out(form: Form, rows: Sequence[Sequence[Any]], width: int = 0, stretch: bool = True) -> Form:
    """Put rows of fields into a form; None leaves a gap. Text fields get a width, choices take what they need."""
    most = 0
    for number, row in enumerate(rows):
        for column, made in enumerate(row):
            if made is not None:
                place, field = made
                form.add(place, field, number, column, width if isinstance(field, TextField) else 0)
                most = max(most, column)
    if stretch:
        form.grid.setColumnStretch(2 * most + 2, 1)
    return form


def form_of(rows: Sequence[Sequence[Any]], width: int = 0) -> Form:
    """A form of rows of fields."""
    return lay_out(Form(), rows, width)
