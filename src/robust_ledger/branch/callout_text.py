"""A circuit written as the call-out line that reads back to it."""

from __future__ import annotations

from robust_ledger.branch.callout_letters import (
    AMPS_TAGGED,
    BOXED,
    CABLE_SIZE,
    GAUGE_TAGGED,
    LOAD,
    POLES_TAGGED,
    SPACE,
    SPACE_TAGGED,
    Word,
    split,
)
from robust_ledger.branch.links import loads_named
from robust_ledger.branch.words import (
    AMP_UNITS,
    CABLE_SHORT,
    CABLE_WORDS,
    FILLERS,
    GAUGE_UNITS,
    MARK_SHORT,
    MARK_WORDS,
    NUMBERS,
    POLE_UNITS,
    SIDES,
)
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.readers.quantity import length_text


def callout_text(circuit: Circuit, job: Job | None = None) -> str:
    """Write a circuit as the line that reads back to it. With its job, loads are named that the description does not."""
    amps = "?" if circuit.breaker_a is None else f"{circuit.breaker_a:g}"
    wires = f"-{circuit.conductors}" if circuit.conductors and circuit.gauge else ""
    gauge = (circuit.gauge or "?") + wires + (circuit.metal if circuit.metal != "cu" and circuit.gauge else "")
    parts = [
        ",".join(circuit.spaces) or "-",
        f"{amps}/{circuit.poles}" if circuit.poles > 1 else amps,
        gauge,
        CABLE_SHORT[circuit.cable] if circuit.cable else "",
        _plain_or_quoted(circuit.feeds),
    ]
    parts += [f"={load_id}" for load_id in _unnamed_loads(circuit, job)] if job else []
    parts += [MARK_SHORT[mark] for mark in circuit.marks]
    if circuit.shares_neutral_with is not None:
        parts.append(f"mw {circuit.shares_neutral_with}")
    if circuit.clamp_a is not None:
        parts.append(f"clamp {circuit.clamp_a:g}")
    at = f"@{length_text(circuit.enters_at_in)}in" if circuit.enters and circuit.enters_at_in is not None else ""
    if circuit.free_in is not None:
        parts.append(f"{circuit.enters or 'free'}{at} {length_text(circuit.free_in)}in")
    elif circuit.enters:
        parts.append(f"{circuit.enters}{at} ?")
    if circuit.slack_in is not None:
        parts.append(f"slack {length_text(circuit.slack_in)}in")
    return " ".join(part for part in parts if part)


def _unnamed_loads(circuit: Circuit, job: Job) -> list[str]:
    """The linked loads, unless the description names just these. A load whose id is no plain word is left to the link."""
    named = list(loads_named(circuit.feeds, job.loads))
    linked = [load_id for load_id in circuit.load_ids if job.load(load_id) and LOAD.match(f"={load_id}")]
    return [] if linked == named else linked


def _plain_or_quoted(feeds: str) -> str:
    """A description as it is where every word of it reads as one, else in quotes."""
    feeds = " ".join(feeds.replace('"', "'").split())
    words = split(feeds)
    plain = all(_is_description(word, number > 0) for number, word in enumerate(words))
    return feeds if plain else f'"{feeds}"'


def _is_description(word: Word, described: bool) -> bool:
    lower = word.lower.strip(",;")
    special = (
        lower in MARK_WORDS
        or lower in CABLE_WORDS
        or lower.partition("@")[0] in ("mw", "clamp", "free", "slack", *SIDES)
        or word.text != word.text.strip(",;")
        or any(
            pattern.match(lower)
            for pattern in (SPACE_TAGGED, BOXED, AMPS_TAGGED, POLES_TAGGED, GAUGE_TAGGED, CABLE_SIZE)
        )
    )
    first = lower == "next" or lower in NUMBERS or lower in FILLERS or lower in ("?", "-") or bool(SPACE.match(lower))
    unit = lower in (*AMP_UNITS, *GAUGE_UNITS, *POLE_UNITS)
    return not special and not unit and (described or not first) and (described or len(lower) > 2)
