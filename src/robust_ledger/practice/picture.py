"""A practice panel drawn as it is found: breakers in their spaces, every wire with its color and size, and where it ends."""

from __future__ import annotations

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words
from robust_ledger.practice.exercise import Exercise
from robust_ledger.practice.sights import Sight, sights

WIDTH, ROW, TOP = 1160.0, 40.0, 92.0
MIDDLE, BREAKER, HALF = WIDTH / 2, 92.0, 8.0
WIRE_WAY, LABEL = 230.0, 150.0


def panel_scene(made: Exercise) -> Scene:
    """The panel with its cover off and the door's labels beside it."""
    spaces = made.truth.old_panel.spaces
    rows = spaces // 2
    height = TOP + rows * ROW + 46
    scene = Scene(WIDTH, height)
    scene.add(Words(20, 26, f"Practice {made.code}", 18, True))
    words = (
        f"{spaces} spaces, main {made.truth.old_panel.main_a:g} A. Call out what you see; nothing is given away before."
    )
    scene.add(Words(20, 48, words, 12, color="faint"))
    scene.add(Box(MIDDLE - BREAKER - 250, TOP - 22, 2 * (BREAKER + 250), rows * ROW + 40, fill="side"))
    scene.add(Stroke(MIDDLE, TOP - 10, MIDDLE, TOP + rows * ROW, "ink", weight=6))
    at = {space: one for one in sights(made) for space in one.spaces}
    for space in range(1, spaces + 1):
        _space(scene, space, at.get(str(space)))
    return scene


def _space(scene: Scene, space: int, sight: Sight | None) -> None:
    """One space: open, the first of a breaker with all its wires, or its second."""
    left = space % 2 == 1
    y = TOP + (space - 1) // 2 * ROW
    inner = MIDDLE - HALF if left else MIDDLE + HALF
    side = -1 if left else 1
    edge = inner + side * BREAKER
    number = Words(edge - side * 6, y + 10, str(space), 9.5, align="left" if left else "right", color="faint")
    if sight is None:
        scene.add(Box(min(inner, edge), y + 2, BREAKER, ROW - 6, "rule", dashed=True), number)
        return
    first = sight.spaces[0] == str(space)
    tall = ROW * len(sight.spaces) - 6
    if first:
        handle = Box(min(inner, edge), y + 2, BREAKER, tall, fill="page")
        scene.add(handle)
        scene.add(Words((inner + edge) / 2, y + tall / 2 + 2, sight.handle, 12, True, "center"))
        scene.spot(handle, "", sight.words)
        _wires(scene, sight, edge, y + 9, side, tall)
        x = edge + side * (WIRE_WAY + 28)
        scene.add(
            Words(
                x,
                y + 14,
                f'"{sight.label}"' if sight.label else "(worn off)",
                11,
                align="right" if left else "left",
                color="faint",
            )
        )
    scene.add(number)


def _wires(scene: Scene, sight: Sight, x: float, y: float, side: int, tall: float) -> None:
    """The wires of a cable beside its breaker: one under its screw touches it, any other stops short at the bar it is on, or at a cap."""
    step = min(12.0, (tall + 4) / max(1, len(sight.wires)))
    for number, wire in enumerate(sight.wires):
        here = y + number * step
        start = x if wire.end == "breaker" else x + side * 44
        light = wire.color.startswith("white") or wire.color == "bare"
        scene.add(
            Stroke(
                start, here, x + side * 80, here, "faint" if light else "ink", dashed=wire.color == "bare", weight=2.4
            )
        )
        ends = "" if wire.end == "breaker" else f" → {wire.end}"
        ends += f", of the cable at {wire.cable}" if wire.cable != sight.spaces[0] else ""
        scene.add(
            Words(x + side * 86, here, f"{wire.color} {wire.size}{ends}", 9.5, align="right" if side < 0 else "left")
        )
