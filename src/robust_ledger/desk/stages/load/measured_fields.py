"""What only people can say of a recording: whether someone lived there, the season, sources behind the meter."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from robust_ledger.desk.kit.fields import Form
from robust_ledger.desk.kit.specs import ItemFields
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.job import Job
from robust_ledger.job.parts.measured import Measured
from robust_ledger.job.readers.numbers import read_power_factor, read_seasonal_va


def build_said(store: JobStore) -> tuple[Form, Form]:
    """Ticks for the 30 days, and figures in a row that does not share their columns."""
    said, figures = Form(), Form()
    f = ItemFields(store, "measured", lambda name: (_get(name), _put(name)))
    for number, name in enumerate(("occupied", "seasonal", "renewable")):
        said.add(f"measured:{name}", f(name)[1], 0, number)
    for number, (name, read, width) in enumerate(
        (("seasonal_va", read_seasonal_va, 80), ("power_factor", read_power_factor, 60))
    ):
        figures.add(f"measured:{name}", f(name, read=read)[1], 0, number, width)
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
