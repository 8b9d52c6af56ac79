"""Clamp readings as one writes them down: "4.1 B 18:20 refrigerator and lights"."""

from __future__ import annotations

import re
from datetime import datetime

from robust_ledger.job.parts.circuits import Circuit, ClampReading

_AMPS = re.compile(r"^(\d+(?:\.\d+)?)a?$", re.I)
_CLOCK = re.compile(r"^([01]?\d|2[0-3]):([0-5]\d)$")
_DAY = re.compile(r"^\d{4}-\d{2}-\d{2}$")
MOST_A = 600.0
LONGEST = 200


def read_reading(text: str, circuit: Circuit, now: datetime) -> ClampReading:
    """A reading of one circuit: the amperes first, then in any order the leg (A or B), the date and the time, else those of
    `now`; what is left was running. Raises ValueError with one sentence."""
    words = text.split()
    match = _AMPS.match(words[0]) if words else None
    if match is None or float(match[1]) > MOST_A:
        raise ValueError(f"Begin with the amperes read, up to {MOST_A:g}: 4.1 B 18:20 refrigerator.")
    leg, day, clock = "", now.strftime("%Y-%m-%d"), now.strftime("%H:%M")
    said: set[str] = set()
    running: list[str] = []
    for word in words[1:]:
        if word in ("A", "B", "a", "b") and "leg" not in said and not running:
            leg = word.upper()
            said.add("leg")
        elif (hour := _CLOCK.match(word)) and "clock" not in said:
            clock = f"{int(hour[1]):02d}:{hour[2]}"
            said.add("clock")
        elif _DAY.match(word) and "day" not in said:
            day = _real_day(word)
            said.add("day")
        else:
            running.append(word)
    words_running = " ".join(running)[:LONGEST]
    return ClampReading.read(
        {"tag": circuit.tag, "leg": leg, "amperes": float(match[1]), "at": f"{day} {clock}", "running": words_running}
    )


def _real_day(word: str) -> str:
    try:
        return datetime.strptime(word, "%Y-%m-%d").date().isoformat()
    except ValueError:
        raise ValueError(f"{word} is no day of the calendar.") from None


def reading_text(reading: ClampReading) -> str:
    """A reading as the line that reads back to it."""
    parts = (f"{reading.amperes:.10g}", reading.leg, reading.at, reading.running)
    return " ".join(part for part in parts if part)
