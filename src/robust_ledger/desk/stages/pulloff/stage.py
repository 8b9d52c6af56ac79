"""Pull-off: the old panel, the table of circuits and the call-out line."""

from __future__ import annotations

import re

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QStackedWidget, QVBoxLayout

from robust_ledger.branch.circuits import names_loads
from robust_ledger.branch.links import lacking, proposals
from robust_ledger.branch.old_panel import called_out_text
from robust_ledger.callout.anywhere import read_anywhere
from robust_ledger.callout.circuit import read_callout
from robust_ledger.callout.corrections import same_as_last
from robust_ledger.callout.spoken import Spoken
from robust_ledger.callout.stages import Context, read_line
from robust_ledger.callout.text import callout_text
from robust_ledger.callout.words import MARK_SHORT
from robust_ledger.callout.writing import of_reading
from robust_ledger.desk.kit.callout import CALLED, CalloutBar
from robust_ledger.desk.kit.photos import PhotoStrip
from robust_ledger.desk.kit.stage import Stage
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.pulloff.facts import OldPanelFacts
from robust_ledger.desk.stages.pulloff.joins import JoinsTable
from robust_ledger.desk.stages.pulloff.old_panel import OldPanelView
from robust_ledger.desk.stages.pulloff.passes import MarkingOrder
from robust_ledger.desk.stages.pulloff.readings import ReadingsSheet
from robust_ledger.desk.stages.pulloff.rows import row_of
from robust_ledger.desk.stages.pulloff.tools import CircuitTools
from robust_ledger.job.edits import add_load, change_circuit, link_load, remove_circuits, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Load
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import is_whole, upper_first
from robust_ledger.plan import Plan


class PulloffStage(Stage):
    """The page where one calls and one writes."""

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.editing: int | None = None
        self.words: list[str] = []
        self.panel = OldPanelView()
        self.panel.tag_chosen.connect(self.choose_tag)
        self.panel.space_chosen.connect(self.start_space)
        self.facts = OldPanelFacts(store)
        self.facts.looked_at.connect(self.panel.look_at)
        self.table = LedgerTable(
            "Circuits of the old panel",
            [
                Column("Tag", 42),
                Column("Space", 58),
                Column("Found", 58, True),
                Column("Wire", 62),
                Column("Feeds", 0),
                Column("Marks", 88),
                Column("In plan", 64, True),
            ],
            row_height=22,
            multiple=True,
        )
        self.table.when_empty = (
            "Nothing called out yet. Type the first circuit below, for example\n7 20 12 kitchen counter"
        )
        self.table.chosen.connect(self._row_chosen)
        self.table.opened.connect(lambda key: self.edit_tag(int(key)))
        self.table.removal_asked.connect(self._remove)
        self.table.rows_selected.connect(self._selected)
        self.passes = MarkingOrder(store)
        self.passes.mark_changed.connect(self._mark_from_now)
        self.mark = ""
        self.photos = PhotoStrip(
            store, "Photos of the chosen circuit, or of the panel", self._photos, self._put_photos, 84
        )
        self.tools = CircuitTools(store)
        self.tools.changed.connect(self._list)
        self.table.copy_asked.connect(self.tools.copy)
        self.table.paste_asked.connect(self.tools.paste)
        self.table.fill_asked.connect(self.tools.fill_down)
        self.joins = JoinsTable(store)
        self.readings = ReadingsSheet(store, self._chosen_tag)
        self.readings.hide()
        self.tools.readings.toggled.connect(self._show_readings)
        self.rows = QStackedWidget()
        self.rows.addWidget(self.table)
        self.rows.addWidget(self.joins)
        # Takes what the rest of the page leaves, so that the call-out line never slips below the edge.
        self.rows.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.effect = label("", "faint")
        self.effect.setWordWrap(True)
        self.effect.setAccessibleName("What the plan makes of the chosen circuit")
        join = QShortcut(QKeySequence("Ctrl+L"), self)
        join.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        join.activated.connect(self._join)
        self.bar = self.callout = CalloutBar(store, "pulloff")
        self.bar.shows_always = True
        self.bar.lead.hide()
        self.bar.reader, self.bar.ending = self._spoken, lambda _text: self._completion()
        self.bar.idle, self.bar.more = self._idle, self._more
        self.bar.written.connect(self._written)
        self.bar.entering = self._entering
        self.live, self.line, self.keys = self.bar.live, self.bar.line, self.bar.keys
        self.line.installEventFilter(self)
        self.keys.setWordWrap(True)
        self._lay_out()
        self._say_keys()

    def _lay_out(self) -> None:
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.facts)
        right.addWidget(self.passes)
        right.addWidget(self.tools)
        right.addWidget(self.rows, 1)
        right.addWidget(self.effect)
        right.addWidget(self.readings)
        right.addWidget(self.bar)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 12, 14, 10)
        heading = QHBoxLayout()
        heading.addWidget(label("Pull-off: the old panel as it is called out", "heading"))
        heading.addStretch(1)
        self.count = label("", "faint")
        heading.addWidget(self.count)
        outer.addLayout(heading)
        columns = QHBoxLayout()
        columns.setSpacing(14)
        left = QVBoxLayout()
        left.addWidget(self.panel, 1)
        left.addWidget(self.photos)
        columns.addLayout(left)
        columns.addLayout(right, 1)
        outer.addLayout(columns, 1)

    def start(self) -> None:
        self.line.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.table.resize_columns()
        self._fit_panel()
        self.panel.setVisible(not LOOK.large)
        self.photos.setVisible(not LOOK.large)

    def _fit_panel(self) -> None:
        """The drawing is wider when two panels stand side by side."""
        for widget in (self.panel, self.photos):
            widget.setFixedWidth(self.panel.sizeHint().width())

    def show_plan(self, plan: Plan) -> None:
        self.facts.show_job(plan.job)
        self.passes.show_plan(plan)
        self.photos.refresh()
        self.panel.show_plan(plan)
        self._fit_panel()
        self._list()
        self.count.setText(called_out_text(plan.job))
        self.words = [x.name for x in plan.job.loads] + [x for c in plan.job.circuits for x in (c.feeds, c.room) if x]
        if self.editing is not None and plan.job.circuit(self.editing) is None:
            self._stop_editing()
        if text := self.store.unread.pop(CALLED, ""):
            self.line.setText(text)
        self._read()

    def _chosen_tag(self) -> int | None:
        key = self.table.current_key()
        return int(key) if key and self.store.job.circuit(int(key)) else None

    def _photos(self, job: Job) -> tuple[str, ...]:
        """Of the circuit chosen in the table, else of the old panel."""
        circuit = job.circuit(tag) if (tag := self._chosen_tag()) is not None else None
        return circuit.photos if circuit else job.old_panel.photos

    def _put_photos(self, job: Job, photos: tuple[str, ...]) -> Job:
        tag = self._chosen_tag()
        return (
            change_circuit(job, tag, photos=photos) if tag is not None else with_part(job, "old_panel", photos=photos)
        )

    def _list(self) -> None:
        """The rows that are asked for, in the order asked for."""
        plan = self.store.plan
        marked = self.passes.mark
        shown = [c for c in self.tools.circuits() if not marked or marked in c.marks]
        self.table.show_rows([row_of(circuit, plan) for circuit in shown])
        self.rows.setCurrentWidget(self.joins if self.tools.shown.currentData() == "loose" else self.table)
        if self.rows.currentWidget() is self.joins:
            self.joins.show_joins()
        self._selected()
        self._show_chosen()

    def _selected(self) -> None:
        chosen = set(self.table.selected_keys())
        self.tools.show_chosen([int(row.key) for row in self.table.rows_model.rows if row.key in chosen])

    def _show_chosen(self) -> None:
        """What the plan makes of the circuit chosen, and the load its words name."""
        tag = self._chosen_tag()
        circuit = self.store.job.circuit(tag) if tag is not None else None
        words = ""
        if circuit is not None:
            made = "; ".join(self.store.plan.circuits.effects(circuit.tag)) or "as found"
            made = self.store.plan.withheld or made
            near = () if circuit.off or names_loads(self.store.job, circuit) else proposals(self.store.job, circuit)
            joined = " and ".join(load.name for load in near)
            lack = () if near or names_loads(self.store.job, circuit) else lacking(self.store.job, circuit)
            words = f"In the plan, tag {circuit.tag}: {made}." + (f" Ctrl+L joins {joined}." if near else "")
            words += f" Ctrl+L lists {' and '.join(load.name for load in lack)} as a load." if lack else ""
        self.effect.setText(words)
        self.effect.setVisible(bool(words))
        if self.readings.isVisibleTo(self):
            self.readings.show_readings()

    def _show_readings(self, shown: bool) -> None:
        self.readings.setVisible(shown)
        self._show_chosen()
        if shown:
            self.readings.line.setFocus()

    def _join(self) -> None:
        """Accept the load that the words name: for what is being written, else for the chosen circuit."""
        job = self.store.job
        if self.line.text().strip():
            circuit = self._circuit()
            near = proposals(job, circuit) if circuit and not circuit.load_ids else ()
            if circuit is not None and not near and (lack := lacking(job, circuit)):
                self._list_loads(lack)
                return
            if near:
                self.line.setText(" ".join((self.line.text().rstrip(), *(f"={load.id}" for load in near))))
                self._read()
            return
        circuit = job.circuit(tag) if (tag := self._chosen_tag()) is not None else None
        near = proposals(job, circuit) if circuit else ()
        if circuit is not None and not near and (lack := lacking(job, circuit)):
            self._list_loads(lack, circuit.tag)
            return
        if circuit is None or not near:
            self.store.notice("Its words name no load that is without a circuit.", serious=True)
            return
        names = " and ".join(load.name for load in near)

        def linked(job: Job) -> Job:
            for load in near:
                job = link_load(job, load.id, circuit.tag)
            return job

        self.store.edit(f"feed {names} from tag {circuit.tag}", linked)

    def _list_loads(self, loads: tuple[Load, ...], tag: int | None = None) -> None:
        """List loads that the words name, without a rating: that is for the nameplate to say."""
        names = " and ".join(load.name for load in loads)

        def listed(job: Job) -> Job:
            for load in loads:
                job = add_load(job, load)
                job = job if tag is None else link_load(job, load.id, tag)
            return job

        if self.store.edit(f"list {names}", listed):
            self.store.notice(f"{upper_first(names)} is listed; its nameplate is to be entered on Load.")
        self._read()

    def go_to(self, place: Place) -> bool:
        kind, rest = place.kind, place.name
        if kind == "circuit" and is_whole(rest):
            self.choose_tag(int(rest))
            self.table.setFocus()
            return True
        return self.passes.go_to(place) or self.facts.focus_place(place)

    def choose_tag(self, tag: int) -> None:
        if str(tag) not in [row.key for row in self.table.rows_model.rows]:  # a filter hides it
            self.tools.words.clear()
            self.tools.shown.setCurrentIndex(0)
            self.passes.unfold("")
            self._list()
        self.table.choose(str(tag))
        self._row_chosen(str(tag))

    def start_space(self, position: str) -> None:
        """Begin a line for an empty space that was clicked."""
        self._stop_editing()
        self.line.setText(f"{position} ")
        self.line.setFocus()
        self._read()

    def edit_tag(self, tag: int) -> None:
        """Put a circuit back into the line, to be written anew."""
        circuit = self.store.job.circuit(tag)
        if circuit:
            self.editing = tag
            self.line.setText(callout_text(circuit, self.store.job))
            self.line.setFocus()
            self._say_keys()
            self._read()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """In the line: ↑ repeats the last circuit for the next space, Escape gives up, Tab takes the completion."""
        if watched is self.line and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Up and self.store.job.circuits:
                self._same_as_last()
                return True
            if event.key() == Qt.Key.Key_Escape and self.line.text():
                self._stop_editing()
                self._read()
                return True
            if event.key() == Qt.Key.Key_Tab and (ending := self._completion()):
                self.line.setText(self.line.text() + ending)
                self._read()
                return True
        return super().eventFilter(watched, event)

    def _completion(self) -> str:
        """What Tab would add: the rest of a known description that starts as the line ends."""
        if (match := re.search(r"(?:^|\s)=([a-z0-9-]*)$", self.line.text())) and match[1]:
            ids = (load.id for load in self.store.job.loads)
            return next((one[len(match[1]) :] for one in ids if one.startswith(match[1]) and one != match[1]), "")
        words = self.line.text().split(" ", 3)
        stem = words[3].lower() if len(words) == 4 else ""
        if len(stem) < 2 or self.line.cursorPosition() < len(self.line.text()):
            return ""
        return next(
            (known[len(stem) :] for known in self.words if known.lower().startswith(stem) and len(known) > len(stem)),
            "",
        )

    def _same_as_last(self) -> None:
        self.line.setText(same_as_last(self.store.job))
        self._read()

    def _mark_from_now(self, mark: str) -> None:
        """Circuits called out during a pass get its mark, and the table shows those that have it."""
        self.mark = next((word for one, word in MARK_SHORT.items() if str(one) == mark), "")
        self._list()
        self._read()
        self.line.setFocus(Qt.FocusReason.OtherFocusReason)

    def _spoken(self, text: str) -> Spoken:
        """The line on this stage; a circuit that is in it again is written anew, and a pass adds its mark."""
        job, codebook = self.store.job, self.store.plan.codebook
        if self.editing is not None:
            spoken = of_reading(read_callout(text, job, codebook, self.editing), text)
            return replace(spoken, name=f"change tag {self.editing}")
        if self.mark and read_anywhere(text) is None:
            text = f"{text} {self.mark}"
        return read_line(text, Context(job, codebook, self.store.seen, self.bar.last_tag), "pulloff")

    def _circuit(self) -> Circuit | None:
        """The circuit that the line says so far, when it is whole."""
        text = self.line.text()
        if self.mark and text.strip() and self.editing is None:
            text = f"{text} {self.mark}"
        return read_callout(text, self.store.job, self.store.plan.codebook, self.editing).circuit

    def _idle(self) -> str:
        """What stands above the empty line."""
        return f"Next is tag {self.store.job.next_tag}: space, amps, gauge, what it feeds, marks (F1 lists them)"

    def _more(self, spoken: Spoken) -> str:
        """The loads that belong to the circuit being written, and its tag."""
        circuit = self._circuit()
        words = ""
        if circuit is not None and not circuit.load_ids and not circuit.off:
            near = proposals(self.store.job, circuit)
            joins = " and ".join(load.name for load in near)
            words += f"   joins {joins}" if near else ""
            lack = () if near else lacking(self.store.job, circuit)
            words += f"   Ctrl+L = list {' and '.join(load.name for load in lack)} as a load" if lack else ""
        if spoken.complete and spoken.place.startswith("circuit:"):
            words += f"   Enter = tag {spoken.place.partition(':')[2]}"
        return words

    def _entering(self, text: str) -> bool:
        """Before a line is taken: "tag 7" alone puts that circuit back into it."""
        match = re.fullmatch(r"\s*tag\s+(\d{1,9})\s*", text, re.I)
        if match and self.store.job.circuit(int(match[1])):
            self.edit_tag(int(match[1]))
            return True
        return False

    def _read(self) -> None:
        self.bar.read()

    def _written(self, place: str) -> None:
        """A line was taken: show its circuit."""
        self.editing = None
        self._say_keys()
        if place.startswith("circuit:"):
            self.choose_tag(int(place.partition(":")[2]))
            self.table.scrollTo(self.table.currentIndex())

    def _stop_editing(self) -> None:
        self.editing = None
        self.line.setText("")
        self._say_keys()

    def _say_keys(self) -> None:
        if self.editing is not None:
            self.keys.setText(f"Changing tag {self.editing}.  Enter keeps it, Esc gives up.")
        else:
            self.keys.setText(
                "Enter writes it down.  ↑ same as last.  In the table: Enter changes a tag, Delete takes it out."
            )

    def _row_chosen(self, key: str) -> None:
        tag = int(key)
        self.panel.show_current(tag)
        self.photos.refresh()
        self._show_chosen()
        self.store.choose_place(Place.circuit(tag))

    def _remove(self, keys: list[str]) -> None:
        tags = {int(key) for key in keys}
        name = f"tag {min(tags)}" if len(tags) == 1 else f"{len(tags)} tags"
        self.store.edit(f"take out {name}", lambda job: remove_circuits(job, tags))
