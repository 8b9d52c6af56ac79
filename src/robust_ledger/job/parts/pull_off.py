"""How the pull-off stands."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said


class PullOff(Model, frozen=True, kw_only=True):
    """How the pull-off stands: the statement that the panel is dead, and the passes of the marking order."""

    first_tester: Annotated[Line, said("First tester")] = ""
    second_tester: Annotated[Line, said("Second tester")] = ""
    proved_before: Annotated[
        bool, said("proved on a live source before", "both testers on a live source before the test")
    ] = False
    proved_after: Annotated[bool, said("and after the test", "and after it")] = False
    signed_by: Annotated[Line, said("Tested by")] = ""
    signed_at: Annotated[Line, Meta(description="date and time")] = ""
    passes: Annotated[dict[Line, Literal["done", "later"]], Meta(description="capped, white, dark, removal")] = field(
        default_factory=dict
    )
    tag_numbers: Annotated[
        Literal["called", "space"],
        said(
            "Tags", "as called out, or by the old space", choices={"called": "as called out", "space": "by old space"}
        ),
    ] = "called"
    first_tag: Annotated[int, said("from", "where numbering as called out begins", least=1, most=900, ge=1, le=900)] = 1
