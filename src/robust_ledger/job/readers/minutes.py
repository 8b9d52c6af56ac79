"""Reading how long a task takes: "20" or "10 20 40" for the least, the usual and the most."""

from __future__ import annotations

import re

MOST_MIN = 24 * 60
QUICK, SLOW = 0.7, 1.6  # of the usual minutes, where only those were said


def read_minutes(text: str) -> tuple[float, float, float] | None:
    """Three figures [min], from three or from the usual one; empty means as counted. Raises ValueError with one sentence."""
    words = [
        word
        for word in re.split(r"(?<=\d)\s*[-/]\s*(?=\d)|\s+to\s+|[\s,;]+", text.strip().removesuffix("min").strip())
        if word
    ]
    if not words:
        return None
    try:
        figures = [float(word) for word in words]
    except ValueError:
        raise ValueError(
            f'"{text.strip()}" are no minutes; write the usual ones like 20, or least, usual and most like 10 20 40.'
        ) from None
    if len(figures) not in (1, 3):
        raise ValueError("Write the usual minutes, or three figures: least, usual, most.")
    if min(figures) <= 0:
        raise ValueError(f"A task takes more than {min(figures):g} minutes.")
    if len(figures) == 1:
        figures = [round(QUICK * figures[0], 1), figures[0], round(SLOW * figures[0], 1)]
    low, usual, high = figures
    if usual > MOST_MIN:
        raise ValueError(f"{usual / 60:g} hours are none of a day's work.")
    if not low <= usual <= high:
        raise ValueError(f"Least, usual and most ({low:g}, {usual:g}, {high:g}) are not in that order.")
    return low, usual, high


def minutes_text(minutes: tuple[float, float, float]) -> str:
    """The same as it reads back."""
    return " ".join(f"{one:g}" for one in minutes)
