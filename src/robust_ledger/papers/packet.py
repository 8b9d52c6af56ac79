"""The packet: every sheet of a job and every drawing, written to a folder."""

from __future__ import annotations

from pathlib import Path

from robust_ledger.drawing.svg import svg_text
from robust_ledger.job.whole import write_text, write_whole
from robust_ledger.papers.drawings import drawings_of, scene_of
from robust_ledger.papers.sheet import Sheet, all_sheets
from robust_ledger.plan import Plan


def write_packet(plan: Plan, folder: Path, stem: str) -> list[Path]:
    """Write every sheet into `folder` as "stem-name.pdf" and every drawing as "stem-name.svg", each whole or not at all;
    returns the paths.

    Raises OSError when the folder cannot be made or written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    written = [write_sheet(sheet, plan, folder / f"{stem}-{sheet.name}.pdf") for sheet in all_sheets()]
    for drawing in drawings_of(plan):
        text = svg_text(scene_of(drawing, plan))
        written.append(write_text(folder / f"{stem}-{drawing.name}.svg", text))
    return written


def write_sheet(sheet: Sheet, plan: Plan, path: Path) -> Path:
    """Write one sheet by way of a temporary file beside it. Raises OSError."""
    return write_whole(path, lambda temporary: sheet.write(plan, temporary))
