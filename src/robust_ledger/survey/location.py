"""Panel location: rooms it may not be in, steps, the way it faces, damp."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.fields import choices_at
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place

ROOM_WORDS = choices_at("location.room")


def location_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Places a panel may not hang in, each with its section."""
    place, find = job.location, Findings(codebook).find
    if place.room == "bathroom":
        yield find("location.bathroom", at=Place("location:room"))
    if place.room == "closet" or place.near_ignitible:
        yield find("location.closet", at=Place("location:room"))
    if place.over_steps:
        yield find("location.steps", at=Place("location:over_steps"))
    if place.face != "wall":
        barred = codebook.cite("face_up" if place.face == "up" else "face_down")
        yield find(
            "location.face",
            at=Place("location:face"),
            rules=("face_up" if place.face == "up" else "face_down",),
            older=barred.section != "408.43",
            face=place.face,
        )
    if (place.wet or place.room == "outdoors") and not place.weatherproof:
        yield find("location.wet", at=Place("location:weatherproof"))
    elif place.damp and not place.air_space and not place.weatherproof:
        yield find("location.damp", at=Place("location:air_space"))
