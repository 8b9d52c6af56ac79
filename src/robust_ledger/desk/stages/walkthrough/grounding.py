"""Grounding: electrodes and bonds as found, the practice for rods, and the conductor to each."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.captioned import CaptionedForm
from robust_ledger.desk.kit.fields import TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, of_place
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan
from robust_ledger.service.reading import read_conductor
from robust_ledger.survey.grounding import PRACTICE_WORDS

_GAS = (("", "not checked"), ("none", "no metal gas pipe"), ("bonded", "bonded"), ("not_bonded", "not bonded"))


class GroundingPage(Page):
    """What was found above, what is needed below."""

    form: CaptionedForm
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        kept = "grounding:gec_new"
        rods = [
            f.count("grounding:rods", "found", 0, 20),
            f.feet("grounding:rod_length_ft", "driven length, ft", 40),
            f.feet("grounding:rod_spacing_ft", "spacing, ft", 200),
            f.number("grounding:rod_angle_deg", "from vertical, °", 0, 90, "0"),
            f.number("grounding:rod_ohms", "single-rod Ω", 0.1, 10_000, "no reading"),
        ]
        others = [
            f.feet("grounding:water_pipe_ft", "water pipe, ft", 1000, "not checked"),
            f.looked("grounding:concrete", "concrete-encased"),
            f.tick("grounding:ring", "ground ring"),
            f.tick("grounding:plate", "plate"),
        ]
        kept = f.choice("grounding:gec_new", "for this job", [(True, "new"), (False, "existing")])
        bonds = [
            f.looked("grounding:water_jumper", "water meter jumper"),
            f.looked("grounding:water_bonded", "hot/cold water bonded"),
            f.places("grounding:intersystem", "IBT terminals", 40),
        ]
        gas = [
            f.choice("grounding:gas", "pipe", _GAS),
            f.amps("grounding:gas_circuit_a", "its circuit, A"),
            f.looked("grounding:csst", "CSST in it"),
        ]
        practice = f.choice("grounding:practice", "how many rods", list(PRACTICE_WORDS.items()))
        metal = f.choice("grounding:metal", "GEC metal", [("cu", "copper"), ("al", "aluminum")])
        one_run = f.tick("grounding:one_run", "one continuous GEC through all electrodes")
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
                        f.looked("grounding:unspliced", "unspliced"),
                        f.looked("grounding:gec_protected", "in conduit"),
                    ],
                ),
                ("", [one_run, f.feet("grounding:gec_ft", "its way, ft", 500, "not measured")]),
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
        return "grounding:gec", TextField(self.store, "found", *of_place("grounding:gec"), self._read, str, "6 Cu")

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
