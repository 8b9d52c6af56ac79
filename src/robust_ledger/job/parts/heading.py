"""Who and where, and what kind of job it is."""

from enum import StrEnum

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


class Scope(StrEnum):
    """What kind of job it is; it decides which load calculations are open."""

    UNSAID = "unsaid"
    SWAP = "swap"
    LARGER_BUS = "larger_bus"
    UPGRADE = "upgrade"
    RELOCATED = "relocated"
    MERGED = "merged"
    OUTSIDE_DISCONNECT = "outside_disconnect"
    SUB_PANEL = "sub_panel"
    SPLIT = "split"

    @property
    def keeps_service(self) -> bool:
        """Whether the service that is there goes on carrying the house at its present rating."""
        return self in (Scope.SWAP, Scope.LARGER_BUS, Scope.RELOCATED, Scope.MERGED, Scope.OUTSIDE_DISCONNECT)
