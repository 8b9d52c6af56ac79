"""How the changeover day is planned: who, when, what was promised, what stands in the way, and what the user has made of the tasks."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said

Minutes = tuple[float, float, float]
PhaseName = Literal["before", "dark", "after"]


class TaskChange(Model, frozen=True, kw_only=True):
    """What the user has made of a task of the catalogue; what is not said stays as the plan has it."""

    minutes: Annotated[Minutes | None, Meta(description="least, usual and most for all of it; None: as counted")] = None
    phase: Literal["", "before", "dark", "after"] = ""
    after: Annotated[
        tuple[Line, ...], Meta(max_length=40, description="ids of tasks that come first, beside its own")
    ] = ()
    people: Literal[0, 1, 2] = 0
    dropped: Annotated[bool, Meta(description="not done on this day")] = False


class OwnTask(Model, frozen=True, kw_only=True):
    """A task of the user's own. `after` and `ahead_of`: ids of tasks that come before it and behind it."""

    id: Line
    words: Line
    phase: PhaseName = "before"
    place: Line = "truck"
    minutes: Minutes = (10.0, 15.0, 30.0)
    people: Literal[1, 2] = 1
    after: Annotated[tuple[Line, ...], Meta(max_length=40)] = ()
    ahead_of: Annotated[tuple[Line, ...], Meta(max_length=40)] = ()
    daylight: bool = False
    dry: bool = False
    who: Literal["us", "utility", "inspector", "owner"] = "us"


class ChangeoverDay(Model, frozen=True, kw_only=True):
    """Who works on the day, when it begins, what was promised, and the windows of others. Times of day are kept as said: "8:00 am"; empty: not
    said."""

    people: Annotated[Literal[1, 2], said("Who works", choices={1: "one person", 2: "two people"})] = 1
    names: Annotated[tuple[Line, ...], Meta(max_length=2, description="who works, the first one first")] = ()
    date: Annotated[Line, said("Date", 'the day, "2026-12-01"', reads="date", hint="12/1/2026")] = ""
    zone: Annotated[
        Line,
        said(
            "Time zone",
            'time zone by its place, "America/Denver"; empty: that of the machine',
            reads="zone",
            hint="America/Denver",
        ),
    ] = ""
    latitude_deg: Annotated[
        Annotated[float, Meta(ge=-90, le=90)] | None,
        said("Latitude °N", "north of the equator", reads="degrees", hint="not entered", least=-90, most=90),
    ] = None
    longitude_deg: Annotated[
        Annotated[float, Meta(ge=-180, le=180)] | None,
        said(
            "Longitude °E",
            "east of Greenwich; the States are west, below zero",
            reads="degrees",
            hint="not entered",
            least=-180,
            most=180,
        ),
    ] = None
    start: Annotated[Line, said("Begins", 'when work begins, "8:00 am"', reads="clock")] = "8:00 am"
    promise: Annotated[
        Line,
        said(
            "Power promised by",
            "when the power was promised to be back; empty: nothing was promised",
            reads="clock",
            hint="no promise",
        ),
    ] = ""
    utility_from: Annotated[
        Line, said("Utility from", "from when the utility can come; empty: whenever", reads="clock", hint="any time")
    ] = ""
    utility_until: Annotated[Line, said("until", reads="clock", hint="any time")] = ""
    inspection: Annotated[
        Literal["before_power", "after", "another_day"],
        said(
            "Inspection",
            "the inspector comes before the utility connects, after the power is back, or another day",
            choices={
                "before_power": "before the utility connects",
                "after": "after, the same day",
                "another_day": "another day",
            },
        ),
    ] = "after"
    inspector_from: Annotated[Line, said("Inspector from", reads="clock", hint="any time")] = ""
    inspector_until: Annotated[Line, said("until", reads="clock", hint="any time")] = ""
    lunch_min: Annotated[int, said("Break, min", "minutes of a break at noon; 0: none", most=180)] = 30
    lunch_from: Annotated[Line, said("Break from", reads="clock", hint="any time")] = "11:00 am"
    lunch_until: Annotated[Line, said("until", reads="clock", hint="any time")] = "2:00 pm"
    weather: Annotated[
        Literal["", "dry", "rain"],
        said("Weather", "empty: not checked", choices={"": "not checked", "dry": "dry", "rain": "rain"}),
    ] = ""
    rain_from: Annotated[
        Line, said("Rain from", "rain from then on; empty: all day", reads="clock", hint="any time")
    ] = ""
    rain_until: Annotated[Line, said("until", reads="clock", hint="any time")] = ""
    changes: Annotated[dict[Line, TaskChange], Meta(description="by the id of the task")] = field(default_factory=dict)
    own: Annotated[tuple[OwnTask, ...], Meta(max_length=60)] = ()
    own_minutes: Annotated[
        dict[Line, tuple[float, ...]],
        Meta(description="minutes each time, from the user's own earlier days, by the id of the task"),
    ] = field(default_factory=dict)
