"""What the sheets have in common: fonts, colors, page frame and small building blocks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cache
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import inch
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Flowable, Frame, PageTemplate, Paragraph, Table, TableStyle

from robust_ledger.ledger.entry import Severity
from robust_ledger.plan import Plan

INK: Color = HexColor("#1f2d38")
FAINT: Color = HexColor("#5c6670")
RULE: Color = HexColor("#b9b4a4")
WASH: Color = HexColor("#f1eee4")
STOP_INK: Color = HexColor("#a3231f")

MARGIN = 0.7 * inch
HIGHEST_ROW = 8 * inch  # a row that does not fit where so much is free is split over pages
WIDTH = letter[0] - 2 * MARGIN


@cache
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF writer, once."""
    folder = Path(__file__).parents[1] / "assets" / "fonts"
    for name in ("B612-Regular", "B612-Bold"):
        pdfmetrics.registerFont(TTFont(name, str(folder / f"{name}.ttf")))


TEXT = ParagraphStyle("text", fontName="B612-Regular", fontSize=8.5, leading=11.5, textColor=INK)
SMALL = ParagraphStyle("small", parent=TEXT, fontSize=7.2, leading=9.6, textColor=FAINT)
STRONG = ParagraphStyle("strong", parent=TEXT, fontName="B612-Bold")
STOP = ParagraphStyle("stop", parent=STRONG, textColor=STOP_INK)
FIGURE = ParagraphStyle("figure", parent=TEXT, alignment=TA_RIGHT)
FIGURE_STRONG = ParagraphStyle("figure-strong", parent=FIGURE, fontName="B612-Bold")
TITLE = ParagraphStyle("title", parent=TEXT, fontName="B612-Bold", fontSize=16, leading=20)
HEADING = ParagraphStyle(
    "heading",
    parent=TEXT,
    fontName="B612-Bold",
    fontSize=10.5,
    leading=14,
    spaceBefore=10,
    spaceAfter=4,
    keepWithNext=1,
)


def para(text: str, style: ParagraphStyle = TEXT) -> Paragraph:
    """A paragraph of plain text; whatever the user typed stays text."""
    register_fonts()
    return Paragraph(escape(text).replace("\n", "<br/>"), style)


class Rows(Table):
    """A table whose rows stay whole, but for one that is higher than a page."""

    def split(self, availWidth: float, availHeight: float) -> list[Flowable]:  # noqa: N803  # reportlab's names
        """Parts for this page and the next, with the head of the table on both."""
        parts: list[Flowable] = super().split(availWidth, availHeight)
        if not parts and availHeight > HIGHEST_ROW:
            self.splitInRow = 1
            parts = super().split(availWidth, availHeight)
        return parts


def ruled_table(
    rows: Sequence[Sequence[Any]], widths: Sequence[float], extra: Sequence[Any] = (), repeat: int = 1
) -> Table:
    """A table ruled like a ledger: hairlines under the rows, a stronger one under the head."""
    style = [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
        ("LEFTPADDING", (0, 0), (-1, -1), 3),
        ("RIGHTPADDING", (0, 0), (-1, -1), 3),
        ("TOPPADDING", (0, 0), (-1, -1), 2.2),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2.6),
    ]
    if repeat:
        style.append(("LINEBELOW", (0, 0), (-1, repeat - 1), 0.9, INK))
    return Rows(
        [list(row) for row in rows],
        colWidths=list(widths),
        style=TableStyle([*style, *extra]),
        repeatRows=repeat,
    )


HEAD_FIGURE = SMALL.clone("head-figure", alignment=FIGURE.alignment)


def heads(*words: str) -> list[Paragraph]:
    """The head of a table; words that begin with > stand over figures, at the right."""
    return [para(word.removeprefix(">"), HEAD_FIGURE if word.startswith(">") else SMALL) for word in words]


def heading_block(plan: Plan, title: str, notes: bool = False) -> list[Flowable]:
    """The sheet's title and whose job it is; with the job's notes where they belong on the sheet."""
    heading = plan.job.heading
    who = " · ".join(
        part for part in (heading.electrician, f"Lic. # {heading.license}" if heading.license else "") if part
    )
    rows = [
        ("Job", heading.title, "Date", heading.date or ""),
        ("Address", heading.address or "", "Permit", heading.permit or ""),
        ("Customer", heading.customer or "", "Code", f"NEC {plan.codebook.edition}"),
        ("Electrician", who or "", "AHJ" if heading.ahj else "", heading.ahj),
    ]
    if heading.company:
        rows.append(("Company", " · ".join(part for part in (heading.company, heading.contact) if part), "", ""))
    if notes and heading.notes:
        rows.append(("Notes", heading.notes, "", ""))
    cells = [[para(a, SMALL), para(b, STRONG), para(c, SMALL), para(d)] for a, b, c, d in rows]
    return [
        para(title, TITLE),
        *stop_banner(plan),
        ruled_table(cells, [0.9 * inch, WIDTH - 3.3 * inch, 0.7 * inch, 1.7 * inch], repeat=0),
    ]


def stop_banner(plan: Plan) -> list[Flowable]:
    """While a STOP is open, every sheet says so, and which it is."""
    stops = [group for group in plan.groups if group.severity is Severity.STOP and group.first.open]
    if not stops:
        return []
    words = "; ".join(group.title for group in stops[:3]) + (f"; and {len(stops) - 3} more" if len(stops) > 3 else "")
    text = para(f"STOP open, not for work: {words}.", STOP)
    box = [("BOX", (0, 0), (-1, -1), 1.2, STOP_INK), ("LINEBELOW", (0, 0), (-1, -1), 1.2, STOP_INK)]
    return [ruled_table([[text]], [WIDTH], box, repeat=0)]


PAGES = {"letter": letter, "a4": A4}


def page_of(plan: Plan) -> tuple[float, float]:
    """Width and height of the paper of the sheets, in points."""
    width, height = PAGES.get(plan.job.stock.page, letter)
    return float(width), float(height)


class Paper(BaseDocTemplate):
    """A document of sheets. `sheet`: the title of the sheet that the page belongs to; told to the contents as they begin."""

    def __init__(self, path: Path, title: str, plan: Plan) -> None:
        page = page_of(plan)
        side = (page[0] - WIDTH) / 2  # what stands on a sheet is as wide on every paper
        super().__init__(
            str(path),
            pagesize=page,
            leftMargin=side,
            rightMargin=side,
            topMargin=0.6 * inch,
            bottomMargin=0.7 * inch,
            title=title,
            author=plan.job.heading.electrician,
            subject=plan.job.heading.title,
            invariant=1,
        )
        self.sheet = self.first = title

        def foot(canvas: Canvas, document: BaseDocTemplate) -> None:
            canvas.setFont("B612-Regular", 7)
            canvas.setFillColor(FAINT)
            canvas.drawString(side, 0.45 * inch, "Subject to local code and the AHJ.")
            words = f"{plan.job.heading.title[:60]} · {self.sheet} · page {document.page}"
            canvas.drawRightString(page[0] - side, 0.45 * inch, words)

        none = {"leftPadding": 0, "rightPadding": 0, "topPadding": 0, "bottomPadding": 0}
        body = Frame(side, 0.7 * inch, WIDTH, page[1] - 1.3 * inch, id="body", **none)
        on_page: Callable[..., None] = foot
        self.addPageTemplates([PageTemplate(id="page", frames=[body], onPageEnd=on_page)])

    def beforeDocument(self) -> None:
        """Once more through: the first page is of no sheet again."""
        self.sheet = self.first

    def afterFlowable(self, flowable: Flowable) -> None:
        """A sheet begins: it goes into the contents with its page."""
        title = getattr(flowable, "begins", "")
        if title:
            self.sheet = title
            self.notify("TOCEntry", (0, title, self.page))


def build(path: Path, title: str, plan: Plan, story: list[Flowable]) -> None:
    """Write the story as a PDF with page numbers. The same plan gives the same bytes."""
    register_fonts()
    Paper(path, title, plan).build(story)
