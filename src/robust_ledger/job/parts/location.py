"""Panel location."""

from typing import Annotated, Literal

from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.said import said


class Location(Model, frozen=True, kw_only=True):
    """Panel location."""

    room: Annotated[
        Literal["", "living", "basement", "garage", "utility", "outdoors", "bathroom", "closet"],
        said(
            "Room",
            choices={
                "": "not entered",
                "living": "hall, kitchen or living space",
                "basement": "basement",
                "garage": "garage",
                "utility": "utility room",
                "outdoors": "outdoors",
                "bathroom": "bathroom",
                "closet": "clothes closet",
            },
        ),
    ] = ""
    over_steps: Annotated[bool, said("over stairs")] = False
    face: Annotated[
        Literal["wall", "up", "down"],
        said("Mounted", choices={"wall": "vertical", "up": "face up", "down": "lying, face down"}),
    ] = "wall"
    damp: Annotated[bool, said("damp wall", "a damp wall, as of a basement below grade")] = False
    wet: Annotated[bool, said("rain or splash reaches it", "rain, splash or hose reaches it")] = False
    weatherproof: Annotated[bool, said("enclosure for wet places")] = False
    air_space: Annotated[
        bool | None, said("¼ in of air behind it", "¼ in of air between a damp wall and the enclosure")
    ] = None
    near_ignitible: Annotated[
        bool, said("easily ignited material beside it", "easily ignitible material, as in a clothes closet")
    ] = False
