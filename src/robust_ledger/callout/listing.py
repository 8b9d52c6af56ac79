"""The list of circuits as one works on it: order, filter, and one value set for many at once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from robust_ledger.callout.circuit import read_callout
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.edits import change_circuit
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.spaces import parse_old

ORDERS = {"tag": "by tag", "space": "by space", "room": "by room", "gauge": "by gauge"}
SHOWN = {
    "all": "all circuits",
    "findings": "with findings",
    "off": "off for now",
    "unknown": "unknown",
    "loose": "not linked",
}
FIELDS = {"breaker": "breaker", "gauge": "gauge", "marks": "marks, wiring", "feeds": "what it feeds", "room": "room"}


LAST = "~"  # comes after every mark of an old box


def listed(
    job: Job, codebook: Codebook, order: str = "tag", shown: str = "all", words: str = "", found: Iterable[int] = ()
) -> list[Circuit]:
    """The circuits in an order, of one sort, and with every word of `words` in their line or room. `found`: tags with open
    findings."""
    wanted, tagged = words.lower().split(), set(found)

    def kept(one: Circuit) -> bool:
        """Of the sort shown, and with every word."""
        sort = {
            "all": True,
            "findings": one.tag in tagged,
            "off": one.off,
            "unknown": Mark.UNKNOWN in one.marks or not one.feeds,
            "loose": one.poles == 2 and not one.off and not any(job.load(load_id) for load_id in one.load_ids),
        }[shown]
        if not sort or not wanted:  # writing a line out is slow; most of the time nobody filters
            return sort
        text = f"tag {one.tag} {callout_text(one)} {one.room} {one.note}".lower()
        return all(word in text for word in wanted)

    def key(one: Circuit) -> tuple[Any, ...]:
        """Sorts by the order asked for; what has none comes last."""
        position = parse_old(one.spaces[0]) if one.spaces else None
        space = (*position, one.tag) if position else (LAST, 9999, "", one.tag)
        area = (area_cmil(codebook, one.gauge) or 0) if one.gauge else -1
        return {
            "tag": (one.tag,),
            "space": space,
            "room": (not one.room, one.room.lower(), *space),
            "gauge": (area, one.metal, one.tag),
        }[order]

    return sorted((circuit for circuit in job.circuits if kept(circuit)), key=key)


def set_for(job: Job, tags: Iterable[int], name: str, text: str, codebook: Codebook) -> Job:
    """Set one field of many circuits to what was typed, read as in the call-out line. Marks and wiring come on top of those
    that are there. Raises ValueError with one sentence; then nothing is changed."""
    changes = _read(job, name, text.strip(), codebook)
    for tag in tags:
        circuit = job.circuit(tag)
        if circuit is None:
            continue
        mine = dict(changes)
        if "marks" in mine:
            mine["marks"] = tuple(dict.fromkeys((*circuit.marks, *mine["marks"])))
        job = change_circuit(job, tag, **mine)
    return job


def value_of(circuit: Circuit, name: str) -> str:
    """A field of a circuit as it would be typed, to be filled down."""
    if name == "breaker":
        return "?" if circuit.breaker_a is None else f"{circuit.breaker_a:g}"
    if name == "gauge":
        return (circuit.gauge or "?") + ("al" if circuit.gauge and circuit.metal == "al" else "")
    if name == "marks":
        bare = {"spaces": (), "breaker_a": None, "poles": 1, "gauge": None, "feeds": "", "shares_neutral_with": None}
        return callout_text(replace(circuit, **bare, clamp_a=None, free_in=None, enters=""))[5:].strip()
    return str(getattr(circuit, name))


def _read(job: Job, name: str, text: str, codebook: Codebook) -> dict[str, Any]:
    if name in ("feeds", "room"):
        return {name: text}
    line = {"breaker": f"- {text or '?'} 12 x", "gauge": f"- 20 {text or '?'} x", "marks": f"- 20 12 x {text}"}[name]
    reading = read_callout(line, job, codebook)
    if reading.fault:
        raise ValueError(reading.fault.text)
    circuit = reading.circuit
    if circuit is None or circuit.feeds != "x":
        raise ValueError(f'"{text}" is no {FIELDS[name]}.')
    if name == "breaker":
        if "/" in text:
            raise ValueError("Poles go with the spaces; change them in the line.")
        return {"breaker_a": circuit.breaker_a}
    if name == "gauge":
        return {"gauge": circuit.gauge, "metal": circuit.metal}
    return {"marks": circuit.marks, **({"cable": circuit.cable} if circuit.cable else {})}
