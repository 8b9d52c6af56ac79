"""A small slip beside a field: volts, amperes and volt-amperes from any two of them, the 80% check, and back into the
field it was opened from."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction, QIcon, QKeySequence, QShortcut
from PyQt6.QtWidgets import QCheckBox, QFrame, QGridLayout, QHBoxLayout, QLineEdit, QPushButton

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.desk.kit.fields import TextField
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import ASSETS, LOOK
from robust_ledger.desk.kit.words import Label
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.load.converter import continuous_check, convert

KEY = Qt.Key.Key_F4
_FIELDS = (("volts", "Volts"), ("amperes", "Amperes"), ("va", "Volt-amperes"))


class Converter(QFrame):
    """Type any two; the third appears with how it came about. Enter puts it into the field and goes back there."""

    def __init__(self, target: QLineEdit, codebook: Codebook, fills: str, fill: Callable[[str], None]) -> None:
        super().__init__(target.window(), Qt.WindowType.Popup)
        self.setObjectName("page")
        self.setFrameShape(QFrame.Shape.Box)
        self.setAccessibleName("Volts, amperes and volt-amperes")
        self.codebook, self.fills, self.fill = codebook, fills, fill
        grid = QGridLayout(self)
        self.fields: dict[str, QLineEdit] = {}
        for row, (name, words) in enumerate(_FIELDS):
            field = QLineEdit()
            field.setAccessibleName(words)
            field.textEdited.connect(lambda _text, name=name: self._typed(name))
            field.returnPressed.connect(self._put)
            label = Label(words)
            label.setBuddy(field)
            grid.addWidget(label, row, 0)
            grid.addWidget(field, row, 1)
            self.fields[name] = field
        self.order: list[str] = []
        self.continuous = QCheckBox("three hours or more")
        self.continuous.clicked.connect(lambda _on: self._work_out())
        self.breaker = QLineEdit()
        self.breaker.setAccessibleName("Breaker to check, A")
        self.breaker.setPlaceholderText("breaker to check, A")
        self.breaker.textEdited.connect(lambda _text: self._work_out())
        self.answer, self.check = Label(), Label()
        for label in (self.answer, self.check):
            label.setWordWrap(True)
            label.setMinimumWidth(250)
        self.check.setMinimumHeight(LOOK.px(34))
        self.check.setProperty("role", "faint")
        grid.addWidget(self.answer, 3, 0, 1, 2)
        grid.addWidget(self.continuous, 4, 0)
        grid.addWidget(self.breaker, 4, 1)
        grid.addWidget(self.check, 5, 0, 1, 2)
        foot = QHBoxLayout()
        self.button = QPushButton("&Put into the field")
        self.button.clicked.connect(self._put)
        foot.addStretch(1)
        foot.addWidget(self.button)
        grid.addLayout(foot, 6, 0, 1, 2)
        self._work_out()
        self.move(target.mapToGlobal(QPoint(0, target.height() + 2)))

    def open_with(self, volts: float) -> None:
        """Show it with the voltage of the load filled in."""
        self.fields["volts"].setText(number_text(volts))
        self.order = ["volts"]
        self._work_out()
        self.show()
        self.fields["amperes"].setFocus()

    def _typed(self, name: str) -> None:
        """The two typed last are what is given; the third follows."""
        self.order = [*(n for n in self.order if n != name), name][-2:]
        if not self.fields[name].text().strip():
            self.order.remove(name)
        self._work_out()

    def _numbers(self) -> dict[str, float | None]:
        found: dict[str, float | None] = {}
        for name, _ in _FIELDS:
            text = self.fields[name].text().replace(",", "").strip() if name in self.order else ""
            try:
                found[name] = float(text) if text else None
            except ValueError:
                found[name] = None
        return found

    def _entry(self) -> Entry:
        numbers = self._numbers()
        return convert(numbers["volts"], numbers["amperes"], numbers["va"])

    def _work_out(self) -> None:
        entry = self._entry()
        self.button.setEnabled(entry.known)
        if not entry.known:
            self.answer.setText("Type any two of the three.")
            self.check.setText("")
            return
        third = next(name for name, _ in _FIELDS if name not in self.order)
        self.fields[third].setText(number_text(entry.amount, 2))
        self.answer.setText(f"{entry.named('sum').how} = {entry.text()}")
        amperes = float(self.fields["amperes"].text().replace(",", ""))
        if self.continuous.isChecked():
            check = continuous_check(amperes, _amperes(self.breaker.text()), self.codebook)
            needed = check.named("needed")
            held = next((f"; {step.label} {step.text()}" for step in check.steps if step.name == "held"), "")
            words = f"{needed.how} = {needed.text()}: a {check.text()} breaker or more [{needed.cites[0]}]{held}"
            self.check.setText(words)
        else:
            self.check.setText("Tick it for a load that runs on: a breaker is good for 80% of its rating then.")

    def _put(self) -> None:
        """Write the figures the field is for into it."""
        if not self._entry().known:
            return
        values = {name: field.text().replace(",", "") for name, field in self.fields.items()}
        self.close()
        if self.fills == "amperes":
            self.fill(values["amperes"])
        else:
            self.fill(
                f"{values['va']} VA @ {values['volts']}"
                if "va" in self.order
                else f"{values['amperes']} A @ {values['volts']}"
            )


def _amperes(text: str) -> float | None:
    """A breaker's rating as typed; None while it is none."""
    try:
        value = float(text)
    except ValueError:
        return None
    return value if 0 < value < 10_000 else None


def offer_converter(field: TextField, fills: str, volts: Callable[[], float], store: JobStore) -> None:
    """Give a field the slip: by F4, or by the sign at its end. `fills` says which of the figures the field is for."""

    def fill(text: str) -> None:
        field.setText(text)
        field.setModified(True)
        field.finish()
        field.setFocus()

    def show() -> None:
        slip = Converter(field, store.plan.codebook, fills, fill)
        slip.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        slip.open_with(volts())

    action = QAction(QIcon(str(ASSETS / "icons" / "converter.svg")), "Volts × amperes (F4)", field)
    action.triggered.connect(show)
    field.addAction(action, QLineEdit.ActionPosition.TrailingPosition)
    shortcut = QShortcut(QKeySequence(KEY), field)
    shortcut.setContext(Qt.ShortcutContext.WidgetShortcut)
    shortcut.activated.connect(show)
