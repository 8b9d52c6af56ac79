"""What the user chose; what follows from it is computed."""

from typing import Annotated, Literal

from msgspec import Meta, field
from msgspec.structs import force_setattr

from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.base import Model, Text, as_key
from robust_ledger.job.parts.changes import CircuitChange, Wishes
from robust_ledger.job.parts.said import said


class Decisions(Model, frozen=True, kw_only=True):
    """What the user chose. Only choices; what follows from them is computed."""

    load_method: Literal["standard", "optional", "existing", "measured"] = "optional"
    ev_practice: Annotated[
        Literal["block", "added", "continuous"],
        said(
            "Charging",
            "charging in the demand block, after it at 100%, or everywhere at 125%",
            choices={"block": "in the block", "added": "added at 100%", "continuous": "at 125%"},
        ),
    ] = "block"
    main_a: Annotated[float | None, said("Main")] = None
    metal: Annotated[Literal["cu", "al"], said("Metal", choices={"al": "aluminum", "cu": "copper"})] = "al"
    conductor_rule: Annotated[
        Literal["dwelling", "full", "strict"],
        said(
            "Conductors",
            "83% rule; by load and next size up; ampacity of the whole rating",
            choices={"dwelling": "83% rule", "full": "load, next size up", "strict": "whole rating"},
        ),
    ] = "dwelling"
    meter_replaced: Annotated[bool, said("meter socket replaced")] = False
    new_wiring: Annotated[
        Literal["nm", "mc", "ac", "conduit", "uf"],
        said(
            "New cables are",
            "wiring method of new branch circuits",
            choices={
                "nm": "NM cable",
                "mc": "MC cable",
                "ac": "AC cable",
                "conduit": "conductors in raceway",
                "uf": "UF cable",
            },
        ),
    ] = "nm"
    spares: Annotated[
        Literal["fifth", "four"],
        said("Spares", "20% of the spaces, or four", choices={"fifth": "20% of the spaces", "four": "four spaces"}),
    ] = "fifth"
    defect_practice: Annotated[
        Literal["touch", "scope"],
        said(
            "Responsibility",
            "what you touch you own, or scope only",
            choices={"touch": "what you touch you own", "scope": "scope only"},
        ),
    ] = "scope"
    placements: Annotated[dict[CircuitKey, str], Meta(description="circuit key → space in the new panel")] = field(
        default_factory=dict
    )
    pins: Annotated[
        tuple[CircuitKey, ...], Meta(max_length=500, description="keys of circuits that are not to be moved")
    ] = ()
    circuits: Annotated[dict[CircuitKey, CircuitChange], Meta(description="circuit key → what becomes of it")] = field(
        default_factory=dict
    )
    wishes: Wishes = Wishes()
    ahj_arc_fault: Annotated[
        bool, said("the AHJ requires AFCI at a panel change", "the AHJ requires AFCI at a panel change")
    ] = False
    outlet_practice: Annotated[
        Literal["va", "ten", "use"],
        said("Outlets", choices={"va": "180 VA each", "ten": "never more than ten", "use": "by expected use"}),
    ] = "use"
    smoke_practice: Annotated[
        Literal["", "lighting", "own"],
        said("Smoke alarms", choices={"": "either way", "lighting": "on a lighting circuit", "own": "on their own"}),
    ] = ""
    lighting_practice: Annotated[
        Literal["shared", "apart"],
        said("Lights, receptacles", choices={"shared": "may be shared", "apart": "kept apart"}),
    ] = "shared"
    accepted: Annotated[dict[str, Text], Meta(description="finding id → reason")] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Keys of dictionaries are read as plain text; here they become what they are."""
        for name in ("placements", "circuits"):
            held = getattr(self, name)
            if any(type(key) is not CircuitKey for key in held):
                force_setattr(self, name, {as_key(key): value for key, value in held.items()})
