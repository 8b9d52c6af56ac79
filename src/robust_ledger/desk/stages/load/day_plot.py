"""A day of both legs against the main's rating, with the heat of the main's thermal element."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor

from robust_ledger.desk.kit.plots import ClockAxis, Plot, pen
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.measure.simulate.study import CLAMP_MINUTE, Day


class DayPlot(Plot):
    """Leg A a full line, leg B a dashed one; the main's rating across; 3 pm marked, where people clamp."""

    def __init__(self) -> None:
        super().__init__("Leg amperes through the day", "A", "", {"bottom": ClockAxis("bottom")})
        self.circuit = None

    def clear_all(self) -> None:
        self.clear()

    def show_day(self, day: Day, main_a: float) -> None:
        self.clear()
        self.circuit = None
        self.apply_look()
        minutes = np.arange(day.legs.shape[1])
        for leg, color, style in ((0, "accent", Qt.PenStyle.SolidLine), (1, "fix", Qt.PenStyle.DashLine)):
            self.plot(minutes, day.legs[leg], pen=pen(color, 1.4, style))
        self.plot(minutes, day.heat * main_a, pen=pen("faint", 1, Qt.PenStyle.DotLine))
        self.addItem(pg.InfiniteLine(main_a, 0, pen=pen("stop", 2)))
        self.addItem(pg.InfiniteLine(CLAMP_MINUTE, 90, pen=pen("rule", 1, Qt.PenStyle.DashLine)))
        top = max(main_a, float(day.legs.max())) * 1.12
        self.setXRange(0, 1440, padding=0)
        self.setYRange(0, top, padding=0)
        self._say(f"main {main_a:g} A", 1436, main_a, "stop", (1, 1))
        self._say("3 pm", CLAMP_MINUTE + 6, top, "faint", (0, 0))
        self._say("leg A ———   leg B – – –   heat of the main · · ·  (trips at the red line)", 8, top, "ink", (0, 0))

    def show_circuit(self, amperes: np.ndarray) -> None:
        """Fill in what one circuit draws."""
        if self.circuit is not None:
            self.removeItem(self.circuit)
        color = QColor(LOOK.color("accent"))
        color.setAlpha(90)
        self.circuit = self.plot(np.arange(len(amperes)), amperes, pen=None, fillLevel=0, brush=color)

    def _say(self, text: str, x: float, y: float, color: str, anchor: tuple[float, float]) -> None:
        words = pg.TextItem(text, LOOK.color(color), anchor=anchor)
        words.setFont(LOOK.font(12))
        words.setPos(x, y)
        self.addItem(words)
