"""A monkey at the desk: keys and clicks without sense, on a real window. Whatever it does, the plan shown is the plan of the job, the
job can be written and read back, nothing raises, and taking everything back leads to the first job."""

from __future__ import annotations

import random
import sys

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QMessageBox, QWidget

from robust_ledger.desk.kit import words as words_box
from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.shell import window as window_module
from robust_ledger.desk.shell.window import Window
from robust_ledger.job.files import job_bytes, parse_job
from robust_ledger.plan import plan

KEYS = [
    Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Escape, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right,
    Qt.Key.Key_Delete, Qt.Key.Key_Space, Qt.Key.Key_F6, Qt.Key.Key_F1, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_PageDown, Qt.Key.Key_Backspace,
]  # fmt: skip
TEXTS = (
    "7", "20", "12", "9,11 30/2 10 dryer", "?", "-", "x" * 60, "4/0 Al", "1,720 ft2", "125", "yes", "=1", "2 in", "6'6\"", "0", "1e9", "kitchen",
)  # fmt: skip


def _step(desk: Window, dice: random.Random) -> str:
    """One thing a hand can do; answers what it was."""
    what = dice.random()
    focus = desk.focusWidget() or desk
    if what < 0.3:
        text = dice.choice(TEXTS)
        QTest.keyClicks(focus, text)
        return f"type {text[:10]}"
    if what < 0.6:
        key = dice.choice(KEYS)
        QTest.keyClick(focus, key)
        return f"key {key.name}"
    if what < 0.66:
        name = dice.choice(list(manifest()))
        desk.show_stage(name)
        return f"stage {name}"
    if what < 0.72:
        stack = desk.store.undo_stack
        (stack.undo if dice.random() < 0.6 else stack.redo)()
        return "undo or redo"
    if what < 0.75:
        QTest.keyClick(
            focus, Qt.Key.Key_V if dice.random() < 0.5 else Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier
        )
        return "copy or paste"
    seen = [
        one
        for one in desk.findChildren(QWidget)
        if one.isVisible() and one.isEnabled() and not one.findChildren(QWidget)
    ]
    target = dice.choice(seen)
    place = QPoint(dice.randrange(max(1, target.width())), dice.randrange(max(1, target.height())))
    double = QTest.mouseDClick if dice.random() < 0.2 else QTest.mouseClick
    double(target, Qt.MouseButton.LeftButton, pos=place)
    return f"click {type(target).__name__}"


def _close_what_asks() -> None:
    """A menu or a dialog that waits for an answer goes away."""
    if (popup := QApplication.activePopupWidget()) is not None:
        popup.close()
    for one in QApplication.topLevelWidgets():
        if isinstance(one, QDialog) and one.isVisible():
            one.reject()


def monkey(steps: int, seed: int = 1) -> list[str]:
    """So many senseless steps on the demo job; answers what went wrong."""
    dice, wrong, done = random.Random(seed), [], []
    raised: list[str] = []
    hook, sys.excepthook = sys.excepthook, lambda kind, problem, _trace: raised.append(f"{kind.__name__} {problem}")
    for name in ("getOpenFileName", "getSaveFileName", "getOpenFileNames"):
        setattr(QFileDialog, name, lambda *_, **__: ("", ""))
    QFileDialog.getExistingDirectory = lambda *_, **__: ""
    words_box.ask = lambda *_, **__: QMessageBox.StandardButton.Cancel
    words_box.warn = window_module.warn = lambda *_, **__: None
    desk = Window()
    desk.resize(1280, 800)
    desk.show()
    desk.open_demo(DEMO)
    first = desk.store.job
    closer = QTimer()
    closer.timeout.connect(_close_what_asks)
    closer.start(20)
    try:
        for number in range(steps):
            done.append(_step(desk, dice))
            QApplication.processEvents()
            if raised:
                wrong.append(f"step {number}, after {done[-3:]}: {raised.pop()[:200]}")
            if number % 50 == 49:
                wrong += _invariants(desk, number)
        desk.settle_typing()
        while desk.store.undo_stack.canUndo():
            desk.store.undo_stack.undo()
        if desk.store.opened == 1 and desk.store.job != first:
            wrong.append("taking everything back does not lead to the first job")
    finally:
        closer.stop()
        sys.excepthook = hook
        desk.session_ends = True
        desk.close()
    return wrong


def _invariants(desk: Window, number: int) -> list[str]:
    store = desk.store
    again = plan(store.job)
    wrong = (
        [] if again.findings == store.plan.findings else [f"step {number}: the plan shown is not the plan of the job"]
    )
    if parse_job(job_bytes(store.job).decode(), "x") != store.job:
        wrong.append(f"step {number}: the job does not read back")
    return wrong


def main() -> int:
    """In a process of its own: the dialogs of the whole application are put off."""
    from robust_ledger.desk.shell.application import make_application

    app = make_application()
    wrong = monkey(int(sys.argv[1]), int(sys.argv[2]))
    print(*(wrong or ["nothing"]), sep="\n", flush=True)
    del app
    return 1 if wrong else 0


if __name__ == "__main__":
    import os
    import tempfile

    if not os.environ.get("DISPLAY") and not os.environ.get("WAYLAND_DISPLAY"):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["ROBUST_LEDGER_HOME"] = tempfile.mkdtemp(prefix="robust-ledger-monkey-")
    code = main()
    sys.stdout.flush()
    os._exit(code)
