"""Plots in the look of the ledger: axes as hairlines, figures in its face, legs told apart by the kind of line."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import pyqtgraph as pg
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPen

from robust_ledger.desk.kit.theme import LOOK

pg.setConfigOptions(antialias=True)


def pen(color: str, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    """A cosmetic pen in a color of the theme."""
    made = QPen(LOOK.color(color), width, style)
    made.setCosmetic(True)
    return made


class Plot(pg.PlotWidget):  # type: ignore[misc]  # pyqtgraph tells no types
    """A plot that follows theme and text size, and has a name for those who cannot see it."""

    def __init__(self, name: str, left: str, bottom: str, axes: dict[str, Any] | None = None) -> None:
        super().__init__(axisItems=axes or {})
        self.setAccessibleName(name)
        self.left, self.bottom = left, bottom
        self.setMenuEnabled(False)
        self.hideButtons()
        self.setMinimumHeight(LOOK.px(110))
        self.getPlotItem().getViewBox().setMouseEnabled(x=True, y=False)
        self.apply_look()

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(300), LOOK.px(130))

    def apply_look(self) -> None:
        self.setBackground(LOOK.color("page"))
        for side, words in (("left", self.left), ("bottom", self.bottom)):
            axis = self.getAxis(side)
            axis.setPen(pen("rule"))
            axis.setTextPen(pen("faint"))
            axis.setTickFont(LOOK.font(11))
            axis.label.setFont(LOOK.font(11.5))
            self.setLabel(side, words, color=LOOK.theme.faint)
        self.showGrid(x=False, y=True, alpha=0.25)


class ClockAxis(pg.AxisItem):  # type: ignore[misc]
    """Minutes of a day as hours."""

    def tickValues(self, low: float, high: float, size: float) -> list[tuple[float, list[int]]]:
        step = 180 if high - low > 700 else 60
        first = int(low // step + 1) * step if low > 0 else 0
        return [(step, list(range(first, int(high) + 1, step)))]

    def tickStrings(self, values: Sequence[float], scale: float, spacing: float) -> list[str]:
        return [f"{int(value) // 60 % 24:02d}:00" for value in values]
