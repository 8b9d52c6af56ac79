"""Signed holds: lists that cannot be passed by an open item. What the plan has to say stands in them by name; a change of the job opens a signed
one again, and says why."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path
from typing import Any, Literal

from msgspec import Struct

from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.torque import tool_fault
from robust_ledger.changeover.volts import DEAD_V, judged_at
from robust_ledger.installation.bonds import BOND_WORDS
from robust_ledger.installation.joints import live_branches
from robust_ledger.job.parts.record import HoldState
from robust_ledger.job.tree import panel_name

State = Literal["open", "ready", "signed", "overridden", "reopened"]
LIVE_V = (100.0, 300.0)  # what a tester shows on a source that is live
_READING = re.compile(r"(\d{1,4}(?:\.\d+)?)\s*v?", re.I)


class Item(Struct, frozen=True):
    """A line of a hold. `fault`: what is wrong with what was entered; `value`: as entered; `auto`: the record answers it."""

    key: str
    words: str
    reading: str = ""
    auto: bool = False
    value: str = ""
    done: bool = False
    fault: str = ""


class Hold(Struct, frozen=True):
    """A hold as it stands. `why`: for one that was opened again, what has changed."""

    id: str
    words: str
    items: tuple[Item, ...]
    state: State
    signed_by: str = ""
    signed_at: str = ""
    overridden: str = ""
    why: str = ""

    @property
    def passed(self) -> bool:
        """Whether it was signed, or overridden with a reason."""
        return self.state in ("signed", "overridden")

    @property
    def open_items(self) -> tuple[Item, ...]:
        """What still has to be done before it can be signed."""
        return tuple(item for item in self.items if not item.done)


@cache
def _lists() -> dict[str, Any]:
    return tomllib.loads(Path(__file__).with_name("holds.toml").read_text(encoding="utf-8"))


def hold_ids() -> tuple[str, ...]:
    """The holds in the order of the day."""
    return tuple(_lists())


def holds(room: DayTasks) -> tuple[Hold, ...]:
    """Every hold of the day as it stands, in order."""
    return tuple(_hold(hold_id, room) for hold_id in hold_ids())


def hold_of(room: DayTasks, hold_id: str) -> Hold:
    """One hold. Raises KeyError for an id there is none of."""
    return _hold(hold_id, room)


def _hold(hold_id: str, room: DayTasks) -> Hold:
    held = room.job.record.holds.get(hold_id) or NOTHING
    items = tuple(_items(hold_id, room, held))
    state: State = "ready" if all(item.done for item in items) else "open"
    why = ""
    if held.signed_by:
        why = _changed(items, held)
        state = "reopened" if why else "overridden" if held.overridden else "signed"
    return Hold(hold_id, _lists()[hold_id]["words"], items, state, held.signed_by, held.signed_at, held.overridden, why)


NOTHING = HoldState()


def facts_of(hold: Hold) -> dict[str, str]:
    """What every item of a hold says, to be kept with the signature; what the record answers is kept with its answer."""
    return {
        item.key: f"{item.words} = {'yes' if item.done else 'no'}" if item.auto else item.words for item in hold.items
    }


def _changed(items: tuple[Item, ...], held: HoldState) -> str:
    """What is not as it was when it was signed; "" where all is."""
    now = {one.key: one for one in items}
    said = []
    for key, words in held.facts.items():
        if key not in now:
            said.append(f'"{words}" is not on it any more')
    for key, item in now.items():
        was = held.facts.get(key)
        if was is None:
            said.append(f'"{item.words}" has come on it')
        elif item.auto:
            if was.endswith(" = yes") and not item.done:
                said.append(f'"{item.words}" does not hold any more: {item.fault or "open"}')
        elif not item.done and not held.overridden:
            said.append(f'"{item.words}" does not hold any more: {item.fault or "open"}')
        elif was != item.words:
            said.append(f'"{was}" is now "{item.words}"')
    return "; ".join(said[:3]) + ("; and more" if len(said) > 3 else "")


def _items(hold_id: str, room: DayTasks, held: HoldState) -> Iterator[Item]:
    for row in _lists()[hold_id]["item"]:
        if "from" in row:
            for key, words in _FROM[row["from"]](room):
                yield _ticked(key, words, held)
        elif "auto" in row:
            done, fault = _auto(row["auto"], room)
            yield Item(row["key"], row["words"], auto=True, done=done, fault=fault)
        elif "reading" in row:
            yield _read(row["key"], row["words"], row["reading"], held.ticks.get(row["key"], ""))
        else:
            yield _ticked(row["key"], row["words"], held)


def _ticked(key: str, words: str, held: HoldState) -> Item:
    value = held.ticks.get(key, "")
    return Item(key, words, value=value, done=bool(value))


def _read(key: str, words: str, kind: str, value: str) -> Item:
    volts = reading_v(value)
    fault = ""
    if value and volts is None:
        fault = f'"{value}" is no reading in volts.'
    elif volts is not None and kind == "live" and not LIVE_V[0] <= volts <= LIVE_V[1]:
        fault = f"{volts:g} V is no live source: the tester is not proven."
    elif volts is not None and kind == "dead" and volts >= DEAD_V:
        fault = f"{volts:g} V is not dead; find out whether it is a ghost or feeds, with a low-impedance tester."
    return Item(key, words, kind, value=value, done=volts is not None and not fault, fault=fault)


def reading_v(text: str) -> float | None:
    """A reading in volts as typed, "121.4 V"; None for anything else."""
    found = _READING.fullmatch(text.strip())
    return float(found[1]) if found else None


def _auto(kind: str, room: DayTasks) -> tuple[bool, str]:
    """Whether the record answers an item, and what is missing of it."""
    if kind == "torque":
        left = [one for one in room.torque if not one.done]
        tool = tool_fault(room.job)
        words = [f"{len(left)} of {len(room.torque)} terminations are open"] if left else []
        return not left and not tool, "; ".join([*words, *([tool] if tool else [])])
    readings = [
        reading for reading in room.job.record.readings if not reading.simulated
    ]  # what is simulated passes no hold
    if kind == "backfeed":
        found = judged_at(readings, "panel", main_open=True)
        return found.good and found.kind == "dead", "" if found.good else f"{found.words}. {found.do}".strip()
    supply = room.job.dwelling.supply
    point = {"line": "line", "load": "load", "panel": "panel"}[kind]
    found = judged_at(readings, point, main_open=False if kind == "panel" else None, supply=supply)  # type: ignore[arg-type]
    return found.good, "" if found.good else f"{found.words}. {found.do}".strip()


def _bonds(room: DayTasks) -> Iterator[tuple[str, str]]:
    """Neutral and ground, place by place, as they have to be."""
    for node in room.parts.installation.bonded:
        if node.bond is not None:
            yield f"bond.{node.key}", f"{node.name[:1].upper()}{node.name[1:]}: {BOND_WORDS[node.bond.kind]}"


def _aluminum(room: DayTasks) -> Iterator[tuple[str, str]]:
    for termination in room.terminations:
        if termination.aluminum:
            yield (
                f"antioxidant.{termination.key}",
                f"brushed, antioxidant: {termination.words} ({termination.wire_text})",
            )
        elif termination.wire is None and not termination.factory:
            yield (
                f"antioxidant.{termination.key}",
                f"metal looked at, brushed and antioxidant if aluminum: {termination.words}",
            )


def _splices(room: DayTasks) -> Iterator[tuple[str, str]]:
    splices = int(room.counts["splices"].amount)
    if splices:
        yield "splices", f"{splices} splices tugged, each in its box or the panel's gutter"


def _capped(room: DayTasks) -> Iterator[tuple[str, str]]:
    for branch in room.parts.branches:
        if branch.off:
            yield f"capped.{branch.key}", f"{branch.name} capped, on no breaker: {branch.feeds or 'unknown'}"


def _count(room: DayTasks) -> Iterator[tuple[str, str]]:
    for panel_id in room.parts.benches:
        live = [branch for branch in live_branches(room.parts.branches) if branch.panel == panel_id]
        poles, breakers = sum(one.poles for one in live), sum(one.has_breaker for one in live)
        name = panel_name(room.job, panel_id)
        node = room.parts.installation.node_of(panel_id)
        if (node is not None and node.spaces) or live:
            yield (
                f"count.{panel_id}",
                f"{name[:1].upper()}{name[1:]}: {breakers} breakers with {poles} poles, as the schedule has them",
            )


_FROM: dict[str, Callable[[DayTasks], Iterator[tuple[str, str]]]] = {
    "bonds": _bonds, "aluminum": _aluminum, "splices": _splices, "capped": _capped, "count": _count,
}  # fmt: skip


def before(room: DayTasks, hold_id: str) -> Hold | None:
    """The first hold ahead of one that is not passed; None where all are."""
    for other in hold_ids():
        if other == hold_id:
            return None
        if not (found := _hold(other, room)).passed:
            return found
    return None


def unpassed_for(room: DayTasks, task_id: str) -> Hold | None:
    """The hold that keeps a task from being done: one that it waits for, by what it needs and what that needs, and that is not passed."""
    by_id = {task.id: task for task in room.tasks}
    seen, left = set[str](), list(by_id[task_id].needs) if task_id in by_id else []
    waits = set()
    while left:
        need = left.pop()
        if need in by_id and need not in seen:
            seen.add(need)
            left += by_id[need].needs
            if by_id[need].hold:
                waits.add(by_id[need].hold)
    for hold_id in hold_ids():
        if hold_id in waits and not (found := _hold(hold_id, room)).passed:
            return found
    return None
