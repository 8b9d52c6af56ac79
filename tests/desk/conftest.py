"""The real window, driven by keys and mouse."""

from __future__ import annotations

import pytest
from builders import house_alone
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.shell.application import make_application
from robust_ledger.desk.shell.window import Window

CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
ALT = Qt.KeyboardModifier.AltModifier


@pytest.fixture(scope="session")
def qapp():
    return make_application()


@pytest.fixture(autouse=True)
def windows_go(qapp):
    """Windows of earlier tests are gone only when Qt gets to delete them; those left alive make every later one slower."""
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


@pytest.fixture
def window(qtbot):
    """An open window on a new job, in Pull-off, with nothing saved."""
    made = Window()
    qtbot.addWidget(made, before_close_func=lambda one: setattr(one, "session_ends", True))
    made.resize(1280, 800)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    made.new_job()
    made.show_stage("pulloff")
    return made


@pytest.fixture
def desk(window):
    """The window with the demo's house alone open, in Pull-off."""
    window.open_demo(DEMO)
    window.store.open_job(house_alone(window.store.job), None, DEMO.parent)
    window.show_stage("pulloff")
    return window


@pytest.fixture
def keys(qtbot):
    """Types into whatever has the focus, as a person does; "enter", "esc", "ctrl+z" and the like are single keys."""
    names = {"enter": "Key_Return", "esc": "Key_Escape", "up": "Key_Up", "down": "Key_Down", "left": "Key_Left", "right": "Key_Right",
             "tab": "Key_Tab", "del": "Key_Delete", "space": "Key_Space", "backtab": "Key_Backtab", "f7": "Key_F7",
             "insert": "Key_Insert", "pgdown": "Key_PageDown",
             "pgup": "Key_PageUp"}  # fmt: skip

    def press(window, *what: str) -> None:
        for one in what:
            target = window.focusWidget() or window
            parts = one.split("+") if one not in ("+",) else [one]
            if parts[-1] in names or (len(parts) > 1 and parts[0] in ("ctrl", "alt", "shift")):
                modifiers = Qt.KeyboardModifier.NoModifier
                for part in parts[:-1]:
                    modifiers |= {"ctrl": CTRL, "alt": ALT, "shift": SHIFT}[part]
                last = parts[-1]
                key = getattr(Qt.Key, names.get(last) or (last if last.startswith("Key_") else f"Key_{last.upper()}"))
                qtbot.keyClick(target, key, modifiers)
            elif one.startswith("F") and one[1:].isdigit():
                qtbot.keyClick(target, getattr(Qt.Key, f"Key_{one}"))
            else:
                qtbot.keyClicks(target, one)

    return press


@pytest.fixture
def drag(qtbot):
    """Drags on a widget from one point to another, with a stop on the way."""

    def do(widget, start, end) -> None:
        start, end = QPoint(int(start.x()), int(start.y())), QPoint(int(end.x()), int(end.y()))
        qtbot.mousePress(widget, Qt.MouseButton.LeftButton, pos=start)
        _move(widget, (start + end) / 2)
        _move(widget, end)
        qtbot.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=end)

    return do


def drag_between(source, start: QPoint, target, end: QPoint) -> None:
    """Press on one widget and let go over another; the first one keeps the mouse, as on a real screen."""
    QTest.mousePress(source, Qt.MouseButton.LeftButton, pos=start)
    there = source.mapFromGlobal(target.mapToGlobal(end))
    _move(source, there)
    _move(source, there)
    QTest.mouseRelease(source, Qt.MouseButton.LeftButton, pos=there)


def _move(widget, point: QPoint) -> None:
    """A mouse move with the left button held, which the test library's own move does not hold offscreen."""
    at = QPointF(point)
    left = Qt.MouseButton.LeftButton
    event = QMouseEvent(
        QEvent.Type.MouseMove, at, widget.mapToGlobal(at), Qt.MouseButton.NoButton, left, Qt.KeyboardModifier.NoModifier
    )
    QApplication.sendEvent(widget, event)
