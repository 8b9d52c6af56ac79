"""Circuits on the clipboard: what is copied comes back the same, spaces, shared neutrals and all."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from builders import house
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.exchange.rows import HEADS, as_rows, pasted, rows_in
from robust_ledger.job.files import read_job
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark

sys.path.insert(0, str(Path(__file__).parents[1] / "callout"))
from test_callout import CIRCUITS

EXAMPLES = sorted((Path(__file__).parents[2] / "examples").glob("*.ledger.json"))
WORDS = (
    st.text(st.characters(codec="utf-8", exclude_categories=["C"]), max_size=30).map(str.strip).filter(str.isprintable)
)


def bare(circuit: Circuit) -> Circuit:
    """What goes on a clipboard of a circuit: all but its loads and photos."""
    return replace(circuit, load_ids=(), photos=())


def through(circuits, job: Job):
    rows = rows_in(as_rows(circuits))
    assert rows is not None and len(rows) == len(circuits)
    return pasted(rows, job)


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda path: path.stem)
def test_the_circuits_of_a_job_come_back_the_same(path):
    job = read_job(path)
    made = through(job.circuits, replace(job, circuits=()))
    assert made.faults == () and made.job.circuits == tuple(map(bare, job.circuits))


@given(st.lists(CIRCUITS, max_size=6, unique_by=lambda one: one.tag), WORDS, WORDS)
def test_any_circuit_comes_back_the_same(circuits, feeds, note):
    """A 240 V circuit of which only one space was seen gets no second one; a description may be a formula; a note may have lines."""
    tags = {one.tag for one in circuits}
    circuits = [
        replace(
            one,
            feeds=feeds,
            note=f"{note}\n=1" if note else "",
            photos=(),
            shares_neutral_with=one.shares_neutral_with if one.shares_neutral_with in tags else None,
        )
        for one in circuits
    ]
    made = through(circuits, house(1500))
    assert made.faults == () and made.job.circuits == tuple(map(bare, circuits))


@pytest.mark.parametrize("order", [(7, 9), (9, 7)])
def test_rows_of_a_shared_neutral_come_in_any_order_and_under_new_tags(order):
    pair = {
        7: Circuit(tag=7, spaces=("7",), feeds="den", shares_neutral_with=9),
        9: Circuit(tag=9, spaces=("9",), feeds="hall", shares_neutral_with=7),
    }
    rows = [pair[tag] for tag in order]
    free = through(rows, house(1500))
    assert {one.tag: one.shares_neutral_with for one in free.job.circuits} == {7: 9, 9: 7}
    taken = through(rows, replace(house(1500), circuits=(Circuit(tag=7, feeds="range"), Circuit(tag=9, feeds="oven"))))
    new = {one.feeds: one for one in taken.job.circuits}
    assert new["range"].shares_neutral_with is None and taken.faults == ()
    assert new["den"].shares_neutral_with == new["hall"].tag and new["hall"].shares_neutral_with == new["den"].tag


def test_a_shared_neutral_whose_other_half_did_not_come_is_told():
    made = through([Circuit(tag=7, feeds="den", shares_neutral_with=9)], house(1500))
    assert [one.tag for one in made.job.circuits] == [7] and "shares a neutral with tag 9" in made.faults[0].sentence


def test_two_poles_of_which_one_space_was_seen_get_no_second():
    made = through([Circuit(tag=1, spaces=("5",), poles=2, breaker_a=30, gauge="10", feeds="dryer")], house(1500))
    assert made.job.circuits[0].spaces == ("5",) and made.job.circuits[0].poles == 2


def test_a_cell_that_cannot_be_taken_is_told_by_row_and_column_and_the_others_come():
    text = as_rows([Circuit(tag=1, feeds="den"), Circuit(tag=2, feeds="hall")]).replace(
        "\n2\t-\t?\t1", "\n2\t-\tmany\t1"
    )
    made = pasted(rows_in(text), house(1500))
    assert [one.feeds for one in made.job.circuits] == ["den"]
    assert made.faults[0].sentence == 'row 3: breaker: "many" is not a number.'


def test_other_text_is_no_rows_of_ours():
    assert (
        rows_in("7\t20\t12\tden\n") is None
        and rows_in("") is None
        and rows_in("tag\tspace\tbreaker\n1\t1\t20\n") is None
    )
    assert rows_in("\t".join(HEADS)) == []


@pytest.mark.parametrize(
    ("feeds", "cell"),
    [("=1+1", "'=1+1"), ("-lights", "'-lights"), ("@x", "'@x"), ("den", "den"), ("\n=1+1", "'\n=1+1")],
)
def test_cells_are_text_to_a_spreadsheet(feeds, cell):
    assert rows_in(as_rows([Circuit(tag=1, feeds=feeds)]))[0][HEADS.index("feeds")] == cell


def test_five_hundred_rows_and_not_one_more():
    many = [Circuit(tag=n, feeds=f"room {n}", marks=(Mark.TIED,)) for n in range(1, 503)]
    made = through(many, house(1500))
    assert (
        len(made.job.circuits) == 500
        and len(made.faults) == 2
        and "500 circuits at the most" in made.faults[0].sentence
    )
