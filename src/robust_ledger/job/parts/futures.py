"""What may come later, and what it takes."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class FutureCircuit(Model):
    """A circuit of a future that is no load of its own, like the receptacles of a remodeled kitchen."""

    name: Line
    poles: Literal[1, 2] = 1
    breaker_a: float | None = 20


class Future(Model):
    """A named future: loads that come (those marked "later"), loads that go, circuits, floor area and small-appliance
    circuits. Something replaced is one load that goes and one that comes."""

    id: Line
    name: Line
    load_ids: tuple[Line, ...] = ()
    removes: tuple[Line, ...] = ()
    circuits: tuple[FutureCircuit, ...] = Field((), max_length=60)
    frees: tuple[int, ...] = Field((), description="tags of circuits that go: their spaces are free again")
    area: float = Field(0, description="added floor area, in the unit of the dwelling")
    small_appliance_circuits: int = 0
    reserve: bool = Field(True, description="spaces are kept free for it in the new panel")
