"""The feeder of a sub-panel: conductors by the full table, neutral, equipment ground, and electrodes of another building."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import (
    ampacity_a,
    area_cmil,
    is_standard_rating,
    next_rating_a,
    rating_text,
    row_by_size,
    sizes,
)
from robust_ledger.job.conductors import METAL_TEXT, Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked, terminal_column
from robust_ledger.service.bonding import electrode_size, ground_by_rating
from robust_ledger.service.bonds import three_wires_stay
from robust_ledger.service.fault import feeder_drop_entry, feeder_fault_entry, next_aic

STAGE = "service"
WIRING_WORDS = {
    "thwn": "THWN-2 in raceway",
    "xhhw": "XHHW-2 in raceway",
    "se": "SE cable",
    "nm": "NM cable",
}


def feeder_entries(job: Job, panel_fault: Entry, line_volts: Step, codebook: Codebook) -> list[Entry]:
    """Everything about the sub-panel's feeder; nothing when there is none."""
    if not job.has_sub_panel:
        return []
    conductors = feeder_conductor_entry(job, codebook)
    ground = feeder_ground_entry(job, codebook)
    made = [
        conductors,
        feeder_neutral_entry(job, conductors, ground, codebook),
        ground,
        feeder_drop_entry(job, conductors, line_volts, codebook),
        feeder_fault_entry(job, conductors, panel_fault, line_volts, codebook),
    ]
    if job.sub_panel.separate_building:
        made.append(feeder_electrode_entry(job, conductors, codebook))
    return made


def feeder_conductor_entry(job: Job, codebook: Codebook) -> Entry:
    """Ungrounded conductors of the feeder: it carries part of the load, so no 83%; the breaker may be the next standard
    rating above the ampacity, never above one that is standard itself [240.4(B), T310.16]."""
    sub = job.sub_panel
    work = Working(
        "feeder.conductors", f"Feeder to the {sub.name}, {METAL_TEXT[sub.metal]}", Place("sub_panel:breaker_a")
    )
    breaker = _breaker(work, job, codebook)
    if not breaker.known:
        return work.entry(Step("size", None))
    work.note("83% rule", "not allowed: it carries part of the load", [codebook.cite("dwelling_conductors")])
    load_a = sub.load_a if sub.load_a and sub.load_a > 0 else 0.0
    if load_a:
        work.given("load of the sub-panel", load_a, "A", Place("sub_panel:load_a"))
    for size in sizes(codebook):
        column, why, rule = _column(job, size, breaker.amount, codebook)
        ampacity = ampacity_a(codebook, size, sub.metal, column)
        if ampacity is None or ampacity < load_a:
            continue
        small = codebook.table("small_conductors").row("size", size)
        most = float(small[f"{sub.metal}_max_a"]) if small and small[f"{sub.metal}_max_a"] else None
        allowed = most if most is not None else next_rating_a(codebook, ampacity)
        if allowed is None or allowed < breaker.amount:
            continue
        work.note("temperature column", why, [codebook.cite(rule)])
        one = Conductors(size, sub.metal)
        work.take(Step(f"{one} at {column} °C", ampacity, "A", cites=(codebook.table("ampacity").cite,)))
        cite = codebook.cite("small_conductors" if most is not None else "next_size_up")
        work.take(Step("largest breaker on it", allowed, "A", cites=(cite,)))
        return work.entry(work.take(Step("minimum size", one)), [cite, codebook.cite("ampacity")])
    return work.entry(work.given("a conductor from the table that is large enough", None))


def _column(job: Job, size: str, rating_a: float, codebook: Codebook) -> tuple[int, str, str]:
    """The column for a size [°C], why, and the rule behind it."""
    sub = job.sub_panel
    if sub.wiring == "nm":
        return 60, "NM cable: never above 60 °C", "nm_cable"
    at_most_10 = (area_cmil(codebook, size) or 0) <= (area_cmil(codebook, "10") or 0)
    if sub.wiring == "se" and sub.insulated is not False and at_most_10:
        said = "in thermal insulation" if sub.insulated else "insulation not checked"
        return 60, f"SE cable of 10 AWG or smaller, {said}: 60 °C", "se_cable"
    column, why = terminal_column(job, rating_a, codebook)
    return column, why, "terminal_temperature"


def feeder_neutral_entry(job: Job, hot: Entry, ground: Entry, codebook: Codebook) -> Entry:
    """The feeder's neutral: for the load said (the breaker's rating without one), not below the EGC [215.2]."""
    sub = job.sub_panel
    work = Working("feeder.neutral", "Neutral of the feeder", Place("sub_panel:load_a"))
    work.entry_step(hot)
    picked_hot, least = picked(hot), picked(ground)
    if picked_hot is None or least is None:
        return work.entry(Step("size", None))
    if sub.load_a and sub.load_a > 0:
        amps = work.given("largest unbalance: all of its load", sub.load_a, "A", Place("sub_panel:load_a"))
    else:
        amps = work.given(
            "its load is not entered: the breaker's rating", sub.breaker_a, "A", Place("sub_panel:breaker_a")
        )
    column = _column(job, picked_hot.size, sub.breaker_a or 0, codebook)[0]
    by_load = next(
        (s for s in sizes(codebook) if (ampacity_a(codebook, s, sub.metal, column) or 0) >= amps.amount),
        picked_hot.size,
    )
    by_load = min(by_load, picked_hot.size, key=lambda s: area_cmil(codebook, s) or 0)
    work.note("for the load, no larger than the hots", size_text(by_load, sub.metal), [codebook.cite("ampacity")])
    work.take(Step("not below the EGC", ground.value, cites=(codebook.cite("feeder_neutral"),)))
    size = max(by_load, least.size, key=lambda s: area_cmil(codebook, s) or 0)
    result = work.take(Step("the larger of both", Conductors(size, sub.metal)))
    return work.entry(result, [codebook.cite("feeder_neutral")])


def feeder_ground_entry(job: Job, codebook: Codebook) -> Entry:
    """The feeder's equipment grounding conductor, in its own metal [T250.122]."""
    work = Working("feeder.egc", "EGC of the sub-panel's feeder", Place("sub_panel:breaker_a"))
    return ground_by_rating(work, _breaker(work, job, codebook), job.sub_panel.metal, codebook)


def feeder_electrode_entry(job: Job, hot: Entry, codebook: Codebook) -> Entry:
    """The GEC of a separate building, in copper: by the feeder's size, to rods no more than 6 [250.32]."""
    work = Working("feeder.gec", f"GEC of the {job.sub_panel.name}", Place("sub_panel:rods"))
    work.entry_step(hot)
    one = picked(hot)
    row = row_by_size(codebook, "electrode", one.size, one.metal) if one else None
    if row is None:
        return work.entry(Step("size", None))
    table = work.take(Step("from the table", Conductors(row["cu_size"], "cu"), cites=(codebook.cite("electrode"),)))
    most = work.take(codebook.step("electrode_rod_most_cu", "to rods never more than"))
    smaller = min(str(table.value), str(most.value), key=lambda text: area_cmil(codebook, text.split()[0]) or 0)
    picked_size = electrode_size(smaller.split()[0], "cu")
    return work.entry(work.take(Step("the smaller of both", picked_size)), [codebook.cite("outbuilding_electrode")])


def _breaker(work: Working, job: Job, codebook: Codebook) -> Step:
    breaker_a = job.sub_panel.breaker_a
    sound = breaker_a if breaker_a is not None and is_standard_rating(codebook, breaker_a) else None
    label = "breaker of the feeder" + (
        "" if sound or breaker_a is None else f": {breaker_a:g} A is not a standard size"
    )
    return work.given(label, sound, "A", Place("sub_panel:breaker_a"))


def feeder_findings(job: Job, main: Entry, fault: Entry | None, codebook: Codebook) -> Iterator[Finding]:
    """What is wrong with the sub-panel: breaker, wires, bond, electrodes, disconnect, AIC."""
    if not job.has_sub_panel:
        return
    sub = job.sub_panel
    name = sub.name or "sub-panel"
    make = Findings("feeder", codebook, STAGE).make
    if sub.breaker_a is None:
        yield make(
            "breaker",
            Severity.ASK,
            at=Place("sub_panel:breaker_a"),
            title=f"Feeder to the {name}: breaker not entered",
            text="Nothing of the feeder can be sized without it.",
            remedy="Enter the breaker planned for it.",
        )
        return
    if not is_standard_rating(codebook, sub.breaker_a):
        yield make(
            "rating",
            Severity.FIX,
            at=Place("sub_panel:breaker_a"),
            title=f"{sub.breaker_a:g} A is not a standard size",
            text=f"The feeder to the {name} is unknown with it.",
            remedy="Choose a standard rating.",
            rules=("standard_ratings",),
        )
    if main.known and sub.breaker_a > main.amount:
        yield make(
            "over_main",
            Severity.FIX,
            at=Place("sub_panel:breaker_a"),
            title=f"Feeder breaker {sub.breaker_a:g} A above the main",
            text=f"The main is {main.text()}; the feeder's breaker never opens first.",
            remedy=f"Choose {main.text()} or less.",
        )
    if sub.load_a is not None and sub.load_a > sub.breaker_a:
        yield make(
            "load",
            Severity.STOP,
            at=Place("sub_panel:load_a"),
            title=f"The {name} is to carry more than its breaker",
            text=f"{sub.load_a:g} A on a breaker of {sub.breaker_a:g} A.",
            remedy=f"A breaker of {rating_text(codebook, sub.load_a)} with its feeder, or no more than {sub.breaker_a:g} A of load.",
            rules=("service_rating",),
        )
    yield from _wires(job, name, codebook)
    if sub.separate_building and sub.rods < 2 and job.grounding.practice != "concrete":
        yield make(
            "gec",
            Severity.FIX,
            at=Place("sub_panel:rods"),
            title=f"The {name} needs electrodes of its own",
            text=f"A separate building with a feeder; {sub.rods} rods are planned there.",
            remedy="Drive two rods 6 ft or more apart there, or accept with the electrode that is there.",
            rules=(
                "outbuilding_electrode",
                "electrode_rods",
            ),
        )
    if sub.separate_building and not sub.disconnect:
        yield make(
            "disconnect",
            Severity.FIX,
            at=Place("sub_panel:disconnect"),
            title=f"The {name} has no disconnect at the building",
            text="A separate building is switched off at or near where the feeder enters it.",
            remedy="Plan a main breaker or a switch there.",
            rules=("outbuilding_disconnect",),
        )
    if fault is not None and fault.known and sub.aic_a is None:
        yield make(
            "aic_unknown",
            Severity.ASK,
            at=Place("sub_panel:aic_a"),
            title=f"AIC rating of the {name} not read",
            text=f"Available fault current there: {fault.text()}; not known if its breakers are rated for it.",
            remedy="Read the rating on its label.",
            rules=("interrupting_rating",),
        )
    if fault is not None and fault.known and sub.aic_a is not None and fault.amount > sub.aic_a:
        yield make(
            "aic",
            Severity.STOP,
            at=Place("sub_panel:aic_a"),
            title=f"Available fault current at the {name} above its rating",
            text=f"{fault.text()} against {sub.aic_a:,.0f} A.",
            remedy=f"Take breakers of {next_aic(fault.amount)} AIC or more.",
            rules=("interrupting_rating",),
        )


def _wires(job: Job, name: str, codebook: Codebook) -> Iterator[Finding]:
    """Wires and bond of the sub-panel: four and apart; three and bonded only on an old feeder to a separate building that no other
    metal path joins [250.32(B) Ex.]."""
    sub, make = job.sub_panel, Findings("feeder", codebook, STAGE).make
    three, old = three_wires_stay(job), ("outbuilding_three", "outbuilding_wires")
    if sub.found and sub.wires is None:
        yield make(
            "wires",
            Severity.ASK,
            at=Place("sub_panel:wires"),
            title=f"Feeder to the {name}: wires not counted",
            text="With three wires its neutral is also the ground; whether that may stay depends on the building.",
            remedy="Count them in its panel: two hots, neutral, ground.",
            rules=("outbuilding_wires",),
        )
    elif sub.wires is not None and sub.wires not in (3, 4):
        yield make(
            "wires",
            Severity.ASK,
            at=Place("sub_panel:wires"),
            title=f"Feeder to the {name}: {sub.wires} wires",
            text="A feeder for 120/240 V has three or four.",
            remedy="Count them again.",
            rules=("outbuilding_wires",),
        )
    elif three is None:
        yield make(
            "wires",
            Severity.ASK,
            at=Place("sub_panel:metal_path"),
            title=f"3-wire feeder to the {name}: other metal between the buildings?",
            text="The old feeder may stay, bonded there, only if no metal pipe, fence, phone or cable shield joins the buildings.",
            remedy="Look for it; with any such path pull four wires.",
            rules=old,
        )
    elif sub.wires == 3 and three is False:
        inside = not sub.separate_building
        yield make(
            "wires",
            Severity.STOP if inside or sub.found else Severity.FIX,
            at=Place("sub_panel:wires"),
            title=f"3-wire feeder to the {name}",
            text="In the same building its neutral would also be the ground."
            if inside
            else "Another metal path joins the buildings: it would carry neutral current."
            if sub.found
            else "A new feeder has an EGC of its own beside the neutral.",
            remedy="Pull four wires: two hots, an insulated neutral, an EGC; bars apart in its panel.",
            rules=("feeder_wires", "bars_apart") if inside else old,
        )
    if sub.bonded and three is False:
        yield make(
            "bond",
            Severity.STOP,
            at=Place("sub_panel:bonded"),
            title=f"Neutral and ground would be bonded again in the {name}",
            text="Behind the first disconnect the neutral would share its current with every ground.",
            remedy="Take the screw or strap out; neutrals and grounds on separate bars.",
            rules=("bond_once", "bars_apart"),
        )
    if three is True and not sub.bonded:
        yield make(
            "bond",
            Severity.STOP,
            at=Place("sub_panel:bonded"),
            title=f"Neutral and ground are not bonded in the {name}",
            text="Its feeder has three wires: without the bond there, a fault in that building trips nothing.",
            remedy="Put the bonding screw in and bond the electrodes there, or pull four wires.",
            rules=old,
        )
