"""The chain: every link of the service as an upright bar against one ampere scale; the short bars are the job."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from robust_ledger.codebook.conductors import ampacity_a
from robust_ledger.desk.fields import Form, TextField, TickField, amps_text, of, read_amps
from robust_ledger.desk.paint import CENTRE, RIGHT, box
from robust_ledger.desk.stages.service_page import ServicePage
from robust_ledger.desk.stages.stage import label
from robust_ledger.desk.store import JobStore
from robust_ledger.desk.theme import LOOK
from robust_ledger.job.edits import with_part
from robust_ledger.job.models import Job
from robust_ledger.ledger.text import number_text
from robust_ledger.plan import Plan
from robust_ledger.survey.chain import Link, weakest

_MADE_NEW = {
    "riser": "riser raceway made new",
    "riser_conductors": "riser conductors made new",
    "load_conductors": "load-side conductors made new",
    "disconnect": "disconnect made new",
}
_SCALE = 62


class ChainView(QWidget):
    """Bars for the links, the main of the job and the calculated load as lines across. Left and right walk the links."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.plan: Plan | None = None
        self.current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The chain of the service")
        self.setMinimumHeight(LOOK.px(260))

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(700), LOOK.px(340))

    def show_plan(self, plan: Plan) -> None:
        self.plan = plan
        self.current = min(self.current, len(plan.chain) - 1)
        self._describe()
        self.update()

    def _describe(self) -> None:
        if self.plan:
            link = self.plan.chain[self.current]
            self.setAccessibleDescription(f"{link.title} {link.limit.text()}: {link.verdict}")

    def _frame(self, number: int) -> QRectF:
        assert self.plan is not None
        left = LOOK.px(_SCALE)
        width = (self.width() - left) / len(self.plan.chain)
        return QRectF(left + number * width, 0, width, self.height())

    def _y(self, amperes: float) -> float:
        assert self.plan is not None
        known = [link.limit.amount for link in self.plan.chain if link.limit.known]
        lines = [entry.amount for entry in (self.plan.entries["service.main"], self.plan.chosen.amperes) if entry.known]
        most = max([*known, *lines, 200]) * 1.12
        floor = self.height() - LOOK.px(92)
        return floor - (floor - LOOK.px(14)) * amperes / most

    def paintEvent(self, event):
        if self.plan is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = self._frame(self.current).adjusted(3, 1, -3, -1)
        box(painter, frame, LOOK.color("accent"), LOOK.color("wash"), width=2.5 if self.hasFocus() else 1)
        for number, link in enumerate(self.plan.chain):
            self._paint_link(painter, self._frame(number), link)
        self._paint_line(painter, self.plan.entries["service.main"], "main", Qt.PenStyle.SolidLine)
        self._paint_line(painter, self.plan.chosen.amperes, "load", Qt.PenStyle.DashLine)

    def _paint_line(self, painter: QPainter, entry, words: str, style: Qt.PenStyle) -> None:
        if not entry.known:
            return
        y = self._y(entry.amount)
        painter.setPen(QPen(LOOK.color("ink"), 1.6, style))
        painter.drawLine(QPointF(LOOK.px(_SCALE), y), QPointF(self.width(), y))
        painter.setFont(LOOK.font(12))
        shift = LOOK.px(-16 if words == "main" else 0)
        text = f"{words} {number_text(entry.amount)}"
        painter.drawText(QRectF(0, y + shift, LOOK.px(_SCALE - 6), LOOK.px(17)), RIGHT, text)

    def _paint_link(self, painter: QPainter, frame: QRectF, link: Link) -> None:
        px = LOOK.px
        zero = self._y(0)
        width = min(frame.width() * 0.42, px(46))
        top = self._y(link.limit.amount) if link.limit.known else self._y(60)
        bar = QRectF(frame.center().x() - width / 2, top, width, zero - top)
        if not link.limit.known:
            box(painter, bar, LOOK.color("ask"), None, dashed=True, width=1.5)
        else:
            painter.setPen(QPen(LOOK.color("stop" if link.fails else "accent"), 1.5))
            painter.setBrush(LOOK.color("stop" if link.fails else "accent"))
            if link.made_new or link.utility:  # it does not bind: an outline with hatching
                painter.setBrush(Qt.BrushStyle.BDiagPattern)
            painter.drawRect(bar)
        painter.setPen(LOOK.color("ink"))
        painter.setFont(LOOK.font(14, bold=True))
        painter.drawText(QRectF(frame.left(), top - px(20), frame.width(), px(19)), CENTRE, link.limit.text())
        painter.setFont(LOOK.font(12, bold=True))
        flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        inner = frame.adjusted(px(5), 0, -px(5), 0)
        painter.drawText(QRectF(inner.left(), zero + px(5), inner.width(), px(34)), flags, link.title)
        painter.setFont(LOOK.font(11.5))
        painter.setPen(LOOK.color("stop" if link.fails else "faint"))
        painter.drawText(QRectF(inner.left(), zero + px(38), inner.width(), px(50)), flags, _short(link))

    def mousePressEvent(self, event):
        for number in range(len(self.plan.chain) if self.plan else 0):
            if self._frame(number).contains(event.position()):
                self._go(number)

    def keyPressEvent(self, event):
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(event.key(), 0)
        if not step or not self.plan:
            super().keyPressEvent(event)
            return
        self._go((self.current + step) % len(self.plan.chain))

    def focusInEvent(self, event):
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event):
        super().focusOutEvent(event)
        self.update()

    def _go(self, number: int) -> None:
        assert self.plan is not None
        self.current = number
        self._describe()
        self.update()
        self.chosen.emit(self.plan.chain[number].limit.id)


class ChainPage(ServicePage):
    """The bars, what they say together, and the fields of what was found."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.view = ChainView()
        self.view.chosen.connect(store.choose_entry)
        column.addWidget(self.view, 1)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.form = self._build_form()
        column.addWidget(self.form)

    def _build_form(self) -> Form:
        form, store = Form(), self.store
        form.add(
            "chain:drop_a", TextField(store, "Drop, A", *of("chain", "drop_a"), read_amps, amps_text, "ask"), 0, 0, 80
        )
        for number, (name, words) in enumerate(
            (("riser_conductors", "Riser wires"), ("load_conductors", "Load-side wires")), 1
        ):
            field = TextField(store, words, *of("chain", name), self._read_conductors, str, "2 Cu, 4/0 Al")
            form.add(f"chain:{name}", field, 0, number, 110)
        disconnect = TextField(store, "Disconnect, A", *of("chain", "disconnect_a"), read_amps, amps_text, "none")
        form.add("chain:disconnect_a", disconnect, 1, 0, 80)
        form.add(
            "chain:underground",
            TickField(store, "Underground", *of("chain", "underground"), "underground lateral"),
            1,
            1,
        )
        for number, (name, words) in enumerate(_MADE_NEW.items()):
            tick = TickField(store, words, _replaced(name), _replace(name), words)
            form.add(f"replaced:{name}", tick, 2 + number // 2, number % 2)
        meter = TickField(store, "Meter socket", *of("decisions", "meter_replaced"), "meter socket made new")
        form.add("replaced:meter", meter, 1, 2)
        form.grid.setColumnStretch(8, 1)
        return form

    def _read_conductors(self, text: str) -> str:
        """A reader for «2 Cu», «4/0 al», «250 kcmil Al»; empty means not read."""
        words = text.replace("kcmil", " ").split()
        if not words:
            return ""
        size, metal = words[0], words[-1].capitalize()
        if (
            len(words) != 2
            or metal not in ("Cu", "Al")
            or ampacity_a(self.store.plan.codebook, size, metal.lower(), 75) is None
        ):
            raise ValueError(f"«{text.strip()}» is not a conductor; write it like 2 Cu or 4/0 Al.")
        return f"{size} {metal}"

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entry(self.store.plan.chain[self.view.current].limit.id)

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.view.show_plan(plan)
        self.words.setText(_summary(plan))


def _short(link: Link) -> str:
    """The verdict under its bar; the link's name and its limit stand there already."""
    words = link.verdict.removeprefix(f"{link.title.lower()}: ")
    return words.partition(", holds")[0] if link.stays and link.limit.known else words


def _summary(plan: Plan) -> str:
    failing = [link.title.lower() for link in plan.chain if link.fails]
    low = weakest(plan.chain)
    main = plan.entries["service.main"]
    if not main.known:
        return f"The main is not known: {main.why_unknown}."
    bound = f" Of what stays, the {low[1]} binds at {number_text(low[0])} A." if low else ""
    if failing:
        return f"For a main of {main.text()} these have to go: {', '.join(failing)}.{bound}"
    unknown = [link.title.lower() for link in plan.chain if link.stays and not link.limit.known]
    read = f" Still to be read: {', '.join(unknown)}." if unknown else ""
    return f"Every link that stays holds a main of {main.text()}.{bound}{read}"


def _replaced(name: str) -> Callable[[Job], bool]:
    return lambda job: name in job.chain.replaced


def _replace(name: str) -> Callable[[Job, Any], Job]:
    def put(job: Job, on: Any) -> Job:
        others = [one for one in job.chain.replaced if one != name]
        return with_part(job, "chain", replaced=(*others, name) if on else tuple(others))

    return put
