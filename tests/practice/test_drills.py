"""Drills: each right answer by hand, from the code's tables and rules."""

from __future__ import annotations

import re
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.callout.session import replay
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import blank_job
from robust_ledger.practice.drills import bond, breaker, dictation, method, voltage
from robust_ledger.practice.drills.bond import APART, BOND
from robust_ledger.practice.drills.run import TITLES, is_right, question

RUNS = [question(drill, 4, number) for drill in TITLES for number in range(120)]


@given(st.sampled_from(tuple(TITLES)), st.integers(0, 2**25), st.integers(0, 200))
def test_a_question_has_its_answer_once_among_its_choices_and_comes_again_by_its_number(drill, seed, number):
    asked = question(drill, seed, number)
    assert asked == question(drill, seed, number) and is_right(drill, asked, asked.answer)
    if drill != "dictation":
        assert (
            2 <= len(asked.choices) <= 4
            and len(set(asked.choices)) == len(asked.choices)
            and asked.choices.count(asked.answer) == 1
        )
        assert not any(is_right(drill, asked, one) for one in asked.choices if one != asked.answer)


# Largest breakers, from 240.4(D), Table 310.16 and the next size up of 240.4(B): NM by 60 °C, conduit with 75 °C terminals by 75 °C.
LARGEST_A = {
    ("14", "copper"): (15, 15), ("12", "copper"): (20, 20), ("12", "aluminum"): (15, 15), ("10", "copper"): (30, 30), ("10", "aluminum"): (25, 25),
    ("8", "copper"): (40, 50), ("8", "aluminum"): (35, 40), ("6", "copper"): (60, 70), ("6", "aluminum"): (40, 50), ("4", "copper"): (70, 90),
}  # fmt: skip


def test_the_largest_breaker_is_that_of_the_tables():
    seen = set()
    for number in range(400):
        asked = breaker.question(Random(number))
        size, metal = re.match(r"(\d+) AWG (\w+)", asked.ask).groups()
        is_nm = "NM cable" in asked.ask
        assert asked.answer == f"{LARGEST_A[size, metal][0 if is_nm else 1]} A" and "240.4" in asked.sections, asked
        seen.add((size, metal, is_nm))
    assert len(seen) == 2 * len(LARGEST_A)


# Once, at the first disconnect that is service equipment [250.24]; at an outbuilding only with an old three-wire feeder and no other metal [250.32].
BONDED = {
    "straight from the meter": {"panel": BOND},
    "service disconnect outdoors": {"disconnect": BOND, "panel": APART},
    "no service equipment": {"disconnect": BOND, "panel": BOND},
    "its feeder new": {"garage": APART},
    "no other metal between": {"garage": BOND},
    "metal water pipe runs to it": {"garage": APART},
    "sub-panel in the same house": {"kitchen": APART, "panel": BOND},
    "both from the meter": {"second": BOND},
}


def test_the_bond_is_where_it_belongs_and_the_place_that_is_asked_for_is_marked():
    seen = set()
    for number in range(300):
        asked = bond.question(Random(number))
        words = next(words for words in BONDED if words in asked.ask)
        marked = [box for box in asked.scene.shapes if getattr(box, "fill", "") == "wash"]
        assert len(marked) == 1
        name = next(
            w.text
            for w in asked.scene.shapes
            if getattr(w, "bold", False) and marked[0].x < w.x < marked[0].x + marked[0].width
        )
        place = name.removesuffix(" panel") if name != "panel" else name
        assert BONDED[words][place] == asked.answer and "250." in asked.sections, asked.ask
        seen.add((words, place))
    assert len(seen) == sum(len(places) for places in BONDED.values()) == len(bond.cases())


METHODS = {
    "nothing was recorded": "Existing dwelling", "31 days were recorded": "Measured demand", "service becomes 200 A, and": "Optional calculation",
    "Two dwelling units": "Standard calculation", "A cabin": "Standard calculation",
}  # fmt: skip


def test_the_method_is_the_one_that_is_open_and_asks_the_question_at_hand():
    """220.87 with thirty days, 220.83 where the service stays, 220.82 for one dwelling from 100 A on, Part III for the rest."""
    for number in range(80):
        asked = method.question(Random(number))
        words = next((words for words in METHODS if words in asked.ask), "")
        assert asked.answer == (METHODS[words] if words else "Existing dwelling"), (
            "a recording that is too short does not count"
        )


# The diagnosis by what is read: A to N, B to N, A to B, N to ground.
def test_a_diagnosis_follows_from_its_readings():
    for number in range(200):
        asked = voltage.question(Random(number))
        a, b, ab, ground = (
            float(w.text.split()[0]) for w in asked.scene.shapes if getattr(w, "text", "").endswith(" V")
        )
        words = {
            "a leg is lost": min(a, b) < 5,
            "both hots are on one leg": ab < 5 < min(a, b),
            "a 208Y/120 V supply": 200 < ab < 216,
            "neutral and a leg are reversed": max(a, b) > 230,
            "the neutral is open or loose": 228 < ab < 252 and abs(a - b) > 4 and max(a, b) < 200,
            "the voltage is too high": min(a, b) > 126,
            "the voltage is too low": max(a, b) < 114,
            "the bond is missing": ground > 2 and abs(a - b) < 4 and max(a, b) < 126,
            "something feeds the panel from behind": "its main open" in asked.ask,
            "all in order": 228 < ab < 252 and abs(a - b) < 2 and ground < 2,
        }
        assert words.get(asked.answer, False), (asked.answer, a, b, ab, ground)


@pytest.mark.parametrize(
    ("line", "right"),
    [
        ('16 15 14 "basement lights" dark-n', True), ("16 15 14 dark-n basement lights", True),
        ("space 16 15 amp 14 basement lights dark neutral", True),
        ("16 15 14 basement lights", False), ("16 20 14 basement lights dark-n", False), ("15 15 14 basement lights dark-n", False),
        ("16 15 14 hall lights dark-n", False), ("16 15 14 basement lights dark", False), ("", False), ("what?", False),
    ],
)  # fmt: skip
def test_a_line_is_right_however_it_is_written_when_it_is_read_as_what_was_said(line, right):
    asked = dictation.Question("", (), '16 15 14 "basement lights" dark-n', "", "")
    assert dictation.is_right(line, asked) is right


def test_the_answer_is_read_as_the_circuit_that_was_said():
    """Two hundred circuits, every mark among them."""
    marks = set()
    for number in range(200):
        one = dictation._circuit(Random(number))
        job, _ = replay([dictation.line_of(one)], with_part(blank_job(), "old_panel", spaces=24), load_codebook("2023"))
        (read,) = job.circuits
        assert (read.spaces, read.breaker_a, read.poles, read.gauge, read.marks) == (
            one.spaces,
            one.breaker_a,
            one.poles,
            one.gauge,
            one.marks,
        )
        marks |= set(one.marks)
    assert marks == set(dictation.SAID_MARKS)


def test_what_is_said_has_every_part_of_the_circuit():
    asked = next(
        one for one in (dictation.question(Random(n)) for n in range(99)) if "white is hot" in one.read.lower()
    )
    assert re.fullmatch(
        r"Spaces (\d+) and (\d+), two-pole\. 30 amp\. Number 10 copper\. Water heater\. White is hot\.", asked.read
    )
    assert dictation.heard("5 20 12 hall").startswith("5 20 12") and "?" not in dictation.heard("")
