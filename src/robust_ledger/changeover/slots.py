"""Tasks in time, and the day they make."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.changeover.tasks import Task

LUNCH = "lunch"


class Slot(Struct, frozen=True):
    """A task in time: minutes from midnight, and who does it, counted from 1; none for what others do. `done`: it has happened."""

    task: Task
    start_min: int
    end_min: int
    people: tuple[int, ...]
    done: bool = False

    @property
    def person(self) -> int:
        """The first who does it; 0 for others."""
        return self.people[0] if self.people else 0

    @property
    def who(self) -> str:
        """ "1", "2", "1+2", or "utility"."""
        return "+".join(map(str, self.people)) or self.task.who


class Day(Struct, frozen=True):
    """A day's schedule. `dark_min`: from the power's going off to its coming back; `proven`: no schedule has a shorter dark; `least_min`: what no
    schedule's dark is below; `slack_min`: minutes each task may take longer, by its id; `trips`: changes of
    place of all people, `trips_proven` that fewer are not possible; `carried_lb`: what is carried up."""

    people: int
    slots: tuple[Slot, ...]
    off_min: int
    on_min: int
    end_min: int
    proven: bool
    least_min: int = 0
    slack_min: tuple[tuple[str, int], ...] = ()
    trips: int = 0
    trips_proven: bool = False

    @property
    def dark_min(self) -> int:
        """How long the power is off [min]."""
        return self.on_min - self.off_min

    @property
    def critical(self) -> tuple[str, ...]:
        """Ids of the tasks of the dark that have no slack: a minute more on one is a minute more of dark."""
        tight = {key for key, minutes in self.slack_min if minutes == 0}
        return tuple(slot.task.id for slot in self.slots if slot.task.phase == "dark" and slot.task.id in tight)

    def slot(self, task_id: str) -> Slot:
        """The slot of a task."""
        return next(one for one in self.slots if one.task.id == task_id)
