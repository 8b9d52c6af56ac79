"""Where the panel hangs: rooms it may not be in, steps, the way it faces, damp."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place

ROOM_WORDS = {
    "": "not said",
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
            title="No panel in a bathroom",
            text="Overcurrent devices stay out of bathrooms.",
            remedy="Choose another place.",
            rules=("room_bath",),
        )
    if place.room == "closet" or place.near_ignitible:
        yield make(
            "closet",
            Severity.STOP,
            at=Place("location:room"),
            title="No panel beside easily ignited material",
            text="A clothes closet, or storage like it, is no place for overcurrent devices.",
            remedy="Choose another place.",
            rules=("room_closet",),
        )
    if place.over_steps:
        yield make(
            "steps",
            Severity.STOP,
            at=Place("location:over_steps"),
            title="No panel over steps",
            text="One cannot stand safely in front of it.",
            remedy="Choose another place.",
            rules=("room_steps",),
        )
    if place.face != "wall":
        barred = codebook.cite("face_up" if place.face == "up" else "face_down")
        yield make(
            "face",
            Severity.STOP,
            at=Place("location:face"),
            title=f"Panel lying face-{place.face}",
            text="Panels are made to hang upright." if barred.section != "408.43" else "This edition bars it.",
            remedy="Hang it on a wall.",
            rules=("face_up" if place.face == "up" else "face_down",),
        )
    if (place.damp or place.room == "outdoors") and not place.weatherproof:
        yield make(
            "damp",
            Severity.FIX,
            at=Place("location:weatherproof"),
            title="Enclosure not made for damp",
            text="Outdoors and in damp places the enclosure keeps water out, and stands off the wall by ¼ in.",
            remedy="Take an enclosure marked for it.",
            rules=("damp",),
        )
