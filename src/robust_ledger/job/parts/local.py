"""Local amendments."""

from __future__ import annotations

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class LocalRule(Model):
    """A local amendment: a figure of the code, or a section's number, as the jurisdiction has it."""

    key: Line
    value: float | None = Field(None, description="the local figure, in the unit of the code's own")
    section: Line = Field("", description="the local citation; empty keeps the edition's")
