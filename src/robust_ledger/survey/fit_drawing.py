"""The wall in elevation, to scale: old and new enclosure, the band for the panel's bottom, handle, meter, working space."""

from __future__ import annotations

from collections.abc import Callable

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.drawing.scene import Box, Ring, Scene, Stroke, Words, arrow
from robust_ledger.job.job import Job
from robust_ledger.job.parts.fit import Fit
from robust_ledger.job.parts.utility import Utility
from robust_ledger.survey.fit import FitFigures

FOOT = 26.0
HEAD = 12.0
OLD_WIDTH_IN, NEW_WIDTH_IN = 14.0, 14.5  # drawn so wide while nothing is told


def fit_scene(job: Job, figures: FitFigures | None, codebook: Codebook, width: float, height: float) -> Scene:
    """Everything above the floor at one scale; what is not entered is not drawn."""
    fit, scene = job.fit, Scene(width, height)
    if figures is None:
        scene.add(
            Words(width / 2, height / 2, "The scope does not ask about the fit.", 13, align="center", color="faint")
        )
        return scene
    tall = max(fit.ceiling_in or 0, codebook.number("space_height_in"), codebook.number("handle_most_in")) + 6
    scale = (height - FOOT - HEAD) / tall
    floor = height - FOOT

    def y(inches: float) -> float:
        return floor - inches * scale

    scene.add(Stroke(0, floor, width, floor, weight=2), Words(4, floor + 12, "floor", 12, color="faint"))
    if fit.platform_in:
        step = Box(width * 0.24, y(fit.platform_in), width * 0.62, fit.platform_in * scale, "faint", hatch=True)
        scene.add(step)
    if fit.ceiling_in:
        scene.add(Stroke(0, y(fit.ceiling_in), width, y(fit.ceiling_in), "faint", weight=1.5))
        scene.add(
            Words(width - 4, y(fit.ceiling_in) + 9, f"ceiling {fit.ceiling_in:g} in", 12, align="right", color="faint")
        )
    center = width * 0.54
    _working_space(scene, codebook, center, scale, floor)
    _studs(scene, fit, center, scale, floor, height)
    _handle_line(scene, fit, codebook, width, y)
    _band(scene, figures, width, y)
    _new(scene, job, figures, center, scale, y)
    _old(scene, fit, center, scale, y)
    _meter(scene, fit, job.utility, width, scale, y)
    return scene


def _working_space(scene: Scene, codebook: Codebook, center: float, scale: float, floor: float) -> None:
    wide, high = codebook.number("space_width_in") * scale, codebook.number("space_height_in") * scale
    scene.add(Box(center - wide / 2, floor - high, wide, high, "rule", "wash", dashed=True, weight=1))
    scene.add(Words(center - wide / 2 + 4, floor - high + 10, "working space 30 × 78, 36 deep", 11.5, color="faint"))


def _studs(scene: Scene, fit: Fit, center: float, scale: float, floor: float, height: float) -> None:
    """The two studs of the bay where the panel flush mount."""
    if not fit.flush or not fit.bay_in:
        return
    bay, stud = fit.bay_in * scale, 1.5 * scale
    for left in (center - bay / 2 - stud, center + bay / 2):
        scene.add(Box(left, HEAD, stud, floor - HEAD, "faint", hatch=True, weight=1))
    scene.add(Words(center, height - 12, f"bay {fit.bay_in:g} in", 12, align="center", color="faint"))


def _handle_line(scene: Scene, fit: Fit, codebook: Codebook, width: float, y: Callable[[float], float]) -> None:
    most = codebook.number("handle_most_in") + (fit.platform_in or 0)
    scene.add(Stroke(0, y(most), width, y(most), "stop", True, 1.4))
    scene.add(Words(4, y(most) - 9, f"highest handle {most:g} in", 12, color="stop"))


def _band(scene: Scene, figures: FitFigures, width: float, y: Callable[[float], float]) -> None:
    """Where the panel's bottom may be, as a bar at the left with its two edges."""
    low, high = figures.low, figures.high
    if not (low.known and high.known):
        return
    good = low.amount <= high.amount
    top, bottom = y(max(low.amount, high.amount)), y(min(low.amount, high.amount))
    bar = Box(40, top, 18, max(2.0, bottom - top), "accent" if good else "stop", "accent" if good else "stop")
    scene.add(bar)
    for entry, at in ((high, y(high.amount)), (low, y(low.amount))):
        words = figures.binds(entry)
        scene.add(Stroke(34, at, 64, at, "accent" if good else "stop", weight=2))
        shift = -10 if entry is high else 10
        scene.add(Words(4, at + shift, f"{entry.text()} {words}", 11.5, bold=True, color="accent" if good else "stop"))
        scene.spot(Box(2, at + shift - 8, width * 0.4, 16), entry.id, f"{entry.label} {entry.text()}, {words}")
    scene.add(Words(64, (top + bottom) / 2, "bottom within" if good else "no height fits", 11.5, color="faint"))


def _old(scene: Scene, fit: Fit, center: float, scale: float, y: Callable[[float], float]) -> None:
    if fit.cutout_in and fit.cutout_bottom_in is not None:
        half = (fit.old.width_in or OLD_WIDTH_IN) * scale / 2 + 3
        scene.add(
            Box(
                center - half,
                y(fit.cutout_bottom_in + fit.cutout_in),
                2 * half,
                fit.cutout_in * scale,
                "faint",
                weight=1,
            )
        )
    if fit.old_bottom_in is None or not fit.old.height_in:
        return
    half = (fit.old.width_in or OLD_WIDTH_IN) * scale / 2
    top = y(fit.old_bottom_in + fit.old.height_in)
    scene.add(Box(center - half, top, 2 * half, fit.old.height_in * scale, "faint", dashed=True, weight=1.5))
    scene.add(Words(center - half - 6, top + 10, "old", 12, align="right", color="faint"))


def _new(scene: Scene, job: Job, figures: FitFigures, center: float, scale: float, y: Callable[[float], float]) -> None:
    fit, bottom = job.fit, figures.bottom
    if not bottom.known or not fit.new.height_in or fit.new.height_in <= 0:
        scene.add(Words(center, y(50), "Enter the new enclosure's height", 12, align="center", color="faint"))
        return
    half = (fit.new.width_in or NEW_WIDTH_IN) * scale / 2
    top = bottom.amount + fit.new.height_in
    box = Box(center - half, y(top), 2 * half, fit.new.height_in * scale, "ink", "side", weight=2)
    scene.add(box, Words(center, box.y + box.height / 2, "new panel", 13, True, "center"))
    scene.spot(box, bottom.id, f"new panel, bottom at {bottom.text()}")
    arrow(scene, center + half + 22, box.y + box.height, y(0), f"bottom {bottom.amount:g}", "ink")
    scene.add(Words(center + half + 8, box.y + 6, f"top {top:g}", 12))
    handle = figures.handle
    if handle.known:
        at = y(handle.amount + (fit.platform_in or 0))
        scene.add(Stroke(center - half * 0.5, at, center + half * 0.5, at, "ink", weight=3))
        scene.add(Words(center - half - 6, at, f"handle {handle.amount:g}", 12, align="right"))
    for side, edge, shift in (("top", top, figures.top_shift), ("bottom", bottom.amount, figures.bottom_shift)):
        if shift.known and shift.amount and fit.enters in (side, "both"):
            words = shift.named("cut").text()
            at = y(edge) + (-11 if side == "top" else 12)
            scene.add(Words(center, at, words, 12, True, "center", "fix"))
            scene.spot(Box(center - 95, at - 8, 190, 16), shift.id, f"{shift.label} by {shift.text()}: {words}")


def _meter(scene: Scene, fit: Fit, utility: Utility, width: float, scale: float, y: Callable[[float], float]) -> None:
    """The utility's window at the right, and the meter within or outside it."""
    x = width - 44
    if utility.meter_low_in is not None and utility.meter_high_in is not None:
        top = y(utility.meter_high_in)
        scene.add(
            Box(
                x - 22, top, 44, max(1.0, (utility.meter_high_in - utility.meter_low_in) * scale), "accent", dashed=True
            )
        )
        scene.add(
            Words(
                x,
                top - 9,
                f"{utility.meter_low_in:g} to {utility.meter_high_in:g}",
                11.5,
                align="center",
                color="accent",
            )
        )
    if fit.meter_in is not None:
        scene.add(
            Ring(x, y(fit.meter_in), max(6.0, 6.5 * scale)),
            Words(x, y(fit.meter_in), f"{fit.meter_in:g}", 12, True, "center"),
        )
        scene.add(Words(x, y(fit.meter_in) + max(6.0, 6.5 * scale) + 9, "meter", 12, align="center", color="faint"))
