"""The marking order over the old panel: each pass protects against a mistake that cannot be undone once the wires are loose."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.branch.subject import STAGE
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.record import HoldState
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place


class Pass(Struct, frozen=True):
    """A pass: what is asked, what a mistake here destroys, and the mark that circuits called out in it get."""

    key: str
    title: str
    question: str
    destroys: str
    mark: Mark | None


PASSES = (
    Pass(
        "capped",
        "Capped",
        "Which wires were capped off before you came? Tag each, keep it off.",
        "Once all wires hang loose nobody can tell a wire that was off for a reason from one that was in use.",
        Mark.CAPPED,
    ),
    Pass(
        "white",
        "White hots",
        "Which white wires sit on a breaker? Re-mark each while it still does.",
        "Loose, a white hot looks like a neutral: landed on the neutral bar it runs the 240 V load at 120 V; a neutral landed "
        "in its place puts 240 V on 120 V outlets.",
        Mark.WHITE_HOT,
    ),
    Pass(
        "dark",
        "Dark neutrals",
        "Which dark wires sit on the neutral bar? Mark each as neutral for now.",
        "Loose, it will be landed on a breaker: a dead short, or an outlet with hot and neutral crossed.",
        Mark.DARK_NEUTRAL,
    ),
    Pass(
        "removal",
        "Removal",
        "Take the wires off one by one, each with its tag; pairs and shared neutrals stay together.",
        "Untagged wire: trace it again later, with everything dark.",
        None,
    ),
)
DEAD_FIELDS = ("first_tester", "second_tester", "signed_by", "signed_at")


class Standing(Struct, frozen=True):
    """How a pass stands: "waiting" behind an open one, "open", "later" or "done"; the circuits that belong to it."""

    one: Pass
    state: str
    circuits: tuple[Circuit, ...]


def signed_on_the_day(job: Job) -> HoldState | None:
    """The hold "Proven dead" of the changeover day where it was signed with a reading for every item that the signature names; one that was
    passed for a reason, or signed without readings, does not count."""
    hold = job.record.holds.get("dead")
    if hold is None or not hold.signed_by or hold.overridden:
        return None
    return hold if hold.facts and all(hold.ticks.get(key) for key in hold.facts) else None


def dead(job: Job) -> bool:
    """Whether it is stated that the panel is dead: the hold of the changeover day, or the statement of the pull-off, with two testers proved
    before and after, signed with time. One of them is enough: nobody tests twice for two papers."""
    made = job.pull_off
    return signed_on_the_day(job) is not None or (
        all(getattr(made, name) for name in DEAD_FIELDS) and made.proved_before and made.proved_after
    )


def standings(job: Job) -> tuple[Standing, ...]:
    """Every pass in order. One is open as soon as the panel is proved dead and all before it are done or put off."""
    made, reached = [], dead(job)
    for one in PASSES:
        closed = job.pull_off.passes.get(one.key, "")
        state = closed or ("open" if reached else "waiting")
        mine = job.circuits if one.mark is None else tuple(c for c in job.circuits if one.mark in c.marks)
        made.append(Standing(one, state, mine))
        reached = reached and bool(closed)
    return tuple(made)


def pass_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """A pass put off, one done before an earlier, or any of them without the statement that the panel is dead. Nothing as
    long as none has been begun."""
    closed, find = job.pull_off.passes, Findings(codebook, STAGE).find
    if closed and not dead(job):
        yield find("pass.dead", at=Place("pull_off:first_tester"))
    earlier_open = ""
    for standing in standings(job):
        one = standing.one
        if standing.state == "later":
            yield find(
                "pass.later", at=Place.of("pull_off", one.key), key=one.key, title=one.title, destroys=one.destroys
            )
        if standing.state == "done" and earlier_open:
            yield find(
                "pass.order", at=Place.of("pull_off", one.key), of=one.key, title=one.title, earlier_open=earlier_open
            )
        if standing.state in ("open", "waiting", "later"):
            earlier_open = earlier_open or one.title.lower()
