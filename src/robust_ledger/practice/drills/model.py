"""A drill: questions one after the other for three minutes, each answered from the product's own rules."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from robust_ledger.drawing.scene import Scene

DRILL_S = 180
Drill = Literal["dictation", "breaker", "bond", "method", "voltage"]


class Question(Struct, frozen=True):
    """A question: what is asked, the answers to choose from (none where a line is written), the right one, why it is right and by which
    section. `scene`: what it is about, drawn; `read`: what is read aloud where there is a voice."""

    ask: str
    choices: tuple[str, ...]
    answer: str
    why: str
    sections: str = ""
    scene: Scene | None = None
    read: str = ""


class Run(Struct, frozen=True):
    """A drill as it went: which, how many were answered, how many rightly, in how many seconds."""

    drill: Drill
    asked: int
    right: int
    seconds: float

    @property
    def words(self) -> str:
        """The run in a line."""
        speed = f", {self.right / self.seconds * 60:.1f} right a minute" if self.seconds > 0 else ""
        return f"{self.right} of {self.asked} right{speed}"
