"""What is missing or odd in what the load calculation starts from."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
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
    make = Findings(STAGE, codebook, STAGE).make
    most = _AREA_MOST[dwelling.area_unit]
    if dwelling.area is None or dwelling.area <= 0:
        given = "no floor area is given" if dwelling.area is None else f"the floor area is {dwelling.area:g}"
        yield make(
            "area",
            Severity.FIX,
            at=Place("dwelling:area"),
            title="Floor area is not known",
            text=f"The calculation cannot be made: {given}.",
            remedy="Measure the outside of the dwelling and enter the area.",
            rules=("general_lighting",),
        )
    elif dwelling.area > most:
        yield make(
            "area_large",
            Severity.ASK,
            at=Place("dwelling:area"),
            title=f"Floor area of {dwelling.area:,.0f} {dwelling.area_unit.replace('2', '²')}",
            text=f"That is more than any one dwelling this tool is made for ({most:,} {dwelling.area_unit.replace('2', '²')}).",
            remedy="Measure again; leave out garages, barns and open porches, and check feet vs. meters.",
            rules=("general_lighting",),
        )
    yield from _area_unit(inputs)
    yield from units_findings(inputs, chosen.name)
    yield from job_findings(inputs, chosen)
    for load in inputs.job.loads:
        plate = load.nameplate
        by_hp = plate.amount is None and load.motor_hp is not None and inputs.nameplates[load.id].known
        if (plate.amount is None and not by_hp) or (plate.amount is not None and plate.amount <= 0) or plate.volts <= 0:
            given = (
                "has no nameplate rating yet"
                if plate.amount is None
                else f"has a nameplate of {plate.amount:g} {plate.unit}"
            )
            if plate.volts <= 0:
                given = f"has a nameplate voltage of {plate.volts:g}"
            yield make(
                f"nameplate:{load.id}",
                Severity.ASK,
                at=Place.load(load.id),
                title=f"{load.name}: rating not known",
                text=f"{load.name} {given}, so the load stays unknown.",
                remedy="Read the nameplate, or take the load out if it is not there.",
                rules=("optional_general",),
            )
        elif not _VOLTS[0] <= plate.volts <= _VOLTS[1]:
            yield make(
                f"volts:{load.id}",
                Severity.ASK,
                at=Place.load(load.id),
                title=f"{load.name}: nameplate of {plate.volts:g} V",
                text=f"A dwelling's {inputs.job.dwelling.supply} V supply has no {plate.volts:g} V.",
                remedy="Read it again: a 12 or 24 V unit goes by its transformer's or driver's plate, a 480 V one is not for a dwelling.",
                rules=("optional_general",),
            )
        elif load.kind is LoadKind.DRYER and not load.two_hots and load.when is not When.REMOVED:
            yield make(
                f"dryer:{load.id}",
                Severity.ASK,
                at=Place.load(load.id),
                title=f"{load.name}: a 120 V dryer, on the laundry circuit?",
                text=f"It counts as an electric dryer, {inputs.codebook.step('dryer_min').text()} at the least by the standard calculation.",
                remedy="A gas dryer on the laundry circuit is in that circuit's 1,500 VA: take it out. "
                "On its own circuit: make it a plug-in appliance.",
                rules=("dryer", "laundry"),
            )
        elif (va := inputs.nameplates[load.id].amount) > (most := _NAMEPLATE_MOST_VA.get(load.kind, _ANY_MOST_VA)):
            yield make(
                f"nameplate:{load.id}",
                Severity.ASK,
                at=Place.load(load.id),
                title=f"{load.name}: {plate.amount:,g} {plate.unit} at {plate.volts:g} V",
                text=f"That is {va:,.0f} VA, more than {most:,} VA, which no such load in a dwelling draws.",
                remedy="Read the nameplate again: amperes for watts, or a figure too many.",
                rules=("optional_general",),
            )
    yield from _machines(inputs)
    for name, count, least in (
        ("small_appliance", dwelling.small_appliance_circuits, "small_appliance_circuits_min"),
        ("laundry", dwelling.laundry_circuits, "laundry_circuits_min"),
    ):
        if count < codebook.number(least) or count > 10:
            step = codebook.step(least)
            yield make(
                f"{name}_circuits",
                Severity.ASK,
                at=Place.of("dwelling", name),
                title=f"{count} {name.replace('_', '-')} circuits",
                text=f"A dwelling has at least {step.amount:g}; {count} is unusual. The calculation counts no fewer than that.",
                remedy="Count the circuits that serve those receptacles.",
                cites=step.cites,
            )
    chargers = [x for x in inputs.job.loads if x.kind is LoadKind.EV_CHARGER and x.when is not When.REMOVED]
    if len(chargers) > 1:
        yield make(
            "chargers",
            Severity.ASK,
            at=Place.load(chargers[1].id),
            title=f"{len(chargers)} vehicle chargers",
            text="More than one vehicle charger is listed; a charger entered twice adds a whole charger to the service.",
            remedy="Take out the one that is not there, or accept this with a reason.",
            rules=("ev",),
        )


def _area_unit(inputs: LoadInputs) -> Iterator[Finding]:
    """A floor area that looks as if it were typed in the other unit."""
    dwelling = inputs.job.dwelling
    low, high = _AREA_DOUBT[dwelling.area_unit]
    area = dwelling.area
    if area is None or area <= 0 or area > _AREA_MOST[dwelling.area_unit]:
        return
    if (low is not None and area < low) or (high is not None and area > high):
        unit, other = ("ft²", "m²") if dwelling.area_unit == "ft2" else ("m²", "ft²")
        yield Findings(STAGE, inputs.codebook, STAGE).make(
            "area_unit",
            Severity.ASK,
            at=Place("dwelling:area"),
            title=f"Floor area {area:,.0f} {unit}: not {other}?",
            text=f"A dwelling of {area:,.0f} {unit} is unusual; {area:,.0f} {other} is not.",
            remedy=f'Enter it with its unit, like "{area:,.0f} {other}", or accept it with a reason.',
            rules=("general_lighting",),
        )


def _machines(inputs: LoadInputs) -> Iterator[Finding]:
    """Heating and cooling machines whose nameplate figures are missing or contradict each other."""
    rules = ("hvac_nameplate", "hvac_branch")
    makes = Findings(STAGE, inputs.codebook, STAGE)
    for load in inputs.job.loads:
        about = makes.about(Place.load(load.id), load.id)
        machine = load.kind in (LoadKind.HEAT_PUMP, LoadKind.AIR_CONDITIONER) and load.two_hots
        if figures := load.machine_figures:
            mca_a, mocp_a = figures
            if mocp_a < mca_a:
                title = f"{load.name}: MOCP {mocp_a:g} is below MCA {mca_a:g}"
                text = "The largest breaker cannot be smaller than what the circuit has to carry."
                yield about.make(
                    "mca",
                    Severity.ASK,
                    title=title,
                    text=text,
                    remedy="Read both figures on the nameplate again.",
                    rules=rules,
                )
        elif machine:
            title = f"{load.name}: MCA/MOCP not read"
            text = f"Wire and breaker of {load.name} follow from 125% of its rating until MCA and max. OCPD (MOCP) are known."
            yield about.make(
                "mca",
                Severity.ASK,
                title=title,
                text=text,
                remedy="Read MCA and MOCP on the nameplate.",
                rules=rules,
            )
