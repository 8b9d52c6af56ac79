"""The call-out line: one says, one writes. What was understood stands above it as chips; the same on every stage."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from robust_ledger.callout.manifest import LINES
from robust_ledger.callout.spoken import Spoken
from robust_ledger.desk.kit.chips import ChipLine
from robust_ledger.desk.kit.fields import Line, keep_typing
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.job.job import Job
from robust_ledger.job.parts.conventions import OwnWord
from robust_ledger.jobbook.home import home
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import ProfileError

CALLED = "call-out line"
STAYS_MS = 5000
JOINING = "join its load"  # what undo calls it
KEYS = "F3 is the line on every stage.  Enter writes it down, Shift+Enter takes the other reading, Esc gives up."


class CalloutBar(QWidget):
    """The line of a stage with what it was understood as. `reader`, `ending` and `idle` may be put in place by a stage that knows
    more: how a line is read, what Tab adds, what is said while nothing is typed."""

    ordered = pyqtSignal(object)  # an Order
    written = pyqtSignal(str)  # the place of what was written down

    def __init__(self, store: JobStore, stage: str, floating: bool = False) -> None:
        super().__init__()
        self.store, self.stage = store, stage
        self.asked_about = ""
        self.last_tag: int | None = None
        self.last: Spoken | None = None
        self.unread: tuple[str, str, Job] | None = None  # a line that was not understood, its stage, the job then
        self.offered: OwnWord | None = None
        self.reader: Callable[[str], Spoken] = self.read_here
        self.ending: Callable[[str], str] = self.ending_here
        self.idle: Callable[[], str] = lambda: ""
        self.more: Callable[[Spoken], str] = lambda spoken: ""
        self.entering: Callable[[str], bool] = lambda text: False
        self.shows_always = False
        self.live = ChipLine()
        self.live.setProperty("role", "live")
        self.live.setAccessibleName("What the line was understood as")
        self.line = Line()
        self.line.setObjectName("callout" if not floating else "sayline")
        self.line.setAccessibleName("Call-out line")
        self.line.textEdited.connect(lambda _: self.read())
        self.line.returnPressed.connect(self.enter)
        keep_typing(self.line, store, CALLED, waits=True)
        self.line.installEventFilter(self)
        self.keys = label("", "faint")
        self.lead = label("Say it:", "faint")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.floating = floating
        self._moment = QTimer(self)
        self._moment.setSingleShot(True)
        self._moment.timeout.connect(self._let_go)
        if floating:  # over the page, so that nothing on it moves while one speaks
            self.live.setAutoFillBackground(True)
            self.live.setObjectName("floating")
        else:
            column.addWidget(self.live)
        row = QHBoxLayout()
        row.addWidget(self.lead)
        row.addWidget(self.line, 1)
        column.addLayout(row)
        column.addWidget(self.keys)
        self.turn_to(stage)
        store.plan_changed.connect(lambda _plan: self._learn())

    def turn_to(self, stage: str) -> None:
        """Be the line of another stage."""
        self.stage = stage
        example = LINES[stage].example if stage in LINES else "go to load, find neutral, why 150"
        self.line.setPlaceholderText(example)
        self.done("")

    def start(self) -> None:
        """The cursor comes into the line."""
        self.line.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def read_here(self, text: str) -> Spoken:
        """Read a line on this stage, against the plan in view."""
        from robust_ledger.callout.stages import (  # when somebody begins to speak: the desk is up sooner
            Context,
            read_line,
        )

        seen = self.store.seen
        job = seen.job if self.stage == "bench" else self.store.job
        return read_line(text, Context(job, self.store.plan.codebook, seen, self.last_tag, self.last), self.stage)

    def ending_here(self, text: str) -> str:
        """What Tab adds on this stage."""
        from robust_ledger.callout.completions import completion

        return completion(text, self.stage, self.store.job)

    def read(self) -> None:
        """Say what the line means so far, what is wrong with it, and what else it may mean."""
        text = self.line.text()
        if text != self.asked_about:
            self.asked_about = ""
        if not text.strip():
            self._show(self.idle(), False)
            return
        spoken = self.reader(text)
        if spoken.fault is not None and not spoken.wanted:
            at = text[spoken.fault.start : spoken.fault.end]
            short = "" if at == text or spoken.order else f"{at}: "
            self._show(f"{short}{spoken.fault.text}", True)
            return
        parts = list(spoken.understood)
        parts += [f"not understood: {struck(text[start:end])}" for start, end in (*spoken.struck, *spoken.passed)]
        ending = self.ending(text)
        words = " · ".join(parts)
        words += "".join(f"   {asked}" for asked in spoken.asks)
        words += f"   Shift+Enter = {_apart(spoken)}" if spoken.rival else ""
        words += f"   Tab = …{ending}" if ending else ""
        words += self.more(spoken)
        self._show(words, False)

    def _show(self, words: str, faulty: bool) -> None:
        self.live.setProperty("role", "fault" if faulty else "live")
        there(self.live.style()).polish(self.live)
        self.live.setText(words)
        if self.floating:
            self._float()
        self.live.setVisible(self.shows_always or bool(words))

    def _float(self) -> None:
        """Put what was understood right above the line, over the page."""
        over = self.parentWidget()
        if over is None:
            return
        if self.live.parentWidget() is not over:
            self.live.setParent(over)
        edges = self.contentsMargins()
        width, height = self.width() - edges.left() - edges.right(), self.live.sizeHint().height() + 6
        self.live.setGeometry(self.x() + edges.left(), self.y() - height, width, height)
        self.live.raise_()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if self.floating and self.live.isVisible():
            self._float()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self.live.hide() if self.floating else None

    def done(self, words: str) -> None:
        """Begin anew, with a word on what was written down; over the page it stays for a moment only."""
        self.line.setText("")
        self.store.typed_nothing(CALLED)
        self.asked_about = ""
        self._show(words or self.idle(), False)
        if self.floating and words:
            self._moment.start(STAYS_MS)

    def _let_go(self) -> None:
        """Uncover the page, unless somebody is speaking."""
        if self.floating and not self.line.text().strip():
            self.live.hide()

    def enter(self) -> None:
        """Write down what the line says; where something was not understood only when asked a second time."""
        text = self.line.text()
        if self.offered is not None and text.strip().lower() in ("yes", "y"):
            self._keep_word(self.offered)
        elif text.strip() and not self.entering(text):
            self._take(self.reader(text), text)

    def take_rival(self) -> None:
        """Write down the other reading."""
        text = self.line.text()
        spoken = self.reader(text) if text.strip() else None
        if spoken is not None and spoken.rival is not None:
            self._take(spoken.rival, text)

    def _learn(self) -> None:
        """Where a line was not understood and its fact is then entered by hand: is the word that was not known the user's own for one that is?"""
        if self.unread is None or self.unread[2] is self.store.job:
            return
        from robust_ledger.callout.learning import offer  # when there is something to learn: the desk is up sooner

        text, stage, before = self.unread
        self.unread = None
        self.offered = offer(text, stage, before, self.store.job, self.store.plan.codebook)
        if self.offered is not None:
            self._show(f'Is "{self.offered.word}" your word for {self.offered.means}? Say yes to keep it.', False)

    def _keep_word(self, word: OwnWord) -> None:
        """A word of the user's into the job, and into the company profile where there is one."""
        from robust_ledger.callout.learning import knowing

        self.offered = None
        self.store.edit(f'learn "{word.word}"', lambda job: knowing(job, word))
        where = ""
        try:
            name = ProfileStore(home()).learn(self.store.job, word)
            where = f', and in the profile "{name}"' if name else ", in this job; there is no company profile yet"
        except ProfileError as problem:
            where = f" in this job. {problem}"
        self.done(f'"{word.word}" is {word.means} from now on{where}.')

    def _take(self, spoken: Spoken, text: str) -> None:
        self.offered = None
        facts_only = spoken.stage in LINES and spoken.stage not in ("pulloff", "bench")
        unread = facts_only and (spoken.fault is not None or spoken.struck)
        self.unread = (text, self.stage, self.store.job) if unread else None
        if spoken.fault is not None:
            if spoken.wanted:
                self._show(f"Missing: {', '.join(spoken.wanted)}; write ? for what is not known.", True)
            else:
                self.line.setSelection(spoken.fault.start, spoken.fault.end - spoken.fault.start)
            return
        if spoken.doubtful and self.asked_about != text:
            self.asked_about = text
            self._show(_question(spoken, text), True)
            return
        if spoken.order is not None:
            self.done("")
            self.ordered.emit(spoken.order)
        elif spoken.edit is not None and self.store.edit(spoken.name, spoken.edit):
            self.last = spoken
            if spoken.place.startswith("circuit:"):
                self.last_tag = int(spoken.place.partition(":")[2])
            self.done(f"{_told(spoken, text)}{self._followed(spoken)}")
            self.written.emit(spoken.place)

    def _followed(self, spoken: Spoken) -> str:
        """What came of itself, as an edit of its own that undo takes back alone."""
        before = self.store.job
        if spoken.follows is None or not self.store.edit(JOINING, spoken.follows) or self.store.job is before:
            return ""
        named = [
            load.name
            for one, was in zip(self.store.job.circuits, before.circuits, strict=True)
            for load_id in one.load_ids
            if load_id not in was.load_ids and (load := self.store.job.load(load_id))
        ]
        return f". Joined with {' and '.join(named)}; undo takes that back alone"

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Shift+Enter takes the other reading, Tab the completion, Escape gives up."""
        if watched is self.line and event is not None and event.type() == QEvent.Type.FocusOut:
            self._let_go()
        if watched is self.line and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            key = event.key()
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self.take_rival()
                return True
            if key == Qt.Key.Key_Escape and self.line.text():
                self.done("")
                return True
            if key == Qt.Key.Key_Tab and (ending := self.ending(self.line.text())):
                self.line.setText(self.line.text() + ending)
                self.read()
                return True
        return super().eventFilter(watched, event)


def struck(word: str) -> str:
    """A word struck through."""
    return "".join(f"{letter}\u0336" for letter in word)


def _question(spoken: Spoken, text: str) -> str:
    """What is asked before a doubtful line is written down, what would be, and the keys that answer it."""
    asked = [*(f'not understood: "{text[start:end]}"' for start, end in spoken.struck), *spoken.asks]
    if spoken.rival is None:
        return f"{'; '.join(asked)}. Enter once more writes down {', '.join(spoken.understood)}."
    mine = [chip for chip in spoken.understood if chip not in spoken.rival.understood] or spoken.understood
    lead = f"{'; '.join(asked)}. " if asked else "Which? "
    return f"{lead}Enter again: {', '.join(mine)}. Shift+Enter: {_apart(spoken)}."


def _told(spoken: Spoken, text: str) -> str:
    """What was written down; where a word was passed over, that it is likely only."""
    unread = ", ".join(f'"{text[start:end]}"' for start, end in spoken.passed)
    words = ", ".join(spoken.understood)
    return f"Written down, likely: {words}; {unread} not understood" if unread else f"Written down: {words}"


def _apart(spoken: Spoken) -> str:
    """What the other reading says that this one does not."""
    rival = spoken.rival
    if rival is None:
        return ""
    other = [chip for chip in rival.understood if chip not in spoken.understood]
    return ", ".join(other) or ", ".join(rival.understood)
