"""The planned day in words and as data: when the power goes off and comes back, what holds it up, what a second person is worth."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import Struct

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.schedule import Day, day, simulated_dark
from robust_ledger.changeover.tasks import Task, catalogue

LIKELY = 0.8  # the power is back by then on so many days of all


class Planned(Struct, frozen=True):
    """A day with what may become of it. `likely_min`: when the power is back on four days of five; `other`: the same day for one person where
    this is for two, and the other way."""

    day: Day
    likely_min: float
    other: Day

    @property
    def second_saves_min(self) -> int:
        """Dark minutes that a second person is worth."""
        one, two = (self.day, self.other) if self.day.people == 1 else (self.other, self.day)
        return one.dark_min - two.dark_min


def planned(work: Sequence[Task], people: int, start_min: int) -> Planned:
    """Plan a day. Raises DayError."""
    _kinds, narrow = catalogue()
    made, other = (day(work, count, narrow, start_min) for count in (people, 3 - people))
    dark = simulated_dark(made)
    dark.sort()
    return Planned(made, made.off_min + float(dark[int(LIKELY * len(dark))]), other)


def promise_words(made: Planned, promise_min: int) -> str:
    """Whether the promise holds on four days of five, and when the power has to be off for it."""
    spare = made.likely_min - promise_min
    off = clock_text(made.day.off_min - spare)
    if spare <= 0:
        return f"The promise of {clock_text(promise_min)} holds with {-spare:.0f} min to spare; power off by {off} at the latest."
    return f"The promise of {clock_text(promise_min)} cannot be counted on: the power would have to be off by {off}."


def day_lines(made: Planned) -> list[str]:
    """The day, a line a task, and what it comes to."""
    lines = []
    phase = ""
    heads = {"before": "With the power on", "dark": "Dark", "after": "Power back at the main"}
    critical = set(made.day.critical)
    for one in made.day.slots:
        if one.task.phase != phase:
            phase = one.task.phase
            lines.append(f"{heads[phase]}:")
        who = "utility" if one.person == 0 else f"{one.person}"
        signs = ("HOLD " if one.task.hold else "") + ("! " if one.task.id in critical else "")
        times = f" ({one.task.times:g} ×)" if one.task.times != 1 else ""
        lines.append(
            f"  {clock_text(one.start_min):>8}  {one.task.usual_min:>4} min  {who:<7}  {one.task.place:<7} {signs}{one.task.words}{times}"
        )
    proof = "proven" if made.day.proven else "best found"
    lines += [
        f"Dark minutes:        {made.day.dark_min} ({proof}), {clock_text(made.day.off_min)} to {clock_text(made.day.on_min)}",
        f"Back on 4 days of 5: {clock_text(made.likely_min)}",
        f"End of the day:      {clock_text(made.day.end_min)}",
        f"A second person:     {made.second_saves_min} dark minutes less",
    ]
    return lines


def day_data(made: Planned, promise_min: int | None) -> dict[str, Any]:
    """The same as data."""
    return {
        "people": made.day.people,
        "off_min": made.day.off_min,
        "on_min": made.day.on_min,
        "dark_min": made.day.dark_min,
        "proven": made.day.proven,
        "likely_on_min": round(made.likely_min, 1),
        "end_min": made.day.end_min,
        "second_person_saves_min": made.second_saves_min,
        "promise_min": promise_min,
        "promise_kept": promise_min is None or made.likely_min <= promise_min,
        "critical": list(made.day.critical),
        "tasks": [
            {
                "id": one.task.id,
                "words": one.task.words,
                "phase": one.task.phase,
                "place": one.task.place,
                "person": one.person,
                "start_min": one.start_min,
                "end_min": one.end_min,
                "times": one.task.times,
                "hold": one.task.hold,
                "needs": list(one.task.needs),
            }
            for one in made.day.slots
        ],
    }
