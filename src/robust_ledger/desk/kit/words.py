"""Words on the screen are plain text: what a job says is never read as markup, in a label, a box, or the tip that comes up at the mouse."""

from __future__ import annotations

from collections.abc import Iterable
from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox, QWidget


class Label(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class Links(QLabel):
    """A line with ways out of it: the only label that is drawn from markup, and it writes that markup itself."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setProperty("role", "live")
        self.setWordWrap(True)
        self.setTextInteractionFlags(
            Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        )

    def say(self, pieces: Iterable[tuple[str, str]]) -> None:
        """Shows pieces (words, where they lead); a piece that leads nowhere is plain."""
        self.setText(
            "".join(f"<a href='{escape(to)}'>{escape(words)}</a>" if to else escape(words) for words, to in pieces)
        )


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
