"""Houses with generated trees of nodes: up to twelve, found and planned mixed, unknowns mixed in. What is to be seen of each on the sheets is worked
out here from the job's facts alone."""

from __future__ import annotations

from functools import cache
from random import Random

from builders import K, called_out, house, load
from msgspec.structs import replace

from robust_ledger.job.edits import change_branch, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN, Panel

LINES = ("1 20 12 kitchen counter", "2 20 12 laundry receptacle", "3 15 14 den lights", "5,7 30/2 10 dryer", "4 20 12 shop receptacles",
         "6,8 50/2 6 range")  # fmt: skip
TAGS = [CircuitKey.of_tag(tag) for tag in range(1, 7)]


@cache
def base() -> Job:
    """A house with six circuits."""
    loads = (load(K.DRYER, "5.5kW", "dryer"), load(K.COOKING, "11kW", "range"))
    return called_out(house(1500, *loads, decisions={"main_a": 200.0}), *LINES)


def tree(seed: int) -> Job:
    """One of them."""
    dice = Random(seed)
    job = _service(base(), dice)
    names = [f"n{number}" for number in range(dice.choice((0, 1, 1, 2, 2, 3, 4, 6, 11)))]
    nodes = tuple(_node(dice, name, names[:number]) for number, name in enumerate(names))
    job = replace(job, panels=nodes)
    fed_from = dice.choice(("", "", "", *names))
    job = with_part(
        job,
        "main_feed",
        fed_from=fed_from,
        fed_by=dice.choice(("lugs", "breaker", "tap")),
        breaker_a=dice.choice((None, 100.0)),
        wiring=dice.choice(("", "se", "nm")),
        raceway=dice.choice(("", "pvc40")),
        found_neutral=dice.choice(("", "4 Cu")),
        found_ground=dice.choice(("", "8 Cu")),
        found_wiring=dice.choice(("", "se", "ser", "raceway")),
        conductors=dice.choice(("", "2 Cu")),
        wires=dice.choice((None, 3, 4)),
        length_ft=dice.choice((None, 12.0)),
    )
    for key in TAGS:
        job = change_branch(job, key, panel=dice.choice(("", "", *names)))
    return job


def _service(job: Job, dice: Random) -> Job:
    """The service: what the scope says, what was found of it, what is made new."""
    kind = dice.choice(("", "service", "meter", "supply"))
    job = with_part(
        job,
        "scope",
        service=dice.choice(("", "kept", "upgraded", "split")),
        disconnect=dice.choice(("as_is", "new")),
        disconnect_kind=kind,
        renews=tuple(one for one in ("riser", "riser_conductors", "load_conductors", "feeder") if dice.random() < 0.4),
    )
    job = with_part(
        job,
        "existing",
        disconnect_at=dice.choice(("", "outdoors")),
        riser_conductors=dice.choice(("", "2 Cu")),
        load_conductors=dice.choice(("", "2 Cu")),
        raceway=dice.choice(("", "rmc", "cable")),
        underground=dice.random() < 0.3,
        utility_fault_a=dice.choice((None, 8000.0)),
    )
    job = with_part(
        job,
        "grounding",
        rods=dice.choice((0, 1, 2)),
        concrete=dice.choice((None, True)),
        water_pipe_ft=dice.choice((None, 30.0)),
        one_run=dice.random() < 0.4,
        gec_new=dice.random() < 0.6,
        gec=dice.choice(("", "6 Cu")),
        gas=dice.choice(("", "bonded", "not_bonded")),
        water_bonded=dice.choice((None, True, False)),
    )
    main = dice.choice(("breaker", "lugs", "back_fed"))
    return with_part(
        with_part(job, "panel", main=main, first_disconnect=dice.random() < 0.5),
        "service_run",
        length_ft=40.0,
        riser_ft=20.0,
    )


def _node(dice: Random, name: str, before: list[str]) -> Panel:
    kind = dice.choice(("panel", "panel", "panel", "disconnect", "disconnect", "transfer", "splice_box"))
    return Panel.read(
        {
            "id": name,
            "name": dice.choice((f"shed {name}", f"node {name}")),
            "kind": kind,
            "marked": dice.choice(("", "service", "meter")) if kind == "disconnect" else "",
            "at": dice.choice(("", "outdoors", "pole")),
            "in_meter": kind == "disconnect" and dice.random() < 0.3,
            "gone": dice.random() < 0.1,
            "fed_from": dice.choice(("meter", "disconnect", MAIN, MAIN, *before, *before[-2:], name)),
            "fed_by": dice.choice(("breaker", "breaker", "breaker", "lugs", "tap")),
            "there": dice.random() < 0.3,
            "found": dice.random() < 0.3,
            "breaker_a": dice.choice((None, 60.0, 100.0)),
            "metal": dice.choice(("cu", "al")),
            "wiring": dice.choice(("thwn", "se")),
            "raceway": dice.choice(("", "emt")),
            "conductors": dice.choice(("", "4 Al")),
            "wires": dice.choice((None, 3, 4)),
            "metal_path": dice.choice((None, False, True)),
            "area": dice.choice((None, 0.0, 300.0)),
            "separate_building": dice.random() < 0.5,
            "rods": dice.choice((0, 2)),
            "length_ft": dice.choice((None, 30.0)),
            "box": {
                "spaces": dice.choice((0, 12)),
                "first_disconnect": dice.random() < 0.5,
                "main": dice.choice(("lugs", "breaker")),
            },
        }
    )  # fmt: skip
