"""Who and where."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model, Text


class Heading(Model, frozen=True, kw_only=True):
    """Who and where; printed on every sheet."""

    title: Line = "New job"
    address: Line = ""
    customer: Line = ""
    company: Line = ""
    contact: Annotated[Line, Meta(description="the company's address and telephone, in a line")] = ""
    electrician: Line = ""
    license: Line = ""
    ahj: Annotated[Line, Meta(description="the AHJ by name")] = ""
    permit: Line = ""
    date: Line = ""
    stands: Annotated[
        Literal["", "planned", "in_work", "done", "inspected"],
        Meta(description="how the job stands, in the user's word; empty: as the record of the day has it"),
    ] = ""
    notes: Text = ""
