"""The form for one load of the house."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from robust_ledger.desk.kit.converter import offer_converter
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField, TickField
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.edits import change_load, link_load
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, LoadKind, Nameplate, When
from robust_ledger.job.readers.numbers import amps_text, read_amps, read_count, read_duty, read_horsepower
from robust_ledger.job.readers.quantity import nameplate_text, read_nameplate
from robust_ledger.ledger.text import is_whole

KIND_WORDS = {
    LoadKind.APPLIANCE: "appliance, fastened",
    LoadKind.COOKING: "range",
    LoadKind.COOKING_UNIT: "wall oven or cooktop",
    LoadKind.DRYER: "clothes dryer",
    LoadKind.WATER_HEATER: "water heater",
    LoadKind.MOTOR: "motor or pump",
    LoadKind.PLUG_IN: "plug-in, own circuit",
    LoadKind.HEATING: "electric heat, room units",
    LoadKind.FURNACE: "electric furnace, central",
    LoadKind.THERMAL_STORAGE: "thermal storage heat",
    LoadKind.HEAT_PUMP: "heat pump",
    LoadKind.SUPPLEMENTAL_HEAT: "supplemental heat",
    LoadKind.AIR_CONDITIONER: "air conditioner",
    LoadKind.LIGHTING: "outdoor / special lighting",
    LoadKind.EV_CHARGER: "vehicle charger",
}
_BY_KIND = ((None, "as its kind"), (True, "has one"), (False, "has none"))
_BY_WORDS = ((None, "as its words say"), (True, "yes"), (False, "no"))
WHEN_WORDS = {
    When.EXISTING: "there now",
    When.ADDED: "with this job",
    When.LATER: "later, reserve",
    When.REMOVED: "removed by this job",
}


class LoadForm(Form):
    """Fields of the chosen load; empty and off while none is chosen."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store, self.load_id = store, ""
        text = self._text
        self.add("name", text("Name", "name", _name, str), 0, 0)
        self.add("room", text("Room", "room", str.strip, str), 0, 1)
        self.add(
            "kind",
            ChoiceField(store, "Kind", self._get("kind"), self._put("kind"), list(KIND_WORDS.items())),
            0,
            2,
        )
        self.add(
            "nameplate",
            TextField(
                store,
                "Rating",
                self._get("nameplate"),
                self._put("nameplate"),
                self._read_plate,
                nameplate_text,
                "7.2kW or 30A@240",
            ),
            1,
            0,
        )
        self.add("mca_a", text("MCA, A", "mca_a", read_amps, amps_text), 1, 1)
        self.add(
            "when", ChoiceField(store, "When", self._get("when"), self._put("when"), list(WHEN_WORDS.items())), 1, 2
        )
        self.add("motor_hp", text("Motor, hp", "motor_hp", read_horsepower, amps_text), 2, 0)
        self.add("mocp_a", text("MOCP, A", "mocp_a", read_amps, amps_text), 2, 1)
        self.add("controls", text("Thermostats", "controls", read_count(1, 40), str), 2, 2)
        self.add(
            "uses_neutral",
            ChoiceField(store, "240 V neutral", self._get("uses_neutral"), self._put("uses_neutral"), _BY_KIND),
            3,
            0,
        )
        self.add(
            "continuous",
            TickField(store, "Continuous", self._get("continuous"), self._put("continuous"), "continuous, 3 h or more"),
            3,
            1,
        )
        self.add(
            "is_motor",
            ChoiceField(store, "Motor-driven", self._get("is_motor"), self._put("is_motor"), _BY_WORDS),
            3,
            2,
        )
        self.add(
            "interlocked",
            ChoiceField(store, "Interlock", self._interlock, self._put_interlock, self._pumps()),
            4,
            0,
        )
        self.add(
            "tag",
            TextField(store, "Fed by tag", self._fed_by, self._feed_by, self._read_tag, str, "a new circuit"),
            4,
            1,
        )
        self.add(
            "managed",
            TickField(store, "Managed", self._get("managed"), self._put("managed"), "energy-managed"),
            4,
            2,
        )
        self.add("duty_percent", text("Welder duty, %", "duty_percent", read_duty, amps_text), 5, 0)
        tankless = TickField(
            store, "Without a tank", self._get("tankless"), self._put("tankless"), "water heater without a tank"
        )
        self.add("tankless", tankless, 5, 1)
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

    def _text(self, words: str, name: str, read: Callable[[str], Any], write: Callable[[Any], str]) -> TextField:
        return TextField(self.store, words, self._get(name), self._put(name), read, write)

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
