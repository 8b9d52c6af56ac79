"""What learners do, as jobs: one who knows the truth, and one who has nothing but eyes."""

from __future__ import annotations

import re
from functools import cache

from msgspec.structs import replace

from robust_ledger.drawing.svg import svg_text
from robust_ledger.job.edits import with_part
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.practice import Named, Practice
from robust_ledger.job.spaces import leg_of
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.request import arrange
from robust_ledger.plan import plan
from robust_ledger.practice.codes import SEEDS, Code
from robust_ledger.practice.exercise import HOUSE_LEVEL, exercise
from robust_ledger.practice.picture import panel_scene
from robust_ledger.practice.sights import sights
from robust_ledger.practice.surroundings import house_scene


@cache
def panel(level, number=1):
    """A panel by level and a small number."""
    return exercise(Code(level, number * 7919 % SEEDS))


def names(made):
    """Every fault of a panel, named."""
    return tuple(Named(kind=one.kind, space=one.spaces[0] if one.spaces else "") for one in made.planted)


def perfect(made):
    """Everything called out truly and named, laid out with the fewest splices, the dark hours in order, in twenty minutes."""
    order: tuple[str, ...] = ()
    job = made.truth
    if made.code.level >= HOUSE_LEVEL:
        whole = plan(job)
        best = min(arrange(wanted_of(whole)).options, key=lambda option: option.splices)
        job = with_part(job, "decisions", placements=dict(best.placements))
        order = tuple(one.id for one in whole.changeover.tasks if one.phase == "dark")
    practice = Practice(
        code=str(made.code),
        named=names(made),
        order=order,
        started="2026-11-28T08:00:00-05:00",
        handed_in="2026-11-28T08:20:00-05:00",
    )
    return replace(job, practice=practice)


# --- with nothing but eyes ----------------------------------------------------------------------------------------------
ALLOWED_A = {("14", "cu"): 15, ("12", "cu"): 20, ("10", "cu"): 30, ("8", "cu"): 40, ("12", "al"): 15}
MARKED = {"capped": Mark.CAPPED, "white_hot": Mark.WHITE_HOT, "dark_neutral": Mark.DARK_NEUTRAL, "doubled": Mark.DOUBLED,
        "bare_neutral": Mark.BARE_NEUTRAL, "bare_behind": Mark.BARE_NEUTRAL, "no_ground": Mark.NO_GROUND}  # fmt: skip


def looked_at(sight, is_behind):
    """What an electrician says is wrong at a breaker, of that breaker alone."""
    wires = [(wire.color, wire.end) for wire in sight.wires]
    size, _, metal = sight.wires[0].size.partition(" ")
    amps = float(sight.handle.split(" ")[0])
    own = all(wire.cable == sight.spaces[0] for wire in sight.wires)
    wrong = {
        "capped": ("black", "cap") in wires,
        "white_hot": ("white", "breaker") in wires,
        "dark_neutral": ("black", "neutral bar") in wires,
        "doubled": wires.count(("black", "breaker")) == 2,
        "bare_neutral": ("bare", "neutral bar") in wires and not is_behind,
        "bare_behind": ("bare", "neutral bar") in wires and is_behind,
        "no_ground": own and not any(color == "bare" for color, _end in wires),
        "aluminum": metal == "aluminum",
        "wire_on_breaker": ("black", "cap") not in wires and amps > ALLOWED_A[size, "al" if metal else "cu"],
    }
    return [kind for kind, is_it in wrong.items() if is_it]


def called_out(made):
    """The circuits as they are seen, and the faults in them."""
    circuits, named, by_space = [], [], {}
    seen = [sight for sight in sights(made) if all(wire.end != "lower bus" for wire in sight.wires)]
    is_behind = "Outdoors a service disconnect" in svg_text(panel_scene(made))
    for tag, sight in enumerate(seen, 1):
        size, _, metal = sight.wires[0].size.partition(" ")
        wrong = looked_at(sight, is_behind)
        tape = re.match(r"([\d.]+) in free, (\w+) at ([\d.]+) in", sight.tape)
        where = {"free_in": float(tape[1]), "enters": tape[2], "enters_at_in": float(tape[3])} if tape else {}
        is_three = len(sight.wires) > 3 and any(wire.color == "red" for wire in sight.wires)
        one = Circuit(
            tag=tag,
            spaces=sight.spaces,
            breaker_a=float(sight.handle.split(" ")[0]),
            poles=len(sight.spaces),
            gauge=size,
            metal="al" if metal else "cu",
            cable="se" if sight.jacket else "nm",
            conductors=3 if is_three else 2,
            device="tandem" if sight.spaces[0][-1] in "ab" else "",
            feeds=sight.label,
            marks=tuple(MARKED[kind] for kind in wrong if kind in MARKED),
            **where,
        )
        circuits.append(one)
        by_space[sight.spaces[0]] = tag
        named += [Named(kind=kind, space=sight.spaces[0]) for kind in wrong]
    for number, sight in enumerate(seen):
        cable = sight.wires[0].cable
        if cable != sight.spaces[0]:
            other = by_space[cable] - 1
            circuits[number] = replace(circuits[number], shares_neutral_with=other + 1, conductors=3)
            circuits[other] = replace(circuits[other], shares_neutral_with=number + 1, conductors=3)
            if leg_of(int(cable)) == leg_of(int(sight.spaces[0])):
                named.append(Named(kind="neutral_one_leg", space=cable))
    return circuits, named


def by_eye(made):
    """The hand-in of somebody who has the drawings, the tester and the order, and nothing else."""
    circuits, named = called_out(made)
    drawn = svg_text(panel_scene(made))
    main = re.search(r"main ([\d.]+) A", drawn)
    door = re.search(r"tandems in spaces (\d+) to (\d+) only", drawn)
    tandems = tuple(range(int(door[1]), int(door[2]) + 1)) if door else ()
    job = with_part(made.start, "old_panel", main_a=float(main[1]) if main else None, tandem_spaces=tandems)
    named += [
        Named(kind="odd_tandem", space=one.spaces[0])
        for one in circuits
        if one.spaces[0][-1] == "a" and int(one.spaces[0][:-1]) not in tandems
    ]
    feed = next((sight for sight in sights(made) if any(wire.end == "lower bus" for wire in sight.wires)), None)
    if feed is not None:
        first = min(
            int(space)
            for one in circuits
            for space in one.spaces
            if space.isdigit() and int(space) > int(feed.spaces[1])
        )
        job = with_part(job, "old_panel", kind="split_bus", split_at=first, blank_spaces=feed.spaces)
        named.append(Named(kind="split_bus"))
    job = replace(job, circuits=tuple(circuits))
    if made.house is not None:
        job, wrong = around(made, job)
        named += [Named(kind=kind) for kind in wrong]
        whole = plan(replace(job, practice=Practice()))
        order = tuple(one.id for one in whole.changeover.tasks if one.phase == "dark")
        job = with_part(job, "practice", order=order)
    return with_part(job, "practice", named=tuple(named))


def around(made, job):
    """The house from its drawing, and what is wrong with it."""
    text = "; ".join(spot.words for spot in house_scene(made, True).spots)

    def figure(pattern):
        return float(re.search(pattern, text)[1])

    cables = [re.search(rf"{words} (\S+ \w+)", text)[1] for words in ("above it", "from the meter")]
    rods, water_ft = (
        figure(r"([\d.]+) ft apart"),
        float(re.search(r"pipe ([\d.]+) ft in the earth", svg_text(house_scene(made)))[1]),
    )
    gec = re.search(r"GEC of (\S+ \w+)", text)[1]
    sound = {
        "water_jumper": "a bonding jumper around it" in text, "water_bonded": "clamped together" in text, "unspliced": "in one piece" in text,
    }  # fmt: skip
    gas, terminals = "bonded" if "gas pipe, clamped" in text else "not_bonded", 3 if "IBT, 3 terminals" in text else 0
    wide, deep, floor = (
        figure(r"space ([\d.]+) in wide"),
        figure(r"wide, ([\d.]+) in deep"),
        re.search(r"living space ([\d.]+) by ([\d.]+) ft", text),
    )
    meter_a = figure(r"its label ([\d.]+) A")
    service = {
        "riser_conductors": cables[0],
        "load_conductors": cables[1],
        "insulation_c": 75,
        "raceway": "cable",
        "wires": 3,
    }
    job = with_part(job, "existing", meter_label_a=meter_a, **service)
    job = with_part(
        job,
        "grounding",
        rods=2,
        rod_length_ft=8.0,
        rod_spacing_ft=rods,
        water_pipe_ft=water_ft,
        gec=gec,
        gas=gas,
        csst=False,
        intersystem=terminals,
        **sound,
    )
    job = with_part(
        with_part(job, "fit", space_width_in=wide, space_depth_in=deep),
        "dwelling",
        area=float(floor[1]) * float(floor[2]),
    )
    if match := re.search(r"service disconnect of ([\d.]+) A", text):
        job = with_part(job, "existing", disconnect_a=float(match[1]), disconnect_at="outdoors")
        job = with_part(job, "main_feed", wires=4)
        job = with_part(job, "panel", first_disconnect=False)
    job = replace(job, loads=tuple(plates(text)))
    main = job.decisions.main_a
    wrong = {
        "riser_small": AMPACITY[cables[0]] < 0.83 * main, "meter_to_panel_small": AMPACITY[cables[1]] < 0.83 * main,
        "meter_small": meter_a < main, "gec_small": gec == "10 Cu", "gec_spliced": not sound["unspliced"],
        "no_jumper": not sound["water_jumper"], "water_unbonded": not sound["water_bonded"], "gas_unbonded": gas == "not_bonded",
        "rods_close": rods < 6, "no_ibt": not terminals, "narrow": wide < 30, "shallow": deep < 36,
    }  # fmt: skip
    return job, [kind for kind, is_it in wrong.items() if is_it]


AMPACITY = {
    "6 Cu": 65,
    "4 Cu": 85,
    "2 Cu": 115,
    "1 Cu": 130,
    "4 Al": 65,
    "2 Al": 90,
    "1/0 Al": 120,
    "2/0 Al": 135,
}  # 75 °C [T310.16]
KINDS = {
    "range": "cooking",
    "dryer": "dryer",
    "water heater": "water_heater",
    "well pump": "motor",
    "sauna heater": "heating",
}


def plates(text):
    """The nameplates as loads: the line at the house's voltage, and not what is cut off."""
    for words in re.findall(r"nameplate: ([^;]+)", text):
        name, line, *rest = words.split(", ")
        volts, amount, unit = re.match(r"(\d+) V\s+([\d.]+) (\w+)", line).groups()
        if any("cut off" in one for one in rest):
            continue
        kind, when = KINDS.get(name, "appliance"), "added" if name == "sauna heater" else "existing"
        yield Load.read(
            {
                "id": name.replace(" ", "-"),
                "name": name,
                "kind": kind,
                "when": when,
                "nameplate": {"amount": float(amount), "unit": unit, "volts": float(volts)},
            }
        )
