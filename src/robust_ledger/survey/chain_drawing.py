"""The chain drawn: every link of the service as an upright bar against one ampere scale; the short bars are the job."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words, wrapped
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.survey.chain import Link, weakest

LEFT = 64.0
FOOT = 106.0


def chain_scene(chain: Sequence[Link], main: Entry, load: Entry, width: float, height: float) -> Scene:
    """A bar for what each link holds as found: solid where it stays, hatched where it goes or is the utility's, red where
    it stays and is too short, dashed where it is to be read; beside it, open, what it holds after the job. The main of the
    job and the calculated load go across as lines; the weakest link is marked."""
    scene = Scene(width, height)
    known = [e.amount for link in chain for e in (link.limit, link.planned) if e.known]
    most = max([*known, *(e.amount for e in (main, load) if e.known), 200.0]) * 1.12
    zero = height - FOOT
    low = weakest(chain)
    column = (width - LEFT) / max(1, len(chain))

    def up(amperes: float) -> float:
        return zero - (zero - 26) * amperes / most

    scene.add(Stroke(LEFT, zero, width, zero, "rule", weight=1))
    for number, link in enumerate(chain):
        left = LEFT + number * column
        binds = low is not None and link.stays and link.limit.known and link.title.lower() == low[1]
        _link(scene, link, left, column, zero, up(link.limit.amount if link.limit.known else 60), up, binds)
        spoken = f"{link.title} {link.limit.text()}: {link.verdict}" + (", the weakest link" if binds else "")
        scene.spot(Box(left + 2, 4, column - 4, height - 8), link.limit.id, spoken)
    for entry, words, dashed in ((main, "main", False), (load, "load", True)):
        if entry.known:
            y = up(entry.amount)
            other = load if entry is main else main
            close = other.known and abs(up(other.amount) - y) < 15
            shift = (-8 if entry.amount >= other.amount else 8) if close else 0
            scene.add(Stroke(LEFT, y, width, y, "ink", dashed, 1.6))
            scene.add(Words(LEFT - 6, y + shift, f"{words} {number_text(entry.amount)}", 12, align="right"))
    return scene


def _link(
    scene: Scene,
    link: Link,
    left: float,
    column: float,
    zero: float,
    top: float,
    up: Callable[[float], float],
    binds: bool,
) -> None:
    middle, half = left + column / 2, min(column * 0.24, 26.0)
    color = "stop" if link.fails else "accent"
    if not link.limit.known:
        scene.add(Box(middle - half, top, 2 * half, zero - top, "ask", dashed=True, weight=1.5))
    elif link.stays or link.branch:
        scene.add(Box(middle - half, top, 2 * half, zero - top, color, color))
    else:
        scene.add(Box(middle - half, top, 2 * half, zero - top, "faint", hatch=True))
    highest = top
    if link.made_new and link.planned.known:
        planned = up(link.planned.amount)
        scene.add(Box(middle + half * 0.35, planned, half * 0.65, zero - planned, "accent", "page", weight=1.8))
        highest = min(top, planned)
    scene.add(Words(middle, highest - 10, link.limit.text(), 14, True, "center", "stop" if link.fails else "ink"))
    if binds:
        scene.add(Words(middle, highest - 25, "weakest", 11.5, True, "center", "fix"))
    y = zero + 12
    for text in wrapped(link.title, column - 4, 12.5, 4):
        scene.add(Words(middle, y, text, 12, True, "center"))
        y += 14
    for text in wrapped(_short(link), column - 4, 11.5):
        scene.add(Words(middle, y + 2, text, 11.5, align="center", color="stop" if link.fails else "faint"))
        y += 14


def _short(link: Link) -> str:
    """The verdict under its bar; the link's name and its limit stand there already."""
    words = link.verdict.removeprefix(f"{link.title.lower()}: ")
    if link.made_new and link.planned.known:
        return f"new, {link.planned.text()}"
    return words.partition(", holds")[0] if link.stays and link.limit.known else words
