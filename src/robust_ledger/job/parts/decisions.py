"""What the user chose; what follows from it is computed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.base import Model, Text
from robust_ledger.job.parts.changes import CircuitChange, Wishes


class Decisions(Model):
    """What the user chose. Only choices; what follows from them is computed."""

    load_method: Literal["standard", "optional", "existing", "measured"] = "optional"
    ev_practice: Literal["block", "added", "continuous"] = Field(
        "block", description="charging in the demand block, after it at 100%, or everywhere at 125%"
    )
    main_a: float | None = None
    metal: Literal["cu", "al"] = "al"
    conductor_rule: Literal["dwelling", "full"] = "dwelling"
    meter_replaced: bool = False
    split_mains_a: tuple[float, ...] = Field((), max_length=6, description="mains of the panels of a split service")
    spares: Literal["fifth", "four"] = Field("fifth", description="20% of the spaces, or four")
    defect_practice: Literal["touch", "scope"] = Field("scope", description="what you touch you own, or scope only")
    placements: dict[CircuitKey, str] = Field(default_factory=dict, description="circuit key → space in the new panel")
    pins: tuple[CircuitKey, ...] = Field((), max_length=500, description="keys of circuits that are not to be moved")
    circuits: dict[CircuitKey, CircuitChange] = Field(
        default_factory=dict, description="circuit key → what becomes of it"
    )
    wishes: Wishes = Field(default_factory=Wishes)
    ahj_arc_fault: bool = Field(False, description="the AHJ requires AFCI at a panel change")
    outlet_practice: Literal["va", "ten", "use"] = "use"
    smoke_practice: Literal["lighting", "own"] = "lighting"
    lighting_practice: Literal["shared", "apart"] = "shared"
    accepted: dict[str, Text] = Field(default_factory=dict, description="finding id → reason")
