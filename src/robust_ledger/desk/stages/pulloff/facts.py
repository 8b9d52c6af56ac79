"""The facts of the old panels, and how tags are numbered."""

from __future__ import annotations

from typing import Any

from robust_ledger.desk.kit.fields import Form, TextField
from robust_ledger.desk.kit.specs import Fields, of_place
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.job import Job
from robust_ledger.job.readers.lists import read_spaces, spaces_text
from robust_ledger.job.readers.numbers import read_count, read_split

MOST_SPACES = 84


class OldPanelFacts(Form):
    """What the labels of one old panel say, or of two that are merged."""

    def __init__(self, store: JobStore) -> None:
        super().__init__()
        f = Fields(store)
        kinds = [("main", "main breaker"), ("split_bus", "split bus"), ("fuses", "fuses")]
        schemes = [("called", "as called out"), ("space", "by old space")]

        def add(made: Any, row: int, column: int, width: int = 0) -> None:
            place, field = made
            self.add(place, field, row, column, width)

        for row, part, name in ((0, "old_panel", "Spaces"), (2, "right_panel", "Right")):
            low = 2 if part == "old_panel" else 0
            tandems = f"{part}:tandem_spaces"
            spaces = TextField(store, "Tandems in", *of_place(tandems), read_spaces, spaces_text, "none")
            spaces.setAccessibleName(f"{name}: tandems in")
            add(f.count(f"{part}:spaces", name, low, MOST_SPACES), row, 0, 52)
            add(f.amps(f"{part}:main_a", "Main found, A", ""), row, 1, 60)
            add((tandems, spaces), row, 2, 80)
        add(f.choice("old_panel:kind", "Kind", kinds), 1, 0)
        add(f.choice("pull_off:tag_numbers", "Tags", schemes), 1, 1)
        first = TextField(store, "from", *of_place("pull_off:first_tag"), read_count(1, 900), str)
        add(("pull_off:first_tag", first), 1, 2, 60)
        lower = TextField(store, "Lower bus from", *of_place("old_panel:split_at"), read_split, str, "space")
        add(("old_panel:split_at", lower), 3, 0, 60)
        add(f.choice("right_panel:kind", "Right: kind", kinds), 3, 1)
        self.grid.setColumnStretch(6, 1)

    def show_job(self, job: Job) -> None:
        self.refresh()
        self.show_row("old_panel:split_at", job.old_panel.kind == "split_bus")
        self.show_row("pull_off:first_tag", job.pull_off.tag_numbers == "called")
        merged = job.scope.old_boxes == "several" or job.right_panel.spaces > 0
        for name in ("spaces", "main_a", "tandem_spaces", "kind"):
            self.show_row(f"right_panel:{name}", merged and (name == "spaces" or job.right_panel.spaces > 0))
