"""The tree of panels: what feeds what, the feeder and the record of the chosen one, and the sizes that follow."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from robust_ledger.branch.old_panel import box_name
from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField
from robust_ledger.desk.kit.page import Page
from robust_ledger.desk.kit.specs import Fields, ItemFields, lay_out
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.desk.kit.table import Column, LedgerTable, Row
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.desk.kit.words import label
from robust_ledger.desk.stages.service.tree_view import TreeView
from robust_ledger.installation.tree_drawing import tree_height
from robust_ledger.job.edits import add_panel, change_panel, feed_panel, new_node, remove_panel
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.readers.numbers import read_added_area, read_amps, read_count
from robust_ledger.job.templates import TEMPLATES, Template
from robust_ledger.job.tree import above_main, ahead_box, is_service, main_fed, main_node, panel_name
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import is_whole, number_text
from robust_ledger.plan import Plan
from robust_ledger.service.figures import FeederFigures
from robust_ledger.service.found_feeder import due
from robust_ledger.service.reading import read_conductor

MOST_TREE = 184.0  # px of the tree that always show; a larger one scrolls
_OF_FEEDERS = (
    "breaker_a", "load_a", "area", "wiring", "raceway", "metal", "wires", "metal_path", "insulated", "ambient_c", "current_carrying",
    "sets", "rooftop", "length_ft", "conductors",
    "feeder_tag", "rods", "box.main_a", "separate_building", "disconnect", "box.first_disconnect", "found",
)  # fmt: skip
# Asked of a panel alone, and of a disconnect or the like alone.
_OF_CIRCUITS = (
    "area",
    "box.spaces",
    "box.bus_a",
    "box.main",
    "box.bar_most",
    "feeder_tag",
    "right_in",
    "lower_in",
    "disconnect",
)
_OF_DISCONNECTS = ("marked", "at", "in_meter")
# Of the wires to it: in the meter's own enclosure there are none.
_OF_WIRES = (
    "wiring",
    "raceway",
    "metal",
    "wires",
    "metal_path",
    "insulated",
    "ambient_c",
    "current_carrying",
    "sets",
    "rooftop",
    "length_ft",
    "conductors",
    "found",
    "box.lugs_most",
)

_OF_FOUND = ("found_wiring", "insulation_c", "found_size")
_OF_THE_WAY = (
    "raceway",
    "length_ft",
    "wires",
    "conductors",
    "insulated",
)  # of conductors from the meter the service's own
_OF_WHAT_STAYS = ("found_neutral", "found_ground", "found_gec")


def _by_choice(job: Job) -> bool:
    """Whether the main panel may be fed by a breaker or by lugs of what feeds it: a panel, or a meter-main with spaces."""
    feeding = job.panel_of(above_main(job)) or (ahead_box(job) if above_main(job) == "disconnect" else None)
    return feeding is not None and feeding.takes_circuits


def _why(of: FeederFigures) -> Iterator[tuple[Entry | None, str]]:
    """The figures of a feeder, and what each goes by."""
    yield of.carried, "what hangs on it; or as entered where that is more"
    yield of.conductors, "by its device and its load; as found where it stays"
    yield of.least_neutral, "the smallest that would do"
    yield of.neutral, "as it comes with the hots" if of.least_neutral else "its unbalance, not below the EGC"
    yield of.limit, "what the conductors found are good for"
    yield of.egc, "by its breaker"
    yield of.raceway, "two hots, neutral and EGC; fill of 40%"
    yield of.ground if of.is_service else None, "by the hots: a service disconnect has no EGC ahead"
    yield of.drop, "at its load; add the service's own"
    yield of.fault, "from where it is fed, along the feeder"
    yield of.gec, "of the separate building"


class PanelsPage(Page):
    """The tree on top, the chosen panel's form below it, and a row for each size of its feeder."""

    form: Form
    table: LedgerTable

    def __init__(self, store: JobStore) -> None:
        super().__init__(store)
        self.panel_id = MAIN
        self.tree = TreeView()
        self.tree.picked.connect(self._picked)
        self.tree.chosen.connect(store.choose_entry)
        self.tree.add_asked.connect(self._add)
        self.tree.remove_asked.connect(self._remove)
        self.tree.feed_asked.connect(self._feed)
        self.tree.edit_asked.connect(lambda: self.form.focus_place("name"))
        self.tree.said.connect(self._say)
        self.frame_of_tree = frame = QScrollArea()
        frame.setWidgetResizable(True)
        frame.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        frame.setWidget(self.tree)
        self.form = self._build_form()
        self.title = label("", "section")
        self.saying = label("", "live")
        self.saying.setWordWrap(True)
        self.table = LedgerTable(
            "The feeder's sizes",
            [Column("Of the feeder", 290), Column("Size", 110, True), Column("By", 0)],
            row_height=22,
        )
        self.table.when_empty = "The main panel's feeder is the service itself."
        self.table.chosen.connect(store.choose_entry)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addLayout(self._buttons())
        column.addWidget(frame, 2)
        column.addWidget(self.saying)
        column.addWidget(self.title)
        column.addWidget(self.form)
        column.addWidget(self.table, 2)
        self.below = QWidget()  # takes the room of the table where there is none
        column.addWidget(self.below, 2)
        self._say("")

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(label("Panels", "section"), 1)
        self.start_from = QPushButton("Start fro&m…")
        menu = QMenu(self.start_from)
        for template in TEMPLATES:
            action = menu.addAction(f"{template.name}: {template.words}")
            assert action is not None
            action.triggered.connect(lambda _checked, template=template: self._take(template))
        self.start_from.setMenu(menu)
        self.add_button = QPushButton("&Add below…")
        kinds = QMenu(self.add_button)
        for kind, words in choices_at("panels.kind").items():
            action = kinds.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _checked, kind=kind: self._add(self.tree.key, kind))
        self.add_button.setMenu(kinds)
        self.remove_button = QPushButton("Take it o&ut")
        self.remove_button.clicked.connect(lambda: self._remove(self.panel_id))
        for button in (self.start_from, self.remove_button, self.add_button):
            row.addWidget(button)
        return row

    def _build_form(self) -> Form:
        form = Form()
        f, of_job = (
            ItemFields(self.store, "panels", lambda name: (self._get(name), self._put(name))),
            Fields(self.store),
        )

        def feed(name: str, **more: Any) -> Any:
            return of_job(f"main_feed:{name}", **more)

        self.fed_from = ChoiceField(self.store, "Fed from", self._get("fed_from"), self._put_feed, [])
        self.fed_from.setMinimumContentsLength(16)
        self.main_from = ChoiceField(
            self.store,
            "Fed from",
            lambda job: above_main(job),
            lambda job, value: feed_panel(job, MAIN, value),
            [],
        )
        self.main_from.setMinimumContentsLength(16)
        put = self._put("instead_of")
        self.instead_of = ChoiceField(self.store, "In place of", self._get("instead_of"), put, [])
        self.instead_of.setMinimumContentsLength(12)
        lay_out(
            form,
            [
                [f("name"), ("instead_of", self.instead_of), f("area", read=_read_area)],
                [f("kind"), f("marked"), f("at")],
                [("fed_from", self.fed_from), f("fed_by"), f("breaker_a")],
                [f("wiring"), f("raceway"), f("length_ft")],
                [f("metal"), f("wires"), f("load_a")],
                [f("metal_path"), f("insulated"), f("conductors", read=self._read_conductors)],
                [f("ambient_c"), f("sets"), f("current_carrying")],
                [f("found_wiring"), f("insulation_c"), f("found_size")],
                [f(one, read=self._read_conductors) for one in _OF_WHAT_STAYS],
                [("main_feed:fed_from", self.main_from), feed("fed_by"), feed("breaker_a")],
                [feed("wiring"), feed("raceway"), feed("length_ft")],
                [feed("metal"), feed("wires"), feed("sets")],
                [feed("ambient_c"), feed("insulated"), feed("current_carrying")],
                [feed("conductors", read=self._read_conductors), feed("found_wiring"), feed("insulation_c")],
                [
                    *(feed(one, read=self._read_conductors) for one in ("found_neutral", "found_ground")),
                    feed("found_size"),
                ],
                [feed("gec_ft")],
                [feed("rooftop")],
                [f("box.main"), f("box.aic_a", label="AIC, A"), f("box.main_a")],
                [
                    f("box.spaces", read=_read_spaces, write=_spaces_text),
                    f("box.bus_a", read=_read_bus, write=_spaces_text),
                    f("rods"),
                ],
                [f("gec_ft")],
                [
                    f("box.lugs_most", read=self._read_conductors),
                    f("box.bar_most", read=self._read_conductors),
                    f("feeder_tag", read=self._read_tag),
                ],
                [f("right_in"), f("lower_in")],
                [f("separate_building"), f("disconnect")],
                [f("found"), f("there")],
                [f("in_meter"), f("gone")],
                [f("rooftop"), f("box.first_disconnect")],
            ],
            96,
        )
        form.fields["name"].setFixedWidth(160)
        return form

    # --- showing --------------------------------------------------------------------------------------------------
    def start(self) -> None:
        self.tree.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_plan(self, plan: Plan) -> None:
        if self.panel_id != MAIN and plan.job.panel_of(self.panel_id) is None:
            self.panel_id = MAIN
        self.tree.show_plan(plan)
        tall = tree_height(self.tree.nodes)
        self.frame_of_tree.setMinimumHeight(LOOK.px(min(tall, MOST_TREE)) + 2)
        self.frame_of_tree.setMaximumHeight(LOOK.px(tall) + 2)
        if self._panel_at(self.tree.key) not in (*AHEAD, self.panel_id):
            self.tree.choose(self._row_of(self.panel_id))
        self._show_chosen(plan)

    def _show_chosen(self, plan: Plan) -> None:
        panel = plan.job.panel_of(self.panel_id)
        self.remove_button.setEnabled(panel is not None)
        self.table.setVisible(panel is not None)
        self.main_from.offer(self._feeds(plan.job, MAIN))
        if panel is None:
            self.title.setText(
                "The main panel: its record is on the Bench, page Panel; a disconnect ahead of it in the scope."
            )
            self._show_rows(None, False)
            self.form.refresh()
            self._show_sizes(plan, MAIN)
            return
        name = panel_name(plan.job, panel.id)
        self.title.setText(f"The {name}" if panel.takes_circuits else f"{name[:1].upper()}{name[1:]}")
        self._show_rows(panel, ahead_box(plan.job) == panel)
        self.fed_from.offer(self._feeds(plan.job, panel.id))
        boxes = [(mark, f"the {box_name(plan.job, mark)} panel") for mark, _box in plan.job.all_boxes]
        self.instead_of.offer([(None, "no old box"), *boxes])
        self.form.refresh()
        self._show_sizes(plan, panel.id)

    def _show_sizes(self, plan: Plan, key: str) -> None:
        """A row for each figure of a node's feeder."""
        rows = []
        if (load := plan.feeders.loads.get(key)) is not None:
            rows.append(Row(load.method.id, ("Calculation", "", load.method.text())))
        feeder = plan.service.figures.feeders.get(key)
        for entry, words in _why(feeder) if feeder is not None else ():
            if entry is not None:
                by = words if entry.known else f"not known: {entry.why_unknown}"
                rows.append(Row(entry.id, (entry.label, entry.text(), by)))
        self.table.show_rows(rows)

    def _feeds(self, job: Job, of: str) -> list[tuple[str, str]]:
        """What may feed a node, for the list to choose from."""
        taken = [("meter", "the meter"), ("disconnect", "the disconnect ahead")]
        taken += [(MAIN, "the main panel")] if of != MAIN else []
        return [
            *taken,
            *((one.id, f"the {panel_name(job, one.id)}") for one in job.panels if one.is_fed and one.id != of),
        ]

    def _show_rows(self, panel: Panel | None, inside: bool) -> None:
        """What is asked of the chosen one: of the main panel only what feeds it; of a disconnect no circuits; of the enclosure of the disconnect
        ahead no feeder of its own, and what feeds the main panel from it."""
        for place in self.form.fields:
            of_main = place.startswith("main_feed:")
            shown = of_main is (panel is None)
            if panel is None and of_main:
                shown = place == "main_feed:fed_from" or self._asked_of_main(place.removeprefix("main_feed:"))
            elif panel is not None and not of_main:
                shown = not (inside and place in _OF_FEEDERS) and not (
                    place in _OF_CIRCUITS and not panel.takes_circuits
                )
                shown = shown and not (place in _OF_DISCONNECTS and panel.takes_circuits)
                shown = shown and not (place in _OF_WIRES and (panel.in_meter or not panel.is_fed))
                shown = shown and (place not in _OF_WHAT_STAYS or place in due(self.store.job, panel))
                shown = shown and not (place == "breaker_a" and panel.fed_by in ("lugs", "tap"))  # there is none
                shown = shown and (place not in _OF_FOUND or panel.found)
                shown = shown and (place != "gec_ft" or (panel.separate_building or is_service(self.store.job, panel)))
            self.form.show_row(place, shown)
        self.table.setVisible(not inside and (panel is not None or main_fed(self.store.job)))
        self.below.setVisible(self.table.isHidden())

    def _asked_of_main(self, name: str) -> bool:
        """Whether a field of the main panel's feeder is asked for: none where the service lands in it, of several ways to be fed only where
        there are, what was found only of what stays."""
        job, node = self.store.job, main_node(self.store.job)
        if not main_fed(job):
            return False
        if name == "gec_ft":
            return is_service(job, node)
        if name == "fed_by":
            return _by_choice(job)
        if name == "breaker_a":
            return node.fed_by in ("breaker", "tap")
        if node.fed_from == "meter" and name in _OF_THE_WAY:
            return False
        return name in due(job, node) if name in _OF_WHAT_STAYS else name not in _OF_FOUND or node.found

    def _say(self, text: str) -> None:
        self.saying.setText(
            text
            or "Insert adds a panel below, D a disconnect, T transfer equipment, S a splice box; Enter carries one to another feed, Delete takes it "
            "out, F2 goes to its name."
        )

    def go_to(self, place: Place) -> bool:
        panel_id, _, field = place.name.partition(".")
        if place.kind == "main_feed":
            self._picked(MAIN)
            return self.form.focus_place(str(place))
        if place.kind != "panels":
            return False
        if self.store.job.panel_of(panel_id) is None:
            self.tree.setFocus(Qt.FocusReason.OtherFocusReason)
            return True
        self._picked(panel_id)
        return self.form.focus_place(field) or self.form.focus_place("name")

    def _panel_at(self, key: str) -> str:
        """The panel of a row of the tree: a disconnect with spaces of its own is one."""
        box = ahead_box(self.store.job) if key == "disconnect" else None
        return box.id if box is not None else key

    def _row_of(self, panel_id: str) -> str:
        box = ahead_box(self.store.job)
        return "disconnect" if box is not None and box.id == panel_id else panel_id

    # --- editing --------------------------------------------------------------------------------------------------
    def _picked(self, key: str) -> None:
        chosen = self._panel_at(key)
        chosen = chosen if self.store.job.panel_of(chosen) is not None else MAIN
        if chosen != self.panel_id:
            for field in self.form.fields.values():
                if isinstance(field, TextField):
                    field.give_up()
        self.panel_id = chosen
        if self.tree.key != self._row_of(key):
            self.tree.choose(self._row_of(key))
        self._show_chosen(self.store.plan)

    def _add(self, above: str, kind: str = "panel") -> None:
        made = new_node(self.store.job, kind, above)
        self.panel_id = made.id
        if self.store.edit(f"add a {choices_at('panels.kind')[kind]}", lambda job: add_panel(job, made)):
            self.tree.choose(made.id)
            self._picked(made.id)
            self.form.focus_place("name")

    def _remove(self, panel_id: str) -> None:
        panel_id = self._panel_at(panel_id)
        panel = self.store.job.panel_of(panel_id)
        if panel is None:
            self._say("The service and the main panel stay.")
            return
        moved = sum(branch.panel == panel_id for branch in self.store.plan.circuits.branches)
        self.store.edit(f"take out the {panel.name}", lambda job: remove_panel(job, panel_id))
        if moved:
            self.store.notice(
                f"Taken out: {panel.name}. Its {moved} circuits wait in the panel that fed it; Ctrl+Z brings it back."
            )
        self.tree.setFocus(Qt.FocusReason.OtherFocusReason)

    def _feed(self, panel_id: str, target: str) -> None:
        name = panel_name(self.store.job, panel_id)
        above = {"meter": "meter", "disconnect": "disconnect"}.get(target, target)
        if self.store.edit(f"feed the {name} from elsewhere", lambda job: feed_panel(job, panel_id, above), self._say):
            self.tree.choose(panel_id)
            self._picked(panel_id)

    def _take(self, template: Template) -> None:
        self.store.edit(f"start from {template.name.lower()}", template.take)
        self.store.notice(f"Taken: {template.name}. Put what the labels say over it.")
        self.tree.setFocus(Qt.FocusReason.OtherFocusReason)

    def _get(self, name: str) -> Callable[[Job], Any]:
        def get(job: Job) -> Any:
            panel = job.panel_of(self.panel_id)
            if panel is None:
                return None
            return getattr(panel.box, name.removeprefix("box.")) if name.startswith("box.") else getattr(panel, name)

        return get

    def _put(self, name: str) -> Callable[[Job, Any], Job]:
        return lambda job, value: change_panel(job, self.panel_id, **{name: value})

    def _put_feed(self, job: Job, value: Any) -> Job:
        return feed_panel(job, self.panel_id, value)

    def _read_conductors(self, text: str) -> str:
        return read_conductor(text, self.store.plan.codebook)

    def _read_tag(self, text: str) -> int | None:
        if not text.strip():
            return None
        if not is_whole(text.strip()) or self.store.job.circuit(int(text)) is None:
            raise ValueError(f"There is no tag {text.strip()}.")
        return int(text)


def _read_area(text: str) -> float | None:
    return read_added_area(text) if text.strip() else None


def _read_spaces(text: str) -> int:
    return read_count(0, 84)(text) if text.strip() else 0


def _read_bus(text: str) -> float:
    return read_amps(text) or 0.0 if text.strip() else 0.0


def _spaces_text(value: float) -> str:
    return number_text(value) if value else ""
