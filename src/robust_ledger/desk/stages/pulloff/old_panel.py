"""The old panel as found, drawn: which space holds which tag, what is still to be called out."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from robust_ledger.branch.old_panel import blank_positions, called_out_text, old_positions
from robust_ledger.desk.kit.paint import CENTER, LEFT, RIGHT, box, hatch_leg
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.panels import OldBox, OldPanel
from robust_ledger.job.spaces import leg_of, parse_old
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import is_whole
from robust_ledger.plan import Plan


class OldPanelView(QWidget):
    """Spaces in two columns with the legs between them. A click chooses the circuit, or starts a line for the space."""

    tag_chosen = pyqtSignal(int)
    space_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.plan: Plan | None = None
        self.current = 0
        self.mark = ""
        self.setAccessibleName("Old panel as found")

    def show_plan(self, plan: Plan) -> None:
        self.plan = plan
        self.setAccessibleDescription(called_out_text(plan.job))
        self.update()

    def show_current(self, tag: int) -> None:
        self.current = tag
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(236 if self._two() else 212), LOOK.px(420))

    def _two(self) -> bool:
        """Whether two panels stand side by side."""
        return len(self._panels()) > 1

    def look_at(self, mark: str) -> None:
        """Take another old panel into view; of two both are."""
        self.mark = mark
        self.updateGeometry()
        self.update()

    def _panels(self) -> list[tuple[str, OldPanel]]:
        """The panels drawn: one, two side by side, or of more the one in view."""
        if not self.plan:
            return []
        every = list(self.plan.job.all_boxes)
        return every if len(every) < 3 else [one for one in every if one[0] == self.mark] or every[:1]

    def holder(self, position: str) -> Circuit | None:
        return next((c for c in self.plan.job.circuits if position in c.spaces), None) if self.plan else None

    def pitch(self) -> float:
        """Height of a row [pixels]."""
        rows = max((panel.spaces + 1) // 2 for _mark, panel in self._panels()) if self.plan else 1
        return min(LOOK.px(46), (self.height() - LOOK.px(34)) / max(rows, 1))

    def rects(self) -> dict[str, QRectF]:
        """Where each position is drawn."""
        if not self.plan:
            return {}
        top, side, pitch = LOOK.px(26), LOOK.px(4 if self._two() else 8), self.pitch()
        middle = LOOK.px(16 if self._two() else 22)
        panel_width = self.width() / len(self._panels())
        width = (panel_width - 2 * side - middle) / 2
        result = {}
        left = {mark: number * panel_width for number, (mark, _panel) in enumerate(self._panels())}
        for position in old_positions(self.plan.job):
            where = parse_old(position)
            assert where is not None
            if where.box not in left:
                continue
            space = where.space
            x = left[where.box] + (side if space % 2 else side + width + middle)
            y = top + (space - 1) // 2 * pitch
            height = pitch - 2
            if position[-1] in "ab":
                height = (pitch - 2) / 2
                y += height if position[-1] == "b" else 0
            result[position] = QRectF(x, y, width, height)
        return result

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for position, rect in self.rects().items():
            if rect.contains(event.position()):
                circuit = self.holder(position)
                if circuit:
                    self.tag_chosen.emit(circuit.tag)
                else:
                    self.space_chosen.emit(position)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not self.plan:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rects = self.rects()
        flagged = {f.place for f in self.plan.findings if f.open or f.cured}
        for position, rect in rects.items():
            self._paint_position(painter, position, rect, flagged)
        for number, (mark, found) in enumerate(self._panels()):
            self._paint_panel(painter, (mark, found), number, rects)

    def _paint_panel(self, painter: QPainter, one: tuple[str, OldPanel], number: int, rects: dict[str, QRectF]) -> None:
        """A panel's box, its head, where a split bus is split, and the legs between the columns."""
        (side, found), width, pitch = one, self.width() / len(self._panels()), self.pitch()
        left = number * width
        mine = [rect for position, rect in rects.items() if (at := parse_old(position)) and at.box == side]
        bottom = max((r.bottom() for r in mine), default=LOOK.px(40)) + LOOK.px(6)
        box(painter, QRectF(left + 1, 1, width - 2, bottom), LOOK.color("ink"), None, width=1.4)
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("faint"))
        split = found.kind == "split_bus"
        main = "split bus" if split else f"main {found.main_a:g} A" if found.main_a else ""
        named = found.name if isinstance(found, OldBox) else "first"
        name = named if self._two() or side else f"as found, {found.spaces} spaces"
        words = ", ".join(part for part in (name, main) if part)
        painter.drawText(QRectF(left, 2, width, LOOK.px(24)), CENTER, words)
        if split and found.split_at and 1 < found.split_at <= found.spaces:
            y = LOOK.px(26) + (found.split_at - 1) // 2 * pitch - 1
            painter.setPen(QPen(LOOK.color("stop"), 2.5))
            painter.drawLine(QPointF(left + 2, y), QPointF(left + width - 2, y))
        for space in range(1, found.spaces + 1, 2):
            first = rects.get(f"{side}{space}") or rects[f"{side}{space}a"]
            gap = LOOK.px(12 if self._two() else 18)
            hatch_leg(painter, QRectF(first.right() + 2, first.top(), gap, pitch - 2), leg_of(space))

    def _paint_position(self, painter: QPainter, position: str, rect: QRectF, flagged: set[Place]) -> None:
        circuit = self.holder(position)
        chosen = circuit is not None and circuit.tag == self.current
        fill = LOOK.color("wash") if circuit else LOOK.color("field")
        box(
            painter,
            rect,
            LOOK.color("accent" if chosen else "faint"),
            fill,
            dashed=circuit is None,
            width=2.4 if chosen else 1,
        )
        inner = rect.adjusted(LOOK.px(4), 0, -LOOK.px(4), 0)
        painter.setFont(LOOK.font(min(11, rect.height() * 0.8 / LOOK.scale)))
        painter.setPen(LOOK.color("faint"))
        painter.drawText(inner, LEFT, position)
        if circuit is None:
            if self.plan and position in blank_positions(self.plan.job):
                painter.drawText(inner, RIGHT, "blank")
            return
        small = LOOK.font(min(11, rect.height() * 0.8 / LOOK.scale))
        if self._two():  # two panels leave room for the tag alone
            painter.setFont(small)
            painter.setPen(LOOK.color("fix" if Place.circuit(circuit.tag) in flagged else "accent"))
            painter.drawText(inner, RIGHT, str(circuit.tag))
            return
        painter.setFont(LOOK.font(min(12, rect.height() * 0.85 / LOOK.scale), bold=True))
        painter.setPen(LOOK.color("fix" if Place.circuit(circuit.tag) in flagged else "ink"))
        amps = f"{circuit.breaker_a:g}" if circuit.breaker_a else "?"
        second = circuit.poles == 2 and circuit.spaces and position != circuit.spaces[0]
        painter.drawText(inner, RIGHT, "″" if second else amps)
        if self.plan and self.plan.job.old_panel.kind == "fuses":  # a fuse's window around its rating
            size = min(rect.height() - 4, LOOK.px(26))
            painter.setPen(QPen(LOOK.color("faint"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QRectF(inner.right() - size + LOOK.px(3), rect.center().y() - size / 2, size, size))
        painter.setFont(small)
        painter.setPen(LOOK.color("accent"))
        painter.drawText(inner, CENTER, f"tag {circuit.tag}" if is_whole(position) else f"· {circuit.tag}")
