"""Panel location: rooms it may not be in, steps, the way it faces, damp."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place

ROOM_WORDS = {
    "": "not entered",
    "living": "hall, kitchen or living space",
    "basement": "basement",
    "garage": "garage",
    "utility": "utility room",
    "outdoors": "outdoors",
    "bathroom": "bathroom",
    "closet": "clothes closet",
}


def location_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Places a panel may not hang in, each with its section."""
    place, make = job.location, Findings("location", codebook).make
    if place.room == "bathroom":
        yield make(
            "bathroom",
            Severity.STOP,
            at=Place("location:room"),
            title="Panel in bathroom: not allowed",
            text="Overcurrent devices stay out of bathrooms.",
            remedy="Move it to a hall, utility room, basement or garage, with 30 by 36 in clear in front.",
            rules=("room_bath",),
        )
    if place.room == "closet" or place.near_ignitible:
        yield make(
            "closet",
            Severity.STOP,
            at=Place("location:room"),
            title="Panel in clothes closet: not allowed",
            text="A clothes closet, or storage like it, is no place for overcurrent devices.",
            remedy="Move it to a hall, utility room, basement or garage, with 30 by 36 in clear in front.",
            rules=("room_closet",),
        )
    if place.over_steps:
        yield make(
            "steps",
            Severity.STOP,
            at=Place("location:over_steps"),
            title="Panel over stairs: not allowed",
            text="There is no safe place to stand in front of it.",
            remedy="Move it to a hall, utility room, basement or garage, with 30 by 36 in clear in front.",
            rules=("room_steps",),
        )
    if place.face != "wall":
        barred = codebook.cite("face_up" if place.face == "up" else "face_down")
        yield make(
            "face",
            Severity.STOP,
            at=Place("location:face"),
            title=f"Panel lying face-{place.face}",
            text="Panels are made to be mounted vertically." if barred.section != "408.43" else "This edition bars it.",
            remedy="Mount it on a wall.",
            rules=("face_up" if place.face == "up" else "face_down",),
        )
    if (place.wet or place.room == "outdoors") and not place.weatherproof:
        yield make(
            "wet",
            Severity.FIX,
            at=Place("location:weatherproof"),
            title="Enclosure not rated for a wet place",
            text="Rain, splash or hose reaches it.",
            remedy="Use an enclosure of NEMA 3R, with fittings listed for wet places above live parts.",
            rules=("damp",),
        )
    elif place.damp and not place.air_space and not place.weatherproof:
        yield make(
            "damp",
            Severity.NOTE,
            at=Place("location:air_space"),
            title="Damp wall behind the panel",
            text="An enclosure on a damp wall stands off it.",
            remedy="Leave ¼ in of air behind it: plywood on spacers, or standoffs.",
            rules=("damp",),
        )
