"""The dwelling and what is in it."""

from enum import StrEnum
from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model
from robust_ledger.job.parts.said import said


class Dwelling(Model, frozen=True, kw_only=True):
    """Floor area by outside dimensions, without open porches, garages and spaces that cannot become rooms."""

    area: Annotated[float | None, said("Floor area", hint="1,720 ft2 or 160 m2")] = None
    area_unit: Literal["ft2", "m2"] = "ft2"
    supply: Annotated[
        Literal["120/240", "208Y/120"],
        said(
            "Supply",
            "single-phase 3-wire, or two legs of a wye",
            choices={"120/240": "120/240 V", "208Y/120": "208Y/120 V"},
        ),
    ] = "120/240"
    small_appliance_circuits: Annotated[int, said("Small appl. circuits", least=2, most=10)] = 2
    laundry_circuits: Annotated[int, said("Laundry circuits", least=1, most=6)] = 1
    units: Annotated[
        int | None, said("Dwelling units", "dwelling units on this service; None: not entered", hint="one?")
    ] = None


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
    name: Annotated[Line, said("Name")]
    kind: Annotated[
        LoadKind,
        said(
            "Kind",
            choices={
                LoadKind.APPLIANCE: "appliance, fastened",
                LoadKind.COOKING: "range",
                LoadKind.COOKING_UNIT: "wall oven or cooktop",
                LoadKind.DRYER: "clothes dryer",
                LoadKind.WATER_HEATER: "water heater",
                LoadKind.MOTOR: "motor or pump",
                LoadKind.PLUG_IN: "plug-in, own circuit",
                LoadKind.HEATING: "electric heat, room units",
                LoadKind.FURNACE: "electric furnace, central",
                LoadKind.THERMAL_STORAGE: "thermal storage heat",
                LoadKind.HEAT_PUMP: "heat pump",
                LoadKind.SUPPLEMENTAL_HEAT: "supplemental heat",
                LoadKind.AIR_CONDITIONER: "air conditioner",
                LoadKind.LIGHTING: "outdoor / special lighting",
                LoadKind.EV_CHARGER: "vehicle charger",
            },
        ),
    ] = LoadKind.APPLIANCE
    room: Annotated[Line, said("Room")] = ""
    nameplate: Annotated[Nameplate, said("Rating", hint="7.2kW or 30A@240")] = Nameplate()
    uses_neutral: Annotated[
        bool | None,
        said(
            "240 V neutral",
            "whether a 240 V load has a neutral; None: as its kind usually has; 120 V loads always have one",
            choices={None: "as its kind", True: "has one", False: "has none"},
        ),
    ] = None
    is_motor: Annotated[
        bool | None,
        said(
            "Motor-driven",
            "motor-driven: counts for the largest motor; None: as its words say",
            choices={None: "as its words say", True: "yes", False: "no"},
        ),
    ] = None
    motor_hp: Annotated[float | None, said("Motor, hp", hint="")] = None
    continuous: Annotated[
        bool, said("Continuous", "runs three hours or more at full load", tick="continuous, 3 h or more")
    ] = False
    controls: Annotated[int, said("Thermostats", "separately controlled heating units", least=1, most=40)] = 1
    interlocked: Annotated[bool, said("Interlock", "supplemental heat that cannot run with the compressor")] = False
    interlocks_with: Annotated[
        Line, Meta(description="id of the heat pump it is interlocked with; empty: the only one")
    ] = ""
    managed: Annotated[bool, said("Managed", "held back by the energy management system", tick="energy-managed")] = (
        False
    )
    mca_a: Annotated[float | None, said("MCA, A", "minimum circuit ampacity of the nameplate", hint="")] = None
    mocp_a: Annotated[float | None, said("MOCP, A", "maximum overcurrent protection of the nameplate", hint="")] = None
    tankless: Annotated[
        bool, said("Without a tank", "a water heater without a tank: not at 125%", tick="water heater without a tank")
    ] = False
    duty_percent: Annotated[
        Annotated[float, Meta(gt=0, le=100)] | None,
        said("Welder duty, %", "duty cycle of a welder; None: it is none, or not entered", hint=""),
    ] = None
    when: Annotated[
        When,
        said(
            "When",
            choices={
                When.EXISTING: "there now",
                When.ADDED: "with this job",
                When.LATER: "later, reserve",
                When.REMOVED: "removed by this job",
            },
        ),
    ] = When.EXISTING

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

    setpoint_a: Annotated[float | None, said("EMS limit, A", hint="none")] = None
