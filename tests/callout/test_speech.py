"""Circuits as people call them out and type them: four hundred lines, each beside the terse line that says the same."""

from __future__ import annotations

from pathlib import Path

import pytest
from builders import house
from msgspec.structs import replace

from robust_ledger.callout.circuit import read_callout
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit

BOOK = load_codebook("2023")
# Tags that lines share a neutral with.
JOB: Job = replace(
    with_part(house(1500), "old_panel", spaces=42),
    circuits=tuple(Circuit(tag=tag, feeds=f"load {tag}") for tag in (4, 29, 30)),
)
LINES = [
    tuple(line.split(" => "))
    for path in sorted((Path(__file__).parent / "speech").glob("circuits_*.txt"))
    for line in path.read_text().splitlines()
    if " => " in line
]
MISSING = {"feeds": "what it feeds"}
# Read otherwise, and why that stands.
OTHERWISE = {
    "there's two wires on nineteen, twenty amp, twelve gauge, laundry": "19 is taken for the breaker, and refused",
    "six fifteen ampere fourteen two bedrooms up stairs": "a number before what is counted belongs to it",
    "that first breaker there is a twenty on number twelve and it runs the kitchen counter": "which space, is asked",
    "thirteen says furnace on the door, it's a fifteen with fourteen on it": "what the door says stays in what it feeds",
    "sixteen is dead, somebody capped it, used to be a pool pump": "what it used to be stays in what it feeds",
    "25: 15a/14ga/bsmt lts": "slashes are not taken apart; it asks for breaker and gauge",
    "31/33 dp40 8/3 cooktop": "dp40 is not known; it asks for the breaker",
    "13 30 10 old sauna wire capped": "what it feeds keeps its last word",
    "38 two fifteens on a tandem": "two circuits in one line: it asks for the breaker",
}


def as_told(circuit: Circuit) -> str:
    """A circuit without its tag, its description without commas and capitals."""
    return callout_text(replace(circuit, tag=0, feeds=" ".join(circuit.feeds.replace(",", "").lower().split())))


@pytest.mark.parametrize("row", [row for row in LINES if row[0] not in OTHERWISE], ids=lambda row: row[0])
def test_a_line_as_people_say_it_is_the_terse_one(row):
    spoken, terse = row
    reading = read_callout(spoken, JOB, BOOK)
    kind, _, rest = terse.partition(" ")
    if kind == "blank":
        assert reading.change.blank == (rest,)
    elif kind == "main":
        assert reading.change.main_a == float(rest)
    elif terse == "!":
        assert reading.circuit is None or reading.asks
    elif " !" in terse:
        wanted = {MISSING.get(word, word) for word in terse.split(" !")[1:]}
        assert reading.circuit is None and set(reading.wanted) == wanted
    else:
        meant = read_callout(terse, JOB, BOOK).circuit
        assert reading.fault is None and as_told(reading.circuit) == as_told(meant)


def test_what_is_read_otherwise_loses_no_word_either():
    kept = read_callout("13 30 10 old sauna wire capped", JOB, BOOK).circuit
    assert kept.feeds == "old sauna wire" and kept.off
    assert read_callout("38 two fifteens on a tandem", JOB, BOOK).circuit is None


@pytest.mark.parametrize(
    ("line", "asked"),
    [
        ("7 20 12 den mw x", "mw"),
        ("7 20 12 den clamp x", "clamp"),
        ("7 20 12 aluminum siding outlet al", "al"),
        ("7 20 12 den capped", None),
        ('7 20 12 "den, aluminum shop"', None),
        ("7 20 12 den", None),
    ],
)
def test_the_word_of_a_mark_never_ends_up_silently_in_a_description(line, asked):
    asks = read_callout(line, JOB, BOOK).asks
    assert [word for word in asks if asked and f'"{asked}"' in word] or (asked is None and asks == ())


@pytest.mark.parametrize(
    ("line", "first", "other"),
    [
        ("9 11 30 10 2 dryer", "10 AWG Cu, 2 wires", "2 dryer"),
        ("12 15 14-2 AC den", "armored-strip", "AC den"),
    ],
)
def test_two_ways_to_read_a_line_are_both_offered(line, first, other):
    reading = read_callout(line, JOB, BOOK)
    rival = reading.rival
    assert rival is not None and rival.said != reading.said
    assert {first, other} <= {*reading.understood, *rival.understood}


@pytest.mark.parametrize("line", ["7 20 12 kitchen counter", "9,11 30/2 10-3 dryer", "7 20 12 two bedrooms"])
def test_a_plain_line_has_no_rival(line):
    assert read_callout(line, JOB, BOOK).rival is None


def test_the_spaces_of_a_quad_are_on_both_legs():
    inner = read_callout("9-11 quad inner 30 10-3 dryer", JOB, BOOK).circuit
    outer = read_callout("9-11 quad outer 40 8-3 range", JOB, BOOK).circuit
    assert (inner.spaces, outer.spaces) == (("9b", "11a"), ("9a", "11b"))
    assert inner.device == outer.device == "quad" and inner.poles == 2
