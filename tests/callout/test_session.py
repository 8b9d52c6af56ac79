"""Sessions and rows: what is copied out comes back, and malformed rows are told apart from good ones."""

from __future__ import annotations

import pytest
from builders import K, called_out, circuit, house, load
from msgspec.structs import replace

from robust_ledger.branch.old_panel import called_out_text
from robust_ledger.callout.session import lines_of_rows, replay
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.plan import plan

BOOK = load_codebook("2023")


def test_a_whole_panel_is_a_short_line_for_each_circuit():
    """Thirty lines of thirty keys are three keys a second over five minutes: a practiced typist's half speed."""
    pairs = [
        (room, what)
        for room in ("kitchen", "den", "hall", "attic", "porch", "garage")
        for what in ("lights", "outlets", "fan", "heater")
    ]
    lines = [f"{n} 20 12 {room} {what}" for n, (room, what) in enumerate(pairs, 1)]
    job, outcomes = replay(lines, house(1500), BOOK)
    assert len(job.circuits) == 24 and not [o for o in outcomes if o.fault]
    assert sum(map(len, lines)) / len(lines) < 30


def test_same_goes_to_the_next_space_and_without_a_circuit_is_told():
    job, outcomes = replay(["same", "1 20 12 hall", "same", "same"], house(1500), BOOK)
    assert [c.spaces for c in job.circuits] == [("1",), ("2",), ("3",)]
    assert outcomes[0].fault == "there is no circuit yet to repeat."


def test_writing_a_tag_anew_keeps_what_a_line_does_not_say():
    job = called_out(house(1500), "1 20 12 hall")
    noted = replace(job, circuits=(replace(job.circuits[0], note="warm", load_ids=("fan",)),))
    after, _ = replay(["tag 1 3 15 14 hall"], noted, BOOK)
    (one,) = after.circuits
    assert (one.spaces, one.breaker_a, one.note, one.load_ids) == (("3",), 15, "warm", ("fan",))
    other, _ = replay(["tag 1 3 15 14 attic"], noted, BOOK)
    assert other.circuits[0].load_ids == (), "another description, another load"


def test_rows_of_a_spreadsheet_without_a_head_are_lines():
    text = "7\t20\t12\tkitchen counter\n\n9,11\t30/2\t10\tdryer\tbare-n\r\nrubbish\t\t\n"
    assert lines_of_rows(text)[:3] == ["7 20 12 kitchen counter", "", "9,11 30/2 10 dryer bare-n"]


def test_two_hundred_rows_half_of_them_malformed_lose_nothing():
    good = [f"{n % 24 + 1}\t20\t12\troom {n}" for n in range(100)]
    bad = [f"{n}\t{n}.5\t?\tx" for n in range(100)]
    rows = [row for pair in zip(good, bad, strict=True) for row in pair]
    job, outcomes = replay(lines_of_rows("\n".join(rows)), house(1500), BOOK)
    assert len(job.circuits) == 100 and len([o for o in outcomes if o.fault]) == 100
    assert [o.number for o in outcomes if o.fault] == list(range(2, 201, 2)), "each row is named by its place"
    assert len([f for f in plan(job).findings if f.id.startswith("branch.old_twice")]) > 50, (
        "circuits in one space are told, each at its place"
    )


def test_a_line_too_many_is_refused_alone():
    """A job holds 500 circuits; the next line is left with the reason, and what is there stays."""
    full = replace(house(1500), circuits=tuple(circuit(tag) for tag in range(1, 500)))
    job, outcomes = replay(["- 20 12 den", "- 20 12 porch"], full, BOOK)
    assert len(job.circuits) == 500 and [bool(one.fault) for one in outcomes] == [False, True]
    assert outcomes[1].fault == "circuits: has more than 500 entries."


@pytest.mark.parametrize(
    ("lines", "last"),
    [
        (["7 20 12 den", "no, thirty"], "7 30 12 den"),
        (["7 20 12 den", "no, ten gauge"], "7 20 10 den"),
        (["7 20 12 den", "no, fifteen on fourteen"], "7 15 14 den"),
        (["7 20 12 den", "tag 1 is ten gauge"], "7 20 10 den"),
        (["7 20 12 den", "tag 1 is aluminum"], "7 20 12al den"),
        (["7 20 12 den", "tag 1 is hall lights"], "7 20 12 hall lights"),
        (["7 20 12 den", "tag 1 has a bare neutral", "tag 1 is capped"], "7 20 12 den bare-n cap"),
        (["7 20 12 den", "no, space 9"], "9 20 12 den"),
        (["7 20 12 den", "9 15 14 hall", "scratch that", "no, thirty"], "7 30 12 den"),
        (["7 20 12 den", "undo", "9 15 14 hall"], "9 15 14 hall"),
        (["8 spare", "next 20 12 den", "same"], "2 20 12 den"),
    ],
)
def test_a_line_is_corrected_by_speaking(lines, last):
    job, _ = replay(lines, house(1500), BOOK)
    assert callout_text(job.circuits[-1]) == last


def test_headings_change_the_stage_and_without_one_the_best_is_tried():
    lines = [
        "walk:", "meter says 150", "circuits:", "7 20 12 den", "load:", "range 11.2 kw kitchen", "service:", "aluminum, 200", "bench:", "pin tag 1",
    ]  # fmt: skip
    headed, first = replay(lines, house(1500), BOOK, "")
    free, second = replay([line for line in lines if not line.endswith(":")], house(1500), BOOK, "")
    assert headed == free and not [one for one in (*first, *second) if one.fault]
    assert [one.stage for one in second] == ["walkthrough", "pulloff", "load", "service", "bench"]
    assert headed.existing.meter_label_a == 150 and headed.decisions.main_a == 200 and headed.decisions.pins


def test_a_circuit_and_its_load_find_each_other_where_there_is_one_of_each():
    """Two water heaters are two candidates: nothing is joined unasked."""
    one = house(1500, load(K.WATER_HEATER, "4.5kW", "water heater"))
    job, _ = replay(["9,11 30/2 10 WH"], one, BOOK)
    assert job.circuits[0].load_ids == ("water-heater",)
    two = house(1500, *one.loads, replace(one.loads[0], id="second", name="attic tank heater"))
    job, _ = replay(["9,11 30/2 10 WH"], two, BOOK)
    assert job.circuits[0].load_ids == ()


def test_blank_spaces_and_the_main_are_facts_of_the_old_panel():
    job, outcomes = replay(["17 spare", "18 blank", "main 100", "next 20 12 den"], house(1500), BOOK)
    assert job.old_panel.blank_spaces == ("17", "18") and job.old_panel.main_a == 100
    assert called_out_text(job).startswith("3 of 24") and outcomes[0].made == "space 17: nothing wired there"
