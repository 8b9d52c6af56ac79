"""All sheets of a job: what there is, what is still missing for each, and writing them to a folder."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from robust_ledger.plan import Plan


@dataclass(frozen=True, slots=True)
class Sheet:
    """One paper: its file name, what is missing for it, and how it is written (the writer is loaded on use)."""

    name: str
    title: str
    missing: Callable[[Plan], list[str]]
    write: Callable[[Plan, Path], None]


def _write_directory(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.directory import write_directory

    write_directory(plan, path)


def _write_sheet(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.calculation_sheet import write_calculation_sheet

    write_calculation_sheet(plan, path)


def _missing_heading(plan: Plan) -> list[str]:
    heading = plan.job.heading
    wanted = {"address": heading.address, "date": heading.date, "electrician": heading.electrician}
    return [f"the {name}" for name, value in wanted.items() if not value]


def _missing_directory(plan: Plan) -> list[str]:
    unknown = [b.tag for b in plan.branches if "unknown" in b.directory_text]
    missing = _missing_heading(plan)
    if not plan.job.circuits:
        missing.append("circuits")
    if unknown:
        missing.append(f"what tag {', '.join(unknown)} feeds")
    if plan.placement.waiting:
        missing.append(f"a space for {len(plan.placement.waiting)} circuits")
    return missing


def _missing_sheet(plan: Plan) -> list[str]:
    total = plan.chosen.total
    return _missing_heading(plan) + ([] if total.known else [total.why_unknown])


SHEETS = (
    Sheet("directory", "Panel directory", _missing_directory, _write_directory),
    Sheet("calculation", "Calculation sheet", _missing_sheet, _write_sheet),
)


def write_packet(plan: Plan, folder: Path, stem: str) -> list[Path]:
    """Write every sheet into `folder` as «stem-name.pdf», each whole or not at all; returns the paths.

    Raises OSError when the folder cannot be made or written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    return [write_sheet(sheet, plan, folder / f"{stem}-{sheet.name}.pdf") for sheet in SHEETS]


def write_sheet(sheet: Sheet, plan: Plan, path: Path) -> Path:
    """Write one sheet by way of a temporary file beside it. Raises OSError."""
    handle, temporary = tempfile.mkstemp(suffix=".pdf", dir=path.parent)
    os.close(handle)
    try:
        sheet.write(plan, Path(temporary))
        os.chmod(temporary, 0o644)
        os.replace(temporary, path)
    finally:
        Path(temporary).unlink(missing_ok=True)
    return path
