"""Short ways to make fields: each names its place ("fit:old.height_in"), and its words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from robust_ledger.changeover.clock import clock_text, read_clock
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField, TickField
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import change_record, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.readers.numbers import (
    fault_table_text,
    names_text,
    read_aic,
    read_amps,
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

LOOKED = ((None, "not checked"), (True, "yes"), (False, "no"))


def of_place(place: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
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


def of_panel_in_view(store: JobStore, place: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
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


class Fields:
    """Makes fields for one store; `in_view`: those of a panel's record are of the panel in view, not of the main one."""

    def __init__(self, store: JobStore, in_view: bool = False) -> None:
        self.store, self.in_view = store, in_view

    def of(self, place: str) -> tuple[Callable[[Job], Any], Callable[[Job, Any], Job]]:
        """How the field of a place is read and written."""
        if self.in_view and Place(place).kind == "panel":
            return of_panel_in_view(self.store, place)
        return of_place(place)

    def _text(self, place: str, words: str, read: Callable[[str], Any], write: Callable[[Any], str], hint: str) -> Any:
        return place, TextField(self.store, words, *self.of(place), read, write, hint)

    def inches(self, place: str, words: str, most: float = 400, hint: str = "in") -> Any:
        return self._text(place, words, lambda text: read_inches(text, most), length_text, hint)

    def signed_inches(self, place: str, words: str, hint: str = "in") -> Any:
        """Inches that may lie below zero, like an offset."""
        return self._text(place, words, lambda text: read_signed_inches(text, 400), length_text, hint)

    def feet(self, place: str, words: str, most: float = 2000, hint: str = "ft") -> Any:
        return self._text(place, words, lambda text: read_feet(text, most), length_text, hint)

    def amps(self, place: str, words: str, hint: str = "not known") -> Any:
        return self._text(place, words, read_amps, number_text, hint)

    def aic(self, place: str, words: str) -> Any:
        """An interrupting rating: "22k" or "22,000"."""
        return self._text(place, words, read_aic, number_text, "not read")

    def number(self, place: str, words: str, low: float, high: float, hint: str = "not known") -> Any:
        return self._text(place, words, read_number(low, high), number_text, hint)

    def temperature(self, place: str, words: str, hint: str) -> Any:
        """Read and shown in °F, kept in °C; "40 C" is read too."""
        return self._text(place, words, read_temperature, temperature_text, hint)

    def count(self, place: str, words: str, low: int, high: int) -> Any:
        return self._text(place, words, read_count(low, high), str, "")

    def places(self, place: str, words: str, most: int) -> Any:
        """A whole number that may not be known."""

        def read(text: str) -> int | None:
            return read_count(0, most)(text) if text.strip() else None

        return self._text(place, words, read, str, "not checked")

    def line(self, place: str, words: str, hint: str = "") -> Any:
        return self._text(place, words, str.strip, str, hint)

    def names(self, place: str, words: str, hint: str = "") -> Any:
        """Names in their order, with commas between."""
        return self._text(place, words, read_names, names_text, hint)

    def fault_table(self, place: str, words: str, hint: str = "") -> Any:
        """The utility's table of fault currents: "200 A 10 kA, 400 A 22 kA"."""
        return self._text(place, words, read_fault_table, fault_table_text, hint)

    def clock(self, place: str, words: str, hint: str = "") -> Any:
        """A time of day, "5 pm"; empty where none is said."""
        return self._text(place, words, lambda text: clock_text(read_clock(text)) if text.strip() else "", str, hint)

    def choice(self, place: str, words: str, choices: Sequence[tuple[Any, str]]) -> Any:
        return place, ChoiceField(self.store, words, *self.of(place), choices)

    def looked(self, place: str, words: str) -> Any:
        return self.choice(place, words, LOOKED)

    def tick(self, place: str, words: str) -> Any:
        return place, TickField(self.store, words, *self.of(place), words)


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
    return lay_out(Form(), rows, width)
