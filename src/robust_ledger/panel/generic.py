"""Generic panels to start a panel record from."""

from __future__ import annotations

import tomllib
from functools import cache
from pathlib import Path
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import change_record, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import record_of

_PANEL_FIELDS = ("spaces", "max_circuits", "bus_a", "main", "neutral_style", "neutral_terminals", "ground_terminals")


class Generic(Struct, frozen=True):
    """A made-up panel by name, with the fields it sets."""

    name: str
    fields: dict[str, Any]

    @property
    def words(self) -> str:
        """Size and circuits in short."""
        return f"{self.fields['width_in']:g} × {self.fields['height_in']:g} in, {self.fields['max_circuits']} circuits"


@cache
def generic_panels() -> tuple[Generic, ...]:
    """The common panels that a record may start from."""
    text = (Path(__file__).parent / "generic.toml").read_text(encoding="utf-8")
    return tuple(Generic(one.pop("name"), one) for one in tomllib.loads(text)["panel"])


def take_generic(job: Job, generic: Generic, panel_id: str = MAIN) -> Job:
    """The job with this panel as the record of one of its panels; what is the user's own (families, devices, ratings read) stays."""
    fields = generic.fields
    interior = replace(
        record_of(job, panel_id).interior, main_at=fields["main_at"], first_row_in=None, terminal_in=None
    )
    panel = {name: fields[name] for name in _PANEL_FIELDS}
    after = change_record(
        job,
        panel_id,
        **panel,
        tandem_spaces=tuple(fields.get("tandem_spaces", ())),
        numbering=fields.get("numbering", "odd_left"),
        interior=interior,
    )
    if panel_id != MAIN:
        return after
    size = replace(after.fit.new, width_in=fields["width_in"], height_in=fields["height_in"])
    return with_part(after, "fit", new=size)
