"""Grounding: electrodes and bonds as found, the practice for rods, and the conductor to each."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.captioned import CaptionedForm
from robust_ledger.desk.kit.fields import TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.words import label
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan
from robust_ledger.service.reading import read_conductor
from robust_ledger.survey.grounding import PRACTICE_WORDS


class GroundingPage(Page):
    """What was found above, what is needed below."""

    form: CaptionedForm
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        rods = [
            f("grounding:rods"),
            f("grounding:rod_length_ft"),
            f("grounding:rod_spacing_ft"),
            f("grounding:rod_angle_deg"),
            f("grounding:rod_ohms"),
        ]
        others = [
            f("grounding:water_pipe_ft"),
            f("grounding:concrete"),
            f("grounding:ring"),
            f("grounding:plate"),
        ]
        kept = f("grounding:gec_new")
        bonds = [
            f("grounding:water_jumper"),
            f("grounding:water_bonded"),
            f("grounding:intersystem"),
        ]
        gas = [
            f("grounding:gas"),
            f("grounding:gas_circuit_a"),
            f("grounding:csst"),
        ]

        def way(name: str, words: str) -> Any:
            return f(f"grounding:{name}", label=words)

        practice = f("grounding:practice")
        metal = f("grounding:metal")
        one_run = f("grounding:one_run")
        self.form = CaptionedForm(
            [
                ("Practice", [practice, None, None, metal]),
                ("Rods", rods),
                ("Other electrodes", others),
                (
                    "GEC",
                    [
                        self._conductor(),
                        kept,
                        f("grounding:unspliced"),
                        f("grounding:gec_protected"),
                    ],
                ),
                ("", [one_run]),
                (
                    "Ways, ft",
                    [
                        way("gec_ft", "rods, or all"),
                        way("water_ft", "water pipe"),
                        way("concrete_ft", "concrete"),
                        way("ring_ft", "ring"),
                        way("plate_ft", "plate"),
                    ],
                ),
                (
                    "",
                    [
                        way("water_bond_ft", "water bond"),
                        way("gas_bond_ft", "gas bond"),
                        way("jumper_ft", "meter jumper"),
                    ],
                ),
                ("Bonds", bonds),
                ("Gas", gas),
            ],
            92,
        )
        self.table = LedgerTable(
            "Grounding: what is needed", [Column("What", 232), Column("", 62, True), Column("By", 0)], row_height=26
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(label("Required grounding and bonding", "section"))
        column.addWidget(self.table, 1)

    def _conductor(self) -> tuple[str, TextField]:
        return Fields(self.store)("grounding:gec", label="found", read=self._read, hint="6 Cu")

    def _read(self, text: str) -> str:
        return read_conductor(text, self.store.plan.codebook)

    def start(self) -> None:
        self.form.focus_place("grounding:practice")
        self.store.choose_entries(("grounding.rods", "grounding.rods_added"))

    def apply_look(self) -> None:
        super().apply_look()
        self.form.apply_look()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        entries = [e for e in plan.entries.values() if e.id.startswith("grounding.")]
        self.table.show_rows(
            [
                Row(e.id, (e.label, e.text(), _by(plan.job, e.id) if e.known else f"not known: {e.why_unknown}"))
                for e in entries
            ]
        )


def _by(job: Job, entry_id: str) -> str:
    if entry_id == "grounding.rods":
        return PRACTICE_WORDS[job.grounding.practice]
    if entry_id == "grounding.rods_added":
        return "less those found that count"
    if entry_id == "grounding.gec.run":
        return "sized for the largest"
    return {"grounding.water_bond": "bonding table", "grounding.gas_bond": "the circuit likely to energize it"}.get(
        entry_id, "sole connection to this electrode; full size if it continues to another"
    )
