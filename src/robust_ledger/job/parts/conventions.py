"""House rules and the jurisdiction's."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class Conventions(Model):
    """House rules and the jurisdiction's, printed on the papers."""

    leg_a: Line = "black"
    leg_b: Line = "red"
    left_leg: Literal["A", "B"] = Field("A", description="leg that goes to the left main lug")
    neutral: Line = "white"
    antioxidant: Literal["always", "label"] = "always"
