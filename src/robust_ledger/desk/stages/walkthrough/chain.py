"""What is there: the drawing of its links, what they say together, and the fields of what was found."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.captioned import CaptionedForm
from robust_ledger.desk.kit.fields import TickField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.words import label
from robust_ledger.drawing.scene import Scene
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan
from robust_ledger.service.reading import read_conductor
from robust_ledger.survey.chain_drawing import chain_scene

_RENEWED = (
    ("riser", "new riser"),
    ("riser_conductors", "new SE conductors"),
    ("load_conductors", "new meter to panel"),
    ("feeder", "new feeder inside"),
)


class ChainPage(Page):
    """The bars, what they say together, and the fields of what was found."""

    form: CaptionedForm

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.view = SceneView("The service, link by link", _draw, (700, 260))
        self.view.chosen.connect(store.choose_entry)
        column.addWidget(self.view, 1)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.form = CaptionedForm(self._rows(), 78)
        column.addWidget(self.form)

    def _rows(self) -> list[tuple[str, list[Any]]]:
        f, store = Fields(self.store), self.store
        sizes = [
            ("", "?"),
            *((r["trade_size"], f"{r['trade_size']} in") for r in store.plan.codebook.table("raceway").rows),
        ]
        new = [
            (f"renews:{name}", TickField(store, f"{words}: replaced", _renews(name), _renew(name), words))
            for name, words in _RENEWED
        ]
        return [
            (
                "Utility",
                [f("existing:drop_a"), f("existing:underground")],
            ),
            (
                "Line side",
                [
                    self._conductors("existing:riser_conductors", "conductors"),
                    self._conductors("existing:neutral", "neutral"),
                    f("existing:insulation_c"),
                    f("existing:wires"),
                    f("existing:raceway"),
                    f("existing:trade_size", label="size", choices=sizes),
                ],
            ),
            (
                "Meter",
                [
                    f("existing:meter_label_a", label="label, A"),
                    self._conductors("existing:meter_lugs_most", "lugs to", "250 kcmil Al"),
                    f("existing:knockouts"),
                    self._conductors("existing:load_conductors", "on to the panel"),
                    f("old_panel:main_a"),
                ],
            ),
            (
                "Disconnect",
                [
                    f("existing:disconnect_a"),
                    f("existing:disconnect_at", label="it is"),
                    f("existing:disconnect_aic_a", label="AIC, A"),
                ],
            ),
            (
                "Feeder",
                [
                    self._conductors("main_feed:conductors", "to the panel"),
                    f("main_feed:wires", label="wires"),
                    f("main_feed:found_wiring", label="kind"),
                    f("main_feed:insulation_c", label="insulation"),
                    self._conductors("main_feed:found_neutral", "neutral", "2 Al"),
                    self._conductors("main_feed:found_ground", "EGC", "4 Al"),
                ],
            ),
            ("New", [*new, f("decisions:meter_replaced", label="Meter socket replaced", tick="new meter")]),
        ]

    def _conductors(self, place: str, words: str, hint: str = "2 Cu, 4/0 Al") -> Any:
        read = lambda text: read_conductor(text, self.store.plan.codebook)  # noqa: E731
        return Fields(self.store)(place, label=words, read=read, hint=hint)

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
        chain = self.store.plan.walk.chain
        self.store.choose_entry(chain[min(self.view.current, len(chain) - 1)].limit.id)

    def apply_look(self) -> None:
        super().apply_look()
        self.form.apply_look()

    def show_plan(self, plan: Plan) -> None:
        self.form.refresh()
        self.view.show_plan(plan)
        self.words.setText(plan.walk.chain_words)


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return chain_scene(plan.walk.chain, plan.service.main, plan.load.governing, width, height)


def _renews(name: str) -> Callable[[Job], bool]:
    return lambda job: name in job.scope.renews


def _renew(name: str) -> Callable[[Job, Any], Job]:
    def put(job: Job, on: Any) -> Job:
        others = [one for one in job.scope.renews if one != name]
        return with_part(job, "scope", renews=(*others, name) if on else tuple(others))

    return put
