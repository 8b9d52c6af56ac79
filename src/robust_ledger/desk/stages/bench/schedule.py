"""The schedule in step with the drawing: the directory, what changed places, and the breakers against the cover."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from robust_ledger.desk.kit.figure import Figure
from robust_ledger.desk.kit.flow import FlowLayout
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.spaces import shown
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import cell_text, value_text
from robust_ledger.panel.bench_drawing import SHORT_DEVICE
from robust_ledger.plan import Plan

FIGURES = (
    ("panel.leg_a", "Leg A"),
    ("panel.leg_b", "Leg B"),
    ("panel.splices", "Splices"),
    ("panel.twist_outs_left", "Twist-outs left"),
    ("panel.twist_outs_right", "right"),
    ("panel.blanks", "Filler plates"),
    ("panel.spaces_left", "Open after futures"),
    ("panel.circuits", "Circuits"),
    ("panel.tandems", "Tandems"),
)


class SchedulePage(Page):
    """Figures on top, the directory on the left, the change list on the right."""

    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        band = QWidget()
        figures = FlowLayout(band)
        figures.setSpacing(0)
        self.figures: dict[str, Figure] = {}
        for entry_id, caption in FIGURES:
            figure = Figure(caption)
            figure.clicked.connect(lambda _checked=False, entry_id=entry_id: store.choose_entry(entry_id))
            self.figures[entry_id] = figure
            figures.addWidget(figure)
        column.addWidget(band)
        self.table = LedgerTable(
            "Panel directory",
            [
                Column("Space", 46),
                Column("Leg", 32),
                Column("Circuit", 0),
                Column("A", 50, True),
                Column("Kind", 40),
                Column("Tag", 40),
            ],
            row_height=21,
            multiple=True,
        )
        self.changes = LedgerTable(
            "Old space to new space",
            [Column("Tag", 40), Column("Old", 54), Column("New", 72), Column("Wire where it goes", 0)],
            row_height=21,
            multiple=True,
        )
        self.table.chosen.connect(self._slot_chosen)
        self.changes.chosen.connect(lambda key: store.choose_place(Place.branch(key)))
        columns = QHBoxLayout()
        columns.setSpacing(14)
        for table, words in ((self.table, "Directory"), (self.changes, "Change list: tags keep their numbers")):
            table.copy_asked.connect(lambda table=table: self._copy(table))
            half = QVBoxLayout()
            half.addWidget(label(words, "section"))
            half.addWidget(table, 1)
            columns.addLayout(half, 1)
        column.addLayout(columns, 1)
        hint = "Count breakers left and right against the dead front before you break a twist-out. Ctrl+C copies rows for a spreadsheet."
        column.addWidget(label(hint, "faint"))

    def start(self) -> None:
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def apply_look(self) -> None:
        self.table.resize_columns()
        self.changes.resize_columns()

    def show_plan(self, plan: Plan) -> None:
        for entry_id, figure in self.figures.items():
            entry = plan.bench.entry_of(entry_id)
            figure.show_figure(
                value_text(entry.value, entry.unit), entry.unit, entry.id, entry.known and entry.amount < 0
            )
        panel = plan.job.panel
        rows = []
        for slot in plan.bench.schedule:
            branch = plan.branch(slot.key) if slot.key else None
            kind = SHORT_DEVICE[branch.device.kind] if branch and slot.rating else ""
            text = "″" if slot.pole else slot.text
            number = shown(slot.position, panel.numbering, panel.spaces)
            cells = (
                number,
                slot.leg,
                text,
                "" if slot.pole else slot.rating,
                kind,
                slot.tag if slot.tag != "new" else "",
            )
            warn = (
                (2,) if slot.key and any(f.field == "feeds" for f in plan.findings_at(Place.branch(slot.key))) else ()
            )
            rows.append((_order(number), Row(slot.position, cells, "" if slot.key else "faint", warn)))
        self.table.show_rows([row for _, row in sorted(rows, key=lambda one: one[0])])
        self.changes.show_rows(
            [
                Row(
                    change.key,
                    (change.tag, change.old, change.new, change.reach or change.origin),
                    "faint" if change.new == "off" else "",
                    (3,) if change.key in plan.bench.reach and plan.bench.reach[change.key].splices else (),
                )
                for change in plan.bench.changes
            ]
        )

    def _slot_chosen(self, position: str) -> None:
        slot = next((one for one in self.store.seen.bench.schedule if one.position == position), None)
        if slot is not None and slot.key:
            self.store.choose_place(Place.branch(slot.key))

    def _copy(self, table: LedgerTable) -> None:
        """The chosen rows, tabs between cells, as a spreadsheet takes them."""
        keys = set(table.selected_keys())
        rows = [row.cells for row in table.rows_model.rows if row.key in keys]
        clipboard = QApplication.clipboard()
        if rows and clipboard is not None:
            clipboard.setText("\n".join("\t".join(map(cell_text, cells)) for cells in rows) + "\n")
            self.store.notice(f"{len(rows)} rows copied.")

    def go_to(self, place: Place) -> bool:
        kind, rest = place.kind, place.name
        if kind != "branch":
            return False
        self.changes.choose(rest)
        self.changes.setFocus()
        return True


def _order(number: str) -> tuple[int, str]:
    digits = number.rstrip("ab")
    return int(digits), number[len(digits) :]
