"""A new job with what is the same on every job put in: a profile of each kind, who and where, the tree of panels."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtWidgets import QDialog, QFormLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from robust_ledger.desk.kit.fields import Choice
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.profiles import ProfileKind
from robust_ledger.job.templates import TEMPLATES
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import kind_specs


class NewJob(QDialog):
    """Asks; `job` is the answer, None when it was left. Enter takes it as it stands."""

    def __init__(self, parent: QWidget, profile_store: ProfileStore) -> None:
        super().__init__(parent)
        self.setWindowTitle("New job")
        self.profile_store = profile_store
        self.job: Job | None = None
        form, row, column = QFormLayout(), QHBoxLayout(), QVBoxLayout(self)
        self.lines: dict[str, QLineEdit] = {}
        for name, words in (("title", "&Job"), ("customer", "Customer"), ("address", "Address")):
            self.lines[name] = QLineEdit()
            form.addRow(words, self.lines[name])
        shelved, chosen = profile_store.all(), profile_store.chosen()
        self.kinds: dict[ProfileKind, Choice] = {}
        for kind, spec in kind_specs().items():
            box = Choice()
            box.addItem("none", "")
            for one in shelved.of_kind(kind):
                box.addItem(one.name, one.name)
            box.setCurrentIndex(max(0, box.findData(chosen.get(kind, ""))))
            box.setEnabled(box.count() > 1)
            box.setToolTip(spec.about)
            self.kinds[kind] = box
            form.addRow(spec.words, box)
        self.tree = Choice()
        for template in TEMPLATES:
            self.tree.addItem(f"{template.name}: {template.words}", template.key)
        form.addRow("&Panels", self.tree)
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        make, leave = QPushButton("&Begin the job"), QPushButton("Cancel")
        make.setDefault(True)
        make.clicked.connect(self._make)
        leave.clicked.connect(self.reject)
        row.addWidget(self.fault, 1)
        row.addWidget(make)
        row.addWidget(leave)
        column.addLayout(form)
        column.addLayout(row)
        self.resize(LOOK.px(620), 0)

    def _make(self) -> None:
        names = {kind: box.currentData() for kind, box in self.kinds.items() if box.currentData()}
        said = {name: line.text().strip() for name, line in self.lines.items() if line.text().strip()}
        template = next(one for one in TEMPLATES if one.key == self.tree.currentData())
        try:
            job = self.profile_store.new_job(names)
            job = template.take(job) if template is not TEMPLATES[0] else job
            self.job = replace(with_part(job, "heading", **said)) if said else job
        except ModelError as problem:
            self.fault.setText(f"{problem.sentence}.")
            return
        self.accept()
