"""Practice panels: the truth and the plan agree, every fault is to be seen, and a hand-in gets the score that is counted by hand."""

from __future__ import annotations

import csv
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.cli import main
from robust_ledger.drawing.svg import svg_text
from robust_ledger.job.edits import change_circuit, with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import blank_job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.plan import plan
from robust_ledger.practice.codes import LETTERS, LEVELS, SEEDS, Code, PracticeError, read_code
from robust_ledger.practice.exercise import exercise
from robust_ledger.practice.faults import fault_kinds, watched
from robust_ledger.practice.picture import panel_scene
from robust_ledger.practice.score import score_lines, scored
from robust_ledger.practice.sights import sights

CODES = st.builds(Code, st.sampled_from(LEVELS), st.integers(0, SEEDS - 1))


# --- codes --------------------------------------------------------------------------------------------------------------
@given(CODES)
def test_a_code_leads_back_to_its_panel_however_it_is_typed(code):
    text = str(code)
    assert re.fullmatch(r"1[123]-[0-9A-Z]{5}-[0-9A-Z]", text)
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
        ("19-00000-0", "19-00000-0 is of level 9; there are 1, 2, 3."),
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
    return {one.id for one in plan(job).findings if one.id.partition(":")[0] in watched()}


def test_what_was_planted_is_what_the_plan_finds_of_the_truth_and_nothing_else():
    """Seven hundred panels, every level; no fault is above its level, and every level hides one of its own somewhere."""
    kinds: dict[int, set[str]] = {level: set() for level in LEVELS}
    for level in LEVELS:
        for seed in range(233):
            made = exercise(Code(level, seed * 7919 % SEEDS))
            also = {
                f"{fault_kinds()[one.kind].also}:tag:{one.tag}" for one in made.planted if fault_kinds()[one.kind].also
            }
            assert judged(made.truth) == {one.finding_id for one in made.planted} | also, made.code
            assert made.planted and all(fault_kinds()[one.kind].level <= level for one in made.planted)
            kinds[level] |= {one.kind for one in made.planted}
    assert {key for key, kind in fault_kinds().items() if kind.level <= 3} == kinds[3]
    assert kinds[1] == {"wire_on_breaker"}


@given(CODES)
def test_the_same_code_makes_the_same_panel_and_the_start_gives_nothing_away(code):
    made = exercise(code)
    assert exercise(code) == made
    assert made.start.circuits == () and judged(made.start) == set() and str(code) in made.start.heading.title


def evidence(kind, mine):
    """Whether a fault is to be seen among the sights of its spaces, by what its catalogue says."""
    wires = [(wire.color, wire.size, wire.end) for sight in mine for wire in sight.wires]
    handles = [float(sight.handle.partition(" ")[0]) for sight in mine]
    allowed = {"14": 15, "12": 20, "10": 30, "8": 40}
    return {
        "wire_on_breaker": any(
            amps > allowed[wire.size.split()[0]] for amps, sight in zip(handles, mine, strict=True) for wire in sight.wires
        ),
        "white_hot": any(color == "white" and end == "breaker" for color, _s, end in wires),
        "dark_neutral": any(color == "black" and end == "neutral bar" for color, _s, end in wires),
        "capped": any(end == "cap" for _c, _s, end in wires),
        "doubled": sum(color == "black" and end == "breaker" for color, _s, end in wires) == 2,
        "neutral_one_leg": len(mine) == 2 and len({wire.cable for sight in mine for wire in sight.wires}) == 1
        and sum(end == "neutral bar" for _c, _s, end in wires) == 1,
        "bare_neutral": any(color == "bare" and end == "neutral bar" for color, _s, end in wires),
        "aluminum": any("aluminum" in size for _c, size, _e in wires),
        "no_ground": not any(end == "ground bar" for _c, _s, end in wires),
    }[kind]  # fmt: skip


@given(CODES)
def test_every_fault_is_to_be_seen_and_what_is_to_be_seen_is_drawn(code):
    made = exercise(code)
    seen = sights(made)
    at = {space: sight for sight in seen for space in sight.spaces}
    for one in made.planted:
        mine = list({id(at[space]): at[space] for space in one.spaces}.values())
        assert evidence(one.kind, mine), (one, [sight.words for sight in mine])
    drawn = svg_text(panel_scene(made))
    for sight in seen:
        assert sight.handle in drawn and all(f"{wire.color} {wire.size}" in drawn for wire in sight.wires)


def test_a_sound_circuit_shows_none_of_it():
    """The twin: whatever shows a fault is absent where none was hidden."""
    for seed in range(60):
        made = exercise(Code(3, seed))
        faulty = {space for one in made.planted for space in one.spaces}
        for sight in sights(made):
            if not faulty & set(sight.spaces):
                kinds = [kind for kind in fault_kinds() if kind != "neutral_one_leg" and evidence(kind, [sight])]
                assert kinds == [], (made.code, sight.words)


# --- scoring ------------------------------------------------------------------------------------------------------------
@given(CODES)
def test_who_calls_everything_out_truly_has_a_hundred(code):
    """Under other tags and in another order: it is the spaces that count."""
    made = exercise(code)
    count = len(made.truth.circuits)
    other = {one.tag: count + 1 - one.tag for one in made.truth.circuits}
    circuits = tuple(
        replace(one, tag=other[one.tag], shares_neutral_with=other.get(one.shares_neutral_with or 0))
        for one in reversed(made.truth.circuits)
    )
    score = scored(replace(made.start, circuits=circuits))
    assert (score.points, score.missed, score.invented, score.misread) == (100, (), (), ()) and len(score.found) == len(
        made.planted
    )


def level_two():
    """A panel of level 2 with a wrong breaker and a doubled screw among its faults."""
    return next(
        made for made in (exercise(Code(2, seed)) for seed in range(400))
        if len(made.planted) == 2 and {one.kind for one in made.planted} == {"wire_on_breaker", "doubled"}
    )  # fmt: skip


def test_a_careless_one_has_what_is_counted_by_hand():
    """Two faults: one found, one missed by a wire read too large; one invented; so many circuits, the first not called out, one misread.
    70 · 1/2 − 5 + 30 · (n − 2)/n."""
    made = level_two()
    wrong, doubled = (next(one for one in made.planted if one.kind == kind) for kind in ("wire_on_breaker", "doubled"))
    busy = {wrong.tag, doubled.tag}
    sound = [one for one in made.truth.circuits if one.tag not in busy and one.poles == 1]
    size = "12" if made.truth.circuit(wrong.tag).breaker_a == 20 else "10"
    job = change_circuit(made.truth, wrong.tag, gauge=size)
    job = change_circuit(job, sound[0].tag, marks=(Mark.DARK_NEUTRAL,))
    job = replace(job, circuits=tuple(one for one in job.circuits if one.tag != sound[1].tag))
    score = scored(job)
    count = len(made.truth.circuits)
    assert [one.spaces for one in score.found] == [doubled.spaces] and [one.spaces for one in score.missed] == [
        wrong.spaces
    ]
    assert len(score.invented) == 1 and {one.spaces for one in score.misread} == {wrong.spaces, sound[1].spaces}
    assert score.points == round(35 - 5 + 30 * (count - 2) / count)
    text = "\n".join(score_lines(score))
    assert (
        "MISSED: 1" in text
        and fault_kinds()["wire_on_breaker"].harm in text
        and "[240.4" in text
        and "not called out" in text
    )


def test_an_empty_hand_in_has_nothing_and_forty_invented_faults_do_not_go_below_it():
    made = exercise(Code(1, 5))
    assert scored(made.start).points == 0
    forty = tuple(
        Circuit(tag=n, spaces=(str(n),), breaker_a=15.0, gauge="14", feeds="x", marks=(Mark.DOUBLED,))
        for n in range(1, 41)
    )
    score = scored(replace(made.start, circuits=forty))
    assert len(score.invented) >= 38 and 0 <= score.points <= 30


def test_a_job_that_is_of_no_practice_panel_is_refused():
    with pytest.raises(PracticeError, match="its title has no code"):
        scored(blank_job())
    with pytest.raises(PracticeError, match="another version"):
        scored(with_part(blank_job(), "heading", title="Practice 93-00000-0"))


# --- the command --------------------------------------------------------------------------------------------------------
def test_a_panel_is_made_called_out_and_scored(tmp_path, capsys):
    code = str(Code(2, 12_345))
    assert main(["practice", "--code", code, "--out", str(tmp_path)]) == 0
    job, drawing = tmp_path / f"practice-{code}.ledger.json", tmp_path / f"practice-{code}.svg"
    assert drawing.read_text().startswith("<") and read_job(job).circuits == () and code in capsys.readouterr().out
    assert main(["practice", "--score", str(job)]) == 1 and capsys.readouterr().out.startswith(
        f"Practice {code}: 0 of 100\nMISSED:"
    )
    write_job(exercise(read_code(code)).truth, job)
    assert main(["practice", "--score", str(job)]) == 0 and "100 of 100" in capsys.readouterr().out
    assert (
        main(["practice", "--code", code, "--out", str(tmp_path)]) == 2
        and "is there already" in capsys.readouterr().err
    )
    assert (
        main(["practice", "--code", code, "--level", "3"]) == 2 and "is of level 2, not 3." in capsys.readouterr().err
    )
    assert main(["practice", "--level", "3", "--out", str(tmp_path / "new")]) == 0
    assert len(list((tmp_path / "new").glob("practice-13-*"))) == 2


def test_an_instructor_has_codes_for_a_class_and_a_table_of_results(tmp_path, capsys):
    assert main(["practice", "--codes", "20", "--level", "2"]) == 0
    head, *rows = list(csv.reader(capsys.readouterr().out.splitlines()))
    assert head == ["number", "code"] and [row[0] for row in rows] == [str(n) for n in range(1, 21)]
    assert {read_code(row[1]).level for row in rows} == {2} and len({row[1] for row in rows}) == 20
    good, empty = exercise(read_code(rows[0][1])), exercise(read_code(rows[1][1]))
    for name, job in (("anna", good.truth), ("ben", empty.start), ("cora", blank_job())):
        write_job(job, tmp_path / f"{name}.ledger.json")
    (tmp_path / "dan.ledger.json").write_text("{")
    assert main(["practice", "--results", str(tmp_path)]) == 0
    head, *table = list(csv.reader(capsys.readouterr().out.splitlines()))
    assert [dict(zip(head, row, strict=True))["points"] for row in table] == ["100", "0", "", ""]
    assert "its title has no code" in table[2][-1] and "is damaged" in table[3][-1]
    assert (
        main(["practice", "--results", str(tmp_path / "none")]) == 2
        and "is no folder of hand-ins." in capsys.readouterr().err
    )
