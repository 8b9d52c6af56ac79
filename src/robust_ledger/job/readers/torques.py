"""Reading tightening torques as a label gives them, and writing them so that they read back."""

from __future__ import annotations

import re

from robust_ledger.job.parts.panels import Torque
from robust_ledger.job.readers.torque_units import in_unit, inch_pounds, unit_of

_TORQUE = re.compile(
    r"(breaker|neutral bar|ground bar|main|lug|meter|clamp|bushing)s?\s*(?:#?([0-9/]+)(?:\s*(?:-|to)\s*#?([0-9/]+))?)?\s*(?:awg)?\s*:\s*"
    r"([0-9.]+)\s*(in-?lb|ft-?lb|n[·.]?m)?\s*(?:,\s*strip\s*(.+))?",
    re.I,
)


def read_torques(text: str) -> tuple[Torque, ...]:
    """A reader for torques from a label: "breaker 14-10: 20, strip 1/2; main: 250"; in inch-pounds unless ft-lb or Nm is said."""
    made = []
    for part in text.split(";"):
        if not part.strip():
            continue
        found = _TORQUE.fullmatch(part.strip())
        if found is None:
            raise ValueError(f'"{part.strip()}" is no torque; write it like breaker 14-10: 20, strip 1/2.')
        name, smallest, largest, amount, unit, strip = found.groups()
        if amount.count(".") > 1 or not amount.strip("."):
            raise ValueError(f'"{amount}" in "{part.strip()}" is no number.')
        kind = unit_of(unit or "") or "in-lb"
        pounds = inch_pounds(float(amount), kind)
        if not 1 <= pounds <= 1000:
            raise ValueError(f'"{part.strip()}": a torque in a panel is from 1 to 1,000 in-lb.')
        strip_in = _inches(strip) if strip else None
        made.append(
            Torque.read(
                {
                    "part": name.lower(),
                    "smallest": smallest or "",
                    "largest": largest or smallest or "",
                    "inch_pounds": round(pounds, 4),
                    "unit": kind,
                    "strip_in": strip_in,
                }
            )
        )
    return tuple(made)


def _inches(text: str) -> float:
    """A length to strip: "0.5", "7/16", "1-1/8", with or without its unit."""
    bare = text.strip().removesuffix('"').removesuffix("in").strip()
    found = re.fullmatch(r"(?:(\d+)[- ])?(\d+)/(\d+)|(\d*\.?\d+)", bare)
    if found is None or (found[3] and int(found[3]) == 0):
        raise ValueError(f'"{text.strip()}" is no length to strip; write it like 1/2 or 0.5.')
    inches = float(found[4]) if found[4] else float(found[1] or 0) + int(found[2]) / int(found[3])
    if not 0.1 <= inches <= 4:
        raise ValueError(f'"{text.strip()}": from 0.1 to 4 in are stripped.')
    return round(inches, 4)


def torques_text(torques: tuple[Torque, ...]) -> str:
    """The same as it reads back, in the unit of the label."""

    def one(torque: Torque) -> str:
        sizes = torque.smallest if torque.largest in ("", torque.smallest) else f"{torque.smallest}-{torque.largest}"
        strip = f", strip {torque.strip_in:g}" if torque.strip_in is not None else ""
        unit = "" if torque.unit == "in-lb" else f" {torque.unit}"
        return (
            f"{torque.part}{f' {sizes}' if sizes else ''}: {in_unit(torque.inch_pounds, torque.unit):.6g}{unit}{strip}"
        )

    return "; ".join(one(torque) for torque in torques)
