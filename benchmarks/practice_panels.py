"""Practice panels made and scored, a hundred of each level; the slowest of each."""

from __future__ import annotations

import time

from msgspec.structs import replace

from robust_ledger.practice.codes import LEVELS, SEEDS, Code
from robust_ledger.practice.exercise import exercise
from robust_ledger.practice.layout import fewest_of
from robust_ledger.practice.score import scored


def practice_panels() -> None:
    """Made, and scored as handed in by somebody who called everything out."""
    making, scoring = [], []
    for level in LEVELS:
        for number in range(100):
            start = time.perf_counter()
            made = exercise(Code(level, number * 7919 % SEEDS))
            making.append((time.perf_counter() - start) * 1000)
            fewest_of(made.code)  # the desk works it out while the learner is at work
            hand_in = replace(made.truth, practice=made.start.practice)
            start = time.perf_counter()
            scored(hand_in, made)
            scoring.append((time.perf_counter() - start) * 1000)
    for words, spent, goal in (("a practice panel, made", making, 50), ("scored", scoring[1:], 200)):
        spent.sort()
        print(f"{words:<28} {spent[len(spent) // 2]:8.1f} ms   worst {spent[-1]:.1f} ms (goal ≤ {goal} ms)")


if __name__ == "__main__":
    practice_panels()
