"""How many outlets a circuit may have: three practices side by side, and the shares of plugged and fastened loads [220.14, 210.23]."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from msgspec import Struct

from robust_ledger.branch.circuits import loads_of
from robust_ledger.branch.model import Branch
from robust_ledger.branch.subject import of_branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

VOLTS = 120
TEN = 10
PRACTICES = choices_at("decisions.outlet_practice")


class Practices(Struct, frozen=True):
    """The three practices for one circuit: most outlets by 180 VA and by ten, what it is expected to carry against 80% of it, and
    for each whether it holds; None where the count or the load is not known."""

    key: CircuitKey
    count: int | None
    by_va: Entry
    by_use: Entry
    verdicts: tuple[tuple[str, bool | None], ...]

    @property
    def disagree(self) -> bool:
        """Whether one practice takes the circuit and another does not."""
        said = {holds for _, holds in self.verdicts if holds is not None}
        return len(said) > 1

    def holds(self, practice: str) -> bool | None:
        """Whether its outlets are within a practice; None where that one does not say."""
        return dict(self.verdicts)[practice]


def outlet_practices(job: Job, branch: Branch, codebook: Codebook) -> Practices | None:
    """The practices for a 120 V circuit with general outlets; None for others."""
    serves = branch.serves
    if branch.off or branch.poles > 1 or serves is None or not serves.general:
        return None
    place = Place.branch(branch.key)
    count = job.change(branch.key).outlets
    work = Working(f"outlets.va.{branch.key}", f"Outlets by {PRACTICES['va']}", place)
    volts = Step("leg to neutral", VOLTS, "V")
    whole = work.product("circuit", [work.entry_step(branch.breaker), volts], "VA")
    each = work.take(codebook.step("outlet_va", "each outlet"))
    ratio = work.quotient("outlets", whole, each, "")
    most = math.floor(ratio.amount + 1e-9) if ratio.known else None
    by_va = work.entry(work.take(Step("whole outlets", most, "")), [codebook.cite("outlets_general")])
    work = Working(f"outlets.use.{branch.key}", "Room left by expected use", place)
    whole = work.product("circuit", [work.entry_step(branch.breaker), volts], "VA")
    share = work.product("80% of it", [whole, work.take(codebook.step("cord_share", "plugged-in share"))], "VA")
    by_use = work.entry(
        work.difference("left", share, work.entry_step(branch.expected, "expected"), "VA"),
        [codebook.cite("shared_loads")],
    )
    verdicts = (
        ("va", None if count is None or not by_va.known else count <= by_va.amount),
        ("ten", None if count is None else count <= TEN),
        ("use", None if not by_use.known else by_use.amount >= 0),
    )
    return Practices(branch.key, count, by_va, by_use, verdicts)


def fastened_share(job: Job, branch: Branch, plates: dict[str, Entry], codebook: Codebook) -> Entry | None:
    """Fastened loads on a circuit that also has lights or receptacles, as a share of it; None where there are none."""
    serves = branch.serves
    circuit = job.circuit(branch.origin_tag) if branch.origin_tag is not None else None
    if serves is None or circuit is None or branch.off or branch.poles > 1 or not (serves.lights or serves.receptacles):
        return None
    loads = loads_of(job, circuit)
    if not loads:
        return None
    work = Working(f"outlets.fastened.{branch.key}", "Fastened loads on a shared circuit", Place.branch(branch.key))
    parts = [work.entry_step(plates[load.id]) for load in loads if load.id in plates]
    whole = work.product("circuit", [work.entry_step(branch.breaker), Step("leg to neutral", VOLTS, "V")], "VA")
    share = work.quotient("share", work.total("fastened", parts, "VA"), whole, "")
    work.take(codebook.step("fastened_share", "at most"))
    return work.entry(share, [codebook.cite("shared_loads")])


def share_findings(
    job: Job, branches: Sequence[Branch], plates: dict[str, Entry], codebook: Codebook
) -> Iterator[Finding]:
    """Fastened loads above half of a shared circuit, one plugged-in load above 80% of it."""
    for branch in branches:
        share = fastened_share(job, branch, plates, codebook)
        if share is None or not share.known or not branch.breaker.known or branch.breaker.amount <= 0:
            continue
        half, most = codebook.number("fastened_share"), codebook.number("cord_share")
        if share.amount > most:
            yield of_branch(branch, codebook).find(
                "bench.cord",
                amount=share.amount,
                most=most,
                half=half,
            )
        elif share.amount > half:
            yield of_branch(branch, codebook).find(
                "bench.fastened",
                amount=share.amount,
                half=half,
                most=most,
            )


def general_circuits(job: Job, load_va: Entry, codebook: Codebook) -> dict[int, Entry]:
    """Least number of general 15 A and 20 A circuits for the floor area's lighting load [210.11(A)]."""
    made = {}
    for rating in (15, 20):
        work = Working(f"outlets.general_{rating}", f"General circuits of {rating} A, at least", Place("dwelling:area"))
        area = work.entry_step(load_va)
        each = work.product("one circuit", [Step("rating", rating, "A"), Step("leg to neutral", VOLTS, "V")], "VA")
        ratio = work.quotient("circuits", area, each, "")
        least = math.ceil(ratio.amount - 1e-9) if ratio.known else None
        made[rating] = work.entry(work.take(Step("rounded up", least, "")), [codebook.cite("general_circuits")])
    return made


def all_practices(job: Job, branches: Sequence[Branch], codebook: Codebook) -> tuple[Practices, ...]:
    """What each practice says of the outlets of every circuit."""
    return tuple(made for branch in branches if (made := outlet_practices(job, branch, codebook)))
