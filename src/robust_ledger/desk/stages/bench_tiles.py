"""Where everything of the new panel is drawn: pure geometry from a plan, in pixels."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QRectF

from robust_ledger.job.spaces import leg_of
from robust_ledger.panel.schedule import Slot
from robust_ledger.plan import Plan

MAIN_SHARE = 1.7


@dataclass(frozen=True, slots=True)
class Tile:
    """A breaker, a spare space or half a tandem: its slots from the top, and its place on the drawing."""

    position: str
    key: str
    slots: tuple[Slot, ...]
    rect: QRectF
    number_rect: QRectF

    @property
    def left(self) -> bool:
        return self.slots[0].space % 2 == 1


@dataclass(frozen=True, slots=True)
class PanelTiles:
    """The whole drawing."""

    box: QRectF
    main: QRectF
    tiles: tuple[Tile, ...]
    legs: tuple[tuple[str, QRectF], ...]
    pitch: float

    def at(self, x: float, y: float) -> Tile | None:
        """The tile under a point, its number included."""
        for tile in self.tiles:
            if tile.rect.contains(x, y) or tile.number_rect.contains(x, y):
                return tile
        return None

    def of(self, key: str) -> Tile | None:
        return next((tile for tile in self.tiles if tile.key == key), None)

    def tile_at(self, position: str) -> Tile | None:
        """The tile that holds a position: «9» finds the 2-pole that begins at 7."""
        return next((t for t in self.tiles if any(s.position == position for s in t.slots)), None)


def tile_panel(
    plan: Plan, width: float, height: float, number_width: float, leg_width: float, least_pitch: float
) -> PanelTiles:
    """Lay out the new panel in a drawing of `width` × `height`; rows never get lower than `least_pitch`."""
    rows = (plan.job.panel.spaces + 1) // 2
    pitch = max(least_pitch, (height - 14) / (rows + MAIN_SHARE))
    top = 6 + pitch * MAIN_SHARE
    side = (width - 2 * number_width - leg_width - 12) / 2
    left_x, right_x = 6 + number_width, 6 + number_width + side + leg_width
    tiles: list[Tile] = []
    by_key: dict[str, list[Slot]] = {}
    for slot in plan.schedule:
        by_key.setdefault(slot.key or slot.position, []).append(slot)
    for slots in by_key.values():
        first = slots[0]
        left = first.space % 2 == 1
        y = top + (first.space - 1) // 2 * pitch
        tall = pitch * len(slots)
        if first.position[-1:] in ("a", "b"):
            tall = pitch / 2
            y += tall if first.position.endswith("b") else 0
        rect = QRectF(left_x if left else right_x, y + 1, side, tall - 2)
        number = QRectF(6 if left else right_x + side, y + 1, number_width, tall - 2)
        tiles.append(Tile(first.position, first.key, tuple(slots), rect, number))
    legs = tuple(
        (leg_of(2 * row + 1), QRectF(left_x + side + 2, top + row * pitch + 1, leg_width - 4, pitch - 2))
        for row in range(rows)
    )
    panel_box = QRectF(2, 2, width - 4, top + rows * pitch + 4)
    main = QRectF(width / 2 - side * 0.42, 7, side * 0.84, pitch * MAIN_SHARE - 6)
    return PanelTiles(panel_box, main, tuple(tiles), legs, pitch)
