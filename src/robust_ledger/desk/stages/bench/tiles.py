"""The places of the bench drawing in the widget's own points."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtCore import QRectF

from robust_ledger.drawing.scene import Box
from robust_ledger.job.keys import CircuitKey
from robust_ledger.panel.bench_drawing import NUMBER, Layout
from robust_ledger.panel.bench_drawing import Tile as Drawn
from robust_ledger.panel.schedule import Slot


class Tile(Struct, frozen=True):
    """A breaker, an empty space or half a tandem on the screen; `number_rect` is where its numbers stand."""

    drawn: Drawn
    rect: QRectF
    number_rect: QRectF

    @property
    def key(self) -> CircuitKey:
        return self.drawn.key

    @property
    def position(self) -> str:
        return self.drawn.position

    @property
    def slots(self) -> tuple[Slot, ...]:
        return self.drawn.slots

    @property
    def left(self) -> bool:
        return self.drawn.left


class PanelTiles(Struct, frozen=True):
    """All tiles, and the height of a row."""

    tiles: tuple[Tile, ...]
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
        """The tile that holds a position: "9" finds the 2-pole that begins at 7."""
        return next((t for t in self.tiles if any(s.position == position for s in t.slots)), None)


def tiles_of(layout: Layout, scale: float) -> PanelTiles:
    """The layout at a scale of the screen."""
    made = []
    for tile in layout.tiles:
        box = tile.box
        number = Box(box.x + box.width if tile.left else box.x - NUMBER, box.y, NUMBER, box.height)
        made.append(Tile(tile, _rect(box, scale), _rect(number, scale)))
    return PanelTiles(tuple(made), layout.pitch * scale)


def _rect(box: Box, scale: float) -> QRectF:
    return QRectF(box.x * scale, box.y * scale, box.width * scale, box.height * scale)
