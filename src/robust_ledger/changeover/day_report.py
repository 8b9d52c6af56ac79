"""The planned day in words and as data: when the power goes off and comes back, what holds it up, what would save dark minutes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from robust_ledger.changeover.catalogue import PHASE_WORDS
from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import faults_of_people, not_said
from robust_ledger.changeover.planned import Planned
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.tasks import Task
from robust_ledger.changeover.trips import Visit


def _outside(work: tuple[Task, ...]) -> bool:
    return any(one.dry or one.daylight for one in work)


def missing(room: DayTasks) -> tuple[str, ...]:
    """What is not known of the day, in words; it is planned without."""
    return (
        *(f"not known how many: {words}" for words in room.unknown),
        *not_said(room.job.day, _outside(room.tasks)),
        *faults_of_people(room.job.day),
    )


def promise_words(made: Planned) -> str:
    """Whether the promise holds on four days of five, and when the power has to be off for it; "" where nothing was promised."""
    promise, off = made.demands.promise_min, made.latest_off_min
    if promise is None or off is None:
        return ""
    if made.kept:
        spare = promise - made.likely_min
        return f"The promise of {clock_text(promise)} holds with {spare:.0f} min to spare; power off by {clock_text(off)} at the latest."
    words = f"The promise of {clock_text(promise)} cannot be counted on: the power would have to be off by {clock_text(off)}."
    return f"{words} {made.clash}".strip()


def day_words(made: Planned, lacking: Sequence[str] = ()) -> str:
    """The day in a few sentences, with what it is planned without."""
    found = made.day
    proof = "proven" if found.proven else f"the best found, not below {found.least_min}"
    words = (
        f"Dark {found.dark_min} min ({proof}), {clock_text(found.off_min)} to {clock_text(found.on_min)}; back by {clock_text(made.likely_min)} on "
        f"four days of five. "
    )
    if made.other is not None:
        who = "two people" if made.other.people == 2 else "one person"
        words += f"With {who} {made.other.dark_min} min; a second person is worth {made.second_saves_min}. "
    words += f"Done at {clock_text(found.end_min)}, {found.trips} trips{'' if found.trips_proven else ' at the most'}. {promise_words(made)}"
    if lacking:
        words = f"{words.strip()} Not in it: {'; '.join(lacking)}."
    return words.strip()


def day_lines(made: Planned, clock: Callable[[float], str] = clock_text) -> list[str]:
    """The day, a line a task, and what it comes to. `clock`: how a minute of the day is shown."""
    lines = []
    phase = ""
    critical = set(made.day.critical)
    for slot in made.day.slots:
        if slot.task.phase != phase:
            phase = slot.task.phase
            lines.append(f"{PHASE_WORDS[phase][:1].upper()}{PHASE_WORDS[phase][1:]}:")
        signs = (
            ("HOLD " if slot.task.hold else "")
            + ("! " if slot.task.id in critical else "")
            + ("done " if slot.done else "")
        )
        times = f" ({slot.task.times:g} ×)" if slot.task.times != 1 else ""
        minutes = slot.end_min - slot.start_min
        lines.append(
            f"  {clock(slot.start_min):>8}  {minutes:>4} min  {slot.who:<9}  {slot.task.place:<7} {signs}{slot.task.words}{times}"
        )
    lines += summary_lines(made, clock)
    lines += ["Carried:"] + [f"  {_visit_words(visit, clock)}" for visit in made.visits if visit.carried]
    return lines


def summary_lines(made: Planned, clock: Callable[[float], str] = clock_text) -> list[str]:
    """What the day comes to, a figure a line."""
    found = made.day
    proof = "proven" if found.proven else f"best found, not below {found.least_min}"
    fewest = "the fewest" if found.trips_proven else "the fewest found"
    lines = [
        f"Dark minutes:        {found.dark_min} ({proof}), {clock(found.off_min)} to {clock(found.on_min)}",
        f"Back on 4 days of 5: {clock(made.likely_min)}",
        f"End of the day:      {clock(found.end_min)}",
        f"Trips:               {found.trips} ({fewest}), {sum(v.pounds for v in made.visits if v.up):g} lb carried up",
    ]
    if made.second_saves_min is not None:
        lines.append(f"A second person:     {made.second_saves_min} dark minutes less")
    for gain in made.gains[:3]:
        lines.append(f"Would save:          {gain.saves_min} dark minutes: {gain.words}")
    return lines


def _visit_words(visit: Visit, clock: Callable[[float], str] = clock_text) -> str:
    """A trip and what comes along."""
    things = ", ".join(f"{amount:g} × {item}" if amount != 1 else item for item, amount in visit.carried)
    return f"{clock(visit.start_min):>8}  {visit.person}  {visit.place:<7} {things} ({visit.pounds:g} lb)"


def day_data(made: Planned) -> dict[str, Any]:
    """The same as data."""
    found, slack = made.day, dict(made.day.slack_min)
    return {
        "people": found.people,
        "off_min": found.off_min,
        "on_min": found.on_min,
        "dark_min": found.dark_min,
        "proven": found.proven,
        "least_dark_min": found.least_min,
        "likely_on_min": round(made.likely_min, 1),
        "end_min": found.end_min,
        "second_person_saves_min": made.second_saves_min,
        "promise_min": made.demands.promise_min,
        "promise_kept": made.kept,
        "latest_off_min": None if made.latest_off_min is None else round(made.latest_off_min, 1),
        "stands_against_it": made.clash,
        "critical": list(found.critical),
        "trips": found.trips,
        "trips_proven": found.trips_proven,
        "gains": [{"task": gain.task_id, "words": gain.words, "saves_min": gain.saves_min} for gain in made.gains],
        "daylight_min": [made.demands.daylight.start_min, made.demands.daylight.end_min]
        if made.demands.daylight
        else None,
        "visits": [
            {
                "person": visit.person,
                "place": visit.place,
                "start_min": visit.start_min,
                "carried": dict(visit.carried),
                "pounds": visit.pounds,
            }
            for visit in made.visits
        ],
        "tasks": [
            {
                "id": slot.task.id,
                "words": slot.task.words,
                "phase": slot.task.phase,
                "place": slot.task.place,
                "people": list(slot.people),
                "who": slot.task.who,
                "start_min": slot.start_min,
                "end_min": slot.end_min,
                "times": slot.task.times,
                "hold": slot.task.hold,
                "slack_min": slack.get(slot.task.id, 0),
                "needs": list(slot.task.needs),
                "done": slot.done,
            }
            for slot in found.slots
        ],
    }
