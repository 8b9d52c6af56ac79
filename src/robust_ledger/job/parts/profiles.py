"""The profiles that a job was made from, as they were then: the job keeps its own copy, and can tell when one has moved on."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.parts.base import AsGiven, Line, Model

ProfileKind = Literal["company", "jurisdiction", "utility", "stock", "prices"]


class TakenProfile(Model, frozen=True, kw_only=True):
    """A profile as this job took it."""

    kind: ProfileKind
    name: Line
    data: Annotated[AsGiven, Meta(description="what it said then, as a part of a job")] = field(default_factory=AsGiven)
