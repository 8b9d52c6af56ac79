"""Any drawing on the screen: painted from its scene, sharp at every text size; arrows walk its parts, Enter or a click
shows the working behind one."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.drawing.scene import Box, Ring, Scene, Shape, Spot, Stroke, Words
from robust_ledger.plan import Plan

_ALIGN = {
    "left": Qt.AlignmentFlag.AlignLeft,
    "center": Qt.AlignmentFlag.AlignHCenter,
    "right": Qt.AlignmentFlag.AlignRight,
}


class SceneView(QWidget):
    """A drawing made anew for the plan and the room there is."""

    chosen = pyqtSignal(str)

    def __init__(
        self, name: str, draw: Callable[[Plan, float, float], Scene], size: tuple[int, int] = (400, 400)
    ) -> None:
        super().__init__()
        self.draw, self.size_at_one = draw, size
        self.plan: Plan | None = None
        self.scene = Scene(1, 1)
        self.current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.setMinimumSize(LOOK.px(size[0] * 0.6), LOOK.px(size[1] * 0.6))

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(self.size_at_one[0]), LOOK.px(self.size_at_one[1]))

    def show_plan(self, plan: Plan) -> None:
        self.plan = plan
        self._make()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._make()

    def _make(self) -> None:
        if self.plan is None:
            return
        self.scene = self.draw(self.plan, self.width() / LOOK.scale, self.height() / LOOK.scale)
        self.current = min(self.current, max(0, len(self.scene.spots) - 1))
        self._describe()
        self.update()

    def _describe(self) -> None:
        spots = self.scene.spots
        self.setAccessibleDescription(spots[self.current].words if spots else "nothing to draw yet")

    def spot_of(self, entry_id: str) -> QPointF:
        """The middle of the part an entry stands behind, in the widget's own points."""
        spot = next(one for one in self.scene.spots if one.entry_id == entry_id)
        return _rect(spot).center() * LOOK.scale

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(LOOK.scale, LOOK.scale)
        for shape in self.scene.shapes:
            paint_shape(painter, shape)
        if self.hasFocus() and self.scene.spots:
            painter.setPen(QPen(LOOK.color("accent"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(_rect(self.scene.spots[self.current]).adjusted(-3, -2, 3, 2), 3, 3)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        point = event.position() / LOOK.scale
        inside = [n for n, spot in enumerate(self.scene.spots) if _rect(spot).contains(point)]
        if inside:  # the smallest one under the mouse
            self._go(min(inside, key=lambda n: self.scene.spots[n].width * self.scene.spots[n].height))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1}.get(
            Qt.Key(event.key()), 0
        )
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space)
        if not self.scene.spots or not (step or enter):
            super().keyPressEvent(event)
            return
        self._go((self.current + step) % len(self.scene.spots))

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.update()

    def _go(self, number: int) -> None:
        self.current = number
        self._describe()
        self.update()
        if entry_id := self.scene.spots[number].entry_id:
            self.chosen.emit(entry_id)


def _rect(spot: Spot) -> QRectF:
    return QRectF(spot.x, spot.y, spot.width, spot.height)


class Kept:
    """The shapes of a drawing as they were painted last: an edit elsewhere and a cursor that moves do not paint them again."""

    def __init__(self) -> None:
        self.key: tuple[object, ...] = ()
        self.pixels = QPixmap()

    def paint(self, painter: QPainter, widget: QWidget, shapes: Sequence[Shape], scale: float) -> None:
        """Paint shapes over a whole widget, `scale` times their size, on the page's color."""
        dense = widget.devicePixelRatioF()
        key = (tuple(shapes), scale, widget.size(), dense, LOOK.theme.name)
        if key != self.key:
            self.key, self.pixels = key, QPixmap(widget.size() * dense)
            self.pixels.setDevicePixelRatio(dense)
            self.pixels.fill(LOOK.color("page"))
            brush = QPainter(self.pixels)
            brush.setRenderHint(QPainter.RenderHint.Antialiasing)
            brush.scale(scale, scale)
            for shape in shapes:
                paint_shape(brush, shape)
            brush.end()
        painter.drawPixmap(0, 0, self.pixels)


def paint_shape(painter: QPainter, shape: Shape) -> None:
    """Paint one shape with the theme in force, at text size 1: the painter is scaled."""
    if isinstance(shape, Words):
        font = QFont(LOOK.font(12, bold=shape.bold))
        font.setPixelSize(round(shape.size))
        painter.setFont(font)
        painter.setPen(LOOK.color(shape.color))
        wide = 1200.0
        left = {"left": shape.x, "center": shape.x - wide / 2, "right": shape.x - wide}[shape.align]
        flags = _ALIGN[shape.align] | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(left, shape.y - shape.size, wide, shape.size * 2), flags, shape.text)
        return
    color = shape.edge if isinstance(shape, Box) else shape.color
    pen = QPen(LOOK.color(color), shape.weight)
    if not isinstance(shape, Ring) and shape.dashed:
        pen.setStyle(Qt.PenStyle.DashLine)
    if isinstance(shape, Stroke) and shape.dotted:
        pen.setStyle(Qt.PenStyle.DotLine)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if isinstance(shape, Stroke):
        painter.drawLine(QPointF(shape.x1, shape.y1), QPointF(shape.x2, shape.y2))
    elif isinstance(shape, Ring):
        painter.drawEllipse(QPointF(shape.x, shape.y), shape.radius, shape.radius)
    else:
        if shape.hatch:
            brush = painter.brush()
            brush.setStyle(Qt.BrushStyle.BDiagPattern)
            brush.setColor(LOOK.color("faint"))
            painter.setBrush(brush)
        elif shape.fill:
            painter.setBrush(LOOK.color(shape.fill))
        painter.drawRect(QRectF(shape.x, shape.y, shape.width, shape.height))
