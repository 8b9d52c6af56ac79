"""Circuits on the clipboard: rows with tabs between the cells, that a spreadsheet takes and that come back just as they were."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.exchange.cells import cell, columns_of, read
from robust_ledger.exchange.tables import Fault
from robust_ledger.job.fields import fields_of
from robust_ledger.job.job import MOST_CIRCUITS, Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.errors import ModelError

# Loads and photos stay behind: in another job they would name nothing.
_LEFT = ("load_ids", "photos")
COLUMNS = tuple(name for name in columns_of(Circuit) if name not in _LEFT)
HEADS = tuple(fields_of(Circuit)[name].said.head or name.replace("_", " ") for name in COLUMNS)
_NONE = "-"  # in no space


class Pasted(Struct, frozen=True):
    """What came of pasted rows: the job, the tags of the circuits that came, and what could not be taken."""

    job: Job
    tags: tuple[int, ...]
    faults: tuple[Fault, ...]


def as_rows(circuits: Iterable[Circuit]) -> str:
    """Circuits as rows below their heads."""
    out = io.StringIO()
    writer = csv.writer(out, dialect="excel-tab", lineterminator="\n")
    writer.writerow(HEADS)
    writer.writerows([_cell(circuit, name) for name in COLUMNS] for circuit in circuits)
    return out.getvalue()


def _cell(one: Circuit, name: str) -> str:
    text = cell(one, name)
    if name == "spaces":
        return text.replace("; ", ",") or _NONE
    return text or {"breaker_a": "?", "gauge": "?", "poles": "1", "metal": "cu"}.get(name, "")


def rows_in(text: str) -> list[list[str]] | None:
    """The rows of a clipboard that has our heads, without them; None for any other text, which is read line by line."""
    try:
        rows = list(
            csv.reader(io.StringIO(text.replace("\r\n", "\n").replace("\r", "\n")), dialect="excel-tab", strict=False)
        )
    except csv.Error:
        return None
    head = [one.strip().lower() for one in rows[0]] if rows else []
    return rows[1:] if head == list(HEADS) else None


def pasted(rows: Sequence[Sequence[str]], job: Job) -> Pasted:
    """Take rows as new circuits, each with the tag it has, or the next one where that is another circuit's; a shared neutral goes with it. A row
    that cannot be taken is told, the others come in."""
    made: dict[int, tuple[int, Circuit]] = {}
    faults: list[Fault] = []
    new_tag: dict[int, int] = {}
    taken = {one.tag for one in job.circuits}
    for number, row in enumerate(rows, 2):
        if not any(one.strip() for one in row):
            continue
        try:
            if len(taken) >= MOST_CIRCUITS:
                raise ValueError(f"a job has {MOST_CIRCUITS} circuits at the most")
            circuit = _circuit(row)
        except ValueError as problem:
            words = problem.sentence if isinstance(problem, ModelError) else str(problem)
            faults.append(Fault(number, "", words))
            continue
        tag = circuit.tag if circuit.tag > 0 and circuit.tag not in taken else max(0, *taken) + 1
        new_tag.setdefault(circuit.tag, tag)
        taken.add(tag)
        made[tag] = number, replace(circuit, tag=tag)
    circuits = tuple(_partnered(circuit, number, new_tag, faults) for number, circuit in made.values())
    after = replace(job, circuits=(*job.circuits, *circuits)).checked(job)
    return Pasted(after, tuple(made), tuple(faults))


def _circuit(row: Sequence[str]) -> Circuit:
    """A row as a circuit, its tag 0 where none is given. Raises ValueError with the column."""
    values: dict[str, Any] = {"tag": 0}
    for name, head, text in zip(COLUMNS, HEADS, row, strict=False):
        if name == "spaces":
            text = "" if text.strip() == _NONE else text.replace(",", ";")
        if not text.strip():
            continue
        try:
            values[name] = read(text, columns_of(Circuit)[name])
        except ValueError as problem:
            raise ValueError(f"{head}: {problem}") from None
    return Circuit.read(values)


def _partnered(circuit: Circuit, number: int, new_tag: dict[int, int], faults: list[Fault]) -> Circuit:
    """A circuit that shares its neutral with the one that came along; where that did not, it is told: a shared neutral must not get lost."""
    partner = circuit.shares_neutral_with
    if partner is None:
        return circuit
    if partner not in new_tag:
        faults.append(
            Fault(number, "", f"it shares a neutral with tag {partner}, which is not among these rows; say with which")
        )
    return replace(circuit, shares_neutral_with=new_tag.get(partner))
