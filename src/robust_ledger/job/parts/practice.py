"""A job that is an exercise: which practice panel it is of, what the learner says is wrong, and when it was handed in."""

from typing import Annotated

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model

MOST_NAMED = 200
KEPT_BACK = "kept back until you hand in"


class Named(Model, frozen=True, kw_only=True):
    """A fault that the learner names: its kind by the key of the catalogue, and the space it is at, empty where it is in none."""

    kind: Line
    space: Line = ""


class Practice(Model, frozen=True, kw_only=True):
    """The exercise. Times are kept with their zone; empty: not begun, not handed in."""

    code: Annotated[Line, Meta(description="code of the practice panel")] = ""
    started: Annotated[Line, Meta(description="date and time")] = ""
    handed_in: Annotated[Line, Meta(description="date and time; findings are shown from then on")] = ""
    named: Annotated[tuple[Named, ...], Meta(max_length=MOST_NAMED, description="faults that the learner names")] = ()
    order: Annotated[
        tuple[Line, ...],
        Meta(max_length=60, description="tasks of the dark hours by their ids, in the learner's order"),
    ] = ()

    @property
    def veiled(self) -> bool:
        """Whether what the plan finds is kept from the learner: from the beginning until the hand-in."""
        return bool(self.code) and not self.handed_in
