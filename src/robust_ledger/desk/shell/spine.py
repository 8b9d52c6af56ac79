"""The spine: the stages in the order of the work, each with its state and its open findings."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QFrame, QSizePolicy, QVBoxLayout

from robust_ledger.desk.kit.spec import StageSpec, manifest
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.plan import Plan


class StageButton(QAbstractButton):
    """One stage on the spine."""

    def __init__(self, number: int, spec: StageSpec) -> None:
        super().__init__()
        self.number, self.spec = number, spec
        self.state, self.open_findings = "empty", 0
        self.setCheckable(True)
        self.setText(spec.title)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        self.setToolTip(f"{spec.title}, Alt+{number}")

    def show_state(self, state: str, open_findings: int) -> None:
        self.state, self.open_findings = state, open_findings
        spoken = f"{self.text()}, {state}" + (f", {open_findings} open findings" if open_findings else "")
        self.setAccessibleName(spoken)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(150), LOOK.px(58))

    def minimumSizeHint(self) -> QSize:
        """Its number and title: with many stages, or large text, the line below gives way before the window grows."""
        return QSize(LOOK.px(46), LOOK.px(28))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        width, height, px = self.width(), self.height(), LOOK.px
        if self.isChecked():
            painter.fillRect(self.rect(), LOOK.color("page"))
            painter.fillRect(QRect(0, 0, px(5), height), LOOK.color("accent"))
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.setFont(LOOK.font(19, bold=True))
        painter.setPen(LOOK.color("accent" if self.isChecked() else "faint"))
        top = px(8) if height >= px(44) else 0
        painter.drawText(QRect(px(14), top, px(24), px(26)), left, str(self.number))
        painter.setFont(LOOK.font(14, bold=self.isChecked()))
        painter.setPen(LOOK.color("ink"))
        if LOOK.large:  # only the number, and how many findings are open
            painter.setFont(LOOK.font(12))
            painter.setPen(LOOK.color("fix"))
            painter.drawText(QRect(px(14), px(34), width, px(18)), left, str(self.open_findings or ""))
            self._paint_focus(painter)
            return
        painter.drawText(QRect(px(42), top, width - px(48), px(26)), left, self.text())
        painter.setFont(LOOK.font(12))
        painter.setPen(LOOK.color("faint"))
        painter.drawText(QRect(px(42), px(34), width - px(48), px(18)), left, self.state)
        if self.open_findings:
            painter.setPen(LOOK.color("fix"))
            painter.drawText(QRect(0, px(34), width - px(10), px(18)), right, f"{self.open_findings} open")
        self._paint_focus(painter)

    def _paint_focus(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.setPen(LOOK.color("accent"))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))


class Spine(QFrame):
    """All stages; says which was asked for."""

    stage_asked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("spine")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(0)
        self.buttons: dict[str, StageButton] = {}
        group = QButtonGroup(self)
        for number, (stage, spec) in enumerate(manifest().items(), 1):
            button = StageButton(number, spec)
            button.clicked.connect(lambda _checked, stage=stage: self.stage_asked.emit(stage))
            group.addButton(button)
            layout.addWidget(button)
            self.buttons[stage] = button
        layout.addStretch(1)

    def show_plan(self, plan: Plan) -> None:
        for stage, button in self.buttons.items():
            button.setVisible(button.spec.is_for(plan))
            button.show_state(button.spec.state(plan), sum(f.open for f in plan.findings_of(stage)))
