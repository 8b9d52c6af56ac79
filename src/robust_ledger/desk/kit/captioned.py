"""A form of small fields in rows: the row's name on the left, a caption above each field."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from robust_ledger.desk.kit.fields import Cell, Form, TextField, TickField, Unit
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label


class CaptionedForm(Form):
    """Rows of (name, fields); a field is (place, widget) as the makers of fields give it. Each None after a field makes it a
    column wider."""

    lines = 4  # caption, field, message, and a little room
    first = 1

    def __init__(self, rows: Sequence[tuple[str, Sequence[Any]]], width: int = 58) -> None:
        super().__init__()
        self.width_at_one = width
        self.grid.setVerticalSpacing(0)
        self.grid.setHorizontalSpacing(7)
        for number, (name, fields) in enumerate(rows):
            self.leads[number] = label(name, "section")
            self._lead(number, number)
            column = 0
            for at, made in enumerate(fields):
                if made is None:
                    continue
                place, field = made
                following = fields[at + 1 :]
                gaps = next((n for n, one in enumerate(following) if one is not None), len(following))
                wide = 1 + gaps + isinstance(field, TickField)
                self.put(place, field, Unit(number, column, wide, tuple(self._cells(field, wide))))
                column += wide
            self.grid.setRowMinimumHeight(number * self.lines + 3, 4)
        self.grid.setColumnStretch(8, 1)
        self.apply_look()

    @staticmethod
    def _cells(field: Any, wide: int) -> list[Cell]:
        """A field with its caption above and its message below."""
        made = [Cell(field, row=1, columns=wide)]
        if not isinstance(field, TickField):
            caption = label(field.label, "faint")
            caption.setBuddy(field)
            made.append(Cell(caption))
        if isinstance(field, TextField):
            made.append(Cell(field.fault, row=2, columns=wide))
        return made

    def _lead(self, row: int, at: int) -> None:
        self.grid.addWidget(self.leads[row], at * self.lines + 1, 0)

    def apply_look(self) -> None:
        """Widths at the current text size."""
        for field in self.fields.values():
            if isinstance(field, TextField):
                field.setFixedWidth(LOOK.px(self.width_at_one))
