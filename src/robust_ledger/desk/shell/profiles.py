"""The profiles: what each says, which of them new jobs start from, and what the job on the desk has of them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import Label, label
from robust_ledger.desk.shell.decision import Decision
from robust_ledger.job.doors import hand_out_text
from robust_ledger.job.files import JobFileError, read_whole, text_of
from robust_ledger.job.parts.profiles import ProfileKind
from robust_ledger.jobbook.profile_store import ProfileStore, StoredProfile
from robust_ledger.jobbook.profiles import (
    FORMAT,
    SUFFIX,
    Profile,
    ProfileError,
    differs,
    into,
    into_copy,
    kind_specs,
    moved_on,
    profile_of,
    profile_text,
    read_profile,
    refreshed,
    says_lines,
    taken,
)
from robust_ledger.ledger.text import reason_of

FILTER = f"Robust Ledger profiles (*{SUFFIX});;All files (*)"


class Profiles(QDialog):
    """Profiles at the left; what the chosen one says and how this job differs at the right. `store` is None where no job is on the desk."""

    def __init__(self, parent: QWidget, profile_store: ProfileStore, store: JobStore | None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Profiles")
        self.profile_store, self.store = profile_store, store
        self.shelved = StoredProfile()
        self.table = LedgerTable(
            "Profiles", [Column("Kind", 92), Column("Profile", 0), Column("New jobs", 76), Column("This job", 120)]
        )
        self.table.when_empty = "No profile yet: keep what a job has as one."
        self.table.chosen.connect(lambda _key: self._show_chosen())
        self.table.opened.connect(lambda _key: self._choose())
        self.table.removal_asked.connect(lambda _keys: self._remove())
        self.says, self.about = QListWidget(), label("", "section")
        self.says.setAccessibleName("What it says")
        self.says.setWordWrap(True)
        self.words = label("", "faint")
        self.words.setWordWrap(True)
        self.buttons = {
            key: self._button(words, do)
            for key, words, do in (
                ("choose", "For &new jobs", self._choose),
                ("put", "&Put into this job", self._put),
                ("fresh", "&Take over what changed", self._refresh),
                ("leave", "&Leave this job as it is", self._leave),
                ("give", "Save as a &file…", self._give),
                ("remove", "&Remove…", self._remove),
                ("bring", "&Bring in a file…", self._bring),
            )
        }
        self.kind, self.name = Choice(), QLineEdit()
        self.kind.setAccessibleName("Kind of profile to keep")
        for kind, spec in kind_specs().items():
            self.kind.addItem(spec.words, kind)
        self.name.setPlaceholderText("name of the profile")
        self.name.setAccessibleName("Name of the profile to keep")
        self.name.returnPressed.connect(self._keep)
        self.keep = self._button("&Keep", self._keep)
        self._lay_out()
        self.show_profiles()

    def _button(self, words: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setAutoDefault(False)
        button.clicked.connect(lambda _checked=False: do())
        return button

    def _lay_out(self) -> None:
        column, halves, left, right, keep, foot = (
            QVBoxLayout(self),
            QHBoxLayout(),
            QVBoxLayout(),
            QVBoxLayout(),
            QHBoxLayout(),
            QHBoxLayout(),
        )
        left.addWidget(self.table, 1)
        for widget, stretch in ((Label("Keep this job's"), 0), (self.kind, 0), (self.name, 1), (self.keep, 0)):
            keep.addWidget(widget, stretch)
        self.of_job = QWidget()
        self.of_job.setLayout(keep)
        keep.setContentsMargins(0, 0, 0, 0)
        self.of_job.setVisible(self.store is not None)
        left.addWidget(self.of_job)
        right.addWidget(self.about)
        right.addWidget(self.says, 1)
        halves.addLayout(left, 5)
        halves.addLayout(right, 4)
        close = self._button("&Close", self.reject)
        for button in (*self.buttons.values(), close):
            foot.addWidget(button)
        for key in ("put", "fresh", "leave"):
            self.buttons[key].setVisible(self.store is not None)
        column.addLayout(halves, 1)
        column.addWidget(self.words)
        column.addLayout(foot)
        self.resize(LOOK.px(1080), LOOK.px(560))

    # --- showing --------------------------------------------------------------------------------------------------
    @property
    def chosen(self) -> Profile | None:
        """The profile of the chosen row."""
        return next((profile for profile in self.shelved.profiles if _key(profile) == self.table.current_key()), None)

    def show_profiles(self, go_to: str = "") -> None:
        """Read the stored profiles anew."""
        self.shelved = self.profile_store.all()
        names = self.profile_store.chosen()
        rows = []
        for one in self.shelved.profiles:
            taken_here, has_moved = self._taken(one)
            state = "" if not taken_here else "has moved on" if has_moved else "made from it"
            new = "yes" if names.get(one.kind) == one.name else ""
            rows.append(
                Row(
                    _key(one),
                    (kind_specs()[one.kind].words, one.name, new, state),
                    "",
                    (3,) if has_moved else (),
                )
            )
        self.table.show_rows(rows)
        if go_to or not self.table.current_key():
            self.table.choose(go_to or (rows[0].key if rows else ""))
        self._say(
            " ".join((*self.shelved.faults, *(words + "." for one in self.shelved.profiles for words in one.left)))
        )
        self._show_chosen()

    def _taken(self, profile: Profile) -> tuple[bool, bool]:
        """Whether the job on the desk was made from a profile, and whether that has moved on since."""
        was = taken(self.store.job, profile.kind) if self.store is not None else None
        if self.store is None or was is None or was.name != profile.name:
            return False, False
        return True, bool(moved_on(self.store.job, profile))

    def _show_chosen(self) -> None:
        one = self.chosen
        for key in ("choose", "put", "give", "remove", "fresh", "leave"):
            self.buttons[key].setEnabled(one is not None)
        self.says.clear()
        self.about.setText("")
        if one is None:
            return
        moved = moved_on(self.store.job, one) if self.store is not None else []
        for key in ("fresh", "leave"):
            self.buttons[key].setEnabled(bool(moved))
        self.about.setText(f"{kind_specs()[one.kind].words}: {kind_specs()[one.kind].about}")
        for head, lines in (
            ("It has moved on since this job was made from it:", moved),
            ("It says:", says_lines(one)),
            ("This job has otherwise:", differs(self.store.job, one) if self.store is not None else []),
        ):
            self.says.addItems([head, *(f"    {line}" for line in lines)] if lines else [])
        self.kind.setCurrentIndex(self.kind.findData(one.kind))
        self.name.setText(one.name)

    def _say(self, words: str) -> None:
        self.words.setText(words)

    # --- doing ----------------------------------------------------------------------------------------------------
    def _choose(self) -> None:
        """New jobs start from it; or no more."""
        if (one := self.chosen) is None:
            return
        self._try(
            lambda: self.profile_store.choose(
                one.kind, "" if self.profile_store.chosen().get(one.kind) == one.name else one.name
            ),
            _key(one),
        )

    def _put(self) -> None:
        if (one := self.chosen) is not None and self.store is not None:
            self.store.edit(f'profile "{one.name}"', lambda job: into(job, one), self._say)
            self.show_profiles(_key(one))

    def _refresh(self) -> None:
        if (one := self.chosen) is None or self.store is None:
            return
        made = refreshed(self.store.job, one)
        if self.store.edit(f'profile "{one.name}" as it is now', lambda _job: made.job, self._say):
            self.show_profiles(_key(one))
            self._say("; ".join((f"Taken over: {len(made.taken)}", *made.kept)) + ".")

    def _leave(self) -> None:
        """The job stays as it is, and the profile's change is told no more."""
        if (one := self.chosen) is not None and self.store is not None:
            self.store.edit(f'leave what changed in "{one.name}"', lambda job: into_copy(job, one), self._say)
            self.show_profiles(_key(one))

    def _keep(self) -> None:
        """What this job has becomes the profile of this name, and the job's own copy."""
        if self.store is None:
            return
        kind: ProfileKind = self.kind.currentData()
        try:
            made = profile_of(self.store.job, kind, self.name.text())
            before = self.shelved.find(kind, made.name)
            if before is not None and (changes := differs(self.store.job, before)):
                question = f'Change the profile "{made.name}"? Jobs made from it keep their copy. What changes in it:'
                if Decision(self, question, changes, (("keep", "Leave it"), ("change", "Change it"))).ask() != "change":
                    return
            self.profile_store.keep(made)
        except ProfileError as problem:
            self._say(str(problem))
            return
        self.store.edit(f'made from the profile "{made.name}"', lambda job: into_copy(job, made), self._say)
        self.show_profiles(_key(made))

    def _remove(self) -> None:
        if (one := self.chosen) is None:
            return
        question = f'Remove the profile "{one.name}"? Jobs made from it keep their copy.'
        if Decision(self, question, (), (("keep", "Keep it"), ("remove", "Remove it"))).ask() == "remove":
            self._try(lambda: self.profile_store.remove(one), "")

    def _bring(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Bring in a profile", str(Path.home()), FILTER)
        if name:
            try:
                made = read_profile(text_of(read_whole(Path(name)), Path(name).name), Path(name).name)
                self.profile_store.keep(made)
            except (ProfileError, JobFileError) as problem:
                self._say(str(problem))
                return
            self.show_profiles(_key(made))

    def _give(self) -> None:
        if (one := self.chosen) is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the profile as", str(Path.home() / f"{one.name}{SUFFIX}"), FILTER
        )
        if name:
            try:
                hand_out_text(Path(name), profile_text(one), over=FORMAT)
                self._say(f"Saved as {name}.")
            except OSError as problem:
                self._say(f"{name} could not be written: {reason_of(problem)}.")

    def _try(self, act: Callable[[], object], go_to: str) -> None:
        try:
            act()
        except ProfileError as problem:
            self._say(str(problem))
            return
        self.show_profiles(go_to)


def _key(profile: Profile) -> str:
    return f"{profile.kind}/{profile.name}"
