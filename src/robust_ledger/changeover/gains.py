"""What moving a task out of the dark saves: each that may be moved, tried by itself."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.changeover.demands import Demands
from robust_ledger.changeover.solver import dark_alone
from robust_ledger.changeover.tasks import Task

# Tasks of the catalogue that belong before the dark, should somebody have put them in it.
_USUALLY_BEFORE = frozenset(
    (
        "photographs",
        "trace_live",
        "rods",
        "gec",
        "new_cables",
        "wall",
        "enclosure_ready",
        "meter_ready",
        "mast_ready",
        "material",
    )
)


class Gain(Struct, frozen=True):
    """A task that may be done before or after the dark, and the dark minutes that saves."""

    task_id: str
    phase: str
    words: str
    saves_min: int


def gains(tasks: Sequence[Task], demands: Demands, dark_min: int) -> tuple[Gain, ...]:
    """Every move that saves something, the most first: into the phase its kind allows, or before the dark where all it needs is done before it."""
    over = {one.task_id for one in demands.happened}
    now = dark_alone(tasks, demands)
    phases = {task.id: task.phase for task in tasks}
    made = []
    for one in tasks:
        to = _way_out(one, phases)
        if one.phase != "dark" or one.id in over or not to:
            continue
        moved = [
            replace(other, phase=to)
            if other.id == one.id
            else replace(other, needs=tuple(need for need in other.needs if need != one.id))
            if to == "after" and other.phase == "dark"
            else other
            for other in tasks
        ]
        saved = min(now - dark_alone(moved, demands), dark_min)
        if saved > 0:
            when = "before the power goes off" if to == "before" else "after the power is back"
            how = f", {one.moved}" if one.moved else ""
            made.append(Gain(one.id, to, f"{one.words[:70]} {when}{how}", saved))
    return tuple(sorted(made, key=lambda one: -one.saves_min))


def _way_out(task: Task, phases: Mapping[str, str]) -> str:
    """Where a task of the dark may go: "" for nowhere."""
    if task.movable:
        return task.movable
    free = task.own or task.id in _USUALLY_BEFORE
    return (
        "before"
        if free and task.who == "us" and all(phases.get(need, "before") == "before" for need in task.needs)
        else ""
    )
