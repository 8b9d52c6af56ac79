"""Parts of the document that come from the walk-through and from planning the service: what was seen and what is wanted."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from robust_ledger.job.base import Line, Model, Text


class SubPanel(Model):
    """A panel behind the panel, in a garage or elsewhere; there is one when its feeder has a breaker."""

    name: Line = "garage"
    breaker_a: float | None = Field(None, description="of the feeder")
    load_a: float | None = Field(None, description="what it is expected to carry, for the voltage drop")
    metal: Literal["cu", "al"] = "al"
    wiring: Literal["thwn", "xhhw", "se", "nm"] = Field(
        "xhhw", description="conductors in raceway, or the kind of cable"
    )
    insulated: bool = Field(False, description="the cable runs within thermal insulation")
    length_ft: float | None = None
    separate_building: bool = True
    wires: Literal[3, 4] = 4
    bonded: bool = Field(False, description="neutral and ground stay joined in it")
    rods: int = Field(0, description="ground rods at the separate building, planned or there")
    disconnect: bool = Field(False, description="it has a main breaker or switch, at the building it serves")
    interrupting_a: float | None = None


class Earth(Model):
    """Electrodes, their conductors and the bonds, as found; None where nobody has looked."""

    school: Literal["two_rods", "measured", "concrete"] = "two_rods"
    rods: int = Field(0, description="rods found")
    rod_length_ft: float | None = Field(None, description="in earth")
    rod_spacing_ft: float | None = None
    rod_angle_deg: float | None = Field(None, description="from the vertical")
    rod_ohms: float | None = Field(None, description="measured resistance of one rod to earth")
    concrete: bool | None = Field(None, description="a concrete-encased electrode can be reached")
    water_pipe_ft: float | None = Field(None, description="metal water pipe in contact with earth; 0 for none")
    ring: bool = False
    plate: bool = False
    metal: Literal["cu", "al"] = "cu"
    one_run: bool = Field(False, description="one conductor runs from electrode to electrode")
    conductor: Line = Field("", description="electrode conductor found, «6 Cu»")
    conductor_new: bool = True
    unspliced: bool | None = None
    water_jumper: bool | None = Field(None, description="a jumper spans the water meter")
    water_bonded: bool | None = Field(None, description="hot and cold metal pipes inside are bonded")
    gas: Literal["", "none", "bonded", "not_bonded"] = ""
    gas_circuit_a: float | None = Field(None, description="rating of the circuit likely to energise the gas pipe")
    intersystem: int | None = Field(None, description="places for other systems at the bonding termination")


class Enclosure(Model):
    """Outside measures of an enclosure."""

    width_in: float | None = None
    height_in: float | None = None
    depth_in: float | None = None


class Fit(Model):
    """What decides how high the panel hangs; heights above the floor in front of it."""

    old: Enclosure = Field(default_factory=Enclosure)
    new: Enclosure = Field(default_factory=Enclosure)
    old_bottom_in: float | None = None
    new_bottom_in: float | None = Field(None, description="as chosen; None follows the old top as far as it may")
    handle_in: float | None = Field(None, description="highest breaker handle above the new enclosure's bottom")
    ceiling_in: float | None = None
    headroom_in: float | None = Field(None, description="needed above the enclosure for the cables to enter")
    least_in: float | None = Field(None, description="lowest bottom the user wants, for damp or splash")
    slack_in: float | None = Field(None, description="what the cables from above can come down")
    enters: Literal["top", "bottom", "both"] = "top"
    meter_in: float | None = Field(None, description="centre of the meter above grade, as planned")
    meter_low_in: float | None = Field(None, description="the utility's window for it")
    meter_high_in: float | None = None
    meter_to_panel_in: float | None = Field(
        None, description="panel's bottom above the meter's centre, where they hang together"
    )
    platform_in: float | None = Field(None, description="height of a platform in front of it, taken off every height")
    flush: bool = False
    bay_in: float | None = Field(None, description="clear width between the studs")
    stud_in: float | None = Field(None, description="depth of the studs")
    cutout_in: float | None = Field(None, description="height of the opening in the wall")
    cutout_bottom_in: float | None = None
    space_width_in: float | None = Field(None, description="working space in front, as found")
    space_depth_in: float | None = None
    space_height_in: float | None = None


class Overhead(Model):
    """The service drop and its mast, as planned; heights above finished grade."""

    attachment_ft: float | None = None
    head_ft: float | None = Field(None, description="service head")
    loop_ft: float | None = Field(None, description="lowest point of the drip loop")
    span_ft: float | None = Field(None, description="lowest point of the span")
    over: Literal["yard", "drive", "road"] = "yard"
    roof: Literal["none", "low", "steep", "overhang"] = Field("none", description="what the conductors pass above")
    roof_in: float | None = Field(None, description="above that roof")
    roof_run_in: float | None = Field(None, description="length of conductor above the overhang")
    overhang_in: float | None = Field(None, description="how far the roof is crossed")
    window_ft: float | None = Field(None, description="to the nearest window that opens; empty when none is near")
    free_in: float | None = Field(None, description="conductor left free at the head for the drip loop")
    riser_ft: float | None = Field(None, description="from the head to the meter")
    strap_end_in: float | None = Field(None, description="the widest from an end to its strap")
    strap_between_in: float | None = Field(None, description="the widest between straps")


class Location(Model):
    """Where the panel hangs."""

    room: Literal["", "living", "basement", "garage", "utility", "outdoors", "bathroom", "closet"] = ""
    over_steps: bool = False
    face: Literal["wall", "up", "down"] = "wall"
    damp: bool = Field(False, description="damp or wet, or outdoors without a roof")
    weatherproof: bool = False
    near_ignitible: bool = Field(False, description="easily ignitible material, as in a clothes closet")


class Equipment(Model):
    """What else belongs to the service."""

    surge: bool | None = Field(None, description="a surge protective device is planned or there")
    surge_at: Literal["panel", "disconnect"] = Field(
        "panel", description="on a breaker of the panel, or at the disconnect ahead"
    )
    surge_a: float | None = Field(None, description="its breaker, as its instructions say")
    generator_a: float | None = Field(None, description="breaker of a generator behind an interlock")
    interlock_listed: bool = Field(False, description="the interlock kit is listed for this panel")
    inverter_a: float | None = Field(None, description="rated output current of a solar inverter on a breaker")
    inverter_opposite: bool = Field(True, description="its breaker sits at the end of the bus away from the main")


class Conventions(Model):
    """House rules and the jurisdiction's, printed on the papers."""

    leg_a: Line = "black"
    leg_b: Line = "red"
    left_leg: Literal["A", "B"] = Field("A", description="leg that goes to the left main lug")
    neutral: Line = "white"
    antioxidant: Literal["always", "label"] = "always"


class Defect(Model):
    """Something found wrong that is not of this job's making. `kind` names one of the catalogue, empty for a free one."""

    id: Line
    kind: Line = ""
    what: Line
    where: Line = ""
    fix: Line = ""
    part: Literal["panel", "riser", "meter", "earth", "branch", "outdoor", "room"] = "panel"
    who: Literal["us", "owner", "utility", "other"] = "us"
    minutes: float | None = None
    material: Line = ""
    in_scope: bool | None = Field(None, description="the user's word; None goes by the school")
    state: Literal["open", "planned", "done"] = "open"
    photos: tuple[Line, ...] = Field((), max_length=40, description="files beside the job")


class Caution(Model):
    """A match with the user's own list of equipment marks: the mark, and what the list says of it."""

    mark: Line
    text: Text
