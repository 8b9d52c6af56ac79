"""A question with what there is to choose between: a sentence, the differences in words, and a button for each answer."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label

CANCEL = "cancel"


class Decision(QDialog):
    """Asks and waits. The first answer is the cautious one and has the focus; Escape is the last, which changes nothing."""

    def __init__(
        self, parent: QWidget, question: str, details: Sequence[str], answers: Sequence[tuple[str, str]]
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Robust Ledger")
        self.answer, self.question = CANCEL, question
        column = QVBoxLayout(self)
        words = Label(question)
        words.setWordWrap(True)
        column.addWidget(words)
        self.details = QListWidget()
        self.details.setAccessibleName("Differences")
        self.details.setWordWrap(True)
        self.details.addItems(list(details))
        self.details.setVisible(bool(details))
        column.addWidget(self.details, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        self.buttons: dict[str, QPushButton] = {}
        for key, text in (*answers, (CANCEL, "Cancel")):
            button = QPushButton(text)
            button.setAutoDefault(True)
            button.clicked.connect(lambda _checked=False, key=key: self._take(key))
            row.addWidget(button)
            self.buttons[key] = button
        column.addLayout(row)
        self.resize(LOOK.px(640), LOOK.px(160 + min(260, 22 * len(details))))
        next(iter(self.buttons.values())).setFocus(Qt.FocusReason.OtherFocusReason)

    def _take(self, key: str) -> None:
        self.answer = key
        self.accept()

    def ask(self) -> str:
        """The key of the answer; "cancel" when there was none."""
        self.exec()
        return self.answer
