"""The service as a one-line drawing: meter, disconnect, panel and earth, with the figure at each element."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from robust_ledger.desk.paint import CENTRE, LEFT, box
from robust_ledger.desk.theme import LOOK
from robust_ledger.plan import Plan


@dataclass(frozen=True, slots=True)
class Element:
    """A box of the drawing: what it is, the figure at it, and the entry behind the figure."""

    name: str
    figure: str
    entry_id: str
    bond: bool = False


class OneLine(QWidget):
    """Boxes from the utility down; ↑ and ↓ walk them, a click or Enter shows the working."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.elements: list[Element] = []
        self.wires: list[Element] = []
        self.earth = Element("", "", "")
        self.current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("One-line drawing of the service")

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(300), LOOK.px(400))

    def show_plan(self, plan: Plan) -> None:
        entries, job = plan.entries, plan.job
        main, hots = entries["service.main"], plan.service_conductors
        neutral = entries["service.neutral"]
        meter = job.old_panel.meter_label_a
        label = (
            "to be replaced" if job.decisions.meter_replaced else f"label {meter:g} A" if meter else "label not read"
        )
        ahead = not job.panel.first_disconnect
        wires = f"2 × {hots.text()} + {neutral.text()}"
        self.elements = [Element("Utility", "", ""), Element("Meter socket", label, "")]
        self.wires = [Element("", wires, hots.id), Element("", wires, hots.id)]
        ground = entries["service.equipment_ground"]
        if ahead:
            self.elements.append(Element("Disconnect ahead", main.text(), main.id, bond=True))
            self.wires.append(Element("", f"{wires} + {ground.text()}", ground.id, bond=True))
        kind = "main breaker" if job.panel.main == "breaker" else "main lugs"
        figure = f"{main.text()}, {kind}" if job.panel.main == "breaker" else kind
        self.elements.append(Element("Panel", figure, main.id, bond=not ahead))
        self.earth = Element(
            "Electrode conductor", entries["service.electrode"].text(), entries["service.electrode"].id
        )
        bond = "bonded at the disconnect ahead; bars apart in the panel" if ahead else "bonded in the panel, once"
        self.setAccessibleDescription(
            "; ".join(f"{e.name} {e.figure}" for e in self.elements) + f"; neutral and ground {bond}"
        )
        self.current = min(self.current, len(self.elements))
        self.update()

    def rects(self) -> list[QRectF]:
        """Where each element is drawn, from the utility down."""
        count = len(self.elements)
        height = LOOK.px(46)
        gap = (self.height() - LOOK.px(70) - count * height) / max(1, count - 1)
        gap = min(gap, LOOK.px(120))
        width = LOOK.px(176)
        return [QRectF(LOOK.px(4), 4 + n * (height + gap), width, height) for n in range(count)]

    def _choose(self, index: int) -> None:
        self.current = index
        targets = [*self.elements, self.earth]
        if targets[index].entry_id:
            self.chosen.emit(targets[index].entry_id)
        self.update()

    def keyPressEvent(self, event):
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step:
            self._choose(max(0, min(len(self.elements), self.current + step)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._choose(self.current)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event):
        rects = self.rects()
        for index, rect in enumerate(rects):
            if rect.contains(event.position()):
                self._choose(index)
                return
            if self.elements[index].bond and self._earth_rect(rect).contains(event.position()):
                self._choose(len(self.elements))
                return
        for index, (above, below) in enumerate(pairwise(rects)):
            if above.bottom() < event.position().y() < below.top():
                self.chosen.emit(self.wires[index].entry_id)
                return

    def _earth_rect(self, rect: QRectF) -> QRectF:
        """Where the bond and the way to earth are drawn beside the element they belong to."""
        return QRectF(rect.right(), rect.top() - LOOK.px(10), LOOK.px(150), rect.height() + LOOK.px(30))

    def paintEvent(self, event):
        painter, px = QPainter(self), LOOK.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rects = self.rects()
        for index, (element, rect) in enumerate(zip(self.elements, rects, strict=True)):
            if index + 1 < len(rects):
                self._paint_wires(painter, rect, rects[index + 1], self.wires[index])
            chosen = self.hasFocus() and index == self.current
            fill = LOOK.color("side") if element.entry_id else LOOK.color("page")
            box(painter, rect, LOOK.color("accent" if chosen else "ink"), fill, width=2.4 if chosen else 1.3)
            painter.setPen(LOOK.color("ink"))
            painter.setFont(LOOK.font(13, bold=True))
            half = rect.height() / 2 if element.figure else rect.height()
            painter.drawText(QRectF(rect.left(), rect.top() + px(1), rect.width(), half), CENTRE, element.name)
            painter.setFont(LOOK.font(12))
            if element.figure:
                painter.drawText(
                    QRectF(rect.left(), rect.top() + half - px(2), rect.width(), half), CENTRE, element.figure
                )
            if element.bond:
                self._paint_bond(painter, rect)

    def _paint_wires(self, painter: QPainter, above: QRectF, below: QRectF, wires: Element) -> None:
        """Three wires; four, the ground dashed, behind the disconnect."""
        for offset in (-7, 0, 7, 14) if wires.bond else (-7, 0, 7):
            style = Qt.PenStyle.DashLine if offset == 14 else Qt.PenStyle.SolidLine
            painter.setPen(QPen(LOOK.color("ink"), 1.6, style))
            x = above.center().x() - LOOK.px(56) + offset
            painter.drawLine(QPointF(x, above.bottom()), QPointF(x, below.top()))
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("accent"))
        gap = QRectF(
            above.left() + LOOK.px(52), above.bottom(), self.width() - LOOK.px(56), below.top() - above.bottom()
        )
        painter.drawText(gap, LEFT, wires.figure)

    def _paint_bond(self, painter: QPainter, rect: QRectF) -> None:
        """The bond and the way to earth, drawn at the one place where they are."""
        px = LOOK.px
        if self.hasFocus() and self.current == len(self.elements):
            box(painter, self._earth_rect(rect).adjusted(px(4), 0, 0, 0), LOOK.color("accent"), None, width=2.4)
        x, y = rect.right() + px(50), rect.center().y() - px(6)
        painter.setPen(QPen(LOOK.color("accent"), 2))
        painter.drawLine(QPointF(rect.right(), y), QPointF(x, y))
        painter.drawLine(QPointF(x, y), QPointF(x, y + px(30)))
        for n, half in enumerate((12, 8, 4)):
            painter.drawLine(QPointF(x - px(half), y + px(30 + 5 * n)), QPointF(x + px(half), y + px(30 + 5 * n)))
        painter.setFont(LOOK.font(12, bold=True))
        painter.drawText(QRectF(rect.right() + px(8), y - px(24), px(140), px(20)), LEFT, "bond: here, once")
        painter.setFont(LOOK.font(13))
        painter.drawText(QRectF(x + px(16), y + px(22), px(100), px(24)), LEFT, self.earth.figure)
