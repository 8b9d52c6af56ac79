"""What a branch conductor carries where it lies: the temperature column by wiring method, and the largest breaker on it."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, area_cmil, next_rating_a, previous_rating_a
from robust_ledger.job.conductors import size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.ledger.entry import Step
from robust_ledger.ledger.working import Working

# Kinds of wiring whose conductors are never above 60 °C, with the rule that says so.
_SIXTY = {"nm": "nm_cable", "uf": "uf_cable", "": "nm_cable"}
_SIXTY |= dict.fromkeys(("cloth", "rubber", "bx", "knob_tube"), "ampacity")  # by their own insulation
_WORDS = {
    "": "kind of cable not checked",
    "nm": "NM cable",
    "uf": "UF cable",
    "cloth": "old cloth insulation",
    "rubber": "old rubber insulation",
    "bx": "old BX",
    "ac": "AC cable",
    "mc": "MC cable",
    "conduit": "conductors in raceway",
    "se": "SE cable",
    "knob_tube": "knob-and-tube",
}


class WiringConditions(Struct, frozen=True):
    """How conductors of a circuit lie: kind of wiring, whether in thermal insulation (None: not checked), and what the terminals at
    both ends are marked for (None: not checked). `several`: receptacles for anything that is plugged in."""

    cable: str
    insulated: bool | None
    terminals_c: int | None
    several: bool = False


def conditions_of(job: Job, circuit: Circuit, several: bool = False) -> WiringConditions:
    """An old circuit as it was found."""
    return WiringConditions(circuit.cable, circuit.insulated, job.panel.terminals_c, several)


def new_conditions(job: Job) -> WiringConditions:
    """A new cable of the job's wiring method."""
    return WiringConditions(job.decisions.new_wiring, None, job.panel.terminals_c)


def column(wiring_conditions: WiringConditions, size: str, codebook: Codebook) -> tuple[int, str, str]:
    """The ampacity column [°C], why, and the key of the rule behind it [334.80, 340.80, 320.80, 338.10(B)(4), 110.14(C)]."""
    words = _WORDS[wiring_conditions.cable]
    if wiring_conditions.cable in _SIXTY:
        return 60, f"{words}: 60 °C", _SIXTY[wiring_conditions.cable]
    small = (area_cmil(codebook, size) or 0) <= (area_cmil(codebook, "10") or 0)
    covered = wiring_conditions.insulated is not False
    said = "in thermal insulation" if wiring_conditions.insulated else "insulation around it not checked"
    if wiring_conditions.cable == "ac" and covered:
        return 60, f"{words}, {said}: 60 °C", "ac_cable"
    if wiring_conditions.cable == "se" and small and covered:
        return 60, f"{words} of 10 AWG or smaller, {said}: 60 °C", "se_cable"
    if wiring_conditions.terminals_c == 75:
        return 75, f"{words}, terminals marked for 75 °C", "terminal_temperature"
    marked = "not marked" if wiring_conditions.terminals_c == 60 else "not checked"
    return 60, f"{words}, terminals {marked}: 60 °C", "terminal_temperature"


def carries_a(size: str, metal: str, column_c: int, codebook: Codebook) -> float | None:
    """Table ampacity [A]; copper-clad aluminum carries what aluminum does."""
    return ampacity_a(codebook, size, "al" if metal == "cca" else metal, column_c)


def wire_limit(work: Working, size: str, metal: str, wiring_conditions: WiringConditions, codebook: Codebook) -> Step:
    """The largest breaker a conductor may have without an exception [A]: 240.4(D) up to 10 AWG; above that its ampacity, the next
    standard size up unless receptacles for anything are on it [240.4(B)]. Unknown for a size that is not in the tables."""
    table, wire = codebook.table("small_conductors"), size_text(size, metal)
    row = table.row("size", size)
    most = float(row[f"{metal}_max_a"]) if row and row[f"{metal}_max_a"] else None
    column_c, why, rule = column(wiring_conditions, size, codebook)
    ampacity = carries_a(size, metal, column_c, codebook)
    if most is not None:
        if ampacity is not None and ampacity < most:
            work.note("temperature column", why, [codebook.cite(rule)])
            work.take(Step(f"{wire} at {column_c} °C", ampacity, "A", cites=(codebook.cite("ampacity"),)))
            return work.take(
                Step("standard size below it", previous_rating_a(codebook, ampacity), "A", cites=(table.cite,))
            )
        return work.take(Step(f"{wire} allows", most, "A", cites=(table.cite,)))
    if ampacity is None:
        return work.given(f"ampacity of {wire}", None, "A")
    work.note("temperature column", why, [codebook.cite(rule)])
    work.take(Step(f"{wire} at {column_c} °C", ampacity, "A", cites=(codebook.cite("ampacity"),)))
    if wiring_conditions.several:
        rating = previous_rating_a(codebook, ampacity)
        label = "receptacles for anything: no size above its ampacity"
        return work.take(Step(label, rating, "A", cites=(codebook.cite("next_size_up"),)))
    rating = next_rating_a(codebook, ampacity)
    return work.take(Step("next standard rating allowed", rating, "A", cites=(codebook.cite("next_size_up"),)))


def at_best(wiring_conditions: WiringConditions, size: str, metal: str, codebook: Codebook) -> tuple[float | None, str]:
    """The largest breaker [A] if what was not checked turns out well, and what has to be checked for that; "" where all was."""
    best, open_ = wiring_conditions, []
    if not wiring_conditions.cable:
        best, open_ = replace(best, cable="se", insulated=False), ["its kind of cable"]
    elif wiring_conditions.cable in ("ac", "se") and wiring_conditions.insulated is None:
        best, open_ = replace(best, insulated=False), ["whether it lies in insulation"]
    if wiring_conditions.terminals_c is None and best.cable not in _SIXTY:
        best, open_ = replace(best, terminals_c=75), [*open_, "what the terminals are marked for"]
    limit = wire_limit(Working.trial(), size, metal, best, codebook)
    return (limit.amount if limit.known else None), " and ".join(open_)
