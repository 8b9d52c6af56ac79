"""Local amendments: which figures and sections of an edition a jurisdiction may put its own in place of."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Any, NamedTuple

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook, load_codebook


class Amendment(NamedTuple):
    """One local figure: `key` of the figure ("optional_first_va", "lighting_demand.2.percent", "rule.optional", "table.dryer_demand"), its
    local value in the code's own unit (None leaves it), and its local citation ("" keeps the edition's)."""

    key: str
    value: float | None
    section: str


class Amendable(Struct, frozen=True):
    """A figure that can be amended, in words; `rules` are the citations that move with it."""

    words: str
    rules: tuple[str, ...] = ()


# In the order of a calculation. A key with dots is a cell of a table: name.row.column, rows counted from 1.
AMENDABLE: dict[str, Amendable] = {
    "unit_lighting_load": Amendable("General lighting, per ft²", ("general_lighting",)),
    "unit_lighting_load_m2": Amendable("General lighting, per m²", ("general_lighting",)),
    "small_appliance_circuit": Amendable("Each small-appliance circuit", ("small_appliance",)),
    "small_appliance_circuits_min": Amendable("Small-appliance circuits required"),
    "laundry_circuit": Amendable("Each laundry circuit", ("laundry",)),
    "laundry_circuits_min": Amendable("Laundry circuits required"),
    "lighting_demand.1.up_to_va": Amendable("Standard: in full up to"),
    "lighting_demand.2.percent": Amendable("Standard: percent of the second block"),
    "lighting_demand.2.up_to_va": Amendable("Standard: second block up to"),
    "lighting_demand.3.percent": Amendable("Standard: percent of the rest"),
    "fastened_count_min": Amendable("Fastened-in-place appliances: reduced from this many", ("fastened",)),
    "fastened_demand": Amendable("Fastened-in-place appliances: factor", ("fastened",)),
    "fastened_threshold_w": Amendable("Fastened-in-place appliances: smallest that counts", ("fastened",)),
    "dryer_min": Amendable("Clothes dryer, at least", ("dryer",)),
    "ev_min": Amendable("Vehicle charging, at least", ("ev",)),
    "ev_continuous": Amendable("Vehicle charging as a continuous load"),
    "largest_motor": Amendable("Largest motor, added share", ("motor",)),
    "optional_first_va": Amendable("Optional: first block", ("optional_general",)),
    "optional_rest": Amendable("Optional: share of the rest", ("optional_general",)),
    "optional_ac": Amendable("Optional: air conditioning"),
    "optional_heat_pump": Amendable("Optional: heat pump compressor"),
    "optional_supplemental": Amendable("Optional: supplemental heat"),
    "optional_heat_few": Amendable("Optional: heating, few controls"),
    "optional_heat_many": Amendable("Optional: heating, many controls"),
    "optional_many_controls": Amendable("Optional: many controls from", ("optional_climate",)),
    "optional_thermal_storage": Amendable("Optional: thermal storage"),
    "existing_first_va": Amendable("Existing dwelling: first block", ("existing_general",)),
    "existing_rest": Amendable("Existing dwelling: share of the rest", ("existing_general",)),
    "measured_factor": Amendable("Measured demand: factor", ("measured",)),
    "management_factor": Amendable("Energy management: factor on the set point", ("management",)),
    "neutral_cooking_dryer": Amendable("Neutral: cooking and dryers"),
    "neutral_over_factor": Amendable("Neutral: share above 200 A"),
    "dwelling_main_min_a": Amendable("Smallest main of a dwelling"),
    "dwelling_factor": Amendable("Dwelling conductors: part of the rating", ("dwelling_conductors",)),
    "rule.standard": Amendable("Section of the standard calculation"),
    "rule.optional": Amendable("Section of the optional calculation"),
    "rule.existing": Amendable("Section of the existing-dwelling calculation"),
    "table.cooking_demand": Amendable("Section of cooking appliances"),
    "table.dryer_demand": Amendable("Section of clothes dryers"),
    "rule.noncoincident": Amendable("Section of heating against cooling"),
    "rule.rounding": Amendable("Section of rounding"),
}


def edition_figure(codebook: Codebook, key: str) -> tuple[float | None, str, str]:
    """Value, unit and section a codebook has for an amendable key; the value is None for a bare section."""
    kind, _, rest = key.partition(".")
    if kind == "rule":
        return None, "", codebook.cite(rest).section
    if kind == "table":
        return None, "", codebook.table(rest).cite.section
    if rest:
        table = codebook.table(kind)
        row, _, column = rest.partition(".")
        return (
            float(table.rows[int(row) - 1][column]),
            "%" if column.endswith("percent") else "VA",
            table.cite.section,
        )
    step = codebook.step(key)
    return step.amount, step.unit, step.cites[0].section


def fault(amendment: Amendment, codebook: Codebook) -> str:
    """Why an amendment cannot be meant, as one sentence; "" when it can."""
    if amendment.key not in AMENDABLE:
        return f'"{amendment.key}" is no figure that can be amended.'
    value, unit, _ = edition_figure(codebook, amendment.key)
    if amendment.value is None:
        return "" if amendment.section else "It gives neither a figure nor a section."
    if value is None:
        return "A section has no figure."
    most = {"": 3.0, "%": 100.0}.get(unit, 1_000_000.0)
    if not 0 <= amendment.value <= most:
        return f"{amendment.value:g} is not between 0 and {most:g}."
    if unit in ("circuits", "circuit", "appliances", "controls") and amendment.value != int(amendment.value):
        return f"{amendment.value:g} is not a whole number."
    return ""


@lru_cache(maxsize=32)
def amended_codebook(edition: str, amendments: tuple[Amendment, ...]) -> Codebook:
    """The edition with the local figures laid over it; each is marked as local wherever it is cited.

    Amendments that cannot be meant are left out here and told by `fault`. Raises UnknownRuleError for an edition that
    does not exist.
    """
    plain = load_codebook(edition)
    sound = [a for a in amendments if not fault(a, plain)]
    if not sound:
        return plain
    data: dict[str, dict[str, dict[str, Any]]] = {kind: dict(items) for kind, items in plain.data.items()}
    for amendment in sound:
        _lay_over(data, amendment)
    return Codebook(edition, data)


def _lay_over(data: dict[str, dict[str, dict[str, Any]]], amendment: Amendment) -> None:
    section = {"section": amendment.section, "verify": ""} if amendment.section else {}
    kind, _, rest = amendment.key.partition(".")
    if kind in ("rule", "table"):
        data[f"{kind}s"][rest] = {**data[f"{kind}s"][rest], **section, "local": True}
        return
    if rest:
        row, _, column = rest.partition(".")
        item = data["tables"][kind]
        cells = dict(item.get("cells", {}))
        if amendment.value is not None:
            cells[int(row) - 1, column] = f"{amendment.value:g}"
        data["tables"][kind] = {**item, **section, "cells": cells, "local": True}
    else:
        value = {} if amendment.value is None else {"value": _plain(amendment.value)}
        data["values"][kind] = {**data["values"][kind], **value, **section, "local": True}
    for rule in AMENDABLE[amendment.key].rules:
        data["rules"][rule] = {**data["rules"][rule], **section, "local": True}


def _plain(value: float) -> float | int:
    return int(value) if value == int(value) else value


def in_force(amendments: Sequence[Amendment], codebook: Codebook) -> list[Amendment]:
    """Those that can be meant, in the order of a calculation."""
    order = list(AMENDABLE)
    return sorted((a for a in amendments if not fault(a, codebook)), key=lambda a: order.index(a.key))
