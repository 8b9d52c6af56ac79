"""Service drop and mast to scale: attachment, head, drip loop and span above grade, what they pass over, the straps."""

from __future__ import annotations

from collections.abc import Callable

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.drawing.scene import Box, Ring, Scene, Stroke, Words, arrow
from robust_ledger.job.job import Job
from robust_ledger.survey.overhead import OVER_WORDS, OverheadFigures, judged_clearances

FOOT, HEAD = 30.0, 14.0
MOST_STRAPS = 40  # no riser has more room for them in the drawing
METER_FT = 5.0  # where a meter is drawn while the riser's length is not told


def overhead_scene(job: Job, figures: OverheadFigures | None, codebook: Codebook, width: float, height: float) -> Scene:
    """House wall and mast at the left, the drop going off to the right; each limit that is kept in ink, the others red."""
    over, scene = job.overhead, Scene(width, height)
    tall = (
        max(over.weatherhead_ft or 0, over.attachment_ft or 0, codebook.number(f"drop_{over.over or 'yard'}_ft"), 12.0)
        + 2.5
    )
    scale = (height - FOOT - HEAD) / tall
    grade = height - FOOT

    def y(feet: float) -> float:
        return grade - feet * scale

    wall = width * 0.24
    scene.add(
        Stroke(0, grade, width, grade, weight=2),
        Words(
            width - 4,
            grade + 13,
            OVER_WORDS[over.over] if over.over else "crosses: ?",
            12,
            align="right",
            color="faint",
        ),
    )
    roof = (
        max(6.0, min((over.weatherhead_ft or 14) - 3, tall - 4))
        if over.roof not in ("", "none")
        else (over.weatherhead_ft or 14) + 1
    )
    scene.add(Box(0, y(min(roof, tall - 1)), wall, min(roof, tall - 1) * scale, "rule", "side"))
    scene.add(Words(8, grade - 12, "house", 12, color="faint"))
    if over.roof not in ("", "none"):
        scene.add(Stroke(0, y(roof), wall + 26, y(roof), weight=3))
        scene.add(Words(4, y(roof) + 13, "roof", 12, color="faint"))
    _mast(scene, job, figures, wall, scale, y)
    _drop(scene, job, wall, width, y)
    _limits(scene, job, figures, codebook, wall, width, y, grade)
    return scene


def _mast(
    scene: Scene, job: Job, figures: OverheadFigures | None, wall: float, scale: float, y: Callable[[float], float]
) -> None:
    """Riser, meter and head on the wall, with the straps where they come at the least count."""
    over, x = job.overhead, wall + 12
    weatherhead_ft = over.weatherhead_ft
    if weatherhead_ft is None:
        scene.add(Words(wall + 24, y(10), "Enter the weatherhead's height", 12, color="faint"))
        return
    meter_ft = weatherhead_ft - over.riser_ft if over.riser_ft and over.riser_ft < weatherhead_ft else METER_FT
    scene.add(Box(x - 3, y(weatherhead_ft), 6, (weatherhead_ft - meter_ft) * scale, "ink", "page"))
    scene.add(Ring(x, y(meter_ft) + 10, 10), Words(x - 16, y(meter_ft) + 10, "meter", 12, align="right", color="faint"))
    scene.add(Box(x - 7, y(weatherhead_ft) - 9, 14, 10, "ink", "ink"))
    scene.add(Words(x + 14, y(weatherhead_ft) - 16, f"weatherhead {weatherhead_ft:g}", 12))
    straps = figures.straps if figures is not None else None
    if straps is not None and straps.known:
        count = min(int(straps.amount), MOST_STRAPS)
        for number in range(count):
            part = (number + 0.5) / count
            at = y(meter_ft + (weatherhead_ft - meter_ft) * part)
            scene.add(Stroke(x - 8, at, x + 8, at, "accent", weight=3))
        at = y((weatherhead_ft + meter_ft) / 2) + 12
        scene.add(Words(x - 14, at, straps.text(), 12, True, "right", "accent"))
        scene.spot(Box(x - 80, at - 9, 72, 18), straps.id, f"{straps.label}: {straps.text()}")


def _drop(scene: Scene, job: Job, wall: float, width: float, y: Callable[[float], float]) -> None:
    """The span from its attachment to its lowest point and on, and the drip loop below the head."""
    over, x = job.overhead, wall + 12
    if over.attachment_ft is not None:
        low = over.span_ft if over.span_ft is not None else over.attachment_ft
        middle = width * 0.66
        scene.add(Stroke(x + 14, y(over.attachment_ft), middle, y(low), weight=2.2))
        scene.add(Stroke(middle, y(low), width, y(low) - 14, weight=2.2))
        scene.add(Ring(x + 14, y(over.attachment_ft), 4, "accent", 2.5))
    if over.loop_ft is not None and over.weatherhead_ft is not None:
        scene.add(Stroke(x + 6, y(over.weatherhead_ft) - 4, x + 22, y(over.loop_ft), "ink", weight=1.6))
        end = over.attachment_ft if over.attachment_ft is not None else over.weatherhead_ft
        scene.add(Stroke(x + 22, y(over.loop_ft), x + 34, y(end), "ink", weight=1.6))


def _limits(
    scene: Scene,
    job: Job,
    figures: OverheadFigures | None,
    codebook: Codebook,
    wall: float,
    width: float,
    y: Callable[[float], float],
    grade: float,
) -> None:
    """Dimensions of what is planned, each in the color of its judgment."""
    at = {"attachment_ft": (0.45, 0.12), "loop_ft": (0.34, 0.8), "span_ft": (0.66, 0.5)}
    for judged in judged_clearances(job, figures, codebook):
        one, entry = judged.one, judged.entry
        if not entry.known or one.field not in at:
            continue
        color = "stop" if judged.kept is False else "ink"
        along, part = at[one.field]
        x = width * along + (wall * 0.1 if one.field == "loop_ft" else 0)
        words = {"attachment_ft": "attachment", "loop_ft": "loop", "span_ft": "span"}[one.field]
        arrow(scene, x, y(entry.amount), grade, f"{words} {entry.amount:g}", color, part)
        scene.spot(Box(x - 6, y(entry.amount), 90, grade - y(entry.amount)), entry.id, f"{entry.label}: {entry.text()}")
