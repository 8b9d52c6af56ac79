"""Draw the rooms of the house as they stand: a row a layer, the highest on top, with their lines of code and who leans on whom.
`draw_rooms.py FILE.svg`; the rooms and layers are those that the contracts check."""

from __future__ import annotations

import sys
import tomllib
from pathlib import Path
from xml.sax.saxutils import escape

import grimp

ROOT = Path(__file__).parents[1]
PACKAGE = "robust_ledger"
WIDE, HIGH, GAP_X, GAP_Y, MARGIN = 112, 40, 14, 34, 24


def layers() -> list[list[str]]:
    """The rooms row by row, from the contract."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["tool"]["importlinter"]["contracts"]
    rows = next(one["layers"] for one in contracts if one.get("containers") == [PACKAGE])
    return [[name.strip() for name in row.split("|")] for row in rows]


def lines_of(room: str) -> int:
    """Lines of Python in a room."""
    at = ROOT / "src" / PACKAGE / room
    paths = at.rglob("*.py") if at.is_dir() else [at.with_suffix(".py")]
    return sum(len(path.read_text("utf-8").splitlines()) for path in paths)


def leans(rooms: list[str]) -> dict[tuple[str, str], int]:
    """How many modules of one room import from another."""
    graph = grimp.build_graph(PACKAGE, cache_dir=None)
    found: dict[tuple[str, str], int] = {}
    for module in graph.modules:
        own = module.split(".")[1] if "." in module else ""
        for other in {name.split(".")[1] for name in graph.find_modules_directly_imported_by(module) if "." in name} - {
            own
        }:
            if own in rooms and other in rooms:
                found[own, other] = found.get((own, other), 0) + 1
    return found


def drawn() -> str:
    """The drawing as SVG. A line is the darker the more modules lean that way; only those to the nearest rooms below are drawn."""
    rows = layers()
    most = max(len(row) for row in rows)
    width = 2 * MARGIN + most * (WIDE + GAP_X) - GAP_X
    height = 2 * MARGIN + len(rows) * (HIGH + GAP_Y) - GAP_Y
    at: dict[str, tuple[float, float]] = {}
    for number, row in enumerate(rows):
        left = (width - len(row) * (WIDE + GAP_X) + GAP_X) / 2
        for place, room in enumerate(row):
            at[room] = (left + place * (WIDE + GAP_X), MARGIN + number * (HIGH + GAP_Y))
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" width="{width}" height="{height}"'
        ' font-family="sans-serif">',
        f'<rect width="{width}" height="{height}" fill="#ffffff"/>',
    ]
    for (own, other), count in sorted(leans(list(at)).items()):
        (x, y), (x2, y2) = at[own], at[other]
        shade = min(0.55, 0.06 + count * 0.015)
        parts.append(
            f'<line x1="{x + WIDE / 2:g}" y1="{y + HIGH:g}" x2="{x2 + WIDE / 2:g}" y2="{y2:g}" stroke="#1d3c5a" stroke-opacity="{shade:.2f}"/>'
        )
    for room, (x, y) in at.items():
        middle = x + WIDE / 2
        parts += [
            f'<rect x="{x:g}" y="{y:g}" width="{WIDE}" height="{HIGH}" rx="4" fill="#f2f5f8" stroke="#1d3c5a"/>',
            f'<text x="{middle:g}" y="{y + 17:g}" font-size="13" text-anchor="middle">{escape(room)}</text>',
            f'<text x="{middle:g}" y="{y + 32:g}" font-size="10" fill="#5a6b7a" text-anchor="middle">{lines_of(room):,} lines</text>',
        ]
    return "\n".join([*parts, "</svg>", ""])


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(drawn(), encoding="utf-8")
