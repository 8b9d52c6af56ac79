"""The packet: every sheet of a job and every drawing, written to a folder."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from functools import partial
from pathlib import Path

from robust_ledger.drawing.svg import svg_text
from robust_ledger.papers.drawings import drawings_of, scene_of
from robust_ledger.papers.sheet import Sheet, all_sheets
from robust_ledger.plan import Plan


def write_packet(plan: Plan, folder: Path, stem: str) -> list[Path]:
    """Write every sheet into `folder` as «stem-name.pdf» and every drawing as «stem-name.svg», each whole or not at all;
    returns the paths.

    Raises OSError when the folder cannot be made or written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    written = [write_sheet(sheet, plan, folder / f"{stem}-{sheet.name}.pdf") for sheet in all_sheets()]
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
