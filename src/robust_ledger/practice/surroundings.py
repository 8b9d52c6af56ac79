"""The house around a practice panel, drawn as it is found: service, grounding, working space, floor plan and nameplates."""

from __future__ import annotations

from robust_ledger.drawing.scene import Box, Ring, Scene, Stroke, Words, wrapped
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import Load, When
from robust_ledger.practice.exercise import Exercise
from robust_ledger.practice.house import House

WIDTH, HEIGHT = 780.0, 590.0
WALL_X, WALL_Y, EARTH_Y = 20.0, 90.0, 330.0
PANEL_X, PANEL_Y, PANEL_HEIGHT = 270.0, 136.0, 120.0
DISCONNECT_X, PIPE_Y = 196.0, 380.0
PLATE_WIDTH, PLATE_HEIGHT, PLATE_Y, IN_A_ROW = 148.0, 66.0, 446.0, 5
PIXELS_OF_A_FOOT, PIXELS_OF_AN_INCH = 2.2, 1.5
GARAGE_FT = (22.0, 20.0)


def house_scene(made: Exercise, is_called: bool = False) -> Scene:
    """The house of an exercise from level 4 on. The spots are what can be looked at closely. `is_called`: the customer has called. Raises
    ValueError where the exercise has no house."""
    if made.house is None:
        raise ValueError("This practice panel has no house around it.")
    scene = Scene(WIDTH, HEIGHT)
    order = made.start
    scene.add(Words(4, 14, f"Practice {made.code}: the house", 15, True))
    words = (
        f"The order: a panel of {order.panel.spaces} spaces with a main of {order.decisions.main_a:g} A, its terminals marked "
        f"{order.panel.terminals_c} °C; the service stays."
    )
    scene.add(Words(4, 36, words, 12, color="faint"))
    if is_called and made.call:
        scene.add(Words(4, 56, made.call, 12, True, color="fix"))
    _service(scene, made.truth)
    _ground_conductor(scene, made.truth)
    _rods(scene, made.truth)
    _water(scene, made.truth)
    _heater_and_gas(scene, made.truth)
    _working_space(scene, made.truth)
    _floor(scene, made.house)
    _plates(scene, made, made.house, is_called)
    return scene


def _service(scene: Scene, truth: Job) -> None:
    """Drop, meter with its label, panel, the cables between them with their print, and what is there for other systems' grounds."""
    there, main = truth.existing, truth.old_panel.main_a
    label = f"{there.meter_label_a:g} A"
    middle = WALL_X + 46
    scene.add(
        Stroke(WALL_X, WALL_Y - 14, WALL_X, EARTH_Y, "ink", weight=3),
        Words(4, EARTH_Y + 11, "grade", 10, color="faint"),
    )
    scene.add(Stroke(4, EARTH_Y, 430, EARTH_Y, "faint", dashed=True))
    scene.add(Stroke(middle, WALL_Y - 10, middle, WALL_Y + 50, "ink", weight=4))
    scene.add(Words(middle + 10, WALL_Y + 16, f"cable: {there.riser_conductors}, {there.insulation_c} °C", 11))
    meter = Box(WALL_X + 12, WALL_Y + 50, 68, 80, fill="page")
    scene.add(meter, Ring(middle, WALL_Y + 80, 19), Words(middle, WALL_Y + 118, label, 11, True, "center"))
    scene.spot(meter, "house:meter", f"meter socket, its label {label}; the cable above it {there.riser_conductors}")
    scene.add(Stroke(WALL_X + 80, WALL_Y + 92, PANEL_X, WALL_Y + 92, "ink", weight=4))
    scene.add(Words(WALL_X + 88, WALL_Y + 46, f"cable: {there.load_conductors}, {there.insulation_c} °C", 11))
    if there.disconnect_there:
        box = Box(DISCONNECT_X, WALL_Y + 64, 56, 60, fill="page")
        scene.add(box, Words(DISCONNECT_X + 28, WALL_Y + 94, f"{there.disconnect_a:g} A", 11, True, "center"))
        scene.spot(box, "house:disconnect", f"service disconnect of {there.disconnect_a:g} A, ahead of the panel")
    head = f"main {main:g} A" if main is not None else "no main"
    panel = Box(PANEL_X, PANEL_Y, 92, PANEL_HEIGHT, fill="page")
    scene.add(panel, Words(PANEL_X + 46, PANEL_Y + 20, head, 11, True, "center"))
    scene.add(Words(PANEL_X + 46, PANEL_Y + 40, "old panel", 11, align="center"))
    scene.spot(panel, "house:panel", f"old panel, {head}; the cable from the meter {there.load_conductors}")
    terminals = truth.grounding.intersystem or 0
    scene.add(*(Box(WALL_X + 14 + 16 * number, WALL_Y + 146, 12, 12, fill="accent") for number in range(terminals)))
    words = f"IBT, {terminals} terminals" if terminals else "phone ground on the siding"
    scene.add(Words(WALL_X + 14, WALL_Y + 172, words, 10))
    scene.spot(Box(WALL_X + 10, WALL_Y + 142, 150, 40), "house:ibt", words)


def _ground_conductor(scene: Scene, truth: Job) -> None:
    """The grounding electrode conductor from the panel or the disconnect ahead of it to its electrodes, a splice where there is one."""
    grounding, x, top = truth.grounding, PANEL_X + 46, PANEL_Y + PANEL_HEIGHT
    low, pipe = EARTH_Y + 8, PANEL_X + 46
    if truth.existing.disconnect_there:
        x = DISCONNECT_X + 28
        scene.add(Stroke(x, WALL_Y + 124, x, top, "accent", weight=2.5))
    scene.add(Stroke(x, top, x, low, "accent", weight=2.5), Stroke(pipe, low, WALL_X + 50, low, "accent", weight=2.5))
    scene.add(
        Stroke(pipe, low, pipe, PIPE_Y, "accent", weight=2.5), Words(x + 10, top + 14, f"GEC: {grounding.gec}", 11)
    )
    words = f"GEC of {grounding.gec} in one piece"
    if grounding.unspliced is False:
        scene.add(Box(x - 9, top + 32, 18, 14, fill="page", weight=2), Words(x + 16, top + 39, "split bolt", 11))
        words = f"GEC of {grounding.gec} with a split bolt in it"
    scene.spot(Box(x - 12, top + 4, 100, 48), "house:gec", words)


def _rods(scene: Scene, truth: Job) -> None:
    """The two rods with the tape between them."""
    grounding = truth.grounding
    apart_ft = grounding.rod_spacing_ft or 0.0
    first, second = WALL_X + 50, WALL_X + 50 + apart_ft * 13
    scene.add(*(Stroke(rod, EARTH_Y + 4, rod, EARTH_Y + 66, "ink", weight=4) for rod in (first, second)))
    scene.add(Stroke(first, EARTH_Y + 50, second, EARTH_Y + 50, "faint", weight=1))
    scene.add(Words((first + second) / 2, EARTH_Y + 39, f"{apart_ft:g} ft", 11, align="center"))
    words = f"two rods, {grounding.rod_length_ft:g} ft in the earth"
    scene.add(Words(first - 20, EARTH_Y + 78, words, 10))
    scene.spot(Box(first - 8, EARTH_Y, second - first + 16, 70), "house:rods", f"{words}, {apart_ft:g} ft apart")


def _water(scene: Scene, truth: Job) -> None:
    """The water pipe with its meter, and the jumper around it where there is one."""
    grounding, x = truth.grounding, 440.0
    scene.add(Stroke(PANEL_X + 26, PIPE_Y, 640, PIPE_Y, "faint", weight=6), Ring(x, PIPE_Y, 14, weight=2))
    scene.add(Words(x, PIPE_Y + 25, "water meter", 10, align="center"))
    scene.add(Words(PANEL_X + 20, PIPE_Y + 25, f"pipe {grounding.water_pipe_ft:g} ft in the earth", 10))
    words = "water meter, nothing around it"
    if grounding.water_jumper:
        for x1, y1, x2, y2 in ((-30, 0, -30, -24), (-30, -24, 30, -24), (30, -24, 30, 0)):
            scene.add(Stroke(x + x1, PIPE_Y + y1, x + x2, PIPE_Y + y2, "accent", weight=2.5))
        words = "water meter with a bonding jumper around it"
    scene.spot(Box(x - 40, PIPE_Y - 30, 80, 62), "house:water meter", words)


def _heater_and_gas(scene: Scene, truth: Job) -> None:
    """The water heater's two pipes and the gas pipe; clamps where they are."""
    grounding, x = truth.grounding, 570.0
    heater = Box(x, PIPE_Y - 86, 56, 74, fill="page")
    scene.add(heater, Words(x + 28, PIPE_Y - 50, "heater", 10, align="center"))
    cold, hot, high = x + 13, x + 43, PIPE_Y - 118
    scene.add(*(Stroke(pipe, PIPE_Y - 86, pipe, high, "faint", weight=4) for pipe in (cold, hot)))
    if grounding.water_bonded:
        scene.add(Stroke(cold, high + 14, hot, high + 14, "accent", weight=2.5))
        scene.add(*(Box(pipe - 5, high + 9, 10, 10, fill="accent") for pipe in (cold, hot)))
    words = "hot and cold pipe clamped together" if grounding.water_bonded else "hot and cold pipe, no clamp on either"
    scene.spot(Box(x, high, 56, 106), "house:heater", words)
    gas = 690.0
    scene.add(Stroke(gas, PIPE_Y, gas, high, "fix", weight=5), Words(gas + 8, high + 8, "gas, rigid pipe", 10))
    if grounding.gas == "bonded":
        scene.add(Box(gas - 6, PIPE_Y - 60, 12, 10, fill="accent"))
        scene.add(Stroke(gas + 6, PIPE_Y - 55, gas + 44, PIPE_Y - 55, "accent", weight=2.5))
    words = "gas pipe, clamped" if grounding.gas == "bonded" else "gas pipe, no clamp on it"
    scene.spot(Box(gas - 10, high, 60, 118), "house:gas", words)


def _working_space(scene: Scene, truth: Job) -> None:
    """The working space in front of the panel from above, with the tape across it and up to what stands there."""
    wide_in, deep_in = truth.fit.space_width_in or 0.0, truth.fit.space_depth_in or 0.0
    middle, y, edge = 500.0, 108.0, 16.0
    left, right = middle - wide_in * PIXELS_OF_AN_INCH, middle + wide_in * PIXELS_OF_AN_INCH
    deep = deep_in * 2 * PIXELS_OF_AN_INCH * 0.75
    scene.add(Words(left - edge, y - 22, "in front of the panel, from above", 10, color="faint"))
    scene.add(Stroke(left - edge, y, right + edge, y, "ink", weight=3), Box(middle - 15, y - 9, 30, 9, fill="page"))
    scene.add(Box(left - edge, y, edge, deep, hatch=True), Box(right, y, edge, deep, hatch=True))
    scene.add(Box(left - edge, y + deep, right - left + 2 * edge, edge, hatch=True))
    scene.add(
        Stroke(left, y + 26, right, y + 26, "faint", weight=1),
        Words(middle - 22, y + 17, f"{wide_in:g} in", 11, align="center"),
    )
    scene.add(
        Stroke(middle + 14, y, middle + 14, y + deep, "faint", weight=1),
        Words(middle + 9, y + 52, f"{deep_in:g} in", 11, align="right"),
    )
    words = f"working space {wide_in:g} in wide, {deep_in:g} in deep, 84 in high"
    scene.spot(Box(left, y, right - left, deep), "house:space", words)


def _floor(scene: Scene, house: House) -> None:
    """The floor plan by its outside walls; the garage drawn where there is one."""
    x, y = 620.0, 108.0
    wide, deep = house.width_ft * PIXELS_OF_A_FOOT, house.depth_ft * PIXELS_OF_A_FOOT
    living = Box(x, y, wide, deep, weight=2.5)
    scene.add(Words(x, y - 22, "floor plan, outside walls", 10, color="faint"), living)
    scene.add(
        Words(x + wide / 2, y + 14, "living", 10, align="center"),
        Words(x + wide / 2, y + deep - 9, f"{house.width_ft:g} ft", 11, align="center"),
    )
    scene.add(Words(x + 5, y + deep / 2 + 2, f"{house.depth_ft:g} ft", 11))
    words = f"floor plan: living space {house.width_ft:g} by {house.depth_ft:g} ft"
    if house.trap == "garage":
        garage = Box(x + wide, y, GARAGE_FT[0] * PIXELS_OF_A_FOOT, GARAGE_FT[1] * PIXELS_OF_A_FOOT, weight=2.5)
        scene.add(garage, Words(garage.x + garage.width / 2, y + 14, "garage", 10, align="center"))
        scene.add(
            Words(garage.x + garage.width / 2, y + 30, f"{GARAGE_FT[0]:g}×{GARAGE_FT[1]:g} ft", 9, align="center")
        )
        words += f", garage {GARAGE_FT[0]:g} by {GARAGE_FT[1]:g} ft"
    scene.spot(living, "house:floor", words)


def plate_lines(load: Load, house: House) -> list[str]:
    """A nameplate as it is read: the machine, and its lines."""
    plate = load.nameplate
    lines = [load.name, f"{plate.volts:g} V   {plate.amount:g} {plate.unit}"]
    if house.trap == "two_volts" and load.id == "water-heater":
        lines.append("208 V   3.38 kW")
    return lines


def _plates(scene: Scene, made: Exercise, house: House, is_called: bool) -> None:
    """The nameplates, side by side; what the customer adds only once that was said."""
    scene.add(Words(4, PLATE_Y - 12, "nameplates", 10, color="faint"))
    plates = [plate_lines(load, house) for load in made.truth.loads if load.when is not When.ADDED or is_called]
    if house.trap == "cut_off":
        plates.insert(len(plates) // 2, ["wall heater", "240 V   4 kW", "(cable cut off in the wall)"])
    for number, lines in enumerate(plates):
        x = 4 + number % IN_A_ROW * (PLATE_WIDTH + 8)
        y = PLATE_Y + number // IN_A_ROW * (PLATE_HEIGHT + 8)
        box = Box(x, y, PLATE_WIDTH, PLATE_HEIGHT, fill="side")
        scene.add(box, Words(x + 8, y + 13, lines[0], 12, True))
        rest = [part for line in lines[1:] for part in wrapped(line, PLATE_WIDTH, 10.5)]
        scene.add(*(Words(x + 8, y + 31 + 14 * row, text, 10.5) for row, text in enumerate(rest)))
        scene.spot(box, f"house:plate {lines[0]}", "nameplate: " + ", ".join(lines))
