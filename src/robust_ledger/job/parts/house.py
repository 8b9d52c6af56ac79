"""The dwelling and what is in it."""

from enum import StrEnum
from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model


class Dwelling(Model, frozen=True, kw_only=True):
    """Floor area by outside dimensions, without open porches, garages and spaces that cannot become rooms."""

    area: float | None = None
    area_unit: Literal["ft2", "m2"] = "ft2"
    supply: Annotated[Literal["120/240", "208Y/120"], Meta(description="single-phase 3-wire, or two legs of a wye")] = (
        "120/240"
    )
    small_appliance_circuits: int = 2
    laundry_circuits: int = 1
    units: Annotated[int | None, Meta(description="dwelling units on this service; None: not entered")] = None


class LoadKind(StrEnum):
    """What a load is to the load calculation. A range is `COOKING`; a wall oven or a cooktop is a `COOKING_UNIT`, which
    shares the demand table but has its own branch circuit at nameplate. `PLUG_IN` is a cord-and-plug appliance on a circuit of its
    own, fastened nowhere; `FURNACE` a central electric furnace, `HEATING` room units with controls of their own."""

    COOKING = "cooking"
    COOKING_UNIT = "cooking_unit"
    DRYER = "dryer"
    WATER_HEATER = "water_heater"
    APPLIANCE = "appliance"
    PLUG_IN = "plug_in"
    MOTOR = "motor"
    HEATING = "heating"
    FURNACE = "furnace"
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


class Nameplate(Model, frozen=True, kw_only=True):
    """A rating as the nameplate gives it, at the nameplate's own voltage."""

    amount: float | None = None
    unit: Literal["VA", "kW", "A", "hp"] = "VA"
    volts: float = 240


class Load(Model, frozen=True, kw_only=True):
    """Something in the house with a nameplate."""

    id: Line
    name: Line
    kind: LoadKind = LoadKind.APPLIANCE
    room: Line = ""
    nameplate: Nameplate = Nameplate()
    uses_neutral: Annotated[
        bool | None,
        Meta(
            description="whether a 240 V load has a neutral; None: as its kind usually has; 120 V loads always have one"
        ),
    ] = None
    is_motor: Annotated[
        bool | None, Meta(description="motor-driven: counts for the largest motor; None: as its words say")
    ] = None
    motor_hp: float | None = None
    continuous: Annotated[bool, Meta(description="runs three hours or more at full load")] = False
    controls: Annotated[int, Meta(description="separately controlled heating units")] = 1
    interlocked: Annotated[bool, Meta(description="supplemental heat that cannot run with the compressor")] = False
    interlocks_with: Annotated[
        Line, Meta(description="id of the heat pump it is interlocked with; empty: the only one")
    ] = ""
    managed: Annotated[bool, Meta(description="held back by the energy management system")] = False
    mca_a: Annotated[float | None, Meta(description="minimum circuit ampacity of the nameplate")] = None
    mocp_a: Annotated[float | None, Meta(description="maximum overcurrent protection of the nameplate")] = None
    tankless: Annotated[bool, Meta(description="a water heater without a tank: not at 125%")] = False
    duty_percent: Annotated[
        Annotated[float, Meta(gt=0, le=100)] | None,
        Meta(description="duty cycle of a welder; None: it is none, or not entered"),
    ] = None
    when: When = When.EXISTING

    @property
    def has_neutral(self) -> bool:
        """Whether its circuit has a neutral. Unsaid is taken by kind, where in doubt as having one: ranges, ovens, cooktops,
        dryers and fastened appliances have, water heaters, motors, heating, cooling and chargers have not."""
        if not self.two_hots:
            return True
        return self.uses_neutral if self.uses_neutral is not None else self.kind not in _NO_NEUTRAL

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


_NO_NEUTRAL = frozenset(
    (
        LoadKind.WATER_HEATER,
        LoadKind.MOTOR,
        LoadKind.HEATING,
        LoadKind.FURNACE,
        LoadKind.THERMAL_STORAGE,
        LoadKind.HEAT_PUMP,
        LoadKind.SUPPLEMENTAL_HEAT,
        LoadKind.AIR_CONDITIONER,
        LoadKind.EV_CHARGER,
    )
)


class Management(Model, frozen=True, kw_only=True):
    """A listed energy management system: the most [A] it lets all loads marked "managed" draw together."""

    setpoint_a: float | None = None
