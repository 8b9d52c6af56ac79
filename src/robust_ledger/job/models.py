"""The job document: what the user knows. Immutable; an edit makes a new one. Knows no rule of the code.

Fields that this version does not know are kept and written back. Amounts are stored as given (number, unit, volts),
never as a looked-up or computed value. Numbers must be finite; whether they make sense is for the plan to judge, so
that a job with a mistake in it still opens.
"""

from __future__ import annotations

from enum import StrEnum
from typing import Any, Final, Literal, Self

from pydantic import Field, model_validator

from robust_ledger.job.base import Line, Model, Text
from robust_ledger.job.panel_models import KEPT, CircuitChange, NewPanel, OldPanel, Wishes
from robust_ledger.job.spaces import parse_old
from robust_ledger.job.survey_models import (
    Caution,
    Conventions,
    Defect,
    Earth,
    Equipment,
    Fit,
    Location,
    Overhead,
    SubPanel,
)

FORMAT: Final = "robust-ledger-job"
VERSION = 2


class Heading(Model):
    """Who and where; printed on every sheet."""

    title: Line = "New job"
    address: Line = ""
    customer: Line = ""
    electrician: Line = ""
    licence: Line = ""
    permit: Line = ""
    date: Line = ""
    notes: Text = ""


class Scope(StrEnum):
    """What kind of job it is; it decides which load calculations are open."""

    UNSAID = "unsaid"
    SWAP = "swap"
    LARGER_BUS = "larger_bus"
    UPGRADE = "upgrade"
    RELOCATED = "relocated"
    MERGED = "merged"
    OUTSIDE_DISCONNECT = "outside_disconnect"
    SUB_PANEL = "sub_panel"
    SPLIT = "split"

    @property
    def keeps_service(self) -> bool:
        """Whether the service that is there goes on carrying the house at its present rating."""
        return self in (Scope.SWAP, Scope.LARGER_BUS, Scope.RELOCATED, Scope.MERGED, Scope.OUTSIDE_DISCONNECT)


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
    """Whether a load is there, comes or goes with this job, or is a future to reserve spaces for."""

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


class Mark(StrEnum):
    """What was seen on a wire before it was taken off."""

    CAPPED = "capped"
    WHITE_HOT = "white-hot"
    DARK_NEUTRAL = "dark-neutral"
    BARE_NEUTRAL = "bare-neutral"
    DOUBLED = "doubled"
    LATER_120 = "later-120"
    UNKNOWN = "unknown"
    TIED = "tied"


class Circuit(Model):
    """An existing circuit, by its tag. Spaces are as printed on the old panel; «3a» is the upper half of a tandem, «r3» a
    space of the right-hand panel where two are merged."""

    tag: int
    spaces: tuple[Line, ...] = ()
    breaker_a: float | None = None
    poles: int = 1
    gauge: Line | None = None
    metal: Literal["cu", "al"] = "cu"
    cable: Literal[
        "", "nm", "cloth", "rubber", "armoured", "armoured_strip", "mc", "conduit", "se", "uf", "knob_tube"
    ] = Field("", description="kind of wiring; «armoured» without a bonding strip; empty when not looked at")
    free_in: float | None = Field(None, description="length of wire that can be used, from where it enters")
    enters: Literal["", "top", "bottom", "left", "right", "back"] = Field("", description="side of the enclosure")
    enters_at_in: float | None = Field(
        None, description="from the left on top and bottom, else from the top; empty: beside its breaker"
    )
    slack_in: float | None = Field(None, description="cable that can be pulled in from outside the enclosure")
    clamp_a: float | None = Field(None, description="a clamp reading; no maximum demand")
    feeds: Line = ""
    room: Line = ""
    marks: tuple[Mark, ...] = ()
    shares_neutral_with: int | None = None
    load_ids: tuple[Line, ...] = ()
    note: Text = ""
    photos: tuple[Line, ...] = Field((), max_length=40, description="files beside the job")

    @property
    def off(self) -> bool:
        """Capped, or to become 120 V later: keeps its tag, gets no breaker for now."""
        return Mark.CAPPED in self.marks or Mark.LATER_120 in self.marks


class ClampReading(Model):
    """What a clamp showed around a wire at one moment; no maximum demand."""

    tag: int
    leg: Literal["", "A", "B"] = ""
    amperes: float
    at: Line = Field("", description="date and time")
    running: Line = ""
    simulated: bool = False


class PullOff(Model):
    """How the pull-off stands: the statement that the panel is dead, and the passes of the marking order."""

    first_tester: Line = ""
    second_tester: Line = ""
    proved_before: bool = Field(False, description="both testers on a live source before the test")
    proved_after: bool = Field(False, description="and after it")
    signed_by: Line = ""
    signed_at: Line = Field("", description="date and time")
    passes: dict[Line, Literal["done", "later"]] = Field(
        default_factory=dict, description="capped, white, dark, removal"
    )
    tag_numbers: Literal["called", "space"] = Field("called", description="as called out, or by the old space")
    first_tag: int = Field(1, ge=1, le=900, description="where numbering as called out begins")


class ServiceRun(Model):
    """The way of the service conductors to the panel, and what feeds it. Unknown is left empty."""

    raceway: Literal["cable", "emt", "imc", "rmc", "pvc40", "pvc80"] = Field("cable", description="what is there")
    trade_size: Line = Field("", description="inches as written, «1-1/4»")
    nipple: bool = Field(False, description="no longer than 24 inches")
    insulation: Literal["THWN-2", "XHHW-2"] = "XHHW-2"
    length_ft: float | None = Field(None, description="from the service drop to the panel, one way")
    riser_ft: float | None = Field(None, description="the part of it up to the meter")
    sets: int | None = Field(None, description="conductors in parallel per leg; None: one where one carries it")
    ambient_c: float | None = Field(None, description="hottest air around the conductors; None: 30 °C as in the tables")
    current_carrying: int = Field(2, description="current-carrying conductors together; a neutral is none")
    rooftop: bool = Field(False, description="less than 7/8 inch above a roof in the sun")
    utility_fault_a: float | None = Field(None, description="available fault current at the service, from the utility")
    transformer_kva: float | None = None
    transformer_percent_z: float | None = None


class Chain(Model):
    """The links of the service as found; unknown is left empty. Conductors are written like «2 Cu» or «4/0 Al»."""

    underground: bool = False
    drop_a: float | None = Field(None, description="what the utility says its conductors carry")
    riser_conductors: Line = ""
    load_conductors: Line = Field("", description="from the meter to the disconnect or panel")
    disconnect_a: float | None = Field(None, description="a disconnect ahead of the panel; none when empty")
    disconnect_inside: bool = Field(False, description="the disconnect ahead of the panel is indoors")
    replaced: tuple[Literal["riser", "riser_conductors", "load_conductors", "disconnect"], ...] = Field(
        (), description="links that this job makes new; the meter socket has its own mark"
    )


class Management(Model):
    """A listed energy management system: the most [A] it lets all loads marked «managed» draw together."""

    setpoint_a: float | None = None


class FutureCircuit(Model):
    """A circuit of a future that is no load of its own, like the receptacles of a remodelled kitchen."""

    name: Line
    poles: Literal[1, 2] = 1
    breaker_a: float | None = 20


class Future(Model):
    """A named future: loads that come (those marked «later»), loads that go, circuits, floor area and small-appliance
    circuits. Something replaced is one load that goes and one that comes."""

    id: Line
    name: Line
    load_ids: tuple[Line, ...] = ()
    removes: tuple[Line, ...] = ()
    circuits: tuple[FutureCircuit, ...] = Field((), max_length=60)
    frees: tuple[int, ...] = Field((), description="tags of circuits that go: their spaces are free again")
    area: float = Field(0, description="added floor area, in the unit of the dwelling")
    small_appliance_circuits: int = 0
    reserve: bool = Field(True, description="spaces are kept free for it in the new panel")


class LocalRule(Model):
    """A local amendment: a figure of the code, or a section's number, as the jurisdiction has it."""

    key: Line
    value: float | None = Field(None, description="the local figure, in the unit of the code's own")
    section: Line = Field("", description="the local citation; empty keeps the edition's")


class Measured(Model):
    """What a recording of the demand says, as read from `source` beside the job, and what only people can say of it."""

    source: Line = ""
    route: Literal["year", "thirty_days"] = "year"
    first: Line = Field("", description="start of the recording, local time")
    last: Line = ""
    interval_min: float = 15
    days: float = Field(0, description="from first to last")
    longest_days: float = Field(0, description="the longest stretch without a gap")
    coverage: float = Field(0, description="part of all intervals that has a reading, 0 to 1")
    missing: tuple[Line, ...] = Field((), description="stretches without readings, in words")
    peak: float | None = Field(None, description="highest average over an interval, at least 15 minutes")
    peak_unit: Literal["kW", "A"] = "kW"
    peak_at: Line = ""
    exports: bool = Field(False, description="some readings are negative: energy was sent out")
    excluded: int = Field(0, description="readings left out at the user's word")
    reading: dict[str, Any] = Field(default_factory=dict, description="how the file was read, to read it so again")
    power_factor: float = 1
    occupied: bool = False
    seasonal: bool = Field(False, description="the larger of heating and cooling was in season")
    seasonal_va: float = Field(0, description="seasonal load added by calculation")
    renewable: bool = Field(False, description="a renewable source or peak shaving was at work")


class Decisions(Model):
    """What the user chose. Only choices; what follows from them is computed."""

    load_method: Literal["standard", "optional", "existing", "measured"] = "optional"
    ev_school: Literal["block", "added", "continuous"] = Field(
        "block", description="charging in the demand block, after it at 100 %, or everywhere at 125 %"
    )
    main_a: float | None = None
    metal: Literal["cu", "al"] = "al"
    conductor_rule: Literal["dwelling", "full"] = "dwelling"
    meter_replaced: bool = False
    split_mains_a: tuple[float, ...] = Field((), max_length=6, description="mains of the panels of a split service")
    spares: Literal["fifth", "four"] = Field("fifth", description="20 % of the spaces, or four")
    defect_school: Literal["touch", "scope"] = Field("scope", description="what you touch you own, or scope only")
    placements: dict[str, str] = Field(default_factory=dict, description="circuit key → space in the new panel")
    pins: tuple[Line, ...] = Field((), max_length=500, description="keys of circuits that are not to be moved")
    circuits: dict[str, CircuitChange] = Field(default_factory=dict, description="circuit key → what becomes of it")
    wishes: Wishes = Field(default_factory=Wishes)
    ahj_arc_fault: bool = Field(False, description="the authority wants arc-fault protection at a panel change")
    outlet_school: Literal["va", "ten", "use"] = "use"
    smoke_school: Literal["lighting", "own"] = "lighting"
    lighting_school: Literal["shared", "apart"] = "shared"
    accepted: dict[str, Text] = Field(default_factory=dict, description="finding id → reason")


class Job(Model):
    """One panel replacement, as one document."""

    format: Literal["robust-ledger-job"] = FORMAT
    version: int = VERSION
    heading: Heading = Field(default_factory=Heading)
    scope: Scope = Scope.UNSAID
    edition: Literal["2017", "2020", "2023"] = "2023"
    local_rules: tuple[LocalRule, ...] = Field((), max_length=100)
    dwelling: Dwelling = Field(default_factory=Dwelling)
    loads: tuple[Load, ...] = Field((), max_length=500)
    futures: tuple[Future, ...] = Field((), max_length=20)
    chain: Chain = Field(default_factory=Chain)
    service_run: ServiceRun = Field(default_factory=ServiceRun)
    sub_panel: SubPanel = Field(default_factory=SubPanel)
    earth: Earth = Field(default_factory=Earth)
    fit: Fit = Field(default_factory=Fit)
    overhead: Overhead = Field(default_factory=Overhead)
    location: Location = Field(default_factory=Location)
    equipment: Equipment = Field(default_factory=Equipment)
    conventions: Conventions = Field(default_factory=Conventions)
    defects: tuple[Defect, ...] = Field((), max_length=200)
    cautions: tuple[Caution, ...] = Field((), max_length=100)
    management: Management = Field(default_factory=Management)
    measured: Measured | None = None
    circuits: tuple[Circuit, ...] = Field((), max_length=500)
    readings: tuple[ClampReading, ...] = Field((), max_length=2000)
    old_panel: OldPanel = Field(default_factory=OldPanel)
    right_panel: OldPanel = Field(
        default_factory=lambda: OldPanel(spaces=0), description="the other panel where two are merged; no spaces: none"
    )
    pull_off: PullOff = Field(default_factory=PullOff)
    panel: NewPanel = Field(default_factory=NewPanel)
    decisions: Decisions = Field(default_factory=Decisions)

    @model_validator(mode="after")
    def _no_doubles(self) -> Self:
        """Tags and load ids are what everything else points to: each stands for one thing."""
        for name, values in (
            ("tag", [str(c.tag) for c in self.circuits]),
            ("load id", [x.id for x in self.loads]),
            ("future", [x.id for x in self.futures]),
            ("local rule", [x.key for x in self.local_rules]),
            ("defect", [x.id for x in self.defects]),
        ):
            if twice := next((value for value in values if values.count(value) > 1), None):
                raise ValueError(f"{name} «{twice}» is given twice")
        return self

    def circuit(self, tag: int) -> Circuit | None:
        return next((c for c in self.circuits if c.tag == tag), None)

    @property
    def fed_loads(self) -> frozenset[str]:
        """Ids of the loads that a live circuit feeds; a capped one feeds nothing."""
        return frozenset(load_id for c in self.circuits if not c.off for load_id in c.load_ids)

    def change(self, key: str) -> CircuitChange:
        """What was decided of a circuit; by default it is kept as it is."""
        return self.decisions.circuits.get(key) or KEPT

    def load(self, load_id: str) -> Load | None:
        return next((load for load in self.loads if load.id == load_id), None)

    def defect(self, defect_id: str) -> Defect | None:
        return next((defect for defect in self.defects if defect.id == defect_id), None)

    @property
    def attachments(self) -> tuple[str, ...]:
        """Names of the files beside the job that it rests on: its recording, and photos of defects, circuits and the old panel."""
        recording = (self.measured.source,) if self.measured and self.measured.source else ()
        of_defects = (photo for defect in self.defects for photo in defect.photos)
        of_circuits = (photo for circuit in self.circuits for photo in circuit.photos)
        of_panels = (*self.old_panel.photos, *self.right_panel.photos)
        return tuple(dict.fromkeys((*recording, *of_defects, *of_circuits, *of_panels)))

    @property
    def disconnect_ahead(self) -> bool:
        """Whether a disconnect stands ahead of the panel: one that was found, or one that this job adds."""
        return self.chain.disconnect_a is not None or "disconnect" in self.chain.replaced

    @property
    def has_sub_panel(self) -> bool:
        return self.sub_panel.breaker_a is not None or self.scope is Scope.SUB_PANEL

    def future(self, future_id: str) -> Future | None:
        return next((future for future in self.futures if future.id == future_id), None)

    @property
    def next_tag(self) -> int:
        """The tag of a circuit of which nothing is known yet."""
        return self.tag_for(())

    def tag_for(self, spaces: tuple[str, ...]) -> int:
        """The number a new circuit's tag gets: the next one, or its old space's (those of a right-hand panel from 101 on) as
        long as that is not given to another."""
        taken = {circuit.tag for circuit in self.circuits}
        least = self.pull_off.first_tag
        if self.pull_off.tag_numbers == "space":
            where = parse_old(spaces[0]) if spaces else None
            if where and (number := where.space + (100 if where.right else 0)) not in taken:
                return number
            least = 100 + self.right_panel.spaces + 1 if self.right_panel.spaces else self.old_panel.spaces + 1
        return max((*taken, least - 1)) + 1


def blank_job() -> Job:
    """An empty job. Read from empty parts, which spares building a validator for each part at the desk's start."""
    return Job.model_validate(
        {
            "heading": {},
            "dwelling": {},
            "old_panel": {},
            "right_panel": {"spaces": 0},
            "pull_off": {},
            "panel": {},
            "chain": {},
            "service_run": {},
            "sub_panel": {},
            "earth": {},
            "fit": {},
            "overhead": {},
            "location": {},
            "equipment": {},
            "conventions": {},
            "management": {},
            "decisions": {},
        }
    )
