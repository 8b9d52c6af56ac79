"""How the changeover day is planned."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class ChangeoverDay(Model, frozen=True, kw_only=True):
    """Who works on the day, when it begins, and what was promised."""

    people: Literal[1, 2] = 1
    start: Annotated[Line, Meta(description='when work begins, "8:00 am"')] = "8:00 am"
    promise: Annotated[
        Line, Meta(description="when the power was promised to be back; empty: nothing was promised")
    ] = ""
