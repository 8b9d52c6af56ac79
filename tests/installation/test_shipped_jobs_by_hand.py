"""The torque rows and what has to be bought for the shipped jobs, counted by hand from their drawings."""

from __future__ import annotations

from collections import Counter

import pytest
from golden_text import demo

from robust_ledger.plan import plan

# Circuits: three screws for each of one pole (hot, neutral, ground) and each of two without a neutral (two hots, ground), four for those with one;
# of two on one neutral five together. Then what the drawing has, node by node.
ROWS = {
    # 23 of one pole, 4 of two without and 2 with a neutral, a pair on one neutral, the garage's feeder at its breaker.
    "marrow-lane": (
        23 * 3 + 4 * 3 + 2 * 4 + 5 + 4,
        {
            "meter": 3 + 3,  # line and load side: the service conductors are new on both
            "disconnect": 3 + 3 + 1 + 2 + 1,  # line, load, EGC, GEC to rods and to the water pipe, bonding screw
            "panel": 3 + 1 + 3,  # lugs and neutral, EGC, three joints of the factory
            "garage": 3 + 1 + 1 + 3,  # its main, EGC, GEC, joints of the factory
            "electrode.rods": 1 + 1,  # one that is there, one that is driven
            "electrode.water": 1,
            "electrode.garage": 2,
        },
    ),
    # 11 of one pole, one of two without a neutral; the service conductors stay, and are landed in the new disconnect.
    "tansy-court": (
        11 * 3 + 3,
        {"disconnect": 3 + 3 + 1 + 1 + 1, "panel": 3 + 1 + 3, "electrode.concrete": 1},
    ),
    # 17 of one pole, 7 of two without and 3 with a neutral; two panels at the meter, each bonded, the second's GEC a tap.
    "quarry-rise": (
        17 * 3 + 7 * 3 + 3 * 4,
        {"meter": 3 + 3 + 3, "panel": 3 + 1 + 1 + 4, "panel-2": 3 + 1 + 4, "electrode.concrete": 1},
    ),
}


@pytest.mark.parametrize("name", ROWS)
def test_the_torque_rows_of_the_shipped_jobs(name):
    circuits, nodes = ROWS[name]
    joints = plan(demo(name)).installation.joints
    mine = [one for one in joints if one.key.startswith(("tag:", "load:", "equip:"))]
    assert len(mine) == circuits
    assert Counter(one.node for one in joints if one not in mine) == nodes
    assert len(plan(demo(name)).changeover.terminations) == circuits + sum(nodes.values())


# Beside breakers, cables and splices, which the bench counts.
BOUGHT = {
    "marrow-lane": {
        "panel.panel": 1, "panel.garage": 1, "disconnect": 1, "spd": 1, "rods": 1 + 2, "clamps": 1 + 1 + 2, "clamp.electrode.water": 1,
        "raceway.garage": 7, "couplings.garage": 6, "bushings.garage": 2, "wire.4-al.bare-or-green": 27.5, "emergency_label": 1,
        "gec.rods": 13.0, "gec.water": 19.0, "gec.garage": 8.5,
        "raceway.panel": 2, "couplings.panel": 1, "straps.panel": 3, "bushings.panel": 2,
    },
    "tansy-court": {
        "panel.panel": 1, "disconnect": 1, "spd": 1, "clamp.electrode.concrete": 1, "wire.4-cu.black": 19.0, "wire.4-cu.white": 19.0,
        "wire.8-cu.bare-or-green": 19.0, "emergency_label": 1, "gec": 15.0,
        "raceway.panel": 2, "couplings.panel": 1, "straps.panel": 3, "bushings.panel": 2,
    },
    "quarry-rise": {
        "panel.panel": 1, "panel.panel-2": 1, "meter_socket": 1, "spd": 1, "raceway.panel-2": 2, "couplings.panel-2": 1, "bushings.panel-2": 2,
        "straps.panel-2": 4, "wire.250-kcmil-al.black": 14.0 + 19.0, "wire.2-al.white": 14.0 + 19.0,
        "clamp.electrode.concrete": 1, "clamp.panel-2.gec.tap": 1, "gec": 17.0, "gec.tap.panel-2": 4.5,
    },
}  # fmt: skip


@pytest.mark.parametrize("name", BOUGHT)
def test_what_the_shipped_jobs_take(name):
    """Tansy Court: 12 ft from disconnect to panel, 3 ft at each end, with 5% 18.9, cut to 19. Quarry Rise: 8 + 2 + 3 ft to the main panel are 13.65,
    cut to 14; 12 + 3 + 3 to the second 18.9, cut to 19; 12 ft of conduit in two lengths, its straps 3 ft apart. A GEC of 12 ft with
    5% is cut to 13, one of 18 to 19, 8 to 8.5, 14 to 15, 16 to 17, a tap of 4 to 4.5."""
    found = {one.key: one.entry.value for one in plan(demo(name)).material.items}
    assert {key: found.get(key) for key in BOUGHT[name]} == BOUGHT[name]
    groups = (
        "panel.",
        "disconnect",
        "meter_socket",
        "spd",
        "rods",
        "clamp",
        "raceway",
        "couplings",
        "bushings",
        "weatherhead",
    )
    ours = {key for key in found if key.startswith(groups) and found[key] is not None}
    assert ours <= set(BOUGHT[name]), "and nothing else of the kind"
