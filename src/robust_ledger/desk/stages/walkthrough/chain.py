"""The chain: the drawing of its links, what they say together, and the fields of what was found."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout

from robust_ledger.desk.kit.fields import Form, TextField, TickField, of
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.specs import Fields, lay_out
from robust_ledger.desk.kit.stage import label
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.drawing.scene import Scene
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.readers.numbers import amps_text, read_amps
from robust_ledger.plan import Plan
from robust_ledger.service.reading import read_conductor
from robust_ledger.survey.chain import summary
from robust_ledger.survey.chain_drawing import chain_scene

_MADE_NEW = (
    ("riser", "riser raceway"),
    ("riser_conductors", "SE conductors"),
    ("load_conductors", "feeder or SE"),
    ("disconnect", "disconnect"),
)


class ChainPage(Page):
    """The bars, what they say together, and the fields of what was found."""

    form: Form

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.view = SceneView("The service, link by link", _draw, (700, 340))
        self.view.chosen.connect(store.choose_entry)
        column.addWidget(self.view, 1)
        self.words = label("", "live")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.form = self._build_form()
        column.addWidget(self.form)

    def _build_form(self) -> Form:
        store = self.store
        f = Fields(store)
        meter = TextField(store, "Meter label, A", *of("old_panel", "meter_label_a"), read_amps, amps_text, "not read")
        form = lay_out(
            Form(),
            [
                [
                    f.amps("chain:drop_a", "Drop, A", "ask"),
                    self._conductors("riser_conductors", "SE conductors"),
                    ("old_panel:meter_label_a", meter),
                    f.amps("old_panel:main_a", "Old main, A"),
                ],
                [
                    f.amps("chain:disconnect_a", "Disconnect, A", "none"),
                    self._conductors("load_conductors", "Feeder or SE"),
                    f.tick("chain:underground", "underground lateral"),
                ],
            ],
            92,
        )
        for number, (name, words) in enumerate(_MADE_NEW):
            tick = TickField(store, f"{words} replaced", _replaced(name), _replace(name), f"new {words}")
            form.add(f"replaced:{name}", tick, 3, number)
        meter_new = TickField(store, "Meter socket replaced", *of("decisions", "meter_replaced"), "new meter socket")
        form.add("replaced:meter", meter_new, 1, 3)
        return form

    def _conductors(self, name: str, words: str) -> Any:
        read = lambda text: read_conductor(text, self.store.plan.codebook)  # noqa: E731
        return f"chain:{name}", TextField(self.store, words, *of("chain", name), read, str, "2 Cu, 4/0 Al")

    def start(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)
        self.store.choose_entry(
            self.store.plan.walk.chain[min(self.view.current, len(self.store.plan.walk.chain) - 1)].limit.id
        )

    def show_plan(self, plan: Plan) -> None:
        assert self.form is not None
        self.form.refresh()
        self.view.show_plan(plan)
        self.words.setText(summary(plan.walk.chain, plan.service.main))


def _draw(plan: Plan, width: float, height: float) -> Scene:
    return chain_scene(plan.walk.chain, plan.service.main, plan.load.chosen.amperes, width, height)


def _replaced(name: str) -> Callable[[Job], bool]:
    return lambda job: name in job.chain.replaced


def _replace(name: str) -> Callable[[Job, Any], Job]:
    def put(job: Job, on: Any) -> Job:
        others = [one for one in job.chain.replaced if one != name]
        return with_part(job, "chain", replaced=(*others, name) if on else tuple(others))

    return put
