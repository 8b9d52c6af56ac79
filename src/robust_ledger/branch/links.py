"""Loads and circuits joined: which load a description may mean, though it does not say it in full."""

from __future__ import annotations

import re

from robust_ledger.job.models import Circuit, Job, Load, When

_EMPTY = {"the", "of", "and", "in", "for", "a", "old", "new", "circuit"}


def proposed(job: Job, circuit: Circuit) -> Load | None:
    """The one load without a circuit that a description most likely means: its words share the most with the load's name or
    room, and no other load's as many. None when nothing or two fit; a proposal is never taken unasked."""
    mine = _words(f"{circuit.feeds} {circuit.room}")
    scored = []
    for load in job.loads:
        if load.id in job.fed_loads or load.when is When.LATER or load.poles != circuit.poles:
            continue
        shared = len(mine & _words(load.name)) * 2 + len(mine & _words(load.room))
        if mine & _words(load.name):
            scored.append((shared, load))
    scored.sort(key=lambda pair: -pair[0])
    if not scored or (len(scored) > 1 and scored[0][0] == scored[1][0]):
        return None
    return scored[0][1]


def _words(text: str) -> set[str]:
    return {word.rstrip("s") for word in re.findall(r"[^\W\d_]{2,}", text.lower())} - _EMPTY
