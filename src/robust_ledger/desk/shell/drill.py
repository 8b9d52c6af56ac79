"""A drill on the screen: a question, its answers on the keys 1 to 4 or a line to write, three minutes."""

from __future__ import annotations

from PyQt6.QtCore import QElapsedTimer, QSize, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.changeover.clock import now
from robust_ledger.desk.kit.scene_view import paint_shape
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.shell.voice import Voice
from robust_ledger.drawing.scene import Scene
from robust_ledger.jobbook.home import home
from robust_ledger.practice.drills.dictation import heard
from robust_ledger.practice.drills.model import DRILL_S, Drill, Question, Run
from robust_ledger.practice.drills.run import TITLES, is_right, question
from robust_ledger.practice.progress import keep, of_drill

MOST_CHOICES = 4
TICK_MS = 250
KEYS = (Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4)


class _Picture(QWidget):
    """What a question is about, drawn."""

    def __init__(self) -> None:
        super().__init__()
        self.scene: Scene | None = None

    def show_scene(self, scene: Scene | None) -> None:
        self.scene = scene
        self.setVisible(scene is not None)
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        if self.scene is None:
            return QSize(0, 0)
        return QSize(LOOK.px(self.scene.width), LOOK.px(self.scene.height))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.scene is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(LOOK.scale, LOOK.scale)
        for shape in self.scene.shapes:
            paint_shape(painter, shape)


class DrillDialog(QDialog):
    """One drill from its first question to the end of its time. A wrong answer is explained, and waits for Enter."""

    def __init__(self, parent: QWidget | None, drill: Drill, seed: int) -> None:
        super().__init__(parent)
        self.drill, self.seed = drill, seed
        self.asked, self.right, self.is_over, self.waits = 0, 0, False, False
        self.question: Question = question(drill, seed, 0)
        self.setWindowTitle(f"Drill: {TITLES[drill]}")
        self.time, self.ask = label("", "live"), label("", "section")
        self.ask.setWordWrap(True)
        self.picture, self.told = _Picture(), label("", "faint")
        self.told.setWordWrap(True)
        self.line = QLineEdit()
        self.line.setAccessibleName("The line")
        self.line.returnPressed.connect(self._written)
        self.choices = [QPushButton() for _ in range(MOST_CHOICES)]
        for number, button in enumerate(self.choices):
            button.setAutoDefault(False)
            button.clicked.connect(lambda _checked, number=number: self.choose(number))
        self.next = QPushButton("&Next")
        self.next.clicked.connect(self._go_on)
        self.next.setAutoDefault(drill != "dictation")  # there Enter belongs to the line
        self.voice = Voice(self) if drill == "dictation" else None
        self.aloud = QCheckBox("Read &aloud")
        self.aloud.setVisible(self.voice is not None and self.voice.is_there)
        self._lay_out()
        self.clock = QElapsedTimer()
        self.clock.start()
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self._tick)
        self.timer.start()
        self._show()

    def _lay_out(self) -> None:
        column, row = QVBoxLayout(self), QHBoxLayout()
        row.addWidget(self.time, 1)
        row.addWidget(self.aloud)
        column.addLayout(row)
        column.addWidget(self.picture)
        column.addWidget(self.ask)
        column.addWidget(self.line)
        for button in self.choices:
            column.addWidget(button)
        column.addWidget(self.told)
        column.addStretch(1)
        column.addWidget(self.next)
        self.resize(620, 430)

    @property
    def left_s(self) -> float:
        """Seconds left of the drill."""
        return DRILL_S - self.clock.elapsed() / 1000

    def _show(self) -> None:
        """A new question."""
        asked, writes = self.question, self.drill == "dictation"
        said = f"{asked.ask} {asked.read}".strip()
        self.ask.setText(said)
        self.picture.show_scene(asked.scene)
        self.line.setVisible(writes)
        self.line.clear()
        for number, button in enumerate(self.choices):
            button.setVisible(number < len(asked.choices))
            button.setEnabled(True)
            if number < len(asked.choices):
                button.setText(f"{number + 1}  {asked.choices[number]}")
        self.told.setText("")
        self.waits = False
        self.next.hide()
        (self.line if writes else self.choices[0]).setFocus()
        if self.voice is not None and self.aloud.isChecked():
            self.ask.setText(asked.ask)
            self.voice.say(asked.read)
        self._tick()

    def _tick(self) -> None:
        """The clock; when it has run out the drill is over."""
        if self.is_over:
            return
        left = max(0, round(self.left_s))
        self.time.setText(f"{left // 60}:{left % 60:02} left, {self.right} of {self.asked} right")
        if left <= 0:
            self._end()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in KEYS and not self.waits and not self.line.isVisible():
            self.choose(KEYS.index(Qt.Key(event.key())))
            return
        super().keyPressEvent(event)

    def choose(self, number: int) -> None:
        """An answer by its number."""
        if number < len(self.question.choices) and not self.waits and not self.is_over:
            self._judge(self.question.choices[number])

    def _written(self) -> None:
        if self.waits:
            self._go_on()
        elif self.line.text().strip() and not self.is_over:
            self._judge(self.line.text())

    def _judge(self, given: str) -> None:
        """Count an answer; a right one leads on at once."""
        self.asked += 1
        if is_right(self.drill, self.question, given):
            self.right += 1
            self._go_on()
            return
        self.waits = True
        asked = self.question
        why = f"Understood: {heard(given)}." if self.drill == "dictation" else asked.why
        sections = f" [{asked.sections}]" if asked.sections else ""
        self.told.setText(f"No: {asked.answer}. {why[:1].upper()}{why[1:]}{sections}")
        for button in self.choices:
            button.setEnabled(False)
        self.next.show()
        if self.drill != "dictation":
            self.next.setFocus()
        self._tick()

    def _go_on(self) -> None:
        if self.is_over:
            self.accept()
            return
        self.question = question(self.drill, self.seed, self.asked)
        self._show()

    def _end(self) -> None:
        """The time has run out: what came of it is shown and kept."""
        self.is_over = True
        self._put_away()
        run = Run(self.drill, self.asked, self.right, DRILL_S)
        self.picture.show_scene(None)
        self.line.hide()
        for button in self.choices:
            button.hide()
        self.ask.setText(f"Time is up: {run.words}.")
        self.time.setText("")
        self.next.setText("&Done")
        self.next.setAutoDefault(True)
        self.next.show()
        self.next.setFocus()
        if self.asked:
            try:
                keep(home(), of_drill(run, now()))
            except OSError as problem:
                self.told.setText(f"It could not be kept: {problem.strerror}.")

    def done(self, result: int) -> None:
        self._put_away()
        super().done(result)

    def _put_away(self) -> None:
        self.timer.stop()
        if self.voice is not None:
            self.voice.stop()
