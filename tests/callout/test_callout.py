"""The call-out line: what it understands, what it says about mistakes, and that it reads back what it writes."""

from __future__ import annotations

import pytest
from builders import K, called_out, circuit, house, load
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.callout.circuit import read_callout
from robust_ledger.callout.text import callout_text
from robust_ledger.callout.words import CABLE_SHORT, SIDES
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.parts.circuits import Circuit, Mark

BOOK = load_codebook("2023")
JOB = called_out(house(1500, load(K.DRYER, "5kW", "dryer")), "1 20 12 kitchen counter", "3 20 12 dining receptacles")


@pytest.mark.parametrize(
    ("line", "fields"),
    [
        ("7 20 12 kitchen counter", {"tag": 3, "spaces": ("7",), "breaker_a": 20, "poles": 1, "gauge": "12", "metal": "cu",
                                     "feeds": "kitchen counter", "room": "kitchen"}),
        ("9,11 30/2 10 dryer bare-n", {"spaces": ("9", "11"), "poles": 2, "gauge": "10", "feeds": "dryer", "load_ids": ("dryer",),
                                       "marks": (Mark.BARE_NEUTRAL,)}),
        ("9+11 30 10 dryer", {"spaces": ("9", "11"), "poles": 2}),
        ("9 30/2 10 dryer", {"spaces": ("9", "11"), "poles": 2}),
        ("19a 15a 14 Hall lights", {"spaces": ("19a",), "breaker_a": 15, "feeds": "Hall lights", "room": "hall"}),
        ("7 20 10al bath heater", {"gauge": "10", "metal": "al", "room": "bath"}),
        ("7 100/2 2/0al garage panel", {"gauge": "2/0", "metal": "al", "poles": 2}),
        ("9 ?/2 10 heater", {"spaces": ("9", "11"), "poles": 2, "breaker_a": None}),
        ("9,11 ? 10 heater", {"spaces": ("9", "11"), "poles": 2, "breaker_a": None}),
        ("7 ? ? unknown", {"breaker_a": None, "gauge": None, "feeds": "", "marks": (Mark.UNKNOWN,)}),
        ("5 20 12 living room mw 1", {"shares_neutral_with": 1, "feeds": "living room"}),
        ("- - 12 old cable cap", {"spaces": (), "breaker_a": None, "gauge": "12", "marks": (Mark.CAPPED,), "feeds": "old cable"}),
        ("- cap", {"spaces": (), "marks": (Mark.CAPPED,), "feeds": "", "gauge": None}),
        ("  7   20  #12   white-hot  fan  dark-n ", {"gauge": "12", "feeds": "fan", "marks": (Mark.WHITE_HOT, Mark.DARK_NEUTRAL)}),
        # In any order, each with its unit.
        ("kitchen counter 20a #12 s7", {"spaces": ("7",), "breaker_a": 20, "gauge": "12", "feeds": "kitchen counter"}),
        ("#12 20a t3a kitchen", {"spaces": ("3a",), "gauge": "12", "breaker_a": 20}),
        ("dryer 30/2 s9 10al", {"spaces": ("9", "11"), "poles": 2, "gauge": "10", "metal": "al", "load_ids": ("dryer",)}),
        ("- cap old cable #12", {"spaces": (), "gauge": "12", "feeds": "old cable", "marks": (Mark.CAPPED,)}),
        ("7 20 12 bedroom 2 receptacles", {"feeds": "bedroom 2 receptacles", "room": "bedroom"}),
        # As it is spoken.
        ("seven, twenty amp, twelve gauge, kitchen counter", {"spaces": ("7",), "breaker_a": 20, "gauge": "12", "feeds": "kitchen counter"}),
        ("space nine, two pole, thirty amps, ten gauge, dryer", {"spaces": ("9", "11"), "poles": 2, "breaker_a": 30, "gauge": "10"}),
        ("Twenty-one fifteen fourteen hall", {"spaces": ("21",), "breaker_a": 15, "gauge": "14"}),
        # What else was seen.
        ("7 20 12-2 nm-b den", {"gauge": "12", "conductors": 2, "breaker_a": 20, "cable": "nm", "feeds": "den"}),
        ("7 20 12/2 den", {"gauge": "12", "conductors": 2, "poles": 1, "feeds": "den"}),
        ("2,4 30/2 10-3 range hood", {"gauge": "10", "conductors": 3, "breaker_a": 30, "poles": 2}),
        ("2,4 30/2 8/3al range hood", {"gauge": "8", "conductors": 3, "metal": "al", "poles": 2}),
        ("12-2 den 20a s7", {"gauge": "12", "conductors": 2, "breaker_a": 20, "spaces": ("7",)}),
        ("7 12/2 20a den", {"gauge": "12", "conductors": 2, "breaker_a": 20, "poles": 1}),
        ("7 20 12 emt porch", {"gauge": "12", "conductors": None, "cable": "conduit"}),
        ("7 15 14 k&t porch", {"cable": "knob_tube"}),
        ("7 20 12 porch 12-2", {"gauge": "12", "conductors": None, "feeds": "porch 12-2"}),
        ("7 20 12 cloth east bedroom dbl", {"cable": "cloth", "marks": (Mark.DOUBLED,), "feeds": "east bedroom"}),
        ("7 20 12 armored den top 22in clamp 4.1", {"cable": "bx", "enters": "top", "free_in": 22, "clamp_a": 4.1, "feeds": "den"}),
        ("7 20 12 den left@3in 15in slack 6in", {"enters": "left", "enters_at_in": 3, "free_in": 15, "slack_in": 6, "feeds": "den"}),
        ("7 20 12 den slack", {"feeds": "den slack", "slack_in": None}),
        ("7 20 12 top floor lights", {"feeds": "top floor lights", "enters": "", "free_in": None}),
        ("9,11 20/2 12 baseboard later-120 left 1'6", {"marks": (Mark.LATER_120,), "enters": "left", "feeds": "baseboard"}),
        ('7 20 12 "conduit to shed" conduit', {"feeds": "conduit to shed", "cable": "conduit"}),
        ("7 20 12 porch free 9in", {"free_in": 9, "enters": ""}),
    ],
)  # fmt: skip
def test_what_a_line_means(line, fields):
    reading = read_callout(line, JOB, BOOK)
    assert reading.fault is None
    assert {name: getattr(reading.circuit, name) for name in fields} == fields


@pytest.mark.parametrize(
    ("line", "word", "sentence"),
    [
        ("x 20 12 kitchen", "x", '"x" is no space'),
        ("30 20 12 kitchen", "30", "has 24 spaces; there is no space 30"),
        ("7,7 20 12 kitchen", "7,7", "two different ones"),
        ("7 22 12 kitchen", "22", "22 A is not a standard breaker rating"),
        ("7 20/3 12 pump", "20/3", "one or two poles, not 3"),
        ("23 20/2 12 pump", "20/2", "would need space 25"),
        ("7,9 20/1 12 pump", "20/1", "a breaker with one pole"),
        ("7 20 13 kitchen", "13", "There is no 13 Cu conductor"),
        ("7 15 14al kitchen", "14al", "There is no 14 Al conductor"),
        ("7 20 12 living clamp", "clamp", "wants the amperes read"),
        ("7 20 12 hall top 900in", "900in", "more than 240 in"),
        ("kitchen 22a #12 s7", "22a", "22 A is not a standard"),
        ("kitchen 20a #13 s7", "#13", "There is no 13 Cu"),
        ("kitchen 20a #12 s99", "s99", "there is no space 99"),
        ("seven, three pole, twenty amp pump", "three", "one or two poles, not 3"),
        ("7 20 12 living mw", "mw", "wants the tag"),
        ("7 20 12 living mw 44", "44", "no tag 44 yet"),
    ],
)
def test_a_mistake_is_one_sentence_at_its_word(line, word, sentence):
    reading = read_callout(line, JOB, BOOK)
    assert reading.circuit is None and sentence in reading.fault.text
    assert line[reading.fault.start : reading.fault.end] == word
    assert reading.fault.text.count(". ") == 0, "one sentence"


@pytest.mark.parametrize(
    ("line", "understood"),
    [
        ("", ()),
        ("7", ("space 7", "breaker?", "gauge?", "what does it feed? (or: unknown)")),
        ("7 20", ("space 7", "20 A 1-pole", "gauge?", "what does it feed? (or: unknown)")),
        ("9 30/2 10", ("spaces 9 + 11", "30 A 2-pole", "10 AWG Cu", "what does it feed? (or: unknown)")),
        ("9 30/2 10 dryer", ("spaces 9 + 11", "30 A 2-pole", "10 AWG Cu", "dryer → dryer")),
    ],
)
def test_the_live_reading_while_typing(line, understood):
    assert read_callout(line, JOB, BOOK).understood == understood


@pytest.mark.parametrize(
    ("line", "wanted"),
    [
        ("7 kitchen", ("breaker", "gauge")),
        ("7 20 kitchen", ("gauge",)),
        ("kitchen", ("space", "breaker", "gauge")),
        ("kitchen #12 20a", ("space",)),
        ("7 20 12", ("what it feeds",)),
        ("cap", ()),
        ("- old cable", ()),
    ],
)
def test_what_is_still_wanted(line, wanted):
    reading = read_callout(line, JOB, BOOK)
    assert reading.wanted == wanted and (reading.circuit is None) is bool(wanted)


# Plain words, and those that mean something to the line: written, they have to come back as a description.
WORDS = st.lists(
    st.sampled_from(
        [
            "kitchen",
            "east",
            "bedroom",
            "receptacles",
            "fan",
            "übergang",
            "2",
            "20a",
            "#12",
            "s7",
            "conduit",
            "top",
            "cap",
            "mw",
            "clamp",
            "10al",
            "30/2",
            "two",
            "pole",
            "amp",
            "x",
            "on",
            "-",
            "?",
            "4/0",
            "a,",
            "22in",
            "unknown",
            "free",
            "slack",
            "left@2in",
            "12-2",
            "14/3",
        ]
    ),
    min_size=1,
    max_size=5,
)
CIRCUITS = st.builds(
    lambda space, two, rating, gauge, metal, words, marks, mate, cable, free, side, at, slack, clamp, wires: Circuit(
        tag=3,
        spaces=(str(space), str(space + 2)) if two else (str(space),),
        breaker_a=rating,
        poles=2 if two else 1,
        gauge=gauge,
        metal=metal if gauge else "cu",
        conductors=wires if gauge else None,
        feeds=" ".join(words),
        marks=tuple(sorted(marks)),
        shares_neutral_with=mate,
        cable=cable,
        free_in=free,
        enters=side,
        enters_at_in=at if side else None,
        slack_in=slack,
        clamp_a=clamp,
    ),
    st.integers(1, 22),
    st.booleans(),
    st.sampled_from([15.0, 20.0, 30.0, 50.0, None]),
    st.sampled_from(["12", "10", "6", "2/0", None]),
    st.sampled_from(["cu", "al"]),
    WORDS,
    st.sets(st.sampled_from(list(Mark))),
    st.sampled_from([None, 1, 2]),
    st.sampled_from(["", *CABLE_SHORT]),
    st.sampled_from([None, 0.0, 8.5, 22.0]),
    st.sampled_from(["", *SIDES]),
    st.sampled_from([None, 0.0, 2.5]),
    st.sampled_from([None, 6.0]),
    st.sampled_from([None, 4.1, 0.0, 12.0]),
    st.sampled_from([None, 2, 3, 4]),
)


@given(CIRCUITS)
def test_what_is_written_reads_back(one):
    """Room and load are recognized anew from the words; everything else comes back as it was."""
    read = read_callout(callout_text(one), JOB, BOOK).circuit
    ignored = {"room", "load_ids", "marks"}
    assert replace(read, **dict.fromkeys(ignored, ())) == replace(one, **dict.fromkeys(ignored, ()))
    assert set(read.marks) == set(one.marks)


@given(st.text(max_size=40))
def test_no_text_whatever_breaks_the_line(text):
    reading = read_callout(text, JOB, BOOK)
    assert reading.circuit is None or reading.fault is None


def test_a_load_is_linked_once_and_two_that_are_parted_are_both():
    job = called_out(house(1500, load(K.DRYER, "5kW", "dryer"), load(K.APPLIANCE, "1kW", "fan")), "9,11 30/2 10 dryer")
    assert read_callout("1 20 12 dryer", job, BOOK).circuit.load_ids == ()
    both = read_callout("1 20 12 dryer and fan", house(1500, *job.loads), BOOK).circuit
    assert both.load_ids == ("dryer", "fan")
    assert read_callout("1 20 12 dryer fan", house(1500, *job.loads), BOOK).circuit.load_ids == (), (
        "one thing, or the other"
    )


def test_the_rooms_of_the_job_come_first():
    job = house(1500, circuits=(circuit(1, room="sewing room"),))
    assert read_callout("3 20 12 sewing room outlets", job, BOOK).circuit.room == "sewing room"
