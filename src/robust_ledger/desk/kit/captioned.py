"""A form of small fields in rows: the row's name on the left, a caption above each field."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtWidgets import QLabel

from robust_ledger.desk.kit.fields import Form, TextField, TickField
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.theme import LOOK


class CaptionedForm(Form):
    """Rows of (name, fields); a field is (place, widget) as the makers of fields give it. Each None after a field makes it a
    column wider."""

    def __init__(self, rows: Sequence[tuple[str, Sequence[Any]]], width: int = 58) -> None:
        super().__init__()
        self.width_at_one = width
        self.grid.setVerticalSpacing(0)
        self.grid.setHorizontalSpacing(7)
        self.faults: list[QLabel] = []
        for number, (name, fields) in enumerate(rows):
            top = number * 4
            self.grid.addWidget(label(name, "section"), top + 1, 0)
            column = 1
            for at, made in enumerate(fields):
                if made is None:
                    continue
                place, field = made
                self.fields[place] = field
                following = fields[at + 1 :]
                gaps = next((n for n, one in enumerate(following) if one is not None), len(following))
                span = 1 + gaps + isinstance(field, TickField)
                if not isinstance(field, TickField):
                    caption = label(field.label, "faint")
                    caption.setBuddy(field)
                    self.grid.addWidget(caption, top, column)
                self.grid.addWidget(field, top + 1, column, 1, span)
                if isinstance(field, TextField):
                    self.grid.addWidget(field.fault, top + 2, 1, 1, 6)
                column += span
            self.grid.setRowMinimumHeight(top + 3, 4)
        self.grid.setColumnStretch(8, 1)
        self.apply_look()

    def apply_look(self) -> None:
        """Widths at the current text size."""
        for field in self.fields.values():
            if isinstance(field, TextField):
                field.setFixedWidth(LOOK.px(self.width_at_one))
