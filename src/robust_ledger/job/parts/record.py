"""What really happened on the changeover day: times, signed holds, torques, voltages, circuits switched on."""

from typing import Annotated, Literal

from msgspec import Meta, field

from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said

MOST_EVENTS = 2000
Unit = Literal["in-lb", "ft-lb", "N·m"]
Point = Literal["line", "load", "panel"]


class Event(Model, frozen=True, kw_only=True):
    """Something that happened at a time. `at` is wall-clock with its distance from UTC, as ISO 8601 has it. `minutes`: how long a wait or a
    break is meant to be."""

    at: Line
    kind: Literal["start", "done", "undone", "wait", "off"]
    task: Line = ""
    person: Annotated[int, Meta(ge=0, le=2)] = 1
    who: Literal["us", "utility", "inspector", "owner"] = "us"
    minutes: Annotated[float, Meta(ge=0)] | None = None
    note: Line = ""


class HoldState(Model, frozen=True, kw_only=True):
    """A hold: its ticks and readings by item, and once signed by whom, when, and what its items said then."""

    ticks: Annotated[dict[Line, Line], Meta(description='by the key of the item: "yes", or the reading as taken')] = (
        field(default_factory=dict)
    )
    signed_by: Line = ""
    signed_at: Line = ""
    facts: Annotated[dict[Line, Line], Meta(description="what each item said when it was signed")] = field(
        default_factory=dict
    )
    overridden: Annotated[Line, Meta(description="why it was passed without its items; empty: it was not")] = ""


class Tightened(Model, frozen=True, kw_only=True):
    """A termination as it was tightened, in inch-pounds; None: not yet."""

    first: float | None = None
    second: float | None = None
    marked: bool = False
    at: Line = ""


class TorqueLog(Model, frozen=True, kw_only=True):
    """The torque tool and what was tightened with it, by the key of the termination."""

    tool: Annotated[Line, said("Torque tool", hint="which one")] = ""
    tool_unit: Annotated[Unit, said("It shows", choices={"in-lb": "lbf·in", "ft-lb": "lbf·ft", "N·m": "N·m"})] = "in-lb"
    calibrated: Annotated[
        Line,
        said(
            "Calibrated", 'date of its last calibration, "2026-03-01"; empty: not known', reads="date", hint="not known"
        ),
    ] = ""
    rows: dict[Line, Tightened] = field(default_factory=dict)


class Volts(Model, frozen=True, kw_only=True):
    """Voltages at one point at one moment; None: not measured. `main_open`: the main was open; `low_z`: a low-impedance tester."""

    point: Point
    at: Line = ""
    leg_to_leg: float | None = None
    a_to_neutral: float | None = None
    b_to_neutral: float | None = None
    neutral_to_ground: float | None = None
    main_open: bool | None = None
    loaded: bool | None = None
    low_z: bool | None = None
    tester: Line = ""
    simulated: bool = False


class Switched(Model, frozen=True, kw_only=True):
    """A circuit of the new panel on the day: on or left off, what was checked, and why it was left off."""

    state: Literal["", "on", "off"] = ""
    at: Line = ""
    checks: Annotated[tuple[Line, ...], Meta(max_length=20)] = ()
    why: Line = ""


class ChangeoverRecord(Model, frozen=True, kw_only=True):
    """The day as it was."""

    events: Annotated[tuple[Event, ...], Meta(max_length=MOST_EVENTS)] = ()
    holds: dict[Line, HoldState] = field(default_factory=dict)
    torque: TorqueLog = TorqueLog()
    readings: Annotated[tuple[Volts, ...], Meta(max_length=400)] = ()
    circuits: dict[CircuitKey, Switched] = field(default_factory=dict)
