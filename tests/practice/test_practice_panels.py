"""Practice panels: a code makes one, the truth and the plan agree, every fault is to be seen and sound parts show none."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from worked import AMPACITY

from robust_ledger.drawing.svg import svg_text
from robust_ledger.job.parts.practice import Practice
from robust_ledger.job.spaces import parse_position
from robust_ledger.plan import plan
from robust_ledger.practice.codes import LETTERS, LEVELS, SEEDS, Code, PracticeError, read_code
from robust_ledger.practice.exercise import exercise
from robust_ledger.practice.faults import fault_kinds, judged_name
from robust_ledger.practice.picture import panel_scene
from robust_ledger.practice.sights import sights
from robust_ledger.practice.surroundings import house_scene
from robust_ledger.practice.tester import readings

CODES = st.builds(Code, st.sampled_from(LEVELS), st.integers(0, SEEDS - 1))


# --- codes --------------------------------------------------------------------------------------------------------------
@given(CODES)
def test_a_code_leads_back_to_its_panel_however_it_is_typed(code):
    text = str(code)
    assert re.fullmatch(r"1[1-5]-[0-9A-Z]{5}-[0-9A-Z]", text)
    for typed in (text, text.lower(), text.replace("-", ""), f" {text} ", text.replace("0", "O").replace("1", "l")):
        assert read_code(typed) == code


@given(CODES, st.integers(0, 4), st.sampled_from(LETTERS))
def test_a_letter_that_was_read_wrong_is_noticed(code, place, letter):
    text = str(code)
    wrong = text[: 3 + place] + letter + text[4 + place :]
    if wrong != text and abs(LETTERS.index(letter) - LETTERS.index(text[3 + place])) != 31:
        with pytest.raises(PracticeError, match="read wrong"):
            read_code(wrong)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        (
            "23-00000-0",
            "23-00000-0 was made by another version of practice (2); this one makes those that begin with 1.",
        ),
        ("19-00000-0", "19-00000-0 is of level 9; there are 1, 2, 3, 4, 5."),
        ("hello", '"hello" is no code of a practice panel; it looks like 11-02903-E.'),
        ("", '"" is no code'),
        ("1" * 500, "is no code"),
    ],
)
def test_what_is_no_code_of_this_version_is_refused_in_a_sentence(text, sentence):
    with pytest.raises(PracticeError) as refused:
        read_code(text)
    assert sentence in str(refused.value)


# --- fairness -----------------------------------------------------------------------------------------------------------
def judged(job):
    return {one.id for one in plan(job).findings if judged_name(one.id)}


def expected(made):
    """The findings that the planted faults make, with those that come along."""
    ids = {one.finding_id for one in made.planted}
    for one in made.planted:
        kind = fault_kinds()[one.kind]
        if kind.also:
            ids.add(f"{kind.also}:tag:{one.tag}")
        if one.kind == "odd_tandem":  # told of both its halves
            other = next(c for c in made.truth.circuits if c.spaces == (one.spaces[1],))
            ids.add(f"{kind.finding}:{one.spaces[1]}:tag:{other.tag}")
    return ids


@pytest.mark.parametrize("level", LEVELS)
def test_what_was_planted_is_what_the_plan_finds_of_the_truth_and_nothing_else(level):
    """Four hundred panels of each level, two thousand in all. No fault is above its level, each kind up to it comes up, and every panel of
    levels 1 to 4 hides one of its own."""
    kinds = set()
    for seed in range(400):
        made = exercise(Code(level, seed * 7919 % SEEDS))
        assert judged(made.truth) == expected(made), made.code
        levels = {fault_kinds()[one.kind].level for one in made.planted}
        assert made.planted and max(levels) <= level and (level == 5 or level in levels), made.code
        kinds |= {one.kind for one in made.planted}
    assert kinds == {key for key, kind in fault_kinds().items() if kind.level <= level}


@given(CODES)
def test_the_same_code_makes_the_same_panel_and_the_start_gives_nothing_away(code):
    made = exercise(code)
    assert exercise(code) == made
    assert made.start.circuits == () and made.start.practice == Practice(code=str(code))
    opened = plan(replace(made.start, practice=Practice())).findings
    told = {one.id for one in opened if judged_name(one.id) and one.severity.name != "ASK"}
    assert told == set(), "what is not looked at is not found wrong"


def at_its_place(kind, mine):
    """Whether a fault is to be seen among the sights of its spaces, by what its catalogue says."""
    wires = [(wire.color, wire.size, wire.end) for sight in mine for wire in sight.wires]
    handles = [float(sight.handle.partition(" ")[0]) for sight in mine]
    allowed = {"14": 15, "12": 20, "10": 30, "8": 40, "4": 100}
    return {
        "wire_on_breaker": any(
            amps > allowed[wire.size.split()[0]]
            for amps, sight in zip(handles, mine, strict=True)
            for wire in sight.wires
        ),
        "white_hot": any(color == "white" and end == "breaker" for color, _s, end in wires),
        "dark_neutral": any(color == "black" and end == "neutral bar" for color, _s, end in wires),
        "capped": any(end == "cap" for _c, _s, end in wires),
        "doubled": sum(color == "black" and end == "breaker" for color, _s, end in wires) == 2,
        "neutral_one_leg": len(mine) == 2
        and len({wire.cable for sight in mine for wire in sight.wires}) == 1
        and sum(end == "neutral bar" for _c, _s, end in wires) == 1,
        "bare_neutral": any(color == "bare" and end == "neutral bar" for color, _s, end in wires),
        "bare_behind": any(sight.jacket == "SE" for sight in mine)
        and any(color == "bare" and end == "neutral bar" for color, _s, end in wires),
        "aluminum": any("aluminum" in size for _c, size, _e in wires),
        "no_ground": not any(end in ("ground bar", "lower bus") for _c, _s, end in wires),
        "odd_tandem": len(mine) == 2 and {sight.spaces[0][-1] for sight in mine} == {"a", "b"},
    }[kind]


# What the drawing of the house says where it is sound, and where not. The figures are the code's: 250.66, 250.53, 110.26.
HOUSE = {
    "gec_spliced": lambda text, _job: "split bolt" in text,
    "no_jumper": lambda text, _job: "water meter, nothing around it" in text,
    "water_unbonded": lambda text, _job: "hot and cold pipe, no clamp on either" in text,
    "gas_unbonded": lambda text, _job: "gas pipe, no clamp on it" in text,
    "no_ibt": lambda text, _job: "phone ground on the siding" in text,
    "rods_close": lambda text, _job: float(re.search(r"([\d.]+) ft apart", text)[1]) < 6,
    "narrow": lambda text, _job: float(re.search(r"space ([\d.]+) in wide", text)[1]) < 30,
    "shallow": lambda text, _job: float(re.search(r"wide, ([\d.]+) in deep", text)[1]) < 36,
    "gec_small": lambda text, _job: "GEC of 10 Cu" in text,
    "meter_small": lambda text, job: float(re.search(r"its label ([\d.]+) A", text)[1]) < job.decisions.main_a,
    # 83% of the main by the 75 °C column [310.12, T310.16]
    "riser_small": lambda text, job: AMPACITY[re.search(r"above it (\S+ \w+)", text)[1]] < 0.83 * job.decisions.main_a,
    "meter_to_panel_small": lambda text, job: (
        AMPACITY[re.search(r"from the meter (\S+ \w+)", text)[1]] < 0.83 * job.decisions.main_a
    ),
}


@given(CODES)
def test_every_fault_is_to_be_seen_what_is_to_be_seen_is_drawn_and_a_sound_house_shows_nothing(code):
    made = exercise(code)
    seen = sights(made)
    at = {space: sight for sight in seen for space in sight.spaces}
    for one in made.planted:
        if one.spaces:
            mine = list({id(at[space]): at[space] for space in one.spaces}.values())
            assert at_its_place(one.kind, mine), (one, [sight.words for sight in mine])
    panel = svg_text(panel_scene(made))
    for sight in seen:
        assert all(part in panel for part in sight.handle.split(", ")) and all(
            f"{wire.color} {wire.size}" in panel for wire in sight.wires
        )
    kinds = {one.kind for one in made.planted}
    assert (
        ("split_bus" in kinds)
        == ("no main" in panel)
        == any(wire.end == "lower bus" for sight in seen for wire in sight.wires)
    )
    if made.house is not None:
        scene = house_scene(made)
        text = "; ".join(spot.words for spot in scene.spots)
        assert {kind for kind, shows in HOUSE.items() if shows(text, made.start)} == kinds & HOUSE.keys()
        drawn = svg_text(scene)
        for words in (
            made.truth.existing.riser_conductors,
            made.truth.grounding.gec,
            f"{made.truth.grounding.rod_spacing_ft:g} ft",
        ):
            assert words in drawn


def test_a_sound_circuit_shows_none_of_it():
    """The twin: whatever shows a fault is absent where none was hidden."""
    for seed in range(60):
        made = exercise(Code(3, seed))
        faulty = {space for one in made.planted for space in one.spaces}
        for sight in sights(made):
            if not faulty & set(sight.spaces):
                of_one = [key for key, one in fault_kinds().items() if one.at == "space" and key != "neutral_one_leg"]
                kinds = [kind for kind in of_one if at_its_place(kind, [sight])]
                assert kinds == [], (made.code, sight.words)


@given(st.builds(Code, st.sampled_from((3, 4, 5)), st.integers(0, SEEDS - 1)))
def test_the_tester_shows_what_the_legs_make_of_it(code):
    """120 V from a breaker to the neutral, 240 V between two legs, nothing between two breakers of one leg."""
    made = exercise(code)
    leg = {space: ((parse_position(space)[0] - 1) // 2) % 2 for sight in sights(made) for space in sight.spaces}
    for sight in sights(made):
        for one in readings(made, sight):
            if match := re.fullmatch(r"breaker (\w+) to breaker (\w+)", one.between):
                same = leg[match[1]] == leg[match[2]]
                assert one.volts == 0 if same else 235 < one.volts < 246
            elif re.fullmatch(r"breaker \w+ to neutral bar", one.between):
                assert 118 < one.volts < 123
            elif "off" in one.between:
                assert (one.volts > 118) == one.between.startswith("upper bus"), (
                    "one breaker off, and half the panel is live"
                )


@pytest.mark.parametrize("number", range(12))
def test_the_trap_in_the_load_is_to_be_seen_and_the_customers_load_only_once_said(number):
    made = exercise(Code(5, number))
    quiet, called = (" ".join(spot.words for spot in house_scene(made, said).spots) for said in (False, True))
    assert "sauna" not in quiet and "sauna" in called and "sauna" in made.call and exercise(Code(4, number)).call == ""
    shown = {"garage": "garage 22 by 20 ft", "cut_off": "cable cut off", "two_volts": "208 V   3.38 kW"}
    traps = {trap for trap, words in shown.items() if words in quiet}
    assert traps == ({made.house.trap} if made.house.trap else set())
    if made.house.trap == "cut_off":
        assert made.truth.load("wall-heater") is None
    assert made.truth.dwelling.area == made.house.width_ft * made.house.depth_ft
