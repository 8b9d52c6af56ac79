"""What goes out to a spreadsheet and comes back: circuits, loads, local amendments, the torque log, the material."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.changeover.energize import sequence
from robust_ledger.exchange.cells import MORE, cell, columns_of, read, value_text
from robust_ledger.job.edits import new_load_id, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.local import LocalRule
from robust_ledger.job.parts.record import Tightened
from robust_ledger.ledger.text import guarded, unguarded
from robust_ledger.plan import Plan

# Other words for a column, as they stand over one in other people's tables.
ALSO = {
    "tag": ("ckt", "circuit no", "circuit number", "no", "number", "wire tag"),
    "spaces": ("space", "position", "pos", "slot", "slots", "breaker position"),
    "breaker_a": ("breaker", "amps", "ocpd", "rating", "size", "breaker size", "a", "amp"),
    "gauge": ("awg", "wire", "wire size", "wire gauge"),
    "feeds": ("description", "load", "serves", "circuit", "name", "label", "what"),
    "room": ("location", "area", "where"),
    "note": ("notes", "remark", "remarks", "comment", "comments"),
    "name": ("load", "appliance", "description", "equipment"),
    "nameplate.amount": ("va", "watts", "w", "kw", "nameplate", "load va", "amount"),
    "nameplate.volts": ("volts", "v", "voltage"),
    "nameplate.unit": ("unit", "units"),
    "on_hand": ("have", "stock", "in stock"),
    "each": ("price", "unit price", "cost each", "cost"),
    "first_in_lb": ("first", "first pass"),
    "second_in_lb": ("second", "second pass"),
}


MOST_REFUSED = 500


class Fault(Struct, frozen=True):
    """A cell that cannot be taken: its row in the file, counted from 1, its column, and why."""

    row: int
    column: str
    text: str

    @property
    def sentence(self) -> str:
        """The fault with its row and column."""
        at = f"row {self.row}" + (f", {self.column}" if self.column else "")
        return f"{at}: {' '.join(self.text.split())}."


class Taken(Struct, frozen=True):
    """What came of an import: the job with every good row, how many there were, and what was left."""

    job: Job
    good: int
    faults: tuple[Fault, ...]


class Table(Struct, frozen=True):
    """A table: its name, its columns, its rows from a plan, and how a row comes into a job."""

    name: str
    columns: tuple[str, ...]
    rows: Callable[[Plan], list[list[str]]]
    take: Callable[[Job, Mapping[str, str]], Job]


def exported(table: Table, plan: Plan) -> list[list[str]]:
    """Head and rows of a table."""
    return [list(table.columns), *table.rows(plan)]


def guessed(head: Sequence[str], table: Table) -> list[str]:
    """Which column of the table each column of a file is, by its head; "" for none. A column is given once."""
    left = list(table.columns)
    made = []
    for words in head:
        found = next((name for name in left if _plain(words) in (_plain(name), *map(_plain, ALSO.get(name, ())))), "")
        if not found:  # "Breaker (A)", "Wire size AWG": the longest of its names that it begins with
            found = next(
                (
                    name
                    for name in left
                    for also in (name, *ALSO.get(name, ()))
                    if len(also) > 3 and _plain(words).startswith(_plain(also))
                ),
                "",
            )
        if found:
            left.remove(found)
        made.append(found)
    return made


def _plain(words: str) -> str:
    return re.sub(r"[^a-z0-9]", "", words.lower())


def imported(rows: Sequence[Sequence[str]], columns: Sequence[str], table: Table, job: Job) -> Taken:
    """Take rows into a job, the first of them being the head. `columns`: which column of the table each is, "" for one that is left. A row that
    cannot be taken is left with the reason, the others come in."""
    good, faults, refused = 0, list[Fault](), 0
    for number, row in enumerate(rows[1:], 2):
        values = {name: value for name, value in zip(columns, row, strict=False) if name and value.strip()}
        if not values:
            continue
        try:
            if refused >= MOST_REFUSED:  # each is tried by itself; a file that is all wrong is not tried for ever
                raise CellError("", "not tried: too many rows before it cannot be taken")
            job = table.take(job, values).checked(job)
            good += 1
        except CellError as problem:
            faults.append(Fault(number, problem.column, str(problem)))
        except ModelError as problem:
            refused += 1
            faults.append(Fault(number, "", problem.sentence))
    return Taken(job, good, tuple(faults))


class CellError(ValueError):
    """A cell that cannot be read; `column` is its column."""

    def __init__(self, column: str, text: str) -> None:
        super().__init__(text)
        self.column = column


def _values(kind: type[Model], cells: Mapping[str, str], skipped: tuple[str, ...] = ()) -> dict[str, Any]:
    """Cells as values by field. Raises CellError."""
    made: dict[str, Any] = {}
    for name, hint in columns_of(kind).items():
        if name in cells and name not in skipped:
            try:
                value = read(cells[name], hint)
            except ValueError as problem:
                raise CellError(name, str(problem)) from None
            first, _, inner = name.partition(".")
            if inner:
                made.setdefault(first, {})[inner] = value
            else:
                made[first] = value
    return made


def _merged(one: Model, values: dict[str, Any]) -> Any:
    """A part with some fields changed, those of a part within it too."""
    flat = {
        name: getattr(one, name).changed(**value) if isinstance(value, dict) else value
        for name, value in values.items()
    }
    return one.changed(**flat)


def _of_models(kind: type[Model], ones: Sequence[Model]) -> list[list[str]]:
    return [[cell(one, column) for column in columns_of(kind)] for one in ones]


def _take_circuit(job: Job, cells: Mapping[str, str]) -> Job:
    if "spaces" in cells:
        cells = {**cells, "spaces": cells["spaces"].replace(",", MORE)}  # "9,11", as people write it
    values = _values(Circuit, cells)
    tag = values.pop("tag", None)
    if tag is None:
        tag = job.tag_for(tuple(values.get("spaces", ())))
    known = job.circuit(tag)
    if known is None:
        return replace(job, circuits=(*job.circuits, Circuit.read({"tag": tag, **values})))
    return replace(
        job, circuits=tuple(_merged(circuit, values) if circuit.tag == tag else circuit for circuit in job.circuits)
    )


def _take_load(job: Job, cells: Mapping[str, str]) -> Job:
    values = _values(Load, cells)
    name = values.get("name", "")
    load_id = (
        values.pop("id", "") or next((load.id for load in job.loads if load.name == name), "") or new_load_id(job, name)
    )
    known = job.load(load_id)
    if known is None:
        if not name:
            raise CellError("name", "a load needs a name")
        return replace(job, loads=(*job.loads, Load.read({"id": load_id, **values})))
    return replace(job, loads=tuple(_merged(one, values) if one.id == load_id else one for one in job.loads))


def _take_amendment(job: Job, cells: Mapping[str, str]) -> Job:
    values = _values(LocalRule, cells)
    key = values.get("key", "")
    if not key:
        raise CellError("key", "which figure it is, is not in this row")
    if any(one.key == key for one in job.local_rules):
        return replace(
            job, local_rules=tuple(_merged(one, values) if one.key == key else one for one in job.local_rules)
        )
    return replace(job, local_rules=(*job.local_rules, LocalRule.read(values)))


PROTECTION = ("key", "tag", "feeds", "found", "guarded", "required", "sections", "planned", "where", "tested")


def _protection_rows(plan: Plan) -> list[list[str]]:
    tested = {one.branch.key: one.tested for one in sequence(plan.changeover)}
    made = []
    for row in plan.circuits.ledger:
        circuit = plan.job.circuit(row.key.tag) if row.key.tag is not None else None
        guard = circuit.guarded if circuit is not None else ""
        cells = (row.key, row.tag, row.feeds, row.found, guard, row.required, row.sections, row.planned, row.where)
        made.append([*(guarded(cell) for cell in cells), tested.get(row.key, "")])
    return made


def _take_protection(job: Job, cells: Mapping[str, str]) -> Job:
    """What was found at the outlets of an old circuit; the rest is worked out."""
    key = CircuitKey(unguarded(cells.get("key", "")).strip())
    circuit = job.circuit(key.tag) if key.tag is not None else None
    if "guarded" not in cells:
        return job
    if circuit is None:
        raise CellError("key", f'"{key[:40]}" is no circuit that was called out')
    return _take_circuit(job, {"tag": str(circuit.tag), "guarded": cells["guarded"]})


TORQUE = ("key", "termination", "wire", "due_in_lb", "first_in_lb", "second_in_lb", "marked", "open")


def _torque_rows(plan: Plan) -> list[list[str]]:
    made = []
    for one in plan.changeover.torque:
        figures = [
            "" if value is None else value_text(value) for value in (one.of.due_in_lb, one.row.first, one.row.second)
        ]
        wire = one.of.wire_text
        made.append(
            [
                guarded(one.of.key),
                guarded(one.of.words),
                wire,
                *figures,
                "yes" if one.row.marked else "",
                guarded(one.wrong or ", ".join(one.missing)),
            ]
        )
    return made


def _take_torque(job: Job, cells: Mapping[str, str]) -> Job:
    key = unguarded(cells.get("key", "")).strip()
    if not key:
        raise CellError("key", "which termination it is, is not in this row")
    log = job.record.torque
    row = log.rows.get(key) or Tightened()
    values: dict[str, Any] = {}
    for column, field in (("first_in_lb", "first"), ("second_in_lb", "second")):
        if column in cells:
            values[field] = _number(cells, column)
    if "marked" in cells:
        try:
            values["marked"] = read(cells["marked"], bool)
        except ValueError as problem:
            raise CellError("marked", str(problem)) from None
    return with_part(job, "record", torque=log.changed(rows={**log.rows, key: row.changed(**values)}))


MATERIAL = ("key", "group", "item", "how_many", "unit", "on_hand", "to_buy", "each", "cost")


def _material_rows(plan: Plan) -> list[list[str]]:
    stock, made = plan.job.stock, []
    for item in plan.material.items:
        left, cost = item.to_buy(stock), item.cost(stock)
        figures = [
            item.entry.amount if item.entry.known else None,
            stock.on_hand.get(item.key),
            left,
            stock.prices.get(item.key),
            cost,
        ]
        many, hand, buy, each, all_of = (
            "?" if n == 0 and v is None else "" if v is None else value_text(float(v)) for n, v in enumerate(figures)
        )
        made.append(
            [guarded(item.key), guarded(item.group), guarded(item.words), many, item.unit, hand, buy, each, all_of]
        )
    return made


def _take_material(job: Job, cells: Mapping[str, str]) -> Job:
    key = unguarded(cells.get("key", "")).strip()
    if not key:
        raise CellError("key", "which item it is, is not in this row")
    hand, prices = dict(job.stock.on_hand), dict(job.stock.prices)
    if "on_hand" in cells:
        hand[key] = _number(cells, "on_hand")
    if "each" in cells:
        prices[key] = _number(cells, "each")
    return with_part(job, "stock", on_hand=hand, prices=prices)


def _number(cells: Mapping[str, str], column: str) -> float:
    try:
        return float(cells[column].replace(",", "").replace("$", "").strip())
    except ValueError:
        raise CellError(column, f'"{cells[column][:40]}" is not a number') from None


TABLES = {
    "circuits": Table(
        "circuits", tuple(columns_of(Circuit)), lambda plan: _of_models(Circuit, plan.job.circuits), _take_circuit
    ),
    "loads": Table("loads", tuple(columns_of(Load)), lambda plan: _of_models(Load, plan.job.loads), _take_load),
    "amendments": Table(
        "amendments",
        tuple(columns_of(LocalRule)),
        lambda plan: _of_models(LocalRule, plan.job.local_rules),
        _take_amendment,
    ),
    "protection": Table("protection", PROTECTION, _protection_rows, _take_protection),
    "torque": Table("torque", TORQUE, _torque_rows, _take_torque),
    "material": Table("material", MATERIAL, _material_rows, _take_material),
}
