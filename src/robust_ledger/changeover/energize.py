"""Energizing breaker by breaker: in the order of the schedule, each with what is checked, and what keeps it off."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.branch.ledger import LedgerRow, ledger
from robust_ledger.branch.model import Branch
from robust_ledger.changeover.holds import Hold, holds
from robust_ledger.changeover.room import DayTasks
from robust_ledger.installation.joints import live_branches
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.record import Switched
from robust_ledger.job.spaces import parse_position, shown
from robust_ledger.job.tree import panel_name

TESTS = ("button", "outlet")  # checks that try a protection


class Check(Struct, frozen=True):
    """Something to check at a circuit; `first`: before it may stay on."""

    key: str
    words: str
    first: bool = False


class Energized(Struct, frozen=True):
    """A circuit on its way to being on. `left`: checks that are open."""

    branch: Branch
    panel: str
    space: str
    checks: tuple[Check, ...]
    state: Switched
    left: tuple[Check, ...]

    @property
    def first(self) -> tuple[str, ...]:
        """What has to be done before it may stay on."""
        return tuple(one.words for one in self.left if one.first)

    @property
    def tested(self) -> str:
        """Whether its protection was tested: "yes", "no", "" where there is none to test."""
        if not any(one.key in TESTS for one in self.checks):
            return ""
        return "no" if any(one.key in TESTS for one in self.left) else "yes"

    @property
    def keeps_off(self) -> str:
        """Why it may not stay on yet; "" where nothing does."""
        return f"first {', '.join(self.first)}" if self.first else ""

    @property
    def done(self) -> bool:
        """On with everything checked, or left off with a reason."""
        return (self.state.state == "on" and not self.left) or (self.state.state == "off" and bool(self.state.why))


def sequence(room: DayTasks) -> tuple[Energized, ...]:
    """Every circuit that gets a breaker, panel by panel, in the order of their spaces."""
    made, rows = [], {row.key: row for row in ledger(room.job, room.parts.branches)}
    for panel_id, bench in room.parts.benches.items():
        positions, node = bench.placement.positions, room.parts.installation.node_of(panel_id)
        mine = [branch for branch in live_branches(room.parts.branches) if branch.panel == panel_id]
        mine.sort(key=lambda one: parse_position(positions.get(one.key, "")) or (9999, ""))
        for one in mine:
            at = positions.get(one.key, "")
            space = shown(at, node.numbering, node.spaces) if at and node is not None else "?"
            made.append(_energized(one, panel_name(room.job, panel_id), space, room.job, rows.get(one.key)))
    return tuple(made)


def _energized(branch: Branch, panel: str, space: str, job: Job, row: LedgerRow | None) -> Energized:
    state = job.record.circuits.get(branch.key) or Switched()
    checks = tuple(_checks(branch, job, row))
    left = tuple(one for one in checks if one.key not in state.checks)
    return Energized(branch, panel, space, checks, state, left)


def _checks(branch: Branch, job: Job, row: LedgerRow | None) -> list[Check]:
    marks = {mark for tag in branch.sources if (circuit := job.circuit(tag)) for mark in circuit.marks}
    made = []
    if Mark.DARK_NEUTRAL in marks or (Mark.WHITE_HOT in marks and branch.poles == 1):
        made.append(Check("polarity", "polarity right at its outlets", first=True))
    if Mark.UNKNOWN in marks or not branch.feeds:
        made.append(Check("traced", "traced and named"))
    made.append(Check("volts", "240 V across its two poles" if branch.poles == 2 else "120 V at its breaker"))
    old = [circuit.breaker_a for tag in branch.sources if (circuit := job.circuit(tag)) and circuit.breaker_a]
    if branch.breaker.known and any(one > branch.breaker.amount for one in old):
        made.append(Check("smaller", f"breaker of {branch.breaker.text()} in, not the old {max(old):g} A", first=True))
    if branch.partner and branch.poles == 1:
        made.append(Check("opposite", "240 V between both hots of its shared neutral", first=True))
    if branch.uses_neutral and branch.poles == 2:
        made.append(Check("halves", "120 V from each pole to neutral"))
    if branch.device.electronic:
        made.append(Check("button", f"test button trips the {branch.device} breaker"))
    elif row is not None and row.planned != "none":
        made.append(Check("outlet", f"test button trips the {row.planned}"))
    return made


def in_the_way(room: DayTasks) -> Hold | None:
    """The first hold that keeps every breaker off; None only while each of them is passed as things stand now: one that was signed and has
    opened again since keeps them off like one that never was."""
    return next((hold for hold in holds(room) if not hold.passed), None)
