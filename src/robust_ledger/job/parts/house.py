"""The dwelling and what is in it."""

from __future__ import annotations

from enum import StrEnum
from typing import Literal

from pydantic import Field

from robust_ledger.job.parts.base import Line, Model


class Dwelling(Model):
    """Floor area by outside dimensions, without open porches, garages and spaces that cannot become rooms."""

    area: float | None = None
    area_unit: Literal["ft2", "m2"] = "ft2"
    supply: Literal["120/240", "208Y/120"] = Field("120/240", description="single-phase 3-wire, or two legs of a wye")
    small_appliance_circuits: int = 2
    laundry_circuits: int = 1


class LoadKind(StrEnum):
    """What a load is to the load calculation. A range is `COOKING`; a wall oven or a cooktop is a `COOKING_UNIT`, which
    shares the demand table but has its own branch circuit at nameplate."""

    COOKING = "cooking"
    COOKING_UNIT = "cooking_unit"
    DRYER = "dryer"
    WATER_HEATER = "water_heater"
    APPLIANCE = "appliance"
    MOTOR = "motor"
    HEATING = "heating"
    THERMAL_STORAGE = "thermal_storage"
    HEAT_PUMP = "heat_pump"
    SUPPLEMENTAL_HEAT = "supplemental_heat"
    AIR_CONDITIONER = "air_conditioner"
    LIGHTING = "lighting"
    EV_CHARGER = "ev_charger"


class When(StrEnum):
    """Whether a load is there, comes or removed by this job, or is a future to reserve spaces for."""

    EXISTING = "existing"
    ADDED = "added"
    REMOVED = "removed"
    LATER = "later"


class Nameplate(Model):
    """A rating as the nameplate gives it, at the nameplate's own voltage."""

    amount: float | None = None
    unit: Literal["VA", "kW", "A"] = "VA"
    volts: float = 240


class Load(Model):
    """Something in the house with a nameplate."""

    id: Line
    name: Line
    kind: LoadKind = LoadKind.APPLIANCE
    room: Line = ""
    nameplate: Nameplate = Field(default_factory=Nameplate)
    uses_neutral: bool = Field(
        False, description="a 240 V load with a neutral (a range, a dryer); 120 V loads always have one"
    )
    is_motor: bool = Field(False, description="motor-driven: counts for the largest motor")
    motor_hp: float | None = None
    continuous: bool = Field(False, description="runs three hours or more at full load")
    controls: int = Field(1, description="separately controlled heating units")
    interlocked: bool = Field(False, description="supplemental heat that cannot run with the compressor")
    managed: bool = Field(False, description="held back by the energy management system")
    mca_a: float | None = Field(None, description="minimum circuit ampacity of the nameplate")
    mocp_a: float | None = Field(None, description="maximum overcurrent protection of the nameplate")
    when: When = When.EXISTING

    @property
    def two_hots(self) -> bool:
        """Fed leg to leg (208 to 240 V), not leg to neutral."""
        return self.nameplate.volts > 150

    @property
    def poles(self) -> int:
        """Poles of its breaker."""
        return 2 if self.two_hots else 1

    @property
    def machine_figures(self) -> tuple[float, float] | None:
        """Minimum circuit ampacity and maximum overcurrent protection [A], when the nameplate gave both."""
        if self.mca_a is None or self.mocp_a is None or min(self.mca_a, self.mocp_a) <= 0:
            return None
        return self.mca_a, self.mocp_a


class Management(Model):
    """A listed energy management system: the most [A] it lets all loads marked "managed" draw together."""

    setpoint_a: float | None = None
