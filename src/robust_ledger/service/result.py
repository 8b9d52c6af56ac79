"""What the room of the service answers with: every size in the order they follow from one another, alternatives, findings."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import METALS
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.service.alternatives import Alternative, alternatives
from robust_ledger.service.bonding import bonding_jumper_entry, electrode_entry, equipment_ground_entry
from robust_ledger.service.bonds import bond_entries, bond_findings
from robust_ledger.service.equipment import equipment_entries, equipment_findings
from robust_ledger.service.fault import service_fault_entry, source_fault_entry, voltage_drop_entry
from robust_ledger.service.feeder import feeder_entries, feeder_findings
from robust_ledger.service.findings import fault_findings, service_findings
from robust_ledger.service.one_line import Node, one_line
from robust_ledger.service.raceway import service_fill_entries
from robust_ledger.service.sizing import main_entry, neutral_conductor_entry, service_conductor_entry
from robust_ledger.service.split import split_entries, split_findings

RULES = ("dwelling", "full")


def _chosen_conductors(job: Job) -> str:
    """The id of the service conductors by the job's metal and rule."""
    return f"service.conductors.{job.decisions.metal}.{job.decisions.conductor_rule}"


def _service_entries(job: Job, load: Entry, neutral_load: Entry, line_volts: Step, codebook: Codebook) -> list[Entry]:
    """Main, conductors in both metals and by both rules, neutral, earth, drop, fault currents, bonds, equipment, panels of
    a split service, feeder."""
    main = main_entry(job, load, codebook)
    conductors = [service_conductor_entry(job, main, metal, rule, codebook) for metal in METALS for rule in RULES]
    used = next(entry for entry in conductors if entry.id == _chosen_conductors(job))
    neutral = neutral_conductor_entry(job, used, neutral_load, codebook)
    source = source_fault_entry(job, line_volts, codebook)
    panel_fault = service_fault_entry(job, "panel", used, source, line_volts, codebook)
    return [
        main,
        *conductors,
        neutral,
        electrode_entry(used, codebook),
        bonding_jumper_entry(used, codebook),
        equipment_ground_entry(main, codebook),
        voltage_drop_entry(job, used, load, line_volts, codebook),
        source,
        service_fault_entry(job, "meter", used, source, line_volts, codebook),
        panel_fault,
        *service_fill_entries(job, used, neutral, codebook),
        *bond_entries(job, codebook),
        *equipment_entries(job, main, codebook),
        *split_entries(job, codebook),
        *feeder_entries(job, panel_fault, line_volts, codebook),
    ]


class ServiceResult(Room, Struct, frozen=True, dict=True):
    """The service for a load. `found_limits` tells what the conductors found hold, for the alternatives."""

    job: Job
    codebook: Codebook
    load: Entry
    neutral_load: Entry
    entries: dict[str, Entry]
    found_limits: Callable[[], list[tuple[str, Entry]]]
    lazy = ("service.alternative.",)

    @property
    def main(self) -> Entry:
        """The main breaker [A]."""
        return self.entries["service.main"]

    @property
    def conductors(self) -> Entry:
        """The service conductors by the job's metal and rule."""
        return self.entries[_chosen_conductors(self.job)]

    @property
    def neutral(self) -> Entry:
        """The neutral conductor."""
        return self.entries["service.neutral"]

    @property
    def gec(self) -> Entry:
        """The grounding GEC, by the table."""
        return self.entries["service.gec"]

    @property
    def mbj(self) -> Entry:
        """The main bonding jumper."""
        return self.entries["service.mbj"]

    @property
    def egc(self) -> Entry:
        """The equipment grounding conductor by the main's rating."""
        return self.entries["service.egc"]

    @property
    def panel_fault(self) -> Entry:
        """Available fault current at the panel [A]."""
        return self.entries["service.fault_panel"]

    @cached_property
    def alternatives(self) -> tuple[Alternative, ...]:
        """Every main from 100 to 400 A in both metals."""
        return tuple(alternatives(self.job, self.load, self.neutral_load, self.found_limits(), self.codebook))

    @cached_property
    def one_line(self) -> tuple[Node, ...]:
        """The planned service as a drawing: boxes from the utility on."""
        return one_line(self.job, self.conductors, self.entries)

    def families(self) -> Iterator[Entry]:
        return (entry for one in self.alternatives for entry in one.entries)

    def findings(self) -> Iterator[Finding]:
        """Findings of the Service stage; those of the chain are the walk-through's."""
        job, codebook = self.job, self.codebook
        yield from service_findings(job, self.load, self.main, codebook)
        yield from fault_findings(job, self.panel_fault, codebook)
        yield from bond_findings(job, codebook)
        yield from equipment_findings(job, self.entries, codebook)
        yield from split_findings(job, self.load, codebook)
        yield from feeder_findings(job, self.main, self.entries.get("feeder.fault"), codebook)


def service_result(
    job: Job,
    load: Entry,
    neutral_load: Entry,
    line_volts: Step,
    found_limits: Callable[[], list[tuple[str, Entry]]],
    codebook: Codebook,
) -> ServiceResult:
    """The service that carries `load` [A] with `neutral_load` [A] on its neutral."""
    entries = by_id(*_service_entries(job, load, neutral_load, line_volts, codebook))
    return ServiceResult(job, codebook, load, neutral_load, entries, found_limits)
