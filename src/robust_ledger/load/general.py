"""What both methods count first: general lighting by area, small-appliance and laundry circuits, and each nameplate."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Dwelling, Load
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.load.nameplates import held_back, nameplate_entry, present
from robust_ledger.load.tape import Tape


class LoadInputs(Struct, frozen=True):
    """What the calculations start from. `loads` count one by one; `managed` ones count at the set point that holds
    them back [220.70]. Without `general`, a part of the dwelling that has no general load of its own; `part`
    is the panel whose feeder carries a part: no least number of kitchen and laundry circuits for it, and where it has no floor area, as in a
    garage, its other `circuits` count one by one."""

    job: Job
    codebook: Codebook
    loads: list[Load]
    managed: list[Load]
    nameplates: dict[str, Entry]
    general: bool = True
    part: str = ""
    circuits: int = 0

    @property
    def tape(self) -> str:
        """What the standard calculation's entries are called after: for a part of the dwelling, its feeder."""
        return f"feeder.{self.part}" if self.part else "standard"

    @property
    def every(self) -> list[Load]:
        """All loads of the service, held back or not."""
        return [*self.loads, *self.managed]

    @property
    def line_volts(self) -> Step:
        """Volts between the legs: 240, or 208 between two legs of a wye."""
        if self.job.dwelling.supply == "120/240":
            return Step("service voltage, leg to leg", 240, "V", place=Place("dwelling:supply"))
        return Step("service voltage, two legs of a wye", 208, "V", place=Place("dwelling:supply"))

    def plates(self, loads: list[Load]) -> list[Entry]:
        """The nameplates of some loads."""
        return [self.nameplates[load.id] for load in loads]


def load_inputs(job: Job, codebook: Codebook, nameplates: dict[str, Entry] | None = None) -> LoadInputs:
    """What follows from a job for its calculations; `nameplates` spares working out those that are known already."""
    if nameplates is None:
        nameplates = {load.id: nameplate_entry(load, codebook) for load in job.loads}
    loads = present(job.loads)
    held = [load for load in loads if held_back(load, job, codebook)]
    counted = [load for load in loads if load not in held] if held else loads
    return LoadInputs(job, codebook, counted, held, nameplates)


def area_step(dwelling: Dwelling, part: str = "") -> Step:
    """The floor area as an operand, in the unit it was given in; unknown unless above zero, for a `part` unless it was said."""
    area = dwelling.area if dwelling.area is not None and (dwelling.area > 0 or (part and dwelling.area == 0)) else None
    unit = "ft²" if dwelling.area_unit == "ft2" else "m²"
    place = Place.of("panels", f"{part.partition('.')[0]}.area") if part else Place("dwelling:area")
    return Step("floor area it serves" if part else "floor area", area, unit, place=place)


def add_general(tape: Tape, inputs: LoadInputs, group: str = "General") -> list[Entry]:
    """Write the three general lines, not yet counted: lighting by area, small-appliance and laundry circuits."""
    codebook, dwelling = inputs.codebook, inputs.job.dwelling
    work = tape.working("lighting", "General lighting and receptacles", Place("dwelling:area"))
    area = work.take(area_step(dwelling, inputs.part))
    bare = inputs.part and (area.value == 0 or inputs.circuits)
    own = Step("", 0.0, "VA")
    if bare:
        many = work.given("circuits without a floor area", inputs.circuits, "")
        of_one = work.take(codebook.step("small_appliance_circuit", "each, as a kitchen circuit"))
        own = work.product("general lighting", [many, of_one], "VA", [codebook.cite("general_lighting")])
    if inputs.part and area.value == 0:
        area, unit, result = many, of_one, own
    else:
        key = "unit_lighting_load" if dwelling.area_unit == "ft2" else "unit_lighting_load_m2"
        unit = work.take(codebook.step(key, "general lighting, VA/ft²"))
        result = work.product("general lighting", [area, unit], "VA", [codebook.cite("general_lighting")])
        if bare:
            result = work.total("together", [result, own], "VA")
    entries = [tape.add(group, work.entry(result), area, unit, counted=False)]
    for name, label, count, place in (
        (
            "small_appliance",
            "Small-appliance circuits",
            dwelling.small_appliance_circuits,
            Place("dwelling:small_appliance_circuits"),
        ),
        ("laundry", "Laundry circuits", dwelling.laundry_circuits, Place("dwelling:laundry_circuits")),
    ):
        work = tape.working(name, label, place)
        asked = work.given("circuits on it" if inputs.part else "circuits in the job", count, "", place)
        least = codebook.step(f"{name}_circuits_min", "at least")
        circuits = asked
        if not inputs.part:
            circuits = work.larger(
                "circuits counted", [asked, work.take(Step(least.label, least.value, "", cites=least.cites))]
            )
        each = work.take(codebook.step(f"{name}_circuit", "each"))
        result = work.product(label.lower(), [circuits, each], "VA", [codebook.cite(name)])
        entries.append(tape.add(group, work.entry(result), circuits, each, counted=False))
    return entries
