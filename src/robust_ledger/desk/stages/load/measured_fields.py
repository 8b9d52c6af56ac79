"""What only people can say of a recording: whether someone lived there, the season, sources behind the meter."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from robust_ledger.desk.kit.fields import ChoiceField, Form, TextField, TickField
from robust_ledger.desk.kit.specs import LOOKED
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.job import Job
from robust_ledger.job.parts.measured import Measured
from robust_ledger.job.readers.numbers import read_power_factor, read_seasonal_va
from robust_ledger.ledger.text import number_text


def build_said(store: JobStore) -> tuple[Form, Form]:
    """Ticks for the 30 days, and figures in a row that does not share their columns."""
    said, figures = Form(), Form()
    ticks = {
        "occupied": "lived in all the while",
        "seasonal": "larger of heating and cooling in season",
        "renewable": "solar or peak shaving there",
    }
    for number, (name, words) in enumerate(ticks.items()):
        if name == "renewable":  # unsaid is not "no"
            said.add(f"measured:{name}", ChoiceField(store, words, _get(name), _put(name), LOOKED), 0, number)
            continue
        said.add(f"measured:{name}", TickField(store, words, _get(name), _put(name), words), 0, number)
    numbers = (
        ("seasonal_va", "Season added, VA", read_seasonal_va, 80),
        ("power_factor", "Power factor", read_power_factor, 60),
    )
    for number, (name, words, read, width) in enumerate(numbers):
        field = TextField(store, words, _get(name), _put(name), read, number_text)
        figures.add(f"measured:{name}", field, 0, number, width)
    figures.grid.setColumnStretch(8, 1)
    return said, figures


def with_measured(job: Job, measured: Measured | None) -> Job:
    """The job with another recording, or none."""
    return replace(job, measured=measured)


def _get(name: str) -> Callable[[Job], Any]:
    return lambda job: getattr(job.measured, name) if job.measured else None


def _put(name: str) -> Callable[[Job, Any], Job]:
    def put(job: Job, value: Any) -> Job:
        if job.measured is None:
            return job
        return with_measured(job, job.measured.changed(**{name: value}))

    return put
