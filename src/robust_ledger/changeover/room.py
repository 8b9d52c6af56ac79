"""What the room of the changeover answers with: its tasks, its terminations, its holds; each worked out when first asked for."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.changeover.counts import Count, counts_of
from robust_ledger.changeover.demands import DayError, demands_of
from robust_ledger.changeover.tasks import Task, tasks_of
from robust_ledger.changeover.torque import Logged, Parts, Termination, log_entry, logged, terminations
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.progress import Progress, unwatched
from robust_ledger.ledger.room import Room

if TYPE_CHECKING:
    from robust_ledger.changeover.planned import Planned

FIGURES = ("day.dark", "day.off", "day.back", "day.likely", "day.end", "day.second")


class DayTasks(Room, Struct, frozen=True, dict=True):
    """The changeover day, worked out on asking."""

    parts: Parts
    withheld: str = ""  # why the order of the day is not told; "" where it is
    lazy = ("day.",)

    @property
    def job(self) -> Job:
        """The job whose day it is."""
        return self.parts.job

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """None at once."""
        return {}

    @cached_property
    def counts(self) -> dict[str, Count]:
        """How often the plan has occasion for each kind of work."""
        return counts_of(self.parts)

    @cached_property
    def tasks(self) -> tuple[Task, ...]:
        """The tasks in the order of the catalogue, the user's own behind them."""
        return tasks_of(self.job.day, self.counts)

    @cached_property
    def terminations(self) -> tuple[Termination, ...]:
        """Every screw that is tightened on the day."""
        return terminations(self.parts)

    @cached_property
    def torque(self) -> tuple[Logged, ...]:
        """The torque log, a row for each of them."""
        return logged(self.terminations, self.job)

    def going_on(self, job: Job) -> DayTasks:
        """The same day with another record, or planned otherwise. What stands on neither is not worked out again: the terminations, and as long
        as the day is planned as it was, its counts and tasks."""
        made = DayTasks(replace(self.parts, job=job), self.withheld)
        kept = ("terminations", "counts", "tasks") if job.day is self.job.day else ("terminations",)
        made.__dict__.update({name: self.__dict__[name] for name in kept if name in self.__dict__})
        return made

    def schedule(self, people: int | None = None, progress: Progress = unwatched) -> Planned:
        """The day as it was said, or for so many people. Raises DayError, CanceledError."""
        from robust_ledger.changeover.planned import planned  # which knows how to search

        self.refuse_withheld()
        return planned(self.tasks, demands_of(self.job.day, people), progress)

    def refuse_withheld(self) -> None:
        """Raises DayError where the order of the day is not told."""
        if self.withheld:
            raise DayError(f"The order of the day is {self.withheld}: put yours together on Practice.")

    def _figure(self, entry_id: str) -> Entry | None:
        """The working of a figure of the schedule; None while the day cannot be planned."""
        from robust_ledger.changeover.planned import figures

        try:
            return figures(self.schedule()).get(entry_id)
        except DayError:
            return None

    @property
    def unknown(self) -> tuple[str, ...]:
        """What the day has no minutes for, because it is not known how often it comes up."""
        return tuple(one.words for one in self.counts.values() if not one.known)

    def families(self) -> Iterator[Entry]:
        """Every task and termination. The figures of the schedule are not among them: they take a search, and are answered one by one."""
        yield from (task.entry for task in self.tasks)
        yield from (termination.entry for termination in self.terminations)
        yield log_entry(self.torque)

    def one_of_family(self, entry_id: str) -> Entry | None:
        """One of its entries without working out all of them."""
        if entry_id.startswith("day.task."):
            return next((task.entry for task in self.tasks if task.entry.id == entry_id), None)
        if entry_id in FIGURES:
            return self._figure(entry_id)
        return next((entry for entry in self.families() if entry.id == entry_id), None)
