"""What the room of the service answers with: every size in the order they follow from one another, alternatives, findings."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import cached_property

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import METALS
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import ahead_box, fed_nodes, main_fed
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.room import Room, by_id
from robust_ledger.load.feeder import FeederLoad
from robust_ledger.service.alternatives import RULES, Alternative, alternatives
from robust_ledger.service.bonding import bonding_jumper_entry, electrode_entry
from robust_ledger.service.emergency import emergency_entry, label_of, surge_entry
from robust_ledger.service.equipment import (
    equipment_findings,
    interlock_entry,
    main_or_lugs_entry,
    solar_bus_entry,
)
from robust_ledger.service.fault import service_fault_entry, source_fault_entry, voltage_drop_entry
from robust_ledger.service.feeder import feeder_figures
from robust_ledger.service.feeder_findings import feeder_findings
from robust_ledger.service.figures import ServiceFigures
from robust_ledger.service.findings import fault_findings, service_findings
from robust_ledger.service.kept_equipment import conductors_stay, protection_entry, there_entry
from robust_ledger.service.kept_findings import kept_findings
from robust_ledger.service.lugs import bending_entry, knockout_findings, lug_findings
from robust_ledger.service.mains import device_entry, mains_entry, own_main, split_findings
from robust_ledger.service.raceway import pulled_neutral_entry, raceway_for, service_fill_entry
from robust_ledger.service.sizing import neutral_conductor_entry, open_to_83, service_conductor_entry


def _worked_out(
    job: Job,
    load: Entry,
    main: Entry,
    neutral_load: Entry,
    line_volts: Step,
    feeders: Mapping[str, FeederLoad],
    codebook: Codebook,
) -> tuple[ServiceFigures, dict[str, Entry]]:
    """Main, conductors in both metals and by each practice, neutral, grounding, drop, fault currents, bonds, equipment, panels of
    a split service, feeder: by their names, and all of them by id."""
    sized: dict[tuple[str, str], Entry] = {
        (metal, rule): service_conductor_entry(job, main, load, metal, rule, codebook)
        for metal in METALS
        for rule in RULES
    }
    there = there_entry(job, codebook) if conductors_stay(job) else None
    used = there or sized[job.decisions.metal, job.decisions.conductor_rule]
    neutral = neutral_conductor_entry(job, used, neutral_load, main, codebook)
    pulled = pulled_neutral_entry(job, used, neutral, codebook)
    source = source_fault_entry(job, main, line_volts, codebook)
    meter_fault = service_fault_entry(job, "meter", used, source, line_volts, codebook)
    ahead_fault = service_fault_entry(job, "disconnect", used, source, line_volts, codebook)
    above = {
        "fault.meter": meter_fault,
        "fault.disconnect": ahead_fault if job.disconnect_ahead else meter_fault,
        "rating.disconnect": protection_entry(job, main, codebook) if job.disconnect_ahead else main,
        "rating.meter": main,
    }
    panel_fault = service_fault_entry(job, "panel", used, source, line_volts, codebook)
    above |= {"fault.panel": panel_fault, "rating.panel": main}
    if own_main(job):
        above["own.panel"] = main
    planned = sized[job.decisions.metal, job.decisions.conductor_rule]
    nodes = fed_nodes(job)
    service = (planned, pulled if there is None else None)
    fed = feeder_figures(job, nodes, feeders, service, above, line_volts, codebook)
    to_main = fed.get(MAIN)
    panel_fault = to_main.fault if to_main is not None else panel_fault
    device = device_entry(job, main, to_main, codebook)
    equipment = job.equipment
    mains = mains_entry(job, main)
    figures = ServiceFigures(
        main=main,
        mains=mains,
        conductors=used,
        neutral=neutral,
        pulled_neutral=pulled,
        gec=electrode_entry(used, codebook),
        mbj=bonding_jumper_entry(used, codebook),
        bending=bending_entry(to_main.conductors if to_main is not None else used, codebook),
        drop=voltage_drop_entry(job, used, load, line_volts, codebook),
        fault_source=source,
        fault_meter=meter_fault,
        fault_panel=panel_fault,
        raceway=raceway_for("service.raceway", job, used, neutral, codebook),
        panel_device=device,
        emergency=emergency_entry(job, codebook),
        spd=surge_entry(job, codebook),
        main_or_lugs=main_or_lugs_entry(job, codebook),
        sized=sized,
        fill=service_fill_entry(job, used, pulled, codebook),
        there=there,
        feeders=fed,
        ahead=above["rating.disconnect"] if job.disconnect_ahead else None,
        fault_disconnect=ahead_fault if job.disconnect_ahead else None,
        interlock=interlock_entry(job, codebook) if equipment.generator_a is not None else None,
        closed_83=open_to_83(job, main.amount, False, codebook) if main.known else "",
        solar_bus=solar_bus_entry(job, device, codebook) if equipment.inverter_a is not None else None,
    )
    made = [
        main,
        *([mains] if mains is not main else []),
        *sized.values(),
        *([there] if there is not None else []),
        neutral,
        pulled,
        figures.gec,
        figures.mbj,
        *([figures.ahead] if figures.ahead is not None else []),
        device,
        figures.bending,
        figures.drop,
        source,
        meter_fault,
        panel_fault,
        figures.raceway,
        *([figures.fill] if figures.fill is not None else []),
        *figures.decided,
        *(entry for feeder in figures.feeders.values() for entry in feeder.entries()),
        *([ahead_fault] if job.disconnect_ahead else []),
    ]
    return figures, by_id(*made)


class ServiceResult(Room, Struct, frozen=True, dict=True):
    """The service for a load. `found_limits` tells what the conductors found hold, for the alternatives; `feeders` what the feeder of
    each panel carries."""

    job: Job
    codebook: Codebook
    load: Entry
    neutral_load: Entry
    figures: ServiceFigures
    entries: dict[str, Entry]
    found_limits: Callable[[], list[tuple[str, Entry]]]
    feeders: Mapping[str, FeederLoad]
    lazy = ("service.alternative.",)

    @property
    def main(self) -> Entry:
        """The main breaker [A]."""
        return self.figures.main

    def device(self, panel_id: str) -> Entry:
        """What protects a panel's bus [A]; for the enclosure of the disconnect ahead that one itself."""
        if (box := ahead_box(self.job)) is not None and box.id == panel_id:
            return self.figures.ahead or self.main
        if panel_id == MAIN:
            return self.figures.panel_device
        feeder = self.figures.feeders.get(panel_id)
        return feeder.rating if feeder is not None else self.main

    @property
    def conductors(self) -> Entry:
        """The service conductors by the job's metal and rule."""
        return self.figures.conductors

    @property
    def emergency_label(self) -> tuple[str, ...]:
        """The lines of the label on the emergency disconnect; none while there is none."""
        return label_of(self.job)

    @property
    def neutral(self) -> Entry:
        """The neutral conductor."""
        return self.figures.neutral

    @property
    def gec(self) -> Entry:
        """The GEC, by the table."""
        return self.figures.gec

    @cached_property
    def alternatives(self) -> tuple[Alternative, ...]:
        """Every main from 100 to 400 A in both metals."""
        return tuple(alternatives(self.job, self.load, self.neutral_load, self.found_limits(), self.codebook))

    def families(self) -> Iterator[Entry]:
        """Every entry of the alternatives."""
        return (entry for alternative in self.alternatives for entry in alternative.entries)

    def findings(self) -> Iterator[Finding]:
        """Findings of the Service stage; those of the chain are the walk-through's."""
        job, codebook = self.job, self.codebook
        yield from service_findings(job, self.load, self.main, codebook)
        yield from kept_findings(job, self.figures, codebook)
        yield from fault_findings(job, self.figures, codebook)
        yield from lug_findings(job, self.figures, codebook)
        yield from knockout_findings(job, self.figures.mbj, codebook)
        yield from equipment_findings(job, self.figures, codebook)
        yield from split_findings(job, self.load, codebook)
        yield from feeder_findings(job, self.device(MAIN), self.feeders, self.figures, codebook)


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
    if main_fed(job) and MAIN not in feeders:  # nothing is beside it
        feeders = {**feeders, MAIN: FeederLoad(load, neutral_load, load, None, not job.scope.split)}
    figures, entries = _worked_out(job, load, main, neutral_load, line_volts, feeders, codebook)
    return ServiceResult(job, codebook, load, neutral_load, figures, entries, found_limits, feeders)
