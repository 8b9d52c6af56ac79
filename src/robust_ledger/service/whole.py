"""The whole service: every entry in the order they follow from one another, and every finding."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import METALS
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.service.bonding import bonding_jumper_entry, electrode_entry, equipment_ground_entry
from robust_ledger.service.bonds import bond_entries, bond_findings
from robust_ledger.service.equipment import equipment_entries, equipment_findings
from robust_ledger.service.fault import service_fault_entry, source_fault_entry, voltage_drop_entry
from robust_ledger.service.feeder import feeder_entries, feeder_findings
from robust_ledger.service.findings import fault_findings, service_findings
from robust_ledger.service.raceway import service_fill_entries
from robust_ledger.service.sizing import main_entry, neutral_conductor_entry, service_conductor_entry
from robust_ledger.service.split import split_entries, split_findings

RULES = ("dwelling", "full")


def chosen_conductors(job: Job) -> str:
    """The id of the service conductors by the job's metal and rule."""
    return f"service.conductors.{job.decisions.metal}.{job.decisions.conductor_rule}"


def service_entries(job: Job, load: Entry, neutral_load: Entry, line_volts: Step, codebook: Codebook) -> list[Entry]:
    """Main, conductors in both metals and by both rules, neutral, earth, drop, fault currents, bonds, equipment, panels of
    a split service, feeder."""
    main = main_entry(job, load, codebook)
    conductors = [service_conductor_entry(job, main, metal, rule, codebook) for metal in METALS for rule in RULES]
    used = next(entry for entry in conductors if entry.id == chosen_conductors(job))
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


def all_service_findings(job: Job, load: Entry, entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Findings of the Service stage; those of the chain are the walk-through's."""
    main = entries["service.main"]
    yield from service_findings(job, load, main, codebook)
    yield from fault_findings(job, entries["service.fault_panel"], codebook)
    yield from bond_findings(job, codebook)
    yield from equipment_findings(job, entries, codebook)
    yield from split_findings(job, load, codebook)
    yield from feeder_findings(job, main, entries.get("feeder.fault"), codebook)
