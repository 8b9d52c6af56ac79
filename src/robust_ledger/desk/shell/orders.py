"""Orders said in the call-out line: look something up, undo, go somewhere, arrange."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Protocol, cast

from robust_ledger.callout.spoken import Order
from robust_ledger.desk.kit.callout import JOINING
from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.ledger.entry import Entry
from robust_ledger.plan import Plan

if TYPE_CHECKING:
    from robust_ledger.desk.shell.window import Window


class Arranger(Protocol):
    """The page that arranges."""

    def start_arranging(self) -> None: ...

    def start_arranging_all(self) -> None: ...


def carry_out(order: Order, window: Window) -> None:
    """Do what was said."""
    store = window.store
    if order.name == "undo":
        if store.undo_stack.undoText() == JOINING:  # it came of itself: what was said goes with it
            store.undo_stack.undo()
        store.undo_stack.undo()
    elif order.name == "redo":
        store.undo_stack.redo()
    elif order.name == "save":
        window.save()
    elif order.name == "go":
        window.show_stage(order.about)
        window.say_it()
    elif order.name == "find":
        window.open_find()
        window.find_panel.field.setText(order.about)
    elif order.name == "why":
        entry = asked_for(store.plan, order.about)
        if entry is None:
            store.notice(f'No figure is called "{order.about}".', serious=True)
        else:
            store.choose_entry(entry.id)
    elif order.name == "arrange":
        window.show_stage("bench")
        stage = window.stage()
        assert isinstance(stage, PagedStage)
        stage.show_page("drawing")
        page = cast(Arranger, stage.page())
        page.start_arranging_all() if order.about == "all" else page.start_arranging()


def asked_for(plan: Plan, words: str) -> Entry | None:
    """The figure that is asked about, by its name or its value: of the bottom line first, then of the whole plan."""
    wanted = [
        word
        for word in re.findall(r"[\w./-]+", words.lower())
        if word not in ("is", "it", "the", "a", "amp", "amps", "only")
    ]
    if not wanted:
        return None
    first = (
        plan.load.governing,
        plan.service.figures.mains,
        plan.service.main,
        plan.service.conductors,
        plan.service.figures.pulled_neutral,
        plan.service.neutral,
        plan.service.gec,
    )
    for entry in (*first, *plan.entries.values()):
        said = re.findall(r"[\w./-]+", f"{entry.label} {entry.text()}".lower())
        if all(any(one == word or (len(word) > 3 and one.startswith(word)) for one in said) for word in wanted):
            return entry
    return None
