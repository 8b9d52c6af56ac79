"""Voltage diagnosis: what the tester shows at a service with a hidden fault, judged by the rules of the changeover."""

from __future__ import annotations

from random import Random

from robust_ledger.changeover.volts import judged
from robust_ledger.drawing.scene import Box, Scene, Stroke, Words
from robust_ledger.job.parts.record import Volts
from robust_ledger.measure.simulate.tester import FAULTS, Fault, Service, SimulatedTester
from robust_ledger.practice.drills.model import Question

WORDS = {
    "good": "all in order",
    "lost leg": "a leg is lost",
    "open neutral": "the neutral is open or loose",
    "208Y": "a 208Y/120 V supply",
    "high": "the voltage is too high",
    "low": "the voltage is too low",
    "reversed": "neutral and a leg are reversed",
    "one leg twice": "both hots are on one leg",
    "neutral to ground": "the bond is missing",
    "backfeed": "something feeds the panel from behind",
}
AT_MAIN: tuple[Fault, ...] = tuple(fault for fault in FAULTS if fault not in ("backfeed", "ghost"))
BEHIND: tuple[Fault, ...] = ("backfeed",)


def question(dice: Random) -> Question:
    """Readings at a point, drawn; one of four diagnoses is right."""
    while True:
        fault = dice.choice((*AT_MAIN, *BEHIND))
        is_open = fault in BEHIND
        service = Service(fault, dice.uniform(15.0, 30.0), dice.uniform(6.0, 12.0), dice.uniform(10.0, 20.0))
        shown = SimulatedTester(service, dice.randrange(10_000)).read(
            "panel", main_open=is_open, loaded=False, low_z=True
        )
        found = judged(shown)
        if found.kind in WORDS:
            break
    others = dice.sample([kind for kind in WORDS if kind != found.kind], 3)
    choices = [WORDS[kind] for kind in (found.kind, *others)]
    dice.shuffle(choices)
    state = "its main open" if is_open else "nothing switched on"
    ask = f"At the panel, {state}, with a low-impedance tester. What is it?"
    return Question(
        ask, tuple(choices), WORDS[found.kind], f"{found.words}: {found.reason}. {found.do}".strip(), "", _scene(shown)
    )


def _scene(shown: Volts) -> Scene:
    """The two legs, neutral and ground as four lines, the readings between them."""
    scene = Scene(560, 190)
    lines = {"leg A": 30.0, "neutral": 80.0, "leg B": 130.0, "ground": 165.0}
    for name, y in lines.items():
        scene.add(
            Words(16, y, name, 13, True), Stroke(90, y, 540, y, "ink" if name.startswith("leg") else "faint", weight=3)
        )
    between = (
        (170.0, "leg A", "neutral", shown.a_to_neutral),
        (270.0, "neutral", "leg B", shown.b_to_neutral),
        (370.0, "leg A", "leg B", shown.leg_to_leg),
        (470.0, "neutral", "ground", shown.neutral_to_ground),
    )
    for x, one, other, volts in between:
        scene.add(Stroke(x, lines[one], x, lines[other], "accent", weight=2))
        middle = {"ground": 148.0, "leg B": 105.0}.get(other, (lines[one] + lines[other]) / 2)
        scene.add(
            Box(x - 36, middle - 11, 72, 22, "accent", "page"), Words(x, middle, f"{volts:.1f} V", 13, True, "center")
        )
    return scene
