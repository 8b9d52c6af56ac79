"""Facts of the nodes beside the main panel: "garage sub is on a sixty", "there's a sub panel in the basement". Each node of the job is a thing
by its name; a place that has none yet becomes one when it is said to have, or to get, a panel."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from typing import Any

from robust_ledger.callout.tokens import tokens_of
from robust_ledger.job.edits import add_panel, change_panel
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel

PREFIX = "panels:"  # of a node's field: "panels:garage.breaker_a", as its place is written
SUBS = ("subpanel", "sub panel", "sub", "sub-panel")
PANELS = (*SUBS, "panel", "feeder")
INSIDE = frozenset(("basement", "attic", "addition", "apartment", "laundry", "cellar"))


def node_id(name: str) -> str:
    """The id that a place makes."""
    return "-".join(name.lower().split())


def nodes_said(
    job: Job, words: Sequence[str], places: Sequence[str]
) -> Iterator[tuple[str, str, tuple[str, ...], bool]]:
    """The nodes that a line may be about: id, name, the ways to say them, and whether they are there already. `places`: where a node that is
    not there yet may be."""
    line = f" {' '.join(words)} "
    panels = [panel for panel in job.panels if not panel.gone and panel.name]
    for panel in panels:
        name = panel.name.lower()
        said = (name, *ways_to_say(name.removesuffix(" panel")))
        yield panel.id, panel.name, (*said, *(SUBS if len(panels) == 1 else ())), True
    taken = {panel.name.lower().removesuffix(" panel") for panel in panels} | {panel.id for panel in job.panels}
    for place in places:
        if f" {place} " in line and place not in taken and node_id(place) not in taken:
            yield node_id(place), place, ways_to_say(place, SUBS), False


@lru_cache(maxsize=256)
def ways_to_say(place: str, kinds: tuple[str, ...] = PANELS) -> tuple[str, ...]:
    """ "garage panel", "sub panel in the garage"."""
    made = [f"{place} {kind}" for kind in kinds]
    made += [
        f"{kind} {between} {place}"
        for kind in kinds
        for between in ("in the", "for the", "to the", "out in the", "at the", "in")
    ]
    return tuple(made)


def set_node(job: Job, path: str, value: Any) -> Job:
    """The job with a field of a node set by its place; a node that is not there is added. Raises ModelError."""
    node, _, field = path.removeprefix(PREFIX).partition(".")
    if job.panel_of(node) is None:
        name = node.replace("-", " ")
        job = add_panel(job, Panel(id=node, name=name, separate_building=name not in INSIDE))
    return change_panel(job, node, **{field: value})


def of_node(path: str, node: str) -> str:
    """The field of a node that a row of the lexicon is about."""
    return f"{PREFIX}{node}.{path}"


@lru_cache(maxsize=256)
def names_of(said: tuple[str, ...], concept: str) -> Mapping[str, list[tuple[tuple[str, ...], str]]]:
    """The names of a node as the lexicon keeps them, by their first word."""
    made: dict[str, list[tuple[tuple[str, ...], str]]] = {}
    for words in said:
        key = tuple(token.lower for token in tokens_of(words))
        if key:
            made.setdefault(key[0], []).append((key, concept))
    return made
