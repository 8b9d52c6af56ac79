"""plan(job): everything that follows from a job, in one pure function. The one place that joins the rooms."""

from __future__ import annotations

from functools import cached_property, partial

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.branch.model import Branch
from robust_ledger.branch.result import CircuitsResult, circuits_result
from robust_ledger.changeover.findings import day_findings
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.torque import Parts
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.installation.one_line import Drawn, one_line
from robust_ledger.installation.room import Installation, installation
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.parts.practice import KEPT_BACK
from robust_ledger.ledger.entry import Entry, Finding, Severity
from robust_ledger.ledger.groups import Group, grouped
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.room import Room
from robust_ledger.load.edition import codebook_of
from robust_ledger.load.feeder import FeederLoads, feeder_loads
from robust_ledger.load.result import LoadResult, WhatIf, load_result
from robust_ledger.material.room import Material
from robust_ledger.panel.bench import Bench, all_spaces_used, benches
from robust_ledger.panel.bench_drawing import Picture
from robust_ledger.service.result import ServiceResult, service_result
from robust_ledger.service.sizing import main_entry
from robust_ledger.survey.chain import found_limits
from robust_ledger.survey.result import WalkResult, walk_result
from robust_ledger.survey.verdict import single_findings, verdict_findings

GOING = ("record", "day")  # what the day itself changes of a job


class Plan(Struct, frozen=True, dict=True):
    """All that follows from a job: what each room answers with, and every finding, the worst first."""

    job: Job
    codebook: Codebook
    load: LoadResult
    service: ServiceResult
    walk: WalkResult
    circuits: CircuitsResult
    installation: Installation
    benches: dict[str, Bench]
    what_if: WhatIf
    feeders: FeederLoads
    changeover: DayTasks
    material: Material
    findings: tuple[Finding, ...]
    panel_id: str = MAIN

    @property
    def withheld(self) -> str:
        """Why what the plan finds is not shown, in words; "" where it is."""
        return _withheld(self.job)

    @property
    def bench(self) -> Bench:
        """The bench of the panel in view: the main one, unless the plan is seen from another."""
        return self.benches[self.panel_id]

    @property
    def rooms(self) -> tuple[Room, ...]:
        """Every room that answers with entries."""
        return (
            self.load,
            self.feeders,
            self.service,
            self.walk,
            self.circuits,
            self.installation,
            *self.benches.values(),
            self.what_if,
            self.changeover,
            self.material,
        )

    def seen_from(self, panel_id: str) -> Plan:
        """The same plan with another panel in view: that one's record, circuits and bench stand for the main one's."""
        if panel_id not in self.benches or (panel_id == MAIN and len(self.benches) == 1):
            return self
        seen: dict[str, Plan] = self.__dict__.setdefault("_seen", {})
        if panel_id not in seen:
            bench = self.benches[panel_id]
            seen[panel_id] = replace(self, job=bench.job, circuits=bench.circuits, panel_id=panel_id)
        return seen[panel_id]

    def on_the_day(self, job: Job) -> Plan | None:
        """The plan for the lines of a day that is going: the same house with another record or day; None where more differs. Its findings are
        still those of before, so it is to read lines by, and not to be shown."""
        if any(
            getattr(job, name) is not getattr(self.job, name) for name in job.__struct_fields__ if name not in GOING
        ):
            return None
        return replace(self, job=job, changeover=self.changeover.going_on(job))

    @cached_property
    def entries(self) -> dict[str, Entry]:
        """Every entry that is there at once, by its stable id."""
        return {entry_id: entry for room in self.rooms for entry_id, entry in room.entries.items()}

    @cached_property
    def all_entries(self) -> dict[str, Entry]:
        """Every entry, those that are worked out on asking too."""
        later = {entry.id: entry for room in self.rooms for entry in room.families()}
        return {**self.entries, **later}

    def entry(self, entry_id: str) -> Entry | None:
        """An entry by its id, from the room that owns it; None when there is none."""
        return next((entry for room in self.rooms if (entry := room.entry(entry_id)) is not None), None)

    def branch(self, key: str) -> Branch | None:
        """A circuit of the new panel by its key."""
        return self.circuits.by_key.get(CircuitKey(key))

    def findings_of(self, stage: str) -> list[Finding]:
        """The findings of a stage."""
        return [finding for finding in self.findings if finding.stage == stage]

    def findings_at(self, place: str) -> list[Finding]:
        """The findings about a place."""
        return [finding for finding in self.findings if finding.place == place]

    @cached_property
    def picture(self) -> Picture:
        """The new panel as it is drawn, circuits with an open finding marked."""
        flagged = frozenset(finding.place for finding in self.findings if finding.open)
        ahead = self.service.device(self.panel_id)
        return self.bench.picture(ahead, flagged)

    @cached_property
    def groups(self) -> tuple[Group, ...]:
        """The findings by kind, the worst first."""
        return grouped(self.findings)

    @cached_property
    def one_line(self) -> tuple[Drawn, ...]:
        """The service as it has to be, as a drawing: boxes from the utility on."""
        return one_line(self.installation)

    @property
    def filled(self) -> dict[str, bool]:
        """Which stages of the plan have something in them, in their order."""
        job, load = self.job, self.load.chosen.amperes
        return {
            "walkthrough": job.scope.said,
            "pulloff": bool(job.circuits),
            "load": bool(job.loads) or job.dwelling.area is not None,
            "service": self.service.main.known,
            "bench": any(bench.placement.positions for bench in self.benches.values()),
            "papers": bool(job.circuits) and load.known,
        }

    def stage_state(self, stage: str, filled: bool | None = None) -> str:
        """ "empty", "in work" or "settled": settled has something in it and no open finding. `filled` is the word of a stage that
        the plan has none for."""
        if not (self.filled[stage] if filled is None else filled):
            return "empty"
        if self.withheld:
            return "in work"
        open_ = self.findings if stage == "papers" else self.findings_of(stage)
        return "in work" if any(finding.open for finding in open_) else "settled"


def _withheld(job: Job) -> str:
    """The one place that decides it: an exercise keeps findings, verdicts, best layouts and the day's order back until it is handed in."""
    return KEPT_BACK if job.practice.veiled else ""


def _kept_back() -> Finding:
    """What stands for all findings of an exercise that is not handed in: nothing may look as if it were in order."""
    return Finding(
        id="practice.kept_back",
        severity=Severity.STOP,  # on every sheet: the papers of an exercise are nobody's papers
        stage="practice",
        place=Place("practice:named"),
        title="Practice: findings are kept back",
        text="What the plan finds in this panel is shown once you have handed in; until then nothing is said to be in order.",
        remedy="Look for the faults, name them on Practice, and hand in.",
        acceptable=False,
    )


def plan(job: Job) -> Plan:
    """Work out everything that follows from `job`. Pure and deterministic; unknowns stay unknown.

    The findings of an exercise that is not handed in are kept back. Raises CodebookError only when the product's own data is damaged.
    """
    codebook, withheld = codebook_of(job), _withheld(job)
    load = load_result(job, codebook)
    amperes, volts = load.governing, load.inputs.line_volts
    main = main_entry(job, amperes, codebook)
    circuits = circuits_result(job, load, main, codebook)
    feeders = feeder_loads(job.panels, circuits.by_feeder, load)
    limits = partial(found_limits, job, amperes, codebook)
    service = service_result(job, amperes, main, load.neutral, volts, limits, feeders.loads, codebook)
    walk = walk_result(job, service, codebook, withheld)
    standing = installation(job, service, walk.grounding, circuits.branches, codebook)
    made = benches(circuits, walk.bottom_in)
    what_if = WhatIf(load, all_spaces_used(made), walk.weakest)
    found = (
        *(*walk.findings(), *circuits.old_findings(), *load.findings()),
        *(one for bench in made.values() for one in bench.counting_findings()),
        *(
            *verdict_findings(load, service.main),
            *single_findings(load, service.main),
            *service.findings(),
            *standing.findings(),
            *walk.chain_findings(),
            *(one for bench in made.values() for one in bench.findings()),
            *circuits.required_findings(),
        ),
    )
    day = DayTasks(Parts(job, codebook, made, circuits.branches, service, standing, walk.rods_added), withheld)
    found = (*found, *day_findings(day))
    if withheld:
        found = (_kept_back(),)
    accepted = job.decisions.accepted
    findings = [
        replace(one, accepted=accepted[one.id]) if one.acceptable and one.id in accepted else one for one in found
    ]
    findings.sort(key=lambda one: (bool(one.accepted), Severity.ASK.rank + 0.5 if one.cured else one.severity.rank))
    return Plan(
        job,
        codebook,
        load,
        service,
        walk,
        circuits,
        standing,
        made,
        what_if,
        feeders,
        day,
        Material(day.parts),
        tuple(findings),
    )
