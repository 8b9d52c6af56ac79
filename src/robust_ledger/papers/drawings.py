"""The drawings of a job: which there are, as a part of a sheet and as SVG."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable

from robust_ledger.drawing.scene import Box, Ring, Scene, Shape, Stroke, Words
from robust_ledger.drawing.svg import PAPER
from robust_ledger.installation.one_line_drawing import one_line_scene
from robust_ledger.job.tree import panel_name
from robust_ledger.panel.bench_drawing import bench_scene
from robust_ledger.plan import Plan
from robust_ledger.survey.chain_drawing import chain_scene
from robust_ledger.survey.fit_drawing import fit_scene
from robust_ledger.survey.overhead_drawing import overhead_scene


class Drawing(Struct, frozen=True):
    """A drawing by name: when it belongs to a job, and how it is made at a size."""

    name: str
    title: str
    there: Callable[[Plan], bool]
    draw: Callable[[Plan, float, float], Scene]
    size: tuple[float, float]


DRAWINGS = (
    Drawing(
        "one-line",
        "One-line diagram",
        lambda plan: plan.service.main.known,
        lambda plan, width, height: one_line_scene(plan.one_line, width, height),
        (500, 560),
    ),
    Drawing(
        "chain",
        "Service path",
        lambda plan: "chain" in plan.walk.asked,
        lambda plan, width, height: chain_scene(plan.walk.chain, plan.service.main, plan.load.governing, width, height),
        (760, 360),
    ),
    Drawing(
        "fit",
        "Panel elevation",
        lambda plan: "fit" in plan.walk.asked and plan.job.fit.new.height_in is not None,
        lambda plan, width, height: fit_scene(plan.job, plan.walk.fit, plan.codebook, width, height),
        (440, 520),
    ),
    Drawing(
        "overhead",
        "Service drop and mast",
        lambda plan: "overhead" in plan.walk.asked and plan.job.overhead.weatherhead_ft is not None,
        lambda plan, width, height: overhead_scene(plan.job, plan.walk.overhead, plan.codebook, width, height),
        (400, 480),
    ),
    Drawing(
        "bench",
        "The new panel with its wires",
        lambda plan: bool(plan.bench.placement.positions),
        lambda plan, width, height: bench_scene(plan.picture, width, height),
        (640, 660),
    ),
)


def drawings_of(plan: Plan) -> list[Drawing]:
    """Those that belong to a job; its other panels are drawn as the main one is."""
    made = [drawing for drawing in DRAWINGS if drawing.there(plan)]
    return made + [_bench_of(plan, panel_id) for panel_id in list(plan.benches)[1:] if plan.benches[panel_id].reach]


def _bench_of(plan: Plan, panel_id: str) -> Drawing:
    return Drawing(
        f"bench-{panel_id}",
        f"The {panel_name(plan.job, panel_id)} with its wires",
        lambda _plan: True,
        lambda plan, width, height: bench_scene(plan.seen_from(panel_id).picture, width, height),
        (640, 660),
    )


def scene_of(drawing: Drawing, plan: Plan) -> Scene:
    """A drawing of the plan at its size on paper."""
    return drawing.draw(plan, *drawing.size)


class SceneFlowable(Flowable):
    """A drawing on a sheet, at a part of its size."""

    def __init__(self, scene: Scene, scale: float) -> None:
        super().__init__()
        self.scene, self.scale = scene, scale
        self.width, self.height = scene.width * scale, scene.height * scale

    def wrap(self, _width: float, _height: float) -> tuple[float, float]:
        """The room it takes."""
        return self.width, self.height

    def draw(self) -> None:
        """Paint the scene on the page."""
        canvas = self.canv
        canvas.saveState()
        canvas.scale(self.scale, self.scale)
        for shape in self.scene.shapes:
            _paint(canvas, shape, self.scene)
        canvas.restoreState()


def _paint(canvas: Canvas, shape: Shape, scene: Scene) -> None:
    """One shape, with y turned upwards as the PDF has it."""
    height = scene.height
    if isinstance(shape, Words):
        canvas.setFont("B612-Bold" if shape.bold else "B612-Regular", shape.size)
        canvas.setFillColor(HexColor(PAPER[shape.color]))
        y = height - shape.y - shape.size * 0.35
        {"left": canvas.drawString, "center": canvas.drawCentredString, "right": canvas.drawRightString}[shape.align](
            shape.x, y, shape.text
        )
        return
    canvas.setStrokeColor(HexColor(PAPER[shape.edge if isinstance(shape, Box) else shape.color]))
    canvas.setLineWidth(shape.weight)
    dotted = isinstance(shape, Stroke) and shape.dotted
    canvas.setDash([1.5, 3] if dotted else [5, 4] if not isinstance(shape, Ring) and shape.dashed else [])
    if isinstance(shape, Stroke):
        canvas.line(shape.x1, height - shape.y1, shape.x2, height - shape.y2)
    elif isinstance(shape, Ring):
        canvas.circle(shape.x, height - shape.y, shape.radius, stroke=1, fill=0)
    else:
        if shape.fill:
            canvas.setFillColor(HexColor(PAPER[shape.fill]))
        bottom = height - shape.y - shape.height
        canvas.rect(
            shape.x, bottom, shape.width, shape.height, stroke=1, fill=int(bool(shape.fill) and not shape.hatch)
        )
        if shape.hatch:
            _hatch(canvas, *_within(scene, shape.x, bottom, shape.width, shape.height))


def _within(scene: Scene, x: float, y: float, width: float, height: float) -> tuple[float, float, float, float]:
    """The part of a rectangle that lies in the drawing: an absurd measure must not cost millions of lines."""
    left, low = max(x, 0.0), max(y, 0.0)
    return left, low, max(0.0, min(x + width, scene.width) - left), max(0.0, min(y + height, scene.height) - low)


def _hatch(canvas: Canvas, x: float, y: float, width: float, height: float) -> None:
    """Slanted lines within a rectangle."""
    canvas.saveState()
    path = canvas.beginPath()
    path.rect(x, y, width, height)
    canvas.clipPath(path, stroke=0)
    canvas.setLineWidth(0.5)
    canvas.setStrokeColor(HexColor(PAPER["faint"]))
    start = -height
    while start < width:
        canvas.line(x + start, y, x + start + height, y + height)
        start += 7
    canvas.restoreState()
