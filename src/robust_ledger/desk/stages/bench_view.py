"""The new panel as a drawing one can work on: drag or carry circuits with the keyboard, legs marked on every row."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from robust_ledger.branch.model import Origin
from robust_ledger.desk.paint import CENTRE, LEFT, RIGHT, box, fitted, hatch_leg
from robust_ledger.desk.stages.bench_tiles import PanelTiles, Tile, tile_panel
from robust_ledger.desk.store import JobStore
from robust_ledger.desk.theme import LOOK
from robust_ledger.job.edits import place
from robust_ledger.job.spaces import leg_of, parse_position
from robust_ledger.panel.moves import Move, move


class BenchView(QWidget):
    """Holds the cursor, what is in hand, and where it would go."""

    chosen = pyqtSignal(str)
    said = pyqtSignal(str)

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        self.store = store
        self.cursor_at = "1"
        self.in_hand, self.target = "", ""
        self.dragging_at: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("New panel")

    # --- geometry -------------------------------------------------------------------------------------------------
    def tiles(self) -> PanelTiles:
        return tile_panel(self.store.plan, self.width(), self.height(), LOOK.px(30), LOOK.px(34), LOOK.px(15))

    def centre_of(self, position: str) -> QPointF:
        """The middle of a position's own row on the drawing, for pointing at it."""
        tiles = self.tiles()
        tile = tiles.tile_at(position)
        assert tile is not None, f"no space {position}"
        index = next(n for n, slot in enumerate(tile.slots) if slot.position == position)
        return QPointF(tile.rect.center().x(), tile.rect.top() + tile.rect.height() * (index + 0.5) / len(tile.slots))

    def minimumSizeHint(self) -> QSize:
        rows = (self.store.job.panel.spaces + 1) // 2 + 3
        return QSize(LOOK.px(480), LOOK.px(15) * rows)

    # --- what is shown --------------------------------------------------------------------------------------------
    def show_plan(self) -> None:
        where = parse_position(self.cursor_at)
        if where is None or where[0] > self.store.job.panel.spaces:
            self.cursor_at = "1"
        if self.in_hand and self.store.plan.branch(self.in_hand) is None:
            self.let_go()
        self.updateGeometry()
        self._describe()
        self.update()

    def go_to(self, key: str) -> None:
        """Put the cursor on a circuit."""
        position = self.store.plan.placement.positions.get(key)
        if position:
            self.cursor_at = position
        self._describe()
        self.update()

    def _tile_here(self) -> Tile | None:
        return self.tiles().tile_at(self.cursor_at)

    def _describe(self) -> None:
        tile = self._tile_here()
        if tile is None:
            return
        slot = tile.slots[0]
        words = f"Space {self.cursor_at}, leg {leg_of(parse_position(self.cursor_at)[0])}: {slot.text} {slot.rating} {slot.wire}"  # type: ignore[index]
        self.setAccessibleDescription(words)

    # --- moving ---------------------------------------------------------------------------------------------------
    def outcome(self, target: str) -> Move:
        """What putting the circuit in hand at `target` would do; nothing is changed."""
        plan = self.store.plan
        branches = {b.key: b for b in plan.branches if not b.off}
        return move(branches, plan.placement.positions, plan.job.panel, self.in_hand, target)

    def pick(self, key: str) -> None:
        branch = self.store.plan.branch(key)
        if branch is not None:
            self.in_hand, self.target = key, ""
            self.said.emit(f"In hand: {branch.directory_text}. Arrows carry it, Enter puts it down, Esc lets go.")
            self.update()

    def let_go(self) -> None:
        self.in_hand, self.target, self.dragging_at = "", "", None
        self.said.emit("")
        self.update()

    def put(self, target: str) -> None:
        """Put what is in hand at `target`, or say why that cannot be."""
        branch = self.store.plan.branch(self.in_hand)
        result = self.outcome(target)
        if result.placements is None or branch is None:
            reason = result.reason
            self.let_go()
            self.said.emit(reason)
            return
        name = f"tag {branch.tag}" if branch.tag != "new" else branch.feeds
        placements = result.placements
        self.in_hand, self.target, self.dragging_at = "", "", None
        self.cursor_at = target
        self.store.edit(f"move {name} to {target}", lambda job: place(job, placements))
        moved = len(result.displaced)
        self.said.emit(
            f"Put at {target}."
            + (f" {moved} circuit{'s' if moved > 1 else ''} took the place it left." if moved else "")
        )

    # --- keyboard -------------------------------------------------------------------------------------------------
    def keyPressEvent(self, event):
        steps = {Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0)}
        if event.key() in steps:
            self._step(*steps[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            tile = self._tile_here()
            if self.in_hand:
                self.put(self.cursor_at)
            elif tile and tile.key:
                self.pick(tile.key)
            else:
                self.said.emit("This space is spare.")
        elif event.key() == Qt.Key.Key_Escape and self.in_hand:
            self.let_go()
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Move the cursor one space, over the whole of a 2-pole when nothing is in hand."""
        space, half = parse_position(self.cursor_at) or (1, "")
        spaces = self.store.job.panel.spaces
        tile = self._tile_here()
        if across:
            wanted = space + 1 if space % 2 and across > 0 else space - 1 if not space % 2 and across < 0 else space
            self._cursor_to(str(wanted) if 1 <= wanted <= spaces else self.cursor_at)
            return
        halves = {s.position for s in self.store.plan.schedule}
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
            if tile.key:
                self.chosen.emit(tile.key)
        elif self.in_hand:
            self._aim(position)
        self._describe()
        self.update()

    def _aim(self, position: str) -> None:
        """Show where the circuit in hand would go, and why it could not, before it is put down."""
        self.target = position
        if self.store.plan.placement.positions.get(self.in_hand) == position:
            self.said.emit("Where it is now.")
            return
        result = self.outcome(position)
        if result.placements is None:
            self.said.emit(f"Not here: {result.reason}")
        else:
            leg = leg_of(parse_position(position)[0])  # type: ignore[index]
            swap = " It changes places with what is there." if result.displaced else ""
            self.said.emit(f"Space {position}, leg {leg}: fits.{swap}")

    # --- mouse ----------------------------------------------------------------------------------------------------
    def mousePressEvent(self, event):
        tile = self.tiles().at(event.position().x(), event.position().y())
        if tile is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.cursor_at = tile.position
        self._describe()
        if tile.key:
            self.chosen.emit(tile.key)
            self.in_hand, self.target = tile.key, ""
        self.update()

    def mouseMoveEvent(self, event):
        if self.in_hand and event.buttons() & Qt.MouseButton.LeftButton:
            self.dragging_at = event.position()
            position = self._position_under(event.position())
            if position and position != self.target:
                self._aim(position)
            self.update()

    def mouseReleaseEvent(self, event):
        if not self.in_hand or event.button() != Qt.MouseButton.LeftButton:
            return
        position = self._position_under(event.position())
        was_dragged = self.dragging_at is not None
        here = self.store.plan.placement.positions.get(self.in_hand)
        if was_dragged and position and position != here:
            self.put(position)
        else:
            self.let_go()

    def _position_under(self, point: QPointF) -> str:
        """The position under a point: the very row, also within a 2-pole."""
        tile = self.tiles().at(point.x(), point.y())
        if tile is None:
            return ""
        index = int((point.y() - tile.rect.top()) / tile.rect.height() * len(tile.slots))
        return tile.slots[max(0, min(len(tile.slots) - 1, index))].position

    def drag_from_tray(self, key: str, point: QPointF) -> None:
        """A circuit dragged in from the waiting list, at a point of this widget."""
        self.in_hand, self.dragging_at = key, point
        position = self._position_under(point)
        if position and position != self.target:
            self._aim(position)
        self.update()

    def drop_from_tray(self, point: QPointF) -> None:
        position = self._position_under(point)
        if position:
            self.put(position)
        else:
            self.let_go()

    # --- painting -------------------------------------------------------------------------------------------------
    def paintEvent(self, event):
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tiles = self.tiles()
        box(painter, tiles.box, LOOK.color("ink"), None, width=1.6)
        self._paint_main(painter, tiles.main)
        for leg, rect in tiles.legs:
            hatch_leg(painter, rect, leg)
        flagged = {f.place for f in self.store.plan.findings if f.open}
        for tile in tiles.tiles:
            self._paint_tile(painter, tile, tiles.pitch, flagged)
        self._paint_target(painter, tiles)

    def _paint_main(self, painter: QPainter, rect: QRectF) -> None:
        plan = self.store.plan
        main = plan.entries["service.main"]
        box(painter, rect, LOOK.color("ink"), LOOK.color("side"), width=1.4)
        painter.setFont(LOOK.font(14, bold=True))
        painter.setPen(LOOK.color("ink"))
        kind = "MAIN" if plan.job.panel.main == "breaker" else "MAIN LUGS"
        rating = f"{main.amount:g} A" if main.known else "?"
        painter.drawText(
            rect, CENTRE, f"{kind}  {rating}" if plan.job.panel.main == "breaker" else f"{kind}, {rating} ahead"
        )

    def _paint_tile(self, painter: QPainter, tile: Tile, pitch: float, flagged: set[str]) -> None:
        slot = tile.slots[0]
        branch = self.store.plan.branch(tile.key) if tile.key else None
        under_cursor = any(s.position == self.cursor_at for s in tile.slots)
        spare = branch is None
        future = branch is not None and branch.origin is Origin.FUTURE
        in_hand = bool(tile.key) and tile.key == self.in_hand
        edge = LOOK.color("accent" if under_cursor or in_hand else "rule" if spare else "faint")
        fill = LOOK.color("wash") if in_hand else None if spare or future else LOOK.color("field")
        width = 1.0 if not under_cursor else 3.0 if self.hasFocus() else 1.8
        box(painter, tile.rect, edge, fill, dashed=spare or future, width=width)
        size = min(13, pitch * 0.62 / LOOK.scale)
        inner = tile.rect.adjusted(LOOK.px(7), 0, -LOOK.px(7), 0)
        painter.setFont(LOOK.font(min(12, size)))
        figures = f"{slot.rating} · {slot.wire.removesuffix(' Cu')}" if branch is not None else ""
        width = painter.fontMetrics().horizontalAdvance(figures)
        painter.setPen(LOOK.color("faint"))
        painter.drawText(inner, RIGHT, figures)
        painter.setFont(LOOK.font(size))
        places = {f"branch:{tile.key}", f"circuit:{tile.key.removeprefix('tag:')}", tile.key}
        painter.setPen(LOOK.color("fix" if places & flagged else "faint" if spare or future else "ink"))
        text = f"later: {branch.feeds}" if branch is not None and future else slot.text
        tag = f"{slot.tag}  " if slot.tag and slot.tag != "new" else ""
        painter.drawText(inner, LEFT, fitted(f"{tag}{text}", painter, inner.width() - width - LOOK.px(6)))
        painter.setFont(LOOK.font(min(12, size)))
        painter.setPen(LOOK.color("ink"))
        for index, one in enumerate(tile.slots):
            height = tile.number_rect.height() / len(tile.slots)
            rect = QRectF(
                tile.number_rect.left(),
                tile.number_rect.top() + index * height,
                tile.number_rect.width() - LOOK.px(5),
                height,
            )
            painter.drawText(
                rect if tile.left else rect.translated(LOOK.px(5), 0), RIGHT if tile.left else LEFT, one.position
            )

    def _paint_target(self, painter: QPainter, tiles: PanelTiles) -> None:
        """Where the circuit in hand would land: whole outline when it fits, crossed when it does not."""
        branch = self.store.plan.branch(self.in_hand) if self.in_hand else None
        where = parse_position(self.target) if self.target else None
        if branch is None or where is None:
            return
        first = tiles.tile_at(self.target)
        if first is None:
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
            painter.drawText(ghost, CENTRE, fitted(branch.directory_text, painter, ghost.width() - LOOK.px(10)))
