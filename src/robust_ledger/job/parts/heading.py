"""Who and where."""

from robust_ledger.job.parts.base import Line, Model, Text


class Heading(Model, frozen=True, kw_only=True):
    """Who and where; printed on every sheet."""

    title: Line = "New job"
    address: Line = ""
    customer: Line = ""
    electrician: Line = ""
    license: Line = ""
    permit: Line = ""
    date: Line = ""
    notes: Text = ""
