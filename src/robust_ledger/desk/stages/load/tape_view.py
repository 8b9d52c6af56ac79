"""The tape: a load calculation as a running list, each line with its working behind it."""

from __future__ import annotations

from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.ledger.text import value_text
from robust_ledger.load.methods import Method


class TapeView(LedgerTable):
    """One calculation, line by line, with its total and amperes at the end."""

    def __init__(self, name: str) -> None:
        super().__init__(
            name,
            [
                Column("", 0),
                Column("Amount", 150, True),
                Column("× Factor", 110, True),
                Column("= VA", 84, True),
                Column("Subtotal", 84, True),
                Column("Section", 104),
            ],
            row_height=22,
        )

    def show_method(self, method: Method) -> None:
        """The calculation of a method, with the practice it rests on and the fuller leg where 120 V loads lean on one."""
        calculation = method.calculation
        rows: list[Row] = []
        if calculation.practice:
            rows.append(Row("group:practice", (f"Practice: {calculation.practice}",), "group"))
        group = ""
        for number, line in enumerate(calculation.lines):
            if line.group != group:
                group = line.group
                rows.append(Row(f"group:{number}", (group,), "group"))
            counted = value_text(line.subtotal_va, "VA") if line.counted else ""
            sections = ", ".join(str(cite) for cite in line.cites[:1])
            cells = (f"   {line.label}", line.amount, line.factor, value_text(line.result_va, "VA"), counted, sections)
            rows.append(
                Row(line.entry_id, cells, "" if line.counted else "faint", (3, 4) if line.result_va is None else ())
            )
        total, amperes = calculation.total, calculation.amperes
        rows.append(
            Row(total.id, ("Calculated load", "", "", "", value_text(total.value, "VA"), str(calculation.cite)), "bold")
        )
        cells = ("Amperes, rounded at 0.5", calculation.division.how, "", "", amperes.text(), str(calculation.rounding))
        rows.append(Row(amperes.id, cells, "bold"))
        if (fuller := method.fuller) is not None:
            words = "The fuller leg" + (", which decides the main" if method.governing is fuller else "")
            rows.append(Row(fuller.id, (words, "", "", "", fuller.text(), ""), "bold"))
        self.show_rows(rows)
