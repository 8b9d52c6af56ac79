"""The record of the day in words and as data: holds, torques, voltages, circuits."""

from __future__ import annotations

from typing import Any

from robust_ledger.changeover.energize import sequence
from robust_ledger.changeover.holds import Hold, holds
from robust_ledger.changeover.live import durations
from robust_ledger.changeover.record import moment
from robust_ledger.changeover.room import DayTasks
from robust_ledger.changeover.volts import POINT_WORDS, judged
from robust_ledger.job.readers.torque_units import torque_text

STATE_WORDS = {
    "open": "open",
    "ready": "every item done, not signed",
    "signed": "signed",
    "overridden": "PASSED WITH OPEN ITEMS",
    "reopened": "OPEN AGAIN",
}


def hold_words(hold: Hold) -> str:
    """How a hold stands, in a line."""
    words = f"{hold.words}: {STATE_WORDS[hold.state]}"
    if hold.passed:
        words += f" by {hold.signed_by}, {moment_words(hold.signed_at)}"
    if hold.overridden:
        words += f", because {hold.overridden}"
    if hold.why:
        words += f", signed by {hold.signed_by} before: {hold.why}"
    return words


def moment_words(text: str) -> str:
    """A kept moment as it is read: "Dec 1, 2:05 pm"."""
    at = moment(text)
    return (
        f"{at.strftime('%b')} {at.day}, {at.strftime('%I:%M').lstrip('0')} {'am' if at.hour < 12 else 'pm'}"
        if at
        else text
    )


def is_over(room: DayTasks) -> bool:
    """Whether every hold is passed by its items, every termination done, every circuit on or left off with a reason."""
    return (
        all(hold.state == "signed" for hold in holds(room))
        and all(one.done for one in room.torque)
        and all(one.done for one in sequence(room))
    )


def record_lines(room: DayTasks) -> list[str]:
    """The record, a line each."""
    lines = ["Holds:"]
    for hold in holds(room):
        lines.append(f"  {hold_words(hold)}")
        lines += [f"    open: {one.words}{f' ({one.fault})' if one.fault else ''}" for one in hold.open_items]
    left = [one for one in room.torque if not one.done]
    lines.append(f"Torque: {len(room.torque) - len(left)} of {len(room.torque)} terminations done")
    for one in left[:40]:
        due = torque_text(one.of.due_in_lb, one.of.label_unit) if one.of.due_in_lb is not None else "by the label"
        lines.append(
            f"  {one.of.words}: {due}{' (verify)' if one.of.verify else ''}; {one.wrong or 'open: ' + ', '.join(one.missing)}"
        )
    lines += [f"  and {len(left) - 40} more"] if len(left) > 40 else []
    lines.append("Voltages:" if room.job.record.readings else "Voltages: none measured")
    for reading in room.job.record.readings:
        found = judged(reading, supply=room.job.dwelling.supply)
        lines.append(f"  {POINT_WORDS[reading.point]}: {found.words}. {found.reason}".rstrip())
    circuits = sequence(room)
    lines.append(
        f"Circuits: {sum(circuit.done for circuit in circuits)} of {len(circuits)} on and checked, or left off with a reason"
    )
    for each in circuits:
        if not each.done:
            words = each.state.state or "not yet on"
            lines.append(
                f"  {each.space:>4} {each.branch.name}: {words}; open: {', '.join(c.words for c in each.left) or 'nothing'}"
            )
    return lines


def record_data(room: DayTasks) -> dict[str, Any]:
    """The same as data."""
    return {
        "over": is_over(room),
        "holds": [
            {
                "id": hold.id,
                "state": hold.state,
                "signed_by": hold.signed_by,
                "signed_at": hold.signed_at,
                "overridden": hold.overridden,
                "why": hold.why,
                "items": [
                    {"key": i.key, "words": i.words, "value": i.value, "done": i.done, "fault": i.fault}
                    for i in hold.items
                ],
            }
            for hold in holds(room)
        ],
        "torque": [
            {
                "key": one.of.key,
                "words": one.of.words,
                "due_in_lb": one.of.due_in_lb,
                "verify": one.of.verify,
                "first_in_lb": one.row.first,
                "second_in_lb": one.row.second,
                "marked": one.row.marked,
                "wrong": one.wrong,
                "missing": list(one.missing),
            }
            for one in room.torque
        ],
        "voltages": [
            {**reading.as_data(), "judgement": found.kind, "words": found.words}
            for reading in room.job.record.readings
            for found in (judged(reading, supply=room.job.dwelling.supply),)
        ],
        "circuits": [
            {
                "key": str(one.branch.key),
                "space": one.space,
                "feeds": one.branch.feeds,
                "state": one.state.state,
                "checks": list(one.state.checks),
                "left": [c.words for c in one.left],
                "why": one.state.why,
            }
            for one in sequence(room)
        ],
        "minutes_each": {key: round(value, 2) for key, value in durations(room).items()},
    }
