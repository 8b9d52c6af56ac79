"""Ampacity where the conductors lie, conductors in parallel, and every size from 100 to 400 A: worked by hand."""

from __future__ import annotations

import math

import pytest
from builders import house, with_parts
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import sizes
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.entry import Entry
from robust_ledger.plan import plan
from robust_ledger.service.ampacity import picked
from robust_ledger.service.bonding import bonding_jumper_entry, electrode_entry

BOOK = load_codebook("2023")

# Rating: 83% copper, aluminum (the dwelling table); whole rating copper, aluminum (75 °C column).
EVERY_SIZE = {
    100: ("4 Cu", "2 Al", "3 Cu", "1 Al"),  # 83: 85, 90; 100: 100, 100
    110: ("3 Cu", "1 Al", "2 Cu", "1/0 Al"),  # 91.3: 100, 100; 110: 115, 120
    125: ("2 Cu", "1/0 Al", "1 Cu", "2/0 Al"),  # 103.75: 115, 120; 125: 130, 135
    150: ("1 Cu", "2/0 Al", "1/0 Cu", "3/0 Al"),  # 124.5: 130, 135; 150: 150, 155
    175: ("1/0 Cu", "3/0 Al", "2/0 Cu", "4/0 Al"),  # 145.25: 150, 155; 175: 175, 180
    200: ("2/0 Cu", "4/0 Al", "3/0 Cu", "250 kcmil Al"),  # 166: 175, 180; 200: 200, 205
    225: ("3/0 Cu", "250 kcmil Al", "4/0 Cu", "300 kcmil Al"),  # 186.75: 200, 205; 225: 230, 230
    250: ("4/0 Cu", "300 kcmil Al", "250 kcmil Cu", "350 kcmil Al"),  # 207.5: 230, 230; 250: 255, 250
    300: ("250 kcmil Cu", "350 kcmil Al", "350 kcmil Cu", "500 kcmil Al"),  # 249: 255, 250; 300: 310, 310
    350: ("350 kcmil Cu", "500 kcmil Al", "500 kcmil Cu", "700 kcmil Al"),  # 290.5: 310, 310; 350: 380, 375
    400: ("400 kcmil Cu", "600 kcmil Al", "600 kcmil Cu", "2 × 250 kcmil Al"),  # 332: 335, 340; 400: 420, 2 × 205
}


def sized(rating_a: float, metal: str = "cu", rule: str = "dwelling", terminals: int = 75, **run) -> str:
    job = with_part(house(1000), "decisions", main_a=rating_a)
    job = with_parts(with_parts(job, "panel", terminals_c=terminals), "service_run", **run)
    return str(plan(job).entries[f"service.conductors.{metal}.{rule}"].value)


@pytest.mark.parametrize("rating_a", EVERY_SIZE)
def test_every_alternative_in_both_metals(rating_a):
    job = with_part(house(1000), "panel", bus_a=400)
    found = {one.key: (one.dwelling.value, one.strict.value) for one in plan(job).service.alternatives}
    copper, aluminum = found[f"{rating_a}.cu"], found[f"{rating_a}.al"]
    assert (copper[0], aluminum[0], copper[1], aluminum[1]) == EVERY_SIZE[rating_a]


def test_terminals_that_are_not_marked_take_the_60_degree_column_to_100_amperes_only():
    assert (sized(100, terminals=60), sized(100, "al", "strict", 60)) == ("3 Cu", "1/0 Al")  # 83: 85; 100: 100
    assert sized(110, terminals=60) == "3 Cu"


@pytest.mark.parametrize(
    ("run", "metal", "size"),
    [
        ({"ambient_c": 40}, "al", "4/0 Al"),  # 205 × 0.91 = 186.6, capped at 180, at least 166
        ({"ambient_c": 50}, "al", "4/0 Al"),  # 205 × 0.82 = 168.1
        ({"ambient_c": 51}, "al", "250 kcmil Al"),  # 205 × 0.76 = 155.8; 230 × 0.76 = 174.8
        ({"ambient_c": 50}, "cu", "3/0 Cu"),  # 195 × 0.82 = 159.9; 225 × 0.82 = 184.5
        ({"ambient_c": 10}, "cu", "2/0 Cu"),  # a bonus of 1.15 ends at the terminals' 175
        ({"current_carrying": 3}, "cu", "2/0 Cu"),
        ({"current_carrying": 4}, "cu", "3/0 Cu"),  # 195 × 0.8 = 156; 225 × 0.8 = 180
        ({"current_carrying": 6, "ambient_c": 40}, "cu", "4/0 Cu"),  # 225 × 0.8 × 0.91 = 163.8; 260 × 0.728 = 189.3
        ({"rooftop": True, "insulation": "THWN-2"}, "cu", "4/0 Cu"),  # 63 °C: 225 × 0.65 = 146; 260 × 0.65 = 169
        ({"rooftop": True, "insulation": "XHHW-2"}, "cu", "2/0 Cu"),  # exempt
    ],
)
def test_a_200_ampere_service_where_it_is_hot_or_crowded(run, metal, size):
    assert sized(200, metal, **run) == size


@pytest.mark.parametrize("run", [{"ambient_c": 86}, {"ambient_c": 91}, {"current_carrying": 0}, {"sets": 9}])
def test_what_is_past_the_tables_is_unknown(run):
    job = with_parts(with_parts(house(1000), "decisions", main_a=200), "service_run", **run)
    entry = plan(job).entries["service.conductors.cu.dwelling"]
    assert not entry.known and entry.why_unknown


def test_conductors_in_parallel():
    assert sized(400, "cu", sets=2) == "2 × 2/0 Cu"  # 332 ÷ 2 = 166: 175
    assert sized(400, "al", sets=2) == "2 × 4/0 Al"  # 180
    assert sized(400, "al", sets=3) == "3 × 1/0 Al"  # 110.7: 120
    assert sized(200, "cu", sets=2) == "2 × 1/0 Cu", "in parallel none is smaller than 1/0"
    assert sized(400, "al", "strict") == "2 × 250 kcmil Al" and sized(400, "al", "strict", sets=1) == "None"


def test_parallel_conductors_count_together_for_earth_and_one_by_one_for_the_neutral():
    """2 × 4/0 Al are 423 kcmil: electrode 2 Cu, jumper 2 Cu. Each neutral beside 4/0 Al is at least 2 Al, and 1/0 in parallel."""
    job = with_part(house(1000), "decisions", main_a=400, metal="al")
    made = plan(with_parts(job, "service_run", sets=2, raceway="pvc40", trade_size="2"))
    assert made.service.conductors.value == "2 × 4/0 Al"
    assert (made.service.gec.value, made.service.figures.mbj.value) == ("2 Cu", "2 Cu")
    assert made.service.neutral.value == "2 × 1/0 Al"
    one = next(one for one in made.service.alternatives if one.key == "400.al")
    assert "needs 2 raceways" in one.verdict
    assert "service.link:riser" in {f.id for f in made.findings}


def test_above_the_bonding_table_an_eighth_of_the_copper_area():
    """3 × 500 = 1,500 kcmil × 12.5% = 187.5 kcmil: 4/0 (211.6). Aluminum that large is left unknown."""
    assert bonding_jumper_entry(Entry("x", "x", Conductors("500", "cu", 3), ""), BOOK).value == "4/0 Cu"
    assert (
        bonding_jumper_entry(Entry("x", "x", Conductors("500", "cu", 2), ""), BOOK).value == "2/0 Cu"
    )  # 1,000: the table
    unknown = bonding_jumper_entry(Entry("x", "x", Conductors("600", "al", 4), ""), BOOK)
    assert not unknown.known and "copper" in unknown.why_unknown
    assert electrode_entry(Entry("x", "x", Conductors("500", "cu", 3), ""), BOOK).value == "3/0 Cu"


def test_parallel_conductors_share_resistance_and_fault_current():
    """Half the resistance: half the drop, and more of the fault current comes through."""
    base = with_part(house(1500), "decisions", main_a=400, metal="al")
    run = {"length_ft": 100, "utility_fault_a": 10_000}
    one, two = (plan(with_parts(base, "service_run", sets=sets, **run)) for sets in (1, 2))
    per_kft = {"600": (0.0353, 0.039), "4/0": (0.100, 0.041)}
    for made, size, sets in ((one, "600", 1), (two, "4/0", 2)):
        r, x = per_kft[size]
        f = 2 * 0.1 * 10_000 * math.hypot(r, x) / sets / 240
        assert picked(made.service.conductors).size == size
        assert made.service.figures.fault_panel.amount == pytest.approx(10_000 / (1 + f), rel=1e-3)


@given(st.floats(-20, 85), st.integers(2, 45), st.sampled_from([100, 150, 200, 300]), st.sampled_from(["cu", "al"]))
def test_a_harder_place_never_takes_a_smaller_conductor(ambient_c, together, rating_a, metal):
    order = sizes(BOOK)

    def area(text: str) -> float:
        if text == "None":
            return math.inf
        sets, _, one = text.rpartition(" × ")
        return (order.index(one.split()[0]) + 1) * (1000 if sets else 1)

    here = area(sized(rating_a, metal, ambient_c=ambient_c, current_carrying=together))
    assert area(sized(rating_a, metal)) <= here or ambient_c <= 30
    assert here <= area(sized(rating_a, metal, ambient_c=ambient_c + 5, current_carrying=together))
    assert here <= area(sized(rating_a, metal, ambient_c=ambient_c, current_carrying=together + 3))


@pytest.mark.parametrize("column", [60, 75, 90])
def test_the_ambient_table_follows_from_heat(column):
    """A conductor gives off heat by its rise above the air: factor² = (column − air) ÷ (column − 30), air at the edge's lower end
    rounded to its middle; the table never differs by more than a few hundredths."""
    for row in BOOK.table("ambient").rows:
        cell = row[f"factor_{column}c"]
        top = float(row["up_to_c"])
        if cell and top >= 20:
            assert float(cell) == pytest.approx(math.sqrt((column - top) / (column - 30)), abs=0.013), (column, top)
        elif not cell:
            assert top >= column - 1
