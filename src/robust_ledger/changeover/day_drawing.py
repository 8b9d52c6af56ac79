"""The line of the day as a drawing: a lane for each person, dark hours shaded, holds as gates, what the dark hangs on in full color."""

from __future__ import annotations

from collections.abc import Callable

from robust_ledger.changeover.clock import clock_text
from robust_ledger.changeover.planned import Planned
from robust_ledger.changeover.slots import Slot
from robust_ledger.drawing.scene import Box, Scene, Stroke, Words

LEFT, TOP, FOOT = 64.0, 26.0, 30.0


def day_scene(made: Planned | None, width: float, height: float, clock: Callable[[float], str] = clock_text) -> Scene:
    """The day from its first minute to its last."""
    scene = Scene(width, height)
    if made is None:
        return scene
    day, promise_min = made.day, made.demands.promise_min
    begin = min(one.start_min for one in day.slots)
    end = max(day.end_min, promise_min or 0, round(made.likely_min))
    scale = (width - LEFT - 12) / max(1, end - begin)
    lanes = [*range(1, day.people + 1), 0]
    lane = max(14.0, (height - TOP - FOOT) / len(lanes))

    def across(minutes: float) -> float:
        """Where a minute of the day is."""
        return LEFT + (minutes - begin) * scale

    bottom = TOP + lane * len(lanes)
    scene.add(
        Box(across(day.off_min), TOP, (day.on_min - day.off_min) * scale, bottom - TOP, "rule", hatch=True, weight=0.8)
    )
    middle = across((day.off_min + day.on_min) / 2)
    scene.add(Words(middle, TOP - 12, f"dark {day.dark_min} min", 12, True, "center"))
    told = f"Dark {day.dark_min} min, {clock(day.off_min)} to {clock(day.on_min)}"
    scene.spot(Box(middle - 50, TOP - 20, 100, 16), "day.dark", told)
    for hour in range(-(-begin // 60), end // 60 + 1):
        x = across(60 * hour)
        scene.add(Stroke(x, TOP, x, bottom, "rule", weight=0.6))
        scene.add(Words(x, bottom + 10, clock(60 * hour).split(":")[0], 11, align="center", color="faint"))
    for number, person in enumerate(lanes):
        y = TOP + lane * number
        name = "others" if person == 0 else f"person {person}"
        scene.add(
            Words(8, y + lane / 2, name, 12, color="faint"),
            Stroke(LEFT, y + lane, width - 12, y + lane, "rule", weight=0.6),
        )
        for slot in day.slots:
            if person in slot.people or (person == 0 and not slot.people):
                _task(scene, slot, across(slot.start_min), y, scale, lane, slot.task.id in day.critical)
    for minutes, words, color in ((made.likely_min, "4 days of 5", "fix"), (promise_min, "promise", "stop")):
        if minutes is not None:
            x = across(minutes)
            edge = x > width - 50
            scene.add(Stroke(x, TOP - 4, x, bottom + 4, color, dashed=True))
            at = bottom + 22 if color == "fix" else TOP - 12  # the two may be close to each other
            scene.add(Words(min(x, width - 4), at, words, 11, align="right" if edge else "center", color=color))
            if color == "fix":
                scene.spot(
                    Box(x - 40, at - 8, 80, 16), "day.likely", f"Power back on four days of five by {clock(minutes)}"
                )
    return scene


def _task(scene: Scene, slot: Slot, x: float, y: float, scale: float, lane: float, critical: bool) -> None:
    """A task in its lane; a hold has a gate at its end."""
    wide = max(2.0, (slot.end_min - slot.start_min) * scale - 1)
    box = Box(x, y + 4, wide, lane - 8, "accent" if critical else "faint", "wash" if critical else "page")
    scene.add(box)
    if wide > 40:
        most = int(wide / 6.4)
        words = slot.task.words if len(slot.task.words) <= most else f"{slot.task.words[: max(1, most - 1)]}…"
        scene.add(Words(x + 4, y + lane / 2, words, 11))
    if slot.task.hold:
        scene.add(Stroke(x + wide, y, x + wide, y + lane, "stop", weight=3))
    times = f"{clock_text(slot.start_min)}, {slot.end_min - slot.start_min} min"
    scene.spot(box, slot.task.entry.id, f"{slot.task.words}: {times}{', a hold' if slot.task.hold else ''}")
