"""The voltage tester: the small interface a real one would have behind it, and the stand-in that ships, fed by a simulated service with a
hidden fault. What it shows follows from sources, conductors and loads, so that it can be judged like the real thing."""

from __future__ import annotations

from typing import Literal, Protocol, get_args

import numpy as np
from msgspec import Struct

from robust_ledger.job.parts.record import Point, Volts

Fault = Literal[
    "none",
    "lost leg",
    "open neutral",
    "backfeed",
    "208Y",
    "high",
    "low",
    "reversed",
    "one leg twice",
    "bond missing",
    "ghost",
]
FAULTS: tuple[Fault, ...] = get_args(Fault)
ACCURACY = 0.005  # of the reading
OPEN_OHM, LOW_Z_OHM, HIGH_Z_OHM = 1e12, 3e3, 1e7
COUPLED_OHM = 2e6  # what couples a dead conductor to a live one beside it


class VoltageTester(Protocol):
    """Anything that can be put to a point of the service."""

    simulated: bool

    def read(self, point: Point, *, main_open: bool, loaded: bool, low_z: bool) -> Volts:
        """Leg to leg, each leg to neutral, neutral to ground [V] at a point."""


class Service(Struct, frozen=True):
    """The service behind the tester: a fault, and what draws on each leg [ohm]."""

    fault: Fault = "none"
    load_a_ohm: float = 20.0
    load_b_ohm: float = 9.0
    across_ohm: float = 12.0


class SimulatedTester:
    """Solves the service as a network of resistances for each reading; seeded, so that a fault shows the same twice."""

    simulated = True

    def __init__(self, service: Service, seed: int = 1) -> None:
        self.service = service
        self.rng = np.random.default_rng([seed, 11])

    def read(self, point: Point, *, main_open: bool, loaded: bool, low_z: bool) -> Volts:
        """What a tester shows, to a tenth of a volt."""
        values = self._volts(point, main_open, loaded, low_z)
        shown = [round(float(abs(v)) * (1 + self.rng.uniform(-ACCURACY, ACCURACY)), 1) for v in values]
        return Volts(
            point=point,
            leg_to_leg=shown[0],
            a_to_neutral=shown[1],
            b_to_neutral=shown[2],
            neutral_to_ground=shown[3],
            main_open=main_open,
            loaded=loaded,
            low_z=low_z,
            tester="simulated",
            simulated=True,
        )

    def _volts(
        self, point: Point, main_open: bool, loaded: bool, low_z: bool
    ) -> tuple[complex, complex, complex, complex]:
        """Between the legs, from each to neutral, from neutral to ground."""
        fault = self.service.fault
        behind = point == "panel" and main_open
        volts = {"high": 131.0, "low": 109.0}.get(fault, 121.0)
        source_a, source_b = complex(volts), complex(-volts)
        if fault == "208Y":
            source_a, source_b = complex(volts), volts * np.exp(2j * np.pi / 3)
        if fault == "one leg twice":
            source_b = source_a
        # Nodes: leg A, leg B, neutral of the house; ground is the transformer's neutral.
        admittance, current = np.zeros((3, 3), complex), np.zeros(3, complex)

        def joined(one: int, other: int | None, ohm: float, source: complex = 0j) -> None:
            """A resistance between two nodes, or from one to ground by way of a source."""
            admittance[one, one] += 1 / ohm
            if other is None:
                current[one] += source / ohm
            else:
                admittance[other, other] += 1 / ohm
                admittance[one, other] -= 1 / ohm
                admittance[other, one] -= 1 / ohm

        fed = OPEN_OHM if behind else 0.03
        joined(0, None, OPEN_OHM if fault == "lost leg" and not behind else fed, source_a)
        joined(1, None, fed, source_b)
        joined(2, None, OPEN_OHM if fault == "open neutral" else 0.02)
        if fault == "open neutral":
            joined(2, None, 25.0)  # by way of the rods
        if loaded or (fault == "open neutral" and not behind):
            part = 1.0 if loaded else 8.0  # clocks and the like are always on
            joined(0, 2, self.service.load_a_ohm * part)
            joined(1, 2, self.service.load_b_ohm * part)
        if loaded:
            joined(0, 1, self.service.across_ohm)
        if fault == "backfeed" and behind:
            joined(0, None, 2.0, complex(120.0))
            joined(1, None, 2.0, complex(-120.0))
        if fault == "ghost" and behind:
            joined(0, None, COUPLED_OHM, complex(120.0))
            joined(1, None, COUPLED_OHM, complex(-120.0))
        tester = LOW_Z_OHM if low_z else HIGH_Z_OHM
        joined(0, 2, tester)
        joined(1, 2, tester)
        a, b, neutral = np.linalg.solve(admittance, current)
        if fault == "reversed":
            neutral, b = b, neutral
        grounded = fault not in (
            "bond missing",
            "open neutral",
            "reversed",
        )  # neutral and ground are one at the service
        to_ground = 0j if grounded else neutral + (6.4 if fault == "bond missing" else 0.0)
        return a - b, a - neutral, b - neutral, to_ground
