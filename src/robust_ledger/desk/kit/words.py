"""Words on the screen are plain text: what a job says is never read as markup, in a label, a box, or the tip that comes up at the mouse."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox, QWidget


class Label(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def label(text: str, role: str) -> QLabel:
    """A label in one of the roles of the style sheet: heading, section, faint, fault, live."""
    made = Label(text)
    made.setProperty("role", role)
    return made


def ask(
    parent: QWidget, words: str, buttons: QMessageBox.StandardButton, usual: QMessageBox.StandardButton
) -> QMessageBox.StandardButton:
    """A question in a box of its own; answers the button."""
    return QMessageBox.StandardButton(_box(parent, QMessageBox.Icon.Question, words, buttons, usual).exec())


def warn(parent: QWidget, words: str) -> None:
    """A sentence in a box of its own."""
    ok = QMessageBox.StandardButton.Ok
    _box(parent, QMessageBox.Icon.Warning, words, ok, ok).exec()


def _box(
    parent: QWidget,
    icon: QMessageBox.Icon,
    words: str,
    buttons: QMessageBox.StandardButton,
    usual: QMessageBox.StandardButton,
) -> QMessageBox:
    box = QMessageBox(icon, "Robust Ledger", words, buttons, parent)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setDefaultButton(usual)
    return box


def plain_tip(text: str) -> str:
    """Words for a tip at the mouse: Qt takes those for markup that look like it, so they are written as such that shows them as they are."""
    return f"<span>{escape(text)}</span>".replace("\n", "<br>") if "<" in text else text
