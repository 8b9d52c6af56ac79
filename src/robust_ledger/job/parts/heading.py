"""Who and where."""

from typing import Annotated, Literal

from robust_ledger.job.parts.base import Line, Model, Text
from robust_ledger.job.parts.said import said


class Heading(Model, frozen=True, kw_only=True):
    """Who and where; printed on every sheet."""

    title: Annotated[Line, said("Job")] = "New job"
    address: Line = ""
    customer: Line = ""
    company: Annotated[Line, said("Company", hint="as it stands at the head of every sheet")] = ""
    contact: Annotated[Line, said("Its address, telephone", "the company's address and telephone, in a line")] = ""
    electrician: Line = ""
    license: Annotated[Line, said("License no.", words="license")] = ""
    ahj: Annotated[Line, said("AHJ", "the AHJ by name", hint="county or city")] = ""
    permit: Line = ""
    date: Annotated[Line, said("Date")] = ""
    stands: Annotated[
        Literal["", "planned", "in_work", "done", "inspected"],
        said(
            "The job stands",
            "how the job stands, in the user's word; empty: as the record of the day has it",
            choices={
                "": "as the record has it",
                "planned": "planned",
                "in_work": "in work",
                "done": "done",
                "inspected": "inspected",
            },
        ),
    ] = ""
    notes: Text = ""
