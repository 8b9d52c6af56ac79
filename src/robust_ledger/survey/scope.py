"""What kind of job it is: what is asked about later, what is new, and what is touched on the way."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.job.job import Job
from robust_ledger.job.parts.heading import Scope

TOPICS = ("chain", "grounding", "fit", "overhead", "location", "defects")


class ScopeFacts(Struct, frozen=True):
    """A scope in words: what it does; topics of the walk-through it asks about; parts of the house it makes new, and parts
    it has to touch besides (for "what you touch you own")."""

    title: str
    words: str
    asks: tuple[str, ...]
    renews: tuple[str, ...]
    touches: tuple[str, ...]


_INSIDE = ("chain", "grounding", "fit", "location", "defects")
SCOPES: dict[Scope, ScopeFacts] = {
    Scope.UNSAID: ScopeFacts("not entered yet", "All questions are open until it is entered.", TOPICS, (), ()),
    Scope.SWAP: ScopeFacts(
        "panel swap, same rating",
        "A new panel on the service that is there. The existing main rating still governs.",
        _INSIDE, ("panel",), ("branch", "grounding", "room"),
    ),
    Scope.LARGER_BUS: ScopeFacts(
        "larger panel now, service later",
        "A panel with a larger bus, still fed at the old rating until the service follows.",
        _INSIDE, ("panel",), ("branch", "grounding", "room"),
    ),
    Scope.UPGRADE: ScopeFacts(
        "full service upgrade",
        "From the utility's conductors to the panel: mast, meter, conductors, grounding, panel.",
        TOPICS, ("panel", "riser", "meter", "grounding"), ("branch", "outdoor", "room"),
    ),
    Scope.RELOCATED: ScopeFacts(
        "panel moved",
        "The panel goes to another place; old circuits are extended, the service stays at its rating.",
        _INSIDE, ("panel", "branch"), ("grounding", "room", "riser"),
    ),
    Scope.MERGED: ScopeFacts(
        "two panels or fuse boxes into one",
        "Everything of two old panels lands in one; count spaces twice.",
        _INSIDE, ("panel",), ("branch", "grounding", "room"),
    ),
    Scope.OUTSIDE_DISCONNECT: ScopeFacts(
        "disconnect added outside",
        "The bond moves out to the new disconnect; the inside panel has neutrals and grounds separated.",
        _INSIDE, ("panel", "outdoor"), ("branch", "grounding", "meter", "room"),
    ),
    Scope.SUB_PANEL: ScopeFacts(
        "panel, and feeder with sub-panel",
        "The panel, and on the same day a detached garage or other sub-panel and its feeder.",
        _INSIDE, ("panel",), ("branch", "grounding", "outdoor", "room"),
    ),
    Scope.SPLIT: ScopeFacts(
        "split service, two panels",
        "Too much for one 200 A panel: one 320 or 400 A class meter, two panels with a main each.",
        TOPICS, ("panel", "riser", "meter", "grounding"), ("branch", "outdoor", "room"),
    ),
}  # fmt: skip


def facts(job: Job) -> ScopeFacts:
    return SCOPES[job.scope]


def asked(job: Job) -> tuple[str, ...]:
    """The topics of the walk-through this job is asked about; no drop to look at with an underground lateral."""
    return tuple(topic for topic in facts(job).asks if topic != "overhead" or not job.chain.underground)
