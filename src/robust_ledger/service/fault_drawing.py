"""Available fault current along the service: a bar at every place, and the AIC rating of its devices across it."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.drawing.scene import Box, Scene, Stroke, Words
from robust_ledger.job.job import Job
from robust_ledger.job.tree import in_order
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.text import number_text
from robust_ledger.service.fault import aic_places
from robust_ledger.service.figures import ServiceFigures

FOOT, HEAD = 44.0, 26.0


class FaultPlace(Struct, frozen=True):
    """A place on the way with its fault current and, where devices open there, their interrupting rating [A]."""

    words: str
    entry: Entry
    rating_a: float | None = None
    devices: bool = False
    kind: str = "AIC"

    @property
    def over(self) -> bool:
        """More current than the devices there can open."""
        return self.rating_a is not None and self.entry.known and self.entry.amount > self.rating_a


def fault_places(job: Job, figures: ServiceFigures) -> list[FaultPlace]:
    """From the utility's end to the last panel."""
    # Behind a transformer the places further on show the larger of both faults, its terminals the one between the legs.
    told = job.existing.utility_fault_a is not None
    made = [
        FaultPlace("utility's end" if told else "utility's end, leg to leg", figures.fault_source),
        FaultPlace("meter", figures.fault_meter),
    ]
    for spot in aic_places(job, figures):
        series = spot.key == "aic" and spot.rating_a is not None and spot.rating_a != job.panel.aic_a
        kind = "series rating" if series else "AIC"
        made.append(FaultPlace(spot.words, spot.fault, spot.rating_a, True, kind))
    for panel in in_order(job):
        if feeder := figures.feeders.get(panel.id):
            made.append(FaultPlace(panel.name or "sub-panel", feeder.fault, panel.box.aic_a, True))
    return made


def fault_scene(job: Job, figures: ServiceFigures, width: float, height: float) -> Scene:
    """The profile falls along the way; a bar above its rating is marked, a place that is not known stays open."""
    scene, places = Scene(width, height), fault_places(job, figures)
    known = [place.entry.amount for place in places if place.entry.known]
    most = max([*known, *(place.rating_a for place in places if place.rating_a), 1.0]) * 1.05
    floor, column = height - FOOT, width / len(places)
    scene.add(Stroke(0, floor, width, floor))
    for number, place in enumerate(places):
        words, entry, rating = place.words, place.entry, place.rating_a
        middle = column * (number + 0.5)
        scene.add(Words(middle, floor + 14, words, 12, True, "center"))
        top = floor
        if entry.known:
            top = floor - (floor - HEAD) * entry.amount / most
            color = "stop" if place.over else "accent"
            scene.add(Box(middle - 22, top, 44, floor - top, color, color))
        else:
            top = floor - (floor - HEAD) * 0.3
            scene.add(Box(middle - 22, top, 44, floor - top, "ask", dashed=True))
        scene.add(
            Words(middle, top - 12, f"{number_text(entry.amount, 0)} A" if entry.known else "?", 14, True, "center")
        )
        if rating is not None:
            at = floor - (floor - HEAD) * rating / most
            scene.add(Stroke(middle - 60, at, middle + 60, at, "stop", True, 2))
            below = abs(at - 9 - (top - 12)) < 16
            y = at + 10 if below and at + 10 < top - 24 else at - 9
            scene.add(Words(middle, y, f"{place.kind} {number_text(rating)} A", 12, align="center", color="stop"))
        spoken = f"{words} {entry.text()}" + (f", AIC {number_text(rating)} A" if rating is not None else "")
        scene.spot(Box(middle - column / 2 + 4, 2, column - 8, height - 4), entry.id, spoken)
    return scene
