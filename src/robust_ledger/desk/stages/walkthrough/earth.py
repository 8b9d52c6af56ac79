"""Earth: electrodes and bonds as found, the school for rods, and the conductor to each."""

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
from robust_ledger.survey.grounding import SCHOOL_WORDS

_GAS = (("", "not looked"), ("none", "no metal gas pipe"), ("bonded", "bonded"), ("not_bonded", "not bonded"))


class EarthPage(Page):
    """What was found above, what is needed below."""

    form: CaptionedForm
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        f = Fields(store)
        kept = "earth:conductor_new"
        self.form = CaptionedForm(
            [
                ("School", [f.choice("earth:school", "how many rods", list(SCHOOL_WORDS.items())), None, None,
                            f.choice("earth:metal", "conductor", [("cu", "copper"), ("al", "aluminium")])]),
                ("Rods", [f.count("earth:rods", "found", 0, 20), f.feet("earth:rod_length_ft", "in earth, ft", 40),
                          f.feet("earth:rod_spacing_ft", "apart, ft", 200), f.number("earth:rod_angle_deg", "slant, °", 0, 90, "0"),
                          f.number("earth:rod_ohms", "one alone, Ω", 0.1, 10_000, "no reading")]),
                ("Others", [f.feet("earth:water_pipe_ft", "water pipe, ft", 1000, "not looked"), f.looked("earth:concrete", "concrete-encased"),
                            f.tick("earth:ring", "ground ring"), f.tick("earth:plate", "plate")]),
                ("Conductor", [self._conductor(), f.choice(kept, "for this job", [(True, "made new"), (False, "stays")]),
                               f.looked("earth:unspliced", "in one piece"), f.tick("earth:one_run", "one run through all")]),
                ("Bonds", [f.looked("earth:water_jumper", "water meter jumper"), f.looked("earth:water_bonded", "hot and cold bonded"),
                           f.choice("earth:gas", "gas pipe", _GAS), f.amps("earth:gas_circuit_a", "its circuit, A"),
                           f.places("earth:intersystem", "other systems", 40)]),
            ],
            92,
        )  # fmt: skip
        self.table = LedgerTable(
            "Earth: what is needed", [Column("What", 310), Column("", 90, True), Column("By", 0)], row_height=26
        )
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(label("What it takes", "section"))
        column.addWidget(self.table, 1)

    def _conductor(self) -> tuple[str, TextField]:
        return "earth:conductor", TextField(self.store, "found", *of_place("earth:conductor"), self._read, str, "6 Cu")

    def _read(self, text: str) -> str:
        return read_conductor(text, self.store.plan.codebook)

    def start(self) -> None:
        self.form.focus_place("earth:school")
        self.store.choose_entries(("earth.rods", "earth.rods_added"))

    def apply_look(self) -> None:
        super().apply_look()
        self.form.apply_look()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        earth = [e for e in plan.entries.values() if e.id.startswith("earth.")]
        self.table.show_rows(
            [
                Row(e.id, (e.label, e.text(), _by(plan.job, e.id) if e.known else f"not known: {e.why_unknown}"))
                for e in earth
            ]
        )


def _by(job: Job, entry_id: str) -> str:
    if entry_id == "earth.rods":
        return SCHOOL_WORDS[job.earth.school]
    if entry_id == "earth.rods_added":
        return "less those found that count"
    if entry_id == "earth.conductor.run":
        return "as large as the one that asks most"
    return {"earth.water_bond": "bonding table", "earth.gas_bond": "the circuit likely to energise it"}.get(
        entry_id, "alone; more where it runs on to one that asks more"
    )
