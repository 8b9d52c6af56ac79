"""The small types that stand for text: what is written reads back, and what they say is asked of them."""

from __future__ import annotations

import copy

import pytest
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.job.conductors import METALS, Conductors
from robust_ledger.job.job import Job
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.readers.torques import read_torques, torques_text
from robust_ledger.ledger.place import NOWHERE, Place

SIZES = ("14", "8", "2", "1/0", "4/0", "250", "500")


@given(st.sampled_from(SIZES), st.sampled_from(METALS), st.integers(1, 4))
def test_conductors_read_back_as_they_are_written(size, metal, sets):
    made = Conductors(size, metal, sets)
    read = Conductors.read(str(made))
    assert read == made and read is not None
    assert (read.size, read.metal, read.sets) == (size, metal, sets)
    assert copy.deepcopy(made).sets == sets


@pytest.mark.parametrize(
    ("written", "meant"),
    [
        ("6 Cu", "6 Cu"),
        ("4/0 al", "4/0 Al"),
        ("2 x 250 kcmil AL", "2 × 250 kcmil Al"),
        ("250 MCM Cu", "250 kcmil Cu"),
        ("2 AWG Cu", "2 Cu"),
    ],
)
def test_conductors_as_people_write_them(written, meant):
    assert Conductors.read(written) == meant


@pytest.mark.parametrize("text", ["", "6", "Cu", "?", "6 brass", "six Cu", "6 Cu and more", "x" * 300])
def test_what_names_no_conductors_is_none(text):
    assert Conductors.read(text) is None


def test_the_key_of_a_circuit_says_where_it_comes_from():
    assert CircuitKey.of_tag(7).tag == 7 and CircuitKey.of_tag(7).kind == "tag"
    second = CircuitKey.of_second(7)
    assert second == "tag:7.2" and second.second and second.tag is None
    assert CircuitKey.of_load("hot:tub").name == "hot:tub"
    assert CircuitKey.of_future("shop", 2) == "future:shop.2"
    assert CircuitKey.of_equipment("generator").kind == "equip"


@given(st.text(max_size=12))
def test_a_key_of_no_kind_says_so_and_breaks_nothing(text):
    key = CircuitKey(text)
    assert key.kind in ("tag", "load", "future", "equip", "")
    assert key.tag is None or key == CircuitKey.of_tag(key.tag) or key.name.startswith("0")
    assert not NO_CIRCUIT and NO_CIRCUIT.kind == ""


def test_keys_in_a_job_are_keys_and_are_written_as_text():
    job = Job.read({"decisions": {"placements": {"tag:3": "5"}, "pins": ["load:sauna"]}})
    assert next(iter(job.decisions.placements)).tag == 3 and job.decisions.pins[0].kind == "load"
    assert job.as_data()["decisions"]["placements"] == {"tag:3": "5"}


def test_a_place_is_a_kind_and_a_name():
    place = Place("fit:new.height_in")
    assert (place.kind, place.name, place.entry_id) == ("fit", "new.height_in", "")
    assert Place.entry("service.main").entry_id == "service.main"
    assert Place.circuit(7) == "circuit:7" and Place.branch(CircuitKey.of_load("range")).name == "load:range"
    assert not NOWHERE


@pytest.mark.parametrize(
    ("text", "read"),
    [
        ("breaker 14-10: 20, strip 1/2", [("breaker", "14", "10", 20.0, 0.5)]),
        ("breakers #8: 25 in-lb; main: 250", [("breaker", "8", "8", 25.0, None), ("main", "", "", 250.0, None)]),
        ("neutral bar 14 to 10: 2 ft-lb", [("neutral bar", "14", "10", 24.0, None)]),
        ("lug: 5 Nm", [("lug", "", "", 44.2537, None)]),  # 5 × 8.8507
        ("", []),
    ],
)
def test_torques_are_read_as_the_label_has_them_and_read_back(text, read):
    made = read_torques(text)
    assert [(t.part, t.smallest, t.largest, t.inch_pounds, t.strip_in) for t in made] == read
    assert read_torques(torques_text(made)) == made


@pytest.mark.parametrize(
    "text",
    ["breaker", "breaker: tight", "screw: 20", "breaker: 0", "breaker: 9999", "main: 1.2.3", "breaker: 20, strip x"],
)
def test_a_torque_that_cannot_be_is_one_sentence(text):
    with pytest.raises(ValueError, match=r"[a-z0-9]") as fault:
        read_torques(text)
    assert len(str(fault.value)) < 160
