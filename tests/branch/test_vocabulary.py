"""Descriptions as people write them: rooms, appliances and outlets of made-up directories, and the loads they name."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import pytest
from builders import K, called_out, circuit, house, load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.branch.links import proposals
from robust_ledger.branch.serves import PLACE_WORDS
from robust_ledger.branch.vocabulary import own_words_text, read_own_words, read_words, vocabulary
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.conventions import Conventions
from robust_ledger.job.parts.decisions import Decisions
from robust_ledger.plan import plan

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


OWN = read_own_words("casita = guest room; hobby hole = workshop;")


@pytest.mark.parametrize(
    ("words", "own", "places"),
    [
        ("casita outlets", OWN, {"bedroom"}),
        ("casita outlets", (), set()),
        ("Hobby  hole lights", OWN, {"unfinished_basement"}),
        ("hobby lights", OWN, set()),
        ("kitchen casita", OWN, {"kitchen", "bedroom"}),
    ],
)
def test_ones_own_words_are_read_like_the_usual_ones(words, own, places):
    assert read_words(words, tuple((one.word, one.means) for one in own)).places == places


def test_own_words_decide_protection_and_read_back():
    job = called_out(house(1500), "1 20 12 casita receptacles")

    def device(own):
        decisions = Decisions(circuits={CircuitKey.of_tag(1): CircuitChange(work="extended")})
        made = plan(replace(job, conventions=Conventions(own_words=own), decisions=decisions))
        return str(made.branch(CircuitKey.of_tag(1)).device)

    assert device(OWN) == "arc-fault 1-pole" and device(()) == "standard 1-pole"
    assert read_own_words(own_words_text(OWN)) == OWN


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("casita", '"casita" says no word'),
        ("= kitchen", "says no word"),
        ("casita = moon", '"moon" is no room'),
    ],
)
def test_an_own_word_for_nothing_known_is_refused(text, said):
    with pytest.raises(ValueError, match=said):
        read_own_words(text)


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
