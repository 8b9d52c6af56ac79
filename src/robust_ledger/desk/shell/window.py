"""The window: header, spine, page, margin, bottom line, and what goes between them."""

from __future__ import annotations

from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Protocol, cast

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QAction, QCloseEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QGridLayout,
    QMainWindow,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.callout.spoken import Order
from robust_ledger.desk import stages
from robust_ledger.desk.kit.callout import CalloutBar
from robust_ledger.desk.kit.fields import TextField
from robust_ledger.desk.kit.settings import Settings
from robust_ledger.desk.kit.spec import manifest, stage_of
from robust_ledger.desk.kit.stack import Stack
from robust_ledger.desk.kit.stage import Stage, only_room_for
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.theme import LOOK, SCALES, THEMES, apply_look
from robust_ledger.desk.kit.words import warn
from robust_ledger.desk.shell.book import BookKeeper
from robust_ledger.desk.shell.bottomline import BottomLine
from robust_ledger.desk.shell.files import Files
from robust_ledger.desk.shell.find import FindPanel
from robust_ledger.desk.shell.head import Head
from robust_ledger.desk.shell.margin import Margin
from robust_ledger.desk.shell.menus import Menus
from robust_ledger.desk.shell.notice import Notice
from robust_ledger.desk.shell.orders import carry_out
from robust_ledger.desk.shell.places import at_panel, entries_of, next_area
from robust_ledger.desk.shell.spine import Spine
from robust_ledger.desk.shell.versions import Versions
from robust_ledger.jobbook.home import home
from robust_ledger.jobbook.unsaved import left_behind
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

if TYPE_CHECKING:
    from robust_ledger.desk.shell.startpage import StartPage

WIDEST_MARGIN = 350
PAGE_EDGES_PX = 46


def make_stage(stage: str, store: JobStore) -> Stage:
    """Build a stage on first use, so that the window is up before all of them are."""
    module = import_module(f"{stages.__name__}.{stage}.stage")
    made: Stage = getattr(module, manifest()[stage].view)(store)
    return made


class Exports(Protocol):
    """The stage that writes the sheets."""

    def ask_export(self) -> None: ...


class Window(QMainWindow):
    """The whole desk."""

    doing = pyqtSignal(str)  # a kind of action, for the trail of the run

    def __init__(self) -> None:
        super().__init__()
        self.settings = Settings()
        self.store = JobStore(home())
        self.files = Files(self)
        self.book = BookKeeper(self.settings, self)
        self.session_ends = False
        self.job_actions: list[QAction] = []
        self.theme_name = self.settings.text("theme", "daylight")
        if self.theme_name not in THEMES:
            self.theme_name = "daylight"
        self.scale = min(SCALES, key=lambda s: abs(s - self.settings.number("scale", 1.0)))
        self.current = next(iter(manifest()))
        self.made: dict[str, Stage] = {}
        self.shown: dict[str, Plan] = {}
        self._put_look_in_force()
        self._build()
        self.setWindowTitle("Robust Ledger")
        self.resize(int(self.settings.number("width", 1280)), int(self.settings.number("height", 800)))
        self._fit_to_look()
        self._connect()
        self._show_file()

    # --- building -------------------------------------------------------------------------------------------------
    def _build(self) -> None:
        self.spine, self.margin, self.bottom = Spine(), Margin(self.store), BottomLine(self.store)
        self.pages = Stack()
        self.ledger = QWidget()
        grid = QGridLayout(self.ledger)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(0)
        grid.addWidget(self.spine, 0, 0)
        frame = QScrollArea()  # a page that large text makes too wide scrolls; the window stays within the screen
        frame.setWidgetResizable(True)
        frame.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        frame.setWidget(self.pages)
        middle = QWidget()
        middle.setObjectName("page")
        page = QVBoxLayout(middle)
        page.setContentsMargins(0, 0, 0, 0)
        page.setSpacing(0)
        page.addWidget(frame, 1)
        self.callout = CalloutBar(self.store, self.current, floating=True)
        self.callout.setContentsMargins(18, 2, 14, 4)
        self.callout.keys.hide()
        page.addWidget(self.callout)
        grid.addWidget(middle, 0, 1)
        grid.addWidget(self.margin, 0, 2)
        self.notice = Notice()
        self.notice_text = self.notice.text
        self.grid = grid
        grid.addWidget(self.bottom, 2, 0, 1, 3)
        grid.setRowStretch(0, 1)
        grid.setColumnStretch(1, 1)
        self.root = QStackedWidget()
        self.root.addWidget(QWidget())
        self.root.addWidget(self.ledger)
        self.start: StartPage | None = None
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.head = Head()
        self.title, self.subtitle, self.state = self.head.title, self.head.subtitle, self.head.state
        self.menus = Menus(self.head.bar, self)
        column.addWidget(self.head)
        column.addWidget(self.root, 1)
        self.column = column
        self.setCentralWidget(body)
        self.find_panel = FindPanel(body)

    def _connect(self) -> None:
        """By methods of the window, never by functions of their own: Qt lets go of those by itself when it takes the window apart."""
        store = self.store
        store.plan_changed.connect(self._show_plan)
        store.file_changed.connect(self._show_file)
        store.undo_stack.indexChanged.connect(self._show_file)
        store.entry_chosen.connect(self._show_entry)
        store.entries_chosen.connect(self.margin.show_entries)
        store.place_chosen.connect(self._show_entries_of)
        store.noticed.connect(self.say)
        store.panel_looked_at.connect(self._look_again)
        for asked in (store.place_asked, self.margin.place_asked, self.find_panel.found):
            asked.connect(self._go_to_named)
        self.spine.stage_asked.connect(self.show_stage)
        self.callout.ordered.connect(self._carry_out)
        self.callout.written.connect(self._show_written)
        self.find_panel.closed.connect(self._back_to_stage)

    def _go_to_named(self, place: str) -> None:
        self.go_to(Place(place))

    def _show_entries_of(self, place: str) -> None:
        self.margin.show_entries(entries_of(self.store.plan, place), place)

    def _carry_out(self, order: Order) -> None:
        carry_out(order, self)

    def _back_to_stage(self) -> None:
        self.stage().start()

    def _build_start(self) -> StartPage:
        from robust_ledger.desk.shell.startpage import StartPage  # a desk that opens with a job has no need of it

        start = StartPage(self.book)
        start.new_asked.connect(self.files.new_job)
        start.new_with_asked.connect(self.files.new_job_with)
        start.profiles_asked.connect(self.show_profiles)
        start.tells_asked.connect(self.show_tells)
        start.open_asked.connect(self.files.ask_open)
        start.practice_asked.connect(self.files.practice)
        start.demo_asked.connect(self.files.open_demo)
        start.file_asked.connect(self.files.open_path)
        start.recover_asked.connect(self.files.recover)
        start.discard_asked.connect(self.files.discard)
        self.root.addWidget(start)
        return start

    # --- showing --------------------------------------------------------------------------------------------------
    def stage(self, name: str = "") -> Stage:
        """The stage in view, or one by name; made when first asked for."""
        name = name or self.current
        if name not in self.made:
            made = make_stage(name, self.store)
            self.made[name] = made
            self.pages.addWidget(made)
            made.apply_look()
            if made.callout is not None:
                made.callout.ordered.connect(self._carry_out)
        return self.made[name]

    def _refresh(self, name: str) -> Stage:
        """The stage, showing the plan as it is now; drawn anew only when that has changed."""
        stage, plan = self.stage(name), self.store.plan
        if self.shown.get(name) is not plan:
            self.shown[name] = plan
            stage.show_plan(plan)
        return stage

    def show_stage(self, name: str) -> None:
        if self.root.currentWidget() is not self.ledger or not manifest()[name].is_for(self.store.plan):
            return
        self.settle_typing()
        self.current = name
        stage = self._refresh(name)
        only_room_for(stage, self.made.values())
        self.pages.setCurrentWidget(stage)
        self.spine.buttons[name].setChecked(True)
        self.margin.show_stage(name)
        self.callout.turn_to(manifest()[name].line or name)
        self.callout.setVisible(stage.callout is None)
        stage.start()

    def say_it(self) -> None:
        """F3: the cursor comes into the call-out line of this stage."""
        (self.stage().callout or self.callout).start()

    def _show_written(self, place: str) -> None:
        """What was said is shown where it is, while the cursor stays in the line."""
        at = Place(place)
        if place and not place.endswith(":"):
            stage = self.stage()
            if stage_of(at) == self.current:
                stage.show_place(at)
            self.store.choose_place(place)

    def show_ledger(self) -> None:
        self.grid.addWidget(self.notice, 1, 0, 1, 3)
        self.root.setCurrentWidget(self.ledger)
        for action in self.job_actions:
            action.setEnabled(True)
        plan = self.store.plan
        mine = [name for name, spec in manifest().items() if spec.alone is not None and spec.alone(plan)]
        self.current = next(iter((*mine, *manifest())))
        self._show_plan(plan)
        self.show_stage(self.current)
        self._show_file()

    def show_start(self) -> None:
        if self.start is None:
            self.start = self._build_start()
        self.column.addWidget(self.notice)
        self.root.setCurrentWidget(self.start)
        is_first = not self.settings.flag("asked_first") and not (home() / "profiles").exists()
        self.start.show_lists(left_behind(self.store.journals), self.store.journals, is_first)
        for action in self.job_actions:
            action.setEnabled(False)
        self._show_file()
        self.start.start()

    def _show_plan(self, plan: Plan) -> None:
        if self.root.currentWidget() is not self.ledger:
            return
        self.spine.show_plan(plan)
        self.bottom.show_plan(plan)
        self._refresh(self.current)
        self.margin.refresh()
        self.menus.show_plan(plan)

    def _show_file(self, _index: int = 0) -> None:
        if self.has_job:
            self.setWindowTitle(self.head.show_job(self.store))
        else:
            self.head.show_none()

    def _show_entry(self, entry_id: str) -> None:
        self.margin.show_entries((entry_id,))

    def say(self, text: str, serious: bool = False) -> None:
        """Put a sentence into the notice line; it stays until closed or replaced."""
        self.notice.say(text, serious)

    def _look_again(self, _panel_id: str = "") -> None:
        """Another panel is in view."""
        self.shown.clear()
        self._show_plan(self.store.plan)
        if self.current == "bench":
            self.margin.show_stage(self.current)

    def go_to(self, place: Place) -> None:
        """Go where a place is: the stage, and the row, space or field on it."""
        if place.entry_id:
            self.store.choose_entry(place.entry_id)
            return
        place = at_panel(self.store, place)
        stage = stage_of(place)
        if stage:
            if stage != self.current:
                self.show_stage(stage)
            self.stage().go_to(place)
            self.store.choose_place(place)

    def open_find(self) -> None:
        self.find_panel.open(self.store.plan)

    def show_help(self) -> None:
        self.margin.show_help()

    def next_area(self) -> None:
        """F6: page, margin, bottom line, spine, and round again."""
        next_area(self)

    # --- look -----------------------------------------------------------------------------------------------------
    def use_theme(self, name: str) -> None:
        self.theme_name = name
        self.settings.put("theme", name)
        self._apply_look()

    def switch_theme(self) -> None:
        self.use_theme("basement" if self.theme_name == "daylight" else "daylight")

    def change_scale(self, step: int) -> None:
        index = SCALES.index(self.scale) + step if step else SCALES.index(1.0)
        self.scale = SCALES[max(0, min(len(SCALES) - 1, index))]
        self.settings.put("scale", self.scale)
        self._apply_look()

    def _apply_look(self) -> None:
        self._put_look_in_force()
        self._fit_to_look()

    def _put_look_in_force(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_look(app, THEMES[self.theme_name], self.scale)

    def _fit_to_look(self) -> None:
        self.spine.setFixedWidth(LOOK.px(60 if LOOK.large else 150))
        self.margin.setFixedWidth(min(LOOK.px(292), WIDEST_MARGIN))
        self._measure_room()
        for stage in self.made.values():
            stage.apply_look()
        if self.start is not None:
            self.start.apply_look()
        self.shown.clear()
        if self.root.currentWidget() is self.ledger:
            self._show_plan(self.store.plan)

    def _measure_room(self) -> None:
        """The width a page has between spine and margin, its own edges and a scroll bar taken off."""
        LOOK.room_px = self.width() - self.spine.maximumWidth() - self.margin.maximumWidth() - PAGE_EDGES_PX

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._measure_room()
        for stage in self.made.values():
            stage.fit()

    @property
    def has_job(self) -> bool:
        """Whether a job is on the desk, not the first page."""
        return self.root.currentWidget() is self.ledger

    # --- files ----------------------------------------------------------------------------------------------------
    def new_job(self) -> None:
        self.files.new_job()

    def open_demo(self, path: Path) -> None:
        self.files.open_demo(path)

    def show_tells(self) -> None:
        from robust_ledger.desk.shell.summary import SummaryPage

        SummaryPage(self, self.book.tells()).exec()

    def show_profiles(self) -> None:
        from robust_ledger.desk.shell.profiles import Profiles

        Profiles(self, self.book.profile_store, self.store if self.has_job else None).exec()

    def open_path(self, path: Path) -> None:
        self.files.open_path(path)

    def save(self) -> bool:
        return self.files.save()

    def save_to(self, path: Path) -> bool:
        return self.files.save_to(path)

    def show_versions(self) -> None:
        self.settle_typing()
        Versions(self, self.store).exec()

    def settle_typing(self) -> str:
        """Take what is being typed into the job. What cannot be read stays in its field, and is said in a sentence."""
        focus = QApplication.focusWidget()
        if isinstance(focus, TextField) and self.isAncestorOf(focus) and focus.isModified():
            focus.finish()
        fields = [f'{label} holds "{text[:40]}"' for label, text in self.store.faulty.items()]
        return f"{'; '.join(fields)}, which could not be read and is not in the job." if fields else ""

    def use_edition(self, edition: str) -> None:
        self.store.edit(f"use NEC {edition}", lambda job: replace(job, edition=edition))

    def ask_export(self) -> None:
        self.settle_typing()
        self.doing.emit("writing sheets")
        cast(Exports, self.stage("papers")).ask_export()

    def complain(self, sentence: str) -> None:
        """Say what went wrong where it can be seen: in the notice line, or on the first page in a box."""
        if self.root.currentWidget() is self.ledger:
            self.say(sentence, serious=True)
        else:
            warn(self, sentence)

    def end_session(self) -> None:
        """The session ends, and nobody may be asked: what is typed and not saved stays in the journal for the next start."""
        self.settle_typing()
        self.session_ends = True
        self.close()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.session_ends and not self.files.may_leave():
            event.ignore()
            return
        for stage in self.made.values():
            stage.stop()
        self.book.stop()
        if self.session_ends:
            self.store.abandon()
        else:
            self.store.close()
        for one in (self.store, self.margin, self.spine, self.find_panel, self.callout):
            one.blockSignals(True)  # while Qt takes the window apart, nothing may lead back into it
        if not self.isMaximized():
            self.settings.put("width", self.width())
            self.settings.put("height", self.height())
