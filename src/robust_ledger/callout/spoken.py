"""What came of a spoken line, whatever it was about: how it was understood, what it changes, what it leaves open."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from msgspec import Struct, field

from robust_ledger.job.job import Job


class Fault(Struct, frozen=True):
    """What cannot be understood, in one sentence, and which letters of the line it is about."""

    text: str
    start: int
    end: int


class Order(Struct, frozen=True):
    """Something to be done by whoever shows the job, not a change of it: look something up, undo, go somewhere, arrange."""

    name: str
    about: str = ""


class Spoken(Struct, frozen=True):
    """A line as it was understood. `edit`: what it changes, None where nothing or not yet; `name`: what undo calls that. `struck`: letters
    that were not understood. `asks`: what is to be looked at before it is written down. `cost` compares stages: the less the surer.
    `follows`: an edit that comes of itself after it, and is taken back by itself. `passed`: letters nobody knows that what was understood
    does not hang on."""

    stage: str
    understood: tuple[str, ...] = ()
    edit: Callable[[Job], Job] | None = None
    name: str = ""
    fault: Fault | None = None
    wanted: tuple[str, ...] = ()
    struck: tuple[tuple[int, int], ...] = ()
    asks: tuple[str, ...] = ()
    order: Order | None = None
    place: str = ""
    rival: Spoken | None = None
    cost: float = 0.0
    facts: dict[str, object] = field(default_factory=dict)
    follows: Callable[[Job], Job] | None = None
    passed: tuple[tuple[int, int], ...] = ()

    @property
    def certainty(self) -> Literal["sure", "likely", "asked", "refused"]:
        """How sure it is: "likely" is written down and marked, "asked" only when somebody says yes."""
        if not self.complete:
            return "refused"
        if self.doubtful:
            return "asked"
        return "likely" if self.passed else "sure"

    @property
    def complete(self) -> bool:
        """Whether it can be written down or carried out."""
        return self.fault is None and (self.edit is not None or self.order is not None)

    @property
    def doubtful(self) -> bool:
        """Whether Enter asks once more: words were not understood, or belong to something that matters, or it may mean something else."""
        return bool(self.struck or self.asks or self.rival is not None)
