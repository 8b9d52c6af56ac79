"""Local amendments: each figure that can be amended moves what rests on it, and marks it."""

from __future__ import annotations

import pytest
from builders import K, house, load, total_va
from msgspec.structs import replace

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.local import AMENDABLE, Amendment, amended_codebook, edition_figure, fault
from robust_ledger.job.edits import amend
from robust_ledger.plan import plan

BOOK = load_codebook("2023")


def full_house():
    """A house in which every figure has something to work on."""
    kinds = [
        (K.COOKING, "12kW"), (K.DRYER, "4kW"), (K.WATER_HEATER, "4.5kW"), (K.APPLIANCE, "800VA"), (K.APPLIANCE, "1200VA"),
        (K.APPLIANCE, "490VA"), (K.MOTOR, "900VA"), (K.EV_CHARGER, "16A@240"), (K.LIGHTING, "500VA"),
    ]  # fmt: skip
    loads = [load(kind, rating, f"{kind.value} {n}", uses_neutral=True) for n, (kind, rating) in enumerate(kinds)]
    held = load(K.EV_CHARGER, "40A@240", "held charger", managed=True)
    return house(
        60_000,
        *loads,
        held,
        management={"setpoint_a": 20},
        scope="swap",
        measured={"peak": 9.0, "days": 365, "coverage": 1},
        decisions={"ev_practice": "continuous"},
    )


CLIMATES = {
    "optional_ac": [(K.AIR_CONDITIONER, "9kW", 1)],
    "optional_heat_pump": [(K.HEAT_PUMP, "9kW", 1)],
    "optional_supplemental": [(K.SUPPLEMENTAL_HEAT, "9kW", 1)],
    "optional_heat_few": [(K.HEATING, "9kW", 1)],
    "optional_heat_many": [(K.HEATING, "9kW", 5)],
    "optional_many_controls": [(K.HEATING, "9kW", 4)],
    "optional_thermal_storage": [(K.THERMAL_STORAGE, "9kW", 1)],
}


@pytest.mark.parametrize("key", AMENDABLE)
def test_an_amended_figure_moves_and_marks_what_rests_on_it(key):
    job = full_house()
    if key == "unit_lighting_load_m2":
        job = replace(job, dwelling=replace(job.dwelling, area_unit="m2"))
    for kind, rating, controls in CLIMATES.get(key, []):
        job = replace(job, loads=(*job.loads, load(kind, rating, "climate", controls=controls)))
    value, unit, _section = edition_figure(BOOK, key)
    if key == "rule.noncoincident":
        job = replace(job, loads=(*job.loads, load(K.HEATING, "5kW", "heat"), load(K.AIR_CONDITIONER, "3kW", "cool")))
    local = (
        None
        if value is None
        else value + (1 if unit in ("circuits", "circuit", "appliances", "controls") else value * 0.25 + (unit != ""))
    )
    if local and unit == "%":
        local = value * 1.2
    local = {"fastened_count_min": 9, "fastened_threshold_w": 850}.get(key, local)
    if key == "dwelling_main_min_a":
        job, local = house(500), 125
    if key == "dwelling_factor":
        job, local = house(1500), 1.0
    before, after = plan(job), plan(amend(job, key, local, "Ord. 7-4"))
    touched = {i for i, entry in after.entries.items() if entry.local}
    assert touched, "it has to be marked somewhere"
    assert any("Ord. 7-4 (local)" in map(str, entry.sections()) for entry in after.entries.values())
    moved = {i for i, entry in after.entries.items() if i in before.entries and entry.value != before.entries[i].value}
    assert moved <= touched, "whatever moved is marked"
    assert moved or value is None
    assert not any(entry.local for entry in before.entries.values())


def test_an_edition_yet_to_come_can_be_written_as_an_overlay():
    """2 VA/ft², a first block of 8,000, renumbered: 1,500 × 2 + 4,500 + 12,000 = 19,500 → 8,000 + 40% of 11,500."""
    job = house(1500, load(K.COOKING, "12kW", "range"))
    for key, value, section in (
        ("unit_lighting_load", 2, "120.41"),
        ("optional_first_va", 8000, "120.82(B)"),
        ("rule.optional", None, "120.82"),
    ):
        job = amend(job, key, value, section)
    made = plan(job)
    assert total_va(made, "optional") == 12_600
    assert str(made.load.calculations["optional"].cite) == "120.82 (local)"
    assert str(made.load.calculations["optional"].lines[0].cites[0]) == "120.41 (local)"
    assert total_va(plan(amend(job, "unit_lighting_load", None, "")), "optional") == 8000 + 0.4 * (21_000 - 8000)


@pytest.mark.parametrize(
    ("amendment", "words"),
    [
        (Amendment("optional_rest", 0.5, ""), ""),
        (Amendment("optional_rest", 4.0, ""), "not between 0 and 3"),
        (Amendment("lighting_demand.2.percent", 101, ""), "not between 0 and 100"),
        (Amendment("optional_first_va", -1, ""), "not between"),
        (Amendment("fastened_count_min", 3.5, ""), "not a whole number"),
        (Amendment("rule.optional", 5, "x"), "has no figure"),
        (Amendment("rule.optional", None, ""), "neither"),
        (Amendment("banana", 1, ""), "no figure that can be amended"),
    ],
)
def test_amendments_that_cannot_be_meant_are_told_and_not_used(amendment, words):
    assert words in fault(amendment, BOOK) and bool(fault(amendment, BOOK)) is bool(words)
    if words:
        assert amended_codebook("2023", (amendment,)) is BOOK


def test_every_amendable_figure_exists_in_every_edition():
    for edition in ("2017", "2020", "2023"):
        book = load_codebook(edition)
        for key, amendable in AMENDABLE.items():
            assert edition_figure(book, key)[2]
            assert all(book.cite(rule) for rule in amendable.rules)
