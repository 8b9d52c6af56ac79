"""What is told of a panel beside the main one: entries and findings of the bench under that panel's name."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import upper_first

_OF_OLD = ("count.circuits", "count.poles", "count.spaces")  # of the old panel, told once


def entry_id(panel_id: str, name: str) -> str:
    """The id of an entry of a bench: "panel.leg_a" of the main panel is "panels.garage.leg_a" of the garage's."""
    return name if panel_id == MAIN else f"panels.{panel_id}.{name.partition('.')[2]}"


def place_of(panel_id: str, place: Place) -> Place:
    """A place of the main panel's record as that of another's."""
    if panel_id != MAIN and place.kind == "panel":
        return Place.of("panels", f"{panel_id}.box.{place.name}")
    return place


def entries_of(panel_id: str, entries: Iterable[Entry]) -> Iterator[Entry]:
    """The entries of a bench, with what they rest on, under the panel's name."""
    made = list(entries)
    if panel_id == MAIN:
        yield from made
        return
    ids = {entry.id for entry in made}

    def step(one: Step) -> Step:
        if one.place.entry_id in ids:
            return replace(one, place=Place.entry(entry_id(panel_id, one.place.entry_id)))
        return replace(one, place=place_of(panel_id, one.place))

    for entry in made:
        if entry.id not in _OF_OLD:
            yield replace(
                entry,
                id=entry_id(panel_id, entry.id),
                steps=tuple(step(one) for one in entry.steps),
                place=place_of(panel_id, entry.place),
            )


def findings_of(job: Job, panel_id: str, findings: Iterable[Finding]) -> Iterator[Finding]:
    """The findings of a bench. Those about the panel as a whole begin with its name; each has an id of its own."""
    for finding in findings:
        if panel_id == MAIN:
            yield finding
            continue
        at, place = f"@{panel_id}", place_of(panel_id, finding.place)
        if ":" in finding.id:  # about one circuit: it stands with those of other panels
            yield replace(finding, id=finding.id + at, place=place)
        else:
            title = f"{upper_first(panel_name(job, panel_id))}: {finding.title}"
            yield replace(finding, id=finding.id + at, kind=finding.kind + at, title=title, place=place)
