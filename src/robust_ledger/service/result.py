"""What the room of the service answers with: every size in the order they follow from one another, alternatives, findings."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import cached_property

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import METALS
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import ahead_box, inside_box
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.alternatives import RULES, Alternative, alternatives
from robust_ledger.service.bonding import bonding_jumper_entry, electrode_entry, equipment_ground_entry
from robust_ledger.service.bonds import bond_entries, bond_findings, wire_findings
from robust_ledger.service.emergency import label_of
from robust_ledger.service.equipment import equipment_entries, equipment_findings
from robust_ledger.service.fault import service_fault_entry, source_fault_entry, voltage_drop_entry
from robust_ledger.service.feeder import feeder_entries
from robust_ledger.service.feeder_findings import feeder_findings
from robust_ledger.service.findings import fault_findings, service_findings
from robust_ledger.service.inside import inside_entries, inside_findings
from robust_ledger.service.kept_equipment import conductors_stay, there_entry
from robust_ledger.service.kept_findings import kept_findings
from robust_ledger.service.lugs import bending_entry, knockout_findings, lug_findings
from robust_ledger.service.raceway import pulled_neutral_entry, raceway_for, service_fill_entries
from robust_ledger.service.sizing import neutral_conductor_entry, service_conductor_entry
from robust_ledger.service.split import split_entries, split_findings


def _chosen_conductors(job: Job) -> str:
    """The id of the service conductors: those found where they stay, else by the job's metal and practice."""
    if conductors_stay(job):
        return "service.conductors.there"
    return f"service.conductors.{job.decisions.metal}.{job.decisions.conductor_rule}"


def _service_entries(
    job: Job,
    load: Entry,
    main: Entry,
    neutral_load: Entry,
    line_volts: Step,
    feeders: Mapping[str, FeederLoad],
    codebook: Codebook,
) -> list[Entry]:
    """Main, conductors in both metals and by each practice, neutral, grounding, drop, fault currents, bonds, equipment, panels of
    a split service, feeder."""
    conductors = [service_conductor_entry(job, main, load, metal, rule, codebook) for metal in METALS for rule in RULES]
    conductors += [there_entry(job, codebook)] if conductors_stay(job) else []
    used = next(entry for entry in conductors if entry.id == _chosen_conductors(job))
    neutral = neutral_conductor_entry(job, used, neutral_load, main, codebook)
    pulled = pulled_neutral_entry(job, used, neutral, codebook)
    source = source_fault_entry(job, main, line_volts, codebook)
    panel_fault = service_fault_entry(job, "panel", used, source, line_volts, codebook)
    inside = inside_entries(job, main, load, feeders.get(MAIN), codebook)
    landing = next((entry for entry in inside if entry.id == "service.inside"), used)
    protection = next((entry for entry in inside if entry.id == "service.protection"), main)
    device = next(entry for entry in inside if entry.id == "service.panel_device")
    ahead = device if inside_box(job) is not None else protection
    meter_fault = service_fault_entry(job, "meter", used, source, line_volts, codebook)
    ahead_fault = service_fault_entry(job, "disconnect", used, source, line_volts, codebook)
    above = {
        "fault.meter": meter_fault,
        "fault.disconnect": ahead_fault if job.disconnect_ahead else meter_fault,
        "fault.panel": panel_fault,
        "rating.panel": device,
        "rating.disconnect": protection,
        "rating.meter": main,
    }
    made = [
        main,
        *conductors,
        neutral,
        pulled,
        electrode_entry(used, codebook),
        bonding_jumper_entry(used, codebook),
        *inside,
        equipment_ground_entry(ahead, codebook),
        bending_entry(landing, codebook),
        voltage_drop_entry(job, used, load, line_volts, codebook),
        source,
        meter_fault,
        panel_fault,
        raceway_for("service.raceway", job, used, neutral, codebook),
        *service_fill_entries(job, used, pulled, codebook),
        *bond_entries(job, codebook),
        *equipment_entries(job, device, codebook),
        *split_entries(job, codebook),
        *feeder_entries(job, feeders, above, line_volts, codebook),
    ]
    if job.disconnect_ahead:
        made.append(ahead_fault)
    return made


class ServiceResult(Room, Struct, frozen=True, dict=True):
    """The service for a load. `found_limits` tells what the conductors found hold, for the alternatives; `feeders` what the feeder of
    each panel carries."""

    job: Job
    codebook: Codebook
    load: Entry
    neutral_load: Entry
    entries: dict[str, Entry]
    found_limits: Callable[[], list[tuple[str, Entry]]]
    feeders: Mapping[str, FeederLoad]
    lazy = ("service.alternative.",)

    @property
    def main(self) -> Entry:
        """The main breaker [A]."""
        return self.entries["service.main"]

    def device(self, panel_id: str) -> Entry:
        """What protects a panel's bus [A]; for the enclosure of the disconnect ahead that one itself."""
        if (box := ahead_box(self.job)) is not None and box.id == panel_id:
            return self.entries["service.protection"]
        name = "service.panel_device" if panel_id == MAIN else f"feeder.{panel_id}.rating"
        return self.entries.get(name, self.main)

    @property
    def conductors(self) -> Entry:
        """The service conductors by the job's metal and rule."""
        return self.entries[_chosen_conductors(self.job)]

    @property
    def landing(self) -> Entry:
        """The conductors that land on the panel's main terminals."""
        split = self.entries.get("service.split", self.conductors)
        return self.entries.get("service.inside", split)

    @property
    def emergency_label(self) -> tuple[str, ...]:
        """The lines of the label on the emergency disconnect; none while there is none."""
        return label_of(self.job)

    @property
    def neutral(self) -> Entry:
        """The neutral conductor."""
        return self.entries["service.neutral"]

    @property
    def pulled_neutral(self) -> Entry:
        """The neutral really to be pulled."""
        return self.entries["service.neutral_pulled"]

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

    def families(self) -> Iterator[Entry]:
        return (entry for one in self.alternatives for entry in one.entries)

    def findings(self) -> Iterator[Finding]:
        """Findings of the Service stage; those of the chain are the walk-through's."""
        job, codebook = self.job, self.codebook
        yield from service_findings(job, self.load, self.main, codebook)
        yield from kept_findings(job, self.main, self.load, self.entries, codebook)
        yield from inside_findings(job, self.device(MAIN), self.feeders.get(MAIN), codebook)
        yield from fault_findings(job, self.entries, codebook)
        yield from bond_findings(job, codebook)
        yield from wire_findings(job, codebook)
        yield from lug_findings(job, self.entries, self.landing, self.conductors, codebook)
        yield from knockout_findings(job, self.mbj, codebook)
        yield from equipment_findings(job, self.entries, codebook)
        yield from split_findings(job, self.load, self.feeders.get(MAIN), codebook)
        yield from feeder_findings(job, self.device(MAIN), self.feeders, self.entries, codebook)


def service_result(
    job: Job,
    load: Entry,
    main: Entry,
    neutral_load: Entry,
    line_volts: Step,
    found_limits: Callable[[], list[tuple[str, Entry]]],
    feeders: Mapping[str, FeederLoad],
    codebook: Codebook,
) -> ServiceResult:
    """The service with its `main` that carries `load` [A] with `neutral_load` [A] on its neutral; `feeders` tell what the feeder of each panel
    carries."""
    entries = by_id(*_service_entries(job, load, main, neutral_load, line_volts, feeders, codebook))
    return ServiceResult(job, codebook, load, neutral_load, entries, found_limits, feeders)
