"""Descriptions as people write them: rooms, appliances and outlets of made-up directories, and the loads they name."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import pytest
from builders import K, called_out, circuit, house, load
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.branch.links import proposals
from robust_ledger.branch.serves import PLACE_WORDS
from robust_ledger.branch.vocabulary import read_words, vocabulary

ROWS = [
    tuple(part.strip() for part in line.split("|"))
    for line in (Path(__file__).parent / "directories.txt").read_text().splitlines()
    if line and not line.startswith("#")
]


def names(text: str) -> set[str]:
    return {one.strip() for one in text.split(",") if one.strip()}


@pytest.mark.parametrize("row", ROWS, ids=lambda row: row[0])
def test_a_description_is_read_as_people_mean_it(row):
    words, places, appliances, outlets = row
    said = read_words(words)
    assert (set(said.places), set(said.appliances)) == (names(places), names(appliances))
    flags = {"l": said.lights, "r": said.receptacles, "a": said.alarms}
    assert {name for name, there in flags.items() if there} == set(outlets.split())


def test_there_are_enough_of_both():
    assert len(ROWS) >= 300 and len({row[0] for row in ROWS}) == len(ROWS)
    assert len(vocabulary()) >= 200 and Counter(one.sort for one in vocabulary().values())["place"] >= 100
    assert {one.place for one in vocabulary().values()} - {""} <= set(PLACE_WORDS)


@given(st.text(max_size=60))
def test_anything_at_all_is_read_without_a_fault(text):
    said = read_words(text)
    assert said.places <= set(PLACE_WORDS) and said.words >= len(said.appliances)
    assert said == read_words(f"  {text}  ")


@pytest.mark.parametrize("text", ["кухня", "台所のコンセント", "مطبخ", "κουζίνα 2"])
def test_words_in_another_script_mean_nothing_that_is_known(text):
    assert read_words(text).words == 0


HOUSE = (
    load(K.APPLIANCE, "1.2kW@120", "dishwasher"),
    load(K.APPLIANCE, "600VA@120", "disposer"),
    load(K.WATER_HEATER, "4.5kW", "water heater"),
    load(K.AIR_CONDITIONER, "18A@240", "north cooling"),
    load(K.HEAT_PUMP, "20A@240", "upstairs unit"),
    load(K.PLUG_IN, "1kW@120", "microwave", room="kitchen"),
    load(K.PLUG_IN, "1kW@120", "old microwave", room="garage"),
)


@pytest.mark.parametrize(
    ("words", "poles", "found"),
    [
        ("DW + disp", 1, {"dishwasher", "disposer"}),
        ("DW", 1, {"dishwasher"}),
        ("HWH", 2, {"water-heater"}),
        ("HWH", 1, set()),  # it is a 240 V load
        ("A/C", 2, {"north-cooling"}),  # by its kind
        ("mini split", 2, {"upstairs-unit"}),
        ("micro", 1, set()),  # two of them
        ("micro in garage", 1, {"old-microwave"}),
        ("den", 1, set()),
    ],
)
def test_loads_are_proposed_by_what_they_are(words, poles, found):
    one = circuit(1, poles=poles, feeds=words)
    assert {x.id for x in proposals(house(1500, *HOUSE, circuits=(one,)), one)} == found


def test_a_load_that_is_fed_is_not_proposed_again():
    job = called_out(house(1500, *HOUSE), "1 20 12 dishwasher")
    assert job.circuits[0].load_ids == ("dishwasher",)
    assert {x.id for x in proposals(job, circuit(2, feeds="DW + disp"))} == {"disposer"}
