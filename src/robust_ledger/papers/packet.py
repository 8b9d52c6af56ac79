"""The packets: every sheet of a job and every drawing as files, or the sheets of one packet as a single PDF with its contents."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

from reportlab.platypus import Flowable, PageBreak, Spacer
from reportlab.platypus.tableofcontents import TableOfContents

from robust_ledger.drawing.svg import svg_text
from robust_ledger.job.doors import hand_out, hand_out_text
from robust_ledger.papers import sheets
from robust_ledger.papers.drawings import drawings_of, scene_of
from robust_ledger.papers.sheet import Sheet
from robust_ledger.papers.style import HEADING, TEXT, Paper, heading_block, para, register_fonts
from robust_ledger.plan import Plan

PACKETS = {"crew": "For the crew", "permit": "For the permit", "owner": "For the owner", "file": "For the file"}


@cache
def all_sheets() -> tuple[Sheet, ...]:
    """Every sheet in the order of the packet."""
    found = [import_module(f"{sheets.__name__}.{one.name}").SHEET for one in iter_modules(sheets.__path__)]
    return tuple(sorted(found, key=lambda sheet: sheet.order))


def sheets_of(packet: str) -> tuple[Sheet, ...]:
    """The sheets of a packet, in their order."""
    return tuple(sheet for sheet in all_sheets() if packet in sheet.packets)


def write_packet(plan: Plan, folder: Path, stem: str) -> list[Path]:
    """Write every sheet into `folder` as "stem-name.pdf" and every drawing as "stem-name.svg", each whole or not at all;
    returns the paths.

    Raises OSError when the folder cannot be made or written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    written = [write_sheet(sheet, plan, folder / f"{stem}-{sheet.name}.pdf") for sheet in all_sheets()]
    for drawing in drawings_of(plan):
        text = svg_text(scene_of(drawing, plan))
        written.append(hand_out_text(folder / f"{stem}-{drawing.name}.svg", text))
    return written


def write_sheet(sheet: Sheet, plan: Plan, path: Path) -> Path:
    """Write one sheet by way of a temporary file beside it. Raises OSError."""
    return hand_out(path, lambda temporary: sheet.write(plan, temporary))


class _Begins(Spacer):
    """Where a sheet begins, without room of its own."""

    def __init__(self, title: str) -> None:
        super().__init__(0, 0)
        self.begins = title


def write_bound(packet: str, plan: Plan, path: Path) -> Path:
    """Write the sheets of a packet as one PDF, contents first. Raises OSError; KeyError for a packet there is none of."""
    title = f"{plan.job.heading.title}: {PACKETS[packet].lower()}"
    register_fonts()

    def write(temporary: Path) -> None:
        """Twice through: the contents know their pages only then."""
        contents = TableOfContents()
        contents.levelStyles = [TEXT.clone("contents", fontSize=11, leading=18)]
        contents.dotsMinLevel = 0
        story: list[Flowable] = [*heading_block(plan, PACKETS[packet]), para("Contents", HEADING), contents]
        for sheet in sheets_of(packet):
            story += [PageBreak(), _Begins(sheet.title), *sheet.story(plan)]
        Paper(temporary, title, plan).multiBuild(story)

    return hand_out(path, write)
