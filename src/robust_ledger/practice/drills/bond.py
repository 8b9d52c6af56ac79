"""Bond or not: whether neutral and ground are bonded at a place on the way of the service, by the rule the plan takes."""

from __future__ import annotations

from random import Random

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.panel_tree import MAIN, FurtherBox, Panel
from robust_ledger.job.templates import TEMPLATES
from robust_ledger.plan import plan
from robust_ledger.practice.drills.model import Question

BOND, APART = "bond them here", "keep them apart here"


class Case(Struct, frozen=True):
    """A way of the service: the job, the places as they are drawn, the key of the one that is asked for, and what is said of it."""

    job: Job
    way: tuple[str, ...]
    key: str
    words: str


def _of(name: str) -> Job:
    return next(one.take(blank_job()) for one in TEMPLATES if one.key == name)


def _meter_disconnect() -> Job:
    job = with_part(blank_job(), "scope", disconnect="new", disconnect_kind="meter")
    return with_part(job, "existing", disconnect_at="outdoors")


def _garage(wires: int, found: bool, metal_path: bool | None) -> Job:
    made = Panel(
        id="garage",
        name="garage",
        breaker_a=60,
        rods=2,
        wires=wires,
        found=found,
        metal_path=metal_path,
        separate_building=True,
        box=FurtherBox(spaces=12, bus_a=100, main="breaker"),
    )
    return replace(blank_job(), panels=(made,))


def _inside() -> Job:
    made = Panel(
        id="sub",
        name="kitchen",
        breaker_a=60,
        separate_building=False,
        box=FurtherBox(spaces=12, bus_a=100, main="lugs"),
    )
    return replace(blank_job(), panels=(made,))


def cases() -> tuple[Case, ...]:
    """Every case of the drill."""
    house, out, garage = ("meter", "panel"), ("meter", "disconnect", "panel"), ("meter", "panel", "garage panel")
    return (
        Case(_of("one"), house, MAIN, "A panel with its main, straight from the meter."),
        Case(_of("outside"), out, "disconnect", "A new service disconnect outdoors, the panel inside."),
        Case(_of("outside"), out, MAIN, "A new service disconnect outdoors, the panel inside."),
        Case(_meter_disconnect(), out, "disconnect", "A meter disconnect ahead, marked as no service equipment."),
        Case(_meter_disconnect(), out, MAIN, "A meter disconnect ahead, marked as no service equipment."),
        Case(_garage(4, False, None), garage, "garage", "A detached garage, its feeder new."),
        Case(_garage(3, True, False), garage, "garage", "A detached garage on an old three-wire feeder; no other metal between the buildings."),
        Case(_garage(3, True, True), garage, "garage", "A detached garage on an old three-wire feeder; a metal water pipe runs to it as well."),
        Case(_inside(), ("meter", "panel", "kitchen panel"), "sub", "A sub-panel in the same house."),
        Case(_inside(), ("meter", "panel", "kitchen panel"), MAIN, "A sub-panel in the same house."),
        Case(_of("split"), ("meter", "panel", "second panel"), "second", "Two panels with a main each, both from the meter."),
    )  # fmt: skip


def question(dice: Random) -> Question:
    """One of the cases, drawn."""
    one = dice.choice(cases())
    node = plan(one.job).installation.nodes[one.key]
    assert node.bond is not None, "every place of the drill has a neutral"
    entry = node.bond.entry
    why = "; ".join(f"{step.label}: {step.value}" for step in entry.steps if step.value)
    sections = ", ".join(dict.fromkeys(str(cite) for step in entry.steps for cite in step.cites))
    ask = f"{one.words} Neutral and ground at the place that is marked?"
    return Question(
        ask, (BOND, APART), APART if node.bond.kind == "out" else BOND, why, sections, _scene(one, node.title.lower())
    )


def _scene(one: Case, marked: str) -> Scene:
    """The way from the meter on, the place that is asked for marked."""
    scene = Scene(40 + 190.0 * len(one.way), 120)
    for number, name in enumerate(one.way):
        x = 20 + 190.0 * number
        is_it = (
            name == marked
            or (name.endswith(" panel") and name.removesuffix(" panel") == marked)
            or name == f"{marked} panel"
        )
        box = Box(x, 34, 130, 56, fill="wash" if is_it else "page", weight=2.6 if is_it else 1.3)
        scene.add(box, Words(x + 65, 54, name, 13, True, "center"))
        if is_it:
            scene.add(Words(x + 65, 74, "neutral – ground ?", 11, align="center"))
        if number:
            from_meter = one.key == "second" and number == 2
            start = x - 60 if not from_meter else 150.0
            scene.add(Stroke(start, 62 if not from_meter else 84, x, 62 if not from_meter else 84, weight=3))
    return scene
