"""Units of torque: the pound-force inch is the one kept, the others follow from the foot and the newton exactly."""

from __future__ import annotations

from robust_ledger.job.parts.record import Unit

# A pound is 0.45359237 kg and an inch 0.0254 m, both exact; standard gravity is 9.80665 m/s².
NEWTON_METERS_AN_INCH_POUND = 0.45359237 * 9.80665 * 0.0254
IN_INCH_POUNDS: dict[Unit, float] = {"in-lb": 1.0, "ft-lb": 12.0, "N·m": 1 / NEWTON_METERS_AN_INCH_POUND}
UNIT_WORDS: dict[Unit, str] = {"in-lb": "lbf·in", "ft-lb": "lbf·ft", "N·m": "N·m"}
_SAID: dict[str, Unit] = {
    "inlb": "in-lb", "lbin": "in-lb", "lbfin": "in-lb", "inchpounds": "in-lb", "inchpound": "in-lb", "inlbs": "in-lb", "inchlbs": "in-lb",
    "ftlb": "ft-lb", "lbft": "ft-lb", "lbfft": "ft-lb", "footpounds": "ft-lb", "footpound": "ft-lb", "ftlbs": "ft-lb", "footlbs": "ft-lb",
    "nm": "N·m", "newtonmeters": "N·m", "newtonmeter": "N·m",
}  # fmt: skip


def unit_of(text: str) -> Unit | None:
    """The unit that some words name: "in-lb", "lbf·ft", "foot pounds", "Nm"; None for any other words."""
    return _SAID.get("".join(letter for letter in text.lower() if letter.isalpha()))


def inch_pounds(amount: float, unit: Unit) -> float:
    """A torque in pound-force inches."""
    return amount * IN_INCH_POUNDS[unit]


def in_unit(amount_in_lb: float, unit: Unit) -> float:
    """A torque of so many pound-force inches in a unit."""
    return amount_in_lb / IN_INCH_POUNDS[unit]


def torque_text(amount_in_lb: float, unit: Unit) -> str:
    """A torque in a unit, to four figures at the most: "250 lbf·in", "20.83 lbf·ft", "2.26 N·m"."""
    return f"{in_unit(amount_in_lb, unit):.4g} {UNIT_WORDS[unit]}"
