"""The form for one load of the house."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from robust_ledger.desk.kit.converter import offer_converter
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField
from robust_ledger.desk.kit.specs import ItemFields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import change_load, link_load
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, LoadKind, Nameplate
from robust_ledger.job.readers.numbers import read_duty, read_horsepower
from robust_ledger.job.readers.quantity import nameplate_text, read_nameplate
from robust_ledger.ledger.text import is_whole

KIND_WORDS = choices_at("loads.kind")
WHEN_WORDS = choices_at("loads.when")


class LoadForm(Form):
    """Fields of the chosen load; empty and off while none is chosen."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store, self.load_id = store, ""
        f = ItemFields(store, "loads", lambda name: (self._get(name), self._put(name)))
        rows = (
            (f("name", read=_name), f("room"), f("kind")),
            (f("nameplate", reads="line", read=self._read_plate, write=nameplate_text), f("mca_a"), f("when")),
            (f("motor_hp", read=read_horsepower), f("mocp_a"), f("controls")),
            (f("uses_neutral"), f("continuous"), f("is_motor")),
            (
                ("interlocked", ChoiceField(store, "Interlock", self._interlock, self._put_interlock, self._pumps())),
                (
                    "tag",
                    TextField(store, "Fed by tag", self._fed_by, self._feed_by, self._read_tag, str, "a new circuit"),
                ),
                f("managed"),
            ),
            (f("duty_percent", read=read_duty), f("tankless")),
        )
        for row, fields in enumerate(rows):
            for at, (name, field) in enumerate(fields):
                self.add(name, field, row, at)
        for name, fills in (("nameplate", "va"), ("mca_a", "amperes"), ("mocp_a", "amperes")):
            offer_converter(self.fields[name], fills, self._volts, store)
        for column in (1, 3, 5):
            self.grid.setColumnStretch(column, 1)

    def _pumps(self) -> list[tuple[str, str]]:
        """What supplemental heat can be interlocked with."""
        pumps = [x for x in self.store.job.loads if x.kind is LoadKind.HEAT_PUMP]
        named = [(f"with:{pump.id}", f"with {pump.name}") for pump in pumps]
        return [("", "none"), ("with:", "with its heat pump"), *(named if len(named) > 1 else [])]

    def _interlock(self, job: Job) -> str:
        load = job.load(self.load_id)
        return f"with:{load.interlocks_with}" if load is not None and load.interlocked else ""

    def _put_interlock(self, job: Job, value: str) -> Job:
        if job.load(self.load_id) is None:
            return job
        return change_load(job, self.load_id, interlocked=bool(value), interlocks_with=value.removeprefix("with:"))

    def show_load(self, load_id: str) -> None:
        """Show another load; what was typed wrong for the one before is given up."""
        if load_id != self.load_id:
            for field in self.fields.values():
                if isinstance(field, TextField):
                    field.give_up()
        self.load_id = load_id
        interlock = self.fields["interlocked"]
        assert isinstance(interlock, ChoiceField)
        interlock.offer(self._pumps())
        self.setEnabled(self._load() is not None)
        self.refresh()

    def _volts(self) -> float:
        load = self._load()
        return load.nameplate.volts if load and load.nameplate.volts > 0 else 240

    def _load(self) -> Load | None:
        return self.store.job.load(self.load_id)

    def _get(self, name: str) -> Callable[[Job], Any]:
        return lambda job: getattr(job.load(self.load_id), name, None)

    def _put(self, name: str) -> Callable[[Job, Any], Job]:
        return lambda job, value: change_load(job, self.load_id, **{name: value}) if job.load(self.load_id) else job

    def _fed_by(self, job: Job) -> int | None:
        return next((c.tag for c in job.circuits if self.load_id in c.load_ids), None)

    def _feed_by(self, job: Job, tag: int | None) -> Job:
        return link_load(job, self.load_id, tag)

    def _read_tag(self, text: str) -> int | None:
        if not text.strip():
            return None
        if not is_whole(text.strip()) or self.store.job.circuit(int(text)) is None:
            raise ValueError(f"There is no tag {text.strip()}; leave it empty for a circuit of its own.")
        return int(text)

    def _read_plate(self, text: str) -> Nameplate | None:
        load, volts = self._load(), self._volts()
        if not text.strip():
            return replace(load.nameplate, amount=None) if load else None
        return read_nameplate(text, volts)


def _name(text: str) -> str:
    if not text.strip():
        raise ValueError("A load needs a name; the directory prints it.")
    return text.strip()
