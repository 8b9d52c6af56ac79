"""House rules and the jurisdiction's."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said


class OwnWord(Model, frozen=True, kw_only=True):
    """A word of one's own for descriptions, and the usual one it stands for: "casita", "guest room"."""

    word: Annotated[Line, Meta(min_length=1)]
    means: Line


class Conventions(Model, frozen=True, kw_only=True):
    """House rules and the jurisdiction's, printed on the papers."""

    leg_a: Annotated[Line, said("Leg A")] = "black"
    leg_b: Annotated[Line, said("Leg B")] = "red"
    left_leg: Annotated[
        Literal["A", "B"],
        said("Left lug", "leg that goes to the left main lug", choices={"A": "leg A left", "B": "leg B left"}),
    ] = "A"
    neutral: Annotated[Line, said("Neutral")] = "white"
    antioxidant: Annotated[
        Literal["always", "label"],
        said("Antioxidant", choices={"always": "on every aluminum termination", "label": "where the label requires"}),
    ] = "always"
    own_words: Annotated[
        tuple[OwnWord, ...], Meta(max_length=200, description="words of one's own in descriptions, and what they mean")
    ] = ()

    line_words: Annotated[
        tuple[OwnWord, ...],
        Meta(max_length=200, description="words of one's own on the line, and what they mean there"),
    ] = ()

    @property
    def own(self) -> tuple[tuple[str, str], ...]:
        """One's own words as pairs: the word, and the usual one."""
        return tuple((word.word, word.means) for word in self.own_words)
