"""The four methods side by side, in view on every page of the Load stage."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton

from robust_ledger.desk.kit.paint import LEFT, RIGHT, box
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import plain_tip
from robust_ledger.load.methods import Method

SHORT = {"standard": "Standard", "optional": "Optional", "existing": "Existing", "measured": "Measured"}


class MethodCard(QAbstractButton):
    """One method: its amperes, the main it leads to, and whether the job uses it. A click uses it."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self.title, self.figure, self.detail, self.state = "", "?", "", ""
        self.closed = self.recommended = False
        self.setCheckable(True)

    def show_method(self, method: Method, used: bool, recommended: bool) -> None:
        calculation = method.calculation
        self.title = f"{SHORT[self.name]} {calculation.cite}"
        self.figure = calculation.amperes.text()
        self.detail = f"{calculation.total.text()} → main {method.main.text()}"
        self.closed, self.recommended = not method.open, recommended
        words = ["used"] if used else []
        words += ["recommended"] if recommended else ["not allowed"] if self.closed else []
        self.state = ", ".join(words) or "for comparison"
        self.setChecked(used)
        self.setAccessibleName(f"{calculation.title}: {self.figure}, {self.detail}, {self.state}")
        self.setToolTip(plain_tip(f"{self.detail}. {method.why}"))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(150 if LOOK.large else 196), LOOK.px(70))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, px = QPainter(self), LOOK.px
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        edge = LOOK.color("accent" if self.isChecked() or self.hasFocus() else "rule")
        fill = LOOK.color("wash") if self.isChecked() else None
        dashed = self.closed and not self.hasFocus()
        box(painter, self.rect().toRectF().adjusted(1, 1, -1, -1), edge, fill, dashed, 2.5 if self.hasFocus() else 1.5)
        inner = self.rect().adjusted(px(9), px(4), -px(9), -px(4))
        painter.setFont(LOOK.font(12, bold=self.isChecked()))
        painter.setPen(LOOK.color("ink"))
        title = SHORT[self.name] if LOOK.large else self.title
        painter.drawText(QRect(inner.left(), inner.top(), inner.width(), px(18)), LEFT, title)
        painter.setFont(LOOK.font(19, bold=True))
        painter.setPen(LOOK.color("faint" if self.closed else "ink"))
        painter.drawText(QRect(inner.left(), inner.top() + px(18), inner.width(), px(26)), RIGHT, self.figure)
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("accent" if self.isChecked() or self.recommended else "faint"))
        # Large text leaves room for three short lines only: the volt-amperes and the main then stand in the tip.
        row = px(43 if LOOK.large else 22)
        painter.drawText(QRect(inner.left(), inner.top() + row, inner.width(), px(20)), LEFT, self.state)
        if LOOK.large:
            return
        painter.setPen(LOOK.color("faint"))
        painter.setFont(LOOK.font(11.5))
        painter.drawText(QRect(inner.left(), inner.top() + px(43), inner.width(), px(20)), LEFT, self.detail)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter uses the method too, as on any other line of the ledger."""
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)
