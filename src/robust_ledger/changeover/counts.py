"""How often the plan has occasion for each kind of work."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.branch.model import Branch
from robust_ledger.changeover.torque import Parts
from robust_ledger.installation.joints import live_branches
from robust_ledger.job.job import Job
from robust_ledger.job.keys import MAIN
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.defects import Defect
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.survey.defects import judged

BOXED = ("disconnect", "meter-main", "transfer equipment")


class Count(Struct, frozen=True):
    """How often something comes up, and where that is seen."""

    amount: float
    words: str
    place: Place = NOWHERE
    known: bool = True


def counts_of(of: Parts) -> dict[str, Count]:
    """What the plan has of everything that tasks are done for."""
    job, made = of.job, of.installation
    live = live_branches(of.branches)
    marks = [mark for circuit in job.circuits for mark in circuit.marks]
    marked = sum(mark in (Mark.CAPPED, Mark.WHITE_HOT, Mark.DARK_NEUTRAL) for mark in marks)
    mine = _defects(job)
    splices = [bench.splices for bench in of.benches.values()]
    runs = {run.key: run for run in made.wired if run.change.made}
    riser = sum(run.raceway is not None and run.raceway.change.made and run.raceway.over_roof for run in made.wired)
    nodes = made.nodes
    feeders = [run for run in runs.values() if run.key.startswith("feeder.") and run.end != MAIN]
    boxes = [node for node in nodes.values() if node.kind in BOXED and node.change.made]
    others = [node for node in nodes.values() if node.kind == "panel" and node.key != MAIN and node.change.made]
    return {
        "renewed": Count(float(bool(job.circuits) or job.scope.said), "panels to change over"),
        "rods": _of_entry(of.rods, "rods to drive"),
        "unknown": Count(sum(_unknown(job, one) for one in live), "circuits that feed something unknown"),
        "old_circuits": Count(len([one for one in job.circuits if one.spaces]), "circuits on the old panel"),
        "marked": Count(marked, "wires to mark before they come off"),
        "dark_neutrals": Count(marks.count(Mark.DARK_NEUTRAL), "dark wires on the neutral bar"),
        "circuits": Count(len(live), "circuits of the new panels"),
        "new_cables": Count(sum(one.new_cable and one.key.kind != "equip" for one in live), "new cables"),
        "splices": Count(sum(one.amount for one in splices if one.known), "splices", Place.entry("panel.splices"), all(one.known for one in splices)),
        "terminations": Count(len(made.joints), "terminations and factory joints", Place.entry("day.torque_done")),
        "electronic": Count(sum(one.to_device for one in live), "AFCI and GFCI breakers"),
        "meter": Count(float(nodes["meter"].change.made), "meter sockets replaced", Place("decisions:meter_replaced")),
        "disconnect": Count(float(len(boxes)), "disconnects and the like set", Place("panels:")),
        "riser": Count(float(riser), "new risers", Place("renews:riser")),
        "line_conductors": Count(float("riser" in runs), "sets of service conductors"),
        "load_conductors": Count(float("load" in runs), "sets from the meter on"),
        "inside_conductors": Count(float(f"feeder.{MAIN}" in runs), "sets from the disconnect to the panel"),
        "feeders": Count(float(len(feeders)), "feeders of other panels", Place("panels:")),
        "other_panels": Count(float(len(others)), "other panels set", Place("panels:")),
        "openings": Count(float(made.openings), "holes in wall and roof", Place("renews:riser")),
        "inspection_before": Count(float(job.day.inspection == "before_power"), "inspections before the power", Place("day:inspection")),
        "inspection_after": Count(float(job.day.inspection == "after"), "inspections after the power", Place("day:inspection")),
        "defect_minutes": Count(
            sum(one.minutes or 0 for one in mine), "minutes of defects that are this job's", known=all(one.minutes is not None for one in mine)
        ),
    }  # fmt: skip


def _of_entry(entry: Entry | None, words: str) -> Count:
    """A count that the plan has an entry for; None where the plan has no occasion for it."""
    if entry is None:
        return Count(0, words)
    return Count(entry.amount if entry.known else 0, words, Place.entry(entry.id), entry.known)


def _unknown(job: Job, branch: Branch) -> bool:
    circuit = job.circuit(branch.origin_tag) if branch.origin_tag is not None else None
    return circuit is not None and (Mark.UNKNOWN in circuit.marks or not circuit.feeds)


def _defects(job: Job) -> list[Defect]:
    """The defects that this job corrects and has not yet."""
    return [one.defect for one in judged(job) if one.ours and one.defect.who == "us" and one.defect.state != "done"]
