"""The menus of the desk: every command with its key."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar

from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.kit.theme import THEMES
from robust_ledger.ledger.editions import EDITIONS
from robust_ledger.plan import Plan

if TYPE_CHECKING:
    from robust_ledger.desk.shell.window import Window

Keys = QKeySequence.StandardKey


class Menus:
    """Builds the menu bar and keeps the actions that change with the job."""

    def __init__(self, bar: QMenuBar, window: Window) -> None:
        self.bar, self.window = bar, window
        self._job()
        self._edit()
        self._view()
        self._stages()
        self._help()

    def _menu(self, words: str) -> QMenu:
        menu = QMenu(words, self.window)
        self.bar.addMenu(menu)
        return menu

    def _add(
        self, menu: QMenu, words: str, do: Callable[[], object], keys: Any = None, needs_job: bool = False
    ) -> QAction:
        action = QAction(words, self.window)
        menu.addAction(action)
        action.triggered.connect(lambda _checked=False: do())
        if keys is not None:
            action.setShortcuts(keys) if isinstance(keys, list) else action.setShortcut(keys)
        if needs_job:
            self.window.job_actions.append(action)
        return action

    def _job(self) -> None:
        window, menu = self.window, self._menu("&Job")
        self._add(menu, "&New", window.new_job, Keys.New)
        self._add(menu, "New wit&h…", window.files.new_job_with)
        self._add(menu, "&Open…", window.files.ask_open, Keys.Open)
        self.recent = QMenu("&Recent", window)
        menu.addMenu(self.recent)
        self.recent.aboutToShow.connect(self._fill_recent)
        self._add(menu, "&Save", window.save, Keys.Save, True)
        self._add(menu, "Save &as…", window.files.save_as, QKeySequence("Ctrl+Shift+S"), True)
        self._add(menu, "&Versions…", window.show_versions, None, True)
        self._add(menu, "Profi&les…", window.show_profiles)
        self._add(menu, "P&ractice…", window.files.practice)
        menu.addSeparator()
        editions = QMenu("&Code edition", window)
        menu.addMenu(editions)
        group = QActionGroup(window)
        self.editions: dict[str, QAction] = {}
        for edition in EDITIONS:
            action = self._add(editions, f"NEC {edition}", partial(window.use_edition, edition), None, True)
            action.setCheckable(True)
            group.addAction(action)
            self.editions[edition] = action
        self._add(menu, "&Write all sheets…", window.ask_export, QKeySequence("Ctrl+E"), True)
        menu.addSeparator()
        self._add(menu, "&Close the job", window.files.close_job, QKeySequence("Ctrl+W"), True)
        self._add(menu, "&Quit", window.close, Keys.Quit)

    def _fill_recent(self) -> None:
        self.recent.clear()
        for path in self.window.settings.recent():
            self._add(self.recent, path.name, partial(self.window.open_path, path))
        if not self.recent.actions():
            none = QAction("none yet", self.recent)
            none.setEnabled(False)
            self.recent.addAction(none)

    def _edit(self) -> None:
        window, menu = self.window, self._menu("&Edit")
        undo = window.store.undo_stack.createUndoAction(window, "Undo")
        redo = window.store.undo_stack.createRedoAction(window, "Redo")
        assert undo is not None and redo is not None
        self.undo, self.redo = undo, redo  # Python owns these two: let go of, they would vanish from the menu
        undo.setShortcut(Keys.Undo)
        redo.setShortcuts([QKeySequence("Ctrl+Shift+Z"), QKeySequence("Ctrl+Y")])
        menu.addActions([undo, redo])
        menu.addSeparator()
        self._add(menu, "&Say it: the call-out line", window.say_it, QKeySequence("F3"), True)
        self._add(menu, "&Find…", window.open_find, Keys.Find, True)
        self._add(
            menu, "&All findings", lambda: window.store.choose_entry("findings"), QKeySequence("Ctrl+Shift+F"), True
        )

        self._add(menu, "&Open or close groups of findings", window.margin.switch_groups, QKeySequence("F7"), True)

    def _view(self) -> None:
        window, menu = self.window, self._menu("&View")
        group = QActionGroup(window)
        for name in THEMES:
            action = self._add(menu, name.capitalize(), partial(window.use_theme, name))
            action.setCheckable(True)
            action.setChecked(name == window.theme_name)
            group.addAction(action)
        self._add(menu, "S&witch theme", window.switch_theme, QKeySequence("F8"))
        menu.addSeparator()
        self._add(
            menu, "&Larger text", lambda: window.change_scale(1), [QKeySequence("Ctrl++"), QKeySequence("Ctrl+=")]
        )
        self._add(menu, "&Smaller text", lambda: window.change_scale(-1), QKeySequence("Ctrl+-"))
        self._add(menu, "&Normal text", lambda: window.change_scale(0), QKeySequence("Ctrl+0"))
        menu.addSeparator()
        self._add(menu, "Next &area", window.next_area, QKeySequence("F6"), True)

    def _stages(self) -> None:
        menu = self._menu("&Stage")
        self.stages: dict[str, QAction] = {}
        for number, (stage, spec) in enumerate(manifest().items(), 1):
            self.stages[stage] = self._add(
                menu,
                f"&{number}  {spec.title}",
                partial(self.window.show_stage, stage),
                QKeySequence(f"Alt+{number}"),
                True,
            )

    def show_plan(self, plan: Plan) -> None:
        """The edition that holds, and the stages that the job has."""
        self.editions[plan.job.edition].setChecked(True)
        for stage, action in self.stages.items():
            action.setVisible(manifest()[stage].is_for(plan))

    def _help(self) -> None:
        menu = self._menu("&Help")
        self._add(menu, "What to look for, and cautions", self.window.show_help, Keys.HelpContents, True)
