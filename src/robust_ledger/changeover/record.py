"""Writing down what happens on the day: times, holds, torques, voltages, circuits. Each makes the next job, or refuses in one sentence."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from msgspec.structs import replace

from robust_ledger.changeover.energize import in_the_way, sequence
from robust_ledger.changeover.holds import before, facts_of, hold_of, unpassed_for
from robust_ledger.changeover.room import DayTasks
from robust_ledger.job.edits import change_circuit
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.day import OwnTask, TaskChange
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.record import ChangeoverRecord, Event, HoldState, Switched, Tightened, Volts

AHEAD_S = 90  # a clock may differ by so much before it counts as set back


def _with(job: Job, **values: Any) -> Job:
    return replace(job, record=job.record.changed(**values))


def stamp(at: datetime) -> str:
    """A moment as it is kept: wall clock with its distance from UTC, to the second."""
    return (at if at.tzinfo else at.astimezone()).isoformat(timespec="seconds")


def moment(text: str) -> datetime | None:
    """A kept moment; None for one that cannot be read."""
    try:
        at = datetime.fromisoformat(text)
    except ValueError:
        return None
    return at if at.tzinfo else at.astimezone()


def noted(job: Job, room: DayTasks, event: Event, by_hand: bool = False) -> Job:
    """Write down an event. `by_hand`: its time was said, and it goes where it belongs among the others. Raises ModelError: a task there is none of,
    one behind a hold that is not passed, a clock that was set back."""
    if event.task and event.task not in {task.id for task in room.tasks} | {"lunch"}:
        raise ModelError(f'there is no task "{event.task}" on this day')
    now, events = moment(event.at), job.record.events
    last = moment(events[-1].at) if events else None
    if now is None:
        raise ModelError(f'"{event.at}" is no time')
    if last is not None and not by_hand and (last - now).total_seconds() > AHEAD_S:
        raise ModelError(
            f"the clock is earlier than the last entry, {last.strftime('%I:%M %p').lstrip('0').lower()}; was it set back? Say the time by hand"
        )
    if event.kind in ("start", "done"):
        _refuse_behind_hold(room, event)
    later = [one for one in events if by_hand and (at := moment(one.at)) is not None and at > now]
    return _with(job, events=(*events[: len(events) - len(later)], event, *later))


def _refuse_behind_hold(room: DayTasks, event: Event) -> None:
    if (hold := unpassed_for(room, event.task)) is not None:
        left = hold.open_items
        open_ = f"{len(left)} items are open, first: {left[0].words}" if left else "it is not signed"
        raise ModelError(f'the hold "{hold.words}" is not passed: {hold.why or open_}')
    task = next((one for one in room.tasks if one.id == event.task), None)
    if event.kind == "done" and task is not None and task.hold and not (own := hold_of(room, task.hold)).passed:
        raise ModelError(f'sign the hold "{own.words}" first')


def ticked(job: Job, hold_id: str, key: str, value: str) -> Job:
    """Tick an item of a hold, or enter its reading; "" takes it back. A signed hold is not changed by it."""
    held = job.record.holds.get(hold_id) or HoldState()
    ticks = {**held.ticks, key: value.strip()}
    if not value.strip():
        ticks.pop(key)
    return _with(job, holds={**job.record.holds, hold_id: held.changed(ticks=ticks)})


def signed(job: Job, room: DayTasks, hold_id: str, by: str, at: datetime, overriding: str = "") -> Job:
    """Sign a hold. Raises ModelError while an item is open, unless it is overridden with a reason; without a name never."""
    hold, name, why = hold_of(room, hold_id), by.strip(), overriding.strip()
    if not name:
        raise ModelError("a hold is signed with a name")
    if (first := before(room, hold_id)) is not None:
        raise ModelError(f'the hold "{first.words}" comes first')
    left = hold.open_items
    if left and not why:
        raise ModelError(
            f"{len(left)} items are open, first: {left[0].words}{f' ({left[0].fault})' if left[0].fault else ''}"
        )
    held = job.record.holds.get(hold_id) or HoldState()
    made = held.changed(signed_by=name, signed_at=stamp(at), facts=facts_of(hold), overridden=why if left else "")
    return _with(job, holds={**job.record.holds, hold_id: made})


def opened(job: Job, hold_id: str) -> Job:
    """Take a signature back; the ticks stay."""
    held = job.record.holds.get(hold_id) or HoldState()
    return _with(
        job, holds={**job.record.holds, hold_id: held.changed(signed_by="", signed_at="", facts={}, overridden="")}
    )


def tightened(job: Job, key: str, at: datetime, **values: Any) -> Job:
    """Change a row of the torque log: `first`, `second` [lbf·in], `marked`. Raises ModelError for a torque that cannot be."""
    for name in ("first", "second"):
        if (amount := values.get(name)) is not None and not 1 <= amount <= 1000:
            raise ModelError(f"{amount:.4g} lbf·in is no torque of a panel: from 1 to 1,000")
    log = job.record.torque
    row = (log.rows.get(key) or Tightened()).changed(**values, at=stamp(at))
    return _with(job, torque=log.changed(rows={**log.rows, key: row}))


def with_tool(job: Job, **values: Any) -> Job:
    """Change what is known of the torque tool: `tool`, `tool_unit`, `calibrated`."""
    return _with(job, torque=job.record.torque.changed(**values))


def measured(job: Job, readings: Volts) -> Job:
    """Write voltages down."""
    for name in ("leg_to_leg", "a_to_neutral", "b_to_neutral", "neutral_to_ground"):
        value = getattr(readings, name)
        if value is not None and not 0 <= value <= 1000:
            raise ModelError(f"{value:g} V is no reading of a house")
    return _with(job, readings=(*job.record.readings, readings))


def unmeasured(job: Job, gone: set[int]) -> Job:
    """Take readings out by their place in the list."""
    return _with(
        job, readings=tuple(reading for number, reading in enumerate(job.record.readings) if number not in gone)
    )


def switched(job: Job, room: DayTasks, key: CircuitKey, state: str, at: datetime, why: str = "") -> Job:
    """A breaker switched on, or left off with a reason. Raises ModelError while any hold is open, and for one that has to stay off."""
    if state == "on":
        if (hold := in_the_way(room)) is not None:
            again = f"; it has opened again: {hold.why}" if hold.why else ""
            raise ModelError(f'no breaker is switched on before the hold "{hold.words}" is passed{again}')
        one = next((one for one in sequence(room) if one.branch.key == key), None)
        if one is None:
            raise ModelError("there is no such circuit on a breaker")
    if state == "off" and not why.strip():
        raise ModelError("say why it is left off")
    return _circuit(job, key, state=state, at=stamp(at), why=why.strip())


def checked_off(job: Job, key: CircuitKey, check: str, on: bool = True) -> Job:
    """Tick a check of a circuit, or take it back."""
    held = job.record.circuits.get(key) or Switched()
    checks = tuple(one for one in held.checks if one != check)
    return _circuit(job, key, checks=(*checks, check) if on else checks)


def traced(job: Job, tag: int, key: CircuitKey, feeds: str, room_name: str = "") -> Job:
    """What a circuit was found to feed: it goes to the circuit itself, and so to the directory and the papers."""
    circuit = job.circuit(tag)
    if circuit is None or not feeds.strip():
        raise ModelError("say what it feeds")
    marks = tuple(one for one in circuit.marks if one is not Mark.UNKNOWN)
    values: dict[str, Any] = {"feeds": feeds.strip(), "marks": marks}
    if room_name.strip():
        values["room"] = room_name.strip()
    return checked_off(change_circuit(job, tag, **values), key, "traced")


def _circuit(job: Job, key: CircuitKey, **values: Any) -> Job:
    held = job.record.circuits.get(key) or Switched()
    return _with(job, circuits={**job.record.circuits, key: held.changed(**values)})


def task_changed(job: Job, task_id: str, **values: Any) -> Job:
    """Re-time, move, drop or re-order a task: one of the user's own by its fields, one of the catalogue by what is different. Raises ModelError."""
    if any(one.id == task_id for one in job.day.own):
        if "dropped" in values:
            return replace(job, day=job.day.changed(own=tuple(one for one in job.day.own if one.id != task_id)))
        own = tuple(one.changed(**values) if one.id == task_id else one for one in job.day.own)
        return replace(job, day=job.day.changed(own=own))
    change = (job.day.changes.get(task_id) or TaskChange()).changed(**values)
    changes: Mapping[str, TaskChange] = {**job.day.changes, task_id: change}
    kept = {key: one for key, one in changes.items() if one != TaskChange()}
    return replace(job, day=job.day.changed(changes=kept))


def task_added(job: Job, words: str, **values: Any) -> Job:
    """A task of the user's own. Raises ModelError."""
    if not words.strip():
        raise ModelError("a task needs words")
    taken = {one.id for one in job.day.own}
    number = next(n for n in range(1, 1000) if f"own-{n}" not in taken)
    made = OwnTask.read({"id": f"own-{number}", "words": words.strip(), **values})
    return replace(job, day=job.day.changed(own=(*job.day.own, made)))


def begun_anew(job: Job) -> Job:
    """The day as if nothing of it had happened; what was learned of circuits stays."""
    return replace(job, record=ChangeoverRecord())
