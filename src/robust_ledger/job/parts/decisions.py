"""What the user chose; what follows from it is computed."""

from typing import Annotated, Literal

from msgspec import Meta, field
from msgspec.structs import force_setattr

from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.base import Model, Text, as_key
from robust_ledger.job.parts.changes import CircuitChange, Wishes


class Decisions(Model, frozen=True, kw_only=True):
    """What the user chose. Only choices; what follows from them is computed."""

    load_method: Literal["standard", "optional", "existing", "measured"] = "optional"
    ev_practice: Annotated[
        Literal["block", "added", "continuous"],
        Meta(description="charging in the demand block, after it at 100%, or everywhere at 125%"),
    ] = "block"
    main_a: float | None = None
    metal: Literal["cu", "al"] = "al"
    conductor_rule: Annotated[
        Literal["dwelling", "full", "strict"],
        Meta(description="83% rule; by load and next size up; ampacity of the whole rating"),
    ] = "dwelling"
    meter_replaced: bool = False
    split_main_a: Annotated[float | None, Meta(description="main of the main panel in a split service")] = None
    inside_fed_by: Annotated[
        Literal["lugs", "breaker"],
        Meta(
            description="the main panel behind a disconnect with spaces of its own: by its feed-through lugs, or a breaker there"
        ),
    ] = "lugs"
    inside_breaker_a: Annotated[float | None, Meta(description="that breaker; None: not known")] = None
    new_wiring: Annotated[
        Literal["nm", "mc", "ac", "conduit", "uf"], Meta(description="wiring method of new branch circuits")
    ] = "nm"
    spares: Annotated[Literal["fifth", "four"], Meta(description="20% of the spaces, or four")] = "fifth"
    defect_practice: Annotated[Literal["touch", "scope"], Meta(description="what you touch you own, or scope only")] = (
        "scope"
    )
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
    ahj_arc_fault: Annotated[bool, Meta(description="the AHJ requires AFCI at a panel change")] = False
    outlet_practice: Literal["va", "ten", "use"] = "use"
    smoke_practice: Literal["lighting", "own"] = "lighting"
    lighting_practice: Literal["shared", "apart"] = "shared"
    accepted: Annotated[dict[str, Text], Meta(description="finding id → reason")] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Keys of dictionaries are read as plain text; here they become what they are."""
        for name in ("placements", "circuits"):
            held = getattr(self, name)
            if any(type(key) is not CircuitKey for key in held):
                force_setattr(self, name, {as_key(key): value for key, value in held.items()})
