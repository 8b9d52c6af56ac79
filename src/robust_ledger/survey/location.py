"""Where the panel hangs: rooms it may not be in, steps, the way it faces, damp."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings

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
        yield make("bathroom", Severity.STOP, "location:room", "No panel in a bathroom", "Overcurrent devices stay out of bathrooms.",
                   "Choose another place.", "room_bath")  # fmt: skip
    if place.room == "closet" or place.near_ignitible:
        yield make("closet", Severity.STOP, "location:room", "No panel beside easily ignited material",
                   "A clothes closet, or storage like it, is no place for overcurrent devices.", "Choose another place.",
                   "room_closet")  # fmt: skip
    if place.over_steps:
        yield make("steps", Severity.STOP, "location:over_steps", "No panel over steps", "One cannot stand safely in front of it.",
                   "Choose another place.", "room_steps")  # fmt: skip
    if place.face != "wall":
        barred = codebook.cite("face_up" if place.face == "up" else "face_down")
        yield make("face", Severity.STOP, "location:face", f"Panel lying face-{place.face}",
                   "Panels are made to hang upright." if barred.section != "408.43" else "This edition bars it.",
                   "Hang it on a wall.", "face_up" if place.face == "up" else "face_down")  # fmt: skip
    if (place.damp or place.room == "outdoors") and not place.weatherproof:
        yield make("damp", Severity.FIX, "location:weatherproof", "Enclosure not made for damp",
                   "Outdoors and in damp places the enclosure keeps water out, and stands off the wall by ¼ in.",
                   "Take an enclosure marked for it.", "damp")  # fmt: skip
