"""What each stage's line is called, begins with and draws its words from: known before anything is said, and quick to load."""

from __future__ import annotations

from msgspec import Struct


class LineSpec(Struct, frozen=True):
    """The line of a stage: words that head its lines in a file, an example for the empty line, and the files of its words."""

    heads: tuple[str, ...]
    example: str
    vocabularies: tuple[str, ...]


LINES = {
    "walkthrough": LineSpec(("walk", "walkthrough", "walk-through"), "meter says 150", ("walkthrough",)),
    "pulloff": LineSpec(("pull-off", "pulloff", "circuits"), "7 20 12 kitchen counter", ("circuit",)),
    "load": LineSpec(("load", "loads", "house"), "range 11.2 kW kitchen", ("load", "house", "future")),
    "service": LineSpec(("service",), "aluminum, 200", ("service",)),
    "bench": LineSpec(("bench", "panel"), "move 8 to 21", ("bench",)),
    "changeover": LineSpec(("changeover", "day"), "done 14", ("changeover",)),
}


def stage_named(head: str) -> str | None:
    """The stage that a heading line like "load:" names; None for any other line."""
    word = head.strip().lower()
    if not word.endswith(":"):
        return None
    return next((stage for stage, line in LINES.items() if word[:-1].strip() in line.heads), None)
