"""All sheets of a job: what there is, what is still missing for each, and writing them to a folder."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from robust_ledger.job.parts.heading import Scope
from robust_ledger.plan import Plan


@dataclass(frozen=True, slots=True)
class Sheet:
    """One paper: its file name, what is missing for it, and how it is written (the writer is loaded on use)."""

    name: str
    title: str
    missing: Callable[[Plan], list[str]]
    write: Callable[[Plan, Path], None]


def _write_directory(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.sheets.directory import write_directory

    write_directory(plan, path)


def _write_sheet(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.sheets.calculation_sheet import write_calculation_sheet

    write_calculation_sheet(plan, path)


def _write_service(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.sheets.service_sheet import write_service_sheet

    write_service_sheet(plan, path)


def _write_tags(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.sheets.tags import write_tags

    write_tags(plan, path)


def _write_changes(plan: Plan, path: Path) -> None:
    from robust_ledger.papers.sheets.change_list import write_change_list

    write_change_list(plan, path)


def _missing_changes(plan: Plan) -> list[str]:
    if not plan.job.circuits:
        return ["circuits"]
    unknown = sum(1 for reach in plan.reach.values() if reach.verdict == "not known")
    return [f"the reach of {unknown} wires"] if unknown else []


def _missing_tags(plan: Plan) -> list[str]:
    return [] if plan.job.circuits else ["circuits"]


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


def _missing_service(plan: Plan) -> list[str]:
    main = plan.entries["service.main"]
    missing = _missing_heading(plan) + ([] if main.known else [main.why_unknown])
    if plan.job.scope is Scope.UNSAID:
        missing.append("the scope")
    unread = [link.title.lower() for link in plan.chain if link.stays and not link.limit.known]
    return missing + ([f"to be read: {', '.join(unread)}"] if unread else [])


SHEETS = (
    Sheet("directory", "Panel directory", _missing_directory, _write_directory),
    Sheet("calculation", "Calculation sheet", _missing_sheet, _write_sheet),
    Sheet("service", "Service sheet", _missing_service, _write_service),
    Sheet("tags", "Tag sheet", _missing_tags, _write_tags),
    Sheet("changes", "Change list", _missing_changes, _write_changes),
)


def write_packet(plan: Plan, folder: Path, stem: str) -> list[Path]:
    """Write every sheet into `folder` as «stem-name.pdf» and every drawing as «stem-name.svg», each whole or not at all;
    returns the paths.

    Raises OSError when the folder cannot be made or written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    from robust_ledger.drawing.svg import svg_text
    from robust_ledger.papers.drawings import drawings_of, scene_of

    written = [write_sheet(sheet, plan, folder / f"{stem}-{sheet.name}.pdf") for sheet in SHEETS]
    for drawing in drawings_of(plan):
        text = svg_text(scene_of(drawing, plan))
        written.append(_whole(folder / f"{stem}-{drawing.name}.svg", partial(_write_text, text)))
    return written


def _write_text(text: str, path: Path) -> None:
    path.write_text(text, encoding="utf-8")


def write_sheet(sheet: Sheet, plan: Plan, path: Path) -> Path:
    """Write one sheet by way of a temporary file beside it. Raises OSError."""
    return _whole(path, lambda temporary: sheet.write(plan, temporary))


def _whole(path: Path, write: Callable[[Path], object]) -> Path:
    """Write a file whole or not at all, by way of a temporary one beside it."""
    handle, temporary = tempfile.mkstemp(suffix=path.suffix, dir=path.parent)
    os.close(handle)
    try:
        write(Path(temporary))
        os.chmod(temporary, 0o644)
        os.replace(temporary, path)
    finally:
        Path(temporary).unlink(missing_ok=True)
    return path
