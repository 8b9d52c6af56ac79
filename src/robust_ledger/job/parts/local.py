"""Local amendments."""

from typing import Annotated

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class LocalRule(Model, frozen=True, kw_only=True):
    """A local amendment: a figure of the code, or a section's number, as the jurisdiction has it."""

    key: Line
    value: Annotated[float | None, Meta(description="the local figure, in the unit of the code's own")] = None
    section: Annotated[Line, Meta(description="the local citation; empty keeps the edition's")] = ""
