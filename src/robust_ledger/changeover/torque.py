"""Every termination of the day with its torque: derived from the plan, by the label where it was read, and what the log says of it [110.14(D)]."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from datetime import date
from functools import cache
from pathlib import Path
from typing import Any

from msgspec import Struct

from robust_ledger.branch.model import Branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.installation.model import Joint, Torque
from robust_ledger.installation.room import Installation
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.keys import MAIN
from robust_ledger.job.parts.record import Tightened, Unit
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.bench import Bench
from robust_ledger.service.result import ServiceResult

WITHIN = 0.10  # of the torque that is due: beyond it a reading is over or under
YEAR_DAYS = 366  # a tool counts as in date for so long after its calibration


class Termination(Struct, frozen=True):
    """A place where a screw is tightened. `due_in_lb` None: the label says nothing and neither does the usual table; `label_unit`: the unit its
    label has; `verify`: it is a usual figure, not the label's; `factory`: a joint that the factory made, to be gone over."""

    key: str
    words: str
    part: str
    wire: Conductors | None
    due_in_lb: float | None
    label_unit: Unit
    verify: bool
    factory: bool
    entry: Entry

    @property
    def aluminum(self) -> bool:
        """Whether the wire under it is of aluminum."""
        return self.wire is not None and self.wire.metal == "al"

    @property
    def wire_text(self) -> str:
        """The wire as the trade writes it, one of several in parallel: "10 CCA"; "" where it is not known."""
        return size_text(self.wire.size, self.wire.metal) if self.wire is not None else ""


class Parts(Struct, frozen=True):
    """What the day rests on. `rods`: rods to drive at the house; None where that is not known."""

    job: Job
    codebook: Codebook
    benches: Mapping[str, Bench]
    branches: Sequence[Branch]
    service: ServiceResult
    installation: Installation
    rods: Entry | None


def terminations(of: Parts) -> tuple[Termination, ...]:
    """Every screw of the installation with its torque, in the order in which they stand there."""
    return tuple(_factory(of, joint) if joint.factory else _made(of, joint) for joint in of.installation.joints)


def _factory(of: Parts, joint: Joint) -> Termination:
    """A joint the factory made: it loosens on the truck."""
    work = Working(f"day.torque.{joint.key}", joint.words)
    words = "gone over by the label, or as tight as it was found"
    entry = work.entry(work.note(words, "check", [of.codebook.cite("torque")]))
    return Termination(joint.key, joint.words, "factory", None, None, "in-lb", False, True, entry)


def _made(of: Parts, joint: Joint) -> Termination:
    key, words, part, wire = joint.key, joint.words, joint.part, joint.wire
    value = wire.value if wire is not None else None
    conductors = value if isinstance(value, Conductors) and value.size[:1].isdigit() else None
    size = conductors.size if conductors is not None else ""
    work = Working(f"day.torque.{key}", words, wire.place if wire is not None else Place(""))
    if wire is not None:
        work.entry_step(wire, "wire")
    label = _label(_labels(of, joint.node), part, size, of.codebook)
    if label is not None:
        step = work.take(Step("by the label", label.inch_pounds, "lbf·in", place=Place("panel:torques")))
        entry = work.entry(step, [of.codebook.cite("torque")])
        return Termination(key, words, part, conductors, label.inch_pounds, label.unit, False, False, entry)
    usual = _usual(part, size, of.codebook)
    step = work.take(Step("usual for this size, verify at the label", usual, "lbf·in", place=Place("panel:torques")))
    entry = work.entry(step, [of.codebook.cite("torque_usual")])
    return Termination(key, words, part, conductors, usual, "in-lb", True, False, entry)


def _labels(of: Parts, node: str) -> Sequence[Torque]:
    """What was read at the node's panel; at the meter, a disconnect or an electrode what the main panel's labels say of such parts."""
    nodes = of.installation.nodes
    return (nodes[node].torques if node in nodes else ()) or nodes[MAIN].torques


def _label(labels: Sequence[Torque], part: str, size: str, codebook: Codebook) -> Torque | None:
    """What the labels say of a part and a wire size; one without sizes holds for every one."""
    area = area_cmil(codebook, size) if size else None
    for one in labels:
        if one.part != part:
            continue
        if not one.smallest:
            return one
        ends = [area_cmil(codebook, end) for end in (one.smallest, one.largest or one.smallest)]
        if area is not None and None not in ends and min(e or 0 for e in ends) <= area <= max(e or 0 for e in ends):
            return one
    return None


@cache
def _rows() -> tuple[dict[str, Any], ...]:
    text = Path(__file__).with_name("torque.toml").read_text(encoding="utf-8")
    return tuple(tomllib.loads(text)["row"])


def _usual(part: str, size: str, codebook: Codebook) -> float | None:
    """The usual torque [lbf·in]; None for a wire that is not known, or larger than the table has."""
    area = area_cmil(codebook, size) if size else None
    if area is None:
        return None
    row = next((one for one in _rows() if (area_cmil(codebook, one["up_to"]) or 0) >= area), None)
    return float(row["lug" if part in ("main", "lug", "meter", "clamp") else "screw"]) if row else None


class Logged(Struct, frozen=True):
    """A termination with what the log has of it: what is still missing, in words, and what is wrong with it."""

    of: Termination
    row: Tightened
    missing: tuple[str, ...]
    wrong: str

    @property
    def done(self) -> bool:
        """Whether nothing is missing and nothing wrong about it."""
        return not self.missing and not self.wrong


def logged(rows: Sequence[Termination], job: Job) -> tuple[Logged, ...]:
    """The log, a row for each termination, in their order."""
    return tuple(_logged(row, job.record.torque.rows.get(row.key, Tightened())) for row in rows)


def _logged(of: Termination, row: Tightened) -> Logged:
    if of.factory:
        return Logged(of, row, () if row.marked else ("check",), "")
    missing = [words for words, there in (("first pass", row.first), ("second pass", row.second)) if there is None]
    if not row.marked:
        missing.append("mark")
    wrong = ""
    for name, value in (("first", row.first), ("second", row.second)):
        if value is not None and of.due_in_lb is not None and not wrong:
            off = value / of.due_in_lb - 1
            if abs(off) > WITHIN:
                wrong = f"{name} pass {abs(off):.0%} {'over' if off > 0 else 'under'}"
    return Logged(of, row, tuple(missing), wrong)


def log_entry(rows: Sequence[Logged]) -> Entry:
    """How many terminations are done, of how many."""
    work = Working("day.torque_done", "Terminations tightened, gone over and marked")
    all_of = work.given("terminations", len(rows))
    left = work.given("not done", sum(not row.done for row in rows))
    return work.entry(work.difference("done", all_of, left, ""))


def tool_fault(job: Job) -> str:
    """What is not in order with the torque tool on the day; "" where nothing is."""
    log, day = job.record.torque, read_day(job.day.date)
    if not log.calibrated:
        return "The torque tool's calibration is not known."
    calibrated = read_day(log.calibrated)
    if calibrated is None:
        return f'"{log.calibrated}" is no date; the torque tool\'s calibration is not known.'
    if day is not None and calibrated > day:
        return "The torque tool's calibration is after the day itself."
    if day is not None and (day - calibrated).days > YEAR_DAYS:
        return f"The torque tool was calibrated on {log.calibrated}, more than a year before the day."
    return ""


def read_day(text: str) -> date | None:
    """A date as it is kept, "2026-12-01"; None for anything else."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        return None
