"""Arithmetic that leaves its own trail: each operation does the sum and writes the step in one go.

An unknown operand makes the result unknown and keeps the reason; nothing is ever replaced by a default.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from robust_ledger.ledger.entry import Citation, Entry, Step
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.text import Value, amount_text


class Working:
    """Collects the steps of one entry while its value is being worked out."""

    def __init__(self, entry_id: str, label: str, place: Place = NOWHERE) -> None:
        self.entry_id, self.label, self.place = entry_id, label, place
        self.steps: list[Step] = []
        self.missing: list[str] = []
        self.local = False

    def take(self, step: Step) -> Step:
        """Write down an operand that is given: an input, a figure of the code, or an earlier entry.

        An unknown one is the reason for the result being unknown, unless an earlier operand is already.
        """
        self.steps.append(step)
        if not step.known and not self.missing:
            self.missing.append(step.label)
        return step

    def given(self, label: str, value: Value, unit: str = "", place: Place = NOWHERE, how: str = "") -> Step:
        """A value that was entered, or None where it was not: then that is what is missing."""
        return self.take(Step(label, value, unit, how, (), place))

    def entry_step(self, entry: Entry, label: str = "", place: Place = NOWHERE) -> Step:
        """Take an earlier entry as an operand; its reason for being unknown comes along. `place` leads elsewhere than to the
        entry, for one that is used up in this one."""
        step = entry.step(label, place)
        self.steps.append(step)
        if not entry.known:
            self.missing.append(entry.why_unknown or entry.label)
        return step

    @classmethod
    def trial(cls) -> Working:
        """For what is worked out only to decide something, and shown nowhere."""
        return cls("trial", "worked out to decide")

    def note(self, label: str, value: str = "", cites: Iterable[Citation] = (), name: str = "") -> Step:
        """A decision in words: the branch taken, the row picked."""
        return self.take(Step(label, value, "", "", tuple(cites), name=name))

    def product(
        self, label: str, factors: Sequence[Step], unit: str, cites: Iterable[Citation] = (), name: str = ""
    ) -> Step:
        """Factors multiplied, written out; not known where one of them is not."""
        amounts = _amounts(factors)
        value = None if amounts is None else math.prod(amounts)
        self._mark(factors)
        return self._result(label, value, unit, " × ".join(_operand(f) for f in factors), cites, name)

    def quotient(
        self, label: str, over: Step, under: Step, unit: str, cites: Iterable[Citation] = (), name: str = ""
    ) -> Step:
        """One by another, written out; not known where either is not, or the second is zero."""
        self._mark((over, under))
        value = over.amount / under.amount if over.known and under.known else None
        return self._result(label, value, unit, f"{_operand(over)} ÷ {_operand(under)}", cites, name)

    def total(self, label: str, addends: Sequence[Step], unit: str, cites: Iterable[Citation] = ()) -> Step:
        """Addends together, written out; not known where one of them is not."""
        amounts = _amounts(addends)
        value = None if amounts is None else sum(amounts)
        self._mark(addends)
        how = " + ".join(amount_text(a.value, "") for a in addends) if len(addends) > 1 else ""
        return self._result(label, value, unit, how, cites)

    def difference(self, label: str, first: Step, second: Step, unit: str, cites: Iterable[Citation] = ()) -> Step:
        """One less another, written out; not known where either is not."""
        self._mark((first, second))
        value = first.amount - second.amount if first.known and second.known else None
        return self._result(label, value, unit, f"{_operand(first)} − {_operand(second)}", cites)

    def larger(self, label: str, choices: Sequence[Step], cites: Iterable[Citation] = ()) -> Step:
        """The largest of several amounts of one unit; unknown as soon as one of them is."""
        unit = choices[0].unit
        amounts = _amounts(choices)
        value = None if amounts is None else max(amounts)
        self._mark(choices)
        how = "larger of " + " and ".join(_operand(c) for c in choices)
        return self._result(label, value, unit, how, cites)

    def smaller(self, label: str, choices: Sequence[Step], cites: Iterable[Citation] = ()) -> Step:
        """The smallest of several amounts of one unit; unknown as soon as one of them is."""
        amounts = _amounts(choices)
        value = None if amounts is None else min(amounts)
        self._mark(choices)
        how = "smaller of " + " and ".join(_operand(c) for c in choices)
        return self._result(label, value, choices[0].unit, how, cites)

    def round_half_up(self, label: str, of: Step, cites: Iterable[Citation] = ()) -> Step:
        """Drop a fraction below one half, raise one half and above, with a whisker for binary fractions."""
        value = math.floor(of.amount + 0.5 + 1e-9) if of.known else None
        return self._result(label, value, of.unit, f"{_operand(of)}, round up at 0.5 A", cites, "rounding")

    def entry(self, result: Step, cites: Iterable[Citation] = (), label: str = "") -> Entry:
        """Close the working: its value is the result's, its trail all that was written down."""
        unknown = "" if result.known else self._reasons() or result.label
        cites = tuple(cites) or result.cites
        self._mark(self.steps)
        return Entry(
            self.entry_id,
            label or self.label,
            result.value,
            result.unit,
            tuple(self.steps),
            cites,
            self.place,
            unknown,
            self.local or any(c.local for c in cites),
        )

    def _mark(self, operands: Iterable[Step]) -> None:
        """Remember that an operand rests on a local amendment, whether it was written down as a step or not."""
        if self.local:
            return
        for step in operands:  # plain loops: this runs thousands of times in a plan
            if step.local:
                self.local = True
                return
            for cite in step.cites:
                if cite.local:
                    self.local = True
                    return

    def _reasons(self) -> str:
        return "; ".join(dict.fromkeys(reason for text in self.missing for reason in text.split("; ")))

    def _result(self, label: str, value: Value, unit: str, how: str, cites: Iterable[Citation], name: str = "") -> Step:
        step = Step(label, value, unit, how, tuple(cites), name=name)
        self.steps.append(step)
        return step


def _amounts(steps: Sequence[Step]) -> list[float] | None:
    """The operands as numbers; None as soon as one of them is not known."""
    for step in steps:  # plain loop: this runs thousands of times in a plan
        if step.value is None:
            return None
    return [step.amount for step in steps]


def _operand(step: Step) -> str:
    return amount_text(step.value, step.unit)
