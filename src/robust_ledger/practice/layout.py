"""The layout that a learner gives the new panel, against the fewest splices there are, proven."""

from __future__ import annotations

from functools import lru_cache

from msgspec import Struct

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.arrange import fewest_splices
from robust_ledger.panel.puzzle import puzzle
from robust_ledger.plan import plan
from robust_ledger.practice.codes import Code
from robust_ledger.practice.exercise import truth_of


class Laid(Struct, frozen=True):
    """A layout judged: the splices it takes with the wires as they are, and the fewest, None where that was not found out. `placed`: how many
    circuits the learner has put into a space."""

    placed: int
    splices: float | None
    fewest: int | None


@lru_cache(maxsize=64)
def fewest_of(code: Code) -> int | None:
    """The fewest splices of a panel's truth, proven; worked out once. None where not everything fits, or time was up before that was known."""
    return fewest_splices(puzzle(wanted_of(truth_of(code))))


def layout_judged(job: Job, code: Code) -> Laid:
    """The learner's spaces for the circuits as they truly are."""
    truth = truth_of(code)
    by_space = {circuit.spaces[0]: CircuitKey.of_tag(circuit.tag) for circuit in truth.job.circuits}
    theirs = {CircuitKey.of_tag(one.tag): one.spaces[0] for one in job.circuits if one.spaces}
    placed = {
        by_space[theirs[key]]: space
        for key, space in job.decisions.placements.items()
        if key in theirs and theirs[key] in by_space
    }
    fewest = fewest_of(code)
    if not placed:
        return Laid(0, None, fewest)
    splices = plan(with_part(truth.job, "decisions", placements=placed)).bench.splices
    return Laid(len(placed), splices.amount if splices.known else None, fewest)
