"""What may come later, and what it takes."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class FutureCircuit(Model, frozen=True, kw_only=True):
    """A circuit of a future that is no load of its own, like the receptacles of a remodeled kitchen."""

    name: Line
    poles: Literal[1, 2] = 1
    breaker_a: float | None = 20


class Future(Model, frozen=True, kw_only=True):
    """A named future: loads that come (those marked "later"), loads that go, circuits, floor area and small-appliance
    circuits. Something replaced is one load that goes and one that comes."""

    id: Line
    name: Line
    load_ids: tuple[Line, ...] = ()
    removes: tuple[Line, ...] = ()
    circuits: Annotated[tuple[FutureCircuit, ...], Meta(max_length=60)] = ()
    frees: Annotated[tuple[int, ...], Meta(description="tags of circuits that go: their spaces are free again")] = ()
    area: Annotated[float, Meta(description="added floor area, in the unit of the dwelling")] = 0
    small_appliance_circuits: int = 0
    units: Annotated[int | None, Meta(description="dwelling units it adds; None: not entered")] = None
    reserve: Annotated[bool, Meta(description="spaces are kept free for it in the new panel")] = True

    @property
    def without_load(self) -> bool:
        """Whether it brings circuits and says nothing of what they draw. Floor area and kitchen circuits speak for 120 V circuits; a
        240 V one is for something with a nameplate."""
        if not self.circuits or self.load_ids:
            return False
        two_pole = any(circuit.poles == 2 for circuit in self.circuits)
        return two_pole or not (self.area or self.small_appliance_circuits)
