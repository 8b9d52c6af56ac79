"""plan(job): everything that follows from a job, in one pure function. The one place that joins the rooms."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

from robust_ledger.branch.circuits import branches
from robust_ledger.branch.effects import effects
from robust_ledger.branch.findings import circuit_findings
from robust_ledger.branch.model import Branch
from robust_ledger.branch.old_panel import old_panel_findings
from robust_ledger.branch.outlets import Schools, all_schools, fastened_share, general_circuits
from robust_ledger.branch.passes import pass_findings
from robust_ledger.branch.protection import protection_entry
from robust_ledger.branch.required import Requirement
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.local import Amendment, amended_codebook
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.heading import Scope
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.load.answers import answers_for
from robust_ledger.load.findings import load_findings
from robust_ledger.load.general import LoadInputs, load_inputs
from robust_ledger.load.methods import Method, methods, recommendation
from robust_ledger.load.neutral import neutral_entry
from robust_ledger.load.tape import Calculation
from robust_ledger.load.whatif import Column, columns
from robust_ledger.panel.bench import bench, findings_of_bench
from robust_ledger.panel.bench_drawing import Picture
from robust_ledger.panel.counting import counting_findings
from robust_ledger.panel.directory import Change, change_list
from robust_ledger.panel.placement import Placement
from robust_ledger.panel.reach import Enclosures, Reach, Wire, reach_entry
from robust_ledger.panel.schedule import Slot
from robust_ledger.service.alternatives import Alternative, alternatives
from robust_ledger.service.one_line import Node, one_line
from robust_ledger.service.whole import all_service_findings, chosen_conductors, service_entries
from robust_ledger.survey.chain import Link, chain_findings, found_limits, links, weakest
from robust_ledger.survey.defects import Judged, judged
from robust_ledger.survey.scope import asked
from robust_ledger.survey.walkthrough import walkthrough_entries, walkthrough_findings


@dataclass(frozen=True)
class Plan:
    """All that follows from a job. `entries` holds every number shown anywhere, by its stable id; those of the what-if
    columns and of the service's alternatives, as many calculations again, are worked out when first asked for."""

    job: Job
    codebook: Codebook
    entries: dict[str, Entry]
    findings: tuple[Finding, ...]
    methods: dict[str, Method]
    inputs: LoadInputs
    branches: tuple[Branch, ...]
    placement: Placement
    schedule: tuple[Slot, ...]
    boxes: Enclosures
    wires: dict[CircuitKey, Wire]
    reach: dict[CircuitKey, Reach]
    requirements: tuple[Requirement, ...]

    @property
    def calculations(self) -> dict[str, Calculation]:
        """All four calculations by the name of their method."""
        return {name: method.calculation for name, method in self.methods.items()}

    @cached_property
    def columns(self) -> tuple[Column, ...]:
        """Today, after this job, and with each future."""
        link = weakest(self.chain)
        made = columns(self.inputs, self.chosen, self.entries["panel.spaces_used"], link)
        return tuple(replace(column, answers=answers_for(column, self.inputs, link)) for column in made)

    @cached_property
    def chain(self) -> tuple[Link, ...]:
        """The links of the service, from the utility's conductors to the bus."""
        return links(self.job, self.alternatives, self.entries["service.main"], self.codebook)

    @cached_property
    def all_entries(self) -> dict[str, Entry]:
        """Every entry, those of the what-if columns and of the alternatives too."""
        more = [entry for column in self.columns for entry in column.entries]
        more += [entry for one in self.alternatives for entry in one.entries]
        more += [entry for link in self.chain for entry in (link.limit, link.planned)]
        more += [*self.reach_entries, *self.protection_entries, *self.outlet_entries]
        return {**self.entries, **{entry.id: entry for entry in more}}

    @cached_property
    def reach_entries(self) -> tuple[Entry, ...]:
        """The wire of every placed circuit: its free length, and what is left over where it sits."""
        made = []
        for key, reach in self.reach.items():
            wire, branch = self.wires[key], self.branch(key)
            if branch is not None:
                label = f"Tag {branch.tag}" if branch.tag != "new" else branch.feeds
                made += [*([wire.free] if wire.free else ()), reach_entry(wire, reach, label)]
        return tuple(made)

    @cached_property
    def protection_entries(self) -> tuple[Entry, ...]:
        """The kind of each breaker with the reasons."""
        return tuple(
            protection_entry(b.key, f"Tag {b.tag}" if b.tag != "new" else b.feeds, b.work, b.protection, self.codebook)
            for b in self.branches
            if b.protection is not None
        )

    @cached_property
    def schools(self) -> tuple[Schools, ...]:
        """How many outlets each general circuit may have, by three schools."""
        return all_schools(self.job, self.branches, self.codebook)

    @cached_property
    def outlet_entries(self) -> tuple[Entry, ...]:
        """What the schools rest on, shares of fastened loads, and the least number of general circuits."""
        made = [entry for one in self.schools for entry in (one.by_va, one.by_use)]
        shares = (fastened_share(self.job, b, self.inputs.nameplates, self.codebook) for b in self.branches)
        made += [entry for entry in shares if entry is not None]
        return (*made, *general_circuits(self.job, self.entries["load.optional.lighting"], self.codebook).values())

    @property
    def bottom_in(self) -> float | None:
        """Height of the new enclosure's bottom above the floor; None where it is not known."""
        bottom = self.entries.get("fit.bottom")
        return bottom.amount if bottom is not None and bottom.known else None

    @cached_property
    def picture(self) -> Picture:
        """The new panel as it is drawn."""
        open_at = {finding.place for finding in self.findings if finding.open}
        flagged = frozenset(
            b.key for b in self.branches if open_at & {Place.branch(b.key), Place.circuit(b.key.tag), b.key}
        )
        by_key = {b.key: b for b in self.branches}
        return Picture(self.job, by_key, self.schedule, self.reach, self.wires, self.entries["service.main"], flagged)

    @cached_property
    def changes(self) -> tuple[Change, ...]:
        """Old space and new space of every circuit."""
        return change_list(self.job, self.branches, self.placement, self.reach)

    @cached_property
    def alternatives(self) -> tuple[Alternative, ...]:
        """Every main from 100 to 400 A in both metals."""
        amperes, neutral = self.chosen.amperes, self.entries["load.neutral"]
        kept = found_limits(self.job, self.codebook)
        return tuple(alternatives(self.job, amperes, neutral, kept, self.codebook))

    @cached_property
    def one_line(self) -> tuple[Node, ...]:
        """The planned service as a drawing: boxes from the utility on."""
        return one_line(self.job, self.service_conductors, self.entries)

    @property
    def asked(self) -> tuple[str, ...]:
        """The topics of the walk-through that the job's scope asks about."""
        return asked(self.job)

    @cached_property
    def defects(self) -> tuple[Judged, ...]:
        """The inherited defects by both schools."""
        return judged(self.job)

    def entry(self, entry_id: str) -> Entry | None:
        """An entry by its id, None when there is none."""
        later = entry_id.startswith(("whatif.", "service.alternative.", "chain.", "reach.", "outlets.", "protection."))
        return (self.all_entries if later else self.entries).get(entry_id)

    @property
    def chosen(self) -> Calculation:
        """The calculation by the method the job has chosen."""
        return self.calculations[self.job.decisions.load_method]

    @property
    def service_conductors(self) -> Entry:
        """The service conductors by the chosen metal and rule."""
        return self.entries[chosen_conductors(self.job)]

    def branch(self, key: str) -> Branch | None:
        return next((b for b in self.branches if b.key == key), None)

    def effects(self, tag: int) -> tuple[str, ...]:
        """What the plan changes of a circuit as found."""
        circuit, branch = self.job.circuit(tag), self.branch(CircuitKey.of_tag(tag))
        if circuit is not None and branch is None:
            return (f"joined onto tag {self.job.change(CircuitKey.of_tag(tag)).into}",)
        return effects(self.job, circuit, branch) if circuit and branch else ()

    def findings_of(self, stage: str) -> list[Finding]:
        return [f for f in self.findings if f.stage == stage]

    def findings_at(self, place: str) -> list[Finding]:
        return [f for f in self.findings if f.place == place]

    @property
    def filled(self) -> dict[str, bool]:
        """Which stages of the plan have something in them, in their order."""
        return {
            "walkthrough": self.job.scope is not Scope.UNSAID,
            "pulloff": bool(self.job.circuits),
            "load": bool(self.job.loads) or self.job.dwelling.area is not None,
            "service": self.entries["service.main"].known,
            "bench": bool(self.placement.positions),
            "papers": bool(self.job.circuits) and self.chosen.amperes.known,
        }

    def stage_state(self, stage: str, filled: bool | None = None) -> str:
        """«empty», «in work» or «settled»: settled has something in it and no open finding. `filled` is the word of a stage that
        the plan has none for."""
        if not (self.filled[stage] if filled is None else filled):
            return "empty"
        open_ = self.findings if stage == "papers" else self.findings_of(stage)
        return "in work" if any(f.open for f in open_) else "settled"


def amendments_of(job: Job) -> tuple[Amendment, ...]:
    """The job's local rules as the codebook takes them."""
    return tuple(Amendment(rule.key, rule.value, rule.section) for rule in job.local_rules)


def codebook_of(job: Job) -> Codebook:
    """The job's edition with its local rules laid over it."""
    return amended_codebook(job.edition, amendments_of(job))


def plan(job: Job) -> Plan:
    """Work out everything that follows from `job`. Pure and deterministic; unknowns stay unknown.

    Raises CodebookError only when the product's own data is damaged.
    """
    codebook = codebook_of(job)
    inputs = load_inputs(job, codebook)
    options = methods(inputs)
    chosen = options[job.decisions.load_method]
    neutral_load = neutral_entry(inputs, options["standard"].calculation)
    amperes = chosen.calculation.amperes

    service = service_entries(job, amperes, neutral_load, inputs.line_volts, codebook)
    sized = {entry.id: entry for entry in service}
    main = sized["service.main"]
    ungrounded = sized[chosen_conductors(job)]

    # A recording does not tell what each circuit carries: the legs are then dealt by the optional calculation.
    dealt = options["optional" if chosen.name == "measured" else chosen.name].calculation
    circuits = branches(job, inputs.nameplates, dealt, codebook)
    walk = {entry.id: entry for entry in walkthrough_entries(job, ungrounded, codebook)}
    fit_bottom = walk.get("fit.bottom")
    made = bench(job, circuits, fit_bottom.amount if fit_bottom and fit_bottom.known else None, codebook)

    every = [
        *inputs.nameplates.values(),
        *(entry for m in options.values() for entry in (*m.calculation.entries, m.state, m.main)),
        recommendation(options, inputs),
        neutral_load,
        *service,
        *walk.values(),
        *made.entries,
    ]
    entries = {entry.id: entry for entry in every}
    found = [
        *walkthrough_findings(job, entries, codebook),
        *circuit_findings(job, inputs.nameplates, codebook),
        *old_panel_findings(job, codebook),
        *pass_findings(job, codebook),
        *load_findings(inputs, chosen),
        *counting_findings(job, entries, codebook),
        *all_service_findings(job, amperes, entries, codebook),
        *chain_findings(job, main, ungrounded, entries["service.neutral"], codebook),
        *findings_of_bench(job, made, inputs.nameplates, entries, codebook),
    ]
    accepted = job.decisions.accepted
    findings = [replace(f, accepted=accepted[f.id]) if f.id in accepted else f for f in found]
    findings.sort(key=lambda f: (bool(f.accepted), f.severity.rank))
    return Plan(
        job,
        codebook,
        entries,
        tuple(findings),
        options,
        inputs,
        tuple(circuits),
        made.placement,
        made.schedule,
        made.boxes,
        made.wires,
        made.reach,
        made.requirements,
    )
