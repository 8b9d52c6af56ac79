"""What the room of the load answers with: the four methods, the one chosen, the neutral; and the what-if columns."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.load.answers import answers_for
from robust_ledger.load.findings import load_findings
from robust_ledger.load.general import LoadInputs, load_inputs
from robust_ledger.load.methods import Method, methods, recommendation
from robust_ledger.load.neutral import neutral_entry
from robust_ledger.load.tape import Calculation
from robust_ledger.load.whatif import Column, columns


class LoadResult(Room, Struct, frozen=True, dict=True):
    """The load by every method. `neutral` is the neutral's load, `recommended` the method recommended and why."""

    inputs: LoadInputs
    methods: dict[str, Method]
    neutral: Entry
    recommended: Entry

    @property
    def method(self) -> Method:
        """The method the job has chosen."""
        return self.methods[self.inputs.job.decisions.load_method]

    @property
    def chosen(self) -> Calculation:
        """The calculation by that method."""
        return self.method.calculation

    @property
    def governing(self) -> Entry:
        """What the main has to carry [A]."""
        return self.method.governing

    @cached_property
    def calculations(self) -> dict[str, Calculation]:
        """All four calculations by the name of their method."""
        return {name: method.calculation for name, method in self.methods.items()}

    @property
    def dealt(self) -> Calculation:
        """The calculation that tells what each circuit carries. A recording does not: the optional one stands in for it."""
        return self.calculations["optional" if self.method.name == "measured" else self.method.name]

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """Nameplates, every line of every tape, totals, what each method asks for, and the neutral."""
        tapes = (
            entry
            for m in self.methods.values()
            for entry in (*m.calculation.entries, m.state, m.main, *([m.fuller] if m.fuller else []))
        )
        return by_id(*self.inputs.nameplates.values(), *tapes, self.recommended, self.neutral)

    def findings(self) -> Iterator[Finding]:
        """What is missing for the load, or odd about it."""
        return load_findings(self.inputs, self.method)


def load_result(job: Job, codebook: Codebook) -> LoadResult:
    """The load of the house as it is after this job."""
    inputs = load_inputs(job, codebook)
    options = methods(inputs)
    neutral = neutral_entry(inputs, options["standard"].calculation)
    return LoadResult(inputs, options, neutral, recommendation(options, inputs))


class WhatIf(Room, Struct, frozen=True, dict=True):
    """Today, after this job, and with each future, worked out when first asked for. `spaces_used` are those of the new panel;
    `weakest` tells the lowest limit [A] among the links that stay, and its name."""

    load: LoadResult
    spaces_used: Entry
    weakest: Callable[[], tuple[float, str] | None]
    lazy = ("whatif.",)

    @property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """What is there at once; the columns are worked out on asking."""
        return by_id(self.spaces_used)

    @cached_property
    def columns(self) -> tuple[Column, ...]:
        """The job as it is, and with each future."""
        link, inputs = self.weakest(), self.load.inputs
        made = columns(inputs, self.load.chosen, self.spaces_used, link)
        return tuple(replace(column, answers=answers_for(column, inputs, link)) for column in made)

    def families(self) -> Iterator[Entry]:
        """Every entry of the columns."""
        return (entry for column in self.columns for entry in column.entries)
