"""What is missing or odd in what the load calculation starts from."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.findings import Findings
from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.load.general import LoadInputs
from robust_ledger.load.job_findings import job_findings
from robust_ledger.load.methods import Method
from robust_ledger.load.units import units_findings

STAGE = "load"


# Above these a figure is more likely misread than meant.
_AREA_MOST = {"ft2": 20_000, "m2": 1_900}
# Below and above these an area was more likely typed in the other unit.
_AREA_DOUBT = {"ft2": (320, None), "m2": (None, 560)}
_NAMEPLATE_MOST_VA = {LoadKind.COOKING: 27_000, LoadKind.COOKING_UNIT: 27_000, LoadKind.DRYER: 15_000}
_ANY_MOST_VA = 48_000
_VOLTS = (100, 260)  # what a dwelling's nameplates read


def load_findings(inputs: LoadInputs, chosen: Method) -> Iterator[Finding]:
    """Findings of the Load stage: floor area, nameplates, circuit counts, chargers entered twice, what the chosen
    method asks for, energy management, local rules and futures."""
    codebook, dwelling = inputs.codebook, inputs.job.dwelling
    find = Findings(codebook, STAGE).find
    most = _AREA_MOST[dwelling.area_unit]
    if dwelling.area is None or dwelling.area <= 0:
        unsaid = dwelling.area is None
        yield find("load.area", at=Place("dwelling:area"), unsaid=unsaid, area=dwelling.area)
    elif dwelling.area > most:
        yield find(
            "load.area_large",
            at=Place("dwelling:area"),
            area=dwelling.area,
            unit=dwelling.area_unit.replace("2", "²"),
            most=most,
        )
    yield from _area_unit(inputs)
    yield from units_findings(inputs, chosen.name)
    yield from job_findings(inputs, chosen)
    for load in inputs.job.loads:
        plate = load.nameplate
        by_hp = plate.amount is None and load.motor_hp is not None and inputs.nameplates[load.id].known
        # Horsepower beyond the motor table is a nameplate, and no rating.
        unread = (plate.amount is None and not by_hp) or (plate.amount is not None and plate.amount <= 0)
        if unread or plate.volts <= 0 or not inputs.nameplates[load.id].known:
            yield find(
                "load.nameplate",
                at=Place.load(load.id),
                of=load.id,
                load=load.name,
                no_volts=plate.volts <= 0,
                volts=plate.volts,
                rated=plate.amount is not None,
                amount=plate.amount,
                unit=plate.unit,
            )
        elif not _VOLTS[0] <= plate.volts <= _VOLTS[1]:
            yield find(
                "load.volts",
                at=Place.load(load.id),
                of=load.id,
                load=load.name,
                volts=plate.volts,
                supply=inputs.job.dwelling.supply,
            )
        elif load.kind is LoadKind.DRYER and not load.two_hots and load.when is not When.REMOVED:
            yield find(
                "load.dryer",
                at=Place.load(load.id),
                of=load.id,
                load=load.name,
                least=inputs.codebook.step("dryer_min"),
            )
        elif (va := inputs.nameplates[load.id].amount) > (most := _NAMEPLATE_MOST_VA.get(load.kind, _ANY_MOST_VA)):
            yield find(
                "load.nameplate_large",
                at=Place.load(load.id),
                of=load.id,
                load=load.name,
                amount=plate.amount,
                unit=plate.unit,
                volts=plate.volts,
                va=va,
                most=most,
            )
    yield from _machines(inputs)
    for name, count, least in (
        ("small_appliance", dwelling.small_appliance_circuits, "small_appliance_circuits_min"),
        ("laundry", dwelling.laundry_circuits, "laundry_circuits_min"),
    ):
        if count < codebook.number(least) or count > 10:
            step = codebook.step(least)
            yield find(
                "load.few_circuits",
                at=Place.of("dwelling", f"{name}_circuits"),
                key=f"{name}_circuits",
                cites=step.cites,
                count=count,
                circuits=name.replace("_", "-"),
                amount=step.amount,
            )
    chargers = [x for x in inputs.job.loads if x.kind is LoadKind.EV_CHARGER and x.when is not When.REMOVED]
    if len(chargers) > 1:
        yield find("load.chargers", at=Place.load(chargers[1].id), count=len(chargers))


def _area_unit(inputs: LoadInputs) -> Iterator[Finding]:
    """A floor area that looks as if it were typed in the other unit."""
    dwelling = inputs.job.dwelling
    low, high = _AREA_DOUBT[dwelling.area_unit]
    area = dwelling.area
    if area is None or area <= 0 or area > _AREA_MOST[dwelling.area_unit]:
        return
    if (low is not None and area < low) or (high is not None and area > high):
        unit, other = ("ft²", "m²") if dwelling.area_unit == "ft2" else ("m²", "ft²")
        yield Findings(inputs.codebook, STAGE).find(
            "load.area_unit", at=Place("dwelling:area"), area=area, unit=unit, other=other
        )


def _machines(inputs: LoadInputs) -> Iterator[Finding]:
    """Heating and cooling machines whose nameplate figures are missing or contradict each other."""
    makes = Findings(inputs.codebook, STAGE)
    for load in inputs.job.loads:
        about = makes.about(Place.load(load.id), load.id)
        machine = load.kind in (LoadKind.HEAT_PUMP, LoadKind.AIR_CONDITIONER) and load.two_hots
        if figures := load.machine_figures:
            mca_a, mocp_a = figures
            if mocp_a < mca_a:
                yield about.find("load.mca_above", load=load.name, mocp_a=mocp_a, mca_a=mca_a)
        elif machine:
            yield about.find("load.mca", load=load.name)
