"""Editing commands: each takes a job and returns the next one. The desk names them for undo."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import Any

from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.circuits import Circuit, ClampReading
from robust_ledger.job.parts.defects import Defect
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.field import fields_of
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.local import LocalRule
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.parts.panels import OldBox
from robust_ledger.job.spaces import BOX_MARKS, parse_old
from robust_ledger.job.tree import FEEDER, fed_below, panel_name, panel_of_key, panels_of, parent


def with_part(job: Job, part: str, **changes: Any) -> Job:
    """Change fields of one part ("heading", "dwelling", "panel", "old_panel", "decisions"), with validation."""
    current = getattr(job, part)
    return replace(job, **{part: current.changed(**changes)})


def add_circuit(job: Job, circuit: Circuit) -> Job:
    """The job with one more old circuit."""
    return replace(job, circuits=(*job.circuits, circuit))


def change_circuit(job: Job, tag: int, **changes: Any) -> Job:
    """Change fields of the circuit with a tag. Raises ModelError."""
    circuits = tuple(c.changed(**changes) if c.tag == tag else c for c in job.circuits)
    return replace(job, circuits=circuits)


def add_readings(job: Job, readings: tuple[ClampReading, ...]) -> Job:
    """Put clamp readings down; a circuit shows the most its last reading had on a leg."""
    after = replace(job, readings=(*job.readings, *readings))
    for tag in dict.fromkeys(reading.tag for reading in readings):
        most = max(reading.amperes for reading in readings if reading.tag == tag)
        after = change_circuit(after, tag, clamp_a=most)
    return after


def drop_readings(job: Job, gone: set[int]) -> Job:
    """Take readings out by their place in the list; a circuit then shows the one before."""
    tags = {job.readings[number].tag for number in gone if number < len(job.readings)}
    left = tuple(one for number, one in enumerate(job.readings) if number not in gone)
    after = replace(job, readings=left)
    for tag in tags:
        mine = [one for one in left if one.tag == tag]
        most = max((one.amperes for one in mine if one.at == mine[-1].at), default=None)
        after = change_circuit(after, tag, clamp_a=most)
    return after


def remove_circuits(job: Job, tags: set[int]) -> Job:
    """Take circuits out, with what points to them: shared neutrals, futures and placements."""
    circuits = tuple(
        replace(c, shares_neutral_with=None) if c.shares_neutral_with in tags else c
        for c in job.circuits
        if c.tag not in tags
    )
    futures = tuple(replace(f, frees=tuple(t for t in f.frees if t not in tags)) for f in job.futures)
    readings = tuple(reading for reading in job.readings if reading.tag not in tags)
    changed = replace(job, circuits=circuits, futures=futures, readings=readings)
    return _drop_placements(changed, {CircuitKey.of_tag(tag) for tag in tags})


def add_load(job: Job, load: Load) -> Job:
    """The job with one more load."""
    return replace(job, loads=(*job.loads, load))


def change_load(job: Job, load_id: str, **changes: Any) -> Job:
    """Change fields of a load. Raises ModelError."""
    loads = tuple(load.changed(**changes) if load.id == load_id else load for load in job.loads)
    return replace(job, loads=loads)


def remove_loads(job: Job, load_ids: set[str]) -> Job:
    """Take loads out of the house, off their circuits, out of the futures and out of the panel."""
    circuits = tuple(replace(c, load_ids=tuple(i for i in c.load_ids if i not in load_ids)) for c in job.circuits)
    loads = tuple(load for load in job.loads if load.id not in load_ids)
    futures = tuple(
        replace(
            future,
            load_ids=tuple(i for i in future.load_ids if i not in load_ids),
            removes=tuple(i for i in future.removes if i not in load_ids),
        )
        for future in job.futures
    )
    changed = replace(job, circuits=circuits, loads=loads, futures=futures)
    return _drop_placements(changed, {CircuitKey.of_load(i) for i in load_ids})


def link_load(job: Job, load_id: str, tag: int | None) -> Job:
    """Say which existing circuit feeds a load; None for none of them."""

    def fed(circuit: Circuit) -> Circuit:
        others = tuple(i for i in circuit.load_ids if i != load_id)
        return replace(circuit, load_ids=(*others, load_id) if circuit.tag == tag else others)

    return replace(job, circuits=tuple(fed(circuit) for circuit in job.circuits))


def new_load_id(job: Job, name: str) -> str:
    """A short stable id made of the name: "sauna-heater", "sauna-heater-2"."""
    return _new_id(name, {load.id for load in job.loads}, "load")


def new_future_id(job: Job, name: str) -> str:
    """A short stable id for a future, made of its name."""
    return _new_id(name, {future.id for future in job.futures}, "future")


def add_future(job: Job, future: Future) -> Job:
    """The job with one more future."""
    return replace(job, futures=(*job.futures, future))


def change_future(job: Job, future_id: str, **changes: Any) -> Job:
    """Change fields of one future; spaces of circuits that are no longer reserved are given free."""
    futures = tuple(f.changed(**changes) if f.id == future_id else f for f in job.futures)
    return _drop_gone_reservations(replace(job, futures=futures))


def remove_future(job: Job, future_id: str) -> Job:
    """Take a future out; its loads stay in the list."""
    futures = tuple(future for future in job.futures if future.id != future_id)
    return _drop_gone_reservations(replace(job, futures=futures))


def add_defect(job: Job, defect: Defect) -> Job:
    """The job with one more defect."""
    return replace(job, defects=(*job.defects, defect))


def change_defect(job: Job, defect_id: str, **changes: Any) -> Job:
    """Change fields of a defect. Raises ModelError."""
    defects = tuple(d.changed(**changes) if d.id == defect_id else d for d in job.defects)
    return replace(job, defects=defects)


def remove_defects(job: Job, defect_ids: set[str]) -> Job:
    """Take defects out."""
    return replace(job, defects=tuple(d for d in job.defects if d.id not in defect_ids))


def new_defect_id(job: Job, name: str) -> str:
    """A short stable id for a defect, made of what it is."""
    return _new_id(name, {defect.id for defect in job.defects}, "defect")


def change_old_box(job: Job, mark: str, **changes: Any) -> Job:
    """Change fields of an old panel; the first one has no mark."""
    if not mark:
        return with_part(job, "old_panel", **changes)
    return replace(job, old_boxes=tuple(b.changed(**changes) if b.mark == mark else b for b in job.old_boxes))


def add_old_box(job: Job) -> Job:
    """One more old panel, with the next free mark. Raises ModelError when there are no more marks."""
    taken = {box.mark for box in job.old_boxes}
    mark = next((one for one in BOX_MARKS if one not in taken), "")
    if not mark:
        raise ModelError("there are no more marks for old boxes", ("old_boxes",))
    name = "right-hand" if not job.old_boxes else f"box {mark.upper()}"
    return replace(job, old_boxes=(*job.old_boxes, OldBox(mark=mark, name=name, spaces=12)))


def remove_old_box(job: Job, mark: str) -> Job:
    """Take an old panel out; circuits that were in it have no space any more, and keep their tags."""
    circuits = tuple(
        replace(c, spaces=()) if any((one := parse_old(s)) and one.box == mark for s in c.spaces) else c
        for c in job.circuits
    )
    panels = tuple(replace(p, instead_of=None) if p.instead_of == mark else p for p in job.panels)
    return replace(job, circuits=circuits, panels=panels, old_boxes=tuple(b for b in job.old_boxes if b.mark != mark))


def new_panel_id(job: Job, name: str) -> str:
    """A short stable id for a panel, made of its name."""
    return _new_id(name, {panel.id for panel in job.panels} | {MAIN, *AHEAD}, "panel")[:60]


def add_panel(job: Job, panel: Panel) -> Job:
    """The job with one more panel beside the main one."""
    return replace(job, panels=(*job.panels, panel))


def change_panel(job: Job, panel_id: str, **changes: Any) -> Job:
    """Change fields of a panel beside the main one; a field of its record is written "box.spaces"."""
    own = {name: value for name, value in changes.items() if not name.startswith("box.")}
    box = {name.removeprefix("box."): value for name, value in changes.items() if name.startswith("box.")}

    def changed(panel: Panel) -> Panel:
        return panel.changed(**own, **({"box": panel.box.changed(**box)} if box else {}))

    return replace(job, panels=tuple(changed(one) if one.id == panel_id else one for one in job.panels))


def change_record(job: Job, panel_id: str, **changes: Any) -> Job:
    """Change fields of the record of any panel, the main one too."""
    if panel_id == MAIN:
        return with_part(job, "panel", **changes)
    return change_panel(job, panel_id, **{f"box.{name}": value for name, value in changes.items()})


def feed_panel(job: Job, panel_id: str, fed_from: str) -> Job:
    """Feed a node from another place; the main panel too. Raises ModelError where that one is fed from it."""
    if panel_id == MAIN:
        return _feed_main(job, fed_from)
    if fed_from in fed_below(job, panel_id):
        raise ModelError(f"the {panel_name(job, fed_from)} is fed from it", ("panels", "fed_from"))
    return change_panel(job, panel_id, fed_from=fed_from)


def _feed_main(job: Job, fed_from: str) -> Job:
    """Feed the main panel from a node; from the meter or the disconnect ahead that is what it is by itself."""
    if fed_from in AHEAD:
        return with_part(job, "main_feed", fed_from="")
    if fed_from in fed_below(job, MAIN):
        raise ModelError(f"the {panel_name(job, fed_from)} is fed from it", ("main_feed", "fed_from"))
    return with_part(job, "main_feed", fed_from=fed_from)


def choices_of_kind() -> dict[str, str]:
    """What the kinds of nodes are called."""
    return dict(fields_of(Panel)["kind"].choices)


def new_node(job: Job, kind: str, fed_from: str) -> Panel:
    """A node of a kind as it is first put below another: a panel, or a disconnect with its device, at the meter with the bond."""
    taken = {panel.name.lower() for panel in job.panels}
    stems = ("garage", "shed", "panel") if kind == "panel" else (choices_of_kind()[kind],)
    names = (*stems, *(f"{stems[-1]} {number}" for number in range(2, 99)))
    name = next(one for one in names if one not in taken and (one != "panel" or kind != "panel"))
    made = Panel.read({"id": new_panel_id(job, name), "name": name, "kind": kind, "fed_from": fed_from})
    at_meter = fed_from == "meter"
    if kind != "panel" or at_meter:
        made = made.changed(separate_building=False)
    if at_meter and kind in ("panel", "disconnect"):
        made = made.changed(box=made.box.changed(main="breaker", first_disconnect=True))
    return made.changed(marked="service") if at_meter and kind == "disconnect" else made


def remove_panel(job: Job, panel_id: str) -> Job:
    """Take a panel out: what hangs on it moves to the one that fed it, or to the main one; its circuits wait there for a space."""
    gone = job.panel_of(panel_id)
    if gone is None:
        return job
    above = parent(job, gone)
    target = above if job.panel_of(above) is not None else ""
    keys = [key for key, change in job.decisions.circuits.items() if change.panel == panel_id]
    moved = _drop_seats(job, {*keys, CircuitKey.of_equipment(f"{FEEDER}{panel_id}")})
    for key in keys:
        moved = change_branch(moved, key, panel=target)
    if moved.main_feed.fed_from == panel_id:
        moved = with_part(moved, "main_feed", fed_from=above if job.panel_of(above) is not None else "")
    panels = tuple(
        replace(panel, fed_from=above) if panel.fed_from == panel_id else panel
        for panel in job.panels
        if panel.id != panel_id
    )
    return replace(moved, panels=panels)


def move_to_panel(job: Job, keys: Iterable[CircuitKey], panel_id: str) -> Job:
    """Circuits go to another panel, and wait there for a space; one that shares a neutral takes its partner along."""
    wanted = set(keys)
    by_tag = {circuit.tag: circuit.shares_neutral_with for circuit in job.circuits}
    for tag, partner in by_tag.items():
        if partner is not None and {CircuitKey.of_tag(tag), CircuitKey.of_tag(partner)} & wanted:
            wanted |= {CircuitKey.of_tag(tag), CircuitKey.of_tag(partner)}
    of = panels_of(job)
    moved = {key for key in wanted if of(key) != panel_id}
    after = _drop_seats(job, moved)
    for key in sorted(moved):
        after = change_branch(after, key, panel="" if panel_id == MAIN else panel_id)
    return after


def _drop_seats(job: Job, keys: set[CircuitKey]) -> Job:
    decided = job.decisions
    kept = {key: space for key, space in decided.placements.items() if key not in keys}
    pins = tuple(key for key in decided.pins if key not in keys)
    return with_part(job, "decisions", placements=kept, pins=pins)


def amend(job: Job, key: str, value: float | None, section: str) -> Job:
    """Put a local figure or section in place of the edition's; neither takes the amendment out."""
    rules = [rule for rule in job.local_rules if rule.key != key]
    if value is not None or section:
        rules.append(LocalRule.read({"key": key, "value": value, "section": section}))
    return replace(job, local_rules=tuple(rules))


def _drop_gone_reservations(job: Job) -> Job:
    reserved = {CircuitKey.of_future(f.id, n) for f in job.futures if f.reserve for n in range(1, len(f.circuits) + 1)}
    gone = {key for key in job.decisions.placements if key.kind == "future" and key not in reserved}
    return _drop_placements(job, gone)


def _new_id(name: str, taken: set[str], otherwise: str) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or otherwise
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in range(2, len(taken) + 3) if f"{stem}-{n}" not in taken)


def place(job: Job, placements: Mapping[CircuitKey, str], panel_id: str = MAIN) -> Job:
    """Fix the whole layout of a panel as given: circuit key → space; that of the others stays."""
    return with_part(job, "decisions", placements={**_elsewhere(job, panel_id), **placements})


def place_in(job: Job, placements: Mapping[CircuitKey, str], panels: Mapping[CircuitKey, str]) -> Job:
    """Fix the layout of several panels together: circuit key → space, and → id of its panel. Circuits that change their panel do so."""
    for key, panel_id in panels.items():
        if panel_of_key(job, key) != panel_id:
            job = change_branch(job, key, panel="" if panel_id == MAIN else panel_id)
    of = panels_of(job)
    kept = {k: at for k, at in job.decisions.placements.items() if of(k) not in panels.values()} if panels else {}
    return with_part(job, "decisions", placements={**kept, **placements})


def _elsewhere(job: Job, panel_id: str) -> dict[CircuitKey, str]:
    """What is fixed in other panels."""
    if not job.panels:
        return {}
    of = panels_of(job)
    return {key: at for key, at in job.decisions.placements.items() if of(key) != panel_id}


def pin(job: Job, key: CircuitKey, placements: Mapping[CircuitKey, str]) -> Job:
    """Pin a circuit where it is, or take its pin out; the layout of its panel stays as it is with it."""
    pins = job.decisions.pins
    if key in pins:
        return with_part(job, "decisions", pins=tuple(one for one in pins if one != key))
    fixed = {**_elsewhere(job, panel_of_key(job, key)), **placements}
    return with_part(job, "decisions", pins=(*pins, key), placements=fixed)


def change_branch(job: Job, key: CircuitKey, **changes: Any) -> Job:
    """Decide what becomes of a circuit, or say what is known of it; what is as by default is not written down."""
    change = job.change(key).changed(**changes)
    circuits = {name: one for name, one in job.decisions.circuits.items() if name != key}
    if change != CircuitChange():
        circuits[key] = change
    return with_part(job, "decisions", circuits=circuits)


def accept_finding(job: Job, finding_id: str, reason: str) -> Job:
    """Accept a finding with a reason that is printed; an empty reason takes the acceptance back."""
    accepted = {key: text for key, text in job.decisions.accepted.items() if key != finding_id}
    if reason.strip():
        accepted[finding_id] = reason.strip()
    return with_part(job, "decisions", accepted=accepted)


def _drop_placements(job: Job, keys: set[CircuitKey]) -> Job:
    decided = job.decisions
    kept = {key: space for key, space in decided.placements.items() if key not in keys}
    pins = tuple(key for key in decided.pins if key not in keys)
    circuits = {key: change for key, change in decided.circuits.items() if key not in keys}
    if (kept, pins, circuits) == (decided.placements, decided.pins, decided.circuits):
        return job
    return with_part(job, "decisions", placements=kept, pins=pins, circuits=circuits)
