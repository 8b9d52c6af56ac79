"""A drawing as SVG text, in the colors of paper."""

from __future__ import annotations

from collections.abc import Iterator
from xml.sax.saxutils import escape

from robust_ledger.drawing.scene import Box, Ring, Scene, Shape, Stroke, Words

PAPER = {
    "ink": "#1f2d38",
    "faint": "#5c6670",
    "accent": "#1d5c78",
    "stop": "#a12a1e",
    "fix": "#8a4b00",
    "ask": "#1d5c78",
    "rule": "#b9b4a4",
    "side": "#f6f3ea",
    "wash": "#f1eee4",
    "page": "#ffffff",
    "field": "#ffffff",
}
_ANCHOR = {"left": "start", "center": "middle", "right": "end"}


def svg_text(scene: Scene) -> str:
    """The drawing as an SVG document; the same for the same scene to the byte."""
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {scene.width:g} {scene.height:g}" '
        f'width="{scene.width:g}" height="{scene.height:g}" font-family="B612, sans-serif">'
    )
    hatch = (
        '<defs><pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
        f'<line x1="0" y1="0" x2="0" y2="6" stroke="{PAPER["faint"]}" stroke-width="1"/></pattern></defs>'
    )
    return "\n".join([head, hatch, *(line for shape in scene.shapes for line in _shape(shape)), "</svg>", ""])


def _shape(shape: Shape) -> Iterator[str]:
    if isinstance(shape, Box):
        fill = "url(#hatch)" if shape.hatch else PAPER[shape.fill] if shape.fill else "none"
        yield (
            f'<rect x="{shape.x:.1f}" y="{shape.y:.1f}" width="{shape.width:.1f}" height="{shape.height:.1f}" '
            f'fill="{fill}" {_pen(shape.edge, shape.weight, shape.dashed)}/>'
        )
    elif isinstance(shape, Stroke):
        yield (
            f'<line x1="{shape.x1:.1f}" y1="{shape.y1:.1f}" x2="{shape.x2:.1f}" y2="{shape.y2:.1f}" '
            f"{_pen(shape.color, shape.weight, shape.dashed, shape.dotted)}/>"
        )
    elif isinstance(shape, Ring):
        pen = _pen(shape.color, shape.weight, False)
        yield f'<circle cx="{shape.x:.1f}" cy="{shape.y:.1f}" r="{shape.radius:.1f}" fill="none" {pen}/>'
    elif isinstance(shape, Words):
        weight = ' font-weight="bold"' if shape.bold else ""
        yield (
            f'<text x="{shape.x:.1f}" y="{shape.y:.1f}" font-size="{shape.size:g}" fill="{PAPER[shape.color]}" '
            f'text-anchor="{_ANCHOR[shape.align]}" dominant-baseline="central"{weight}>{escape(shape.text)}</text>'
        )


def _pen(color: str, weight: float, dashed: bool, dotted: bool = False) -> str:
    dash = ' stroke-dasharray="1.5 3"' if dotted else ' stroke-dasharray="5 4"' if dashed else ""
    return f'stroke="{PAPER[color]}" stroke-width="{weight:g}"{dash}'
