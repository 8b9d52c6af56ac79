"""A practice panel drawn as it is found: breakers in their spaces, every wire with its color and size, and where it ends."""

from __future__ import annotations

from robust_ledger.drawing.scene import Align, Box, Scene, Stroke, Words
from robust_ledger.practice.exercise import Exercise
from robust_ledger.practice.sights import Sight, Wire, sights

WIDTH, ROW, TALL_ROW, TOP = 780.0, 40.0, 72.0, 78.0
BREAKER, HALF = 62.0, 8.0
STUB, GAP = 46.0, 26.0  # a wire as it is drawn; how far short of the breaker one ends that is on a bar


def panel_scene(made: Exercise) -> Scene:
    """The panel with its cover off and the door's labels beside it. The spots are the breakers, by their first space."""
    panel = made.truth.old_panel
    at: dict[str, list[Sight]] = {}
    for one in sights(made):
        for whole in dict.fromkeys(space.rstrip("ab") for space in one.spaces):
            at.setdefault(whole, []).append(one)
    tops = _tops(at, panel.spaces // 2)
    scene = Scene(WIDTH, tops[-1] + 22)
    _head(scene, made)
    edge = WIDTH / 2 - 130
    scene.add(Box(WIDTH / 2 - edge, TOP - 14, 2 * edge, tops[-1] - TOP + 26, fill="side"))
    _bus(scene, tops, panel.split_at)
    for number in range(1, panel.spaces + 1):
        _space(scene, number, at.get(str(number), []), tops)
    return scene


def _head(scene: Scene, made: Exercise) -> None:
    """The code, what the panel is, and what the door and the wall outside say."""
    panel, there = made.truth.old_panel, made.truth.existing
    main = f"main {panel.main_a:g} A" if panel.main_a is not None else "no main"
    scene.add(Words(4, 14, f"Practice {made.code}", 15, True))
    words = f"{panel.spaces} spaces, {main}, dead front off, NM cable. At the edges what the door says."
    scene.add(Words(4, 36, words, 12, color="faint"))
    if there.disconnect_there:
        ahead = f"Outdoors a service disconnect of {there.disconnect_a:g} A, ahead of it."
        scene.add(Words(WIDTH - 4, 36, ahead, 12, align="right"))
    if panel.tandem_spaces:
        first, last = panel.tandem_spaces[0], panel.tandem_spaces[-1]
        scene.add(Words(WIDTH - 4, 14, f"On the door: tandems in spaces {first} to {last} only", 12, align="right"))


def _tops(at: dict[str, list[Sight]], rows: int) -> list[float]:
    """Where each row begins, and where the last one ends; one with a tandem is taller."""
    tops = [TOP]
    for row in range(rows):
        has_halves = any(len(at.get(str(space), [])) > 1 for space in (2 * row + 1, 2 * row + 2))
        tops.append(tops[-1] + (TALL_ROW if has_halves else ROW))
    return tops


def _bus(scene: Scene, tops: list[float], split_at: int | None) -> None:
    """The bus in the middle, with its gap where it is split."""
    middle = WIDTH / 2
    if split_at is None:
        scene.add(Stroke(middle, TOP - 6, middle, tops[-1], "ink", weight=6))
        return
    gap = tops[(split_at - 1) // 2] - 2
    scene.add(Stroke(middle, TOP - 6, middle, gap - 7, "ink", weight=6))
    scene.add(Stroke(middle, gap + 7, middle, tops[-1], "ink", weight=6))


def _space(scene: Scene, space: int, here: list[Sight], tops: list[float]) -> None:
    """One space: open, the first of a breaker with all its wires, its second, or the two halves of a tandem."""
    side, row = -1 if space % 2 == 1 else 1, (space - 1) // 2
    y = tops[row]
    inner = WIDTH / 2 + side * HALF
    edge = inner + side * BREAKER
    align: Align = "left" if side < 0 else "right"
    is_second = bool(here) and here[0].spaces[0].rstrip("ab") != str(space)
    number = Words(edge - side * 4, y + (27 if is_second else 9), str(space), 9, align=align, color="faint")
    if not here:
        scene.add(Box(min(inner, edge), y + 2, BREAKER, tops[row + 1] - y - 6, "rule", dashed=True), number)
        return
    for half, sight in enumerate(here):
        if is_second:
            continue
        tall = (tops[row + len(sight.spaces)] - y - 6) / len(here)
        top = y + 2 + half * tall
        handle = Box(min(inner, edge), top, BREAKER, tall, fill="page")
        scene.add(handle)
        for line, text in enumerate(sight.handle.split(", ")):
            scene.add(Words((inner + edge) / 2, top + tall / 2 + 15 * line, text, 12, True, "center"))
        scene.spot(handle, f"space:{sight.spaces[0]}", sight.words)
        _wires(scene, sight, edge, top + min(7.0, tall / 4), side, tall)
        _label(scene, sight, top + tall / 2, side)
    scene.add(number)


def _label(scene: Scene, sight: Sight, y: float, side: int) -> None:
    """What the door says, and below it what the tape does."""
    align: Align = "left" if side < 0 else "right"
    x = 4.0 if side < 0 else WIDTH - 4
    label = f'"{sight.label}"' if sight.label else "(worn off)"
    scene.add(Words(x, y - (6 if sight.tape else 0), label, 11, align=align, color="faint"))
    if sight.tape:
        scene.add(Words(x, y + 7, sight.tape, 9.5, align=align))


def _wires(scene: Scene, sight: Sight, x: float, y: float, side: int, tall: float) -> None:
    """The wires of a cable beside its breaker: one under its screw touches it, any other stops short at the bar it is on, or at a cap."""
    step = min(12.0, (tall + 2) / max(1, len(sight.wires)))
    size = max(6.5, min(9.5, step))
    for number, wire in enumerate(sight.wires):
        here = y + number * step
        start = x if wire.end == "breaker" else x + side * GAP
        color = "faint" if wire.color.startswith("white") or wire.color == "bare" else "ink"
        scene.add(Stroke(start, here, x + side * STUB, here, color, dashed=wire.color == "bare", weight=2.4))
        align: Align = "right" if side < 0 else "left"
        words = _wire_words(wire, sight) + (f", {sight.jacket} cable" if sight.jacket and not number else "")
        scene.add(Words(x + side * (STUB + 5), here, words, size, align=align))


def _wire_words(wire: Wire, sight: Sight) -> str:
    ends = "" if wire.end == "breaker" else f" → {wire.end}"
    ends += f", of the cable at {wire.cable}" if wire.cable != sight.spaces[0] else ""
    return f"{wire.color} {wire.size}{ends}"
