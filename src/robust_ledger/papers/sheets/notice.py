"""The owner's notice: when the power is off, what to prepare, whom to call."""

from __future__ import annotations

from reportlab.platypus import Flowable, Spacer

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.demands import DayError
from robust_ledger.papers.sheet import Lack, Sheet, missing_heading
from robust_ledger.papers.style import HEADING, STRONG, TEXT, heading_block, para
from robust_ledger.plan import Plan

TITLE = "Notice to the owner"
LARGE = TEXT.clone("notice", fontSize=11, leading=16)
PREPARE = (
    "Food: keep refrigerator and freezer closed; a full freezer stays cold for about two days, a refrigerator for about four hours.",
    "Medical devices that need power: tell us now. We do not switch off before there is another supply for them.",
    "Heat and cooling are off. In cold weather set the heat up an hour before.",
    "Internet, phones on it, alarm and smoke alarms fed by the house are off; alarms with a battery go on.",
    "A garage door opens by hand with its release. Park the car outside before.",
    "A sump, well or septic pump does not run: no water from a well, and none down a drain that is pumped.",
    "Computers: shut them down before. Clocks have to be set after.",
    "Children and animals stay away from the panel and the outside of the meter all day.",
)


def story(plan: Plan) -> list[Flowable]:
    """The window, what to prepare, portable power, whom to call."""
    job = plan.job
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 10)]
    parts.append(para(_window(plan), LARGE))
    parts.append(para("Please prepare", HEADING))
    parts += [para(f"–  {line}", LARGE) for line in PREPARE]
    parts.append(para("While it is off", HEADING))
    parts.append(
        para(
            "We bring portable power for a few outlets where it is agreed beforehand: a refrigerator, a modem, a medical device. "
            "A generator of the house stays off and locked while we work.",
            LARGE,
        )
    )
    parts.append(para("Whom to call", HEADING))
    who = job.heading.electrician or "________________________"
    parts.append(
        para(
            f"{who}, on site all day. A wire that hangs low or a smell of burning: leave it, call 911, then the utility.",
            LARGE,
        )
    )
    parts += [Spacer(0, 16), para("Read by the owner, date: ________________________", STRONG)]
    return parts


def _window(plan: Plan) -> str:
    """When the power is off, in words; open where the day is not planned."""
    day = plan.job.day
    try:
        made = plan.changeover.schedule()
    except DayError:
        return "The power will be off for most of a day; we tell the time beforehand."
    on = f" on {day.date}" if day.date else ""
    promise = made.demands.promise_min
    back = (
        f"We promise it back by {clock_text(promise)}"
        if promise is not None
        else f"Count on it by {clock_text(made.likely_min)}"
    )
    return f"The power is off{on} from about {clock_text(made.day.off_min)}. {back}; should it be later, we tell you in the day."


def _missing(plan: Plan) -> list[str]:
    return missing_heading(plan) + ([] if plan.job.day.date else [Lack("the day", "day:date")])


SHEET = Sheet(9, "notice", TITLE, _missing, story, ("owner", "file"))
