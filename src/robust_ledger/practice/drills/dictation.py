"""Call-out dictation: a circuit is said, the learner writes the line, and the line is read by the call-out itself."""

from __future__ import annotations

from random import Random

from robust_ledger.callout.session import replay
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import blank_job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.ledger.editions import DEFAULT_EDITION
from robust_ledger.practice.drills.model import Question
from robust_ledger.practice.wiring import SINGLES, TWOS, WIRE

SPACES = 24
SAID_MARKS = {
    Mark.WHITE_HOT: "white is hot",
    Mark.DARK_NEUTRAL: "black on the neutral bar",
    Mark.CAPPED: "capped",
    Mark.NO_GROUND: "no ground",
    Mark.DOUBLED: "two wires under the screw",
}


def question(dice: Random) -> Question:
    """A circuit as somebody on the ladder says it."""
    one = _circuit(dice)
    said = said_words(one)
    return Question("Write the line:", (), line_of(one), "", "", None, said)


def _circuit(dice: Random) -> Circuit:
    if dice.random() < 0.3:
        feeds, amps, gauge = dice.choice(TWOS)
        first = dice.randrange(1, SPACES - 2)
        marks = (Mark.WHITE_HOT,) if feeds == "water heater" and dice.random() < 0.5 else ()
        return Circuit(
            tag=1,
            spaces=(str(first), str(first + 2)),
            breaker_a=float(amps),
            poles=2,
            gauge=gauge,
            feeds=feeds,
            marks=marks,
        )
    feeds, amps = dice.choice(SINGLES)
    marks = (
        (dice.choice((Mark.DARK_NEUTRAL, Mark.CAPPED, Mark.NO_GROUND, Mark.DOUBLED)),) if dice.random() < 0.4 else ()
    )
    space = str(dice.randrange(1, SPACES + 1))
    return Circuit(tag=1, spaces=(space,), breaker_a=float(amps), gauge=WIRE[amps], feeds=feeds, marks=marks)


def said_words(one: Circuit) -> str:
    """As it is said aloud: "Space 5. Twenty amp. Number twelve copper. Bath receptacles. Capped." """
    where = f"Spaces {one.spaces[0]} and {one.spaces[1]}, two-pole" if one.poles == 2 else f"Space {one.spaces[0]}"
    parts = [
        where,
        f"{one.breaker_a:g} amp",
        f"number {one.gauge} copper",
        one.feeds,
        *(SAID_MARKS[mark] for mark in one.marks),
    ]
    return ". ".join(part[:1].upper() + part[1:] for part in parts) + "."


def line_of(one: Circuit) -> str:
    """The line as the call-out itself writes it."""
    return callout_text(one)


def is_right(line: str, asked: Question) -> bool:
    """Whether a written line is read as the circuit that was said; how it is written does not matter."""
    mine, true = (_read(text) for text in (line, asked.answer))
    return mine is not None and mine == true


def heard(line: str) -> str:
    """What the call-out makes of a line, or why it makes nothing of it."""
    job = with_part(blank_job(), "old_panel", spaces=SPACES)
    _, outcomes = replay([line], job, load_codebook(DEFAULT_EDITION))
    return next((one.fault or one.made for one in outcomes), "nothing was written")


def _read(line: str) -> tuple[object, ...] | None:
    job = with_part(blank_job(), "old_panel", spaces=SPACES)
    after, _ = replay([line], job, load_codebook(DEFAULT_EDITION))
    if len(after.circuits) != 1:
        return None
    one = after.circuits[0]
    words = frozenset(f"{one.room} {one.feeds}".lower().split())
    return one.spaces, one.breaker_a, one.poles, one.gauge, one.metal, words, frozenset(one.marks)
