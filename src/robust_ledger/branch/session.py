"""A whole call-out session from lines of text: dictated, kept in a file, or pasted from a spreadsheet."""

from __future__ import annotations

import re
from collections.abc import Iterable

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.branch.callout import read_callout
from robust_ledger.branch.callout_text import callout_text
from robust_ledger.branch.old_panel import first_free_position
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.edits import add_circuit, change_circuit
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import ModelError
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.ledger.text import cell_text

_TAG = re.compile(r"^\s*tag\s+(\d{1,9})(?!\d)\s*:?\s*(.*)$", re.I)
# What a line says about a circuit; tag, note and photos are not in it.
SPOKEN = (
    "spaces",
    "breaker_a",
    "poles",
    "gauge",
    "conductors",
    "metal",
    "cable",
    "free_in",
    "enters",
    "enters_at_in",
    "slack_in",
    "clamp_a",
    "feeds",
    "room",
    "marks",
    "shares_neutral_with",
    "load_ids",
)
HEADS = ("tag", "space", "breaker", "poles", "gauge", "wires", "metal", "feeds", "rest")


class Outcome(Struct, frozen=True):
    """What came of one line: the tag it made or changed and how it was understood, or why it was left."""

    number: int
    text: str
    tag: int | None
    fault: str = ""
    made: str = ""


def replay(lines: Iterable[str], job: Job, codebook: Codebook) -> tuple[Job, list[Outcome]]:
    """Call out line after line. "same" repeats the last circuit for the next space, "tag 7 …" writes a tag anew; blank lines
    and those that begin with # are passed over. A line that cannot be read changes nothing, and the next goes on."""
    made = []
    for number, line in enumerate(lines, 1):
        text = line.strip().removeprefix("\ufeff")
        if not text or text.startswith("# "):
            continue
        job, outcome = _one(number, text, job, codebook)
        made.append(outcome)
    return job, made


def _one(number: int, text: str, job: Job, codebook: Codebook) -> tuple[Job, Outcome]:
    tag = None
    line = text
    if match := _TAG.match(text):
        tag, line = int(match[1]), match[2]
        if job.circuit(tag) is None:
            return job, Outcome(number, text, None, f"there is no tag {tag} to change.")
    elif text.lower() == "same":
        if not job.circuits:
            return job, Outcome(number, text, None, "there is no circuit yet to repeat.")
        line = same_as_last(job)
    reading = read_callout(line, job, codebook, tag)
    if reading.fault:
        return job, Outcome(number, text, None, reading.fault.text)
    if reading.circuit is None:
        return job, Outcome(number, text, None, f"missing: {', '.join(reading.wanted) or 'a circuit'}.")
    try:
        after = write_down(job, reading.circuit).checked(job)
    except ModelError as fault:
        return job, Outcome(number, text, None, f"{fault.sentence}.")
    return after, Outcome(number, text, reading.circuit.tag, made=callout_text(reading.circuit, job))


def write_down(job: Job, circuit: Circuit) -> Job:
    """Put a circuit as read into the job: a new one, or what the line says of a tag that is there. Links to loads stay while
    the description does."""
    before = job.circuit(circuit.tag)
    if before is None:
        return add_circuit(job, circuit)
    changes = {name: getattr(circuit, name) for name in SPOKEN}
    if not circuit.load_ids and before.feeds == circuit.feeds:
        changes["load_ids"] = before.load_ids
    return change_circuit(job, circuit.tag, **changes)


def same_as_last(job: Job) -> str:
    """The line that repeats the last circuit for the next free space."""
    last = job.circuits[-1]
    spare = {"spaces": (first_free_position(job),), "shares_neutral_with": None, "clamp_a": None, "load_ids": ()}
    return callout_text(replace(last, **spare))


def as_rows(circuits: Iterable[Circuit]) -> str:
    """Circuits as rows for a spreadsheet, tabs between the cells; what has no column of its own is in "rest". Links to loads
    stay behind: in another job they would name nothing."""
    rows = ["\t".join(HEADS)]
    for one in circuits:
        bare = replace(one, spaces=(), breaker_a=None, poles=1, gauge=None, feeds="")
        rest = callout_text(bare).removeprefix("- ? ?").strip()
        cells = (
            str(one.tag),
            ",".join(one.spaces) or "-",
            "?" if one.breaker_a is None else f"{one.breaker_a:g}",
            str(one.poles),
            one.gauge or "?",
            str(one.conductors) if one.conductors and one.gauge else "",  # apart: a spreadsheet takes "12-2" for a date
            one.metal,
            one.feeds,
            rest,
        )
        rows.append("\t".join(cell_text(cell) for cell in cells))
    return "\n".join(rows) + "\n"


def lines_of_rows(text: str) -> list[str]:
    """Rows from a spreadsheet as call-out lines. With a head of our names the columns are taken by it, otherwise each row's
    cells are one line; a tag that is not there yet is a new circuit."""
    rows = [row.split("\t") for row in text.replace("\r\n", "\n").replace("\r", "\n").split("\n")]
    head = [cell.strip().lower() for cell in rows[0]] if rows else []
    if "space" not in head or "breaker" not in head:
        return [" ".join(cell.strip() for cell in row if cell.strip()) for row in rows]
    lines = [""]
    for row in rows[1:]:
        cells = {name: cell.strip().removeprefix("'") for name, cell in zip(head, row, strict=False)}
        if not any(cells.values()):
            lines.append("")
            continue
        poles = cells.get("poles", "")
        amps = cells.get("breaker") or "?"
        gauge = cells.get("gauge") or "?"
        metal = "al" if cells.get("metal", "").lower() == "al" and gauge != "?" else ""
        wires = f"-{cells['wires']}" if cells.get("wires") and gauge != "?" else ""
        feeds = cells.get("feeds", "").replace('"', "'")
        parts = [
            cells.get("space") or "-",
            f"{amps}/{poles}" if poles not in ("", "1") else amps,
            gauge + wires + metal,
            f'"{feeds}"' if feeds else "",
            cells.get("rest", ""),
        ]
        lines.append(" ".join(part for part in parts if part))
    return lines
