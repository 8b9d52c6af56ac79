"""What each thing that is said on the changeover day does to the job."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any

from robust_ledger.branch.model import Branch
from robust_ledger.changeover import clock as day_clock
from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.holds import hold_of
from robust_ledger.changeover.live import clock_of
from robust_ledger.changeover.record import (
    checked_off,
    measured,
    noted,
    opened,
    signed,
    stamp,
    switched,
    task_added,
    task_changed,
    ticked,
    tightened,
    traced,
    with_tool,
)
from robust_ledger.changeover.volts import POINT_WORDS, judged
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.record import Event, Unit, Volts
from robust_ledger.job.readers.torque_units import inch_pounds, torque_text
from robust_ledger.plan import Plan
from robust_ledger.plan import plan as plan_of

Reply = tuple[tuple[str, ...], Callable[[Job], Job], str]
Values = Mapping[str, Any]


_FIGURES = {
    "leg_to_leg": "leg to leg", "a_to_neutral": "left", "b_to_neutral": "right", "neutral_to_ground": "neutral to ground",
}  # fmt: skip


class FaultError(Exception):
    """What was said cannot be done; the message is one sentence."""


class Said:
    """A line being carried out: against which plan, and when it happened. `said_at`: minutes of the day that were said."""

    def __init__(self, plan: Plan, said_at: int | None = None) -> None:
        self.plan, self.said_at = plan, said_at

    def at(self) -> datetime:
        """The moment: now, or today at the time that was said."""
        now = day_clock.now()
        if self.said_at is None:
            return now
        clock = clock_of(self.plan.job, now)
        at = clock.moment(clock.passed_min(self.said_at))
        if at > now:
            raise FaultError(f"{clock_text(self.said_at)} has not come yet")
        return at

    def task(self, values: Values, name: str = "task") -> tuple[str, str]:
        """A task's id and words. Raises FaultError."""
        found = str(values[name])
        if found.startswith("?"):
            raise FaultError(found[1:])
        if found == "lunch":
            return found, "break"
        return found, next(one.words for one in self.plan.changeover.tasks if one.id == found)[:60]

    def circuit(self, values: Values) -> tuple[Branch, str]:
        """A circuit of the new panel and its name. Raises FaultError."""
        found = values["circuit"]
        if isinstance(found, str):
            raise FaultError(found)
        return found, f"tag {found.tag}" if found.tag != "new" else found.feeds

    def event(self, kind: str, words: str, **values: Any) -> Reply:
        """Something that happened, with its time."""
        at = self.at()
        event, by_hand = Event.read({"at": stamp(at), "kind": kind, **values}), self.said_at is not None
        when = f"at {clock_text(at.hour * 60 + at.minute)}"
        return (words, when), lambda job: noted(job, plan_of(job).changeover, event, by_hand), "record:events"

    def voltages(self, values: dict[str, Any]) -> Reply:
        """Readings at a point, judged as they are said."""
        at = stamp(self.at())
        reading = Volts.read({"point": "panel", "at": at, **values})
        figures = [f"{words} {values[name]:g} V" for name, words in _FIGURES.items() if name in values]
        chips = (POINT_WORDS[reading.point], *figures, judged(reading, supply=self.plan.job.dwelling.supply).words)
        return chips, lambda job: measured(job, reading), f"volts:{reading.point}"

    def day(self, words: str, place: str, **values: Any) -> Reply:
        """A field of how the day is planned."""
        return (words,), lambda job: with_part(job, "day", **values), place


def _event(kind: str, verb: str, person: int = 1) -> Callable[[Said, Values], Reply]:
    def told(said: Said, values: Values) -> Reply:
        task, words = said.task(values)
        return said.event(kind, f"{verb} {words}", task=task, person=person)

    return told


def _took(said: Said, values: Values) -> Reply:
    task, words = said.task(values)
    minutes = float(values["number"])
    if not 0 < minutes <= 24 * 60:
        raise FaultError(f"{minutes:g} minutes are none of a day's work")
    return said.event("done", f"done {words}, took {minutes:g} min", task=task, minutes=minutes)


def _wait(said: Said, values: Values) -> Reply:
    minutes = float(values["number"])
    return said.event("wait", f"wait for the {values['who']} {minutes:g} min", who=values["who"], minutes=minutes)


def _break(said: Said, values: Values) -> Reply:
    minutes = float(values["number"])
    return said.event("wait", f"break of {minutes:g} min", who="us", person=0, minutes=minutes)


def _torque(which: str) -> Callable[[Said, Values], Reply]:
    def told(said: Said, values: Values) -> Reply:
        key = str(values["termination"])
        if key.startswith("?"):
            raise FaultError(key[1:])
        unit: Unit = values.get("unit") or said.plan.job.record.torque.tool_unit
        amount, at = inch_pounds(float(values["number"]), unit), said.at()
        row = next(termination for termination in said.plan.changeover.terminations if termination.key == key)
        chips = (f"{which} pass", row.words, torque_text(amount, unit))
        return chips, lambda job: tightened(job, key, at, **{which: amount}), f"torque:{key}"

    return told


def _mark(said: Said, values: Values) -> Reply:
    key = str(values["termination"])
    if key.startswith("?"):
        raise FaultError(key[1:])
    at = said.at()
    row = next(termination for termination in said.plan.changeover.terminations if termination.key == key)
    return ("marked", row.words), lambda job: tightened(job, key, at, marked=True), f"torque:{key}"


def _tool(name: str, value: str, words: str) -> Callable[[Said, Values], Reply]:
    def told(said: Said, values: Values) -> Reply:
        held = values[value]
        return (f"{words}: {held}",), lambda job: with_tool(job, **{name: held}), f"record:torque.{name}"

    return told


def _item(said: Said, values: Values) -> Reply:
    hold = hold_of(said.plan.changeover, values["hold"])
    number = int(values["count"])
    if not 1 <= number <= len(hold.items):
        raise FaultError(f'the hold "{hold.words}" has {len(hold.items)} items')
    item = hold.items[number - 1]
    if item.auto:
        raise FaultError(f'"{item.words}" is answered by the record itself')
    value = f"{values['number']:g}" if "number" in values else "yes"
    if item.reading and "number" not in values:
        raise FaultError(f'"{item.words}" takes a reading in volts')
    chips = (hold.words, item.words, value)
    return chips, lambda job: ticked(job, hold.id, item.key, value), f"hold:{hold.id}"


def _sign(said: Said, values: Values) -> Reply:
    hold, by, at = values["hold"], str(values["rest"]).removeprefix("by "), said.at()
    words = hold_of(said.plan.changeover, hold).words
    return (f"sign {words}", by), lambda job: signed(job, plan_of(job).changeover, hold, by, at), f"hold:{hold}"


def _override(said: Said, values: Values) -> Reply:
    hold, at = values["hold"], said.at()
    by, _, why = str(values["rest"]).partition(" because ")
    if not why.strip():
        raise FaultError("say who overrides it and why: override energize by Lee because ...")
    words = hold_of(said.plan.changeover, hold).words
    return (
        (f"override {words}", by, why),
        lambda job: signed(job, plan_of(job).changeover, hold, by, at, why),
        f"hold:{hold}",
    )


def _reopen(said: Said, values: Values) -> Reply:
    hold = values["hold"]
    return (f"open {hold_of(said.plan.changeover, hold).words} again",), lambda job: opened(job, hold), f"hold:{hold}"


def _on(said: Said, values: Values) -> Reply:
    branch, name = said.circuit(values)
    at = said.at()
    return (
        (f"{name} on",),
        lambda job: switched(job, plan_of(job).changeover, branch.key, "on", at),
        f"switched:{branch.key}",
    )


def _left_off(said: Said, values: Values) -> Reply:
    branch, name = said.circuit(values)
    at, why = said.at(), str(values["rest"])
    chips = (f"{name} stays off", why)
    return (
        chips,
        lambda job: switched(job, plan_of(job).changeover, branch.key, "off", at, why),
        f"switched:{branch.key}",
    )


def _check(key: str, words: str) -> Callable[[Said, Values], Reply]:
    def told(said: Said, values: Values) -> Reply:
        branch, name = said.circuit(values)
        return (f"{name}: {words}",), lambda job: checked_off(job, branch.key, key), f"switched:{branch.key}"

    return told


def _named(said: Said, values: Values) -> Reply:
    branch, name = said.circuit(values)
    if branch.origin_tag is None:
        raise FaultError(f"{name} is a new circuit; name it at the bench")
    tag, feeds = branch.origin_tag, str(values["rest"])
    return (f"{name} feeds {feeds}",), lambda job: traced(job, tag, branch.key, feeds), f"switched:{branch.key}"


def _takes(said: Said, values: Values) -> Reply:
    task, words = said.task(values)
    minutes = float(values["number"])
    if not 0 < minutes <= 24 * 60:
        raise FaultError(f"{minutes:g} minutes are none of a day's work")
    three = (round(0.7 * minutes, 1), minutes, round(1.6 * minutes, 1))
    return (f"{words} takes {minutes:g} min",), lambda job: task_changed(job, task, minutes=three), f"day:task.{task}"


def _change(words: str, **changes: Any) -> Callable[[Said, Values], Reply]:
    def told(said: Said, values: Values) -> Reply:
        task, name = said.task(values)
        kind = next((one for one in said.plan.changeover.tasks if one.id == task), None)
        if kind is not None and kind.hold and changes != {"dropped": False}:
            raise FaultError(f'"{name}" ends in a hold and stays where it is')
        return (f"{words}: {name}",), lambda job: task_changed(job, task, **changes), f"day:task.{task}"

    return told


def _follows(said: Said, values: Values) -> Reply:
    task, name = said.task(values)
    other, other_name = said.task(values, "other")
    change = said.plan.job.day.changes.get(task)
    after = tuple(dict.fromkeys((*(change.after if change else ()), other)))
    return (f"{name} after {other_name}",), lambda job: task_changed(job, task, after=after), f"day:task.{task}"


def _add(said: Said, values: Values) -> Reply:
    words = str(values["rest"])
    return (f"new task: {words}",), lambda job: task_added(job, words), "day:own"


def _window(said: Said, values: Values) -> Reply:
    who, begin, end = values["who"], clock_text(values["from"]), clock_text(values["until"])
    return said.day(f"{who} {begin} to {end}", f"day:{who}_from", **{f"{who}_from": begin, f"{who}_until": end})


def _rain(said: Said, values: Values) -> Reply:
    begin, end = clock_text(values["from"]), clock_text(values["until"])
    return said.day(f"rain {begin} to {end}", "day:weather", weather="rain", rain_from=begin, rain_until=end)


def _weather(said: Said, values: Values) -> Reply:
    weather = values["weather"]
    return said.day(f"weather: {weather}", "day:weather", weather=weather, rain_from="", rain_until="")


def _inspection(said: Said, values: Values) -> Reply:
    when = values["inspection"]
    return said.day(f"inspection {when.replace('_', ' ')}", "day:inspection", inspection=when)


def _lunch(said: Said, values: Values) -> Reply:
    minutes = int(values["number"])
    return said.day(f"break of {minutes} min", "day:lunch_min", lunch_min=minutes)


EDITS: dict[str, Callable[[Said, Values], Reply]] = {
    "start": _event("start", "start"),
    "start_two": _event("start", "second person starts", 2),
    "done": _event("done", "done"),
    "undone": _event("undone", "not done"),
    "took": _took,
    "off": lambda said, values: said.event("off", "power off"),
    "wait": _wait,
    "break": _break,
    "torque": _torque("first"),
    "second": _torque("second"),
    "mark": _mark,
    "calibrated": _tool("calibrated", "date", "torque tool calibrated"),
    "tool_unit": _tool("tool_unit", "unit", "torque tool in"),
    "tool": _tool("tool", "rest", "torque tool"),
    "item": _item,
    "item_reads": _item,
    "sign": _sign,
    "override": _override,
    "reopen": _reopen,
    "on": _on,
    "left_off": _left_off,
    "button": _check("button", "trips by its button"),
    "polarity": _check("polarity", "polarity right"),
    "volts": _check("volts", "voltage right"),
    "halves": _check("halves", "120 V from each pole"),
    "named": _named,
    "takes": _takes,
    "drop": _change("not done on the day", dropped=True),
    "keep": _change("done on the day", dropped=False),
    "move_after": _change("after the dark", phase="after"),
    "move_before": _change("before the dark", phase="before"),
    "follows": _follows,
    "add": _add,
    "people": lambda said, values: said.day(f"people: {values['value']}", "day:people", people=values["value"]),
    "day_start": lambda said, values: said.day(
        f"begins {clock_text(values['early'])}", "day:start", start=clock_text(values["early"])
    ),
    "promise": lambda said, values: said.day(
        f"promise {clock_text(values['late'])}", "day:promise", promise=clock_text(values["late"])
    ),
    "no_promise": lambda said, values: said.day("no promise", "day:promise", promise=""),
    "date": lambda said, values: said.day(f"the day is {values['date']}", "day:date", date=values["date"]),
    "window": _window,
    "lunch": _lunch,
    "no_lunch": lambda said, values: said.day("no break", "day:lunch_min", lunch_min=0),
    "weather": _weather,
    "rain": _rain,
    "inspection": _inspection,
}
