"""The standard calculation for a dwelling [Part III of Article 220]."""

from __future__ import annotations

from collections.abc import Sequence

from robust_ledger.job.parts.house import Load, LoadKind
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import amount_text, value_text
from robust_ledger.ledger.working import Working
from robust_ledger.load.climate import larger_season
from robust_ledger.load.cooking import cooking_demand
from robust_ledger.load.general import LoadInputs, add_general
from robust_ledger.load.management import add_management
from robust_ledger.load.nameplates import counts_as_motor, is_large_fastened, not_among, of_kind
from robust_ledger.load.tape import Calculation, Tape

_COOKING = (LoadKind.COOKING, LoadKind.COOKING_UNIT)
_FASTENED = (LoadKind.WATER_HEATER, LoadKind.APPLIANCE, LoadKind.MOTOR)


def standard_calculation(inputs: LoadInputs) -> Calculation:
    """Part III: general load by bands, appliances, dryers, cooking, the larger of heating and cooling, largest motor."""
    tape, codebook = Tape(inputs.tape), inputs.codebook
    none = Entry(f"load.{inputs.tape}.general", "No general load of its own", 0, "VA")
    tape.general = _general_after_demand(tape, inputs) if inputs.general else none
    if inputs.part and not inputs.general:
        tape.entries.append(none)
    _fastened(tape, inputs)
    _dryers(tape, inputs)
    _cooking(tape, inputs)
    _lighting_and_charging(tape, inputs)
    _climate_and_motor(tape, inputs)
    add_management(tape, inputs)
    return tape.close("Standard calculation", codebook.cite("standard"), inputs.line_volts, [codebook.cite("rounding")])


def table_cooking(inputs: LoadInputs) -> list[Load]:
    """Cooking appliances the demand table is for: over 1¾ kW, or not known yet."""
    return [
        load
        for load in of_kind(inputs.loads, *_COOKING)
        if not inputs.nameplates[load.id].known
        or inputs.nameplates[load.id].amount > inputs.codebook.number("cooking_table_min_va")
    ]


def fastened(inputs: LoadInputs) -> list[Load]:
    """Appliances fastened in place; cooking appliances too small for the cooking table stand with them."""
    by_table = {load.id for load in table_cooking(inputs)}
    small_cooking = [load for load in of_kind(inputs.loads, *_COOKING) if load.id not in by_table]
    return of_kind(inputs.loads, *_FASTENED) + small_cooking


def other_motors(inputs: LoadInputs) -> list[Load]:
    """Motors beside heating and cooling: of fastened appliances, and plugged-in ones that are said to be motors."""
    plugged = [load for load in of_kind(inputs.loads, LoadKind.PLUG_IN) if load.is_motor]
    return [load for load in fastened(inputs) if counts_as_motor(load)] + plugged


def fastened_factor(load: Load, inputs: LoadInputs, among: Sequence[Load] | None = None) -> Step:
    """75% when four or more count (`among` those, where only some of them matter), else 100%; 100% for one below the edition's size
    [220.53]."""
    codebook = inputs.codebook
    large = {x.id for x in (fastened(inputs) if among is None else among) if _counts(x, inputs)}
    if load.id in large and len(large) >= codebook.number("fastened_count_min"):
        return codebook.step("fastened_demand", f"{len(large)} count, four or more")
    why = (
        f"{len(large)} count, fewer than four"
        if load.id in large
        else not_among(load, codebook) or "below the size that counts"
    )
    return Step(why, 1.0, "", cites=(codebook.cite("fastened"),))


def _counts(load: Load, inputs: LoadInputs) -> bool:
    entry = inputs.nameplates[load.id]
    if not_among(load, inputs.codebook):
        return False
    return is_large_fastened(load, entry.amount if entry.known else None, inputs.codebook)


def _general_after_demand(tape: Tape, inputs: LoadInputs) -> Entry:
    """The three general loads together: first 3,000 VA at 100%, to 120,000 at 35%, the rest at 25%."""
    codebook = inputs.codebook
    parts = add_general(tape, inputs)
    work = tape.working("general_sum", "General load before demand")
    connected = work.total("general load before demand", [work.entry_step(e) for e in parts], "VA")
    whole = tape.add("General", work.entry(connected), "", "", counted=False)
    table = codebook.table("lighting_demand")
    work = tape.working("general", "General load after demand")
    base = work.entry_step(whole)
    lower, bands, spoken = 0.0, [], []
    for row in table.rows:
        upper = float(row["up_to_va"]) if row["up_to_va"] else float("inf")
        in_band = min(base.amount, upper) - lower if base.known else None
        if base.known and base.amount <= lower:
            break
        label = f"the first {upper:,.0f}" if not lower else f"over {lower:,.0f}"
        part = work.given(label, in_band, "VA")
        factor = work.take(Step(f"{label}, factor", float(row["percent"]) / 100, "", cites=(table.cite,)))
        bands.append(work.product(f"{label}, counted", [part, factor], "VA"))
        spoken.append(f"{row['percent']}%")
        lower = upper
        if not base.known:
            break
    result = work.total("general load after demand", bands, "VA", [table.cite])
    return tape.add("General", work.entry(result), amount_text(base.value, "VA"), " / ".join(spoken))


def _fastened(tape: Tape, inputs: LoadInputs) -> None:
    for load in fastened(inputs):
        work = tape.working(f"fastened.{load.id}", load.name, Place.load(load.id))
        plate = work.entry_step(inputs.nameplates[load.id])
        factor = work.take(fastened_factor(load, inputs))
        result = work.product("counted", [plate, factor], "VA", [inputs.codebook.cite("fastened")])
        entry = tape.add("Fastened-in-place appliances", work.entry(result), plate, factor)
        tape.count([load.id], entry, [inputs.nameplates[load.id]], "counted by the standard calculation")


def _dryers(tape: Tape, inputs: LoadInputs) -> None:
    dryers = of_kind(inputs.loads, LoadKind.DRYER)
    if dryers:
        work = tape.working("dryers", _names(dryers), _place(dryers))
        result = dryer_demand(work, inputs.plates(dryers), inputs)
        entry = work.entry(result)
        tape.add(
            "Dryers and cooking",
            entry,
            _connected(inputs, dryers),
            f"least {value_text(inputs.codebook.number('dryer_min'), 'VA')}",
        )
        tape.count([x.id for x in dryers], entry, inputs.plates(dryers), "counted by the standard calculation")


def dryer_demand(work: Working, plates: list[Entry], inputs: LoadInputs) -> Step:
    """Dryers: each at least 5,000 VA, together by the table above four [220.54]."""
    codebook = inputs.codebook
    floor = codebook.step("dryer_min", "at least")
    each = [work.larger("counted for one", [work.entry_step(plate), floor]) for plate in plates]
    together = work.total("dryers together", each, "VA")
    table = codebook.table("dryer_demand")
    row = table.rows[min(len(plates), len(table.rows)) - 1]
    factor = work.take(Step(f"factor for {len(plates)}", float(row["percent"]) / 100, "", cites=(table.cite,)))
    return work.product("demand of dryers", [together, factor], "VA", [codebook.cite("dryer")])


def _cooking(tape: Tape, inputs: LoadInputs) -> None:
    cooking = table_cooking(inputs)
    if cooking:
        work = tape.working("cooking", _names(cooking), _place(cooking))
        result = cooking_demand(work, inputs.plates(cooking), inputs.codebook)
        entry = tape.add("Dryers and cooking", work.entry(result), _connected(inputs, cooking), "by table")
        tape.count([x.id for x in cooking], entry, inputs.plates(cooking), "counted by the standard calculation")


def _lighting_and_charging(tape: Tape, inputs: LoadInputs) -> None:
    """Lighting beyond the floor area, plug-in appliances on circuits of their own and vehicle charging, at 100%; charging at least
    7,200 VA from 2023 [220.14, 220.57]."""
    for load in of_kind(inputs.loads, LoadKind.LIGHTING, LoadKind.PLUG_IN):
        work = tape.working(f"other.{load.id}", load.name, Place.load(load.id))
        plate = work.entry_step(inputs.nameplates[load.id])
        plugged = load.kind is LoadKind.PLUG_IN
        words = "plug-in, on a circuit of its own" if plugged else "not general lighting by area"
        factor = work.take(Step(words, 1.0, "", cites=(inputs.codebook.cite("other_load"),)))
        result = work.product("counted", [plate, factor], "VA", [inputs.codebook.cite("other_load")])
        entry = tape.add("Other", work.entry(result), plate, factor)
        tape.count([load.id], entry, [inputs.nameplates[load.id]], "counted by the standard calculation")
    for load in of_kind(inputs.loads, LoadKind.EV_CHARGER):
        work = tape.working(f"other.{load.id}", load.name, Place.load(load.id))
        result = charging_va(work, inputs.nameplates[load.id], inputs)
        entry = work.entry(result, [inputs.codebook.cite("ev")])
        practice = inputs.job.decisions.ev_practice
        raised = inputs.codebook.step("ev_continuous") if practice == "continuous" else "100%"
        tape.add("Other", entry, inputs.nameplates[load.id].text(), raised)
        tape.count([load.id], entry, [inputs.nameplates[load.id]], "counted by the standard calculation")


def charging_va(work: Working, plate: Entry, inputs: LoadInputs) -> Step:
    """Vehicle charging: the nameplate, from 2023 at least 7,200 VA; at 125% where the job's practice is to take it as
    the continuous load it is in the service too [220.57, 625.41]."""
    step = work.entry_step(plate)
    if inputs.codebook.number("ev_min") > 0:
        least = work.take(inputs.codebook.step("ev_min", "at least"))
        step = work.larger("counted", [step, least], [inputs.codebook.cite("ev")])
    if inputs.job.decisions.ev_practice == "continuous":
        factor = work.take(inputs.codebook.step("ev_continuous", "as a continuous load"))
        step = work.product("counted as continuous", [step, factor], "VA", factor.cites)
    return step


def _climate_and_motor(tape: Tape, inputs: LoadInputs) -> None:
    """The larger of heating and cooling, then 25% of the largest motor among what is counted [220.50, 220.60]."""
    codebook = inputs.codebook
    other = largest_other_motor(inputs)
    choice = tape.working("climate_choice", "Heating against cooling")
    season = larger_season(choice, inputs, other)
    for entry in season.entries:
        name = entry.label.removesuffix(": nameplate")
        work = tape.working(f"climate.{entry.id.removeprefix('load.nameplate.')}", name, entry.place)
        work.steps.extend(choice.steps)
        plate = work.entry_step(entry)
        factor = work.take(codebook.step("space_heat_demand", "factor"))
        rule = "noncoincident" if season.name == "cooling" else "space_heat"
        result = work.product("counted", [plate, factor], "VA", [codebook.cite(rule)])
        line = tape.add(season.name.capitalize(), work.entry(result), plate, factor)
        tape.count([entry.id.removeprefix("load.nameplate.")], line, [entry], "counted by the standard calculation")
    motors = [m for m in (season.largest_motor, other) if m and m.known]
    if motors:
        largest = max(motors, key=lambda m: m.amount)
        work = tape.working("largest_motor", "Largest motor, addition", largest.place)
        plate = work.entry_step(largest)
        share = work.take(codebook.step("largest_motor", "share"))
        hermetic = largest is season.largest_motor
        cites = [codebook.cite("motor"), codebook.cite("motor_hermetic" if hermetic else "motor_largest")]
        result = work.product("addition", [plate, share], "VA", cites)
        tape.add("Motor", work.entry(result), plate, share)


def largest_other_motor(inputs: LoadInputs) -> Entry | None:
    """The largest motor-driven load outside heating and cooling, by nameplate."""
    motors = inputs.plates(other_motors(inputs))
    return max((m for m in motors if m.known), key=lambda m: m.amount, default=None)


def _names(loads: list[Load]) -> str:
    return " + ".join(load.name for load in loads)


def _place(loads: list[Load]) -> Place:
    return Place.load(loads[0].id)


def _connected(inputs: LoadInputs, loads: list[Load]) -> str:
    return " + ".join(inputs.nameplates[load.id].text() for load in loads)
