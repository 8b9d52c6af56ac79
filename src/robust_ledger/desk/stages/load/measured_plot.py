"""The recording over time with what is wrong in it marked, and its load duration curve."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QColor

from robust_ledger.desk.kit.plots import Plot, pen
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.measure.metering.checks import Issue, Kind
from robust_ledger.measure.metering.demand import Demand

# One sign for each kind of fault, so that they are told apart without color.
_SIGNS = {Kind.DOUBLE: "d", Kind.SPIKE: "t", Kind.RESET: "s", Kind.SENT_OUT: "o"}


class RecordingPlot(Plot):
    """Every reading, a day wide or a year; gaps are bands, other faults signs, the maximum demand a line."""

    def __init__(self) -> None:
        super().__init__("Demand recording", "kW", "", {"bottom": pg.DateAxisItem(utcOffset=0)})
        self.demand: Demand | None = None

    def clear_all(self) -> None:
        self.demand = None
        self.clear()

    def show_demand(self, demand: Demand, excluded: Collection[str]) -> None:
        self.demand = demand
        self.clear()
        series = demand.series
        self.left = series.unit
        self.apply_look()
        seconds = series.stamp_min.astype(float) * 60
        value = series.value.max(axis=1)
        # A hole in the line wherever readings are missing.
        connect = np.append(np.diff(series.at_min) <= series.interval_min, False)
        self.plot(seconds, value, pen=pen("accent"), connect=connect, autoDownsample=True, downsampleMethod="peak")
        low = min(0.0, float(value.min()))
        high = max(float(value.max()), demand.peak) * 1.12
        self._bands(demand, seconds, low, high)
        for kind in _SIGNS:
            for left_out in (False, True):
                self._signs(demand, excluded, kind, left_out)
        line = pg.InfiniteLine(demand.peak, 0, pen=pen("stop", 1.5))
        self.addItem(line)
        words = pg.TextItem(f"maximum demand {demand.peak:.2f} {series.unit}", LOOK.color("stop"), anchor=(0, 1))
        words.setFont(LOOK.font(12))
        words.setPos(seconds[0], demand.peak)
        self.addItem(words)
        self.setXRange(seconds[0], seconds[-1], padding=0.01)
        self.setYRange(low, high, padding=0)

    def _bands(self, demand: Demand, seconds: np.ndarray, low: float, high: float) -> None:
        """Stretches without a reading or at zero, all of them as one item: there can be as many as readings."""
        found = [issue for issue in demand.series.issues if issue.kind in (Kind.GAP, Kind.SILENT)]
        if not found:
            return
        first, last = (np.array([getattr(issue, end) for issue in found]) for end in ("first", "last"))
        color = QColor(LOOK.color("fix"))
        color.setAlpha(70)
        bands = pg.BarGraphItem(x0=seconds[first], x1=seconds[last], y0=low, y1=high, brush=color, pen=pen("fix"))
        self.addItem(bands)

    def _signs(self, demand: Demand, excluded: Collection[str], kind: Kind, left_out: bool) -> None:
        """The readings of one kind of fault, all of them as one item."""
        series = demand.series
        value = series.value.max(axis=1)
        of_kind = [one for one in series.issues if one.kind is kind and (one.key in excluded) == left_out]
        if not of_kind:
            return
        at = np.unique(np.concatenate([np.arange(issue.first, issue.last + 1) for issue in of_kind]))
        at = at[value[at] < 0] if kind is Kind.SENT_OUT else at
        self.plot(
            series.stamp_min[at].astype(float) * 60,
            value[at],
            pen=None,
            symbol=_SIGNS[kind],
            symbolSize=LOOK.px(11),
            symbolBrush=LOOK.color("page") if left_out else LOOK.color("stop"),
            symbolPen=pen("stop", 1.5),
        )

    def look_at(self, issue: Issue) -> None:
        """Bring a fault into view, with a few days around it."""
        if self.demand is None:
            return
        seconds = self.demand.series.stamp_min.astype(float) * 60
        first, last = seconds[issue.first], seconds[issue.last]
        around = max(2 * 86_400.0, last - first)
        self.setXRange(first - around, last + around, padding=0)


class DurationPlot(Plot):
    """For which part of the time the demand was reached or exceeded."""

    def __init__(self) -> None:
        super().__init__("Load duration curve", "kW", "part of the time reached or exceeded, %")

    def clear_all(self) -> None:
        self.clear()

    def show_demand(self, demand: Demand) -> None:
        self.clear()
        self.left = demand.series.unit
        self.apply_look()
        thin = np.unique(np.geomspace(1, len(demand.duration), 600).astype(int) - 1)
        self.plot(
            demand.share[thin] * 100, demand.duration[thin], pen=pen("accent", 2), fillLevel=0, brush=LOOK.color("wash")
        )
        self.setXRange(0, 100, padding=0.01)
        self.setYRange(0, max(demand.peak, 0.1) * 1.1, padding=0)
