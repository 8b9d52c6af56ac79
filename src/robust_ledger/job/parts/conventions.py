"""House rules and the jurisdiction's."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class Conventions(Model, frozen=True, kw_only=True):
    """House rules and the jurisdiction's, printed on the papers."""

    leg_a: Line = "black"
    leg_b: Line = "red"
    left_leg: Annotated[Literal["A", "B"], Meta(description="leg that goes to the left main lug")] = "A"
    neutral: Line = "white"
    antioxidant: Literal["always", "label"] = "always"
