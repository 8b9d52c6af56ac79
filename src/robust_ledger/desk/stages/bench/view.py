"""The new panel as a drawing one can work on: drag or carry circuits with the keyboard, wires drawn, legs marked on every row."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.paint import CENTER, box, fitted
from robust_ledger.desk.kit.scene_view import Kept
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import plain_tip
from robust_ledger.desk.stages.bench.tiles import PanelTiles, Tile, tiles_of
from robust_ledger.job.edits import move_to_panel, pin, place
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.spaces import leg_of, parse_position, shown
from robust_ledger.job.tree import panel_name
from robust_ledger.panel.bench_drawing import LEAST_PITCH, bench_scene, lay_out, words_of
from robust_ledger.panel.moves import Move, move
from robust_ledger.panel.reach import JUST, REACHES, SHORT
from robust_ledger.plan import Plan

ZOOMS = (1.0, 1.25, 1.5, 2.0)
_MARK = {REACHES: ("accent", Qt.BrushStyle.SolidPattern), JUST: ("ask", Qt.BrushStyle.Dense4Pattern),
         SHORT: ("stop", Qt.BrushStyle.BDiagPattern)}  # fmt: skip


class BenchView(QWidget):
    """Holds the cursor, what is in hand, and where it would go. `preview`, when there is one, is drawn instead of the job."""

    chosen = pyqtSignal(str)
    said = pyqtSignal(str)
    zoomed = pyqtSignal()
    dropped_outside = pyqtSignal(QPoint)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.preview: Plan | None = None
        self.cursor_at = "1"
        self.in_hand, self.target = NO_CIRCUIT, ""
        self.dragging_at: QPointF | None = None
        self.zoom = 0
        self.kept = Kept()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("New panel")

    # --- geometry -------------------------------------------------------------------------------------------------
    @property
    def shown_plan(self) -> Plan:
        return self.preview or self.store.seen

    @property
    def scale(self) -> float:
        return float(LOOK.scale) * ZOOMS[self.zoom]

    def _field(self) -> tuple[float, float]:
        return self.width() / self.scale, self.height() / self.scale

    def tiles(self) -> PanelTiles:
        return tiles_of(lay_out(self.shown_plan.picture, *self._field()), self.scale)

    def center_of(self, position: str) -> QPointF:
        """The middle of a position's own row on the drawing, for pointing at it."""
        tile = self.tiles().tile_at(position)
        assert tile is not None, f"no space {position}"
        index = next(n for n, slot in enumerate(tile.slots) if slot.position == position)
        return QPointF(tile.rect.center().x(), tile.rect.top() + tile.rect.height() * (index + 0.5) / len(tile.slots))

    def minimumSizeHint(self) -> QSize:
        rows = (self.store.seen.job.panel.spaces + 1) // 2 + 3
        least = QSize(LOOK.px(420 if LOOK.large else 560), LOOK.px(LEAST_PITCH) * rows)
        return least if not self.zoom else QSize(int(640 * self.scale), int(max(660, rows * 22) * self.scale))

    def zoom_by(self, steps: int) -> None:
        """Larger or smaller; 0 goes back to the whole panel in view."""
        self.zoom = max(0, min(len(ZOOMS) - 1, self.zoom + steps)) if steps else 0
        self.updateGeometry()
        self.zoomed.emit()
        self.update()

    # --- what is shown --------------------------------------------------------------------------------------------
    def show_plan(self) -> None:
        where = parse_position(self.cursor_at)
        if where is None or where[0] > self.store.seen.job.panel.spaces:
            self.cursor_at = "1"
        if self.in_hand and self.store.seen.branch(self.in_hand) is None:
            self.let_go()
        self.updateGeometry()
        self._describe()
        self.update()

    def go_to(self, key: str) -> None:
        """Put the cursor on a circuit."""
        position = self.shown_plan.bench.placement.positions.get(CircuitKey(key))
        if position:
            self.cursor_at = position
        self._describe()
        self.update()

    def _tile_here(self) -> Tile | None:
        return self.tiles().tile_at(self.cursor_at)

    def _number(self, position: str) -> str:
        panel = self.store.seen.job.panel
        return shown(position, panel.numbering, panel.spaces)

    def _describe(self) -> None:
        tile = self._tile_here()
        if tile is not None:
            self.setAccessibleDescription(words_of(self.shown_plan.picture, tile.drawn))

    # --- moving ---------------------------------------------------------------------------------------------------
    def outcome(self, target: str) -> Move:
        """What putting the circuit in hand at `target` would do; nothing is changed."""
        plan = self.store.seen
        branches = {b.key: b for b in plan.circuits.branches if not b.off}
        return move(
            branches, plan.bench.placement.positions, plan.job.panel, self.in_hand, target, plan.job.decisions.pins
        )

    def pick(self, key: str) -> None:
        branch = self.store.seen.branch(key)
        if branch is not None and self._can_work():
            self.in_hand, self.target = CircuitKey(key), ""
            self.said.emit(f"In hand: {branch.directory_text}. Arrows carry it, Enter puts it down, Esc lets go.")
            self.update()

    def _can_work(self) -> bool:
        if self.preview is not None:
            self.said.emit(
                "This is a preview: take it with Enter in the list, or Esc to go back to the layout as it is."
            )
        return self.preview is None

    def let_go(self) -> None:
        self.in_hand, self.target, self.dragging_at = NO_CIRCUIT, "", None
        self.said.emit("")
        self.update()

    def put(self, target: str) -> None:
        """Put what is in hand at `target`, or say why that cannot be."""
        branch = self.store.seen.branch(self.in_hand)
        result = self.outcome(target)
        if result.placements is None or branch is None:
            reason = result.reason
            self.let_go()
            self.said.emit(reason)
            return
        name = f"tag {branch.tag}" if branch.tag != "new" else branch.feeds
        placements = result.placements
        self.in_hand, self.target, self.dragging_at = NO_CIRCUIT, "", None
        self.cursor_at = target
        number = self._number(target)
        self.store.edit(f"move {name} to {number}", lambda job: place(job, placements, self.store.panel_id))
        moved = len(result.displaced)
        self.said.emit(
            f"Put at {number}."
            + (f" {moved} circuit{'s' if moved > 1 else ''} took the place it left." if moved else "")
        )

    def toggle_pin(self) -> None:
        """Pin the circuit under the cursor, or take its pin out."""
        tile = self._tile_here()
        if tile is None or not tile.key:
            self.said.emit("An empty space cannot be pinned.")
            return
        if not self._can_work():
            return
        branch = self.store.seen.branch(tile.key)
        name = f"tag {branch.tag}" if branch and branch.tag != "new" else branch.feeds if branch else ""
        out = tile.key in self.store.seen.job.decisions.pins
        placements = dict(self.store.seen.bench.placement.positions)
        self.store.edit(f"{'unpin' if out else 'pin'} {name}", lambda job: pin(job, tile.key, placements))
        self.said.emit(f"{name[:1].upper()}{name[1:]} {'may move again' if out else 'stays where it is'}.")

    def carry_to(self, panel_id: str) -> None:
        """The circuit in hand goes to another panel and stays in hand there."""
        key, branch = self.in_hand, self.store.plan.branch(self.in_hand)
        if branch is None or branch.key.kind == "equip" or panel_id == self.store.panel_id:
            if branch is not None and branch.key.kind == "equip":
                self.said.emit("A breaker of the equipment stays in the panel it belongs to.")
            return
        name = f"tag {branch.tag}" if branch.tag != "new" else branch.feeds
        words = panel_name(self.store.job, panel_id)
        self.in_hand, self.target, self.dragging_at = NO_CIRCUIT, "", None
        self.store.edit(f"move {name} to the {words}", lambda job: move_to_panel(job, (key,), panel_id))
        self.store.look_at(panel_id)
        if position := self.store.seen.bench.placement.positions.get(key):
            self.cursor_at = position
        self.pick(key)
        self.said.emit(f"{name[:1].upper()}{name[1:]} is in the {words} now. Arrows carry it, Enter puts it down.")

    # --- keyboard -------------------------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        steps = {Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0)}
        zooms = {Qt.Key.Key_Plus: 1, Qt.Key.Key_Minus: -1, Qt.Key.Key_0: 0}
        if event.key() in steps:
            self._step(*steps[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            tile = self._tile_here()
            if self.in_hand:
                self.put(self.cursor_at)
            elif tile and tile.key:
                self.pick(tile.key)
            else:
                self.said.emit("This space is empty.")
        elif event.key() == Qt.Key.Key_Escape and self.in_hand:
            self.let_go()
        elif event.key() == Qt.Key.Key_P and not event.modifiers():
            self.toggle_pin()
        elif event.key() in zooms and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_by(zooms[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Move the cursor one space, over the whole of a 2-pole when nothing is in hand."""
        space, half = parse_position(self.cursor_at) or (1, "")
        spaces = self.store.seen.job.panel.spaces
        tile = self._tile_here()
        if across:
            wanted = space + 1 if space % 2 and across > 0 else space - 1 if not space % 2 and across < 0 else space
            self._cursor_to(str(wanted) if 1 <= wanted <= spaces else self.cursor_at)
            return
        halves = {s.position for s in self.shown_plan.bench.schedule}
        if (half == "a" and down > 0) or (half == "b" and down < 0):
            self._cursor_to(f"{space}{'b' if down > 0 else 'a'}")
            return
        if not self.in_hand and tile and tile.key:
            space = tile.slots[-1 if down > 0 else 0].space
        wanted = space + 2 * down
        if 1 <= wanted <= spaces:
            text = str(wanted)
            self._cursor_to(text if text in halves else f"{wanted}{'a' if down > 0 else 'b'}")

    def _cursor_to(self, position: str) -> None:
        self.cursor_at = position
        tile = self._tile_here()
        if tile and not self.in_hand:
            self.cursor_at = tile.position
        self._describe()
        if self.in_hand:
            self._aim(position)
        elif tile and tile.key:
            self.chosen.emit(tile.key)
        self.update()

    def _aim(self, position: str) -> None:
        """Show where the circuit in hand would go, how its wire comes there, and why it could not, before it is put down."""
        self.target = position
        plan = self.store.seen
        if plan.bench.placement.positions.get(self.in_hand) == position:
            self.said.emit("Where it is now.")
            return
        result, number = self.outcome(position), self._number(position)
        if result.placements is None:
            self.said.emit(f"Not here: {result.reason}")
            return
        landing = result.placements[self.in_hand]
        leg = leg_of((parse_position(landing) or (1, ""))[0])
        branch = plan.branch(self.in_hand)
        legs = "legs A and B" if branch and branch.poles > 1 else f"leg {leg}"
        swap = " It changes places with what is there." if result.displaced else ""
        self.said.emit(f"Space {number}, {legs}: fits. {_lengths(plan, self.in_hand, landing)}{swap}")

    # --- mouse ----------------------------------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        tile = self.tiles().at(event.position().x(), event.position().y())
        if tile is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.cursor_at = tile.position
        self._describe()
        if tile.key:
            self.chosen.emit(tile.key)
            if self.preview is None:
                self.in_hand, self.target = tile.key, ""
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self.in_hand and event.buttons() & Qt.MouseButton.LeftButton:
            self.dragging_at = event.position()
            position = self._position_under(event.position())
            if position and position != self.target:
                self._aim(position)
            self.update()
        elif not self.in_hand:
            tile = self.tiles().at(event.position().x(), event.position().y())
            words = words_of(self.shown_plan.picture, tile.drawn) if tile else ""
            more = _lengths(self.shown_plan, tile.key, tile.position) if tile and tile.key else ""
            self.setToolTip(plain_tip(f"{words}\n{more}".strip()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if not self.in_hand or event.button() != Qt.MouseButton.LeftButton:
            return
        position = self._position_under(event.position())
        was_dragged = self.dragging_at is not None
        here = self.store.seen.bench.placement.positions.get(self.in_hand)
        if was_dragged and position and position != here:
            self.put(position)
        elif was_dragged and not position:
            self.dropped_outside.emit(event.globalPosition().toPoint())
            if self.in_hand and self.dragging_at is not None:
                self.let_go()
        else:
            self.let_go()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_by(1 if event.angleDelta().y() > 0 else -1 if self.zoom else 0)
            event.accept()
        else:
            super().wheelEvent(event)

    def _position_under(self, point: QPointF) -> str:
        """The position under a point: the very row, also within a 2-pole."""
        tile = self.tiles().at(point.x(), point.y())
        if tile is None:
            return ""
        index = int((point.y() - tile.rect.top()) / tile.rect.height() * len(tile.slots))
        return tile.slots[max(0, min(len(tile.slots) - 1, index))].position

    def drag_from_tray(self, key: str, point: QPointF) -> None:
        """A circuit dragged in from the waiting list, at a point of this widget."""
        self.in_hand, self.dragging_at = CircuitKey(key), point
        position = self._position_under(point)
        if position and position != self.target:
            self._aim(position)
        self.update()

    def drop_from_tray(self, point: QPointF) -> None:
        position = self._position_under(point)
        if position:
            self.put(position)
        else:
            self.dropped_outside.emit(self.mapToGlobal(point).toPoint())
            if self.in_hand and self.dragging_at is not None:
                self.let_go()

    # --- painting -------------------------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        shapes = bench_scene(self.shown_plan.picture, *self._field()).shapes
        self.kept.paint(painter, self, shapes, self.scale)
        tiles = self.tiles()
        if self.in_hand:
            self._paint_reach(painter, tiles)
        self._paint_cursor(painter, tiles)
        self._paint_target(painter, tiles)

    def _paint_cursor(self, painter: QPainter, tiles: PanelTiles) -> None:
        tile = tiles.tile_at(self.cursor_at)
        if tile is not None:
            fill = None
            if tile.key and tile.key == self.in_hand:
                fill = LOOK.color("accent")
                fill.setAlphaF(0.12)
            box(painter, tile.rect, LOOK.color("accent"), fill, width=3.0 if self.hasFocus() else 1.8)

    def _paint_reach(self, painter: QPainter, tiles: PanelTiles) -> None:
        """On the outer edge of every space: how the wire in hand would come there."""
        wire = self.store.seen.bench.wires.get(self.in_hand)
        if wire is None or not wire.known:
            return
        for tile in tiles.tiles:
            for index, slot in enumerate(tile.slots):
                mark = _MARK.get(wire.at(slot.position).verdict)
                if mark is None:
                    continue
                tall = tile.rect.height() / len(tile.slots)
                x = tile.rect.left() - LOOK.px(6) if tile.left else tile.rect.right() + LOOK.px(1)
                brush = painter.brush()
                brush.setStyle(mark[1])
                brush.setColor(LOOK.color(mark[0]))
                painter.setPen(LOOK.color(mark[0]))
                painter.setBrush(brush)
                painter.drawRect(QRectF(x, tile.rect.top() + index * tall + 1, LOOK.px(5), tall - 2))

    def _paint_target(self, painter: QPainter, tiles: PanelTiles) -> None:
        """Where the circuit in hand would land: whole outline when it fits, crossed when it does not."""
        branch = self.store.seen.branch(self.in_hand) if self.in_hand else None
        first = tiles.tile_at(self.target) if self.target else None
        if branch is None or first is None:
            return
        index = next((n for n, s in enumerate(first.slots) if s.position == self.target), 0)
        top = first.rect.top() + index * tiles.pitch
        rect = QRectF(first.rect.left(), top, first.rect.width(), tiles.pitch * branch.poles - 2)
        fits = self.outcome(self.target).placements is not None
        color = LOOK.color("accent" if fits else "stop")
        box(painter, rect, color, None, dashed=not fits, width=3)
        if not fits:
            painter.drawLine(rect.topLeft(), rect.bottomRight())
        if self.dragging_at is not None:
            ghost = QRectF(
                self.dragging_at.x() + LOOK.px(10), self.dragging_at.y() + LOOK.px(6), LOOK.px(190), LOOK.px(24)
            )
            box(painter, ghost, color, LOOK.color("page"), width=1.5)
            painter.setFont(LOOK.font(13))
            painter.setPen(LOOK.color("ink"))
            painter.drawText(ghost, CENTER, fitted(branch.directory_text, painter, ghost.width() - LOOK.px(10)))


def _lengths(plan: Plan, key: CircuitKey, position: str) -> str:
    """What the wire that has least needs at a position, what it has, and what that comes to."""
    wire = plan.bench.wires.get(key)
    if wire is None:
        return ""
    reach = wire.at(position)
    if not reach.conductors or wire.free is None:
        return f"Wire: {reach.words}."
    worst = min(reach.conductors, key=lambda one: one.margin_in if one.margin_in is not None else float("inf"))
    return f"Needs {worst.needed_in:.1f} in ({worst.name}), has {wire.free.text()}: {reach.words}."
