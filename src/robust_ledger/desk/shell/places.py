"""What is said of a place: the findings about it, and the entries that explain it; and how the cursor gets from one to another."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import is_whole
from robust_ledger.plan import Plan

if TYPE_CHECKING:
    from robust_ledger.desk.shell.window import Window

# Fields of a panel's record that its form in the tree has; the others are on the bench.
OF_TREE = ("spaces", "bus_a", "aic_a", "main", "first_disconnect", "lugs_most", "bar_most")


def findings_at(plan: Plan, place: str) -> list[Finding]:
    """Findings of any stage about a place; a branch circuit stands for the old circuit or the load it comes from."""
    here = Place(place)
    places = {here}
    if here.kind == "branch":
        key = CircuitKey(here.name)
        places.add(Place.of("circuit" if key.kind == "tag" else key.kind, key.name))
    elif here.kind == "circuit":
        places.add(Place.branch(_key_of(here)))
    elif here.kind == "load":
        places.add(Place.branch(CircuitKey.of_load(here.name)))
    return [finding for finding in plan.findings if finding.place in places]


def entries_of(plan: Plan, place: str) -> tuple[str, ...]:
    """The entries that explain a place, the most telling first."""
    here = Place(place)
    if here.kind == "circuit":
        key = _key_of(here)
        wanted = [f"branch.breaker.{key}", f"branch.expected.{key}"]
    elif here.kind == "branch":
        key = CircuitKey(here.name)
        wanted = [
            f"reach.{key}",
            f"splice.{key}",
            f"protection.{key}",
            f"branch.breaker.{key}",
            f"branch.expected.{key}",
        ]
    elif here.kind == "load":
        key = CircuitKey.of_load(here.name)
        counted = [line.entry_id for line in plan.load.chosen.lines if line.place == here]
        wanted = [f"load.nameplate.{here.name}", *counted, f"branch.breaker.{key}", f"branch.wire.{key}"]
    else:
        wanted = [entry_id for entry_id, entry in plan.entries.items() if entry.place == here][:2]
    return tuple(dict.fromkeys(entry_id for entry_id in wanted if plan.entry(entry_id)))


def _key_of(circuit: Place) -> CircuitKey:
    """The key of an old circuit's place; of no circuit where it names no tag."""
    return CircuitKey.of_tag(int(circuit.name)) if is_whole(circuit.name) else CircuitKey(circuit.name)


def at_panel(store: JobStore, place: Place) -> Place:
    """A place that is about one of several panels, with that one taken into view."""
    if place.kind == "branch" and (branch := store.plan.branch(place.name)) is not None:
        store.look_at(branch.panel)
    if place.kind == "panels":
        panel_id, _, field = place.name.partition(".box.")
        if field and field not in OF_TREE:
            store.look_at(panel_id)
            return Place.of("panel", field)
    elif place.kind == "panel":
        store.look_at(MAIN)
    return place


def next_area(window: Window) -> None:
    """Page, margin, bottom line, spine, and round again."""
    focus = QApplication.focusWidget()
    areas = [window.pages, window.margin, window.bottom, window.spine]
    here = next((n for n, area in enumerate(areas) if focus is not None and area.isAncestorOf(focus)), -1)
    wanted = areas[(here + 1) % len(areas)]
    if wanted is window.pages:
        window.stage().start()
    elif wanted is window.margin:
        window.margin.text.setFocus(Qt.FocusReason.TabFocusReason)
    elif wanted is window.bottom:
        next(iter(window.bottom.figures.values())).setFocus(Qt.FocusReason.TabFocusReason)
    else:
        window.spine.buttons[window.current].setFocus(Qt.FocusReason.TabFocusReason)
