"""The tasks of the changeover day, each as often as the plan has occasion for it: nothing is typed twice."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Mapping
from functools import cache, cached_property
from pathlib import Path
from typing import Any, Literal

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.result import CircuitsResult
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.defects import Defect
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.room import Room
from robust_ledger.ledger.working import Working
from robust_ledger.panel.bench import Bench
from robust_ledger.survey.defects import judged

Phase = Literal["before", "dark", "after"]
PHASES: tuple[Phase, ...] = ("before", "dark", "after")


class Kind(Struct, frozen=True):
    """A task of the catalogue. `minutes`: least, usual and most for one person, each time."""

    id: str
    words: str
    phase: Phase
    place: str
    minutes: tuple[float, float, float]
    each: str = ""
    when: str = ""
    needs: tuple[str, ...] = ()
    daylight: bool = False
    hold: bool = False
    who: str = "us"


class Task(Struct, frozen=True):
    """A task of this day. `minutes`: least, usual and most for all its `times`; `needs`: ids of tasks of this day that come first;
    `entry` is how its minutes come about."""

    id: str
    words: str
    phase: Phase
    place: str
    times: float
    minutes: tuple[float, float, float]
    needs: tuple[str, ...]
    hold: bool
    who: str
    daylight: bool
    entry: Entry

    @property
    def usual_min(self) -> int:
        """Whole minutes it usually takes, one at least."""
        return max(1, round(self.minutes[1]))


@cache
def catalogue() -> tuple[dict[str, Kind], frozenset[str]]:
    """The tasks that ship with the product, by id, and the places that hold one person."""
    data: dict[str, Any] = tomllib.loads(Path(__file__).with_name("tasks.toml").read_text(encoding="utf-8"))
    made = {
        key: Kind(key, **{**row, "minutes": tuple(row["minutes"]), "needs": tuple(row.get("needs", ()))})
        for key, row in data["task"].items()
    }
    return made, frozenset(data["narrow"])


class Count(Struct, frozen=True):
    """How often something comes up, and where that is seen."""

    amount: float
    words: str
    place: Place = NOWHERE
    known: bool = True


class DayTasks(Room, Struct, frozen=True, dict=True):
    """The tasks of the day, worked out on asking. `rods`: rods to drive; None where none is required."""

    job: Job
    circuits: CircuitsResult
    benches: Mapping[str, Bench]
    rods: Entry | None
    lazy = ("day.",)

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """None at once."""
        return {}

    @cached_property
    def tasks(self) -> tuple[Task, ...]:
        """The tasks in the order of the catalogue."""
        return tasks(self)

    @property
    def unknown(self) -> tuple[str, ...]:
        """What the day has no minutes for, because it is not known how often it comes up."""
        return tuple(one.words for one in counts(self).values() if not one.known)

    def families(self) -> Iterator[Entry]:
        yield from (one.entry for one in self.tasks)


def counts(room: DayTasks) -> dict[str, Count]:
    """What the plan has of everything that tasks are done for."""
    job, new = room.job, room.job.scope.renews
    branches = [one for one in room.circuits.branches if one.origin is not Origin.FUTURE]
    live = [one for one in branches if not one.off]
    marks = [mark for circuit in job.circuits for mark in circuit.marks]
    marked = sum(mark in (Mark.CAPPED, Mark.WHITE_HOT, Mark.DARK_NEUTRAL) for mark in marks)
    mine = _defects(job)
    splices = [bench.splices for bench in room.benches.values()]
    return {
        "rods": _of_entry(room.rods, "rods to drive"),
        "unknown": Count(sum(_unknown(job, one) for one in live), "circuits that feed something unknown"),
        "old_circuits": Count(len([one for one in job.circuits if one.spaces]), "circuits on the old panel"),
        "marked": Count(marked, "wires to mark before they come off"),
        "dark_neutrals": Count(marks.count(Mark.DARK_NEUTRAL), "dark wires on the neutral bar"),
        "circuits": Count(len(live), "circuits of the new panels"),
        "new_cables": Count(sum(one.new_cable and one.key.kind != "equip" for one in live), "new cables"),
        "splices": Count(sum(one.amount for one in splices if one.known), "splices", Place.entry("panel.splices"), all(one.known for one in splices)),
        "terminations": Count(sum(_terminations(one) for one in live), "hots, neutrals and grounds of circuits"),
        "electronic": Count(sum(one.to_device for one in live), "AFCI and GFCI breakers"),
        "meter": Count(float(job.decisions.meter_replaced), "meter sockets replaced", Place("decisions:meter_replaced")),
        "riser": Count(float("riser" in new), "new risers", Place("scope:renews")),
        "line_conductors": Count(float("riser" in new or "riser_conductors" in new), "sets of service conductors"),
        "load_conductors": Count(float(job.decisions.meter_replaced or "load_conductors" in new), "sets from meter to panel"),
        "defect_minutes": Count(
            sum(one.minutes or 0 for one in mine), "minutes of defects that are this job's", known=all(one.minutes is not None for one in mine)
        ),
    }  # fmt: skip


def _of_entry(entry: Entry | None, words: str) -> Count:
    """A count that the plan has an entry for; None where the plan has no occasion for it."""
    if entry is None:
        return Count(0, words)
    return Count(entry.amount if entry.known else 0, words, Place.entry(entry.id), entry.known)


def _unknown(job: Job, branch: Branch) -> bool:
    circuit = job.circuit(branch.origin_tag) if branch.origin_tag is not None else None
    return circuit is not None and (Mark.UNKNOWN in circuit.marks or not circuit.feeds)


def _terminations(branch: Branch) -> int:
    """Hots, a neutral where it has one, and a ground."""
    neutral = branch.poles == 1 or branch.uses_neutral
    return branch.poles + int(neutral) + 1


def _defects(job: Job) -> list[Defect]:
    """The defects that this job corrects and has not yet."""
    return [one.defect for one in judged(job) if one.ours and one.defect.who == "us" and one.defect.state != "done"]


def tasks(room: DayTasks) -> tuple[Task, ...]:
    """The tasks of the day in the order of the catalogue; what the plan has no occasion for is left out, and what needed it needs what
    that needed."""
    found, (kinds, _narrow) = counts(room), catalogue()
    there = {key for key, kind in kinds.items() if _times(kind, found) > 0}
    made = []
    for key, kind in kinds.items():
        if key in there:
            made.append(_task(kind, found, _needed(kind, kinds, there)))
    return tuple(made)


def _times(kind: Kind, found: Mapping[str, Count]) -> float:
    if kind.when and found[kind.when].amount <= 0:
        return 0
    return found[kind.each].amount if kind.each else 1


def _needed(kind: Kind, kinds: Mapping[str, Kind], there: set[str]) -> tuple[str, ...]:
    made: dict[str, None] = {}
    for need in kind.needs:
        for one in (need,) if need in there else _needed(kinds[need], kinds, there):
            made[one] = None
    return tuple(made)


def _task(kind: Kind, found: Mapping[str, Count], needs: tuple[str, ...]) -> Task:
    times = _times(kind, found)
    work = Working(f"day.task.{kind.id}", kind.words)
    each = work.take(Step("usually, each time" if kind.each else "usually", kind.minutes[1], "min"))
    if kind.each:
        count = found[kind.each]
        often = work.take(Step(count.words, count.amount, "", place=count.place))
        each = work.product("for all of them", (each, often), "min")
    low, usual, high = (part * times for part in kind.minutes)
    return Task(
        kind.id, kind.words, kind.phase, kind.place, times, (low, usual, high), needs, kind.hold, kind.who, kind.daylight, work.entry(each)
    )  # fmt: skip
