"""The drills by name, and a run of questions from a seed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from random import Random
from types import MappingProxyType

from robust_ledger.practice.drills import bond, breaker, dictation, method, voltage
from robust_ledger.practice.drills.model import Drill, Question

TITLES: Mapping[Drill, str] = MappingProxyType(
    {
        "dictation": "Call-out dictation",
        "breaker": "Wire to breaker",
        "bond": "Bond or not",
        "method": "Which load calculation",
        "voltage": "Voltage diagnosis",
    }
)
_MAKES: Mapping[Drill, Callable[[Random], Question]] = MappingProxyType(
    {
        "dictation": dictation.question,
        "breaker": breaker.question,
        "bond": bond.question,
        "method": method.question,
        "voltage": voltage.question,
    }
)


def question(drill: Drill, seed: int, number: int) -> Question:
    """The question of a number in the run of a seed: always the same one."""
    return _MAKES[drill](Random(f"{drill}/{seed}/{number}"))


def is_right(drill: Drill, asked: Question, given: str) -> bool:
    """Whether an answer is right; a written line is, when it is read as what was said."""
    return dictation.is_right(given, asked) if drill == "dictation" else given == asked.answer
