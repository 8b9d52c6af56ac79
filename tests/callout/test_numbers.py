"""Numbers as they are said: taken whole or not at all, so that nothing of one is left behind as a word."""

from __future__ import annotations

import pytest
from builders import called_out, house
from how_well_read import ONES, TENS
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.callout.numbers import numbers_at, pairs_at
from robust_ledger.callout.spoken import Spoken
from robust_ledger.callout.stages import Context, read_line
from robust_ledger.callout.tokens import tokens_of
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.job import blank_job
from robust_ledger.job.parts.house import Nameplate

BOOK = load_codebook("2023")


def nameplate(spoken: Spoken) -> Nameplate:
    """The nameplate that a line says."""
    plate = spoken.facts["nameplate"]
    assert isinstance(plate, Nameplate)
    return plate


def below_hundred(n: int) -> str:
    return ONES[n] if n < 20 else TENS[n // 10] + (f" {ONES[n % 10]}" if n % 10 else "")


def said(n: int, style: int) -> str:
    """A number in words: 5,400 as "five thousand four hundred" or "fifty four hundred", with "and" or without."""
    if n >= 1000 and style % 2 and n < 10_000 and n % 100 == 0 and n // 100 % 10:
        return f"{below_hundred(n // 100)} hundred"
    parts, joined = [], " and " if style >= 2 else " "
    if n >= 1000:
        parts.append(f"{said(n // 1000, 0)} thousand")
    if n % 1000 >= 100:
        parts.append(f"{ONES[n % 1000 // 100]} hundred")
    words = " ".join(parts)
    rest = below_hundred(n % 100) if n % 100 else ""
    return (words + joined + rest if words and rest else words or rest) or "zero"


@given(st.integers(100, 99_999), st.integers(0, 3))
def test_a_number_with_hundreds_or_thousands_is_read_whole_and_nothing_within_it(n, style):
    tokens = tokens_of(said(n, style) + " watts")
    whole = numbers_at(tokens, 0)
    assert whole[0].value == n and whole[0].after == len(tokens) - 1
    if n >= 1000:
        assert [one.value for one in whole] == [n]
    assert all(numbers_at(tokens, at) == [] for at in range(1, len(tokens)))


@given(
    st.integers(100, 80_000),
    st.integers(0, 3),
    st.sampled_from(["water heater {} watts", "range {} watts kitchen", "{} watt dryer"]),
)
def test_watts_are_all_of_what_was_said(n, style, line):
    spoken = read_line(line.format(said(n, style)), Context(blank_job(), BOOK), "load")
    assert spoken.fault is None and not spoken.struck and nameplate(spoken).amount == n


@pytest.mark.parametrize(
    ("line", "amount", "unit"),
    [
        ("water heater fifty four hundred watts", 5400, "VA"), ("dryer twenty five hundred watts", 2500, "VA"),
        ("range fourteen eighty watts", 1480, "VA"), ("dryer 54 hundred watts", 5400, "VA"), ("dryer five thousand watts", 5000, "VA"),
        ("space heater a thousand watts", 1000, "VA"), ("disposer half a horse", 0.5, "hp"), ("pump three quarters of a horse", 0.75, "hp"),
        ("pump three quarter horse", 0.75, "hp"), ("compressor one and a half horse", 1.5, "hp"), ("range eleven point two kW", 11.2, "kW"),
        ("water heater six hundred fifty watts", 650, "VA"), ("water heater 4500 watts", 4500, "VA"),
    ],
)  # fmt: skip
def test_ratings_as_people_say_them(line, amount, unit):
    spoken = read_line(line, Context(blank_job(), BOOK), "load")
    plate = nameplate(spoken)
    assert (plate.amount, plate.unit) == (amount, unit) and not spoken.struck and "room" not in spoken.facts


@pytest.mark.parametrize(
    "line", ["water heater forty five hundred", "heat pump 24, 40", "dryer seven", "range eleven point two"]
)
def test_a_figure_without_its_unit_is_asked_about_and_no_word_for_a_room(line):
    spoken = read_line(line, Context(blank_job(), BOOK), "load")
    assert spoken.struck and "room" not in spoken.facts and nameplate(spoken).amount is None


@pytest.mark.parametrize(
    "line",
    [
        "heat pump MCA 24, max breaker 40", "heat pump MCA 24 max breaker 40", "heat pump mca twenty four, max breaker forty",
        "heat pump 24 MCA, 40 max breaker", "heat pump max breaker 40, MCA 24", "heat pump MCA's 24 and max breaker's 40",
        "heat pump minimum circuit amps 24, maximum overcurrent 40", "heat pump max 40 amp breaker MCA 24",
        "heat pump nameplate says MCA 24 amps and max fuse 40 amps", "heat pump MCA of 24, MOCP of 40",
    ],
)  # fmt: skip
def test_mca_and_the_largest_breaker_are_two_figures_at_their_places(line):
    spoken = read_line(line, Context(blank_job(), BOOK), "load")
    assert (
        (spoken.facts["mca_a"], spoken.facts["mocp_a"]) == (24, 40) and not spoken.struck and "room" not in spoken.facts
    )


def test_a_nameplate_said_with_a_circuit_is_no_part_of_what_it_feeds():
    spoken = read_line("9,11 40 8 heat pump MCA 24, max breaker 40", Context(house(1500), BOOK), "pulloff")
    assert spoken.facts["feeds"] == "heat pump" and spoken.facts["breaker_a"] == 40
    assert "MCA 24 A and MOCP 40 A" in spoken.asks[0]
    twin = read_line("9,11 40 8 heat pump", Context(house(1500), BOOK), "pulloff")
    assert twin.asks == () and twin.facts["feeds"] == "heat pump"


@pytest.mark.parametrize(
    ("line", "area"),
    [
        ("eighteen hundred square feet", 1800),
        ("fourteen eighty square feet", 1480),
        ("two thousand three hundred fifty square feet", 2350),
    ],
)
def test_the_house_is_as_large_as_was_said(line, area):
    spoken = read_line(line, Context(blank_job(), BOOK), "load")
    assert spoken.facts["dwelling.area"] == area and not spoken.struck


@pytest.mark.parametrize(
    ("line", "circuit"),
    [
        ("nineteen twenty one double pole fifty six gauge range", ("19", "21", 50, "6")),
        ("5 and 7 hundred amp 2P, 1/0 aluminum, barn", ("5", "7", 100, "1/0")),
    ],
)
def test_numbers_that_follow_each_other_on_a_circuit_stay_apart(line, circuit):
    facts = read_line(line, Context(house(1500), BOOK), "pulloff").facts
    assert (*facts["spaces"], facts["breaker_a"], facts["gauge"]) == circuit


def test_two_pairs_are_one_number_only_where_a_unit_says_so():
    assert [one.value for one in pairs_at(tokens_of("fourteen eighty"), 0)] == [1480] and pairs_at(
        tokens_of("nine eighty"), 0
    ) == []
    assert 1480 not in [one.value for one in numbers_at(tokens_of("fourteen eighty"), 0)]


# --- tags and spaces ------------------------------------------------------------------------------------------------------
BOTH = called_out(house(1500), "7 20 12 hall", "9 20 12 den", "11 20 12 porch")  # tags 1, 2, 3
CROSSED = called_out(
    house(1500), "3 20 12 den", "5 20 12 attic", "2 20 12 hall"
)  # tag 3 is in space 2, space 3 has tag 1


@pytest.mark.parametrize(
    ("job", "words", "tag", "asked"),
    [
        (CROSSED, "shares with 3", None, "Tag 3 or space 3? Tag 3 is hall, space 3 is den; say which."),
        (CROSSED, "shares with three", None, "Tag 3 or space 3?"), (CROSSED, "mw 3", None, "Tag 3 or space 3?"),
        (CROSSED, "common neutral with circuit 3", None, "Tag 3 or space 3?"), (CROSSED, "shares with tag 3", 3, ""),
        (CROSSED, "shares with space 3", 1, ""), (CROSSED, "shares neutral with slot three", 1, ""), (BOTH, "shares with 9", 2, ""),
        (BOTH, "shares with 3", 3, ""), (BOTH, "shares with 20", None, "There is no tag 20 yet"),
        (BOTH, "shares with space 3", None, "Nothing is called out in space 3 yet"), (CROSSED, "shares with 1", 1, ""),
    ],
)  # fmt: skip
def test_a_neutral_is_shared_with_the_tag_or_the_space_that_was_meant(job, words, tag, asked):
    spoken = read_line(f"15 20 12 kitchen {words}", Context(job, BOOK), "pulloff")
    assert (spoken.fault.text if spoken.fault else "").startswith(asked) and bool(spoken.fault) == bool(asked)
    assert spoken.facts.get("shares_neutral_with") == tag
