"""Cards with cut marks and sheets of labels, by the sizes in `stock.toml`."""

from __future__ import annotations

import tomllib
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any

from reportlab.lib.units import inch
from reportlab.platypus import Flowable, KeepInFrame

from robust_ledger.papers.style import FAINT, INK, RULE, WIDTH

PAD = 0.12 * inch
MARK = 0.18 * inch


@cache
def stock() -> dict[str, Any]:
    """Doors and label sheets by their names."""
    return tomllib.loads(Path(__file__).with_name("stock.toml").read_text(encoding="utf-8"))


class Card(Flowable):
    """Parts within a card of a size, as large as they fit, with marks to cut along."""

    def __init__(self, parts: Sequence[Flowable], width_in: float, height_in: float) -> None:
        super().__init__()
        self.parts, self.width, self.height = list(parts), width_in * inch, height_in * inch
        self.hAlign = "LEFT"

    def wrap(self, _width: float, _height: float) -> tuple[float, float]:
        """The room it takes."""
        return min(self.width, WIDTH), self.height

    def draw(self) -> None:
        """Marks, outline, and the parts from the top, all at one scale."""
        canvas = self.canv
        canvas.setStrokeColor(FAINT)
        canvas.setLineWidth(0.5)
        for x in (0, self.width):
            for y in (0, self.height):
                canvas.line(x, y - (MARK if not y else 0), x, y + (MARK if y else 0))
                canvas.line(x - (MARK if not x else 0), y, x + (MARK if x else 0), y)
        canvas.setStrokeColor(RULE)
        canvas.rect(0, 0, self.width, self.height)
        wide, high = self.width - 2 * PAD, self.height - 2 * PAD
        heights = [part.wrapOn(canvas, WIDTH, 1e6)[1] for part in self.parts]
        scale = min(wide / WIDTH, high / max(1.0, sum(heights)))
        canvas.saveState()
        canvas.translate(PAD, self.height - PAD)
        canvas.scale(scale, scale)
        y = 0.0
        for part, tall in zip(self.parts, heights, strict=True):
            y -= tall
            part.drawOn(canvas, 0, y)
        canvas.restoreState()


MOST_QR_LETTERS = 2800  # what the largest code holds with the least correction


class Code(Flowable):
    """A text as a QR code, to be read by any phone; squares painted one by one, so that it prints sharp. What is too long for one is cut."""

    def __init__(self, text: str, side_in: float) -> None:
        super().__init__()
        import segno  # when a code is printed

        data = text.encode("utf-8")[:MOST_QR_LETTERS].decode("utf-8", "ignore")
        self.rows = [bytes(row) for row in segno.make_qr(data, error="l").matrix_iter(border=2)]
        self.width = self.height = side_in * inch

    def wrap(self, _width: float, _height: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """A square for each dark one."""
        canvas, side = self.canv, self.width / len(self.rows)
        canvas.setFillColor(INK)
        for y, row in enumerate(self.rows):
            for x, dark in enumerate(row):
                if dark:
                    canvas.rect(x * side, self.height - (y + 1) * side, side * 1.02, side * 1.02, stroke=0, fill=1)


class LabelSheet(Flowable):
    """One sheet of labels at their exact places on the paper. `test`: only their outlines, to hold against the stock."""

    def __init__(
        self, labels: Sequence[Sequence[Flowable]], kind: str, page: tuple[float, float], test: bool = False
    ) -> None:
        super().__init__()
        self.labels, self.of, self.page, self.test = labels, stock()["labels"][kind], page, test

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """The room it takes."""
        return width, height - 1

    def draw(self) -> None:
        """From the paper's own corner, wherever the frame begins."""
        canvas, of = self.canv, self.of
        x0, y0 = canvas.absolutePosition(0, 0)
        for number in range(of["across"] * of["down"]):
            row, column = divmod(number, of["across"])
            left = (of["left"] + column * of["pitch_x"]) * inch - x0
            top = self.page[1] - (of["top"] + row * of["pitch_y"]) * inch - y0
            wide, high = of["width"] * inch, of["height"] * inch
            if self.test:
                canvas.setStrokeColor(FAINT)
                canvas.rect(left, top - high, wide, high)
            elif number < len(self.labels):
                room = KeepInFrame(wide - 8, high - 6, list(self.labels[number]), mode="shrink")
                _w, used = room.wrapOn(canvas, wide - 8, high - 6)
                room.drawOn(canvas, left + 4, top - 3 - used)
