"""Reading lists as they are typed into a field, and writing them so that they read back."""

from __future__ import annotations

import re
from typing import Any

from robust_ledger.job.parts.futures import FutureCircuit
from robust_ledger.job.parts.panels import MOST_SPACES
from robust_ledger.ledger.text import is_whole


def read_spaces(text: str) -> tuple[int, ...]:
    """A reader for a list of spaces like "19-24, 30"."""
    spaces: list[int] = []
    for part in text.replace(",", " ").split():
        first, dash, last = part.partition("-")
        if not is_whole(first) or (dash and not is_whole(last)):
            raise ValueError(f'"{part}" is not a space or a range like 19-24.')
        if int(last or first) > MOST_SPACES:
            raise ValueError(f'"{part[:20]}" is more than a panel has: {MOST_SPACES} spaces at most.')
        spaces.extend(range(int(first), int(last or first) + 1))
    return tuple(dict.fromkeys(spaces))


def spaces_text(spaces: tuple[int, ...]) -> str:
    """Write a list of spaces with ranges: (19, 20, 21, 30) → "19-21, 30"."""
    parts: list[str] = []
    run: list[int] = []
    for space in [*sorted(spaces), -1]:
        if run and space != run[-1] + 1:
            parts.append(f"{run[0]}-{run[-1]}" if len(run) > 1 else str(run[0]))
            run = []
        run.append(space)
    return ", ".join(parts)


def read_knockouts(text: str) -> dict[str, tuple[float, ...]]:
    """A reader for knockouts by side: "top 2, 4, 12; left 16"."""
    made: dict[str, tuple[float, ...]] = {}
    for part in text.split(";"):
        words = part.replace(",", " ").split()
        if not words:
            continue
        try:
            places = tuple(float(word) for word in words[1:])
        except ValueError:
            raise ValueError(f'"{part.strip()}": a side, then inches from the left or the top: top 2, 4, 12.') from None
        if words[0].lower() not in ("top", "bottom", "left", "right", "back") or not places:
            raise ValueError(
                f'"{part.strip()}" does not begin with top, bottom, left, right or back and inches after it.'
            )
        if not all(0 <= place <= 120 for place in places):
            raise ValueError("Places are from 0 to 120 in.")
        made[words[0].lower()] = places
    return made


def knockouts_text(knockouts: dict[str, tuple[float, ...]]) -> str:
    """Knockouts written so that `read_knockouts` reads them back."""
    return "; ".join(f"{side} {', '.join(f'{place:g}' for place in places)}" for side, places in knockouts.items())


def read_bends(text: str) -> tuple[float, float, float]:
    """Bend and strip lengths [in] for small, middle and large wires. Raises ValueError with one sentence."""
    parts = text.replace(",", " ").replace("in", " ").split()
    try:
        small, middle, large = (float(part) for part in parts)
    except ValueError:
        raise ValueError("Three lengths in inches: 14 to 10 AWG, 8 and 6 AWG, larger: 3, 4, 6.") from None
    if not all(0 <= one <= 24 for one in (small, middle, large)):
        raise ValueError("Each from 0 to 24 in.")
    return small, middle, large


def bends_text(bends: tuple[float, float, float]) -> str:
    """Lengths written so that `read_bends` reads them back."""
    return ", ".join(f"{one:g}" for one in bends)


_CIRCUIT = re.compile(r"^(.*?)\s+(\d{2,3}|\?)(?:/([12]))?$")


def read_circuits(text: str) -> tuple[FutureCircuit, ...]:
    """A reader for circuits as "island receptacles 20, welder 50/2": name, amperes, poles."""
    made = []
    for part in (piece.strip() for piece in text.split(",") if piece.strip()):
        match = _CIRCUIT.match(part)
        if not match:
            raise ValueError(f'"{part}" is not a circuit; write it like island receptacles 20 or welder 50/2.')
        poles: Any = int(match[3] or 1)
        made.append(
            FutureCircuit.read(
                {"name": match[1], "poles": poles, "breaker_a": None if match[2] == "?" else float(match[2])}
            )
        )
    return tuple(made)


def circuits_text(circuits: tuple[FutureCircuit, ...]) -> str:
    """Circuits written so that `read_circuits` reads them back."""
    return ", ".join(
        f"{c.name} {f'{c.breaker_a:g}' if c.breaker_a else '?'}{'/2' if c.poles == 2 else ''}" for c in circuits
    )


def tags_text(tags: tuple[int, ...]) -> str:
    """Tags in a row."""
    return ", ".join(map(str, tags))


def read_future_name(text: str) -> str:
    """The name of a future, which may not be empty. Raises ValueError with one sentence."""
    if not text.strip():
        raise ValueError("A future needs a name; its column carries it.")
    return text.strip()
