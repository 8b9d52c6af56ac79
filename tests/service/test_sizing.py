"""Sizes of the service: by the 83% rule, by the whole rating, and what follows from the conductors."""

from __future__ import annotations

import pytest
from builders import K, finding_ids, house, load, with_parts
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.codebook.conductors import ampacity_a, ratings_a
from robust_ledger.job.edits import with_part
from robust_ledger.plan import plan

BOOK = load_codebook("2023")


def sized(main_a: float | None, area: float = 1500, edition: str = "2023", **choices):
    """The plan of a plain house with a chosen main; `choices` go to the decisions, terminals_c to the panel."""
    job = house(area, load(K.COOKING, "12kW", "range", uses_neutral=True), edition=edition)
    terminals = choices.pop("terminals_c", 75)
    job = with_part(job, "panel", bus_a=400, terminals_c=terminals)
    return plan(with_part(job, "decisions", main_a=main_a, meter_replaced=True, **choices))


def sizes_of(made) -> tuple:
    return tuple(
        made.entries[f"service.conductors.{metal}.{rule}"].value
        for rule in ("dwelling", "strict")
        for metal in ("cu", "al")
    )


@pytest.mark.parametrize(
    ("main", "sizes"),
    [
        (100, ("4 Cu", "2 Al", "3 Cu", "1 Al")),
        (125, ("2 Cu", "1/0 Al", "1 Cu", "2/0 Al")),
        (150, ("1 Cu", "2/0 Al", "1/0 Cu", "3/0 Al")),
        (200, ("2/0 Cu", "4/0 Al", "3/0 Cu", "250 kcmil Al")),
        (225, ("3/0 Cu", "250 kcmil Al", "4/0 Cu", "300 kcmil Al")),
        (400, ("400 kcmil Cu", "600 kcmil Al", "600 kcmil Cu", "2 × 250 kcmil Al")),
    ],
)
def test_service_conductors_by_both_rules(main, sizes):
    """Above 385 A no single aluminum conductor of the table carries the whole rating: unknown, not rounded down."""
    assert sizes_of(sized(main)) == sizes


def test_above_400_amperes_the_dwelling_rule_is_closed():
    """By the load, then: 420 A and the next size up is 450 A; the whole rating takes 460 A."""
    assert sizes_of(sized(450))[0] == "600 kcmil Cu" and sizes_of(sized(450))[2] == "700 kcmil Cu"


@pytest.mark.parametrize(
    ("main_a", "kiln_va", "copper", "aluminum"),
    [  # the standard load is 4,575 VA and the kiln; at 75 °C
        (150, 20_000, "1 Cu", "2/0 Al"),  # 102 A: 130 → 150, 135 → 150
        (150, 27_000, "1/0 Cu", "2/0 Al"),  # 132 A: 130 is below the load, 135 is not
        (175, 20_000, "2/0 Cu", "3/0 Al"),  # 150 is standard itself and no 175; 155 → 175
        (200, 20_000, "3/0 Cu", "4/0 Al"),  # 175 is standard itself; 180 → 200
        (400, 20_000, "500 kcmil Cu", "700 kcmil Al"),  # 380 → 400; 375 → 400
    ],
)
def test_conductors_by_the_load_and_the_next_size_up(main_a, kiln_va, copper, aluminum):
    job = with_part(house(1000, load(K.APPLIANCE, f"{kiln_va}VA", "kiln")), "decisions", load_method="standard")
    made = plan(with_part(job, "decisions", main_a=float(main_a), conductor_rule="full"))
    assert [made.entries[f"service.conductors.{metal}.full"].value for metal in ("cu", "al")] == [copper, aluminum]
    assert made.service.conductors.value == aluminum


def test_the_practice_of_the_load_is_unknown_without_a_load():
    made = plan(with_part(house(None), "decisions", main_a=200.0, conductor_rule="full"))
    assert not made.service.conductors.known and "floor area" in made.service.conductors.why_unknown


@pytest.mark.parametrize(
    ("main", "terminals", "copper"), [(100, 75, "4 Cu"), (100, 60, "3 Cu"), (110, 60, "3 Cu"), (110, 75, "3 Cu")]
)
def test_terminals_up_to_100_amperes_are_60_degrees_unless_marked(main, terminals, copper):
    """83 A at 60 °C needs 3 Cu (85 A), at 75 °C 4 Cu (85 A); above 100 A terminals are good for 75 °C anyway."""
    assert sized(main, terminals_c=terminals).entries["service.conductors.cu.dwelling"].value == copper


@given(st.sampled_from([r for r in ratings_a(BOOK) if 100 <= r <= 350]), st.sampled_from(["cu", "al"]))
def test_the_conductor_picked_is_enough_and_the_next_smaller_is_not(rating, metal):
    made = sized(rating)
    for rule, share in (("dwelling", 0.83), ("strict", 1.0)):
        size = made.entries[f"service.conductors.{metal}.{rule}"].value.split()[0]
        rows = [row["size"] for row in BOOK.table("ampacity").rows]
        below = rows[rows.index(size) - 1]
        assert ampacity_a(BOOK, size, metal, 75) >= share * rating - 1e-9
        assert ampacity_a(BOOK, below, metal, 75) < share * rating


@pytest.mark.parametrize(
    ("main", "metal", "neutral", "electrode", "jumper"),
    [
        # neutral load (3,000 + 35% of 6,000 + 5,600) / 240 = 44.6, 45 A; never below the bonding table
        (100, "cu", "8 Cu", "6 Cu, or 8 Cu in conduit", "8 Cu"),
        (150, "al", "4 Al", "6 Cu", "6 Cu"),
        (200, "cu", "4 Cu", "4 Cu", "4 Cu"),
        (200, "al", "2 Al", "4 Cu", "4 Cu"),
        (400, "cu", "1/0 Cu", "1/0 Cu", "1/0 Cu"),
        (400, "al", "3/0 Al", "1/0 Cu", "1/0 Cu"),
    ],
)
def test_what_follows_from_the_conductors(main, metal, neutral, electrode, jumper):
    entries = sized(main, metal=metal).entries
    names = ("neutral", "gec", "mbj")
    assert tuple(entries[f"service.{name}"].value for name in names) == (neutral, electrode, jumper)


@pytest.mark.parametrize(
    ("main", "metal", "ground"),
    [
        (100, "cu", "8 Cu"),
        (100, "al", "6 Al"),
        (200, "cu", "6 Cu"),
        (200, "al", "4 Al"),
        (400, "cu", "3 Cu"),
        (400, "al", "1 Al"),
    ],
)
def test_the_ground_of_the_main_panels_feeder_goes_by_the_device_ahead(main, metal, ground):
    """Behind a new service disconnect, in the metal of the hots [T250.122]; of a main panel at the meter there is none."""
    made = sized(main, metal=metal)
    ahead = with_part(made.job, "scope", service="upgraded", disconnect="new", disconnect_kind="service")
    assert plan(ahead).entries["feeder.panel.egc"].value == ground
    assert "feeder.panel.egc" not in made.entries


def test_a_large_neutral_load_sizes_the_neutral_but_never_above_the_hots():
    """(5,331 + 14,000) / 240 = 80.5 A of unbalance needs 2 Al at 75 °C (90 A), more than the least of 4 Al beside 2/0 Al."""
    big = [load(K.APPLIANCE, "7kW@120", f"kiln {n}") for n in range(2)]
    job = with_part(house(1720, *big), "decisions", main_a=150)
    made = plan(job)
    assert made.load.neutral.value == 81
    assert made.service.neutral.value == "2 Al"
    many = [load(K.APPLIANCE, "6kW@120", f"kiln {n}") for n in range(9)]
    made = plan(with_part(house(1720, *many), "decisions", main_a=150))
    assert made.service.neutral.value == made.service.conductors.value == "2/0 Al"


def test_a_neutral_load_beyond_the_table_is_unknown():
    """Thirty kilns of 6 kW: (4,575 + 135,000) / 240 = 581 A, 467 A after 70% of what exceeds 200; Al ends at 385 A."""
    many = [load(K.APPLIANCE, "6kW@120", f"kiln {n}") for n in range(30)]
    made = plan(with_part(house(1000, *many), "decisions", main_a=400))
    assert made.load.neutral.value == 467
    assert made.service.neutral.value is None
    assert "carry the neutral load" in made.service.neutral.why_unknown


@pytest.mark.parametrize(("watts", "main"), [(5_000, 100), (19_300, 100), (19_600, 110), (30_150, 150)])
def test_the_main_is_the_next_rating_and_never_under_100(watts, main):
    """Standard method: the bare 1,000 ft² house has 4,575 VA; with 19,300 that is 99.5 A, which rounds down to 99, and
    with 19,600 100.7 A."""
    job = with_part(house(1000, load(K.APPLIANCE, f"{watts}VA", "kiln")), "decisions", load_method="standard")
    made = plan(job)
    assert made.load.calculations["standard"].total.value == pytest.approx(watts + 3000 + 0.35 * 4500)
    assert made.service.main.value == main


@pytest.mark.parametrize(
    ("changes", "finding", "severity"),
    [
        ({"decisions": {"main_a": 125}}, "service.main_small", "STOP"),
        ({"decisions": {"main_a": 90}}, "service.main_minimum", "STOP"),
        ({"decisions": {"main_a": 155}}, "service.main_rating", "FIX"),
        ({"decisions": {"main_a": 200}}, "service.meter", "STOP"),
        ({"old_panel": {"meter_label_a": None}}, "service.meter_unknown", "ASK"),
        ({"panel": {"bus_a": 125}}, "service.bus", "STOP"),
        ({"panel": {"main": "lugs", "first_disconnect": True}}, "service.lugs", "STOP"),
    ],
)
def test_findings_of_the_service_both_ways(demo, changes, finding, severity):
    assert finding not in finding_ids(plan(demo))
    for part, values in changes.items():
        demo = with_parts(demo, part, **values)
    made = plan(demo)
    assert next(f.severity for f in made.findings if f.id == finding) == severity


def test_a_replaced_meter_socket_and_lugs_behind_a_disconnect_are_fine(demo):
    job = with_part(with_part(demo, "decisions", main_a=200, meter_replaced=True), "panel", main="lugs")
    assert not {"service.meter", "service.lugs"} & finding_ids(plan(job))


def test_a_main_that_is_no_standard_rating_leaves_the_sizes_unknown(demo):
    made = plan(with_part(demo, "decisions", main_a=155))
    for name in ("service.main", "service.neutral", "service.gec", "service.conductors.al.dwelling"):
        assert made.entries[name].value is None
