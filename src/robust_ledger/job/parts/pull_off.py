"""How the pull-off stands."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class PullOff(Model):
    """How the pull-off stands: the statement that the panel is dead, and the passes of the marking order."""

    first_tester: Line = ""
    second_tester: Line = ""
    proved_before: bool = Field(False, description="both testers on a live source before the test")
    proved_after: bool = Field(False, description="and after it")
    signed_by: Line = ""
    signed_at: Line = Field("", description="date and time")
    passes: dict[Line, Literal["done", "later"]] = Field(
        default_factory=dict, description="capped, white, dark, removal"
    )
    tag_numbers: Literal["called", "space"] = Field("called", description="as called out, or by the old space")
    first_tag: int = Field(1, ge=1, le=900, description="where numbering as called out begins")
