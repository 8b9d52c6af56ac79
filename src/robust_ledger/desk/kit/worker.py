"""Long work beside the window: it reports how far it is, can be canceled, and ends in an answer or in one sentence."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QThread, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from robust_ledger.desk.kit.words import Label
from robust_ledger.ledger.progress import CanceledError, Progress

log = logging.getLogger(__name__)


class Worker(QThread):
    """Runs `work(progress)` in a thread. `progress` takes the part done and answers False once canceled; the
    work then ends by CanceledError. `faults` are the exceptions whose text is meant for the user."""

    progressed = pyqtSignal(int)
    answered = pyqtSignal(object)
    failed = pyqtSignal(str)
    stopped = pyqtSignal()

    def __init__(
        self,
        work: Callable[[Progress], Any],
        faults: tuple[type[Exception], ...] = (),
    ) -> None:
        super().__init__()
        self.work, self.faults = work, faults
        self.canceled = False

    def run(self) -> None:
        try:
            answer = self.work(self._progress)
        except CanceledError:
            self.stopped.emit()
        except self.faults as problem:
            self.failed.emit(str(problem))
        except Exception:
            log.exception("work beside the window failed")
            self.failed.emit("This could not be worked out; the log says why.")
        else:
            self.answered.emit(answer)

    def cancel(self) -> None:
        self.canceled = True

    def _progress(self, part: float) -> bool:
        self.progressed.emit(round(part * 100))
        return not self.canceled


class ProgressRow(QWidget):
    """What is being done, how far it is, and a button to stop it; there only while something runs."""

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.words = Label()
        self.bar = QProgressBar()
        self.bar.setRange(0, 100)
        self.bar.setAccessibleName("How far it is")
        self.stop = QPushButton("&Cancel")
        row.addWidget(self.words)
        row.addWidget(self.bar, 1)
        row.addWidget(self.stop)
        self.worker: Worker | None = None
        self.leaving: list[Worker] = []  # canceled, and not yet at a place where they can stop
        self.stop.clicked.connect(self.cancel)
        self.hide()

    def run(self, words: str, worker: Worker, answered: Callable[[Any], None], failed: Callable[[str], None]) -> None:
        """Start some work and show it; whatever ran before is canceled, and nobody waits for it."""
        self._let_go()
        self.worker = worker
        self.words.setText(words)
        self.bar.setValue(0)
        worker.progressed.connect(self.bar.setValue)
        worker.answered.connect(answered)
        worker.failed.connect(failed)
        worker.stopped.connect(lambda: failed("Canceled; nothing was changed."))
        worker.finished.connect(self._over)
        self.show()
        worker.start()

    @property
    def busy(self) -> bool:
        """Until the answer has come here: a thread that has ended may still have its answer on the way."""
        return self.worker is not None

    def cancel(self, wait: bool = False) -> None:
        """Ask the work to stop; with `wait`, until it has, its answer then being no longer wanted."""
        if wait:
            self._let_go()
            for one in self.leaving:
                one.wait()
            self._over()
        elif self.worker is not None:
            self.worker.cancel()

    def end(self, patience_ms: int) -> list[Worker]:
        """The window closes: whatever runs is stopped. Answers what does not stop in time, as it waits for a share that is gone."""
        self._let_go()
        return [one for one in self.leaving if not one.wait(patience_ms)]

    def _let_go(self) -> None:
        """Cancel what runs; its answer is no longer wanted."""
        self.leaving = [one for one in self.leaving if one.isRunning()]
        if self.worker is not None:
            self.worker.cancel()
            self.worker.blockSignals(True)
            self.leaving.append(self.worker)
            self.worker = None

    def _over(self) -> None:
        if self.worker is not None and self.worker.isRunning():
            return  # the answer of the one before has started it
        self.worker = None
        self.hide()
