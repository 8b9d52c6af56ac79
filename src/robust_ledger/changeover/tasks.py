"""The tasks of the changeover day, each as often as the plan has occasion for it: nothing is typed twice."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct

from robust_ledger.changeover.catalogue import Kind, Phase, catalogue
from robust_ledger.changeover.counts import Count
from robust_ledger.changeover.learned import blended
from robust_ledger.job.parts.day import ChangeoverDay, OwnTask, TaskChange
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

SAFE = "line_side"  # the task that ends in its hold; it needs the one that ends in "Proven dead"
LONGEST_MIN = 24 * 60  # of a task: nobody works longer in one go


class Task(Struct, frozen=True):
    """A task of this day. `minutes`: least, usual and most for all its `times`; `needs`: ids of tasks of this day that come first; `hold`: the
    signed list that ends it; `movable`: another phase it may be done in as well; `material`: what is carried to its place, with how many;
    `entry` is how its minutes come about; `own`: the user's own; `timed`: its minutes are the user's word."""

    id: str
    words: str
    phase: Phase
    place: str
    times: float
    minutes: tuple[float, float, float]
    needs: tuple[str, ...]
    hold: str
    who: str
    daylight: bool
    entry: Entry
    people: int = 1
    dry: bool = False
    movable: str = ""
    tools: tuple[str, ...] = ()
    material: tuple[tuple[str, float], ...] = ()
    own: bool = False
    timed: bool = False
    moved: str = ""

    @property
    def usual_min(self) -> int:
        """Whole minutes it usually takes, one at least."""
        return max(1, round(self.minutes[1]))


def tasks_of(day: ChangeoverDay, found: Mapping[str, Count]) -> tuple[Task, ...]:
    """The tasks in the order of the catalogue, the user's own behind them; what the plan has no occasion for is left out, and what needed it
    needs what that needed. A task that ends in a hold cannot be dropped. None where there is nothing to change over."""
    if found["renewed"].amount <= 0 and not day.own:
        return ()
    kinds = catalogue().kinds
    there = {
        key for key, kind in kinds.items() if _times(kind, found) > 0 and (kind.hold or not _change(day, key).dropped)
    }
    if found["renewed"].amount <= 0:
        there = set()
    own_ids = {one.id for one in day.own}
    made = [_task(kind, day, found, _needed(kind, kinds, there)) for key, kind in kinds.items() if key in there]
    made += [_own(one, _own_needs(one, there | own_ids)) for one in day.own]
    return tuple(_behind(one, day, there | own_ids) for one in made)


def _change(day: ChangeoverDay, key: str) -> TaskChange:
    return day.changes.get(key) or UNCHANGED


UNCHANGED = TaskChange()


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


def _behind(task: Task, day: ChangeoverDay, there: set[str]) -> Task:
    """A task with the needs that the user has put on it. What is moved out of the dark is not waited for in it any more."""
    more = [need for need in _change(day, task.id).after if need in there]
    more += [one.id for one in day.own if task.id in one.ahead_of]
    needs = tuple(dict.fromkeys((*task.needs, *more)))
    moved = {key for key, change in day.changes.items() if change.phase == "after"}
    if task.phase != "after":
        needs = tuple(need for need in needs if need not in moved)
    if needs == task.needs:
        return task
    from msgspec.structs import replace

    return replace(task, needs=needs)


def _task(kind: Kind, day: ChangeoverDay, found: Mapping[str, Count], needs: tuple[str, ...]) -> Task:
    times, change = _times(kind, found), _change(day, kind.id)
    each_min = blended(kind, day.own_minutes.get(kind.id, ()))
    work = Working(f"day.task.{kind.id}", kind.words, Place(f"day:task.{kind.id}"))
    if change.minutes is not None:
        minutes = change.minutes
        usual = work.take(Step("usually, by your own word", minutes[1], "min", place=Place(f"day:task.{kind.id}")))
    else:
        if kind.id in day.own_minutes:
            days = len(day.own_minutes[kind.id])
            work.note(f"from {days} of your own days, drawn to the catalogue's {kind.minutes[1]:g} min")
        usual = work.take(Step("usually, each time" if kind.each else "usually", round(each_min[1], 2), "min"))
        if kind.each:
            count = found[kind.each]
            often = work.take(Step(count.words, count.amount, "", place=count.place))
            usual = work.product("for all of them", (usual, often), "min")
        low, middle, high = (part * times for part in each_min)
        minutes = (low, middle, high)
    material = tuple((item, found[count].amount if count else 1.0) for item, count in kind.material)
    phase = kind.phase if kind.hold else change.phase or kind.phase  # what ends in a hold stays where it is
    return Task(
        kind.id,
        kind.words,
        phase,
        kind.place,
        times,
        minutes,
        needs,
        kind.hold,
        kind.who,
        kind.daylight,
        work.entry(usual),
        change.people or 1,
        kind.dry,
        kind.movable,
        kind.tools,
        material,
        timed=change.minutes is not None,
        moved=kind.moved,
    )


def _own_needs(one: OwnTask, there: set[str]) -> tuple[str, ...]:
    """What comes before a task of the user's own. In the dark that is always the line side made safe, and with it the panel proven dead, whatever
    else it follows; only the utility's own work, as the cut itself, may come before that."""
    named = [need for need in one.after if need in there]
    safe = [SAFE] if one.phase == "dark" and one.who != "utility" and SAFE in there else []
    return tuple(dict.fromkeys((*named, *safe)))


def _own(one: OwnTask, needs: tuple[str, ...]) -> Task:
    work = Working(f"day.task.{one.id}", one.words, Place(f"day:task.{one.id}"))
    usual = work.take(Step("usually, by your own word", one.minutes[1], "min", place=Place(f"day:task.{one.id}")))
    return Task(
        one.id,
        one.words,
        one.phase,
        one.place,
        1,
        one.minutes,
        needs,
        "",
        one.who,
        one.daylight,
        work.entry(usual),
        one.people,
        one.dry,
        own=True,
        timed=True,
    )


def fault_of(task: Task) -> str:
    """What cannot be about a task's minutes, in one sentence; "" where nothing is."""
    low, usual, high = task.minutes
    name = task.words[:1].upper() + task.words[1:60]
    if low <= 0 or usual <= 0 or high <= 0:
        return f'"{name}" takes {min(task.minutes):g} minutes; a task takes more than none.'
    if not low <= usual <= high:
        return f'"{name}": the least, usual and most minutes ({low:g}, {usual:g}, {high:g}) are not in that order.'
    if task.timed and usual > LONGEST_MIN:
        return f'"{name}" takes {usual / 60:g} hours; a task of the day takes 24 at the most.'
    return ""
