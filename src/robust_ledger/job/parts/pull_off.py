"""How the pull-off stands."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.parts.base import Line, Model


class PullOff(Model, frozen=True, kw_only=True):
    """How the pull-off stands: the statement that the panel is dead, and the passes of the marking order."""

    first_tester: Line = ""
    second_tester: Line = ""
    proved_before: Annotated[bool, Meta(description="both testers on a live source before the test")] = False
    proved_after: Annotated[bool, Meta(description="and after it")] = False
    signed_by: Line = ""
    signed_at: Annotated[Line, Meta(description="date and time")] = ""
    passes: Annotated[dict[Line, Literal["done", "later"]], Meta(description="capped, white, dark, removal")] = field(
        default_factory=dict
    )
    tag_numbers: Annotated[Literal["called", "space"], Meta(description="as called out, or by the old space")] = (
        "called"
    )
    first_tag: Annotated[int, Meta(ge=1, le=900, description="where numbering as called out begins")] = 1
